"""How smooth a movement is, from its speed: spectral arc length and log dimensionless jerk.

Balasubramanian et al. 2012 and 2015, from memory. Both have no unit and do not change with the size or the duration of the
movement; nearer to zero = smoother.
"""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.arrays import Array

CUTOFF_HZ = 10.0
LEAST_AMPLITUDE = 0.05
PADDING = 4
FEWEST_SAMPLES = 8


def spectral_arc_length(speed: Array, rate_hz: float) -> float:
    """SPARC of a speed profile (n,): the length of its normalised amplitude spectrum, negative. NaN if too short.

    The spectrum counts up to 10 Hz or to where it has fallen below a twentieth for good, whichever comes first.
    """
    v = np.asarray(speed, float)
    if len(v) < FEWEST_SAMPLES or not np.isfinite(v).all() or not np.abs(v).max() > 0:
        return float("nan")
    size = int(2 ** (np.ceil(np.log2(len(v))) + PADDING))
    frequency = np.arange(size) * rate_hz / size
    magnitude = np.abs(np.fft.fft(v, size))
    magnitude /= magnitude.max()
    inside = frequency <= min(CUTOFF_HZ, 0.5 * rate_hz)
    frequency, magnitude = frequency[inside], magnitude[inside]
    loud = np.flatnonzero(magnitude >= LEAST_AMPLITUDE)
    frequency, magnitude = frequency[loud[0] : loud[-1] + 1], magnitude[loud[0] : loud[-1] + 1]
    if len(frequency) < 2:
        return float("nan")
    step = np.diff(frequency) / (frequency[-1] - frequency[0])
    return float(-np.sum(np.hypot(step, np.diff(magnitude))))


def log_dimensionless_jerk(speed: Array, rate_hz: float) -> float:
    """LDLJ of a speed profile (n,): minus the logarithm of its squared jerk times duration cubed over peak speed squared."""
    v = np.asarray(speed, float)
    if len(v) < FEWEST_SAMPLES or not np.isfinite(v).all() or not np.abs(v).max() > 0:
        return float("nan")
    jerk = np.diff(v, n=2) * rate_hz**2
    duration = (len(v) - 1) / rate_hz
    return float(-np.log(duration**3 / np.abs(v).max() ** 2 * np.sum(jerk**2) / rate_hz))
