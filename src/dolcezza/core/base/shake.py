"""Shaking between 3 and 12 times a second: how much of a signal's power lies there (Welch's periodogram).

The band is that of trembling hands and of a bow that bounces; bowing itself and what a player means to do is slower.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.spectra import welch

BAND_HZ = (3.0, 12.0)
SLOW_TERMS = 5
"""Degree of the polynomial that takes the stroke itself out."""
FEWEST_SAMPLES = 16
SEGMENT_S = 32 / 30
"""Length of Welch's pieces: about one cycle a second apart at any frame rate."""
LOWEST_PEAK_HZ = 4.0
"""What is left of the stroke itself lies below."""
FEWEST_REST = 4
"""So many frequencies beside the peak are needed to know the noise."""
PEAK_WIDTH_HZ = 1.5
"""A tremor is a narrow peak: so much on either side of it belongs to it, the rest is noise of measuring."""


@dataclass(frozen=True)
class Shaking:
    """``size`` (root mean square, in the unit of what shakes), main frequency ``hz``, and ``over_noise``: how many times larger it is
    than what measuring alone would show in so narrow a band (NaN = cannot be told)."""

    size: float
    hz: float
    over_noise: float


NONE = Shaking(math.nan, math.nan, math.nan)


def shaking(values: Array, rate_hz: float) -> Shaking:
    """Shaking of ``values`` (n,) sampled ``rate_hz`` times a second; NaN if it cannot be told.

    Too short a piece, a gap in it, or fewer than 15 frames a second tell nothing. Noise of measuring lies evenly in the band (its median
    power counts), trembling in one narrow place.
    """
    x = np.asarray(values, float)
    if len(x) < FEWEST_SAMPLES or not np.isfinite(x).all() or rate_hz < 15:
        return NONE
    at = np.linspace(-1, 1, len(x))
    x = x - np.polyval(np.polyfit(at, x, SLOW_TERMS), at)
    frequency, power = welch(x, rate_hz=rate_hz, piece=min(max(FEWEST_SAMPLES, round(SEGMENT_S * rate_hz)), len(x)))
    inside = (frequency >= BAND_HZ[0]) & (frequency <= BAND_HZ[1])
    if inside.sum() < 2:
        return NONE
    high = inside & (frequency >= LOWEST_PEAK_HZ)
    peak = float(frequency[high][power[high].argmax()])
    near = inside & (np.abs(frequency - peak) <= PEAK_WIDTH_HZ)
    rest = (frequency >= LOWEST_PEAK_HZ) & (np.abs(frequency - peak) > PEAK_WIDTH_HZ)
    noise = float(np.median(power[rest])) * near.sum() if rest.sum() >= FEWEST_REST else np.nan
    slower = inside & (frequency < peak)
    # no peak, but the flank of something slower: of the stroke, or of a place that drifts
    flank = bool((power[slower] > power[frequency == peak]).any())
    size = float(np.sqrt(power[near].sum() * (frequency[1] - frequency[0])))
    known = not flank and np.isfinite(noise)
    return Shaking(size, peak, float(np.sqrt(power[near].sum() / max(noise, 1e-30))) if known else math.nan)
