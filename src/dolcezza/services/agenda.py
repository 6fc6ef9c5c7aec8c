"""Who is next, what was agreed with them, what has changed since: read from the studio, nothing is computed twice for the list."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime

from dolcezza.core.base.errors import PracticeError
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.practice.lessons import WeeklyLesson, in_words, read_time
from dolcezza.core.practice.progress import Change
from dolcezza.services.practice import followed, prescriptions
from dolcezza.services.studio import Studio
from dolcezza.storage.records import Student, TakeStatus

MOST_TAKES = 4
"""So many of the newest measured takes are compared for what has changed."""


@dataclass(frozen=True)
class Waiting:
    """One student of the list: the next lesson (None = none is noted) and its words, instrument, takes newest first."""

    student: Student
    lesson: datetime | None
    when: str
    instrument: str
    takes: tuple[TakeStatus, ...]

    @property
    def to_do(self) -> str:
        """What is to be done for the lesson: the newest take not measured, or not looked at."""
        if not self.takes:
            return "no take yet"
        newest = self.takes[0]
        if newest.analysed:
            return f"last take {newest.take.played_on:%d %b %Y}"
        return "newest video calibrated, not analysed" if newest.marked else "newest video not calibrated"


@dataclass(frozen=True)
class Brief:
    """One student in three answers; each is a sentence or "" for nothing to say. ``practised`` is about the newest plan."""

    agreed: str
    practised: str
    changed: str


def lesson_of(student: Student) -> WeeklyLesson | None:
    """The weekly lesson of a student, None where none is noted."""
    try:
        return WeeklyLesson(student.lesson_day, read_time(student.lesson_time)) if student.lesson_day >= 0 else None
    except PracticeError:
        return None


def waiting(studio: Studio, now: datetime) -> list[Waiting]:
    """All students: the next lesson first, those without a lesson last, by name."""
    out = []
    for student in studio.students():
        lesson = lesson_of(student)
        begin = lesson.next(now) if lesson is not None else None
        owned = studio.store.instruments(student.id)
        words = in_words(begin, now) if begin is not None else ""
        out.append(Waiting(student, begin, words, owned[-1].name if owned else "", tuple(studio.takes(student.id))))
    return sorted(out, key=lambda w: (w.lesson is None, w.lesson or now, w.student.name.casefold()))


def brief(studio: Studio, student: Student, today: date) -> Brief:
    """What was agreed with a student, whether it was practised, and what has changed since."""
    takes = [s for s in studio.takes(student.id) if s.analysed][:MOST_TAKES]
    measured = [(s.take, found) for s in takes if (found := studio.analysis(s.take)) is not None]
    said = ""
    for take, found in measured:
        accepted = [p for p in prescriptions(found.findings) if p.accepted]
        if accepted:
            said = f"{accepted[0].correction.says.rstrip('.')} (take of {take.played_on:%d %B}). "
            break
    plans = studio.practice.plans(student.id)
    plan = plans[0].plan if plans and plans[0].plan.days else None
    if plan is not None:
        drills = list(dict.fromkeys(slot.words for day in plan.days for slot in day.slots))
        plan_words = f"{', '.join(drills[:3])}, {plan.minutes_a_day:g} minutes a day until {plan.days[-1].day:%d %B}."
        said += plan_words
    return Brief(
        said.strip(), _practised(studio, student, plan.days[0].day if plan is not None else None, today), _changed(studio, measured)
    )


def _practised(studio: Studio, student: Student, since: date | None, today: date) -> str:
    paused = studio.practice.record(student.id, today).paused
    pain = f" It hurt: {', '.join(paused)} paused until you allow it again." if paused else ""
    if since is None:
        return pain.strip()
    entries = [e for e in studio.practice.entries(student.id) if since <= e.day <= today and (e.minutes or e.count)]
    days = len({e.day for e in entries})
    of = (today - since).days + 1
    return f"Practised on {days} of {of} days since the plan began, {sum(e.minutes for e in entries):g} minutes.{pain}"


def _changed(studio: Studio, measured: list) -> str:
    if len(measured) < 2:
        return ""
    rows = [(take, found, instrument(studio.store.instrument(take.instrument_id).name)) for take, found in measured]
    newest = rows[0][0]
    courses = followed(rows[::-1], studio.profile_of(newest, studio.fit(newest)))
    moved = [c for c in courses if c.latest in (Change.BETTER, Change.WORSE)]
    if not moved:
        return "Nothing that goes beyond the ± since the take before." if any(len(c.points) > 1 for c in courses) else ""

    def words(name: Change) -> str:
        some = []
        for c in (c for c in moved if c.latest is name):
            d = 1 if c.unit else 2
            some.append(f"{c.name.lower()} {c.points[-2].value:.{d}f} → {c.points[-1].value:.{d}f}{c.unit}")
        more = f" and {len(some) - 2} more" if len(some) > 2 else ""
        return f"{name.capitalize()}: {', '.join(some[:2])}{more}." if some else ""

    return " ".join(w for w in (words(Change.BETTER), words(Change.WORSE)) if w).replace("-", "−")
