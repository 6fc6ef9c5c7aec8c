"""Engraved notes with the bow under them: time along the staff, in the strip below each staff the bow from frog (bottom) to head (top).

The planned bow is a pale band, the played one a dark line on it; a sign under it says down or up, a word what went otherwise. An end
can be dragged up or down to give a bow more or less of the hair.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtSvg import QSvgRenderer
from PySide6.QtWidgets import QSizePolicy, QWidget

from dolcezza.app.theme.words import tr
from dolcezza.app.widgets.plot import PickPlot
from dolcezza.core.score.engraving import Engraved

STRIP, GAP = 62.0, 34.0
"""Height of the bow's strip [px], and the room between staff and strip for low notes and signs."""
BELOW = STRIP + GAP + 44.0
FAULT_PX, FAULT_LOWER_PX, FAULTS_APART_PX = 27.0, 42.0, 12.0
NEAR_PX = 9.0
HALF_BAND = 4.0


@dataclass(frozen=True)
class SheetBow:
    """One bow under its notes. ``ids``: of its notes' heads, ``start`` and ``places`` (where each note ends) on the bow, 0 frog to 1 head;
    ``played``: (place, place) of each note as played, None = not heard; ``fault``: what went otherwise, in a word or two; ``words`` for the
    hover."""

    ids: tuple[str, ...]
    down: bool
    start: float
    places: tuple[float, ...]
    words: str
    played: tuple[tuple[float, float] | None, ...] = ()
    fault: str = ""


