"""Both phones' pictures of one playing, side by side at the same moment."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QCloseEvent, QImage, QKeyEvent
from PySide6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QSlider, QVBoxLayout, QWidget

from dolcezza.app.theme.words import tr
from dolcezza.app.widgets.parts import choice, faint, label
from dolcezza.app.widgets.transport import SPEEDS
from dolcezza.app.widgets.video_canvas import VideoCanvas
from dolcezza.app.workers.frame_feeder import FrameFeeder

TICK_MS = 20
STEP_MS = 40


class PhonesWindow(QDialog):
    """``first`` and ``second``: the videos; a moment t of the first is ``t + offset_s + drift * t`` in the second. ``said``: what the
    second one gave."""

    def __init__(
        self, first: Path, second: Path, *, offset_s: float, drift: float, duration_s: float, said: str, parent: QWidget | None = None
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self.setObjectName("page")
        self.setWindowTitle(tr("Both phones side by side"))
        self.resize(1240, 560)
        self._offset_s, self._drift = offset_s, drift
        self._begun = (0.0, 0.0)
        self._timer = QTimer(self)
        self._timer.setInterval(TICK_MS)
        self._timer.timeout.connect(self._tick)
        box = QVBoxLayout(self)
        box.setContentsMargins(20, 16, 20, 14)
        row = QHBoxLayout()
        row.setSpacing(16)
        self.canvases, self._feeders = [], []
        for path in (first, second):
            column = QVBoxLayout()
            canvas = VideoCanvas()
            column.addWidget(canvas, 1)
            column.addWidget(faint(path.name))
            row.addLayout(column, 1)
            feeder = FrameFeeder(path, self)
            feeder.ready.connect(self._shower(canvas))
            self.canvases.append(canvas)
            self._feeders.append(feeder)
            feeder.begin()
        box.addLayout(row, 1)
        box.addWidget(label(said))
        line = QHBoxLayout()
        self.play = QPushButton(tr("Play (Space)"))
        self.play.setObjectName("main")
        self.play.clicked.connect(self.toggle)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, max(1, round(1000 * duration_s)))
        self.slider.setAccessibleName(tr("Moment"))
        self.slider.valueChanged.connect(self._show)
        self.clock = faint("")
        self.speed = choice(tr("Playing speed"), [tr(name) for _, name in SPEEDS])
        self.close_button = QPushButton(tr("Back to the desk (Esc)"))
        self.close_button.clicked.connect(self.close)
        for widget in (self.play, self.slider, self.clock, self.speed, self.close_button):
            line.addWidget(widget, 1 if widget is self.slider else 0)
        box.addLayout(line)
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
        self.clock.setText(f"{self.moments[0]:.2f} s")

    def toggle(self) -> None:
        """Play both, or stop."""
        if self._timer.isActive():
            self._stop()
            return
        if self.slider.value() >= self.slider.maximum():
            self.slider.setValue(0)
        self._begun = (time.monotonic(), self.slider.value() / 1000.0)
        self._timer.start()
        self.play.setText(tr("Stop (Space)"))

    def _stop(self) -> None:
        self._timer.stop()
        self.play.setText(tr("Play (Space)"))

    def _tick(self) -> None:
        began, place = self._begun
        now = place + (time.monotonic() - began) * SPEEDS[self.speed.currentIndex()][0]
        self.slider.setValue(round(1000 * now))
        if self.slider.value() >= self.slider.maximum():
            self._stop()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Space:
            self.toggle()
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._stop()
            self.slider.setValue(self.slider.value() + (STEP_MS if event.key() == Qt.Key.Key_Right else -STEP_MS))
        elif event.key() == Qt.Key.Key_Escape:
            self.close()
        else:
            super().keyPressEvent(event)

    def closeEvent(self, event: QCloseEvent) -> None:
        self._timer.stop()
        for feeder in self._feeders:
            feeder.finish()
        super().closeEvent(event)
