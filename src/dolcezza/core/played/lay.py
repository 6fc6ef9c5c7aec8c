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
from dolcezza.core.score.score import Score, ScoreNote

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
    """One row a printed note, all heard notes at once: a score may have thousands."""
    n, m = len(order), len(heard)
    if not n or not m:
        return Alignment((), tuple(range(m)), float("inf"), beat_s)
    notes = [score.notes[k] for k in order]
    midi = np.array([h.midi for h in heard])
    beats = np.array([note.beats for note in notes]) * beat_s
    # a note lasts until the next begins: a staccato is not a short value
    lasts = np.array([_lasts(heard, j) for j in range(m)])
    extra = np.array([SHORT_EXTRA if h.seconds < 0.12 else EXTRA for h in heard])
    spent = np.concatenate([[0.0], np.cumsum(extra)])
    skips = _skips(score, order)
    cuts = {count: _alike(midi, lasts, count) for count in range(2, min(MOST_TOGETHER, m) + 1)}
    cost, way = np.empty((n + 1, m + 1)), np.zeros((n + 1, m + 1), np.int32)
    cost[0], way[0, 1:] = spent, EXTRA_WAY
    pitch = np.zeros((n, m))
    for i in range(1, n + 1):
        own = notes[i - 1]
        pitch[i - 1] = _pitch_costs(own.midi, midi)
        row, how = np.concatenate([[min(LATE_START * i, MOST_START)], cost[i - 1, 1:] + MISSED]), np.full(m + 1, MISSED_WAY, np.int32)

        def better(costs: Array, from_j: int, code: int, row: Array = row, how: Array = how) -> None:
            """Take what is cheaper for the heard notes from place ``from_j`` on."""
            now = costs < row[from_j:]
            row[from_j:][now], how[from_j:][now] = costs[now], code

        better(cost[i - 1, :-1] + pitch[i - 1] + _length_costs(lasts, beats[i - 1]), 1, MATCH_WAY)
        for count in range(2, MOST_TOGETHER + 1):
            if i >= count and all(notes[i - k].midi == own.midi for k in range(2, count + 1)):
                whole = float(beats[i - count : i].sum())
                better(cost[i - count, :-1] + pitch[i - 1] + _length_costs(lasts, whole) + TOGETHER * (count - 1), 1, TOGETHER_WAY + count)
            if count in cuts:
                alike, whole_s = cuts[count]
                cut = cost[i - 1, : m - count + 1] + pitch[i - 1, count - 1 :] + _length_costs(whole_s, beats[i - 1]) + CUT * (count - 1)
                better(np.where(alike, cut, np.inf), count, CUT_WAY + count)
        for came in skips.get(i, ()):
            better(cost[came, 1:] + SKIP, 1, SKIP_WAY + came)
        # heard notes that are nobody's, one after the other: the cheapest place to begin with them
        least = spent + np.minimum.accumulate(row - spent)
        more = least < row - 1e-12
        cost[i], way[i] = np.where(more, least, row), np.where(more, EXTRA_WAY, how)
    end = int(np.argmin(cost[:, m] + LEFT * np.arange(n, -1, -1) / max(n, 1)))
    return _traced(order, heard, notes, way, (end, m), float(cost[end, m]), pitch, beat_s)


def _alike(midi: Array, lasts: Array, count: int) -> tuple[Array, Array]:
    """Where so many heard notes in a row have one pitch (m - count + 1,), and how long they last together (s)."""
    view = np.lib.stride_tricks.sliding_window_view
    runs = view(midi, count)
    return (runs == runs[:, :1]).all(axis=1), view(lasts, count).sum(axis=1)


EXTRA_WAY, MISSED_WAY, MATCH_WAY, TOGETHER_WAY, CUT_WAY, SKIP_WAY = 1, 2, 3, 10, 20, 1000
"""How a cell was reached; with the number of notes, or the place that was skipped from, added to it."""


def _traced(
    order: list[int], heard: Sequence[HeardNote], notes: list[ScoreNote], way: Array, at: tuple[int, int], cost: float, pitch: Array,
    beat_s: float,
) -> Alignment:  # fmt: skip
    laid: list[Laid] = []
    extra: list[int] = []
    i, j = at
    while j > 0:
        code = int(way[i, j])
        if code == EXTRA_WAY:
            extra.append(j - 1)
            j -= 1
        elif code == MISSED_WAY:
            laid.append(Laid(order[i - 1], ()))
            i -= 1
        elif code >= SKIP_WAY:
            i = code - SKIP_WAY
        else:
            together = code - TOGETHER_WAY if TOGETHER_WAY < code < CUT_WAY else 1
            cut = code - CUT_WAY if code > CUT_WAY else 1
            wrong = bool(pitch[i - 1, j - 1] > OCTAVE)
            for k in range(i - 1, i - 1 - together, -1):
                laid.append(Laid(order[k], tuple(range(j - cut, j)), wrong, k - (i - together)))
            i, j = i - together, j - cut
    laid.reverse()
    while laid and not laid[-1].heard:
        laid.pop()
    while laid and not laid[0].heard:
        laid.pop(0)
    place = {k: p for p, k in enumerate(order)}
    pairs = [
        (notes[place[x.note]].start, heard[x.heard[0]].start_s) for x in laid if x.heard and not x.wrong and not x.shares
    ]  # fmt: skip
    steps = [(t2 - t1) / (b2 - b1) for (b1, t1), (b2, t2) in pairwise(pairs) if 1e-6 < b2 - b1 <= 8 and t2 > t1]
    own = float(np.median(steps)) if len(steps) >= 3 else beat_s
    return Alignment(tuple(laid), tuple(sorted(extra)), cost / max(1, len(laid)), own)


def _length_costs(lasts: Array, asked: float) -> Array:
    """What it costs that notes last as long as they do, where ``asked`` (s) is written."""
    off = LENGTH * np.abs(np.log2(np.maximum(lasts, 0.03) / max(float(asked), 0.03)))
    return np.asarray(np.minimum(off, 2 * LENGTH))


def _pitch_costs(midi: tuple[int, ...], heard: Array) -> Array:
    """What each heard pitch (m,) costs for a printed one."""
    apart = np.abs(heard[:, None] - np.array(midi)[None, :])
    out = np.where((apart == 1).any(axis=1), NEAR, WRONG)
    out = np.where((apart % 12 == 0).any(axis=1), OCTAVE, out)
    return np.where((apart == 0).any(axis=1), 0.0, out)


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
