"""Series with gaps (NaN = missing): smoothing, derivative, runs. Times in seconds, all arrays one-dimensional."""

from __future__ import annotations

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array

UNEVEN = 0.1
"""Samples come evenly if none is off by more than this share of what they usually are apart."""


def bend_parts(t_s: Array) -> Array:
    """What each of three neighbours has in the second difference (n - 2, 3) of a series at ``t_s`` (n,) s: 1, -2, 1 where they come evenly,
    and where some are missing between them 0 for whatever moves evenly all the same."""
    before, after = np.maximum(np.diff(t_s), 1e-3)[:-1], np.maximum(np.diff(t_s), 1e-3)[1:]
    middle = 0.5 * (before + after)
    return np.stack([middle / before, -middle / before - middle / after, middle / after], axis=1)


def whittaker(values: Array, weights: Array, lam: float, *, t_s: Array | None = None) -> Array:
    """Penalised smoothing (Whittaker 1923; Eilers 2003, both from memory).

    Minimises ``sum w (y - z)^2 + lam * sum (second difference of z)^2``. Missing values have weight 0. Where samples do not come evenly
    (``t_s`` (n,) s) ``lam`` is that of samples as far apart as they usually are, and what accelerates alike costs alike.
    Args: values (n,), weights (n,) >= 0, lam > 0. Returns (n,). A series without any weight comes back all NaN.
    """
    n = len(values)
    w = np.where(np.isfinite(values), weights, 0.0)
    y = np.where(w > 0, values, 0.0)
    if n == 0 or not (w > 0).any():
        return np.full(n, np.nan)
    if n <= 3:
        return np.full(n, float(np.average(y, weights=w)))
    t = np.arange(n, dtype=float) if t_s is None else np.asarray(t_s, float)
    gap = np.maximum(0.5 * (t[2:] - t[:-2]), 1e-3)
    cost = lam * (np.median(gap) / gap) ** 4
    parts = bend_parts(t)
    band = np.zeros((3, n))
    for i in range(3):
        for j in range(i, 3):
            band[2 - (j - i), j : j + n - 2] += cost * parts[:, i] * parts[:, j]
    band[2] += w + 1e-9
    return np.asarray(scipy.linalg.solveh_banded(band, w * y))


def evenly(t_s: Array, *series: Array, rate_hz: float) -> tuple[Array, ...]:
    """Series (n,) at ``t_s`` (n,) s as if their samples had come evenly, ``rate_hz`` a second; what did come evenly is left as it is."""
    step = 1 / rate_hz
    if len(t_s) < 2 or np.abs(np.diff(t_s) - step).max() <= UNEVEN * step:
        return series
    even = np.arange(t_s[0], t_s[-1] + 0.01 * step, step)
    return tuple(np.interp(even, t_s, v) for v in series)


def smoothing_weight(cutoff_hz: float, rate_hz: float) -> float:
    """``lam`` for ``whittaker`` (second differences) that halves a vibration of ``cutoff_hz`` sampled at ``rate_hz``."""
    return float(1.0 / (2.0 * np.sin(np.pi * min(cutoff_hz / rate_hz, 0.45))) ** 4)


def runs(flags: Array) -> list[tuple[int, int]]:
    """Stretches of True in ``flags`` (n,) as half-open index pairs."""
    padded = np.diff(np.concatenate([[0], np.asarray(flags, bool).astype(np.int8), [0]]))
    return list(zip(np.flatnonzero(padded == 1).tolist(), np.flatnonzero(padded == -1).tolist(), strict=True))


def stays(values: Array, within: float) -> list[tuple[int, int]]:
    """Stretches (start, end) of rows of ``values`` (n, d) in which no column changes by more than ``within``, one after the other, each as
    long as it can be; rows with NaN belong to none."""
    out = []
    for a, b in runs(np.asarray(np.isfinite(values).all(axis=1))):
        start, low, high = a, values[a], values[a]
        for k in range(a + 1, b):
            low, high = np.minimum(low, values[k]), np.maximum(high, values[k])
            if (high - low).max() > within:
                out.append((start, k))
                start, low, high = k, values[k], values[k]
        out.append((start, b))
    return out


def fill_gaps(values: Array, longest: int | None = None) -> Array:
    """Linear interpolation over missing stretches of at most ``longest`` samples (all of them when None)."""
    out = np.asarray(values, float).copy()
    good = np.isfinite(out)
    if not good.any():
        return out
    idx = np.arange(len(out))
    filled = np.interp(idx, idx[good], out[good])
    for a, b in runs(~good):
        if longest is None or b - a <= longest:
            out[a:b] = filled[a:b]
    return out


def derivative(values: Array, times: Array) -> Array:
    """Central difference that respects uneven times and missing values (NaN where a neighbour is missing)."""
    out = np.full(len(values), np.nan)
    if len(values) > 2:
        out[1:-1] = (values[2:] - values[:-2]) / (times[2:] - times[:-2])
        out[0] = (values[1] - values[0]) / (times[1] - times[0])
        out[-1] = (values[-1] - values[-2]) / (times[-1] - times[-2])
    return out


def robust_sd(values: Array) -> float:
    """Spread by the median absolute deviation, scaled to one standard deviation of a normal distribution."""
    v = values[np.isfinite(values)]
    return float(1.4826 * np.median(np.abs(v - np.median(v)))) if len(v) else float("nan")


def noise_of_bends(bends: Array) -> float:
    """The noise (one sd) of single values of a smooth series, by its second differences: the sum of their variances is six times one's."""
    return robust_sd(bends) / float(np.sqrt(6.0))
