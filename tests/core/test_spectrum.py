"""Windowed spectra beside SciPy's signal room (a reference library), and beside what is known of a pure tone."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import signal

from dolcezza.core.base.spectrum import hann, magnitudes, power_density

NOISE = np.random.default_rng(3).normal(size=1000)


@pytest.mark.parametrize("n", [7, 8, 64, 255])
def test_the_window_is_hanns(n):
    assert hann(n) == pytest.approx(signal.get_window("hann", n), abs=1e-12)


@pytest.mark.parametrize(("length", "n"), [(1000, 64), (1000, 65), (97, 97), (130, 64), (20, 17)])
def test_power_is_welchs(length, n):
    frequency, power = power_density(NOISE[:length] + 3.0, 30.0, n)
    known, should = signal.welch(NOISE[:length] + 3.0, fs=30.0, nperseg=n)
    assert frequency == pytest.approx(known) and power == pytest.approx(should, rel=1e-9, abs=1e-12)


def test_the_power_of_a_tone_is_half_its_amplitude_squared():
    t = np.arange(600) / 60.0
    frequency, power = power_density(2.0 * np.sin(2 * np.pi * 6.0 * t), 60.0, 120)
    assert power.sum() * (frequency[1] - frequency[0]) == pytest.approx(2.0, rel=0.02)
    assert frequency[power.argmax()] == pytest.approx(6.0)


@pytest.mark.parametrize(("n", "hop"), [(64, 16), (65, 20), (128, 128)])
def test_magnitudes_are_those_of_the_short_time_transform(n, hop):
    t, size = magnitudes(NOISE, 100.0, n, hop)
    _, known, should = signal.stft(NOISE, 100.0, nperseg=n, noverlap=n - hop, padded=False)
    m = min(len(t), len(known))
    assert abs(len(t) - len(known)) <= 1
    assert t[:m] == pytest.approx(known[:m]) and size[:, :m] == pytest.approx(np.abs(should)[:, :m], abs=1e-12)