class ScoreSheet(PickPlot):
    """Emits ``note_chosen(bow, note)`` on a click or by the arrow keys, ``share_wanted(bow, share)`` when an end was dragged."""

    note_chosen = Signal(int, int)
    share_wanted = Signal(int, float)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(tr("Notes with the bow under them"), tr("Arrow keys go from note to note"), parent)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setMouseTracking(True)
        self._pages: list[QSvgRenderer] = []
        self._made = Engraved(())
        self._bows: list[SheetBow] = []
        self._dynamics: Mapping[str, str] = {}
        self._at = (-1, -1)
        self._dragged: tuple[int, float] | None = None
        self.empty_text = tr("Choose a scale, or open a notation file.")

    def set_engraved(self, made: Engraved, dynamics: Mapping[str, str]) -> None:
        """The pages to show; ``dynamics``: what is written at which note (its id)."""
        self._made, self._dynamics = made, dynamics
        self._pages = [QSvgRenderer(page.encode()) for page in made.svg]
        self._at = (-1, -1)
        self.setMinimumHeight(round(self._height))
        self.updateGeometry()
        self.update()

    def set_bows(self, bows: Sequence[SheetBow]) -> None:
        """The bows under the notes."""
        self._bows = list(bows)
        self._dragged = None
        self.setAccessibleDescription("; ".join(b.words.replace("\n", ", ") for b in bows[:12]))
        self.update()

    @property
    def _height(self) -> float:
        return sum(h for _, h in self._made.size) if self._made.size else 200.0

    def sizeHint(self) -> QSize:
        return QSize(700, round(self._height))

    def minimumSizeHint(self) -> QSize:
        return QSize(360, 200)

    # places

    def _scale(self, page: int) -> float:
        return self.width() / self._made.size[page][0]

    def _top(self, page: int) -> float:
        return sum(h * self._scale(k) for k, (_, h) in enumerate(self._made.size[:page]))

    def _note(self, note_id: str) -> tuple[int, float, int] | None:
        """Page, x [px] and system of a note's head."""
        found = self._made.notes.get(note_id)
        if found is None:
            return None
        page, x, y = found
        rows = self._made.systems[page]
        if not rows:
            return None
        system = min(range(len(rows)), key=lambda k: abs(0.5 * (rows[k][0] + rows[k][1]) - y))
        return page, (x + 4.0) * self._scale(page), system

    def _strip(self, page: int, system: int) -> QRectF:
        """The bow's strip under a system."""
        scale = self._scale(page)
        top = self._top(page) + self._made.systems[page][system][1] * scale + GAP
        return QRectF(0, top, self.width() - 12.0, STRIP)

    def _spans(self, bow: int) -> list[tuple[QRectF, float, float, int]]:
        """For each note of a bow: its strip, and from which x to which it sounds."""
        own = [self._note(i) for i in self._bows[bow].ids]
        after = next((self._note(b.ids[0]) for b in self._bows[bow + 1 : bow + 2]), None)
        out = []
        for k, here in enumerate(own):
            if here is None:
                continue
            page, x, system = here
            strip = self._strip(page, system)
            following = own[k + 1] if k + 1 < len(own) else after
            same = following is not None and following[0] == page and following[2] == system
            end = following[1] if same and following is not None else min(x + 60.0, strip.right())
            out.append((strip, x, max(end - (2.0 if k + 1 == len(own) else 0.0), x + 6.0), k))
        return out

    @staticmethod
    def _at_place(strip: QRectF, x: float, place: float) -> QPointF:
        return QPointF(x, strip.bottom() - strip.height() * place)

    # painting

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = self.begin()
        self.paint(painter)
        self.frame_focus(painter)
        painter.end()

    def paint(self, painter: QPainter) -> None:
        """Draw it, on a screen or on paper."""
        p = self.palette_
        painter.fillRect(self.rect(), QColor(p.paper))
        if not self._pages:
            painter.setPen(QColor(p.faint))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, self.empty_text)
            return
        # notes are printed black on white paper in every theme
        painter.fillRect(QRectF(0, 0, self.width(), self._top(len(self._pages))), QColor("#ffffff"))
        for page, drawn in enumerate(self._pages):
            width, height = self._made.size[page]
            scale = self._scale(page)
            # slurs under low notes reach into the strip: it lies behind them
            for system in range(len(self._made.systems[page])):
                self._paint_strip(painter, self._strip(page, system))
            drawn.render(painter, QRectF(0, self._top(page), width * scale, height * scale))
        for note, words in self._dynamics.items():
            self._paint_dynamic(painter, note, words)
        for k in range(len(self._bows)):
            self._paint_bow(painter, k)
        self._paint_faults(painter)

    def _paint_strip(self, painter: QPainter, strip: QRectF) -> None:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor("#f2efe8"))
        painter.drawRect(strip)
        painter.setPen(QPen(QColor("#c9c3b6"), 1, Qt.PenStyle.DotLine))
        painter.drawLine(self._at_place(strip, strip.left(), 0.5), self._at_place(strip, strip.right(), 0.5))
        painter.setPen(QColor("#6d675c"))
        for place, words in ((1.0, tr("head")), (0.0, tr("frog"))):
            at = self._at_place(strip, 2.0, place)
            painter.drawText(QPointF(3.0, at.y() + (11.0 if place else -3.0)), words)

    def _paint_dynamic(self, painter: QPainter, note: str, words: str) -> None:
        here = self._note(note)
        if here is None:
            return
        font = painter.font()
        italic = painter.font()
        italic.setItalic(True)
        italic.setBold(True)
        painter.setFont(italic)
        painter.setPen(QColor("#000000"))
        painter.drawText(QPointF(here[1] - 14.0, self._strip(here[0], here[2]).top() - 5.0), words)
        painter.setFont(font)

    def _paint_bow(self, painter: QPainter, number: int) -> None:
        bow = self._bows[number]
        starts = (bow.start, *bow.places[:-1])
        chosen = self._at[0] == number
        for strip, x0, x1, k in self._spans(number):
            a, b = self._at_place(strip, x0, starts[k]), self._at_place(strip, x1, self._end_of(number, k))
            band = QPolygonF([a + QPointF(0, -HALF_BAND), b + QPointF(0, -HALF_BAND), b + QPointF(0, HALF_BAND), a + QPointF(0, HALF_BAND)])
            painter.setPen(QPen(QColor("#1d5c63" if chosen else "#8fb3b0"), 1.4 if chosen else 0.8))
            painter.setBrush(QColor("#b9d3cf"))
            painter.drawPolygon(band)
            if k < len(bow.played) and bow.played[k] is not None:
                first, last = bow.played[k] or (0.0, 0.0)
                painter.setPen(QPen(QColor("#8a3b12" if bow.fault else "#20303a"), 2.2))
                painter.drawLine(self._at_place(strip, x0, first), self._at_place(strip, x1, last))
        spans = self._spans(number)
        if spans:
            strip, x0, x1, _ = spans[0]
            self._paint_sign(painter, QPointF(x0 + 1.0, strip.bottom() + 4.0), bow.down)

    def _paint_faults(self, painter: QPainter) -> None:
        """What went otherwise, under its bow; a line lower where it would run into what is said of the bow before."""
        painter.setPen(QColor("#8a3b12"))
        wide = painter.fontMetrics().horizontalAdvance
        until, lower = QPointF(-1.0, -1.0), False
        for number, bow in enumerate(self._bows):
            spans = self._spans(number)
            if not spans or not bow.fault:
                continue
            strip, x0, _, _ = spans[0]
            lower = not lower and strip.bottom() == until.y() and x0 < until.x() + FAULTS_APART_PX
            painter.drawText(QPointF(x0, strip.bottom() + (FAULT_LOWER_PX if lower else FAULT_PX)), bow.fault)
            until = QPointF(x0 + wide(bow.fault), strip.bottom())

    def _end_of(self, number: int, note: int) -> float:
        bow = self._bows[number]
        if self._dragged is None or self._dragged[0] != number:
            return bow.places[note]
        whole = bow.places[-1] - bow.start
        share = (bow.places[note] - bow.start) / whole if abs(whole) > 1e-9 else 1.0
        return bow.start + share * (self._dragged[1] - bow.start)

    @staticmethod
    def _paint_sign(painter: QPainter, at: QPointF, down: bool) -> None:
        """A down-bow or up-bow sign as it is printed."""
        painter.setPen(QPen(QColor("#000000"), 1.3))
        if down:
            painter.drawPolyline([at + QPointF(0, 8), at, at + QPointF(8, 0), at + QPointF(8, 8)])
            painter.drawLine(at + QPointF(0, 1.2), at + QPointF(8, 1.2))
        else:
            painter.drawPolyline([at, at + QPointF(3.5, 8), at + QPointF(7, 0)])

    # pointing

    def _end_near(self, where: QPointF) -> int:
        """The bow whose end is near a place, -1 = none."""
        for number in range(len(self._bows)):
            spans = self._spans(number)
            if spans:
                strip, _, x1, k = spans[-1]
                end = self._at_place(strip, x1, self._bows[number].places[k])
                if abs(end.x() - where.x()) < NEAR_PX and abs(end.y() - where.y()) < NEAR_PX:
                    return number
        return -1

    def _note_at(self, where: QPointF) -> tuple[int, int]:
        for number in range(len(self._bows)):
            for strip, x0, x1, k in self._spans(number):
                if x0 - 6.0 <= where.x() <= x1 and strip.top() - 90.0 <= where.y() <= strip.bottom() + 14.0:
                    return number, k
        return -1, -1

    def words_at(self, where: QPointF) -> str:
        number, _ = self._note_at(where)
        return self._bows[number].words if number >= 0 else ""

    def mousePressEvent(self, event: QMouseEvent) -> None:
        number = self._end_near(event.position())
        if number >= 0:
            self._dragged = (number, self._bows[number].places[-1])
            return
        found = self._note_at(event.position())
        if found[0] >= 0:
            self._choose(found)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._dragged is None:
            near = self._end_near(event.position()) >= 0
            self.setCursor(Qt.CursorShape.SizeVerCursor if near else Qt.CursorShape.PointingHandCursor)
            return
        number = self._dragged[0]
        strip = self._spans(number)[-1][0]
        place = (strip.bottom() - event.position().y()) / strip.height()
        bow = self._bows[number]
        least, most = (bow.start + 0.02, 1.0) if bow.down else (0.0, bow.start - 0.02)
        self._dragged = (number, min(max(place, least), most))
        self.update()

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        if self._dragged is not None:
            number, end = self._dragged
            self._dragged = None
            if abs(end - self._bows[number].places[-1]) > 0.01:
                self.share_wanted.emit(number, round(abs(end - self._bows[number].start), 3))
            self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        if not step or not self._bows:
            super().keyPressEvent(event)
            return
        flat = [(b, k) for b, bow in enumerate(self._bows) for k in range(len(bow.ids))]
        now = flat.index(self._at) if self._at in flat else (-1 if step > 0 else 0)
        self._choose(flat[(now + step) % len(flat)])

    def _choose(self, at: tuple[int, int]) -> None:
        self._at = at
        self.setAccessibleDescription(self._bows[at[0]].words)
        self.update()
        self.note_chosen.emit(*at)
