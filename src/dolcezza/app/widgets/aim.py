"""Pointing into a picture without a mouse: Enter takes aim, arrows move it, Enter sets, Escape leaves."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, QPointF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPen

from dolcezza.app.theme.palette import ON_PICTURE
from dolcezza.app.widgets.video_canvas import VideoCanvas

STEPS = {
    Qt.Key.Key_Left: (-1.0, 0.0), Qt.Key.Key_Right: (1.0, 0.0), Qt.Key.Key_Up: (0.0, -1.0), Qt.Key.Key_Down: (0.0, 1.0),
}  # fmt: skip
PLAIN_PX, SHIFT_PX, CTRL_PX = 4.0, 40.0, 0.5
"""A step of the aim in picture pixels: alone, with Shift, with Ctrl."""
ENTER = (Qt.Key.Key_Return, Qt.Key.Key_Enter)


class Aim(QObject):
    """``start`` gives the place (px) where aiming begins, None = there is nothing to aim for. Emits ``placed(QPointF)``; the aim stays for
    the next place. ``instead``: what Enter does where there is something to confirm; it says whether it did."""

    placed = Signal(QPointF)

    def __init__(
        self, canvas: VideoCanvas, start: Callable[[], QPointF | None], instead: Callable[[], bool] = lambda: False
    ) -> None:  # fmt: skip
        super().__init__(canvas)
        self._canvas, self._start, self._instead = canvas, start, instead
        self.at: QPointF | None = None
        canvas.layers.append(self._paint)
        canvas.installEventFilter(self)

    def eventFilter(self, _watched: QObject, event: QEvent) -> bool:
        if event.type() in (QEvent.Type.FocusOut, QEvent.Type.MouseButtonPress):
            self.leave()
            return False
        if not isinstance(event, QKeyEvent):
            return False
        key = Qt.Key(event.key())
        if not (key in ENTER or (self.at is not None and (key in STEPS or key == Qt.Key.Key_Escape))):
            return False
        if event.type() == QEvent.Type.ShortcutOverride:
            event.accept()
        elif event.type() == QEvent.Type.KeyPress:
            self._key(key, event.modifiers())
        return True

    def _key(self, key: Qt.Key, held: Qt.KeyboardModifier) -> None:
        if key == Qt.Key.Key_Escape:
            self.leave()
        elif self.at is None:
            if not self._instead():
                self._move(self._start())
        elif key in STEPS:
            size = (
                SHIFT_PX
                if held & Qt.KeyboardModifier.ShiftModifier
                else CTRL_PX
                if held & Qt.KeyboardModifier.ControlModifier
                else PLAIN_PX
            )
            dx, dy = STEPS[key]
            self._move(QPointF(self.at.x() + dx * size, self.at.y() + dy * size))
        else:
            self.placed.emit(self.at)
            self._move(self.at if self._start() is not None else None)

    def _move(self, at: QPointF | None) -> None:
        self.at = self._canvas.lens_at = at
        self._canvas.update()

    def leave(self) -> None:
        """Aim no more."""
        if self.at is not None:
            self._move(None)

    def _paint(self, painter: QPainter, unit: float) -> None:
        if self.at is None:
            return
        x, y, gap, arm = self.at.x(), self.at.y(), 5 * unit, 16 * unit
        for width, colour in ((3.6, ON_PICTURE["edge"]), (1.6, ON_PICTURE["landmark"])):
            painter.setPen(QPen(QColor(colour), width * unit))
            for dx, dy in ((1, 0), (-1, 0), (0, 1), (0, -1)):
                painter.drawLine(QPointF(x + dx * gap, y + dy * gap), QPointF(x + dx * arm, y + dy * arm))
