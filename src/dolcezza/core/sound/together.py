"""Two recordings of one playing: by how much the second runs behind the first, told by their sound alone.

Coarsely by when the sound swells (what two phones in one room have in common whatever their microphones do), finely by the waves
themselves: both are whitened first (generalised cross-correlation with phase transform, Knapp & Carter 1976, from memory), so that rooms
and microphones count little. Windows along the take tell how the two clocks drift apart.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array

HOP_S = 0.01
COARSE_WINDOW_S = 0.032
BANDS = 16
BLOCK = 2048
FINE_S = 0.06
"""The waves are laid together this near to where the swelling has them."""
GUESSES = 6
"""So many ways to lay the swelling together are tried: strokes that are all alike fit at each other stroke nearly as well."""
LOWEST_HZ, HIGHEST_HZ = 150.0, 4000.0
"""Speech of the room below, hiss of phones above."""
OVERLAP_S = 1.5
"""The two must have so much in common."""
WINDOW_S = 4.0
FEWEST_WINDOWS = 4
LEAST_PEAK = 4.0
SURE_PEAK = 7.0
"""A peak stands out that is so many times the usual height (median of its neighbourhood) of what lies beside it."""
MOST_DRIFT = 3e-4
"""Clocks of phones differ by less."""
CLEAR_SHARE = 0.6
"""So large a share of windows must agree on the moment: each alone may be laid together by chance."""
AGREE_S = 0.003
OWN_SD_S = 0.001
"""Way of the sound in a room: a third of a metre."""


@dataclass(frozen=True)
class Together:
    """A moment ``t`` of the first recording is ``t + offset_s + drift * t`` in the second; ``sd_s`` of it, ``sure``: they are of the same
    playing. ``peak``: how far the agreement of the waves stands out."""

    offset_s: float
    drift: float
    sd_s: float
    peak: float
    sure: bool

    def second(self, t_s: Array) -> Array:
        """The second recording's clock at moments of the first (n,) s."""
        return t_s + self.offset_s + self.drift * t_s


def lay_together(first: Array, second: Array, *, rate_hz: int, starts_s: tuple[float, float] = (0.0, 0.0)) -> Together | None:
    """How two recordings (mono samples at ``rate_hz``) lie to each other; None where they have too little in common to be tried.

    ``starts_s``: the time of each one's first sample on its own clock.
    """
    guesses = _by_swelling(first, second, rate_hz)
    if not guesses:
        return None
    a, b = _band(first, rate_hz), _band(second, rate_hz)
    found = [_by_waves(a, b, lag, rate_hz) for lag in guesses]
    lag, peak = max(found, key=lambda f: f[1])
    drift, spread, share = 0.0, 0.0, 0.0
    at, own = _windows(a, b, lag, rate_hz)
    if len(at) >= FEWEST_WINDOWS:
        line = scipy.stats.theilslopes(own, at)
        drift = float(line.slope) if abs(line.slope) < MOST_DRIFT else 0.0
        level = float(np.median(own - drift * at))
        near = np.abs(own - (level + drift * at)) < AGREE_S
        share = float(near.mean())
        if share >= CLEAR_SHARE:
            lag = float(np.mean(own[near] - drift * at[near]))
            spread = float(np.std(own[near] - (lag + drift * at[near])) / np.sqrt(near.sum()))
        else:
            drift = 0.0
    # lag and drift are of samples counted from each one's first; on the clocks of the files
    offset = lag + starts_s[1] - starts_s[0] - drift * starts_s[0]
    return Together(offset, drift, float(np.hypot(OWN_SD_S, spread)), peak, share >= CLEAR_SHARE or (peak >= SURE_PEAK and not len(at)))


def _swelling(samples: Array, rate_hz: int) -> Array:
    """How loud each band is (bands, m) every ``HOP_S``, against itself over a second: however a phone colours it."""
    size, hop = 2 ** int(np.log2(COARSE_WINDOW_S * rate_hz) + 0.5), int(HOP_S * rate_hz)
    if len(samples) < size:
        return np.zeros((BANDS, 0))
    frames = np.lib.stride_tricks.sliding_window_view(np.asarray(samples, np.float32), size)[::hop]
    power = np.empty((BANDS, len(frames)), np.float32)
    edges = np.geomspace(LOWEST_HZ, min(HIGHEST_HZ, 0.45 * rate_hz), BANDS + 1) * size / rate_hz
    first = np.floor(edges).astype(int)
    window = scipy.signal.get_window("hann", size).astype(np.float32)
    for k in range(0, len(frames), BLOCK):
        strength = np.abs(scipy.fft.rfft(frames[k : k + BLOCK] * window, axis=1)) ** 2
        for band in range(BANDS):
            power[band, k : k + BLOCK] = strength[:, first[band] : max(first[band + 1], first[band] + 1)].mean(axis=1)
    level = np.log(power + 1e-3 * float(np.percentile(power, 95)) + 1e-12)
    return np.asarray(level - scipy.ndimage.uniform_filter1d(level, int(1.0 / HOP_S), axis=1), np.float64)


