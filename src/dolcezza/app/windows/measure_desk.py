"""Measuring the open take in the background: keep the pins, run the job, keep what comes out."""

from __future__ import annotations

from PySide6.QtCore import QObject, Signal

from dolcezza.app.models.selection import Selection
from dolcezza.app.views.pins import PinsView
from dolcezza.app.views.strokes import StrokesView
from dolcezza.app.widgets.notice_strip import NoticeStrip
from dolcezza.app.workers.job_runner import JobRunner
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.base.job import Progress
from dolcezza.services.analysis import TakeAnalysis, analyse
from dolcezza.services.studio import Studio
from dolcezza.storage.records import Take


class MeasureDesk(QObject):
    """Emits ``started(fit)``, ``measured(stored)`` for the take that is still open, ``pins_wrong()``."""

    started = Signal(object)
    measured = Signal(object)
    pins_wrong = Signal()

    def __init__(
        self, studio: Studio, selection: Selection, pins: PinsView, strokes: StrokesView, notice: NoticeStrip, parent: QObject
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self._studio, self._selection, self._pins, self._strokes, self._notice = studio, selection, pins, strokes, notice
        self._measuring: tuple[Take, int] | None = None
        self.jobs = JobRunner(self)
        self.jobs.progressed.connect(self._on_progress)
        self.jobs.done.connect(self._on_measured)
        self.jobs.failed.connect(self._on_failed)
        self.jobs.cancelled.connect(self._on_cancelled)
        strokes.cancel.connect(self.jobs.cancel)

    def measure(self) -> None:
        """Keep the pins and measure the take in the background."""
        take, session = self._selection.take, self._pins.session
        if take is None or session is None or self.jobs.running:
            return
        try:
            fit = session.result()
            fit_id = self._studio.save_fit(take, fit)
            limits = self._studio.profile_of(take, fit)
            asked = self._studio.asked(take)
        except DolcezzaError as error:
            self._notice.say(str(error))
            self.pins_wrong.emit()
            return
        self._measuring = (self._studio.store.take(take.id), fit_id)
        self.jobs.start(lambda: analyse(take.path, fit, profile=limits, exercise=asked))
        self._strokes.show_progress(Progress("opening the video", 0, 1))
        self.started.emit(fit)

    def _on_progress(self, progress: Progress, left: float) -> None:
        self._strokes.show_progress(progress, left)

    def _on_measured(self, analysis: TakeAnalysis) -> None:
        self._strokes.show_progress(None)
        if self._measuring is None:
            return
        take, fit_id = self._measuring
        self._measuring = None
        try:
            stored = self._studio.save_analysis(take, fit_id, analysis)
        except DolcezzaError as error:
            self._notice.say(str(error))
            return
        if self._selection.take is not None and self._selection.take.id == take.id:
            self._selection.set_analysis(stored)
            self.measured.emit(stored)
        seconds = stored.summary.get("timings_s", {}).get("total", 0.0)
        self._notice.say(f"Measured {len(stored.strokes)} strokes in {seconds:.0f} seconds.", calm=True)

    def _on_failed(self, error: DolcezzaError) -> None:
        self._measuring = None
        self._strokes.show_progress(None)
        self._notice.say(str(error))

    def _on_cancelled(self) -> None:
        self._measuring = None
        self._strokes.show_progress(None)
        self._notice.say("Measuring was stopped; the pins are kept.", calm=True)
