"""The bow divided for a rhythm: how much each note gets, where it ends, and where the bow would run out.

A bow that keeps one speed gives each note a share by its length (and how loud it is). Where down- and up-bows do not use the
same, the place on the bow drifts; ``ways`` works out what repairs it and sets the ways side by side.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Any

import numpy as np
import scipy

from dolcezza.core.assignment.exercise import Exercise, Item, Line
from dolcezza.core.assignment.rhythm import Bow, Rhythm
from dolcezza.core.base.arrays import Array
from dolcezza.core.base.message import NOTHING, Message

FASTEST_CM_S, SLOWEST_CM_S = 110.0, 3.0
"""Bows quicker than this whistle or skate, slower ones hardly speak (common practice, no source; the teacher decides)."""
USUAL_CM_S = 65.0
"""Nobody plans more speed than this where less bow will do."""
RETAKE_S = 0.25
"""Time that lifting the bow and setting it again takes from the note before."""
OUT = 0.005
"""So much past the end of the usable bow (share) is past it."""
UNEVEN = 1.3
"""A bow this much faster or slower than the rest of the plan is felt and heard, and wants other weight."""


@dataclass(frozen=True)
class PlannedBow:
    """One bow of a plan. Places 0..1; ``places``: where each of its notes ends; ``speed_cm_s`` over its whole length; ``pace``: its
    speed against what its loudness asks at the plan's usual speed, 1 = the same."""

    number: int
    down: bool
    start: float
    places: tuple[float, ...]
    start_s: float
    seconds: float
    speed_cm_s: float
    pace: float
    beats: float
    notes: int
    retake: bool = False
    hooked: bool = False

    @property
    def end(self) -> float:
        """Where it ends."""
        return self.places[-1]

    @property
    def share(self) -> float:
        """Share of the bow that it uses."""
        return abs(self.end - self.start)


@dataclass(frozen=True)
class Plan:
    """A division of the bow. ``drift``: share of the bow by which one pattern moves the start of the next (two patterns where their
    number of bows is odd); ``cost``: 0 = nothing to mind, for setting ways side by side."""

    way: str
    rhythm: Rhythm
    bows: tuple[PlannedBow, ...]
    drift: float
    warnings: tuple[Message, ...]
    advice: Message
    cost: float

    @property
    def fits(self) -> bool:
        """Whether the bow is never past its usable part."""
        low, high = self.rhythm.low - OUT, self.rhythm.high + OUT
        return all(low <= p <= high for b in self.bows for p in (b.start, *b.places))

    @property
    def unevenness(self) -> float:
        """The fastest bow's pace against the slowest's, 1 = even."""
        paces = [b.pace for b in self.bows]
        return max(paces) / min(paces)


def _directions(rhythm: Rhythm, bows: list[Bow]) -> list[bool]:
    """Down or up for every bow: in turns, and again as at the start after a retake."""
    out: list[bool] = []
    for bow in bows:
        out.append((not rhythm.from_tip) if not out or bow.retake else not out[-1])
    return out


def _natural(rhythm: Rhythm, bows: list[Bow], hair_mm: float) -> Array:
    """Share of the bow of each bow at one speed: the longest takes all that may be used, unless that is too fast."""
    usable = rhythm.high - rhythm.low
    needs = np.array([b.need for b in bows])
    fastest = USUAL_CM_S * 10.0 * rhythm.beat_s / hair_mm
    unit = min(usable / float(needs.max()), fastest)
    return np.array([b.share if b.share is not None else unit * n for b, n in zip(bows, needs, strict=True)])


def _laid(rhythm: Rhythm, bows: list[Bow], shares: Array, start: float) -> list[tuple[bool, float, float]]:
    """Direction, start and end of each bow."""
    out, place = [], start
    for bow, down, share in zip(bows, _directions(rhythm, bows), shares, strict=True):
        if bow.retake:
            place = start
        end = place + (share if down else -share)
        out.append((down, place, end))
        place = end
    return out


