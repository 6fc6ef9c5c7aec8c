"""The ribbon: time to the right, in each string's lane the bow from frog (bottom) to head (top).

Every stroke is a slanting band from where it began to where it ended, as thick as the bow was fast. Its colour and
hatching say how the bow stood: to the scroll, to the player, or within the limit.
"""

from __future__ import annotations

import math

import numpy as np
from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QBrush,
    QColor,
    QFont,
    QFontMetrics,
    QHelpEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
)
from PySide6.QtWidgets import QSizePolicy, QToolTip, QWidget

from dolcezza.app.theme.palette import LIGHT, Palette
from dolcezza.app.theme.words import show, tr
from dolcezza.app.widgets.asked_pattern import asked_words, paint_asked
from dolcezza.app.widgets.hold_drawing import MARK_NAMES
from dolcezza.app.widgets.parts import keeps_keys
from dolcezza.core.assignment.marks import AskedMark
from dolcezza.core.base.units import clock
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.strokes.figures import Stroke

LEFT, RIGHT, TOP, BOTTOM = 74, 14, 18, 26
NUMBER_GAP = 4.0
"""Numbers of strokes are at least so many pixels apart."""
IDLE_LANE = 16
"""Height of the lane of a string that is not played, px."""
SLOW_PX, FAST_PX, FAST_CM_S = 4.0, 14.0, 90.0


