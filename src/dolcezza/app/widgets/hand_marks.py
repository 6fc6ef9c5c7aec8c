"""The marks on a picture of a hand: its 21 points, each to be dragged, and lines marked by a drag: stick and forearm."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PySide6.QtCore import QObject, QPointF, Signal
from PySide6.QtGui import QPainter

from dolcezza.app.theme.palette import ON_PICTURE
from dolcezza.app.widgets.overlays import draw_line
from dolcezza.app.widgets.overlays_body import paint_hand
from dolcezza.app.widgets.video_canvas import VideoCanvas
from dolcezza.storage.records import LINES

LEAST_STICK_PX = 40.0
"""A shorter drag marks no stick (px of the screen)."""
GRAB_PX = 11.0
"""How near a press must be to a point to take it along (px of the screen)."""
LEAST_MOVE_PX = 2.0


class HandMarks(QObject):
    """Emits ``point_set(which, place)`` and ``line_set(name, from, to)`` in px of the picture; ``marking``: which line a drag marks."""

    point_set = Signal(int, QPointF)
    line_set = Signal(str, QPointF, QPointF)

    def __init__(self, canvas: VideoCanvas) -> None:
        super().__init__(canvas)
        self._canvas = canvas
        self._points: list[QPointF] = []
        self._by_hand: set[int] = set()
        self._lines: dict[str, list[QPointF]] = {}
        self.marking = LINES[0]
        self._taken: int | None = None
        self._from: QPointF | None = None
        self._to: QPointF | None = None
        canvas.layers.append(self._paint)
        canvas.pressed.connect(self._press)
        canvas.dragged.connect(self._drag)
        canvas.released.connect(self._release)

    def show_marks(
        self, points: Sequence[Sequence[float]] | None, by_hand: Sequence[int], lines: Mapping[str, Sequence[Sequence[float]]]
    ) -> None:
        """``points`` (21, 2) px or None, those set ``by_hand``, and the marked ``lines`` (2, 2) px by name."""
        self._points = [QPointF(float(x), float(y)) for x, y in points or []]
        self._by_hand = set(by_hand)
        self._lines = {name: [QPointF(float(x), float(y)) for x, y in ends] for name, ends in lines.items()}
        self._taken = self._from = self._to = None
        self._canvas.update()

    def _press(self, at: QPointF) -> None:
        if not self._points:
            return
        self._from = self._to = at
        self._taken = self._canvas.nearest(at, dict(enumerate(self._points)), GRAB_PX)

    def _drag(self, at: QPointF) -> None:
        if self._from is not None:
            self._to = at
            self._canvas.update()

    def _release(self, at: QPointF) -> None:
        start, taken = self._from, self._taken
        self._from = self._to = self._taken = None
        if start is None:
            return
        far = self._canvas.on_screen(at - start)
        if taken is not None and far >= LEAST_MOVE_PX:
            self.point_set.emit(taken, at)
        elif taken is None and far >= LEAST_STICK_PX:
            self.line_set.emit(self.marking, start, at)
        self._canvas.update()

    def _paint(self, painter: QPainter, unit: float) -> None:
        if not self._points:
            return
        points, lines = list(self._points), dict(self._lines)
        if self._from is not None and self._to is not None:
            if self._taken is not None:
                points[self._taken] = self._to
            else:
                lines[self.marking] = [self._from, self._to]
        paint_hand(painter, [(p.x(), p.y()) for p in points], unit, self._by_hand)
        for name, ends in lines.items():
            draw_line(painter, ends, 2.4, ON_PICTURE["bow" if name == LINES[0] else "bridge"], unit)
