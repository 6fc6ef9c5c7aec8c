"""A rhythm by clicks and keys: note values, rests, dots, slurs, retakes, loudness. Each changes the text, which stays the same thing."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QFrame, QGridLayout, QPushButton, QWidget

from dolcezza.app.theme.words import mark, tr
from dolcezza.app.widgets.parts import keeps_keys
from dolcezza.core.assignment.rhythm_entry import VALUES, dotted, with_loudness, with_note, with_slur, without_last

VALUE_WORDS = {"whole": "1/1", "half": "1/2", "quarter": "1/4", "eighth": "1/8", "sixteenth": "1/16"}
OWN_KEYS = ["R", "T", "S", "P", "F", "Period", "Backspace"]
KEYS = {
    Qt.Key.Key_1: "whole", Qt.Key.Key_2: "half", Qt.Key.Key_3: "quarter", Qt.Key.Key_4: "eighth", Qt.Key.Key_5: "sixteenth",
}  # fmt: skip


class RhythmBuilder(QFrame):
    """Emits ``changed(function)``: what is to be done to the text. With the focus in it 1 to 5 are the values, R makes the next a rest, T a
    retake, a full stop dots, S slurs, P and F say how loud, Backspace takes back."""

    changed = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(tr("Rhythm by clicks"))
        self.setAccessibleDescription(tr("1 to 5 note values, R rest, T retake, full stop for a dot, S slur, P and F loudness, Backspace"))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(4)
        self.buttons: dict[str, QPushButton] = {}
        for column, (value, word) in enumerate(VALUE_WORDS.items()):
            self._button(grid, 0, column, word, lambda _on=False, v=value: self.add(v))
        self.rest = self._button(grid, 1, 0, mark("rest"), None)
        self.retake = self._button(grid, 1, 1, mark("retake"), None)
        for column, (word, does) in enumerate(((mark("dot"), dotted), (mark("slur"), with_slur), (mark("back"), without_last)), 2):
            self._button(grid, 1, column, word, lambda _on=False, d=does: self.changed.emit(d))
        for toggle in (self.rest, self.retake):
            toggle.setCheckable(True)
        for column, word in enumerate(("p", "mf", "f")):
            self._button(grid, 2, column, word, lambda _on=False, w=word: self._loud(w))

    def _button(self, grid: QGridLayout, row: int, column: int, word: str, does: Callable[..., None] | None) -> QPushButton:
        made = QPushButton(tr(word))
        made.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        if does is not None:
            made.clicked.connect(does)
        grid.addWidget(made, row, column)
        self.buttons[word] = made
        return made

    def add(self, value: str) -> None:
        """One more note or rest."""
        beats, rest, retake = VALUES[value], self.rest.isChecked(), self.retake.isChecked()
        self.rest.setChecked(False)
        self.retake.setChecked(False)
        self.changed.emit(lambda text: with_note(text, beats, rest=rest, retake=retake))

    def _loud(self, dynamic: str) -> None:
        self.changed.emit(lambda text: with_loudness(text, dynamic))

    def event(self, event: QEvent) -> bool:
        return keeps_keys(event, *KEYS, *(getattr(Qt.Key, f"Key_{k}") for k in OWN_KEYS)) or super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        if event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier:
            super().keyPressEvent(event)
        elif key in KEYS:
            self.add(KEYS[key])
        elif key == Qt.Key.Key_R:
            self.rest.toggle()
        elif key == Qt.Key.Key_T:
            self.retake.toggle()
        elif key == Qt.Key.Key_Period:
            self.changed.emit(dotted)
        elif key == Qt.Key.Key_S:
            self.changed.emit(with_slur)
        elif key in (Qt.Key.Key_P, Qt.Key.Key_F):
            self._loud("p" if key == Qt.Key.Key_P else "f")
        elif key == Qt.Key.Key_Backspace:
            self.changed.emit(without_last)
        else:
            super().keyPressEvent(event)
