"""Where strokes begin and end, from the place on the bow alone.

A stroke lasts from one change of direction (or stop) to the next. Turns count from a travel that is larger than the
noise; a long rest between two strokes belongs to neither; a halt in the middle of one direction ends a stroke (hooked
bows).
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.signals import fill_gaps, noise_of_bends, runs
from dolcezza.core.bowing.series import leaps
from dolcezza.core.strokes.turns import LEAST_TIME_S, UNHEARD, ByEar, in_the_middle, one_way, real_turns, turns_of

LEAST_TRAVEL = 0.03
"""Share of the hair that a movement must use to be a stroke (2 cm of a violin bow)."""
SHORT_REST_S = 0.12
"""A standstill shorter than this is the turn itself; strokes meet in its middle."""
SPEED_LEVELS = (0.06, 0.24)
"""Shares of a stroke's top speed from which its standstill is worked out."""
SLOW_SHARE = 0.03
"""Part of a stroke over which its speed is averaged at its ends."""
BEYOND = 0.7
"""The standstill lies so much farther on, in ways from the higher to the lower of the two levels: a bow's speed grows about with the
square of time (1.0), and its record is a little blunter (less)."""
SHORT_REST_SHARE = 0.1
"""In slow bows the turn itself is slow: it may last this share of the shorter of the two strokes."""
ISLAND_GAP_S = 0.04
"""What is known for a moment stands alone where nothing is known for this much longer than the shortest stroke, before and after."""
DOUBTFUL_SD, DOUBTFUL_TIMES, AROUND_S = 0.02, 2.5, 0.2
"""A place known no better than so (share of the hair), and so many times worse than those within so long, is doubtful."""
LONGEST_GAP_S = 0.3
"""Missing frames are bridged up to this long."""
LONGEST_UNSEEN_S = 0.8
"""The same where the bow is seen to lie on a string, and only its place on it is not: its head outside the picture, for one."""


@dataclass(frozen=True)
class Span:
    """One stroke's time and direction: ``down`` = frog to head."""

    start_s: float
    end_s: float
    down: bool


def segment(
    position: Array, t_s: Array, lifted: Array | None = None, there: Array | None = None, sd: Array | None = None,
    heard: ByEar = UNHEARD,
) -> list[Span]:  # fmt: skip
    """Strokes of a take from ``bow_position`` (n,) at ``t_s`` (n,); NaN = not measured. A stroke ends where the bow is
    ``lifted`` (n,) bool; ``there`` (n,) bool: the bow is seen on a string, whether its place is known or not. Where its place is known
    much worse (``sd`` (n,)) than in most of the take, or turns twice in a moment, what is ``heard`` tells whether it has turned.
    """
    if len(t_s) < 3:
        return []
    gap = float(np.median(np.diff(t_s)))
    position = _without_islands(position, t_s)
    filled = fill_gaps(position, longest=max(1, int(LONGEST_GAP_S / gap)))
    if there is not None:
        known = fill_gaps(position, longest=max(1, int(LONGEST_UNSEEN_S / gap)))
        for a, b in runs(~np.isfinite(filled) & np.isfinite(known)):
            filled[a:b] = np.where(there[a:b].all(), known[a:b], np.nan)
    spans: list[Span] = []
    leap = leaps(filled, t_s)
    off = np.zeros(len(t_s), bool) if lifted is None else lifted
    doubt = _own_doubt(np.zeros(len(t_s)) if sd is None else sd, position)
    for a, b in runs(np.isfinite(filled) & ~leap & ~off):
        if b - a >= 3:
            spans += _segment_run(filled[a:b], t_s[a:b], np.isfinite(position[a:b]), doubt[a:b], heard)
    return spans


def where_drawn(spans: list[Span], position: Array, t_s: Array, lifted: Array | None = None) -> list[Span]:
    """The strokes without what lies beyond a leap at one of their ends, or beyond a moment in which the bow is seen off the string
    (``lifted`` (n,) bool): a bow that is set down elsewhere, or not yet, is not drawn there."""
    leapt = np.flatnonzero(leaps(position, t_s))
    set_down, taken_off = (np.zeros(0), np.zeros(0)) if lifted is None else _set_down_and_taken_off(lifted, t_s)
    on, off = np.concatenate([t_s[leapt], set_down]), np.concatenate([t_s[leapt - 1], taken_off])
    out = []
    for span in spans:
        middle = 0.5 * (span.start_s + span.end_s)
        begun = max([span.start_s, *on[(on > span.start_s) & (on <= middle)]])
        ended = min([span.end_s, *off[(off > middle) & (off <= span.end_s)]])
        out.append(Span(float(begun), float(ended), span.down))
    return out


def _set_down_and_taken_off(lifted: Array, t_s: Array) -> tuple[Array, Array]:
    """When (s) a bow that was ``lifted`` (n,) bool is set down, and when it is taken off: between two frames."""
    changes = np.flatnonzero(lifted[1:] != lifted[:-1])
    between = 0.5 * (t_s[changes] + t_s[changes + 1])
    return between[lifted[changes]], between[~lifted[changes]]


