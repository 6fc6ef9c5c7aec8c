"""Slow motion that its file does not tell of: played tones far below what the instrument has."""

from __future__ import annotations

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array
from dolcezza.core.sound.bowed import FLAT_SEMITONES, STEADY_S, STEADY_SEMITONES, string_sounds
from dolcezza.core.sound.pitch import RATE_HZ, PitchTrack, track_pitch

TIMES = (2, 4, 8)
"""Phones film at 120 or 240 pictures a second and save at 60 or 30 (common practice, no source)."""
LEAST_S, LEAST_SHARE = 1.5, 0.4
"""So long, and for such a share of what is loud, low tones must be held."""
MOST_OWN = 0.25
"""More of the time than this a string of this instrument sounds as it should: nothing was slowed. (Twice slower leaves the upper strings
where the lower ones are, and is not told.)"""
APART_SEMITONES, EACH_S = 1.5, 0.4
"""A hum has one pitch; who plays has two at least, so far apart, each for so long."""


def slowed(samples: Array, pitch: PitchTrack, *, lowest_hz: float) -> int:
    """How many times slower than it was played a recording seems to be, 1 = it does not: ``samples`` mono, ``pitch`` as it was followed in
    the instrument's own range, whose lowest open string has ``lowest_hz``."""
    times = np.arange(0, len(samples) / RATE_HZ, 0.05)
    own = string_sounds(pitch, times, lowest_hz=lowest_hz)
    if own is not None and own.mean() > MOST_OWN:
        return 1
    low = track_pitch(samples, start_s=0.0, lowest_hz=lowest_hz / (1.1 * TIMES[-1]), highest_hz=2 * lowest_hz)
    known = np.isfinite(low.hz)
    if known.sum() < 10:
        return 1
    apart = float(np.median(np.diff(low.t_s)))
    semitones = 12 * np.log2(np.where(known, low.hz, 1.0) / lowest_hz)
    filled = np.interp(low.t_s, low.t_s[known], semitones[known])
    size = max(3, round(TIMES[1] * STEADY_S / apart))
    swing = scipy.ndimage.percentile_filter(filled, 85, size) - scipy.ndimage.percentile_filter(filled, 15, size)
    held = known & (swing < STEADY_SEMITONES)
    loud = low.level > 0.1 * float(np.percentile(low.level, 95))
    below = held & loud & (semitones < -FLAT_SEMITONES)
    if below.sum() * apart < LEAST_S or below.sum() < LEAST_SHARE * loud.sum() or not _several(semitones[below], apart):
        return 1
    bottom = float(np.percentile(semitones[below], 5))
    return next((n for n in TIMES if bottom + 12 * np.log2(n) > -FLAT_SEMITONES), TIMES[-1])


def _several(semitones: Array, apart_s: float) -> bool:
    """Whether there are two pitches, each held for long enough."""
    lowest = semitones < np.median(semitones) - 0.5 * APART_SEMITONES
    highest = semitones > np.median(semitones) + 0.5 * APART_SEMITONES
    usual = ~lowest & ~highest
    return sum(float(part.sum()) * apart_s >= EACH_S for part in (lowest, usual, highest)) >= 2
