"""Windowed spectra: Hann's window, Welch's averaged power, short-time magnitudes.

The same figures as the signal room of SciPy gives (a test compares them); that room takes longer to load than the rest of the program.
"""

from __future__ import annotations

import numpy as np
from scipy import fft

Array = np.ndarray


def hann(n: int) -> Array:
    """Hann's window (n,), periodic."""
    return 0.5 - 0.5 * np.cos(2 * np.pi * np.arange(n) / n)


def _frames(values: Array, n: int, hop: int) -> Array:
    return np.lib.stride_tricks.sliding_window_view(values, n)[::hop]


def power_density(values: Array, rate_hz: float, n: int) -> tuple[Array, Array]:
    """Frequencies (k,) Hz and power density (k,) of ``values`` (m,), m >= n: mean over pieces of ``n`` that overlap by half (P. Welch,
    1967), each without its mean."""
    shape = hann(n)
    pieces = _frames(np.asarray(values, float), n, n - n // 2)
    power = np.abs(fft.rfft((pieces - pieces.mean(axis=1, keepdims=True)) * shape, axis=1)) ** 2
    power /= rate_hz * (shape**2).sum()
    # what lies at negative frequencies counts too; at nothing and at half the rate there is no such twin
    power[:, 1 : (None if n % 2 else -1)] *= 2
    return fft.rfftfreq(n, 1 / rate_hz), power.mean(axis=0)


def magnitudes(samples: Array, rate_hz: float, n: int, hop: int) -> tuple[Array, Array]:
    """Times (m,) s from the first sample and magnitudes (k, m) of pieces of ``n`` samples about them; beyond the ends all is zero."""
    padded = np.pad(np.asarray(samples), n // 2)
    shape = hann(n)
    size = np.abs(fft.rfft(_frames(padded, n, hop) * (shape / shape.sum()).astype(padded.dtype), axis=1)).T
    return np.arange(size.shape[1]) * hop / rate_hz, size
