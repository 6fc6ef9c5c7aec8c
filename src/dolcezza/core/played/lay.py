"""Heard notes laid against printed ones: the cheapest way to turn one into the other (dynamic programming).

The player may begin in the middle, stop early, leave a repeat out, play a wrong note, one too many or too few; several printed notes of one
pitch may sound as one, and one may be cut in two by a change of bow.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.played.heard_notes import HeardNote
from dolcezza.core.score.score import Score

MISSED, EXTRA, SHORT_EXTRA = 1.0, 0.9, 0.4
OCTAVE, NEAR, WRONG = 0.25, 0.8, 1.5
"""What a pitch costs that is an octave off, a semitone off, or another; a wrong note is less than one missed and one extra."""
LENGTH = 0.3
"""What a note costs that lasts twice or half as long as its neighbours ask."""
TOGETHER, CUT = 0.15, 0.2
MOST_TOGETHER = 4
SKIP = 0.8
LATE_START, MOST_START = 0.04, 1.6
"""What beginning in the middle costs, a note that is passed over."""
LEFT = 0.03
ROUNDS = 2


@dataclass(frozen=True)
class Laid:
    """One printed note (place in the score) and the heard ones (places) that are it, none = missed. ``wrong``: another pitch sounds;
    ``shares``: with so many printed notes before it the heard one is shared."""

    note: int
    heard: tuple[int, ...]
    wrong: bool = False
    shares: int = 0


@dataclass(frozen=True)
class Alignment:
    """All printed notes that were reached, in order; ``extra`` heard ones (places); ``cost`` a note; ``beat_s`` seconds a quarter note as
    played."""

    laid: tuple[Laid, ...]
    extra: tuple[int, ...]
    cost: float
    beat_s: float


def lay(score: Score, heard: Sequence[HeardNote]) -> Alignment:
    """Lay a take's notes against the score."""
    order = score.sounding
    beat_s = 60.0 / score.tempo
    found = Alignment((), tuple(range(len(heard))), float("inf"), beat_s)
    for _ in range(ROUNDS):
        found = _once(score, order, heard, beat_s)
        beat_s = found.beat_s
    return found


def _once(score: Score, order: list[int], heard: Sequence[HeardNote], beat_s: float) -> Alignment:
    n, m = len(order), len(heard)
    if not n or not m:
        return Alignment((), tuple(range(m)), float("inf"), beat_s)
    notes = [score.notes[k] for k in order]
    pitch = np.array([[_pitch_cost(note.midi, h.midi) for h in heard] for note in notes])
    beats = np.array([note.beats for note in notes]) * beat_s
    # a note lasts until the next begins: a staccato is not a short value
    lasts = np.array([_lasts(heard, j) for j in range(m)])
    length = np.minimum(LENGTH * np.abs(np.log2(np.maximum(lasts[None, :], 0.03) / np.maximum(beats[:, None], 0.03))), 2 * LENGTH)
    extra = np.array([SHORT_EXTRA if h.seconds < 0.12 else EXTRA for h in heard])
    skips = _skips(score, order)
    cost = np.full((n + 1, m + 1), np.inf)
    back: dict[tuple[int, int], tuple[int, int, str]] = {}
    cost[:, 0] = np.minimum(LATE_START * np.arange(n + 1), MOST_START)
    cost[0, :] = np.concatenate([[0.0], np.cumsum(extra)])
    for j in range(1, m + 1):
        back[0, j] = (0, j - 1, "extra")
    for i in range(n + 1):
        for j in range(1, m + 1):
            if i:
                _best(cost, back, i, j, notes, heard, pitch, length, beats, lasts, extra)
            for came in skips.get(i, ()):
                if cost[came, j] + SKIP < cost[i, j]:
                    cost[i, j], back[i, j] = cost[came, j] + SKIP, (came, j, "skip")
    end = int(np.argmin(cost[:, m] + LEFT * np.arange(n, -1, -1) / max(n, 1)))
    return _traced(order, heard, notes, back, (end, m), float(cost[end, m]), pitch, beat_s)


