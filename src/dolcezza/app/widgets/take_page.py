"""What the pages that show a measured take share: picture and transport on the left, a column of cards on the right."""

from __future__ import annotations

from collections.abc import Hashable, Sequence

import numpy as np
from PySide6.QtGui import QImage, QPainter
from PySide6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.words import tr
from dolcezza.app.widgets.parts import scroll_column
from dolcezza.app.widgets.transport import Transport
from dolcezza.app.widgets.video_canvas import VideoCanvas
from dolcezza.storage.records import StoredAnalysis

SIDE_PX = 452


def stacked(spacing: int = 5) -> tuple[QVBoxLayout, QWidget]:
    """A list within a card: its layout to fill, and the widget that holds it."""
    inner = QWidget()
    box = QVBoxLayout(inner)
    box.setContentsMargins(0, 0, 0, 0)
    box.setSpacing(spacing)
    return box, inner


class TakePage(QWidget):
    """``left`` may be filled further under the transport, ``column`` with cards; ``paint_frame`` draws over the picture."""

    def __init__(self, selection: Selection, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self._selection = selection
        self._analysis: StoredAnalysis | None = None
        self._shown_s = 0.0
        self._cycling: tuple[Hashable, int] = ("", 0)
        across = QHBoxLayout(self)
        across.setContentsMargins(18, 6, 18, 10)
        across.setSpacing(16)
        self.left = QVBoxLayout()
        self.canvas = VideoCanvas()
        self.canvas.empty_text = tr("Choose a video first.")
        self.canvas.layers.append(self._paint)
        self.left.addWidget(self.canvas, 1)
        self.transport = Transport()
        self.transport.moment.connect(selection.go_to)
        self.transport.stroke_step.connect(selection.step_stroke)
        self.transport.span = selection.stroke_span
        across.addLayout(self.left, 1)
        side = QFrame()
        side.setFixedWidth(SIDE_PX)
        box = QVBoxLayout(side)
        box.setContentsMargins(0, 0, 0, 0)
        area, self.column = scroll_column()
        box.addWidget(area)
        across.addWidget(side)
        selection.moment_changed.connect(self.on_moment)

    def card(self, *parts: QWidget | QHBoxLayout) -> None:
        """One more card in the column."""
        card = QFrame()
        card.setObjectName("card")
        box = QVBoxLayout(card)
        box.setContentsMargins(13, 8, 13, 9)
        box.setSpacing(5)
        for part in parts:
            if isinstance(part, QWidget):
                box.addWidget(part)
            else:
                box.addLayout(part)
        self.column.addWidget(card)

    def on_moment(self, seconds: float) -> None:
        """Another moment is shown."""
        self.transport.show_moment(seconds)

    def go(self, seconds: float) -> None:
        """To a moment, paused."""
        self.transport.pause()
        self._selection.go_to(seconds)

    def cycle(self, what: Hashable, moments: Sequence[float]) -> None:
        """To the first of the moments (s) that show ``what``, at each further call to the next."""
        if moments:
            self._cycling = (what, self._cycling[1] + 1 if self._cycling[0] == what else 0)
            self.go(moments[self._cycling[1] % len(moments)])

    def begin_cycles(self) -> None:
        """Another take or measurement: every cycle begins with its first moment."""
        self._cycling = ("", 0)

    def show_picture(self, seconds: float, image: QImage) -> None:
        """Show a picture; ``seconds`` is its own time, so that what is drawn belongs to it."""
        self._shown_s = seconds
        self.canvas.show_image(image)

    def frame(self) -> int | None:
        """Which frame of the record is shown."""
        if self._analysis is None or not len(self._analysis.series):
            return None
        return int(np.argmin(np.abs(self._analysis.series.t - self._shown_s)))

    def _paint(self, painter: QPainter, unit: float) -> None:
        frame = self.frame()
        if frame is not None and self._analysis is not None:
            self.paint_frame(painter, self._analysis, frame, unit)

    def paint_frame(self, painter: QPainter, analysis: StoredAnalysis, frame: int, unit: float) -> None:
        """Draw what was measured over a frame."""
