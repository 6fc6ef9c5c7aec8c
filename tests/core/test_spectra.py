"""Spectra against the library whose names they have."""

from __future__ import annotations

import numpy as np
import pytest
import scipy

from dolcezza.core.base.spectra import stft, welch


@pytest.mark.parametrize(("count", "piece"), [(200, 32), (201, 33), (64, 64), (500, 17)])
def test_the_periodogram_is_the_librarys(count, piece):
    """scipy.signal.welch with its own settings (Hann, half overlap, constant detrend, density)."""
    x = np.random.default_rng(count).normal(size=count).cumsum()
    frequency, power = scipy.signal.welch(x, fs=30.0, nperseg=piece)
    own_frequency, own = welch(x, rate_hz=30.0, piece=piece)
    assert own_frequency == pytest.approx(frequency) and own == pytest.approx(power)


@pytest.mark.parametrize(("count", "piece", "hop"), [(8000, 736, 160), (4001, 400, 80), (2000, 1012, 220)])
def test_the_short_time_spectra_are_the_librarys(count, piece, hop):
    """scipy.signal.stft with zeros at the ends."""
    x = np.random.default_rng(count).normal(size=count)
    _, t, spectra = scipy.signal.stft(x, 16000, nperseg=piece, noverlap=piece - hop, padded=False)
    own_t, own = stft(x, rate_hz=16000, piece=piece, hop=hop)
    assert own_t == pytest.approx(t) and np.allclose(own, spectra)
