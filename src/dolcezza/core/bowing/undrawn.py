"""What does not move while a bowed string sounds is no bow, nor is what the bow leaps to and from: the edge of a box, a stripe of a wall, a
shadow that was followed in its place."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.signals import stays

STILL = 0.05
"""A bow that keeps to its place within this share of the hair is not drawn."""
SOUNDS_S = 0.25
"""While a string sounds for so long a bow that is drawn goes on, or comes from where it was drawn."""
FROM_STANDING_PER_S = 2.5
"""Nor does one that stands set off with so many bow lengths a second, or stop from that, within"""
SETS_OFF_S = 0.1
"""so long (s), or from one frame to the next: between an edge and the bow some frames' lines are half the one, half the other."""
SLIDES_MM_PER_S = 150.0
"""No bow slides so fast along the string; of two lines so far apart, one after the other, the one that stands is none."""

SPIKE, SPIKE_S = 0.06, 0.15
"""No bow goes so far (share of the hair) and comes back within so long."""
ASTRAY_S, BACK_SHARE = 1.0, 0.5
"""What is followed besides the bow is left again within so long, and then the bow is where it was to this share of the leap."""


def astray(contact_mm: Array, t_s: Array, certain: Array) -> Array:
    """Frames (n,) bool between two leaps along the string, there and back: ``contact_mm`` (n,), NaN = not measured, at ``t_s`` (n,) s;
    not where the teacher has set the bow in one of them (``certain`` (n,) bool)."""
    out = np.zeros(len(t_s), bool)
    known = np.flatnonzero(np.isfinite(contact_mm))
    if len(known) < 3:
        return out
    value, way, wait = contact_mm[known], np.diff(contact_mm[known]), np.diff(t_s[known])
    leap = np.flatnonzero((np.abs(way) > SLIDES_MM_PER_S * SETS_OFF_S) & (wait <= SETS_OFF_S))
    for there, back in pairwise(leap):
        apart = abs(float(value[back + 1] - value[there]))
        if t_s[known[back]] - t_s[known[there]] <= ASTRAY_S and apart < BACK_SHARE * min(abs(way[there]), abs(way[back])):
            between = known[there + 1 : back + 1]
            out[between] = not certain[between].any()
    return out


def spikes(place: Array, t_s: Array) -> Array:
    """Frames (n,) bool in which the ``place`` (n,) on the bow, NaN = not told, is elsewhere for a moment, as no bow goes there and back: an
    end of it was taken for something else."""
    out = np.zeros(len(place), bool)
    known = np.flatnonzero(np.isfinite(place))
    for count in (1, 2):
        for k in range(1, len(known) - count):
            before, inside, after = known[k - 1], known[k : k + count], known[k + count]
            way = np.abs(place[inside] - place[[before, after]].mean())
            edges = (before, inside[0]), (inside[-1], after)
            quick = min(abs(place[b] - place[a]) / (t_s[b] - t_s[a]) for a, b in edges) > FROM_STANDING_PER_S
            if quick and t_s[after] - t_s[before] <= SPIKE_S and way.min() > max(SPIKE, abs(place[after] - place[before])):
                out[inside] = True
    return out


def undrawn(place: Array, contact_mm: Array, t_s: Array, silent: Array | None) -> Array:
    """Frames (n,) bool in which what is taken for the bow stands while a string sounds, and comes from nowhere and goes nowhere: its
    ``place`` (n,) on the bow, NaN = not told, leaps there and back, or its ``contact_mm`` (n,) there or back. ``silent`` (n,) as in
    ``lifted``; None tells nothing.

    A bow that creeps at its end, or rests while the room rings, goes on to where it is drawn, or comes from there.
    """
    out = np.zeros(len(place), bool)
    if silent is None or len(place) < 3:
        return out
    frame_s = float(np.median(np.diff(t_s)))
    contact_mm = np.where(np.isfinite(place), contact_mm, np.nan)
    for a, b in stays(place[:, None], STILL):
        if frame_s * float(np.sum(~silent[a:b])) < SOUNDS_S:
            continue
        ways = (slice(b - 1, None), 1), (slice(a, None, -1), -1)
        cut = all(not _drawn(place[w], sign * t_s[w]).all() for w, sign in ways)
        slid = any((_moved(contact_mm[w], sign * t_s[w]) > SLIDES_MM_PER_S).any() for w, sign in ways)
        out[a:b] = cut or slid
    return out


def _moved(value: Array, t_s: Array) -> Array:
    """How fast (a second) it has come from the first ``value`` (m,) to each of those that come soon, NaN = not known; none: one NaN."""
    after = t_s[1:] - t_s[0]
    soon = (after <= SETS_OFF_S) | (np.arange(len(after)) == 0)
    return np.abs(value[1:] - value[0])[soon] / after[soon] if soon.any() else np.array([np.nan])


def _drawn(place: Array, t_s: Array) -> Array:
    """Whether a bow that stands in the first frame can have been drawn to each of the next ones."""
    return _moved(place, t_s) <= FROM_STANDING_PER_S
