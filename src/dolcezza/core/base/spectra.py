"""Spectra of short pieces of a signal: Welch's periodogram and the short-time Fourier transform.

The same as ``scipy.signal``'s (a test compares them), without what importing that brings along: most of a second.
"""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.arrays import Array


def hann(size: int) -> Array:
    """A periodic Hann window (size,)."""
    return 0.5 - 0.5 * np.cos(2 * np.pi * np.arange(size) / size)


def welch(x: Array, *, rate_hz: float, piece: int) -> tuple[Array, Array]:
    """Frequencies (m,) Hz and power density (m,) of ``x`` (n,) by Welch's method: pieces of ``piece`` samples that overlap by half, each
    without its mean, under a Hann window."""
    starts = np.arange(0, len(x) - piece + 1, piece - piece // 2)
    window = hann(piece)
    parts = np.asarray(x, float)[starts[:, None] + np.arange(piece)]
    parts = (parts - parts.mean(axis=1, keepdims=True)) * window
    power = (np.abs(np.fft.rfft(parts, axis=1)) ** 2).mean(axis=0) / (rate_hz * float((window**2).sum()))
    power[1 : len(power) - (piece % 2 == 0)] *= 2
    return np.fft.rfftfreq(piece, 1 / rate_hz), power


def stft(samples: Array, *, rate_hz: float, piece: int, hop: int) -> tuple[Array, Array]:
    """Times (k,) s and spectra (m, k) of mono ``samples``: pieces of ``piece`` samples about every ``hop``-th one, under a Hann window;
    before the beginning and after the end there is nothing."""
    half = piece // 2
    padded = np.concatenate([np.zeros(half), np.asarray(samples, float), np.zeros(half)])
    starts = np.arange(0, len(padded) - piece + 1, hop)
    window = hann(piece)
    spectra = np.fft.rfft(padded[starts[:, None] + np.arange(piece)] * window, axis=1) / window.sum()
    return starts / rate_hz, spectra.T
