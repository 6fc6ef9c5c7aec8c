"""Grey levels along and across a line in a picture, and straight lines through what they show, below a pixel."""

from __future__ import annotations

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array

LINE_PIECES = 6
"""Two lines that belong together are all but parallel over such a part of them: a bow is bent."""


def inside(point: Array, direction: Array, reach: float, step: float, shape: tuple[int, int], *, half: float = 0.0) -> Array:
    """Places along a line, px, at which it lies in the picture, with ``half`` px to either side of it."""
    along = np.arange(-np.floor(reach / step), np.floor(reach / step) + 1) * step
    xy = point + along[:, None] * direction
    x, y = 2 + half * abs(direction[1]), 2 + half * abs(direction[0])
    ok = (xy[:, 0] >= x) & (xy[:, 0] < shape[1] - 1 - x) & (xy[:, 1] >= y) & (xy[:, 1] < shape[0] - 1 - y)
    return np.asarray(along[ok])


def sample(grey: Array, point: Array, direction: Array, along: Array, across: Array) -> Array:
    """Grey values (m, k), float32, at ``along`` (m,) px down a line and ``across`` (k,) px beside it (+ along (-dy, dx)).

    (0, 0) is the picture's corner, so pixel centres lie at halves.
    """
    a, c = along.astype(np.float32)[:, None], np.asarray(across, np.float32)[None, :]
    dx, dy = np.float32(direction[0]), np.float32(direction[1])
    x = a * dx + (np.float32(point[0] - 0.5) - c * dy)
    y = a * dy + (np.float32(point[1] - 0.5) + c * dx)
    return cv2.remap(grey, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE).astype(np.float32)


def centres(profile: Array, inner: Array, at: Array, lag: int) -> Array:
    """Sub-pixel middle of the ridge: centre of what stands above the higher flank, within the ridge's width."""
    rows = np.arange(len(at))
    window = np.arange(-lag, lag + 1)
    cols = np.clip(at[:, None] + lag + window, 0, profile.shape[1] - 1)
    values = profile[rows[:, None], cols]
    floor = np.maximum(values[:, 0], values[:, -1])[:, None]
    lift = np.clip(values - floor, 0, None)
    mass = lift.sum(axis=1)
    return np.asarray(inner[at] + (lift * window).sum(axis=1) / np.maximum(mass, 1e-6) * (inner[1] - inner[0]))


def straight(along: Array, centre: Array, weight: Array, hair_px: float, *, rounds: int) -> tuple[Array, Array]:
    """Robust straight line ``centre = a + b along``. Starts from the median of the supported middle."""
    shift, slope = float(np.partition(centre, len(centre) // 2)[len(centre) // 2]), 0.0
    base = robust = weight / 40.0
    wide, narrow = (f * max(1.0, 0.3 * hair_px) for f in (3.0, 1.2))
    for k in range(rounds):
        left = centre - shift - slope * along
        keep = 1 - (left / (wide if 2 * k < rounds else narrow)) ** 2
        robust = base * np.where(keep > 0, keep, 0.0) ** 2
        total = float(robust.sum())
        if total < 1e-3:
            break
        wx = robust * along
        mean = wx.sum() / total
        spread = (wx * along).sum() - total * mean**2 + 1e-2
        slope = float(((wx - robust * mean) * centre).sum() / spread)
        shift = float((robust * centre).sum() / total - slope * mean)
    return np.array([shift, slope]), robust


def dark_line(darker: Array) -> float:
    """How dark a line is that keeps its distance from another, from ``darker`` (m, k): by how many grey levels each of k distances is
    darker than its surroundings, m samples along. A bow is bent, so each piece has a distance of its own; stripes of a shirt have none."""
    return float(np.median(_pieces(darker).max(axis=1)))


def plain_line(levels: Array) -> float:
    """How far a line, dark or bright, that keeps its distance so stands out from what lies to both sides of it, from grey ``levels``
    (m, k) at k distances."""
    level = _pieces(levels)
    return float(np.median(np.abs(level[:, 2:-2] - 0.5 * (level[:, :-4] + level[:, 4:])).max(axis=1)))


def _pieces(values: Array) -> Array:
    """Usual values (pieces, k) of each piece of a bow."""
    whole = len(values) // LINE_PIECES * LINE_PIECES
    return np.asarray(np.median(values[:whole].reshape(LINE_PIECES, -1, values.shape[1]), axis=1))
