"""What the page Landmarks begins with: the instrument found in the background; where it is not found, a frame to set it on."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QObject

from dolcezza.app.models.selection import Selection
from dolcezza.app.views.calibration import CalibrationView
from dolcezza.app.workers.job_runner import JobRunner
from dolcezza.core.pipeline.fit_file import Fit
from dolcezza.services.analysis import find_landmarks, frame_to_mark


class CalibrationPresenter(QObject):
    """Offers the landmarks that were found in a video that has just been opened, or else a frame on which the instrument can be seen; a
    teacher who has gone elsewhere meanwhile, or has begun to mark, stays there."""

    def __init__(self, selection: Selection, view: CalibrationView, parent: QObject) -> None:
        super().__init__(parent)
        self._selection, self._view = selection, view
        self._asked: tuple[int, float] | None = None
        self.jobs, self.frames = JobRunner(self), JobRunner(self)
        self.jobs.done.connect(self._offer)
        self.jobs.failed.connect(self._not_found)
        self.frames.done.connect(self._begin_at)

    def opened(self) -> None:
        """A video was opened."""
        take, session = self._selection.take, self._view.session
        self.jobs.cancel()
        self.frames.cancel()
        self._asked = None
        self._view.show_search("")
        if take is None or session is None or session.state.points or self.jobs.running or self.frames.running:
            return
        self._asked = (take.id, self._selection.moment_s)
        self._view.show_search("looking")
        self.jobs.start(partial(find_landmarks, take.path, session.base.instrument))

    @property
    def _untouched(self) -> bool:
        take, session = self._selection.take, self._view.session
        if take is None or session is None or session.state.points:
            return False
        return self._asked == (take.id, self._selection.moment_s)

    def _offer(self, fit: Fit) -> None:
        session = self._view.session
        self._view.show_search("")
        if session is not None and self._untouched:
            session.offer(fit)
            self._selection.go_to(session.t_s)

    def _not_found(self, _error: object) -> None:
        take = self._selection.take
        self._view.show_search("not found")
        if take is not None and self._untouched and not self.frames.running:
            self.frames.start(partial(frame_to_mark, take.path))

    def _begin_at(self, t_s: float) -> None:
        if self._untouched:
            self._selection.go_to(t_s)

    def wait(self) -> None:
        """Stop looking (the window closes)."""
        self.jobs.wait()
        self.frames.wait()
