"""The room from above and from the side, with the player and the phone, which is dragged: where it may stand, and how good places are."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QBrush, QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from dolcezza.app.theme.words import tr
from dolcezza.app.widgets.parts import keeps_keys
from dolcezza.app.widgets.plot import Plot

NEAREST_M, FARTHEST_M = 0.8, 3.5
LOWEST_DEG, HIGHEST_DEG = -10.0, 80.0
SECTORS = 24
STEP_DEG, STEP_M = 5.0, 0.1
KEYS = (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Plus, Qt.Key.Key_Minus)


@dataclass(frozen=True)
class Stand:
    """Where the phone stands about the bridge: ``azimuth_deg`` 0 = in line with the strings on the scroll's side, + towards the low
    strings, -180 to 180; ``height_deg`` over the top of the instrument; ``metres`` away."""

    azimuth_deg: float = -40.0
    height_deg: float = 25.0
    metres: float = 1.5

    def held(self) -> Stand:
        """Within the room."""
        return Stand(
            (self.azimuth_deg + 180.0) % 360.0 - 180.0, min(max(self.height_deg, LOWEST_DEG), HIGHEST_DEG),
            min(max(self.metres, NEAREST_M), FARTHEST_M),
        )  # fmt: skip


class RoomPicture(Plot):
    """Emits ``moved(stand)`` while the phone is dragged or moved by keys, and ``rested(stand)`` when it stays. Arrows turn it round the
    player and raise it, + and - bring it nearer and farther."""

    moved = Signal(object)
    rested = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(tr("The room: the phone is dragged, or moved by arrows, + and -"), "", parent)
        self.stand = Stand()
        self.good: dict[int, bool] = {}
        self._taken = ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        self.setMinimumHeight(360)

    def sizeHint(self) -> QSize:
        return QSize(900, 380)

    # where things are

    def _above(self) -> tuple[QPointF, float]:
        """The bridge from above, and pixels a metre."""
        return QPointF(0.27 * self.width(), 0.5 * self.height()), min(0.25 * self.width(), 0.5 * self.height() - 26) / FARTHEST_M

    def _beside(self) -> tuple[QPointF, float]:
        """The bridge from the side, and pixels a metre."""
        return QPointF(0.62 * self.width(), 0.72 * self.height()), min(0.34 * self.width(), 0.62 * self.height()) / FARTHEST_M

    def phones(self) -> dict[str, QPointF]:
        """Where the phone is drawn: from above and from the side (px)."""
        (a, m), (b, n) = self._above(), self._beside()
        turn, rise = math.radians(self.stand.azimuth_deg), math.radians(self.stand.height_deg)
        # from above the scroll points down the page, the player stands at the top; a low string's side is on the right
        flat = self.stand.metres * math.cos(rise)
        above = a + QPointF(flat * m * math.sin(turn), flat * m * math.cos(turn))
        side = b + QPointF(flat * n, -self.stand.metres * n * math.sin(rise))
        return {"above": above, "beside": side}

    def place(self, view: str, at: QPointF) -> Stand:
        """The stand that a point (px) of a view means."""
        if view == "above":
            a, m = self._above()
            way = at - a
            flat = math.hypot(way.x(), way.y()) / m
            rise = math.cos(math.radians(self.stand.height_deg))
            return replace(self.stand, azimuth_deg=math.degrees(math.atan2(way.x(), way.y())), metres=flat / max(rise, 0.2)).held()
        b, n = self._beside()
        way = at - b
        return replace(
            self.stand, height_deg=math.degrees(math.atan2(-way.y(), max(way.x(), 1.0))), metres=math.hypot(way.x(), way.y()) / n
        ).held()

    # hands

    def _move(self, stand: Stand, *, stays: bool) -> None:
        self.stand = stand.held()
        self.update()
        (self.rested if stays else self.moved).emit(self.stand)

    def event(self, event: QEvent) -> bool:
        return True if keeps_keys(event, *KEYS) else super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        s, key = self.stand, Qt.Key(event.key())
        round_by = {Qt.Key.Key_Left: -STEP_DEG, Qt.Key.Key_Right: STEP_DEG}.get(key, 0.0)
        up_by = {Qt.Key.Key_Up: STEP_DEG, Qt.Key.Key_Down: -STEP_DEG}.get(key, 0.0)
        away_by = {Qt.Key.Key_Plus: -STEP_M, Qt.Key.Key_Minus: STEP_M}.get(key, 0.0)
        if round_by or up_by or away_by:
            self._move(Stand(s.azimuth_deg + round_by, s.height_deg + up_by, s.metres + away_by), stays=True)
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        left = event.position().x() < 0.54 * self.width()
        self._taken = "above" if left else "beside"
        self._move(self.place(self._taken, event.position()), stays=False)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._taken:
            self._move(self.place(self._taken, event.position()), stays=False)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._taken:
            taken, self._taken = self._taken, ""
            self._move(self.place(taken, event.position()), stays=True)

    # the picture

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = self.begin()
        self._paint_above(painter)
        self._paint_beside(painter)
        self.frame_focus(painter)
        painter.end()

    def _paint_above(self, painter: QPainter) -> None:
        p, (at, metre) = self.palette_, self._above()
        far = QRectF(at.x() - FARTHEST_M * metre, at.y() - FARTHEST_M * metre, 2 * FARTHEST_M * metre, 2 * FARTHEST_M * metre)
        painter.setPen(Qt.PenStyle.NoPen)
        for k, good in self.good.items():
            # the painter counts from three o'clock against the clock; azimuth 0 is down the page, + to the right
            start = -90.0 + 360.0 * (k - 0.5) / SECTORS
            painter.setBrush(QBrush(QColor(p.good), Qt.BrushStyle.Dense6Pattern) if good else QBrush(QColor(p.line)))
            painter.drawPie(far, round(16 * start), round(16 * 360.0 / SECTORS))
        painter.setPen(QPen(QColor(p.faint), 1, Qt.PenStyle.DotLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for metres in (1, 2, 3):
            painter.drawEllipse(at, metres * metre, metres * metre)
        painter.setPen(QPen(QColor(p.ink), 1.4))
        painter.setBrush(QColor(p.paper))
        # head and shoulders behind the instrument
        painter.drawEllipse(at + QPointF(0, -0.42 * metre), 0.26 * metre, 0.13 * metre)
        painter.drawEllipse(at + QPointF(0, -0.36 * metre), 0.1 * metre, 0.12 * metre)
        painter.setBrush(QColor(p.accent))
        painter.drawEllipse(at + QPointF(0, 0.02 * metre), 0.1 * metre, 0.17 * metre)
        painter.setPen(QPen(QColor(p.accent), 4))
        painter.drawLine(at + QPointF(0, 0.15 * metre), at + QPointF(0, 0.42 * metre))
        painter.setPen(QPen(QColor(p.ink), 2))
        painter.drawLine(at + QPointF(-0.4 * metre, 0), at + QPointF(0.4 * metre, 0))
        self._phone(painter, self.phones()["above"], at)
        self._words(painter, QPointF(at.x(), 4), tr("from above"))
        self._words(painter, QPointF(at.x(), self.height() - 22), tr("the scroll's side"))

    def _paint_beside(self, painter: QPainter) -> None:
        p, (at, metre) = self.palette_, self._beside()
        painter.setPen(QPen(QColor(p.faint), 1, Qt.PenStyle.DotLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for metres in (1, 2, 3):
            box = QRectF(at.x() - metres * metre, at.y() - metres * metre, 2 * metres * metre, 2 * metres * metre)
            painter.drawArc(box, round(16 * LOWEST_DEG), round(16 * (HIGHEST_DEG - LOWEST_DEG)))
        painter.setPen(QPen(QColor(p.ink), 2))
        painter.drawLine(at + QPointF(-0.3 * metre, 0), at + QPointF(0.3 * metre, 0))
        painter.setPen(QPen(QColor(p.accent), 5))
        painter.drawLine(at + QPointF(-0.2 * metre, 0.03 * metre), at + QPointF(0.2 * metre, 0.03 * metre))
        self._phone(painter, self.phones()["beside"], at)
        self._words(painter, QPointF(at.x() + 0.17 * self.width(), 4), tr("from the side: the strings lie level"))

    def _phone(self, painter: QPainter, at: QPointF, bridge: QPointF) -> None:
        p = self.palette_
        painter.setPen(QPen(QColor(p.accent), 1.2, Qt.PenStyle.DashLine))
        painter.drawLine(at, bridge)
        painter.setPen(QPen(QColor(p.paper), 2))
        painter.setBrush(QColor(p.accent))
        painter.drawRoundedRect(QRectF(at.x() - 8, at.y() - 13, 16, 26), 4, 4)

    def _words(self, painter: QPainter, at: QPointF, words: str) -> None:
        painter.setPen(QColor(self.palette_.ink))
        painter.drawText(QRectF(at.x() - 160, at.y(), 320, 18), Qt.AlignmentFlag.AlignHCenter, words)
