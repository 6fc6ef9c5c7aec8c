"""Where tones begin, and how: onsets by spectral flux, the rise of a tone, the gap before it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array
from dolcezza.core.sound.level import Loudness

HOP_S, WINDOW_S = 0.01, 0.046
BEFORE = 3
"""Frames between the two spectra that are compared."""
PEAK_S, MEAN_S = 0.05, 0.3
ABOVE = 0.2
"""An onset's flux stands so far above the mean around it (share of the take's largest)."""
APART_S = 0.08
NEAR_S = 0.07
"""How far from the stroke's start its quietest moment may lie (twice that after it)."""
RISEN, BEGUN = 0.8, 0.1
"""A tone has risen at this share of its level, and begun at that."""
GAP_SHARE = 0.2
"""Below this share of the softer neighbour there is a gap."""


def onsets(samples: Array, *, start_s: float, rate_hz: int) -> Array:
    """Times (k,) s at which tones begin in mono ``samples``: peaks of the rise of the logarithmic spectrum."""
    window, hop = int(WINDOW_S * rate_hz), int(HOP_S * rate_hz)
    if len(samples) < 4 * window:
        return np.zeros(0)
    _, t, spectrum = scipy.signal.stft(samples, rate_hz, nperseg=window, noverlap=window - hop, padded=False)
    size = np.abs(spectrum)
    log = np.log1p(2000.0 * size / max(float(size.max()), 1e-12))
    # a little vibrato moves a partial to the next bin and back: that is no onset
    usual = scipy.ndimage.maximum_filter1d(log, 5, axis=0)
    flux = np.zeros(log.shape[1])
    flux[BEFORE:] = np.maximum(log[:, BEFORE:] - usual[:, :-BEFORE], 0.0).sum(axis=0)
    flux /= max(float(flux.max()), 1e-12)
    peak = scipy.ndimage.maximum_filter1d(flux, 2 * int(PEAK_S / HOP_S) + 1)
    mean = scipy.ndimage.uniform_filter1d(flux, 2 * int(MEAN_S / HOP_S) + 1)
    found = np.flatnonzero((flux >= peak) & (flux > mean + ABOVE))
    kept: list[int] = []
    for k in found:
        if not kept or t[k] - t[kept[-1]] >= APART_S:
            kept.append(int(k))
    return np.asarray(start_s + t[kept] - 0.5 * BEFORE * HOP_S)


@dataclass(frozen=True)
class Attack:
    """How a tone begins: ``rise_s`` from a tenth to four fifths of its level, ``gap_s`` of quiet before it; NaN = cannot be told."""

    rise_s: float
    gap_s: float


def attack(loudness: Loudness, start_s: float, end_s: float, *, before_s: float = 0.25) -> Attack:
    """The beginning of the tone from ``start_s`` to ``end_s``, with the quiet just before it."""
    length = end_s - start_s
    _, own = loudness.between(start_s + 0.25 * length, end_s - 0.15 * length)
    if len(own) < 4:
        return Attack(float("nan"), float("nan"))
    tone = float(np.median(own))
    t, level = loudness.between(start_s - NEAR_S, start_s + 0.6 * length)
    if len(t) < 4 or tone <= 0:
        return Attack(float("nan"), float("nan"))
    lowest = int(level[t <= start_s + 2 * NEAR_S].argmin())
    after = level[lowest:]
    if after.max() < RISEN * tone:
        return Attack(float("nan"), float("nan"))
    top = lowest + int(np.argmax(after >= RISEN * tone))
    low = np.flatnonzero(level[lowest : top + 1] < BEGUN * tone)
    first = lowest + (int(low[-1]) if len(low) else 0)
    rise = float(t[top] - t[first])
    t, level = loudness.between(start_s - before_s, start_s + before_s)
    return Attack(rise, _longest(t, level < GAP_SHARE * tone))


def _longest(t: Array, quiet: Array) -> float:
    """Length (s) of the longest stretch of ``quiet`` points."""
    if not quiet.any():
        return 0.0
    edges = np.flatnonzero(np.diff(np.concatenate([[0], quiet.astype(int), [0]])))
    return float((edges[1::2] - edges[::2]).max() * float(np.median(np.diff(t))))
