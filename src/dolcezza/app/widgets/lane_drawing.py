"""The contact lane to scale: bridge on the left, the end of the fingerboard on the right, the lane between them."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QBrush, QColor, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from dolcezza.app.theme.words import tr
from dolcezza.app.widgets.plot import Plot
from dolcezza.core.findings.lane import SOUND_HOLE_MM
from dolcezza.core.instrument.catalog import InstrumentSpec


class LaneDrawing(Plot):
    """Strings from bridge to fingerboard with the lane and the upper round of the sound-hole."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(tr("Contact lane"), "", parent)
        self._low, self._high = 0.0, 0.0
        self._spec: InstrumentSpec | None = None

    def show_lane(self, low: float, high: float, spec: InstrumentSpec) -> None:
        """The lane, mm from the bridge, on an instrument."""
        self._low, self._high, self._spec = low, high, spec
        self.setAccessibleDescription(tr("{0:.0f} to {1:.0f} mm from the bridge").format(low, high))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(340, 92)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter, p = self.begin(), self.palette_
        if self._spec is None:
            painter.end()
            return
        gap = self._spec.bridge_to_fingerboard
        left, right, top, bottom = 46.0, self.width() - 46.0, 6.0, 62.0

        def x(mm: float) -> float:
            return left + (right - left) * mm / gap

        colour = QColor(p.good)
        painter.setPen(QPen(colour, 1.4))
        painter.setBrush(QBrush(colour, Qt.BrushStyle.Dense6Pattern))
        painter.drawRect(QRectF(QPointF(x(self._low), top + 2), QPointF(min(x(self._high), self.width() - 1.0), bottom - 2)))
        painter.setPen(QPen(QColor(p.faint), 1.2))
        for k in range(4):
            y = top + 10 + k * (bottom - top - 20) / 3
            painter.drawLine(QPointF(left - 30, y), QPointF(self.width() - 4.0, y))
        painter.setPen(QPen(QColor(p.ink), 4))
        painter.drawLine(QPointF(left, top), QPointF(left, bottom))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(p.ink))
        painter.drawRect(QRectF(right, top + 4, self.width() - right, bottom - top - 8))
        round_mm = SOUND_HOLE_MM[self._spec.family] * self._spec.body_scale
        painter.setPen(QPen(QColor(p.ink), 1.6))
        painter.setBrush(QColor(p.paper))
        painter.drawEllipse(QPointF(x(min(round_mm, gap)), bottom + 4), 4, 4)
        painter.setPen(QColor(p.ink))
        for mm, words in ((0.0, tr("bridge")), (round_mm, tr("sound-hole")), (gap, tr("fingerboard"))):
            box = QRectF(x(mm) - 60, bottom + 10, 120, 18)
            box.moveLeft(min(max(box.left(), 0.0), self.width() - box.width()))
            align = Qt.AlignmentFlag.AlignLeft if mm == 0.0 else Qt.AlignmentFlag.AlignRight if mm == gap else Qt.AlignmentFlag.AlignHCenter
            painter.drawText(box, align, words)
        painter.end()
