"""The bow moves smoothly: what jumps from frame to frame is noise. Steadies the solution within stretches on one string."""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.signals import robust_sd, runs, whittaker

Array = np.ndarray

CUTOFF_HZ = {"contact": 4.0, "angle": 5.0, "inclination": 4.0, "position": 9.0}
"""What moves faster than this is taken for noise. The place on the bow keeps more, so that turns stay sharp."""


def penalty(cutoff_hz: float, rate_hz: float) -> float:
    """Weight of the second differences that halves a vibration of ``cutoff_hz`` sampled at ``rate_hz``."""
    return float(1.0 / (2.0 * np.sin(np.pi * min(cutoff_hz / rate_hz, 0.45))) ** 4)


def smooth_params(params: Array, string: Array, confidence: Array, *, rate_hz: float) -> Array:
    """Smooth parameter rows (n, 4); ``string`` (n,) -1 where missing, ``confidence`` (n,) as weights.

    Position is smoothed across changes of string, the rest within one string. Outliers lose their weight. Missing
    frames stay missing.
    """
    out = params.copy()
    seen = (string >= 0) & np.isfinite(params[:, 0])
    change = np.concatenate([[True], string[1:] != string[:-1]])
    pieces: list[tuple[int, int]] = []
    for a, b in runs(seen):
        edges = [a, *[k for k in range(a + 1, b) if change[k]], b]
        pieces += list(zip(edges[:-1], edges[1:], strict=True))
    for col, name in ((0, "contact"), (1, "angle"), (2, "inclination")):
        for a, b in pieces:
            out[a:b, col] = _steady(params[a:b, col], confidence[a:b], penalty(CUTOFF_HZ[name], rate_hz))
    for a, b in runs(seen):
        out[a:b, 3] = _steady(params[a:b, 3], confidence[a:b], penalty(CUTOFF_HZ["position"], rate_hz))
    return out


def _steady(values: Array, weights: Array, lam: float) -> Array:
    if len(values) < 4:
        return values
    # jumps are found against a running median, so that a burst of outliers does not pull the curve with it
    half = 3
    padded = np.pad(values, half, mode="edge")
    middle = np.median(np.lib.stride_tricks.sliding_window_view(padded, 2 * half + 1), axis=-1)
    left = values - middle
    spread = max(robust_sd(left), 1e-4 * max(1.0, float(np.abs(values).max())))
    w = np.maximum(weights, 0.05) * np.clip(1 - (left / (6.0 * spread)) ** 2, 0.0, None) ** 2
    smoothed = whittaker(values, w, lam)
    for _ in range(2):
        left = values - smoothed
        spread = max(robust_sd(left), 1e-4 * max(1.0, float(np.abs(values).max())))
        w = np.maximum(weights, 0.05) / (1 + (left / (2.5 * spread)) ** 2)
        smoothed = whittaker(values, w, lam)
    return smoothed
