"""Shaking between 3 and 12 times a second: how much of a signal's power lies there (Welch's periodogram).

The band is that of trembling hands and of a bow that bounces; bowing itself and what a player means to do is slower.
"""

from __future__ import annotations

import numpy as np
from scipy.signal import welch

Array = np.ndarray

BAND_HZ = (3.0, 12.0)
SLOW_TERMS = 5
"""Degree of the polynomial that takes the stroke itself out."""
FEWEST_SAMPLES = 16
SEGMENT_S = 32 / 30
"""Length of Welch's pieces: about one cycle a second apart at any frame rate."""
LOWEST_PEAK_HZ = 4.0
"""What is left of the stroke itself lies below."""
PEAK_WIDTH_HZ = 1.5
"""A tremor is a narrow peak: so much on either side of it belongs to it, the rest is noise of measuring."""


def shaking(values: Array, rate_hz: float) -> tuple[float, float]:
    """Size (root mean square, in the unit of ``values`` (n,)) and main frequency (Hz) of shaking; NaN if it cannot be told.

    Too short a piece, a gap in it, or fewer than 15 frames a second tell nothing.
    """
    x = np.asarray(values, float)
    if len(x) < FEWEST_SAMPLES or not np.isfinite(x).all() or rate_hz < 15:
        return float("nan"), float("nan")
    at = np.linspace(-1, 1, len(x))
    x = x - np.polyval(np.polyfit(at, x, SLOW_TERMS), at)
    frequency, power = welch(x, fs=rate_hz, nperseg=min(max(FEWEST_SAMPLES, round(SEGMENT_S * rate_hz)), len(x)))
    inside = (frequency >= BAND_HZ[0]) & (frequency <= BAND_HZ[1])
    if inside.sum() < 2:
        return float("nan"), float("nan")
    high = inside & (frequency >= LOWEST_PEAK_HZ)
    peak = float(frequency[high][power[high].argmax()])
    near = inside & (np.abs(frequency - peak) <= PEAK_WIDTH_HZ)
    return float(np.sqrt(power[near].sum() * (frequency[1] - frequency[0]))), peak
