"""The tone field: bow speed to the right, how near the tone is to its noise upwards. Low is clear.

Slow and noisy lies at the harsh edge (too much weight for the speed), fast and noisy at the airy one (too little). Every point is a
fifth of a second and leads to its frame; its shape says what the stroke was taken for.
"""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QBrush, QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from dolcezza.app.theme.words import show, tr
from dolcezza.app.widgets.plot import PickPlot
from dolcezza.core.base.units import clock
from dolcezza.core.tone.report import FieldPoint, ToneReport
from dolcezza.core.tone.signs import FAST, NOISE_DB, OWN_PERCENT, SLOW, Weight

LEFT, RIGHT, TOP, BOTTOM = 44.0, 12.0, 12.0, 40.0
LEAST_DB = 16.0
REACH_PX = 12.0


class ToneField(PickPlot):
    """Emits ``moment(seconds)`` when a point is chosen."""

    moment = Signal(float)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(tr("Tone field"), tr("Analyse a video with sound first."), parent)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self._points: tuple[FieldPoint, ...] = ()
        self._signs: dict[int, Weight] = {}
        self._best, self._usual = 0.0, 1.0
        self._chosen = -1

    def sizeHint(self) -> QSize:
        return QSize(400, 236)

    def set_report(self, report: ToneReport | None) -> None:
        """Show the points of a take."""
        self._points = report.points if report is not None else ()
        self._signs = {s.stroke: s.weight for s in report.strokes} if report is not None else {}
        self._chosen = -1
        if self._points:
            self._best = float(np.percentile([p.hnr_db for p in self._points], OWN_PERCENT))
            self._usual = float(np.median([p.speed_cm_s for p in self._points]))
        said = ", ".join(f"{n} {name}" for name, n in report.counts.items()) if report is not None else ""
        self.setAccessibleDescription(
            tr("Strokes: {0}. Arrow keys go from point to point, Enter shows the frame.").format(said) if said else ""
        )
        self.update()

    @property
    def _fastest(self) -> float:
        return max([1.6 * self._usual, *(1.05 * p.speed_cm_s for p in self._points)])

    @property
    def _noisiest(self) -> float:
        return max([LEAST_DB, *(self._noise(p) + 2 for p in self._points)])

    def _noise(self, point: FieldPoint) -> float:
        return max(0.0, self._best - point.hnr_db)

    def _at(self, speed: float, noise: float) -> QPointF:
        x = LEFT + (self.width() - LEFT - RIGHT) * speed / self._fastest
        return QPointF(x, self.height() - BOTTOM - (self.height() - TOP - BOTTOM) * noise / self._noisiest)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter, p = self.begin(), self.palette_
        field = QRectF(LEFT, TOP, self.width() - LEFT - RIGHT, self.height() - TOP - BOTTOM)
        painter.fillRect(field, QColor(p.paper))
        if not self._points:
            painter.setPen(QColor(p.faint))
            painter.drawText(field, Qt.AlignmentFlag.AlignCenter, tr("Analyse a video with sound first."))
            painter.end()
            return
        self._paint_edges(painter, field)
        for k, point in enumerate(self._points):
            self._paint_point(painter, point, k == self._chosen)
        self._paint_axes(painter, field)
        self.frame_focus(painter)
        painter.end()

    def _paint_edges(self, painter: QPainter, field: QRectF) -> None:
        p = self.palette_
        top = self._at(0, NOISE_DB).y()
        slow, fast = self._at(SLOW * self._usual, 0).x(), self._at(FAST * self._usual, 0).x()
        harsh = QRectF(field.left(), field.top(), slow - field.left(), top - field.top())
        airy = QRectF(fast, field.top(), field.right() - fast, top - field.top())
        boxes = (
            (harsh, p.to_scroll, Qt.BrushStyle.FDiagPattern, tr("harsh edge"), tr("too much weight")),
            (airy, p.to_player, Qt.BrushStyle.Dense7Pattern, tr("airy edge"), tr("too little")),
        )
        flags = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap
        for box, colour, pattern, name, words in boxes:
            tint = QColor(colour)
            tint.setAlpha(70)
            painter.fillRect(box, QBrush(tint, pattern))
            painter.setPen(QColor(p.ink))
            painter.drawText(box.adjusted(6, 4, -6, -4), flags, f"{name}\n{words}")
        painter.setPen(QPen(QColor(p.line), 1, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(field.left(), top), QPointF(field.right(), top))
        painter.drawLine(self._at(self._usual, 0), QPointF(self._at(self._usual, 0).x(), field.top()))

    def _paint_point(self, painter: QPainter, point: FieldPoint, chosen: bool) -> None:
        p = self.palette_
        at, sign = self._at(point.speed_cm_s, self._noise(point)), self._signs.get(point.stroke, Weight.UNKNOWN)
        colour = {Weight.CRUSHED: p.to_scroll, Weight.AIRY: p.to_player, Weight.NOISY: p.warn}.get(sign, p.straight)
        painter.setPen(QPen(QColor(p.ink if chosen else p.surface), 2.2 if chosen else 1))
        painter.setBrush(QColor(colour))
        size = 6.5 if chosen else 4.6
        if sign is Weight.CRUSHED:
            painter.drawRect(QRectF(at.x() - size, at.y() - size, 2 * size, 2 * size))
        elif sign is Weight.AIRY:
            painter.drawPolygon(QPolygonF([at + QPointF(0, -size - 1), at + QPointF(size, size), at + QPointF(-size, size)]))
        elif sign is Weight.NOISY:
            corners = (QPointF(0, -size - 1), QPointF(size, 0), QPointF(0, size + 1), QPointF(-size, 0))
            painter.drawPolygon(QPolygonF([at + c for c in corners]))
        else:
            painter.drawEllipse(at, size, size)

    def _paint_axes(self, painter: QPainter, field: QRectF) -> None:
        p = self.palette_
        painter.setPen(QPen(QColor(p.faint), 1))
        painter.drawLine(field.bottomLeft(), field.bottomRight())
        step = next(s for s in (10, 20, 50, 100) if self._fastest / s <= 6 or s == 100)
        for speed in range(0, int(self._fastest) + 1, step):
            x = self._at(speed, 0).x()
            painter.drawLine(QPointF(x, field.bottom()), QPointF(x, field.bottom() + 4))
            painter.drawText(QRectF(x - 20, field.bottom() + 5, 40, 16), Qt.AlignmentFlag.AlignCenter, f"{speed}")
        words = tr("bow speed, cm/s   ● clean  ■ pressed  ▲ airy  ◆ noisy")
        painter.drawText(QRectF(0, field.bottom() + 21, self.width(), 17), Qt.AlignmentFlag.AlignCenter, words)
        for noise in range(0, int(self._noisiest) + 1, 5):
            y = self._at(0, noise).y()
            painter.drawText(QRectF(0, y - 8, LEFT - 6, 16), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{noise}")
        painter.drawText(QRectF(1, field.top() - 11, 40, 16), Qt.AlignmentFlag.AlignLeft, "dB")

    def point_at(self, place: QPointF) -> int:
        """Number of the point under a place of the widget, -1 = none."""
        far = [(self._at(p.speed_cm_s, self._noise(p)) - place).manhattanLength() for p in self._points]
        return far.index(min(far)) if far and min(far) < REACH_PX else -1

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._choose(self.point_at(event.position()))

    def _choose(self, k: int) -> None:
        if 0 <= k < len(self._points):
            self._chosen = k
            self.update()
            self.moment.emit(self._points[k].t_s)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        if step and self._points:
            self._choose(min(len(self._points) - 1, max(0, self._chosen + step)))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._choose(self._chosen)
        else:
            super().keyPressEvent(event)

    def words_at(self, where: QPointF) -> str:
        k = self.point_at(where)
        return self._words(self._points[k]) if k >= 0 else ""

    def _words(self, point: FieldPoint) -> str:
        sign = self._signs.get(point.stroke, Weight.UNKNOWN)
        speed = show("bow_speed", point.speed_cm_s).lstrip("+")
        words = tr("{0}, stroke {1} on {2}: {3}, {4:.0f} dB nearer to its noise than your clear strokes; stroke judged {5}")
        return words.format(clock(point.t_s), point.stroke, point.string, speed, self._noise(point), sign)
