"""What was played against what was asked, stroke by stroke: the cheapest way to turn one into the other.

Dynamic programming over asked and played strokes: a stroke can be missed, extra, or split in two by a change too many. A false
start and an early stop are cheap, a stroke in the wrong place is dearer than one that is a little short.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from dolcezza.core.assignment.exercise import AskedStroke, Exercise
from dolcezza.core.strokes.figures import Stroke

STRING_COST, DIRECTION_COST = 1.0, 1.4
PLACE_SCALE, MOST_PLACE_COST = 0.25, 1.2
"""An end of a stroke that is so far (share of the bow) from where it should be costs half a unit; it costs no more than that."""
MISSED_COST, EXTRA_COST, SPLIT_COST = 1.3, 1.2, 0.7
FALSE_START_COST, NOT_REACHED_COST = 1.0, 0.25
"""What a stroke costs that is played before the exercise begins, and one that was not reached any more."""
FALSE_START_STROKES = 2
"""A false start is short; more strokes than this before the exercise are extra ones."""
STOPPED_COST = 0.5
"""What stopping early adds to the cost a stroke, for the share of the exercise that was not reached."""
SHORT_SHARE, LONG_SHARE = 0.75, 1.3
"""A stroke is short below, and long above, so much of the bow that was asked."""
GOES_ON = 0.12
"""A stroke goes on where the one before ended when it begins within this share of the bow."""
PLACE_OFF = 0.15
"""A stroke lies in the wrong part when its middle is so far (share of the bow) off, and its length is right."""
SURE_MARGIN = 0.15
"""By how much an exercise must fit better than the next (cost a stroke) to be recognised for certain."""
MOST_ELSEWHERE = 0.25
"""Nor is one for certain that has more of the strokes (share) on other strings, or the other way."""
MOST_COST = 0.8
"""An exercise that costs more a stroke is not what was played."""


@dataclass(frozen=True)
class Pair:
    """One asked stroke (``asked`` its place in the exercise, None = extra) and the numbers of the strokes played for it (none =
    missed). ``faults``: missed, not reached, extra, false start, wrong string, wrong direction, wrong part, too short, too long, split."""

    asked: int | None
    played: tuple[int, ...]
    faults: tuple[str, ...]


@dataclass(frozen=True)
class Match:
    """All pairs in order; ``cost`` a stroke that was reached or played, and a little for what was not reached: 0 = as asked."""

    exercise: Exercise
    pairs: tuple[Pair, ...]
    cost: float

    def count(self, fault: str) -> int:
        """How many pairs show a fault."""
        return sum(fault in p.faults for p in self.pairs)

    @property
    def as_asked(self) -> int:
        """How many strokes were played as asked."""
        return sum(p.asked is not None and bool(p.played) and not p.faults for p in self.pairs)


@dataclass(frozen=True)
class Recognised:
    """The exercise that fits best; ``sure``: it does so clearly. ``others``: names and costs of the next ones."""

    match: Match
    sure: bool
    others: tuple[tuple[str, float], ...]


@dataclass(frozen=True)
class _Played:
    number: tuple[int, ...]
    string: str
    down: bool
    start: float
    end: float


def match(exercise: Exercise, strokes: Sequence[Stroke]) -> Match:
    """Lay the strokes of a take against an exercise."""
    asked, played = exercise.strokes, [_Played((s.number,), s.string, s.down, s.from_position, s.to_position) for s in strokes]
    n, m = len(asked), len(played)
    cost = np.full((n + 1, m + 1), np.inf)
    step = np.zeros((n + 1, m + 1), int)
    early = np.minimum(np.arange(m + 1), FALSE_START_STROKES)
    cost[0, :] = FALSE_START_COST * early + EXTRA_COST * (np.arange(m + 1) - early)
    step[0, 1:] = 2
    for i in range(1, n + 1):
        cost[i, 0], step[i, 0] = cost[i - 1, 0] + MISSED_COST, 1
        for j in range(1, m + 1):
            ways = [
                cost[i - 1, j - 1] + _cost(asked[i - 1], played[j - 1]),
                cost[i - 1, j] + (NOT_REACHED_COST if j == m else MISSED_COST),
                cost[i, j - 1] + EXTRA_COST,
                np.inf,
            ]
            if j >= 2 and (both := _together(played[j - 2], played[j - 1])) is not None:
                ways[3] = cost[i - 1, j - 2] + SPLIT_COST + _cost(asked[i - 1], both)
            k = int(np.argmin(ways))
            cost[i, j], step[i, j] = ways[k], k
    pairs: list[Pair] = []
    i, j = n, m
    reached = False
    while i or j:
        way = int(step[i, j])
        if i and j and way == 0:
            pairs.append(Pair(i - 1, played[j - 1].number, _faults(asked[i - 1], played[j - 1])))
            i, j, reached = i - 1, j - 1, True
        elif i and j and way == 3:
            both = _together(played[j - 2], played[j - 1])
            assert both is not None
            pairs.append(Pair(i - 1, both.number, ("split", *_faults(asked[i - 1], both))))
            i, j, reached = i - 1, j - 2, True
        elif i and (way == 1 or not j):
            pairs.append(Pair(i - 1, (), ("not reached" if not reached and j == m else "missed",)))
            i -= 1
        else:
            pairs.append(Pair(None, played[j - 1].number, ("false start" if i == 0 and j <= FALSE_START_STROKES else "extra",)))
            j, reached = j - 1, True
    late = sum("not reached" in p.faults for p in pairs)
    own = float(cost[n, m]) - NOT_REACHED_COST * late
    return Match(exercise, tuple(reversed(pairs)), own / max(1, n - late, m) + STOPPED_COST * late / max(1, n))


def _together(a: _Played, b: _Played) -> _Played | None:
    """Two strokes in one direction on one string, the second going on where the first ended, as the one they should have been."""
    if a.string != b.string or a.down != b.down or abs(b.start - a.end) > GOES_ON:
        return None
    return _Played((*a.number, *b.number), a.string, a.down, a.start, b.end)


def _cost(asked: AskedStroke, played: _Played) -> float:
    ends = [abs(played.start - asked.from_position), abs(played.end - asked.to_position)]
    if played.down != asked.down:
        ends = [abs(played.start - asked.to_position), abs(played.end - asked.from_position)]
    place = min(MOST_PLACE_COST, 0.5 * sum(e / PLACE_SCALE for e in ends) * 0.5)
    return place + STRING_COST * (played.string != asked.string) + DIRECTION_COST * (played.down != asked.down)


def _faults(asked: AskedStroke, played: _Played) -> tuple[str, ...]:
    out = []
    if played.string != asked.string:
        out.append("wrong string")
    if played.down != asked.down:
        out.append("wrong direction")
    share = abs(played.end - played.start)
    if share < SHORT_SHARE * asked.share:
        out.append("too short")
    elif share > LONG_SHARE * asked.share:
        out.append("too long")
    elif abs(0.5 * (played.start + played.end) - 0.5 * (asked.low + asked.high)) > PLACE_OFF:
        out.append("wrong part")
    return tuple(out)


def recognise(exercises: Sequence[Exercise], strokes: Sequence[Stroke]) -> Recognised | None:
    """Which of some exercises was played; None where none fits."""
    found = sorted((match(e, strokes) for e in exercises), key=lambda r: r.cost)
    if not found or not strokes or found[0].cost > MOST_COST:
        return None
    margin = found[1].cost - found[0].cost if len(found) > 1 else np.inf
    elsewhere = sum("wrong string" in p.faults or "wrong direction" in p.faults for p in found[0].pairs)
    sure = margin > SURE_MARGIN and elsewhere <= MOST_ELSEWHERE * len(strokes)
    return Recognised(found[0], bool(sure), tuple((r.exercise.name, r.cost) for r in found[1:4]))
