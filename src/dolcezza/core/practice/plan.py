"""A practice plan from a lesson to the next: drills, exercises and pieces fitted into each day's minutes.

What does not fit is left out, the least important first, and the plan says so. Hard drills are followed by a rest. The load grows by a
step at most over what was really done before. Pain pauses a drill, and never raises a dose.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

from dolcezza.core.base.errors import PracticeError
from dolcezza.core.base.message import Message
from dolcezza.core.practice.drills import Drill, drill
from dolcezza.core.practice.fitted import Person, fitted

REST_MIN = 1.0
"""Rest after a hard drill."""
STEP_SHARE, STEP_MIN = 0.25, 5.0
"""A week's daily minutes grow by a quarter, or by five minutes if that is more (common practice, no source: small steps)."""
SHORTEST_MIN = 1.0
PORTION_MIN = 15.0
"""Longer practice is spread over the day in portions of at most so long (common practice, no source: half an hour of basics in parts)."""
LONGEST_DAYS = 42
SETTINGS_TO_UNLOCK, SETTINGS_A_DAY = 100, 10
"""A hundred settings of the hand, ten a day, before the next stage (common practice, no source)."""
LADDER_STEP_CM, LADDER_S = 1.5, 30.0
"""Nearer to the frog by one to two centimetres every half minute (common practice, no source)."""


@dataclass(frozen=True)
class Task:
    """Something to practise: a ``drill`` by key, or free words (``drill`` ""), ``minutes`` a day; ``first`` ones are left out last."""

    words: str
    minutes: float
    drill: str = ""
    first: bool = False


@dataclass(frozen=True)
class Slot:
    """One item of a day: words, minutes, what to count, a rest after it (min); ``portion`` of the day it belongs to, 1 = the first."""

    words: str
    minutes: float
    drill: str = ""
    count: int = 0
    unit: str = ""
    rest: float = 0.0
    portion: int = 1


@dataclass(frozen=True)
class Day:
    """One day of a plan."""

    day: date
    slots: tuple[Slot, ...]

    @property
    def minutes(self) -> float:
        """Practice and rests together."""
        return sum(s.minutes + s.rest for s in self.slots)

    @property
    def portions(self) -> list[tuple[Slot, ...]]:
        """The items in portions that are practised at different times of the day."""
        return [tuple(s for s in self.slots if s.portion == k) for k in sorted({s.portion for s in self.slots})]


@dataclass(frozen=True)
class PracticePlan:
    """Days in order. ``left_out``: what did not fit, or not whole; ``paused``: drills (keys) or other work paused for pain;
    ``minutes_a_day`` it keeps to; ``notes`` on it."""

    days: tuple[Day, ...]
    minutes_a_day: float
    left_out: tuple[Message, ...] = ()
    paused: tuple[str, ...] = ()
    notes: tuple[Message, ...] = ()


def most_minutes(wanted: float, done_before: float | None) -> float:
    """Minutes a day that a plan may ask: what is wanted, but not more than a step over what was really done a day before.

    ``done_before`` None = nothing is known. Raises PracticeError for no time at all.
    """
    if wanted < SHORTEST_MIN:
        raise PracticeError(f"A plan of {wanted:g} minutes a day has no room for anything.", "Give it at least one minute a day.")
    if done_before is None or done_before <= 0:
        return wanted
    return min(wanted, max(done_before * (1 + STEP_SHARE), done_before + STEP_MIN))


def make_plan(
    tasks: Sequence[Task], *, first_day: date, next_lesson: date, today: date, minutes_a_day: float, done_before: float | None = None,
    pain: Sequence[str] = (), free_days: Sequence[int] = (), person: Person | None = None,
) -> PracticePlan:  # fmt: skip
    """Fit tasks into the days from ``first_day`` up to the one before ``next_lesson``.

    ``tasks`` the most important first; ``pain``: keys of drills, or words of other tasks, in which pain was said;
    ``free_days`` of the week (0 = Monday); ``person``: whose doses, and what is not for them.
    Raises PracticeError for dates that cannot be, an unknown drill or no time.
    """
    if first_day < today:
        raise PracticeError(f"The plan would begin on {first_day:%d %B %Y}, which is over.", "Begin today or later.")
    count = (next_lesson - first_day).days
    if count < 1 or count > LONGEST_DAYS:
        raise PracticeError(
            f"From {first_day:%d %B} to {next_lesson:%d %B} are {count} days.", f"A plan runs from 1 to {LONGEST_DAYS} days."
        )
    tasks, known, not_now, notes = _for_person(tasks, person or Person())
    room = most_minutes(minutes_a_day, done_before)
    if room < minutes_a_day:
        notes.append(Message("plan.step", {"room": room, "wanted": minutes_a_day, "before": done_before}))
    paused = tuple(t.drill or t.words for t in tasks if (t.drill or t.words) in pain)
    kept = [(t, d) for t, d in zip(tasks, known, strict=True) if (t.drill or t.words) not in pain]
    chosen, left_out = _fit(kept, room)
    left_out = [*not_now, *left_out]
    days = []
    for k in range(count):
        day = first_day + timedelta(days=k)
        if day.weekday() in free_days:
            continue
        days.append(Day(day, tuple(_slots(chosen))))
    if paused:
        notes.append(Message("plan.paused"))
    return PracticePlan(tuple(days), room, tuple(left_out), paused, tuple(notes))


