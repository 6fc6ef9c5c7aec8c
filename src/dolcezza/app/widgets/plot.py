"""What the drawn figures share: paper, font, axis, a dotted frame when they have the focus."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, Qt
from PySide6.QtGui import QColor, QFont, QHelpEvent, QPainter, QPen
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
