"""Pitch, clarity and level of a take's sound.

YIN (de Cheveigné & Kawahara 2002, from memory): the difference of the sound with itself, shifted; the first deep dip of its
cumulative mean is the period. Computed by FFT for all frames at once.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array

RATE_HZ = 16_000
HOP = 256
DIP = 0.15
"""How deep a dip must be to be the period (share of the mean difference)."""
AS_DEEP = 0.1
"""In a room that rings no dip is deep: the first that is as deep as the deepest, but for so much, is the period and not its double."""
BLOCK = 512
"""Frames worked on at once; bounds the memory."""


@dataclass(frozen=True)
class PitchTrack:
    """m frames of sound. ``t_s`` (m,) middle of each on the video's clock, ``hz`` (m,) NaN where there is no clear pitch,
    ``clarity`` (m,) 0..1 (1 = perfectly periodic), ``level`` (m,) root mean square."""

    t_s: Array
    hz: Array
    clarity: Array
    level: Array


def track_pitch(samples: Array, *, start_s: float, lowest_hz: float, highest_hz: float, rate_hz: int = RATE_HZ) -> PitchTrack:
    """Follow the pitch of mono ``samples`` between two limits.

    The window holds two periods of the lowest pitch and a half (at least 32 ms). Silence and noise have no pitch.
    """
    longest = int(np.ceil(rate_hz / lowest_hz)) + 2
    shortest = max(2, int(rate_hz / highest_hz))
    window = max(512, int(1.5 * longest))
    need = window + longest
    if len(samples) < need + HOP:
        empty = np.zeros(0)
        return PitchTrack(empty, empty, empty, empty)
    starts = np.arange(0, len(samples) - need, HOP)
    hz, clarity, level = (np.full(len(starts), np.nan) for _ in range(3))
    for a in range(0, len(starts), BLOCK):
        part = slice(a, a + BLOCK)
        frames = np.lib.stride_tricks.sliding_window_view(samples, need)[starts[part]].astype(np.float64)
        hz[part], clarity[part], level[part] = _yin(frames, window, shortest, longest, rate_hz)
    loud = level > max(0.02 * float(np.percentile(level, 95)), 1e-6)
    hz[~loud | (clarity < 0.6)] = np.nan
    return PitchTrack(start_s + (starts + 0.5 * need) / rate_hz, hz, np.where(loud, clarity, 0.0), level)


def _yin(frames: Array, window: int, shortest: int, longest: int, rate_hz: int) -> tuple[Array, Array, Array]:
    head = frames[:, :window]
    size = scipy.fft.next_fast_len(frames.shape[1] + window)
    whole, first = (scipy.fft.rfft(part, size, axis=1) for part in (frames, head))
    cross = scipy.fft.irfft(whole * np.conj(first), size, axis=1)[:, : longest + 1]
    square = np.cumsum(np.pad(frames**2, ((0, 0), (1, 0))), axis=1)
    energy = square[:, window : window + longest + 1] - square[:, : longest + 1]
    difference = np.maximum(energy[:, :1] + energy - 2 * cross, 0.0)
    running = np.cumsum(difference[:, 1:], axis=1) / np.arange(1, longest + 1)
    normal = np.ones_like(difference)
    normal[:, 1:] = difference[:, 1:] / np.maximum(running, 1e-12)
    search = normal[:, shortest:longest]
    deep = search < np.maximum(DIP, search.min(axis=1, keepdims=True) + AS_DEEP)
    first = np.where(deep.any(axis=1), deep.argmax(axis=1), search.argmin(axis=1))
    rows = np.arange(len(frames))
    for _ in range(longest):  # walk down to the bottom of the dip
        ahead = np.minimum(first + 1, search.shape[1] - 1)
        lower = (search[rows, ahead] < search[rows, first]) & (ahead > first)
        if not lower.any():
            break
        first = np.where(lower, ahead, first)
    lag = first + shortest
    before, here, after = normal[rows, np.maximum(lag - 1, 0)], normal[rows, lag], normal[rows, np.minimum(lag + 1, longest)]
    bend = before - 2 * here + after
    shift = np.where(np.abs(bend) > 1e-12, 0.5 * (before - after) / np.where(np.abs(bend) > 1e-12, bend, 1.0), 0.0)
    level = np.sqrt(energy[:, 0] / window)
    return rate_hz / (lag + np.clip(shift, -0.5, 0.5)), np.clip(1 - here, 0, 1), level
