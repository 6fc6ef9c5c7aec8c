"""What the page Landmarks asks for before anything is marked: a frame to begin with, chosen in the background."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QObject

from dolcezza.app.models.selection import Selection
from dolcezza.app.views.calibration import CalibrationView
from dolcezza.app.workers.job_runner import JobRunner
from dolcezza.services.analysis import frame_to_mark


class CalibrationPresenter(QObject):
    """Takes a video that has just been opened to a frame on which the instrument can be seen; a teacher who has gone elsewhere meanwhile,
    or has begun to mark, stays there."""

    def __init__(self, selection: Selection, view: CalibrationView, parent: QObject) -> None:
        super().__init__(parent)
        self._selection, self._view = selection, view
        self._asked: tuple[int, float] | None = None
        self.jobs = JobRunner(self)
        self.jobs.done.connect(self._offer)

    def opened(self) -> None:
        """A video was opened."""
        take, session = self._selection.take, self._view.session
        self.jobs.cancel()
        self._asked = None
        if take is None or session is None or session.state.points or self.jobs.running:
            return
        self._asked = (take.id, self._selection.moment_s)
        self.jobs.start(partial(frame_to_mark, take.path))

    def _offer(self, t_s: float) -> None:
        take, session = self._selection.take, self._view.session
        if take is None or session is None or self._asked != (take.id, self._selection.moment_s) or session.state.points:
            return
        self._selection.go_to(t_s)

    def wait(self) -> None:
        """Stop looking (the window closes)."""
        self.jobs.wait()