def _by_swelling(first: Array, second: Array, rate_hz: int) -> list[float]:
    """Likely lags (s) of the second behind the first, the likeliest first."""
    a, b = _swelling(first, rate_hz), _swelling(second, rate_hz)
    n, m = a.shape[1], b.shape[1]
    least = int(OVERLAP_S / HOP_S)
    if min(n, m) < least:
        return []
    size = scipy.fft.next_fast_len(n + m)

    def along(x: Array, y: Array) -> Array:
        cross = scipy.fft.irfft((np.conj(scipy.fft.rfft(x, size)) * scipy.fft.rfft(y, size)).sum(axis=0), size)
        return np.asarray(np.roll(cross, n - 1)[: n + m - 1])

    energy = along((a**2).sum(axis=0)[None], np.ones((1, m))) * along(np.ones((1, n)), (b**2).sum(axis=0)[None])
    overlap = np.round(along(np.ones((1, n)), np.ones((1, m))))
    alike = np.where(overlap >= least, along(a, b) / np.sqrt(np.maximum(energy, 1e-9)), -1.0)
    # a short overlap is alike by chance
    left = alike * np.sqrt(np.minimum(overlap / (0.5 * min(n, m)), 1.0))
    lags: list[float] = []
    for _ in range(GUESSES):
        k = int(left.argmax())
        if left[k] <= 0.02:
            break
        lags.append((k - (n - 1)) * HOP_S)
        left[max(0, k - 6) : k + 7] = -1.0
    return lags


def _band(samples: Array, rate_hz: int) -> Array:
    sos = scipy.signal.butter(3, [LOWEST_HZ, min(HIGHEST_HZ, 0.45 * rate_hz)], "bandpass", fs=rate_hz, output="sos")
    return np.asarray(scipy.signal.sosfilt(sos, np.asarray(samples, np.float64)))


def _by_waves(a: Array, b: Array, lag_s: float, rate_hz: int) -> tuple[float, float]:
    """The lag (s) near ``lag_s`` at which the waves agree best, and how far that stands out."""
    shift = round(lag_s * rate_hz)
    # so far into the one and into the other their common part begins
    at_a, at_b = max(0, -shift), max(0, shift)
    n = min(len(a) - at_a, len(b) - at_b)
    reach = int(FINE_S * rate_hz)
    if n < 4 * reach:
        return lag_s, 0.0
    part_a, part_b = a[at_a : at_a + n], b[at_b : at_b + n]
    size = scipy.fft.next_fast_len(n + 2 * reach)
    spectrum = np.conj(scipy.fft.rfft(part_a, size)) * scipy.fft.rfft(part_b, size)
    hz = scipy.fft.rfftfreq(size, 1 / rate_hz)
    inside = (hz >= LOWEST_HZ) & (hz <= HIGHEST_HZ)
    strength = np.abs(spectrum)
    # half-way whitened: a string's partials are few, and where none sounds there is only noise
    white = np.where(inside, spectrum / np.maximum(strength, 1e-12) ** 0.7, 0.0)
    near = scipy.fft.irfft(white, size)
    near = np.concatenate([near[-reach:], near[: reach + 1]])
    height = np.abs(scipy.signal.hilbert(near))
    k = int(height.argmax())
    bend = 0.0
    if 0 < k < len(height) - 1:
        before, here, after = height[k - 1 : k + 2]
        curve = before - 2 * here + after
        bend = float(np.clip(0.5 * (before - after) / curve, -0.5, 0.5)) if abs(curve) > 1e-15 else 0.0
    return (shift + k - reach + bend) / rate_hz, float(height[k] / max(float(np.median(height)), 1e-15))


def _windows(a: Array, b: Array, lag_s: float, rate_hz: int) -> tuple[Array, Array]:
    """Middle (m,) (s of the first) and lag (m,) (s) of windows along what the two have in common; none where that is short."""
    shift, length = round(lag_s * rate_hz), int(WINDOW_S * rate_hz)
    start, end = max(0, -shift), min(len(a), len(b) - shift)
    count = max(0, (end - start) // (length // 2) - 1)
    if count < FEWEST_WINDOWS:
        return np.zeros(0), np.zeros(0)
    begins = start + np.arange(count) * (length // 2)
    found = [_by_waves(a[k : k + length], b[k + shift : k + shift + length], 0.0, rate_hz) for k in begins]
    heard = np.array([peak >= LEAST_PEAK for _, peak in found])
    lags = np.array([own for own, _ in found]) + shift / rate_hz
    # where nothing is played there is nothing to lay together
    if heard.sum() < max(FEWEST_WINDOWS, 0.4 * count):
        return np.zeros(0), np.zeros(0)
    return (begins[heard] + 0.5 * length) / rate_hz, lags[heard]
