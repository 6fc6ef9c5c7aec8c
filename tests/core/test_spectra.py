"""The periodogram against the library whose name it has."""

from __future__ import annotations

import numpy as np
import pytest
import scipy

from dolcezza.core.base.spectra import welch


@pytest.mark.parametrize(("count", "piece"), [(200, 32), (201, 33), (64, 64), (500, 17)])
def test_the_periodogram_is_the_librarys(count, piece):
    """scipy.signal.welch with its own settings (Hann, half overlap, constant detrend, density)."""
    x = np.random.default_rng(count).normal(size=count).cumsum()
    frequency, power = scipy.signal.welch(x, fs=30.0, nperseg=piece)
    own_frequency, own = welch(x, rate_hz=30.0, piece=piece)
    assert own_frequency == pytest.approx(frequency) and own == pytest.approx(power)
