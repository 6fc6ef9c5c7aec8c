"""Series with gaps (NaN = missing): smoothing, derivative, runs. Times in seconds, all arrays one-dimensional."""

from __future__ import annotations

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array


def whittaker(values: Array, weights: Array, lam: float, order: int = 2) -> Array:
    """Penalised smoothing of an evenly sampled series (Whittaker 1923; Eilers 2003, both from memory).

    Minimises ``sum w (y - z)^2 + lam * sum (difference of ``order`` of z)^2``. Missing values have weight 0.
    Args: values (n,), weights (n,) >= 0, lam > 0. Returns (n,). A series without any weight comes back all NaN.
    """
    n = len(values)
    w = np.where(np.isfinite(values), weights, 0.0)
    y = np.where(w > 0, values, 0.0)
    if n == 0 or not (w > 0).any():
        return np.full(n, np.nan)
    if n <= order + 1:
        return np.full(n, float(np.average(y, weights=w)))
    d = np.array([1.0])
    for _ in range(order):
        d = np.convolve(d, [1.0, -1.0])
    band = np.zeros((order + 1, n))
    for k in range(order + 1):
        for i in range(order + 1 - k):
            c = lam * d[i] * d[i + k]
            band[order - k, i + k : i + k + n - order] += c
    band[order] += w + 1e-9
    return np.asarray(scipy.linalg.solveh_banded(band, w * y))


def smoothing_weight(cutoff_hz: float, rate_hz: float) -> float:
    """``lam`` for ``whittaker`` (second differences) that halves a vibration of ``cutoff_hz`` sampled at ``rate_hz``."""
    return float(1.0 / (2.0 * np.sin(np.pi * min(cutoff_hz / rate_hz, 0.45))) ** 4)


def runs(flags: Array) -> list[tuple[int, int]]:
    """Stretches of True in ``flags`` (n,) as half-open index pairs."""
    padded = np.diff(np.concatenate([[0], np.asarray(flags, bool).astype(np.int8), [0]]))
    return list(zip(np.flatnonzero(padded == 1).tolist(), np.flatnonzero(padded == -1).tolist(), strict=True))


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
