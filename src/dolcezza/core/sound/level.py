"""How loud the take is, finely: for the dip at a change of bow and the moment a tone begins."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array

STEP_S = 0.005
WINDOW_S = 0.012
SILENT_SHARE = 0.04
"""Share of the take's loud level below which nothing sounds."""
CLEAR_SHARE = 0.25
"""A take whose quiet moments are louder than this share of its loud ones tells nothing by its silence."""
SILENT_S = 0.1
"""Silence is a stretch of at least this; the dip at a change of bow is shorter."""


@dataclass(frozen=True)
class Loudness:
    """``t_s`` (m,) evenly spaced on the video's clock, ``level`` (m,) root mean square over 12 ms. ``rings``: the room's echo fills the
    dips, so that their lowest points tell no turn."""

    t_s: Array
    level: Array
    rings: bool = False

    def between(self, start_s: float, end_s: float) -> tuple[Array, Array]:
        """The part from ``start_s`` to ``end_s``."""
        pick = (self.t_s >= start_s) & (self.t_s <= end_s)
        return self.t_s[pick], self.level[pick]


def loudness(samples: Array, *, start_s: float, rate_hz: int) -> Loudness:
    """Level of mono ``samples``."""
    window, step = int(WINDOW_S * rate_hz), int(STEP_S * rate_hz)
    if len(samples) < 2 * window:
        return Loudness(np.zeros(0), np.zeros(0))
    total = np.concatenate([[0.0], np.cumsum(np.asarray(samples, np.float64) ** 2)])
    starts = np.arange(0, len(samples) - window, step)
    level = np.sqrt(np.maximum(total[starts + window] - total[starts], 0.0) / window)
    return Loudness(start_s + (starts + 0.5 * window) / rate_hz, level)


def silence(loudness: Loudness, t_s: Array) -> Array | None:
    """Frames (n,) bool at ``t_s`` (n,) in which nothing sounds; None where the take has no clear difference to tell by."""
    if len(loudness.level) < 20:
        return None
    tone, floor = (float(np.percentile(loudness.level, p)) for p in (80, 2))
    limit = max(SILENT_SHARE * tone, 2.0 * floor)
    if limit > CLEAR_SHARE * tone:
        return None
    reach = max(1, round(0.5 * SILENT_S / STEP_S))
    loudest = scipy.ndimage.maximum_filter1d(loudness.level, 2 * reach + 1)
    nearest = np.clip(np.searchsorted(loudness.t_s, t_s), 0, len(loudness.t_s) - 1)
    covered = (t_s >= loudness.t_s[0]) & (t_s <= loudness.t_s[-1])
    quiet: Array = np.logical_and(loudest[nearest] < limit, covered)
    return quiet
