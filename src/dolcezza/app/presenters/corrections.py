"""What the teacher sets by hand on a measured take, taken in at once: ends of the bow, joints, strokes, the moment at ease."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

from PySide6.QtCore import QObject, QPointF, Signal
from PySide6.QtWidgets import QWidget

from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.words import fault_words, tr
from dolcezza.app.views.arm import ArmView
from dolcezza.app.views.strokes import StrokesView
from dolcezza.app.widgets.notice_strip import NoticeStrip
from dolcezza.app.workers.job_runner import JobRunner
from dolcezza.core.base.errors import DolcezzaError, StudioError
from dolcezza.core.pipeline.fit_file import USUAL_RATE_HZ, Fit
from dolcezza.core.strokes.edits import EditKind
from dolcezza.services import corrections
from dolcezza.services.assignment import NOTHING
from dolcezza.services.calibration import CalibrationSession
from dolcezza.services.corrections import Corrected, Correction
from dolcezza.services.studio import Studio
from dolcezza.storage.records import StoredAnalysis, Take

NEAR_S = 0.25


def capital(words: str) -> str:
    """The same with a capital at its beginning; German nouns keep theirs."""
    return words[:1].upper() + words[1:]


@dataclass(frozen=True)
class _Wish:
    """A correction that waits: of which take, how it is made from the fit; of landmarks also the fit without them and the frame."""

    take_id: int
    make: Callable[[Fit], Correction]
    before: Fit | None
    marked_s: float | None


class CorrectionsPresenter(QObject):
    """One correction after another in the background, in the order they were made. Emits ``corrected()`` when another state counts."""

    corrected = Signal()

    def __init__(
        self, studio: Studio, selection: Selection, strokes: StrokesView, arm: ArmView, notice: NoticeStrip,
        session: Callable[[], CalibrationSession | None], busy: Callable[[int], bool], parent: QWidget,
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self._studio, self._selection, self._strokes, self._notice = studio, selection, strokes, notice
        self._session, self._busy = session, busy
        self._waiting: list[_Wish] = []
        self._under_way: tuple[Take, StoredAnalysis, Fit, Correction] | None = None
        self.jobs = JobRunner(self)
        self.jobs.done.connect(self._on_done)
        self.jobs.failed.connect(self._on_failed)
        self.jobs.cancelled.connect(self._on_cancelled)
        studio.corrections.changed = self._on_changed
        strokes.end_set.connect(self._end_set)
        strokes.let_go.connect(self._let_bow_go)
        strokes.stroke_mended.connect(self.mend_stroke)
        arm.joints_set.connect(self._joints_set)
        arm.relaxed_here.connect(self._relaxed_here)

    def landmarks_set(self, seconds: float, before: Fit) -> None:
        """The instrument was marked at a frame of a measured take; ``before`` is the fit without that."""
        take, session = self._selection.take, self._session()
        if take is not None and session is not None and self._busy(take.id):
            session.adopt(before)
        if not any(w.marked_s == seconds for w in self._waiting):
            # one that waits for this frame takes in all that is marked there until then
            self._mend(lambda fit: corrections.landmarks(fit, seconds, before), before, seconds)

    def _end_set(self, seconds: float, end: str, place: QPointF) -> None:
        self._mend(lambda fit: corrections.bow_end(fit, seconds, end, (place.x(), place.y()), rate_hz=self._rate_hz))

    def _let_bow_go(self, seconds: float) -> None:
        self._mend(lambda fit: corrections.let_bow_go(fit, seconds, rate_hz=self._rate_hz))

    def mend_stroke(self, what: str, string: str) -> None:
        """Cut, join or drop the stroke at the moment shown, or say its string."""
        self._mend(partial(corrections.stroke, t_s=self._selection.moment_s, what=EditKind(what), string=string))

    def _joints_set(self, seconds: float, places: dict[str, tuple[float, float] | None]) -> None:
        self._mend(lambda fit: corrections.joint(fit, seconds, places, rate_hz=self._rate_hz))

    @property
    def _rate_hz(self) -> float:
        """Frames a second of the open video."""
        return self._selection.analysis.series.rate_hz if self._selection.analysis is not None else USUAL_RATE_HZ

    def _relaxed_here(self, seconds: float) -> None:
        def ease(fit: Fit) -> Correction:
            here = fit.relaxed_s is not None and abs(fit.relaxed_s - seconds) <= NEAR_S
            return corrections.at_ease(fit, None if here else float(seconds))

        self._mend(ease)

    def _mend(self, make: Callable[[Fit], Correction], before: Fit | None = None, marked_s: float | None = None) -> None:
        take = self._selection.take
        if take is not None and self._busy(take.id):
            self._notice.say(tr("This video is being analysed; set it when that is done."), calm=True)
            return
        if take is not None:
            self._waiting.append(_Wish(take.id, make, before, marked_s))
        if not self.jobs.running:
            self._next()

    def _next(self) -> None:
        take, stored, session = self._selection.take, self._selection.analysis, self._session()
        # what was set on a take that is no longer open is not for this one
        self._waiting = [w for w in self._waiting if take is not None and w.take_id == take.id]
        if not self._waiting or take is None or session is None:
            self._waiting.clear()
            return
        wish = self._waiting.pop(0)
        correction = wish.make(session.base_with_landmarks())
        fit = wish.before if wish.before is not None else session.base_with_landmarks()
        if stored is None:
            self._studio.corrections.keep_fit(take.id, fit, correction.fit, correction.words)
            return
        text = self._studio.store.assignments.of(take.id)
        self._under_way = (take, stored, fit, correction)
        if correction.what is corrections.Kind.LANDMARK:
            self._notice.say(tr("Analysing again what depends on these landmarks …"), calm=True)
        self.jobs.start(partial(
            corrections.measured_nearby, correction, take, stored, profile=self._studio.profile_of(take, fit),
            exercise=self._studio.asked(take),
            recognise=text != NOTHING,
        ))  # fmt: skip

    def _on_done(self, found: Corrected) -> None:
        under_way, self._under_way = self._under_way, None
        if under_way is not None:
            take, stored, fit, _ = under_way
            try:
                self._studio.corrections.keep(take, stored, fit, found)
                self._notice.say(tr("{0}. Ctrl+Z takes it back.").format(capital(tr(found.correction.words))), calm=True)
            except DolcezzaError as error:
                self._notice.say(fault_words(error))
        self._next()

    def _on_failed(self, error: DolcezzaError) -> None:
        under_way, self._under_way = self._under_way, None
        if under_way is not None and isinstance(error, StudioError):
            # too little was kept: what was set stays, and counts at the next measuring
            take, _, fit, correction = under_way
            self._studio.corrections.keep_fit(take.id, fit, correction.fit, correction.words)
        elif under_way is not None and under_way[3].what is corrections.Kind.LANDMARK:
            self._adopt(under_way[0].id, under_way[2])
        self._notice.say(fault_words(error))
        self._next()

    def _on_cancelled(self) -> None:
        self._under_way = None
        self._waiting.clear()

    def _on_changed(self, take_id: int, fit: Fit) -> None:
        """Another state of a take counts (corrected, or taken back): the landmarks' session and the screens follow."""
        if self._is_open(take_id):
            self._adopt(take_id, fit)
            self.corrected.emit()

    def _is_open(self, take_id: int) -> bool:
        return self._selection.take is not None and self._selection.take.id == take_id

    def _adopt(self, take_id: int, fit: Fit) -> None:
        """The landmarks' session takes over a fit of the open take, unless newer landmarks wait."""
        session = self._session()
        if session is not None and self._is_open(take_id) and not any(w.marked_s is not None for w in self._waiting):
            session.adopt(fit)

    def wait(self) -> None:
        """Stop (the window closes)."""
        self._waiting.clear()
        self.jobs.wait()
