"""How far the measuring has got: stage, frames, time left; pause, go on, stop."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QFrame, QHBoxLayout, QProgressBar, QPushButton, QVBoxLayout, QWidget

from dolcezza.app.theme.words import mark, tr
from dolcezza.app.widgets.parts import label
from dolcezza.core.base.job import Progress

STAGES = (mark("Opening the video"), mark("Following the bow"), mark("Solving the bow"), mark("Looking at the player"))


class MeasuringCard(QFrame):
    """Emits ``pause()``, ``go_on()`` and ``cancel()``."""

    pause = Signal()
    go_on = Signal()
    cancel = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("card")
        box = QVBoxLayout(self)
        self.words = label("", "heading")
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.bar.setAccessibleName(tr("Progress of the analysis"))
        self.hold = QPushButton(tr("Pause"))
        self.hold.clicked.connect(self._hold)
        self.stop = QPushButton(tr("Stop"))
        self.stop.clicked.connect(self.cancel)
        row = QHBoxLayout()
        row.addWidget(self.hold)
        row.addWidget(self.stop)
        box.addWidget(self.words)
        box.addWidget(self.bar)
        box.addLayout(row)
        self._paused = False
        self._said = ""
        self.hide()

    def show_progress(self, progress: Progress | None, seconds_left: float = -1.0) -> None:
        """Progress of the analysis; None hides it."""
        self.setVisible(progress is not None)
        self._paused = False
        self.hold.setText(tr("Pause"))
        if progress is None:
            return
        left = ", " + tr("about {0:.0f} s left").format(seconds_left) if seconds_left >= 1 else ""
        frames = tr("{0} of {1} frames").format(progress.done, progress.total) if progress.total > 1 else ""
        stage = tr(progress.stage.capitalize())
        self._said = f"{stage}: {frames}" if frames else f"{stage}…"
        self.words.setText(self._said + (left if frames else ""))
        self.bar.setRange(0, 1000 if progress.total > 1 else 0)
        self.bar.setValue(round(1000 * progress.share))

    def show_paused(self) -> None:
        """The measuring is held."""
        self.show()
        self._paused = True
        self.hold.setText(tr("Go on"))
        self.words.setText(tr("Paused. {0}").format(self._said))

    def _hold(self) -> None:
        (self.go_on if self._paused else self.pause).emit()
