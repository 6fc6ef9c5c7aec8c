"""Who is next, what was agreed with them, what has changed since: read from the studio, nothing is computed twice for the list."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from types import MappingProxyType

from dolcezza.core.base.errors import PracticeError
from dolcezza.core.base.message import NOTHING, Message
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.practice.arm_course import SMOOTHNESS
from dolcezza.core.practice.lessons import WeeklyLesson, in_words, read_time
from dolcezza.core.practice.progress import Change, Course
from dolcezza.services.keeping import YEAR_DAYS
from dolcezza.services.practice import followed, prescriptions
from dolcezza.services.studio import Studio
from dolcezza.storage.records import StoredAnalysis, Student, Take, TakeStatus

MONTH_DAYS = 30
MOST_TAKES = 4
"""So many of the newest measured takes are compared for what has changed."""


@dataclass(frozen=True)
class Waiting:
    """One student of the list: the next lesson (None = none is noted) and its words, instrument, takes newest first."""

    student: Student
    lesson: datetime | None
    when: Message
    instrument: str
    takes: tuple[TakeStatus, ...]

    @property
    def to_do(self) -> Message:
        """What is to be done for the lesson: the newest take not measured, or not looked at."""
        if not self.takes:
            return Message("to do.no video")
        newest = self.takes[0]
        if newest.analysed:
            return Message("to do.last", {"day": newest.take.played_on})
        return Message("to do.analyse" if newest.marked else "to do.calibrate")


@dataclass(frozen=True)
class Brief:
    """One student in three answers; each some sentences, () for nothing to say. ``practised`` is about the newest plan."""

    agreed: tuple[Message, ...] = ()
    practised: tuple[Message, ...] = ()
    changed: tuple[Message, ...] = ()


def lesson_of(student: Student) -> WeeklyLesson | None:
    """The weekly lesson of a student, None where none is noted."""
    try:
        return WeeklyLesson(student.lesson_day, read_time(student.lesson_time)) if student.lesson_day >= 0 else None
    except PracticeError:
        return None


def waiting(studio: Studio, now: datetime) -> list[Waiting]:
    """All students: the next lesson first, those without a lesson last, by name."""
    out = []
    takes, instruments = studio.store.all_takes(), studio.store.all_instruments()
    for student in studio.students():
        lesson = lesson_of(student)
        begin = lesson.next(now) if lesson is not None else None
        words = in_words(begin, now) if begin is not None else NOTHING
        out.append(Waiting(student, begin, words, instruments.get(student.id, ""), tuple(takes.get(student.id, ()))))
    return sorted(out, key=lambda w: (w.lesson is None, w.lesson or now, w.student.name.casefold()))


def shown(
    students: Sequence[Waiting], words: str, which: str, now: datetime, until: Mapping[int, date] = MappingProxyType({})
) -> list[Waiting]:  # fmt: skip
    """Those whose name, instrument or note has all of the ``words``, and of these: "all", "soon" (a lesson today or tomorrow), "away" (no
    video of the last month), "year" (none for a year), "until" (kept longer than agreed, by ``until``: the agreed day by student)."""
    parts = words.casefold().split()
    found = [w for w in students if all(p in f"{w.student.name} {w.instrument} {w.student.note}".casefold() for p in parts)]
    if which == "soon":
        return [w for w in found if w.lesson is not None and (w.lesson.date() - now.date()).days <= 1]
    if which == "year":
        far = now.date() - timedelta(days=YEAR_DAYS)
        return [w for w in found if (w.takes[0].take.played_on if w.takes else w.student.since) < far]
    if which == "until":
        return [w for w in found if w.student.id in until and until[w.student.id] < now.date()]
    if which == "away":
        return [w for w in found if not w.takes or (now.date() - w.takes[0].take.played_on).days > MONTH_DAYS]
    return found


def brief(studio: Studio, student: Student, today: date) -> Brief:
    """What was agreed with a student, whether it was practised, and what has changed since."""
    takes = [s for s in studio.takes(student.id) if s.analysed][:MOST_TAKES]
    measured = [(s.take, found) for s in takes if (found := studio.analysis(s.take)) is not None]
    said: list[Message] = []
    for take, found in measured:
        accepted = [p for p in prescriptions(found.findings) if p.accepted]
        if accepted:
            says = Message("correction", {"key": accepted[0].correction.key})
            said.append(Message("agreed.correction", {"says": says, "day": take.played_on}))
            break
    plans = studio.practice.plans(student.id)
    plan = plans[0].plan if plans and plans[0].plan.days else None
    if plan is not None:
        work = list(dict.fromkeys(slot.drill or slot.words for day in plan.days for slot in day.slots))
        names = tuple(Message("practice", {"what": w}) for w in work[:3])
        said.append(Message("agreed.plan", {"names": names, "minutes": plan.minutes_a_day, "day": plan.days[-1].day}))
    since = plan.days[0].day if plan is not None else None
    return Brief(tuple(said), _practised(studio, student, since, today), _changed(studio, measured))


def _practised(studio: Studio, student: Student, since: date | None, today: date) -> tuple[Message, ...]:
    paused = tuple(Message("practice", {"what": p}) for p in studio.practice.record(student.id, today).paused)
    pain = (Message("practised.pain", {"names": paused}),) if paused else ()
    if since is None:
        return pain
    entries = [e for e in studio.practice.entries(student.id) if since <= e.day <= today and (e.minutes or e.count)]
    values = {"n": len({e.day for e in entries}), "of": (today - since).days + 1, "minutes": sum(e.minutes for e in entries)}
    return (Message("practised.days", values), *pain)


def _step(course: Course) -> Message:
    """What has changed, from and to; only its name where the figure is a logarithm that says nothing to a teacher."""
    name = Message(f"course.{course.name}")
    if course.name == SMOOTHNESS:
        return name
    before, after = (p.value for p in course.points[-2:])
    values = {"name": name, "before": before, "after": after, "unit": course.unit}
    return Message("changed.step" if course.unit else "changed.fine step", values)


def _changed(studio: Studio, measured: list[tuple[Take, StoredAnalysis]]) -> tuple[Message, ...]:
    if len(measured) < 2:
        return ()
    rows = [(take, found, instrument(studio.store.instrument(take.instrument_id).name)) for take, found in measured]
    newest = rows[0][0]
    courses = followed(rows[::-1], studio.profile_of(newest, studio.fit(newest)))
    moved = [c for c in courses if c.latest in (Change.BETTER, Change.WORSE)]
    if not moved:
        return (Message("changed.nothing"),) if any(len(c.points) > 1 for c in courses) else ()
    out = []
    for change in (Change.BETTER, Change.WORSE):
        some = [c for c in moved if c.latest is change]
        steps = tuple(_step(c) for c in some[:2])
        if some:
            more = f"changed.{change}.more" if len(some) > 2 else f"changed.{change}"
            out.append(Message(more, {"steps": steps, "n": len(some) - 2}))
    return tuple(out)