def _best(
    cost: Array, back: dict[tuple[int, int], tuple[int, int, str]], i: int, j: int, notes: list, heard: Sequence[HeardNote],  # type: ignore[type-arg]
    pitch: Array, length: Array, beats: Array, lasts: Array, extra: Array,
) -> None:  # fmt: skip
    ways: list[tuple[float, int, int, str]] = [
        (float(cost[i - 1, j - 1] + pitch[i - 1, j - 1] + length[i - 1, j - 1]), i - 1, j - 1, "match"),
        (float(cost[i - 1, j] + MISSED), i - 1, j, "missed"),
        (float(cost[i, j - 1] + extra[j - 1]), i, j - 1, "extra"),
    ]
    for count in range(2, MOST_TOGETHER + 1):
        if i >= count and all(notes[i - k].midi == notes[i - 1].midi for k in range(2, count + 1)):
            whole = float(beats[i - count : i].sum())
            own = LENGTH * abs(np.log2(max(lasts[j - 1], 0.03) / max(whole, 0.03)))
            ways.append(
                (
                    float(cost[i - count, j - 1] + pitch[i - 1, j - 1] + min(own, 2 * LENGTH) + TOGETHER * (count - 1)),
                    i - count,
                    j - 1,
                    "together",
                )
            )
        if j >= count and all(heard[j - k].midi == heard[j - 1].midi for k in range(2, count + 1)):
            whole = float(lasts[j - count : j].sum())
            own = LENGTH * abs(np.log2(max(whole, 0.03) / max(float(beats[i - 1]), 0.03)))
            ways.append(
                (float(cost[i - 1, j - count] + pitch[i - 1, j - 1] + min(own, 2 * LENGTH) + CUT * (count - 1)), i - 1, j - count, "cut")
            )
    best = min(ways)
    if best[0] < cost[i, j]:
        cost[i, j], back[i, j] = best[0], (best[1], best[2], best[3])


def _traced(
    order: list[int], heard: Sequence[HeardNote], notes: list, back: dict[tuple[int, int], tuple[int, int, str]],  # type: ignore[type-arg]
    at: tuple[int, int], cost: float, pitch: Array, beat_s: float,
) -> Alignment:  # fmt: skip
    laid: list[Laid] = []
    extra: list[int] = []
    i, j = at
    while j > 0 and (i, j) in back:
        a, b, way = back[i, j]
        if way == "extra":
            extra.append(j - 1)
        elif way == "missed":
            laid.append(Laid(order[i - 1], ()))
        elif way in ("match", "cut", "together"):
            wrong = bool(pitch[i - 1, j - 1] > OCTAVE)
            for k in range(i - 1, a - 1, -1):
                laid.append(Laid(order[k], tuple(range(b, j)), wrong, k - a))
        i, j = a, b
    extra += range(j)
    laid.reverse()
    while laid and not laid[-1].heard:
        laid.pop()
    while laid and not laid[0].heard:
        laid.pop(0)
    told = [x for x in laid if x.heard]
    pairs = [
        (notes[order.index(x.note)].start, heard[x.heard[0]].start_s) for x in told if not x.wrong and not x.shares
    ]  # fmt: skip
    steps = [(t2 - t1) / (b2 - b1) for (b1, t1), (b2, t2) in pairwise(pairs) if 1e-6 < b2 - b1 <= 8 and t2 > t1]
    own = float(np.median(steps)) if len(steps) >= 3 else beat_s
    return Alignment(tuple(laid), tuple(sorted(extra)), cost / max(1, len(laid)), own)


def _pitch_cost(midi: tuple[int, ...], heard: int) -> float:
    if heard in midi:
        return 0.0
    if any((heard - m) % 12 == 0 for m in midi):
        return OCTAVE
    return NEAR if any(abs(heard - m) == 1 for m in midi) else WRONG


def _lasts(heard: Sequence[HeardNote], j: int) -> float:
    own = heard[j].seconds
    if j + 1 < len(heard):
        until = heard[j + 1].start_s - heard[j].start_s
        own = until if until < 2.5 * own else own
    return own


def _skips(score: Score, order: list[int]) -> dict[int, list[int]]:
    """Where (place among the sounding notes) one may arrive by leaving a repeat out, and from where."""
    out: dict[int, list[int]] = {}
    for start, end in score.skips:
        a, b = (int(np.searchsorted(order, k)) for k in (start, end))
        out.setdefault(b, []).append(a)
    return out
