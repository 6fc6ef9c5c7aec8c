"""What the drawn figures share: paper, font, axis, a dotted frame when they have the focus."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, Qt, Signal
from PySide6.QtGui import QColor, QFont, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QSizePolicy, QToolTip, QWidget

from dolcezza.app.theme.palette import LIGHT, Palette
from dolcezza.app.widgets.parts import keeps_keys

TEXT_PX = 13


class Plot(QWidget):
    """A figure that is painted; set ``palette_`` for another theme."""

    def __init__(self, name: str, description: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.palette_: Palette = LIGHT
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(name)
        self.setAccessibleDescription(description)

    def begin(self) -> QPainter:
        """A painter with the plot's font on clean ground."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        font = QFont(self.font())
        font.setPixelSize(TEXT_PX)
        painter.setFont(font)
        return painter

    def frame_focus(self, painter: QPainter) -> None:
        """Show that arrow keys go here."""
        if self.hasFocus():
            painter.setPen(QPen(QColor(self.palette_.accent), 1, Qt.PenStyle.DotLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(1, 1, -2, -2))


class PickPlot(Plot):
    """A figure of things one points at: the arrow keys are its own, resting on a thing says what it is."""

    def words_at(self, where: QPointF) -> str:
        """What is said of the thing at ``where`` [px]; nothing beside one."""
        raise NotImplementedError

    def event(self, event: QEvent) -> bool:
        if keeps_keys(event, Qt.Key.Key_Left, Qt.Key.Key_Right):
            return True
        if event.type() == QEvent.Type.ToolTip and isinstance(event, QHelpEvent):
            QToolTip.showText(event.globalPos(), self.words_at(QPointF(event.pos())), self)
            return True
        return super().event(event)


BEFORE, AFTER = (Qt.Key.Key_Left, Qt.Key.Key_Up), (Qt.Key.Key_Right, Qt.Key.Key_Down)


class StepPlot(PickPlot):
    """A figure of a few things in a row or column: arrow keys go from one to the next, Enter or a click emits ``picked(number)``."""

    picked = Signal(int)

    def __init__(self, name: str, description: str, parent: QWidget | None = None) -> None:
        super().__init__(name, description, parent)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.at = -1

    def count(self) -> int:
        """How many things there are."""
        raise NotImplementedError

    def number_at(self, where: QPointF) -> int:
        """The thing at ``where`` [px], -1 beside them."""
        raise NotImplementedError

    def words_of(self, number: int) -> str:
        """What is said of one."""
        raise NotImplementedError

    def words_at(self, where: QPointF) -> str:
        number = self.number_at(where)
        return self.words_of(number) if number >= 0 else ""

    def mousePressEvent(self, event: QMouseEvent) -> None:
        number = self.number_at(event.position())
        if number >= 0:
            self._choose(number)
            self.picked.emit(number)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, count = Qt.Key(event.key()), self.count()
        step = -1 if key in BEFORE else 1 if key in AFTER else 0
        if step and count:
            self._choose((self.at + step) % count if self.at >= 0 else 0)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.at >= 0:
            self.picked.emit(self.at)
        else:
            super().keyPressEvent(event)

    def event(self, event: QEvent) -> bool:
        return keeps_keys(event, Qt.Key.Key_Up, Qt.Key.Key_Down) or super().event(event)

    def _choose(self, number: int) -> None:
        self.at = number
        self.setAccessibleDescription(self.words_of(number))
        self.update()
