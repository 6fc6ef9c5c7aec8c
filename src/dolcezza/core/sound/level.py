"""How loud the take is, finely: for the dip at a change of bow and the moment a tone begins."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

Array = np.ndarray

STEP_S = 0.005
WINDOW_S = 0.012


@dataclass(frozen=True)
class Loudness:
    """``t_s`` (m,) evenly spaced on the video's clock, ``level`` (m,) root mean square over 12 ms."""

    t_s: Array
    level: Array

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
