"""Small parts that several screens use: a scrolling column, a card that can be chosen, labels."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from pathlib import Path

import shiboken6
from PySide6.QtCore import QEvent, Qt, Signal
from PySide6.QtGui import QDropEvent, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QComboBox, QDialog, QFrame, QHBoxLayout, QLabel, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from dolcezza.app.theme.words import mark, tr


class Row(QFrame):
    """A card that can be chosen by mouse or Enter; ``key`` says which."""

    chosen = Signal(int)

    def __init__(self, key: int, title: str, lines: list[str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.key = key
        self.setObjectName("card")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(". ".join([title, *lines]))
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
        self.across = QHBoxLayout(self)
        self.across.setContentsMargins(14, 9, 14, 9)
        self.box = box = QVBoxLayout()
        box.setSpacing(2)
        self.across.addLayout(box, 1)
        heading = QLabel(title)
        heading.setObjectName("heading")
        heading.setWordWrap(True)
        box.addWidget(heading)
        for k, line in enumerate(lines):
            label = QLabel(line)
            label.setObjectName("faint" if k else "")
            label.setWordWrap(True)
            box.addWidget(label)

    def show_chosen(self, on: bool) -> None:
        """Frame the one that is chosen."""
        self.setProperty("chosen", on)
        self.setStyleSheet("QFrame#card { border-width: 2px; border-color: palette(highlight); }" if on else "")

    def mousePressEvent(self, event: QMouseEvent) -> None:
        super().mousePressEvent(event)
        self.chosen.emit(self.key)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.chosen.emit(self.key)
        else:
            super().keyPressEvent(event)


class Lead(QLabel):
    """A figure that leads to its frames: by a click, or by Enter when Tab led to it. Emits ``chosen()``."""

    chosen = Signal()

    def __init__(self, text: str, parent: QWidget | None = None) -> None:
        super().__init__(text, parent)
        self.setObjectName("lead")
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleDescription(tr("Click: to its frame; again: to the next one"))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        super().mousePressEvent(event)
        self.chosen.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.chosen.emit()
        else:
            super().keyPressEvent(event)


def dragged_files(event: QDropEvent) -> list[Path]:
    """The files that are dragged over a window or dropped on it; such an event is accepted, others are left alone."""
    files = [Path(url.toLocalFile()) for url in event.mimeData().urls() if url.isLocalFile()]
    if files:
        event.acceptProposedAction()
    return files


def keeps_keys(event: QEvent, *keys: Qt.Key) -> bool:
    """Whether a focused widget wants a key for itself that the window would take for a shortcut; then it is told so."""
    if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent) and event.key() in keys:
        event.accept()
        return True
    return False


def scroll_column() -> tuple[QScrollArea, QVBoxLayout]:
    """A column that scrolls when it must, and the layout to fill."""
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    inner = QWidget()
    box = QVBoxLayout(inner)
    box.setContentsMargins(0, 4, 8, 4)
    box.setSpacing(8)
    area.setWidget(inner)
    return area, box


def empty(box: QVBoxLayout) -> None:
    """Take everything out of a column."""
    while (item := box.takeAt(0)) is not None:
        widget = item.widget()
        if widget is not None:
            widget.setParent(None)
            widget.deleteLater()


def ask(dialog: QDialog) -> bool:
    """Show a dialog until it is answered, whether with yes; it goes once what was told has been read."""
    answer = dialog.exec()
    dialog.deleteLater()
    return bool(answer)


def let_go(window: QWidget | None) -> None:
    """Close a window that another takes the place of, and free what it holds."""
    if window is not None and shiboken6.isValid(window):
        window.close()
        window.deleteLater()


def label(text: str, name: str = "") -> QLabel:
    """A label that wraps; ``name`` is its role in the style sheet (title, heading, faint, figure, problem)."""
    made = QLabel(text)
    made.setObjectName(name)
    made.setWordWrap(True)
    made.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
    return made


def faint(text: str) -> QLabel:
    """A quiet label."""
    return label(text, "faint")


def side_card(width: int) -> tuple[QFrame, QVBoxLayout]:
    """The card beside a picture, and the layout to fill."""
    frame = QFrame()
    frame.setObjectName("card")
    frame.setFixedWidth(width)
    box = QVBoxLayout(frame)
    box.setContentsMargins(16, 13, 16, 13)
    box.setSpacing(7)
    return frame, box


def choice(name: str, items: Sequence[str] | Mapping[str, str]) -> QComboBox:
    """A list to choose from, with its accessible name: words to be shown as they are, or keys (the data of an entry) with words that are
    translated."""
    made = QComboBox()
    for key in items:
        made.addItem(tr(items[key]) if isinstance(items, Mapping) else key, key)
    made.setAccessibleName(name)
    return made


HANDS = [mark("bow in the right hand"), mark("bow in the left hand")]


UNITS = {"deg": "°", "": ""}
UNIT_WORDS = {"of shoulder width": mark("of the shoulder width")}


def unit_words(unit: str) -> str:
    """A unit as it stands after a figure: a sign close to it, words in the language that is set after a space."""
    return UNITS[unit] if unit in UNITS else f" {tr(UNIT_WORDS.get(unit, unit))}"
