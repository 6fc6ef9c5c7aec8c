"""Measuring the open take in the background: keep the landmarks, run the job, keep what comes out."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.words import fault_words, tr
from dolcezza.app.views.calibration import CalibrationView
from dolcezza.app.views.strokes import StrokesView
from dolcezza.app.widgets.notice_strip import NoticeStrip
from dolcezza.app.workers.job_runner import JobRunner
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.pipeline.fit_file import Fit
from dolcezza.services.analysis import analyse, analyse_pair, find_and_analyse
from dolcezza.services.queue import WaitingList
from dolcezza.services.studio import Studio
from dolcezza.storage.records import Take

if TYPE_CHECKING:
    from dolcezza.core.assignment.exercise import Exercise
    from dolcezza.core.findings.profiles import Profile
    from dolcezza.core.pipeline.measure import TakeAnalysis

NOT_MARKED = 0
"""A take of the queue that nobody has marked: its instrument is looked for first."""


class AnalysisPresenter(QObject):
    """Emits ``started(fit)``, ``measured(stored)`` for the take that is still open, ``landmarks_wrong()``, and ``one_more(take id)`` when a
    take of the queue has been measured."""

    started = Signal(object)
    measured = Signal(object)
    landmarks_wrong = Signal()
    one_more = Signal(int)

    def __init__(
        self, studio: Studio, selection: Selection, landmarks: CalibrationView, strokes: StrokesView, notice: NoticeStrip, parent: QObject
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self._studio, self._selection, self._landmarks, self._strokes, self._notice = studio, selection, landmarks, strokes, notice
        self._measuring: tuple[Take, int] | None = None
        self.jobs = JobRunner(self)
        self.jobs.progressed.connect(self._on_progress)
        self.jobs.done.connect(self._on_measured)
        self.jobs.failed.connect(self._on_failed)
        self.jobs.cancelled.connect(self._on_cancelled)
        self.jobs.paused.connect(strokes.measuring.show_paused)
        strokes.measuring.cancel.connect(self.jobs.cancel)
        strokes.measuring.pause.connect(self.jobs.pause)
        strokes.measuring.go_on.connect(self.jobs.go_on)
        self.waiting = WaitingList(studio.folder)
        self._closing = False
        self._behind: tuple[Take, int] | None = None
        self.behind = JobRunner(self)
        self.behind.done.connect(self._on_behind)
        self.behind.failed.connect(self._on_behind_failed)
        self.behind.cancelled.connect(self._next_behind)

    def measure_later(self, take_ids: Sequence[int]) -> None:
        """Measure takes one after the other in the background, while the teacher works on. What is marked badly is passed over."""
        store = self._studio.store
        self.waiting.add([k for k in take_ids if self._studio.analysis(store.take(k)) is None])
        self.go_on_waiting()

    def go_on_waiting(self) -> None:
        """Measure what waits (after a restart, too)."""
        if not self.behind.running:
            self._next_behind()

    def _next_behind(self) -> None:
        self._behind = None
        if self._closing:
            return
        for take_id in list(self.waiting.ids):
            try:
                take = self._studio.store.take(take_id)
                kept = self._studio.store.latest_fit(take_id)
                if kept is None and self._now_measuring != take_id:
                    self._behind = (take, NOT_MARKED)
                    self.behind.start(partial(find_and_analyse, take.path, self._studio.fit(take).instrument, self._ready_for(take)))
                    return
                if kept is not None and self._now_measuring != take_id:
                    fit = self._studio.fit(take)
                    limits, asked = self._studio.profile_of(take, fit), self._studio.asked(take)
                    self._behind = (take, kept[0])
                    self.behind.start(self._work(take, fit, limits, asked))
                    return
            except DolcezzaError as error:
                self._notice.say(fault_words(error))
            self.waiting.remove(take_id)

    @property
    def _now_measuring(self) -> int | None:
        return self._measuring[0].id if self._measuring is not None else None

    def _work(self, take: Take, fit: Fit, limits: Profile, asked: Exercise | None) -> Callable[[], Work[TakeAnalysis]]:
        """How a take is measured: from its own video, or from those of both phones."""
        second = self._studio.second_phone(take)
        if second is None:
            return partial(analyse, take.path, fit, profile=limits, exercise=asked)
        return partial(analyse_pair, (take.path, second[0]), (fit, second[1]), profile=limits, exercise=asked)

    def _ready_for(self, take: Take) -> Callable[[Fit], tuple[Fit, Profile]]:
        """What the studio knows of a take besides the landmarks that were found."""
        known = self._studio.fit(take)
        profile = self._studio.profile_of(take, known)

        def ready(found: Fit) -> tuple[Fit, Profile]:
            # in the background: nothing of the studio is read there
            mirrored = found.mirrored or known.mirrored
            fit = replace(known, landmarks=found.landmarks, handed=found.handed, handed_told=found.handed_told, mirrored=mirrored)
            return fit, profile

        return ready

    def _on_behind(self, came: TakeAnalysis | tuple[Fit, TakeAnalysis]) -> None:
        if self._behind is not None:
            take, fit_id = self._behind
            try:
                if isinstance(came, tuple):
                    fit, analysis = came
                    fit_id = self._studio.save_fit(take, fit)
                else:
                    analysis = came
                self._studio.save_analysis(take, fit_id, analysis)
                self.one_more.emit(take.id)
            except DolcezzaError as error:
                self._notice.say(fault_words(error))
            self.waiting.remove(take.id)
        self._next_behind()

    def _on_behind_failed(self, error: DolcezzaError) -> None:
        if self._behind is not None:
            self._notice.say(f"{self._behind[0].title}: {error}")
            self.waiting.remove(self._behind[0].id)
        self._next_behind()

    def wait(self) -> None:
        """Stop all measuring and wait for it (the window closes)."""
        self._closing = True
        if self._measuring is not None and (self.jobs.running or self.jobs.held):
            # it goes on when the program is opened again
            self.waiting.add([self._measuring[0].id])
        self.jobs.wait()
        self.behind.wait()

    def measure(self) -> None:
        """Keep the landmarks and measure the take in the background."""
        take, session = self._selection.take, self._landmarks.session
        if take is None or session is None:
            return
        if self._now_measuring == take.id:
            self.jobs.go_on()
            return
        try:
            fit = session.result()
            fit_id = self._studio.save_fit(take, fit)
            limits = self._studio.profile_of(take, fit)
            asked = self._studio.asked(take)
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            self.landmarks_wrong.emit()
            return
        if self._measuring is not None:
            self.waiting.add([take.id])
            self.go_on_waiting()
            self._notice.say(tr("“{0}” is being analysed; this video comes next.").format(self._measuring[0].title), calm=True)
            return
        self.waiting.remove(take.id)
        self._measuring = (self._studio.store.take(take.id), fit_id)
        self.jobs.start(self._work(take, fit, limits, asked))
        self._strokes.show_progress(Progress(Stage.OPENING, 0, 1))
        self.started.emit(fit)

    def forget(self, take_id: int) -> None:
        """A take goes: it is measured no more, in front or behind."""
        self.waiting.remove(take_id)
        if take_id == self._now_measuring:
            self.jobs.cancel()
        if self._behind is not None and self._behind[0].id == take_id:
            self.behind.cancel()

    def is_measuring(self, take_id: int) -> bool:
        """Whether a take is under way, or held, in front or behind."""
        return take_id == self._now_measuring or (self._behind is not None and self._behind[0].id == take_id)

    def show_state(self) -> None:
        """Another take is open: show whether it is the one that is being measured."""
        take = self._selection.take
        if take is None or take.id != self._now_measuring:
            self._strokes.show_progress(None)
        elif self.jobs.held:
            self._strokes.measuring.show_paused()

    def _on_progress(self, progress: Progress, left: float) -> None:
        take = self._selection.take
        self._strokes.show_progress(progress if take is not None and take.id == self._now_measuring else None, left)

    def _on_measured(self, analysis: TakeAnalysis) -> None:
        self._strokes.show_progress(None)
        if self._measuring is None:
            return
        take, fit_id = self._measuring
        self._measuring = None
        try:
            stored = self._studio.save_analysis(take, fit_id, analysis)
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            return
        if self._selection.take is not None and self._selection.take.id == take.id:
            self._selection.set_analysis(stored)
            self.measured.emit(stored)
        seconds = stored.summary.get("timings_s", {}).get("total", 0.0)
        tuning = analysis.tone.tuning if analysis.tone is not None else None
        if tuning is not None and tuning.ask and analysis.fit.tuning_cents is None:
            cents = round(tuning.offset_cents)
            said = tr("The open strings sound {0} cents from A = 440 Hz. Are they tuned so?").format(f"{cents:+d}".replace("-", "−"))
            self._notice.say(said, action=tr("They are tuned so"), do=lambda: self._tuned(float(cents)))
            return
        self._notice.say(tr("Measured {0} strokes in {1:.0f} seconds.").format(len(stored.strokes), seconds), calm=True)

    def _tuned(self, cents: float) -> None:
        """The teacher says how the strings are tuned: measure again with it."""
        if self._landmarks.session is not None:
            self._landmarks.session.tell_tuning(cents)
            self.measure()

    def _on_failed(self, error: DolcezzaError) -> None:
        self._measuring = None
        self._strokes.show_progress(None)
        self._notice.say(fault_words(error))

    def _on_cancelled(self) -> None:
        self._measuring = None
        self._strokes.show_progress(None)
        self._notice.say(tr("Analysis stopped; the landmarks are kept."), calm=True)
