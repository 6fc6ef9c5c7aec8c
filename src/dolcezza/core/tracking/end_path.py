"""The likeliest path of an end through all frames, and how like a bow it moves."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from dolcezza.core.base.arrays import Array

MOST_FRAME_COST = 10.0
"""What one frame may weigh against its neighbours: a burst of frames that lose the head must not drag it along."""
SAMPLE_COST = 0.35
"""What a sample of hair that is not there, or is and should not be, weighs against an end."""
JUMP_COST = 25.0
"""What a leap to any other place costs: a bow taken off and set down elsewhere between two frames."""
PATH_GATE = 8
"""How many samples the head may lie off the best path where the frame itself says so."""
PICTURE_EDGE_SAMPLES = 4
FEWEST_BENDS = 10
APART_S, ACCELERATION, END_SAMPLES = 0.04, 12.0, 1.5
"""An end's movement is looked at over so long; how hard bows are accelerated (one sd, lengths of hair a second squared); how well the place
of an end is known in one frame."""


def easy_steps(t_s: Array | None, n: int, usual: float, each_s: float = 1 / 30) -> Array:
    """How many columns an end moves at no great cost from each of ``n`` frames to the next (n - 1,): ``usual``, which it does in
    ``each_s``, and more in the longer while that no frame was taken. ``t_s`` (n,) s; None: frames come evenly."""
    apart = np.full(max(n - 1, 0), each_s) if t_s is None else np.diff(t_s)
    return np.asarray(usual * np.maximum(apart / each_s, 1.0))


def best_path(costs: Array, easy: Array | float, leap_cost: float = JUMP_COST) -> Array:
    """Cheapest path (n,) of column numbers through costs (n, m); a step of ``easy`` columns (the same for all, or (n - 1,)) costs a half,
    a leap to anywhere ``leap_cost``."""
    n, m = costs.shape
    steps = np.broadcast_to(np.asarray(easy, float), (max(n - 1, 0),))
    total = costs[0].copy()
    back = np.zeros((n, m), np.int32)
    columns = np.arange(m)
    window, price, padded, last = 0, np.zeros(1), total, -1.0
    for k in range(1, n):
        if steps[k - 1] != last:
            last = float(steps[k - 1])
            window = int(min(m - 1, np.ceil(8 * last)))
            price = 0.5 * (np.arange(-window, window + 1) / last) ** 2
            padded = np.full(m + 2 * window, np.inf)
        padded[window : window + m] = total
        reach = np.lib.stride_tricks.sliding_window_view(padded, 2 * window + 1) + price
        best = reach.argmin(axis=1)
        near = reach[columns, best]
        from_afar = int(total.argmin())
        leap = near > total[from_afar] + leap_cost
        back[k] = np.where(leap, from_afar, columns + best - window)
        total = np.where(leap, total[from_afar] + leap_cost, near) + costs[k]
    path = np.zeros(n, int)
    path[-1] = int(total.argmin())
    for k in range(n - 1, 0, -1):
        path[k - 1] = back[k, path[k]]
    return path


def near_path(costs: Array, path: int, limit: int) -> int:
    """The path says about where; a quick bow must not lag behind it, so the place itself is the frame's own best near it."""
    low = max(0, path - PATH_GATE)
    return low + int(costs[low : min(path + PATH_GATE + 1, limit)].argmin()) if low < limit else path


def roughness(frames: Iterable[int], costs: Array, path: Array, limits: Array, *, length: float, t_s: Array | None) -> float:
    """How unlike a bow the ends along a path move: it neither leaps nor stands still from one moment to the next. 0 = evenly, at most 4.

    ``length`` of the hair in samples, ``t_s`` (n,) s of the frames (None: thirty a second). Half the square of the acceleration, in what
    bows are usually accelerated by, on the average.
    """
    seen = [k for k in frames if path[k] < limits[k] - PICTURE_EDGE_SAMPLES]
    place = np.full(len(path), np.nan)
    place[seen] = [near_path(costs[k], int(path[k]), int(limits[k])) for k in seen]
    t = np.arange(len(path)) / 30 if t_s is None else t_s
    ways = np.diff(t)
    apart = max(1, round(APART_S / float(np.median(ways)))) if len(ways) else 1
    if len(ways) < 2 * apart:
        return 0.0
    before, after = (np.convolve(ways, np.ones(apart), "valid")[part] for part in (slice(None, -apart), slice(apart, None)))
    turned = (place[2 * apart :] - place[apart:-apart]) / after - (place[apart:-apart] - place[: -2 * apart]) / before
    # as far as a bow that is accelerated all the while would be from where its speed takes it
    while_s = 0.5 * (before + after)
    known = np.isfinite(turned)
    bends, usual = (turned * while_s)[known], np.hypot(ACCELERATION * while_s**2 * length, END_SAMPLES)[known]
    return float(np.minimum(0.5 * (bends / usual) ** 2, 4.0).mean()) if len(bends) >= FEWEST_BENDS else 0.0
