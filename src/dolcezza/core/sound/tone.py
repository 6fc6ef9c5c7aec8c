"""What a tone is made of, moment by moment: how far it stands above its noise, how strong its fundamental, whether it splits.

The harmonics-to-noise ratio is Boersma's (1993, from memory): the windowed sound's autocorrelation divided by the window's own,
its height r at the period gives 10 log10(r / (1 - r)). Everything here is a ratio within a moment or within the take: a
phone's automatic gain makes absolute loudness meaningless.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array
from dolcezza.core.sound.pitch import BLOCK, PitchTrack

PERIODS = 6.0
"""Periods of the lowest pitch in a window: what Boersma asks for harmonicity."""
FINER = 4
"""The autocorrelation is worked out at so many points a sample: a period is hardly ever a whole number of samples."""
SEARCH = 0.06
"""How far from the followed pitch the period is looked for (share)."""
MOST_DB, LEAST_DB = 40.0, -10.0
HARMONICS = 8
NEAR = 0.25
"""A harmonic holds the power within this share of the fundamental around it."""
HISS_FROM_HZ = 4000.0


@dataclass(frozen=True)
class ToneTrack:
    """m moments, as in the pitch track; NaN where there is no pitch. ``t_s`` (s); ``hz`` the pitch, finer; ``hnr_db`` harmonics over
    noise; ``fundamental`` 0..1 share of the first eight harmonics' power; ``split``: by how much the autocorrelation is higher at two
    periods than at one (> 0: every other period differs, the tone drops an octave); ``hiss_db``: power above 4 kHz against all, dB."""

    t_s: Array
    hz: Array
    hnr_db: Array
    fundamental: Array
    split: Array
    hiss_db: Array


def track_tone(samples: Array, pitch: PitchTrack, *, start_s: float, lowest_hz: float, rate_hz: int) -> ToneTrack:
    """The tone of mono ``samples`` at the moments of their ``pitch``; ``lowest_hz``: the lowest pitch there can be."""
    m = len(pitch.t_s)
    out = [np.full(m, np.nan) for _ in range(5)]
    window = int(PERIODS * rate_hz / lowest_hz)
    known = np.flatnonzero(np.isfinite(pitch.hz))
    middle = np.round((pitch.t_s - start_s) * rate_hz).astype(int)
    known = known[(middle[known] >= window // 2) & (middle[known] + window // 2 < len(samples))]
    shape = np.hanning(window + 1)[:-1]
    size = scipy.fft.next_fast_len(2 * window)
    own = _correlation(shape[None], size)[0]
    view = np.lib.stride_tricks.sliding_window_view(samples, window)
    for a in range(0, len(known), BLOCK):
        rows = known[a : a + BLOCK]
        frames = view[middle[rows] - window // 2].astype(np.float64)
        frames = (frames - frames.mean(axis=1, keepdims=True)) * shape
        lags = rate_hz / pitch.hz[rows]
        correlation = _correlation(frames, size) / np.maximum(own, 1e-9)
        one, period = _peak(correlation, lags)
        two, _ = _peak(correlation, 2 * period)
        parts = _parts(np.abs(scipy.fft.rfft(frames, size, axis=1)) ** 2, rate_hz / size, rate_hz / period)
        for values, found in zip(out, (rate_hz / period, _ratio_db(one), parts[0], two - one, parts[1]), strict=True):
            values[rows] = found
    return ToneTrack(pitch.t_s, *out)


def _correlation(frames: Array, size: int) -> Array:
    """Normalised autocorrelation of rows, ``FINER`` points a sample, as long as half the window."""
    power = np.abs(scipy.fft.rfft(frames, size, axis=1)) ** 2
    wide = scipy.fft.irfft(power, FINER * size, axis=1)[:, : FINER * frames.shape[1] // 2]
    return np.asarray(wide / np.maximum(wide[:, :1], 1e-12))


def _peak(correlation: Array, lags: Array) -> tuple[Array, Array]:
    """Height of the highest point near ``lags`` (r,) samples in rows of ``correlation``, and where it is (samples)."""
    reach = np.linspace(-SEARCH, SEARCH, 41)
    at = np.clip(np.round(FINER * lags[:, None] * (1 + reach)).astype(int), 1, correlation.shape[1] - 2)
    heights = np.take_along_axis(correlation, at, axis=1)
    best = heights.argmax(axis=1)
    rows = np.arange(len(lags))
    k = at[rows, best]
    before, here, after = (correlation[rows, k + d] for d in (-1, 0, 1))
    bend = before - 2 * here + after
    shift = np.clip(np.where(np.abs(bend) > 1e-15, 0.5 * (before - after) / np.where(np.abs(bend) > 1e-15, bend, 1.0), 0.0), -0.5, 0.5)
    return here - 0.25 * (before - after) * shift, (k + shift) / FINER


def _ratio_db(height: Array) -> Array:
    safe = np.clip(height, 1e-6, 1 - 1e-6)
    return np.asarray(np.clip(10 * np.log10(safe / (1 - safe)), LEAST_DB, MOST_DB))


def _parts(power: Array, bin_hz: float, hz: Array) -> tuple[Array, Array]:
    """Share of the fundamental in the harmonics' power, and power above 4 kHz against all in dB."""
    total = np.concatenate([np.zeros((len(power), 1)), np.cumsum(power, axis=1)], axis=1)
    rows = np.arange(len(power))[:, None]
    around = hz[:, None] * np.arange(1, HARMONICS + 1)
    low = np.clip(((around - NEAR * hz[:, None]) / bin_hz).astype(int), 0, power.shape[1])
    high = np.clip(((around + NEAR * hz[:, None]) / bin_hz).astype(int) + 1, 0, power.shape[1])
    harmonic = total[rows, high] - total[rows, low]
    hiss = total[:, -1] - total[:, min(int(HISS_FROM_HZ / bin_hz), power.shape[1])]
    return harmonic[:, 0] / np.maximum(harmonic.sum(axis=1), 1e-12), 10 * np.log10(
        np.maximum(hiss, 1e-12) / np.maximum(total[:, -1], 1e-12)
    )
