"""The lens under the mouse before a click, where a click would set something."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, QPointF

from dolcezza.app.widgets.video_canvas import VideoCanvas


class HoverLens(QObject):
    """``sets_at`` says whether a click at a place (px of the picture) would set something there; None = something else has the lens."""

    def __init__(self, canvas: VideoCanvas, sets_at: Callable[[QPointF], bool | None]) -> None:
        super().__init__(canvas)
        self._canvas, self._sets_at = canvas, sets_at
        canvas.hovered.connect(self._hover)

    def _hover(self, at: QPointF | None) -> None:
        sets = self._sets_at(at) if at is not None else False
        if sets is None:
            return
        lens = at if sets else None
        if lens != self._canvas.lens_at:
            self._canvas.lens_at = lens
            self._canvas.update()