def without_doubtful(position: Array, sd: Array, t_s: Array) -> Array:
    """Places (n,) on the bow without those that are known much worse than the ones around them (``sd`` (n,)), for a moment: an end of the
    bow was taken for something else there, and what moves so is no bow."""
    frame_s = float(np.median(np.diff(t_s))) if len(t_s) > 1 else 1.0
    beside = max(2, round(AROUND_S / frame_s))
    known = np.pad(np.where(np.isfinite(position), np.nan_to_num(sd), np.nan), beside, constant_values=np.nan)
    near = np.lib.stride_tricks.sliding_window_view(known, 2 * beside + 1)
    usual = np.full(len(position), np.inf)
    some = np.isfinite(near).any(axis=1)
    usual[some] = np.nanmedian(near[some], axis=1)
    worse = np.isfinite(position) & (sd > np.maximum(DOUBTFUL_SD, DOUBTFUL_TIMES * usual))
    return np.where(worse, np.nan, position)


def _without_islands(position: Array, t_s: Array) -> Array:
    """Without places that stand alone: shorter than a stroke, with nothing known for longer than that before and after. Something else
    crossed the strings for a moment, and no stroke is bridged to it."""
    known = runs(np.isfinite(position))
    out = position.copy()
    for k, (a, b) in enumerate(known):
        before = t_s[a] - t_s[known[k - 1][1] - 1] if k else np.inf
        after = t_s[known[k + 1][0]] - t_s[b - 1] if k + 1 < len(known) else np.inf
        if t_s[b - 1] - t_s[a] < LEAST_TIME_S < min(before, after) - ISLAND_GAP_S:
            out[a:b] = np.nan
    return out


def _own_doubt(sd: Array, position: Array) -> Array:
    """How much worse (n,) a place is known than the take's usually are: what all share makes no turn."""
    known = np.isfinite(position) & np.isfinite(sd)
    usual = float(np.median(sd[known])) if known.any() else 0.0
    return np.where(known, np.sqrt(np.maximum(np.where(known, sd, 0.0) ** 2 - usual**2, 0.0)), 0.0)


def _segment_run(p: Array, t: Array, seen: Array, doubt: Array, heard: ByEar) -> list[Span]:
    noise = noise_of_bends(np.diff(p, n=2)) if len(p) > 4 else 0.0
    least = max(LEAST_TRAVEL, 8.0 * noise)
    real, flicked = real_turns(turns_of(p, least), p, t, doubt, heard)
    p = one_way(p, real, flicked)
    turns, unseen = in_the_middle(real, seen)
    legs: list[tuple[float, float, bool]] = []
    for i, j in pairwise(turns):
        for a, b in _split_at_halts(p, t, i, j):
            if abs(p[b] - p[a]) >= least:
                start = float(t[a]) if a in unseen else _edge(p, t, a, b, first=True)
                end = float(t[b]) if b in unseen else _edge(p, t, a, b, first=False)
                legs.append((start, end, bool(p[b] > p[a])))
    for k in range(len(legs) - 1):
        (s0, e0, d0), (s1, e1, d1) = legs[k], legs[k + 1]
        longest = max(SHORT_REST_S, SHORT_REST_SHARE * min(e0 - s0, e1 - s1))
        if d0 != d1 and 0 <= s1 - e0 < longest:
            middle = 0.5 * (e0 + s1)
            legs[k], legs[k + 1] = (s0, middle, d0), (middle, e1, d1)
    return [Span(s, e, d) for s, e, d in legs if e - s >= LEAST_TIME_S]


def _split_at_halts(p: Array, t: Array, i: int, j: int) -> list[tuple[int, int]]:
    """Cut a leg where the bow stands still in the middle of it."""
    if j - i < 4:
        return [(i, j)]
    speed = np.abs(np.gradient(p[i : j + 1], t[i : j + 1]))
    quick = float(np.percentile(speed, 90))
    cuts = []
    for a, b in runs(speed < 0.06 * quick):
        if a > 0 and b < len(speed) and t[i + b - 1] - t[i + a] >= SHORT_REST_S:
            cuts.append((i + a, i + b - 1))
    pieces, start = [], i
    for a, b in cuts:
        if abs(p[a] - p[start]) >= LEAST_TRAVEL and abs(p[j] - p[b]) >= LEAST_TRAVEL:
            pieces.append((start, a))
            start = b
    return [*pieces, (start, j)]


def _moment(speed: Array, t: Array, level: float) -> float:
    """Walking outwards from the quickest moment: when the speed has fallen to ``level``, between frames."""
    for k in range(1, len(speed)):
        if speed[k] < level:
            share = (speed[k - 1] - level) / (speed[k - 1] - speed[k])
            return float(t[k - 1] + np.clip(share, 0, 1) * (t[k] - t[k - 1]))
    return float(t[-1])


def _edge(p: Array, t: Array, a: int, b: int, *, first: bool) -> float:
    """When the bow sets off (``first``) or stops in the leg from sample ``a`` to ``b``.

    Speed grows about with the square of time at both ends of a bow; the moment of standstill follows from where it
    passes two levels, because the last few per cent drown in the noise.
    """
    speed = np.gradient(p[a : b + 1], t[a : b + 1]) * np.sign(p[b] - p[a])
    # in a slow bow the steps from frame to frame are as small as the noise: the slower, the longer the stretch that is looked at
    speed = scipy.ndimage.uniform_filter1d(speed, max(1, round(SLOW_SHARE * (b - a))), mode="nearest")
    peak = float(np.percentile(speed, 95))
    quick = np.flatnonzero(speed > 0.5 * peak)
    at = int(quick[0] if first else quick[-1])
    out = slice(at, None, -1) if first else slice(at, None)
    low, high = (_moment(speed[out], t[a : b + 1][out], f * peak) for f in SPEED_LEVELS)
    return float(np.clip(low - BEYOND * (high - low), t[a], t[b]))
