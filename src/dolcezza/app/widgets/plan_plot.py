"""A division of the bow, drawn: time to the right, the bow from frog (bottom) to head (top), every bow a slanting band.

The part of the bow that may be used is light; what lies past it is hatched. Ticks on a band are the notes in it; a dashed line is
a bow taken again.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QBrush, QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from dolcezza.app.theme.words import show, tr
from dolcezza.app.widgets.plot import PickPlot

LEFT, RIGHT, TOP, BOTTOM = 52.0, 16.0, 26.0, 30.0
MOST_NUMBERS = 40


@dataclass(frozen=True)
class DrawnBow:
    """One bow to draw. Places 0..1 and past them; ``places``: where each note ends; ``words`` for the hover; ``string`` its name."""

    number: int
    down: bool
    string: str
    start_s: float
    end_s: float
    start: float
    places: tuple[float, ...]
    words: str
    uneven: bool = False
    retake: bool = False


class PlanPlot(PickPlot):
    """Emits ``chosen(number)`` when a bow is clicked or reached by the arrow keys."""

    chosen = Signal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(tr("Division of the bow"), tr("Arrow keys go from bow to bow"), parent)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self._bows: list[DrawnBow] = []
        self._low, self._high = 0.0, 1.0
        self._at = -1
        self.empty_text = tr("Write a rhythm; its division appears here.")

    def sizeHint(self) -> QSize:
        return QSize(700, 300)

    def minimumSizeHint(self) -> QSize:
        return QSize(360, 180)

    def set_bows(self, bows: Sequence[DrawnBow], low: float, high: float) -> None:
        """What to draw, and the part of the bow that may be used."""
        self._bows, self._low, self._high, self._at = list(bows), low, high, -1
        self.setAccessibleDescription("; ".join(b.words.replace("\n", ", ") for b in bows[:16]) or self.empty_text)
        self.update()

    @property
    def _ends(self) -> tuple[float, float]:
        places = [0.0, 1.0, *(p for b in self._bows for p in (b.start, *b.places))]
        return min(places), max(places)

    def _point(self, seconds: float, place: float) -> QPointF:
        long = max(self._bows[-1].end_s if self._bows else 1.0, 1e-6)
        low, high = self._ends
        x = LEFT + (self.width() - LEFT - RIGHT) * seconds / long
        return QPointF(x, self.height() - BOTTOM - (self.height() - TOP - BOTTOM) * (place - low) / (high - low))

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter, p = self.begin(), self.palette_
        painter.fillRect(self.rect(), QColor(p.paper))
        if not self._bows:
            painter.setPen(QColor(p.faint))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, self.empty_text)
            painter.end()
            return
        self._paint_ground(painter)
        for k, bow in enumerate(self._bows):
            self._paint_bow(painter, k, bow)
        self.frame_focus(painter)
        painter.end()

    def _paint_ground(self, painter: QPainter) -> None:
        p = self.palette_
        end = self._bows[-1].end_s
        whole = QRectF(self._point(0, 1.0), self._point(end, 0.0))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(p.raised))
        painter.drawRect(whole)
        painter.setBrush(QColor(p.surface))
        painter.drawRect(QRectF(self._point(0, self._high), self._point(end, self._low)))
        low, high = self._ends
        tint = QColor(p.warn)
        tint.setAlpha(90)
        for a, b in ((high, 1.0), (0.0, low)):
            if a > b + 1e-9:
                painter.fillRect(QRectF(self._point(0, a), self._point(end, b)), QBrush(tint, Qt.BrushStyle.BDiagPattern))
        painter.setPen(QColor(p.faint))
        for place, words in ((0.0, tr("frog")), (0.5, tr("middle")), (1.0, tr("head"))):
            at = self._point(0, place)
            painter.drawText(QRectF(0, at.y() - 9, LEFT - 8, 18), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, words)
            painter.setPen(QPen(QColor(p.line), 1, Qt.PenStyle.DotLine))
            painter.drawLine(at, self._point(end, place))
            painter.setPen(QColor(p.faint))
        step = next(s for s in (1, 2, 5, 10, 30, 60, 300) if end / s <= 14 or s == 300)
        for k in range(int(end / step) + 1):
            x = self._point(k * step, 0).x()
            painter.drawText(QRectF(x - 30, self.height() - BOTTOM + 8, 60, 18), Qt.AlignmentFlag.AlignHCenter, f"{k * step} s")

    def _paint_bow(self, painter: QPainter, k: int, bow: DrawnBow) -> None:
        p = self.palette_
        a, b = self._point(bow.start_s, bow.start), self._point(bow.end_s, bow.places[-1])
        if k and bow.retake:
            before = self._bows[k - 1]
            painter.setPen(QPen(QColor(p.faint), 1.4, Qt.PenStyle.DashLine))
            painter.drawLine(self._point(before.end_s, before.places[-1]), a)
        wide = min(10.0, max(2.5, (self.width() - LEFT - RIGHT) / len(self._bows) / 5))
        if k == self._at:
            painter.setPen(QPen(QColor(p.ink), wide + 5, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap))
            painter.drawLine(a, b)
        painter.setPen(QPen(QColor(p.to_scroll if bow.uneven else p.accent), wide, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap))
        painter.drawLine(a, b)
        if bow.uneven:
            painter.setPen(QPen(QColor(p.surface), 0.35 * wide, Qt.PenStyle.DotLine))
            painter.drawLine(a, b)
        way = bow.places[-1] - bow.start
        painter.setPen(QPen(QColor(p.surface), 2))
        for place in bow.places[:-1]:
            at = a + (b - a) * ((place - bow.start) / way if way else 0.0)
            painter.drawLine(at + QPointF(0, -0.7 * wide), at + QPointF(0, 0.7 * wide))
        self._paint_name(painter, k, bow, 0.5 * (a.x() + b.x()))

    def _paint_name(self, painter: QPainter, k: int, bow: DrawnBow, x: float) -> None:
        """Number and direction where there is room, the string wherever it changes."""
        string = bow.string if k == 0 or self._bows[k - 1].string != bow.string else ""
        number = f"{bow.number}{'↓' if bow.down else '↑'}" if len(self._bows) <= MOST_NUMBERS else ""
        if words := f"{string} {number}".strip():
            painter.setPen(QColor(self.palette_.ink))
            painter.drawText(QRectF(x - 40, 4, 80, 18), Qt.AlignmentFlag.AlignCenter, words)

    def bow_at(self, place: QPointF) -> int:
        """Place in the list of the bow whose time lies under a place of the widget, -1 = none."""
        for k, bow in enumerate(self._bows):
            if self._point(bow.start_s, 0).x() <= place.x() <= self._point(bow.end_s, 0).x():
                return k
        return -1

    def _choose(self, k: int) -> None:
        if 0 <= k < len(self._bows):
            self._at = k
            self.update()
            self.chosen.emit(self._bows[k].number)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._choose(self.bow_at(event.position()))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        if step and self._bows:
            self._choose(min(len(self._bows) - 1, max(0, self._at + step)))
        else:
            super().keyPressEvent(event)

    def words_at(self, where: QPointF) -> str:
        k = self.bow_at(where)
        return self._bows[k].words if k >= 0 else ""


def share_words(start: float, end: float) -> str:
    """From where to where on the bow."""
    return tr("{0} to {1} of the bow").format(show("bow_position", start), show("bow_position", end))