def _plan(way: str, rhythm: Rhythm, bows: list[Bow], shares: Array, hair_mm: float, advice: Message, *, start: float, extra: float) -> Plan:
    laid = _laid(rhythm, bows, shares, start)
    pace = shares / np.array([b.need for b in bows])
    pace = pace / float(np.median(pace))
    planned, clock = [], 0.0
    for k, (bow, (down, begin, end)) in enumerate(zip(bows, laid, strict=True)):
        clock += bow.rest * rhythm.beat_s
        seconds = bow.beats * rhythm.beat_s
        lifted = k + 1 < len(bows) and bows[k + 1].retake
        sounding = max(seconds - (RETAKE_S if lifted and bows[k + 1].rest == 0 else 0.0), 0.05)
        done = np.cumsum([n.beats * n.weight for n in bow.notes]) / bow.need
        places = tuple(float(begin + (end - begin) * d) for d in done)
        speed = float(shares[k]) * hair_mm / 10.0 / sounding
        planned.append(
            PlannedBow(k + 1, down, begin, places, clock, seconds, speed, float(pace[k]), bow.beats, len(bow.notes), bow.retake, bow.hooked)
        )
        clock += seconds
    drift = _drift(rhythm, bows, laid)
    warnings = _warnings(rhythm, planned)
    return Plan(way, rhythm, tuple(planned), drift, tuple(warnings), advice, _cost(rhythm, planned) + extra)


