"""From accepted findings to corrections, a plan and its log; what pain said, what was done, what helped."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta
from typing import Any

from dolcezza.core.base.errors import UNREADABLE, PracticeError
from dolcezza.core.base.message import Message
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.practice.drills import Correction, Drill, corrections_for, drills
from dolcezza.core.practice.fitted import Person
from dolcezza.core.practice.plan import PracticePlan, Slot, Task, make_plan, streak
from dolcezza.core.practice.progress import Course, courses, figures
from dolcezza.core.practice.tasks import task_of
from dolcezza.reports.language import Language, language
from dolcezza.reports.practice import slot_words
from dolcezza.services.undo import UndoStack
from dolcezza.storage.plain import from_plain, to_plain
from dolcezza.storage.records import JudgedFinding, Practised, StoredAnalysis, Student, Take, Verdict
from dolcezza.storage.studio import StudioStore

LADDER = "ladder"
"""What the log calls a climb from the balance point to the frog; its count is the places that were reached."""
LOOK_BACK_DAYS = 14
"""What was done in so many days is the load a new plan grows from."""
"""Note of the entry that lifts a pause for pain."""
FIRST_HOUR = 17
"""Calendar entries begin at this hour unless the teacher's calendar moves them."""


@dataclass(frozen=True)
class Prescription:
    """One thing to change with the findings it answers, its drills, and whether the teacher has accepted it."""

    correction: Correction
    findings: tuple[JudgedFinding, ...]
    drills: tuple[Drill, ...]
    accepted: bool


@dataclass(frozen=True)
class KeptPlan:
    """A plan as it is kept."""

    id: int
    plan: PracticePlan


@dataclass(frozen=True)
class Record:
    """What was practised lately: minutes a day (None = nothing known), days in a row, settings of the hand so far, drills paused."""

    minutes_a_day: float | None
    streak: int
    settings: int
    paused: tuple[str, ...]


def prescriptions(findings: Sequence[JudgedFinding]) -> list[Prescription]:
    """Corrections in the order of work: those of accepted findings first, then of open sure ones; dismissed ones have none."""
    out: list[Prescription] = []
    for accepted in (True, False):
        members = [f for f in findings if f.verdict == (Verdict.ACCEPTED if accepted else Verdict.OPEN) and (accepted or f.finding.sure)]
        done = {c for p in out for f in p.findings for c in [f.finding.cause]}
        for correction, causes in corrections_for(f.finding.cause for f in members if f.finding.cause not in done):
            own = tuple(f for f in members if f.finding.cause in causes)
            out.append(Prescription(correction, own, tuple(drills()[k] for k in correction.drills), accepted))
    return out


def tasks_for(
    chosen: Sequence[Prescription], exercises: Sequence[tuple[str, float]] = (), pieces: Sequence[tuple[str, float]] = ()
) -> list[Task]:  # fmt: skip
    """Tasks of a plan: the drills of the first correction give way last, then exercises and pieces (words, minutes)."""
    out: dict[str, Task] = {}
    for k, p in enumerate(chosen):
        for d in p.drills:
            out.setdefault(d.key, Task(d.name, d.minutes, d.key, first=k == 0))
    return [*out.values(), *(Task(words, minutes) for words, minutes in (*exercises, *pieces))]