def _for_person(
    tasks: Sequence[Task], person: Person
) -> tuple[list[Task], list[Drill | None], list[Message], list[Message]]:  # fmt: skip
    """Tasks with their drills as this person does them; what is not for them now, and what is to be said of the rest."""
    own: list[Task] = []
    known: list[Drill | None] = []
    not_now, notes = [], []
    for task in tasks:
        if not task.drill:
            own.append(task)
            known.append(None)
            continue
        usual = drill(task.drill)
        made, said = fitted(usual, person)
        if made is None:
            assert said is not None
            not_now.append(said)
            continue
        if said is not None:
            notes.append(said)
        own.append(replace(task, minutes=task.minutes * made.minutes / usual.minutes))
        known.append(made)
    return own, known, not_now, notes


def _need(task: Task, known: Drill | None) -> float:
    return task.minutes + (REST_MIN if known is not None and known.hard else 0.0)


def _fit(kept: Sequence[tuple[Task, Drill | None]], room: float) -> tuple[list[tuple[Task, Drill | None]], list[Message]]:
    """Take the most important ones that fit; the rest is left out. A task may be shortened to half before it is left out."""
    order = sorted(range(len(kept)), key=lambda k: (not kept[k][0].first, k))
    chosen: dict[int, tuple[Task, Drill | None]] = {}
    left_out: list[Message] = []
    left = room
    for k in order:
        task, known = kept[k]
        need = _need(task, known)
        half = Task(task.words, max(SHORTEST_MIN, 0.5 * task.minutes), task.drill, task.first)
        if need <= left + 1e-9:
            chosen[k] = kept[k]
            left -= need
        elif _need(half, known) <= left + 1e-9:
            chosen[k] = (half, known)
            left -= _need(half, known)
            values = {"task": task.drill or task.words, "minutes": half.minutes, "wanted": task.minutes}
            left_out.append(Message("plan.shorter", values))
        else:
            left_out.append(Message("plan.no room", {"task": task.drill or task.words}))
    return [chosen[k] for k in sorted(chosen)], left_out


def _slots(chosen: Sequence[tuple[Task, Drill | None]]) -> list[Slot]:
    """Slots of a day; a hard drill is never next to another one where an easy one can stand between."""
    hard = [c for c in chosen if c[1] is not None and c[1].hard]
    easy = [c for c in chosen if not (c[1] is not None and c[1].hard)]
    mixed: list[tuple[Task, Drill | None]] = []
    while hard or easy:
        if easy:
            mixed.append(easy.pop(0))
        if hard:
            mixed.append(hard.pop(0))
    out = []
    for task, known in mixed:
        count = 0 if known is None else max(1, round(known.count * min(1.0, task.minutes / known.minutes)))
        rest = REST_MIN if known is not None and known.hard else 0.0
        out.append(Slot(task.words, task.minutes, task.drill, count, known.unit if known is not None else "", rest))
    return _in_portions(out)


def _in_portions(slots: Sequence[Slot]) -> list[Slot]:
    """The items of a day spread over portions of about the same length, none longer than ``PORTION_MIN`` unless one item is."""
    whole = sum(s.minutes + s.rest for s in slots)
    count = max(1, math.ceil(whole / PORTION_MIN - 1e-9))
    out, portion, filled = [], 1, 0.0
    for s in slots:
        length = s.minutes + s.rest
        too_long = filled + length > PORTION_MIN + 1e-9
        far_enough = filled > 0 and filled + 0.5 * length > whole / count and portion < count
        if filled > 0 and (too_long or far_enough):
            portion, filled = portion + 1, 0.0
        out.append(replace(s, portion=portion))
        filled += length
    return out


def unlock_day(done: int, from_day: date, *, a_day: int = SETTINGS_A_DAY) -> date:
    """The day on which the hundredth setting falls, when so many are ``done`` before ``from_day``."""
    left = max(0, SETTINGS_TO_UNLOCK - done)
    return from_day + timedelta(days=max(0, -(-left // max(1, a_day)) - 1))


def ladder(balance_cm: float, frog_cm: float = 0.0, *, step_cm: float = LADDER_STEP_CM) -> list[tuple[float, float]]:
    """Places (cm from the frog) and seconds from the balance point to the frog. Raises PracticeError."""
    if not 0.5 <= step_cm <= 5.0 or balance_cm <= frog_cm:
        raise PracticeError("This ladder cannot be climbed.", "The balance point lies in front of the frog; a step is 0.5 to 5 cm.")
    places = []
    at = balance_cm
    while at > frog_cm + 1e-9:
        places.append(round(at, 2))
        at -= step_cm
    return [(p, LADDER_S) for p in [*places, frog_cm]]


def strokes_minutes(per_string: int, strings: int, beats: float, tempo: float) -> float:
    """Minutes that so many strokes on each string take."""
    return per_string * strings * beats / tempo


def streak(days: Sequence[date], today: date) -> int:
    """How many days in a row up to today or yesterday something was practised."""
    done = set(days)
    at = today if today in done else today - timedelta(days=1)
    count = 0
    while at in done:
        count, at = count + 1, at - timedelta(days=1)
    return count
