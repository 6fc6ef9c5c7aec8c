"""The two ends of the hair, to be taken hold of on the picture: by mouse, or by the keys [ and ] and the arrows."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, QPointF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPen

from dolcezza.app.theme.palette import ON_PICTURE
from dolcezza.app.widgets.aim import STEPS
from dolcezza.app.widgets.overlays import draw_line
from dolcezza.app.widgets.video_canvas import VideoCanvas

Ends = dict[str, QPointF]

GRAB_PX = 16.0
RING_PX = 7.0
CHOOSE = {Qt.Key.Key_BracketLeft: "frog", Qt.Key.Key_BracketRight: "head"}


class BowHandles(QObject):
    """Handles on a canvas. ``ends`` gives the places (px) to take hold of, {} = none now; ``set_here`` the ends set by hand there.

    Emits ``started()`` when an end is taken hold of, ``finished(end, QPointF)`` when it is let go elsewhere. Escape gives up.
    """

    started = Signal()
    finished = Signal(str, QPointF)

    def __init__(self, canvas: VideoCanvas, ends: Callable[[], Ends], set_here: Callable[[], set[str]]) -> None:
        super().__init__(canvas)
        self._canvas, self._ends, self._set_here = canvas, ends, set_here
        self.held: str | None = None
        self._at: QPointF | None = None
        self._by_key = False
        canvas.layers.append(self._paint)
        canvas.pressed.connect(self._press)
        canvas.dragged.connect(self._drag)
        canvas.released.connect(self._release)
        canvas.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        canvas.installEventFilter(self)

    def _press(self, at: QPointF) -> None:
        near = self._near(at)
        if near is not None:
            self._take(near, by_key=False)

    def _near(self, at: QPointF) -> str | None:
        return self._canvas.nearest(at, self._ends(), GRAB_PX)

    def _take(self, end: str, *, by_key: bool) -> None:
        ends = self._ends()
        if end in ends:
            self.held, self._at, self._by_key = end, QPointF(ends[end]), by_key
            self._canvas.lens_at = self._at
            self.started.emit()
            self._canvas.update()

    def _drag(self, at: QPointF) -> None:
        if self.held is not None:
            self._move(at)

    def _move(self, at: QPointF) -> None:
        self._at = self._canvas.lens_at = at
        self._canvas.update()

    def _release(self, _at: QPointF) -> None:
        if self.held is not None and not self._by_key:
            self._let_go()

    def _let_go(self) -> None:
        held, at, was = self.held, self._at, self._ends().get(self.held or "")
        self.give_up()
        if held is not None and at is not None and was is not None and (at - was).manhattanLength() > 0.2:
            self.finished.emit(held, at)

    def give_up(self) -> None:
        """Leave the end where it was."""
        self.held = self._at = self._canvas.lens_at = None
        self._by_key = False
        self._canvas.update()

    def eventFilter(self, _watched: QObject, event: QEvent) -> bool:
        if not isinstance(event, QKeyEvent):
            return False
        key = Qt.Key(event.key())
        own = key in CHOOSE or (self.held is not None and key in (*STEPS, Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Escape))
        if not own:
            return False
        if event.type() == QEvent.Type.ShortcutOverride:
            event.accept()
        elif event.type() == QEvent.Type.KeyPress:
            self._key(key, 10.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0)
        return True

    def _key(self, key: Qt.Key, step: float) -> None:
        if key in CHOOSE:
            self._take(CHOOSE[key], by_key=True)
        elif key in STEPS and self._at is not None:
            dx, dy = STEPS[key]
            self._move(QPointF(self._at.x() + step * dx, self._at.y() + step * dy))
        elif key == Qt.Key.Key_Escape:
            self.give_up()
        else:
            self._let_go()

    def _paint(self, painter: QPainter, unit: float) -> None:
        ends = self._ends()
        if self.held is not None and self._at is not None and self.held in ends:
            ends = {**ends, self.held: self._at}
            if len(ends) == 2:
                draw_line(painter, [ends["frog"], ends["head"]], 1.4, ON_PICTURE["landmark"], unit, dashed=True)
        by_hand = self._set_here()
        for end, at in ends.items():
            size = RING_PX * unit * (1.4 if end == self.held else 1.0)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            for width, colour in ((3.6, ON_PICTURE["edge"]), (1.8, ON_PICTURE["landmark"])):
                painter.setPen(QPen(QColor(colour), width * unit))
                # a ring was found, a square was set by hand
                if end in by_hand:
                    painter.drawRect(int(at.x() - size), int(at.y() - size), int(2 * size), int(2 * size))
                else:
                    painter.drawEllipse(at, size, size)