class Practice:
    """Plans and log of the studio's students. Everything can be undone."""

    def __init__(self, store: StudioStore, undo: UndoStack) -> None:
        self._store, self._undo = store, undo

    def record(self, student_id: int, today: date) -> Record:
        """What the log says up to ``today``."""
        entries = self._store.practice.practised(student_id)
        lately = [e for e in entries if timedelta(0) <= today - e.day <= timedelta(days=LOOK_BACK_DAYS)]
        days = {e.day for e in lately}
        minutes = sum(e.minutes for e in lately) / len(days) if days else None
        paused: set[str] = set()
        for e in reversed(entries):
            if e.pain:
                paused.add(e.what)
            elif e.allowed:
                paused.discard(e.what)
        return Record(
            minutes, streak([e.day for e in entries], today), sum(e.count for e in entries if e.what == "D4"), tuple(sorted(paused))
        )

    def person(self, student_id: int, today: date) -> Person:
        """Whose doses: age, mobile joints and pain as the teacher marked them."""
        student = self._store.student(student_id)
        return Person(today.year - student.born if student.born else None, student.mobile_joints, student.had_pain)

    def make(
        self, student_id: int, tasks: Sequence[Task], *, first_day: date, next_lesson: date, minutes_a_day: float,
        today: date | None = None, presses: bool = False,
    ) -> KeptPlan:  # fmt: skip
        """Make a plan that keeps to what was done before, to what pain said and to who the student is, and keep it. ``presses``: what was
        found says that the hand presses. Raises PracticeError."""
        if not tasks:
            raise PracticeError("The plan has nothing to practise in it.", "Tick a drill, or write a piece with its minutes.")
        now = today or date.today()
        record = self.record(student_id, now)
        plan = make_plan(
            tasks, first_day=first_day, next_lesson=next_lesson, today=now, minutes_a_day=minutes_a_day, done_before=record.minutes_a_day,
            pain=record.paused, person=replace(self.person(student_id, now), presses=presses),
        )  # fmt: skip
        data, stamp = plan_to_dict(plan), datetime.now().isoformat(timespec="seconds")
        book = self._store.practice
        kept = [book.save_plan(student_id, first_day, data, stamp)]
        self._undo.did(
            "plan made", lambda: book.delete_plan(kept[-1]), lambda: kept.append(book.save_plan(student_id, first_day, data, stamp))
        )  # fmt: skip
        return KeptPlan(kept[-1], plan)

    def plans(self, student_id: int) -> list[KeptPlan]:
        """Plans of a student, newest first."""
        return [KeptPlan(plan_id, plan_from_dict(data)) for plan_id, _, data in self._store.practice.plans(student_id)]

    def log(self, student_id: int, day: date, what: str, *, minutes: float = 0.0, count: int = 0, pain: bool = False, note: str = "",
            allowed: bool = False, today: date | None = None) -> Practised:  # fmt: skip
        """Write down what was practised. Raises PracticeError for a day to come, or less than nothing."""
        entry = Practised(student_id, day, what, minutes, count, pain, note, allowed)
        self._check(entry, today or date.today())
        book = self._store.practice
        kept = book.log(entry)
        self._undo.did("practice written down", lambda: book.unlog(kept.id), lambda: book.log(kept))
        return kept

    def _check(self, entry: Practised, today: date) -> None:
        """Refuse what cannot have been practised. Raises PracticeError."""
        if entry.day > today:
            raise PracticeError(f"{entry.day:%d %B %Y} is still to come.", "Write down what has been practised.")
        since = self._store.student(entry.student_id).since
        if entry.day < since:
            raise PracticeError(f"{entry.day:%d %B %Y} is before this student began ({since:%d %B %Y}).", "Choose a later day.")
        if not entry.pain and not entry.allowed and entry.what in self.record(entry.student_id, entry.day).paused:
            raise PracticeError("This is paused for pain.", "Allow it again first, once the teacher is sure that it no longer hurts.")
        if entry.minutes < 0 or entry.count < 0 or entry.minutes > 24 * 60:
            said = f"{entry.minutes:g} minutes and a count of {entry.count} cannot be."
            raise PracticeError(said, "Minutes from 0 to 1440, counts from 0.")

    def log_week(self, student_id: int, ticks: Sequence[tuple[date, Slot]], *, today: date | None = None) -> list[Practised]:
        """Write down a whole week from paper at once, one step of undo: ``ticks`` the day and item of the plan that was done.

        What stands in the log for the same day and item already is left as it is. Raises PracticeError; nothing is written then.
        """
        there = {(e.day, e.what) for e in self.entries(student_id)}
        new = [
            Practised(student_id, day, s.drill or s.words, s.minutes, s.count) for day, s in ticks if (day, s.drill or s.words) not in there
        ]
        for entry in new:
            self._check(entry, today or date.today())
        book = self._store.practice
        kept = [book.log(entry) for entry in new]
        if kept:

            def take_back() -> None:
                for e in kept:
                    book.unlog(e.id)

            self._undo.did("practice written down", take_back, lambda: [book.log(e) for e in kept])
        return kept

    def allow_again(self, student_id: int, what: str, *, today: date | None = None) -> Practised:
        """The teacher's word after pain: from now on it may be practised again. Nothing else lifts the pause."""
        return self.log(student_id, today or date.today(), what, allowed=True, today=today)

    def forget(self, entry: Practised) -> None:
        """Take an entry of the log back."""
        book = self._store.practice
        book.unlog(entry.id)
        self._undo.did("entry removed", lambda: book.log(entry), lambda: book.unlog(entry.id))

    def entries(self, student_id: int) -> list[Practised]:
        """The log of a student, newest day first."""
        return self._store.practice.practised(student_id)


def followed(measured: Sequence[tuple[Take, StoredAnalysis, InstrumentSpec]], profile: Profile) -> list[Course]:
    """Figures over the measured takes of a student, like against like."""
    rows = [
        (t.id, t.played_on, task_of(a.strokes), figures(a.series, a.strokes, spec, profile, body=a.body, tone=a.tone))
        for t, a, spec in measured
    ]
    return courses(rows)


# open formats


def plan_to_dict(plan: PracticePlan) -> dict[str, Any]:
    """Plain JSON data of a plan."""
    return dict(to_plain(plan))


def plan_from_dict(data: dict[str, Any]) -> PracticePlan:
    """Inverse of ``plan_to_dict``. Raises PracticeError for what is damaged or names an unknown drill."""
    try:
        # earlier versions called what was left out by another name
        plan = from_plain(PracticePlan, data if "left_out" in data else data | {"left_out": data["gave_way"]})
    except UNREADABLE as error:
        raise PracticeError("The plan is damaged.", "Make a new one.") from error
    unknown = {s.drill for d in plan.days for s in d.slots if s.drill} - set(drills())
    if unknown:
        raise PracticeError(f"The plan names an unknown drill: {sorted(unknown)[0]}.", f"Drills: {', '.join(drills())}.")
    return plan


def plan_to_calendar(plan: PracticePlan, student: Student, words: Language | None = None, *, made: datetime | None = None) -> bytes:
    """The plan as iCalendar (RFC 5545): one entry a day with what to practise. ``made``: when the calendar is written, None = now."""
    import icalendar  # only for those who want a calendar

    words, stamp = words or language("en"), (made or datetime.now(UTC)).astimezone(UTC)
    calendar = icalendar.Calendar()
    calendar.add("prodid", "-//Dolcezza//practice plan//EN")
    calendar.add("version", "2.0")
    for day in plan.days:
        event = icalendar.Event()
        begin = datetime(day.day.year, day.day.month, day.day.day, FIRST_HOUR)
        event.add("uid", f"{day.day.isoformat()}-{student.id}@dolcezza.invalid")
        event.add("dtstamp", stamp)
        event.add("dtstart", begin)
        event.add("dtend", begin + timedelta(minutes=max(1, round(day.minutes))))
        event.add("summary", words.sentence(Message("calendar", {"name": student.name})))
        event.add("description", "\n".join(slot_words(s, words) for s in day.slots))
        calendar.add_component(event)
    return bytes(calendar.to_ical())
