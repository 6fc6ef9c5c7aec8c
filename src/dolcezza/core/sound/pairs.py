"""Two open strings bowed together: where both their own partials stand out of the sound at once, and go on doing so."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array
from dolcezza.core.sound.strings import open_pitches

WINDOW_S, HOP_S = 0.256, 0.064
PARTIALS = 8
OWN_SHARE = 0.03
"""A partial nearer than this to one of the other string is nobody's own."""
AT_SHARE = 0.012
"""A partial is looked for so near its place (20 cents)."""
FLOOR_SHARE = 0.12
"""Its surroundings reach so far to either side."""
STANDS_OUT_DB = 14.0
BALANCE_DB = 18.0
"""A string that is so much weaker than its neighbour only rings along."""
GOES_ON_S = 0.5
"""An echo of the string before dies away sooner."""
FEWEST = 2
CLOSE_S = 0.12
"""A bow moves so long before its tone is clear, and after."""
HEARD, NOT_HEARD = 6.0, 6.0
"""Costs of a single string while a pair is heard, and of a pair while none is."""


@dataclass(frozen=True)
class PairTrack:
    """``t_s`` (m,) on the video's clock; ``both`` (m, 3) bool: each pair of neighbouring open strings, bass side first."""

    t_s: Array
    both: Array


def track_pairs(samples: Array, family: str, *, start_s: float, rate_hz: int, a4_hz: float) -> PairTrack:
    """Pairs of open strings in mono ``samples``."""
    window, hop = int(WINDOW_S * rate_hz), int(HOP_S * rate_hz)
    if len(samples) < window + hop:
        return PairTrack(np.zeros(0), np.zeros((0, 3), bool))
    view = np.lib.stride_tricks.sliding_window_view(samples, window)[::hop]
    power = np.abs(scipy.fft.rfft(view * np.hanning(window + 1)[:-1], 2 * window, axis=1)) ** 2 + 1e-12
    bin_hz = rate_hz / (2.0 * window)
    pitches = open_pitches(family, a4_hz)
    both = np.zeros((len(power), 3), bool)
    for k in range(3):
        low, high = (_stands_out(power, bin_hz, pitches[i], pitches[j], rate_hz) for i, j in ((k, k + 1), (k + 1, k)))
        out = np.minimum(low[0], high[0]) > STANDS_OUT_DB
        both[:, k] = out & (np.abs(low[1] - high[1]) < BALANCE_DB)
    size = max(1, round(GOES_ON_S / HOP_S)) | 1
    both = scipy.ndimage.median_filter(both.astype(np.uint8), (2 * size + 1, 1)) > 0 if len(both) > 2 * size else both
    return PairTrack(start_s + (np.arange(len(power)) * hop + 0.5 * window) / rate_hz, both)


def _stands_out(power: Array, bin_hz: float, own_hz: float, other_hz: float, rate_hz: int) -> tuple[Array, Array]:
    """By how many dB a string's own partials stand out of their surroundings (median), and how strong they are (dB), (m,) each."""
    others = other_hz * np.arange(1, 4 * PARTIALS)
    heights, levels = [], []
    for partial in own_hz * np.arange(1, PARTIALS + 1):
        if partial > 0.4 * rate_hz or np.abs(others / partial - 1).min() < OWN_SHARE:
            continue
        near, far = (max(1, round(share * partial / bin_hz)) for share in (AT_SHARE, FLOOR_SHARE))
        at = round(partial / bin_hz)
        top = power[:, at - near : at + near + 1].max(axis=1)
        around = np.concatenate([power[:, max(0, at - far) : at - 2 * near], power[:, at + 2 * near : at + far]], axis=1)
        heights.append(10 * np.log10(top / np.median(around, axis=1)))
        levels.append(top)
    if len(heights) < FEWEST:
        return np.full(len(power), -np.inf), np.full(len(power), -np.inf)
    return np.median(heights, axis=0), 10 * np.log10(np.max(levels, axis=0))


def pair_sounds(pairs: PairTrack | None, t_s: Array) -> Array:
    """Frames (n,) bool in which two open strings sound together. Their common pitch lies below every string's, where talk is."""
    if pairs is None or not pairs.both.any():
        return np.zeros(len(t_s), bool)
    heard = pairs.t_s[pairs.both.any(axis=1)]
    at = np.clip(np.searchsorted(heard, t_s), 1, len(heard) - 1) if len(heard) > 1 else np.zeros(len(t_s), int)
    return np.asarray(np.minimum(np.abs(heard[at] - t_s), np.abs(heard[at - 1] - t_s)) <= CLOSE_S)


def pair_costs(single: Array, pairs: PairTrack | None, t_s: Array) -> Array:
    """What the sound says against each string and each pair (n, 7), from what it says against single strings (n, 4).

    Where a pair is heard it is that pair; where none is heard a pair is unlikely. A pair of stopped notes is not told by its sound.
    """
    both = np.minimum(single[:, 1:], single[:, :-1])
    if pairs is None or not len(pairs.t_s):
        return np.concatenate([single, both], axis=1)
    at = np.clip(np.searchsorted(pairs.t_s, t_s), 0, len(pairs.t_s) - 1)
    heard = pairs.both[at]
    any_heard = heard.any(axis=1, keepdims=True)
    told = single.any(axis=1, keepdims=True)
    alone = np.where(any_heard, np.minimum(single, HEARD) + HEARD, single)
    return np.concatenate([alone, np.where(heard, 0.0, both + np.where(told, NOT_HEARD, 0.0))], axis=1)