class Ribbon(QWidget):
    """Emits ``moment(seconds)`` when a place is clicked. ``set_take`` gives it everything it draws."""

    moment = Signal(float)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._series: BowSeries | None = None
        self._strokes: list[Stroke] = []
        self._strings = ""
        self._limit = 4.0
        self._flagged: set[int] = set()
        self._bright: set[int] = set()
        self._now = 0.0
        self._asked: list[AskedMark] = []
        self._marks: dict[str, float] = {}
        self._by_hand: list[float] = []
        self._whole_s = 0.0
        self.palette_: Palette = LIGHT
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName(tr("Ribbon of the strokes"))
        self.setAccessibleDescription(tr("Left and right arrow keys go from stroke to stroke"))

    def sizeHint(self) -> QSize:
        return QSize(900, 190)

    def set_take(
        self, series: BowSeries | None, strokes: list[Stroke], strings: str, limit_deg: float, flagged: set[int], whole_s: float = 0.0
    ) -> None:  # fmt: skip
        """What to draw: record, strokes, string names from bass to treble, the profile's limit, numbers with findings; ``whole_s``: the
        take's length where the record does not reach its end yet."""
        self._whole_s = whole_s
        self._series, self._strokes, self._strings = series, strokes, strings
        self._limit, self._flagged, self._bright = limit_deg, flagged, set()
        self.update()

    def set_asked(self, marks: list[AskedMark]) -> None:
        """The assignment behind the strokes, as a pale pattern."""
        self._asked = marks
        self.update()

    def set_marks(self, marks: dict[str, float]) -> None:
        """Places marked on the student's own bow, by name, share of the hair."""
        self._marks = marks
        self.update()

    def set_by_hand(self, moments: list[float]) -> None:
        """Moments at which the bow was set by hand: a small square each."""
        self._by_hand = moments
        self.update()

    def highlight(self, numbers: set[int]) -> None:
        """Strokes of the chosen finding stand out."""
        self._bright = numbers
        self.update()

    def show_moment(self, seconds: float) -> None:
        """Move the line that marks the moment shown."""
        self._now = seconds
        self.update()

    @property
    def _length(self) -> float:
        return max(self._whole_s, float(self._series.t[-1])) if self._series is not None and len(self._series) else 1.0

    def x_of(self, seconds: float) -> float:
        """Widget x of a moment."""
        return LEFT + (self.width() - LEFT - RIGHT) * seconds / max(self._length, 1e-6)

    def _seconds_at(self, x: float) -> float:
        return float(np.clip((x - LEFT) / max(1, self.width() - LEFT - RIGHT), 0, 1) * self._length)

    def _lane(self, string: str) -> QRectF:
        lanes = list(reversed(self._strings)) or ["?"]
        played = ({s.string for s in self._strokes} | {m.string for m in self._asked}) & set(lanes) or set(lanes)
        spare = self.height() - TOP - BOTTOM - IDLE_LANE * (len(lanes) - len(played))
        heights = [spare / len(played) if name in played else float(IDLE_LANE) for name in lanes]
        row = lanes.index(string) if string in lanes else len(lanes) - 1
        return QRectF(LEFT, TOP + sum(heights[:row]) + 2, self.width() - LEFT - RIGHT, heights[row] - 4)

    def paintEvent(self, _event: QPaintEvent) -> None:
        p = self.palette_
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(p.paper))
        if self._series is None:
            painter.setPen(QColor(p.faint))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, tr("The strokes appear here once the video is analysed."))
            painter.end()
            return
        self._paint_lanes(painter)
        self._paint_marks(painter)
        for mark in self._asked:
            paint_asked(painter, mark, self._asked_quad(mark), p)
        for stroke in self._strokes:
            self._paint_stroke(painter, stroke)
        self._paint_numbers(painter)
        painter.setPen(QPen(QColor(p.ink), 1.2))
        painter.setBrush(QColor(p.paper))
        for moment in self._by_hand:
            painter.drawRect(QRectF(self.x_of(moment) - 3, self.height() - BOTTOM + 1, 6, 6))
        x = self.x_of(self._now)
        painter.setPen(QPen(QColor(p.ink), 1.6))
        painter.drawLine(QPointF(x, TOP - 6), QPointF(x, self.height() - BOTTOM + 4))
        if self.hasFocus():
            painter.setPen(QPen(QColor(p.accent), 1, Qt.PenStyle.DotLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(1, 1, -2, -2))
        painter.end()

    def _place_y(self, lane: QRectF, place: float) -> float:
        """Where a place on the bow lies in a lane."""
        return lane.bottom() - FAST_PX * 0.3 - (lane.height() - FAST_PX * 0.6) * place

    def _paint_marks(self, painter: QPainter) -> None:
        """Marks of the student's bow as thin lines through the lanes that are played, named in the first."""
        painter.setPen(QPen(QColor(self.palette_.accent), 1, Qt.PenStyle.DashDotLine))
        played = {s.string for s in self._strokes}
        named = False
        for string in self._strings:
            lane = self._lane(string)
            if string not in played or lane.height() < 30:
                continue
            for name, place in self._marks.items():
                y = self._place_y(lane, place)
                painter.drawLine(QPointF(lane.left(), y), QPointF(lane.right(), y))
                if not named:
                    painter.drawText(QPointF(lane.left() + 4, y - 2), tr(MARK_NAMES[name]))
            named = True

    def _paint_lanes(self, painter: QPainter) -> None:
        p = self.palette_
        small = QFont(self.font())
        small.setPixelSize(13)
        bold = QFont(self.font())
        bold.setPixelSize(16)
        bold.setWeight(QFont.Weight.Bold)
        for string in self._strings:
            lane = self._lane(string)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(p.surface))
            painter.drawRoundedRect(lane, 5, 5)
            if lane.height() >= IDLE_LANE:
                painter.setPen(QPen(QColor(p.line), 1, Qt.PenStyle.DotLine))
                painter.drawLine(QPointF(lane.left(), lane.center().y()), QPointF(lane.right(), lane.center().y()))
            painter.setFont(bold if lane.height() >= IDLE_LANE else small)
            painter.setPen(QColor(p.ink if lane.height() >= IDLE_LANE else p.faint))
            painter.drawText(QRectF(6, lane.top() - 4, 20, lane.height() + 8), Qt.AlignmentFlag.AlignCenter, string)
            painter.setFont(small)
            painter.setPen(QColor(p.faint))
            if lane.height() >= 30:
                side = Qt.AlignmentFlag.AlignRight
                painter.drawText(QRectF(24, lane.top(), 44, lane.height()), side | Qt.AlignmentFlag.AlignTop, tr("head"))
                painter.drawText(QRectF(24, lane.top(), 44, lane.height()), side | Qt.AlignmentFlag.AlignBottom, tr("frog"))
        painter.setFont(small)
        painter.setPen(QColor(p.faint))
        step = next(s for s in (1, 2, 5, 10, 30, 60, 300) if self._length / s <= 16 or s == 300)
        for k in range(int(self._length / step) + 1):
            x = self.x_of(k * step)
            painter.drawLine(QPointF(x, self.height() - BOTTOM), QPointF(x, self.height() - BOTTOM + 4))
            painter.drawText(QRectF(x - 30, self.height() - BOTTOM + 5, 60, 18), Qt.AlignmentFlag.AlignHCenter, f"{k * step} s")

    def _band(self, stroke: Stroke) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
        assert self._series is not None
        t = self._series.t
        pick = (t >= stroke.start_s) & (t <= stroke.end_s) & np.isfinite(self._series["bow_position"])
        lane = self._lane(stroke.string)
        x = np.array([self.x_of(float(s)) for s in t[pick]])
        usable = lane.height() - FAST_PX * 0.6
        y = lane.bottom() - FAST_PX * 0.3 - usable * self._series["bow_position"][pick]
        speed = np.nan_to_num(np.abs(self._series["bow_speed_cm_s"][pick]))
        half = 0.5 * (SLOW_PX + (FAST_PX - SLOW_PX) * np.clip(speed / FAST_CM_S, 0, 1))
        return x, y, half, self._series["bow_angle_deg"][pick]

    def _asked_quad(self, mark: AskedMark) -> QPolygonF:
        """A slanting band two fifths of the lane thick, from where to where the stroke was asked."""
        lane = self._lane(mark.string)
        usable, half = lane.height() - FAST_PX * 0.6, max(7.0, 0.2 * lane.height())
        x = self.x_of(mark.start_s), self.x_of(mark.end_s)
        y = [lane.bottom() - FAST_PX * 0.3 - usable * place for place in (mark.from_position, mark.to_position)]
        corners = [(x[0], y[0] - half), (x[1], y[1] - half), (x[1], y[1] + half), (x[0], y[0] + half)]
        return QPolygonF([QPointF(a, min(max(b, lane.top()), lane.bottom())) for a, b in corners])

    def _paint_stroke(self, painter: QPainter, stroke: Stroke) -> None:
        p = self.palette_
        x, y, half, angle = self._band(stroke)
        if len(x) < 2:
            return
        for k in range(len(x) - 1):
            colour, hatch = self._look(float(angle[k]))
            quad = QPolygonF([
                QPointF(x[k], y[k] - half[k]), QPointF(x[k + 1] + 0.4, y[k + 1] - half[k + 1]),
                QPointF(x[k + 1] + 0.4, y[k + 1] + half[k + 1]), QPointF(x[k], y[k] + half[k]),
            ])  # fmt: skip
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour)
            painter.drawPolygon(quad)
            if hatch is not None:
                painter.setBrush(QBrush(QColor(p.surface), hatch))
                painter.drawPolygon(quad)
        if stroke.number in self._bright:
            edge = QPolygonF([QPointF(a, b - h - 1.5) for a, b, h in zip(x, y, half, strict=True)]
                             + [QPointF(a, b + h + 1.5) for a, b, h in zip(x[::-1], y[::-1], half[::-1], strict=True)])  # fmt: skip
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor(p.ink), 1.6))
            painter.drawPolygon(edge)

    def numbers(self) -> list[tuple[Stroke, str, QRectF]]:
        """The strokes' numbers with what is said beside them, and where they stand; of quick strokes those for which there is room, and
        first of those with a finding."""
        shown: list[tuple[Stroke, str, QRectF]] = []
        for stroke in sorted(self._strokes, key=lambda s: s.number not in self._flagged):
            flag = " ⚑" if stroke.number in self._flagged else ""
            words = f"{stroke.number}{'↓' if stroke.down else '↑'}{flag}{' ✎' if stroke.by_hand else ''}"
            width = QFontMetrics(self._number_font(stroke)).horizontalAdvance(words) + NUMBER_GAP
            place = QRectF(self.x_of(0.5 * (stroke.start_s + stroke.end_s)) - 0.5 * width, 0, width, TOP)
            if not any(place.intersects(other) for _, _, other in shown):
                shown.append((stroke, words, place))
        return shown

    def _number_font(self, stroke: Stroke) -> QFont:
        font = QFont(self.font())
        font.setPixelSize(13)
        font.setWeight(QFont.Weight.Bold if stroke.number in self._flagged else QFont.Weight.Normal)
        return font

    def _paint_numbers(self, painter: QPainter) -> None:
        for stroke, words, place in self.numbers():
            painter.setFont(self._number_font(stroke))
            painter.setPen(QColor(self.palette_.warn if stroke.number in self._flagged else self.palette_.faint))
            painter.drawText(place, Qt.AlignmentFlag.AlignCenter, words)

    def _look(self, angle: float) -> tuple[QColor, Qt.BrushStyle | None]:
        p = self.palette_
        if not math.isfinite(angle) or abs(angle) <= self._limit:
            return QColor(p.straight), None
        if angle > 0:
            return QColor(p.to_scroll), Qt.BrushStyle.BDiagPattern
        return QColor(p.to_player), Qt.BrushStyle.FDiagPattern

    def stroke_at(self, position: QPointF) -> Stroke | None:
        """The stroke whose time lies under a place of the widget."""
        seconds = self._seconds_at(position.x())
        return next((s for s in self._strokes if s.start_s <= seconds <= s.end_s), None)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self._series is not None and event.position().x() >= LEFT - 4:
            self.moment.emit(self._seconds_at(event.position().x()))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton and self._series is not None:
            self.moment.emit(self._seconds_at(event.position().x()))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        starts = [s.start_s for s in self._strokes]
        if step and starts:
            k = int(np.searchsorted(starts, self._now + (1e-3 if step > 0 else -0.05)))
            self.moment.emit(starts[min(len(starts) - 1, max(0, k if step > 0 else k - 1))])
        else:
            super().keyPressEvent(event)

    def event(self, event: QEvent) -> bool:
        if keeps_keys(event, Qt.Key.Key_Left, Qt.Key.Key_Right):
            return True
        if event.type() == QEvent.Type.ToolTip and isinstance(event, QHelpEvent):
            stroke = self.stroke_at(QPointF(event.pos()))
            asked = asked_words(self._asked, self._seconds_at(event.pos().x()))
            QToolTip.showText(event.globalPos(), "\n".join(w for w in (self._words(stroke) if stroke else "", asked) if w), self)
            return True
        return super().event(event)

    def _words(self, s: Stroke) -> str:
        bow = tr("down-bow") if s.direction == "down" else tr("up-bow")
        first = tr("Stroke {0}, {1} on {2}, {3} to {4}").format(s.number, bow, s.string, clock(s.start_s), clock(s.end_s))
        angle = show("bow_angle", s.angle_worst, s.bow_angle_sd_deg)
        lines = [
            first + (", " + tr("set by hand") if s.by_hand else ""),
            tr("from {0} to {1} of the bow").format(show("bow_position", s.from_position), show("bow_position", s.to_position)),
            tr("bow angle at most {0}, contact {1}").format(angle, show("contact_point", s.contact_point_mm, s.contact_point_sd_mm)),
            tr("Band: height = bow position, thickness = speed, hatching = crooked beyond the limit"),
        ]
        return "\n".join(lines)
