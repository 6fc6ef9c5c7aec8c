"""What the bow-use and bow-plan pages ask for, done: assignments of takes, exercises, plans."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QObject, Signal

from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.words import fault_words, show, spoken, tr
from dolcezza.app.views.bow_plan import EXERCISE, MIXES, BowPlanView
from dolcezza.app.views.bow_use import FIND_OUT, NOT_ASKED, BowUseView
from dolcezza.app.views.strokes import StrokesView
from dolcezza.app.widgets.notice_strip import NoticeStrip
from dolcezza.app.widgets.plan_plot import DrawnBow, share_words
from dolcezza.core.assignment.exercise import Exercise, check
from dolcezza.core.assignment.marks import asked_marks
from dolcezza.core.assignment.mixes import every_change_of_string, every_pair_of_parts, random_mix
from dolcezza.core.assignment.plan import UNEVEN, Plan, to_exercise
from dolcezza.core.assignment.text import read_exercise, write_exercise
from dolcezza.core.assignment.use import bow_use
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.base.message import said as as_said
from dolcezza.core.instrument.catalog import InstrumentSpec, instrument
from dolcezza.core.pipeline.fit_file import Fit
from dolcezza.services.assignment import NOTHING, Assigned
from dolcezza.services.bow_plans import drift_said, plan_text
from dolcezza.services.studio import Studio

MOST_DRAWN = 240
"""Strokes of an exercise that are drawn; of a longer one its beginning."""


class AssignmentPresenter(QObject):
    """Between the two pages, the ribbon and the studio. Emits ``edit_wanted()`` when an exercise is to be written, and
    ``judged_again()`` when another assignment has changed the findings."""

    edit_wanted = Signal()
    judged_again = Signal()

    def __init__(
        self, studio: Studio, selection: Selection, use: BowUseView, plan: BowPlanView, strokes: StrokesView, notice: NoticeStrip,
        parent: QObject,
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self._studio, self._selection, self._notice = studio, selection, notice
        self._use, self._plan, self._strokes = use, plan, strokes
        self._fit: Fit | None = None
        self._shape = (1.0, 30.0, 4.0)
        self._plans: list[Plan] = []
        self._way = 0
        self._seed = 0
        use.asked.connect(self._ask_by_name)
        use.edit_wanted.connect(self._edit)
        plan.rhythm_written.connect(self._divide)
        plan.way_chosen.connect(self._choose_way)
        plan.exercise_written.connect(self._show_exercise)
        plan.picked.connect(self._pick)
        plan.mix_wanted.connect(self._make_up)
        plan.make_exercise.connect(self._plan_to_exercise)
        plan.save.connect(self._save)
        plan.remove.connect(self._remove)
        plan.ask.connect(self._ask_written)

    @property
    def _spec(self) -> InstrumentSpec:
        return self._fit.spec if self._fit is not None else instrument("violin 4/4")

    @property
    def _marks(self) -> dict[str, float]:
        """Marks of the bow of whoever plays the open video, or is chosen."""
        take, student = self._selection.take, self._selection.student
        whose = take.student_id if take is not None else student.id if student is not None else 0
        return self._studio.marks(whose) if whose else {}

    def _read(self, text: str) -> Exercise:
        return read_exercise(text, self._marks)

    def _exercises(self) -> dict[str, Exercise]:
        return self._studio.exercises.all(self._spec.strings)

    # against the assignment

    def show_take(self, fit: Fit | None, length_s: float, rate_hz: float, limit: float) -> None:
        """Show the open take, measured or not; ``limit``: a straighter bow is not remarked on (deg)."""
        self._fit, self._shape = fit, (length_s, rate_hz, limit)
        self.reload()

    def reload(self) -> None:
        """Work the open take out anew: what was asked, what was played, how the bow was used."""
        analysis, spec = self._selection.analysis, self._spec
        length_s, rate_hz, limit = self._shape
        names = list(self._exercises())
        if analysis is None:
            self._use.show_take(None, spec.strings, None, [], {}, names, length_s, rate_hz, limit)
            self._strokes.show_asked([])
            self._refresh_plan()
            return
        try:
            how = self._studio.assigned(analysis, spec.strings)
        except DolcezzaError as error:
            how = Assigned(None, as_said(fault_words(error)))
        marks = asked_marks(how.match, analysis.strokes, end_s=float(analysis.series.t[-1])) if how.match is not None else []
        certain = how.match if not how.recognised or how.sure else None
        use = bow_use(
            analysis.series, analysis.strokes, matched=certain, hair_mm=spec.hair_length, tempo_told=not how.recognised
        )  # fmt: skip
        self._use.show_take(
            analysis, spec.strings, how, marks, use, names, length_s, rate_hz, limit, self._chosen_name(analysis.take_id, how)
        )
        # behind the ribbon of the strokes only what is certain
        self._strokes.show_asked(marks if certain is not None else [])
        self._strokes.show_marks(self._marks)
        self._refresh_plan()

    def _chosen_name(self, take_id: int, how: Assigned) -> str:
        text = self._studio.store.assignments.of(take_id)
        if not text:
            return FIND_OUT
        if text == NOTHING:
            return NOT_ASKED
        return how.match.exercise.name if how.match is not None else self._read(text).name

    def _ask_by_name(self, name: str) -> None:
        found = self._exercises().get(name)
        text = "" if name == FIND_OUT else NOTHING if name == NOT_ASKED else write_exercise(found) if found is not None else None
        if text is not None:
            self._ask(text)

    def _ask(self, text: str) -> None:
        analysis = self._selection.analysis
        if analysis is None:
            self._notice.say(tr("Analyse a video first; then say what was to be played in it."))
            return
        try:
            if text not in ("", NOTHING):
                check(self._read(text), self._spec.strings)
            self._studio.assign(analysis.take_id, text)
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            return
        self.judged_again.emit()

    def _edit(self) -> None:
        chosen = self._exercises().get(self._use.exercise.currentData())
        if chosen is None and self._selection.analysis is not None:
            try:
                how = self._studio.assigned(self._selection.analysis, self._spec.strings)
            except DolcezzaError as error:
                # what was asked is of another instrument, or cannot be played: it is shown as it is, to be put right
                self._notice.say(fault_words(error))
                self._plan.set_text(EXERCISE, self._studio.store.assignments.of(self._selection.analysis.take_id))
                self.edit_wanted.emit()
                return
            chosen = how.match.exercise if how.match is not None else None
        self._plan.set_text(EXERCISE, write_exercise(chosen or next(iter(self._exercises().values()))))
        self.edit_wanted.emit()

    # the plan page

    def _refresh_plan(self) -> None:
        self._plan.set_exercises(list(self._exercises()), self._spec.strings, self._selection.analysis is not None)
        if not self._plan.texts[EXERCISE]:
            self._plan.texts[EXERCISE] = write_exercise(next(iter(self._exercises().values())))
        self._plan.tell()

    def _divide(self, text: str) -> None:
        try:
            self._plans, self._way = plan_text(text, self._spec), 0
        except DolcezzaError as error:
            self._plan.show_fault(fault_words(error))
            return
        self._choose_way(0)

    def _choose_way(self, k: int) -> None:
        if 0 <= k < len(self._plans):
            self._way = k
            plan = self._plans[k]
            self._plan.show_plans(self._plans, k, drawn_plan(plan), spoken().sentence(drift_said(plan)))

    def _show_exercise(self, text: str) -> None:
        try:
            made = self._read(text)
            check(made, self._spec.strings)
        except DolcezzaError as error:
            self._plan.show_fault(fault_words(error))
            return
        self._plan.show_exercise(made.name, made.seconds, made.counts, drawn_exercise(made), made.name in self._studio.exercises.own())

    def _pick(self, name: str) -> None:
        found = self._exercises().get(name)
        if found is not None:
            self._plan.set_text(EXERCISE, write_exercise(found))

    def _make_up(self, name: str) -> None:
        self._seed += 1
        strings = self._spec.strings
        makers = (
            lambda: random_mix(strings, seed=self._seed), lambda: every_pair_of_parts(strings), lambda: every_change_of_string(strings)
        )  # fmt: skip
        self._plan.set_text(EXERCISE, write_exercise(makers[MIXES.index(name)]()))

    def _plan_to_exercise(self) -> None:
        if self._plans:
            self._plan.set_text(EXERCISE, write_exercise(to_exercise(self._plans[self._way])))

    def _save(self) -> None:
        try:
            made = self._read(self._plan.texts[EXERCISE])
            path = self._studio.exercises.save(made)
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            return
        self.reload()
        self._notice.say(tr("“{0}” is kept: {1}").format(made.name, path), calm=True)

    def _remove(self) -> None:
        try:
            self._studio.exercises.remove(self._read(self._plan.texts[EXERCISE]).name)
        except DolcezzaError as error:
            self._notice.say(fault_words(error))
            return
        self.reload()

    def _ask_written(self) -> None:
        self._ask(self._plan.texts[EXERCISE])
        if self._selection.analysis is not None and not self._plan.fault.text():
            self._notice.say(tr("Assigned to this video; see Distribution and the ribbon."), calm=True)


def drawn_plan(plan: Plan) -> list[DrawnBow]:
    """A plan's bows as they are drawn."""
    out = []
    for b in plan.bows:
        way = tr("down") if b.down else tr("up")
        said = tr("Bow {0}, {1}, {2:g} beats").format(b.number, way, b.beats)
        said += ", " + tr("{0} notes").format(b.notes) if b.notes > 1 else ""
        words = "\n".join([said, share_words(b.start, b.end), show("bow_speed", b.speed_cm_s).lstrip("+")])
        uneven = b.pace > UNEVEN or b.pace < 1 / UNEVEN
        out.append(
            DrawnBow(b.number, b.down, plan.rhythm.string, b.start_s, b.start_s + b.seconds, b.start, b.places, words, uneven, b.retake)
        )
    return out


def drawn_exercise(exercise: Exercise) -> Sequence[DrawnBow]:
    """An exercise's strokes as they are drawn; of a long one the beginning."""
    out: list[DrawnBow] = []
    clock = 0.0
    for k, s in enumerate(exercise.strokes[:MOST_DRAWN]):
        seconds = s.beats * 60.0 / exercise.tempo
        way = tr("down") if s.down else tr("up")
        said = tr("Stroke {0}, {1} on {2}, {3:g} beats").format(k + 1, way, s.string, s.beats)
        words = f"{said}\n{share_words(s.from_position, s.to_position)}"
        places = tuple(s.from_position + (s.to_position - s.from_position) * (n + 1) / s.notes for n in range(s.notes))
        jump = bool(out) and abs(out[-1].places[-1] - s.from_position) > 0.02
        out.append(DrawnBow(k + 1, s.down, s.string, clock, clock + seconds, s.from_position, places, words, retake=jump))
        clock += seconds
    return out