def _drift(rhythm: Rhythm, bows: list[Bow], laid: list[tuple[bool, float, float]]) -> float:
    """How far one pattern carries the bow: where a pattern that begins alike starts, against where the first did."""
    per = max(1, len(bows) // rhythm.repeats)
    directions = [d for d, _, _ in laid]
    for k in range(per, len(bows), per):
        if directions[k] == directions[0]:
            return laid[k][1] - laid[0][1]
    same_again = (len(bows) % 2 == 0) or any(b.retake for b in bows)
    return laid[-1][2] - laid[0][1] if same_again else 0.0


def _cost(rhythm: Rhythm, planned: list[PlannedBow]) -> float:
    over = sum(max(0.0, rhythm.low - min(b.start, b.end), max(b.start, b.end) - rhythm.high) > OUT for b in planned)
    uneven = np.log2(max(b.pace for b in planned) / min(b.pace for b in planned))
    quick = sum(b.speed_cm_s > FASTEST_CM_S or b.speed_cm_s < SLOWEST_CM_S for b in planned)
    return float(10.0 * (over > 0) + over / len(planned) + uneven + 2.0 * quick / len(planned))


def _warnings(rhythm: Rhythm, planned: list[PlannedBow]) -> list[Message]:
    out = []
    for b in planned:
        past_tip, past_frog = b.end - rhythm.high, rhythm.low - b.end
        if past_tip > OUT or past_frog > OUT:
            left = max(0.0, (rhythm.high - b.start) if b.down else (b.start - rhythm.low))
            end = "head" if b.down else "frog"
            values = {"number": b.number, "start_s": b.start_s, "share": 100 * b.share, "left": 100 * left}
            out.append(Message(f"plan.too little towards the {end}", values))
            break
    for b in planned:
        if b.speed_cm_s > FASTEST_CM_S:
            out.append(Message("plan.may skate", {"number": b.number, "speed": b.speed_cm_s}))
            break
    for b in planned:
        if b.speed_cm_s < SLOWEST_CM_S:
            out.append(Message("plan.may not speak", {"number": b.number, "speed": b.speed_cm_s}))
            break
    fast, slow = [b for b in planned if b.pace > UNEVEN], [b for b in planned if b.pace < 1 / UNEVEN]
    if fast:
        out.append(Message("plan.lighter", _numbers(fast)))
    if slow:
        out.append(Message("plan.nearer or heavier", _numbers(slow)))
    for b, after in pairwise(planned):
        if after.retake and b.seconds < 2 * RETAKE_S:
            out.append(Message("plan.no time to lift", {"number": b.number, "seconds": b.seconds}))
            break
    return out


MOST_NAMED = 4
"""So many bows are named; of the others it is said how many there are."""


def _numbers(bows: list[PlannedBow]) -> dict[str, Any]:
    """Which bows, with their pace against the rest."""
    named = tuple(Message("plan.bow", {"number": b.number, "pace": b.pace}) for b in bows[:MOST_NAMED])
    return {"bows": named, "more": Message("plan.and more", {"n": len(bows) - MOST_NAMED}) if len(bows) > MOST_NAMED else NOTHING}


def same_speed(rhythm: Rhythm, hair_mm: float) -> Plan:
    """Each note by its length and loudness, at one speed; it may leave the bow, and says where."""
    bows = list(rhythm.bows) * rhythm.repeats
    return _plan(
        "One speed", rhythm, bows, _natural(rhythm, bows, hair_mm), hair_mm,
        Message("plan.by length"), start=rhythm.start, extra=0.0,
    )  # fmt: skip


def _change(shares: Array, wish: Array) -> float:
    """How far shares are from what is wished, in ratio: sum of squared logarithms."""
    return float((np.log(shares / wish) ** 2).sum())


def _change_slope(shares: Array, wish: Array) -> Array:
    return 2 * np.log(shares / wish) / shares


def kept_in(rhythm: Rhythm, hair_mm: float) -> Plan | None:
    """The least change of speed (in ratio) that keeps the bow within its part and brings a pattern back to its start."""
    bows = list(rhythm.bows) * rhythm.repeats
    wish = _natural(rhythm, bows, hair_mm)
    signs = np.where(_directions(rhythm, bows), 1.0, -1.0)
    rows, since = [], 0
    for k in range(len(bows)):
        since = k if bows[k].retake else since
        row = np.zeros(len(bows))
        row[since : k + 1] = signs[since : k + 1]
        rows.append(row)
    matrix = np.array(rows)
    low, high = np.full(len(bows), rhythm.low - rhythm.start), np.full(len(bows), rhythm.high - rhythm.start)
    per = max(1, len(rhythm.bows))
    period = per if per % 2 == 0 else 2 * per
    back = np.arange(period - 1, len(bows), period)
    free = np.setdiff1d(np.arange(len(bows)), back)
    limits = [scipy.optimize.LinearConstraint(matrix[free], low[free], high[free])] if len(free) else []
    limits += [scipy.optimize.LinearConstraint(matrix[back], 0.0, 0.0)] if len(back) else []
    room = rhythm.high - rhythm.low
    best: Array | None = None
    for first in (0.5 * np.minimum(wish, room), np.full(len(bows), 0.3 * room)):
        got = scipy.optimize.minimize(
            _change, first, (wish,), jac=_change_slope, method="SLSQP", constraints=limits, options={"maxiter": 300, "ftol": 1e-9},
            bounds=[(0.02 * w, room) if b.share is None else (w, w) for w, b in zip(wish, bows, strict=True)],
        )  # fmt: skip
        ends = matrix @ got.x
        kept = (ends >= low - OUT).all() and (ends <= high + OUT).all() and (abs(ends[back]) <= OUT).all()
        if kept and (best is None or _change(got.x, wish) < _change(best, wish)):
            best = got.x
    if best is None:
        return None
    return _plan(
        "Faster return", rhythm, bows, best, hair_mm,
        Message("plan.short notes more"), start=rhythm.start, extra=0.1,
    )  # fmt: skip


def less_bow(rhythm: Rhythm, hair_mm: float) -> Plan:
    """One speed, slowed and begun where it must be so that all drift fits into the bow."""
    bows = list(rhythm.bows) * rhythm.repeats
    shares = _natural(rhythm, bows, hair_mm)
    laid = _laid(rhythm, bows, shares, 0.0)
    reach = [p for _, a, b in laid for p in (a, b)]
    span, usable = max(reach) - min(reach), rhythm.high - rhythm.low
    scale = min(1.0, usable / span)
    start = float(np.clip(rhythm.start, rhythm.low - scale * min(reach), rhythm.high - scale * max(reach)))
    said = "plan.less of all" if abs(start - rhythm.start) < OUT else "plan.less of all, begun elsewhere"
    return _plan(
        "Less bow", rhythm, bows, scale * shares, hair_mm, Message(said, {"share": 100 * scale, "start": 100 * start}),
        start=start, extra=float(-0.8 * np.log2(scale)),
    )  # fmt: skip


def hooked(rhythm: Rhythm, hair_mm: float) -> Plan | None:
    """A short note after a long one in the same direction, stopped apart; None where no note is half as long as its neighbour."""
    merged: list[Bow] = []
    for bow in rhythm.bows:
        before = merged[-1] if merged else None
        if before is not None and not before.hooked and not bow.retake and bow.rest == 0 and 2 * bow.need <= before.need:
            merged[-1] = Bow((*before.notes, *bow.notes), before.rest, before.retake, None, hooked=True)
        else:
            merged.append(bow)
    if len(merged) == len(rhythm.bows):
        return None
    bows = merged * rhythm.repeats
    return _plan(
        "Short note hooked on", rhythm, bows, _natural(rhythm, bows, hair_mm), hair_mm,
        Message("plan.short note after a stop"), start=rhythm.start, extra=0.4,
    )  # fmt: skip


def retaken(rhythm: Rhythm, hair_mm: float) -> Plan | None:
    """The bow is lifted and set again wherever it would run out; None where it never does."""
    bows = list(rhythm.bows) * rhythm.repeats
    shares = _natural(rhythm, bows, hair_mm)
    for k in range(1, len(bows)):
        down, _, end = _laid(rhythm, bows, shares, rhythm.start)[k]
        if not rhythm.low - OUT <= end <= rhythm.high + OUT:
            at = k if down != rhythm.from_tip else k - 1
            if at < 1 or bows[at].retake:
                return None
            bows[at] = replace(bows[at], retake=True)
    count = sum(b.retake for b in bows) - rhythm.repeats * sum(b.retake for b in rhythm.bows)
    if count <= 0:
        return None
    return _plan(
        "Taken again", rhythm, bows, shares, hair_mm, Message("plan.lifted", {"n": count}) if count > 1 else Message("plan.lifted once"),
        start=rhythm.start, extra=0.3 + 2.0 * count / len(bows),
    )  # fmt: skip


def ways(rhythm: Rhythm, hair_mm: float) -> list[Plan]:
    """All ways to divide the bow that there are for a rhythm, the least to mind first. ``hair_mm``: length of the hair."""
    plain = same_speed(rhythm, hair_mm)
    if plain.fits and abs(plain.drift) < OUT:
        return [plain]
    more = [kept_in(rhythm, hair_mm), less_bow(rhythm, hair_mm), hooked(rhythm, hair_mm), retaken(rhythm, hair_mm)]
    return sorted([plain, *(p for p in more if p is not None)], key=lambda p: p.cost)


def to_exercise(plan: Plan) -> Exercise:
    """The plan as an exercise, to be played and matched. What leaves the bow is cut at its ends."""
    items = []
    for k, b in enumerate(plan.bows):
        low, high = sorted((round(float(np.clip(b.start, 0, 1)), 3), round(float(np.clip(b.end, 0, 1)), 3)))
        high = max(high, low + 0.001)
        lifted = k + 1 < len(plan.bows) and plan.bows[k + 1].down == b.down
        kind = "lifted" if lifted else "slurred" if b.notes > 1 else "on"
        items.append(Item(1, min(low, 0.999), min(high, 1.0), b.beats, b.notes, kind))
    name = f"{plan.rhythm.name}: {plan.way.lower()}"
    return Exercise(name, (Line((plan.rhythm.string,), tuple(items)),), plan.rhythm.tempo, not plan.bows[0].down)
