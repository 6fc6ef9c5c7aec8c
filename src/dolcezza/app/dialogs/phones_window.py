"""Both phones' pictures of one playing, side by side at the same moment."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtGui import QCloseEvent, QImage
from PySide6.QtWidgets import QVBoxLayout, QWidget

from dolcezza.app.dialogs.side_by_side import SideBySide
from dolcezza.app.theme.words import spoken, tr
from dolcezza.app.widgets.parts import faint, label
from dolcezza.app.widgets.video_canvas import VideoCanvas
from dolcezza.app.workers.frame_feeder import FrameFeeder

STEP_MS = 40


class PhonesWindow(SideBySide):
    """``first`` and ``second``: the videos; a moment t of the first is ``t + offset_s + drift * t`` in the second. ``said``: what the
    second one gave."""

    def __init__(
        self, first: Path, second: Path, *, offset_s: float, drift: float, duration_s: float, said: str, parent: QWidget | None = None
    ) -> None:  # fmt: skip
        steps = max(1, round(1000 * duration_s))
        super().__init__(tr("Both phones side by side"), (1240, 560), parent, steps=steps, key_step=STEP_MS, slider=tr("Moment"))
        self._offset_s, self._drift = offset_s, drift
        self.canvases, self._feeders = [], []
        for path in (first, second):
            column = QVBoxLayout()
            canvas = VideoCanvas()
            column.addWidget(canvas, 1)
            column.addWidget(faint(path.name))
            self.row.addLayout(column, 1)
            feeder = FrameFeeder(path, self)
            feeder.ready.connect(self._shower(canvas))
            self.canvases.append(canvas)
            self._feeders.append(feeder)
            feeder.begin()
        self.box.addWidget(label(said))
        self.slider.valueChanged.connect(self._show)
        self.clock = faint("")
        self.add_line(None, self.clock)
        self._show()
        self.slider.setFocus()

    @staticmethod
    def _shower(canvas: VideoCanvas) -> Callable[[float, QImage], None]:
        def show(_seconds: float, image: QImage) -> None:
            canvas.show_image(image)

        return show

    @property
    def moments(self) -> tuple[float, float]:
        """The moment on the first one's clock and on the second's, s."""
        here = self.slider.value() / 1000.0
        return here, here + self._offset_s + self._drift * here

    def _show(self) -> None:
        for feeder, moment in zip(self._feeders, self.moments, strict=True):
            feeder.request(max(0.0, moment))
        self.clock.setText(f"{spoken().number(self.moments[0], 2)} s")

    def whole_s(self) -> float:
        """As it was filmed."""
        return self.slider.maximum() / 1000.0

    def closeEvent(self, event: QCloseEvent) -> None:
        for feeder in self._feeders:
            feeder.finish()
        super().closeEvent(event)
