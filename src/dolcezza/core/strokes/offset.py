"""Whether sound and picture run together: loudness follows the bow's speed, so its course tells how far the sound is late."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.sound.level import Loudness

USED_FROM_S, RINGS_FROM_S, EARLY_FROM_S = 0.025, 0.06, -0.12
"""From here on sound and picture are put together again: in a dry room, in one that rings, and in one that rings where the sound seems to
come before the picture, which it hardly does (an echo taken for more than it is makes it seem so). Ear and eye call 45 ms early or 125 ms
late the same moment (ITU-R BT.1359, from memory); the ends of strokes need it finer."""


@dataclass(frozen=True)
class SoundOffset:
    """``late_s``: how much later the sound comes than the picture, with ``sd_s``; ``rings``: through the echo of a room."""

    late_s: float
    sd_s: float
    rings: bool = False

    @property
    def matters(self) -> bool:
        """Whether it is large and sure enough to be put right."""
        if self.rings:
            return self.late_s > RINGS_FROM_S or self.late_s < EARLY_FROM_S
        return abs(self.late_s) > max(USED_FROM_S, 2 * self.sd_s)


def shifted(loudness: Loudness, late_s: float) -> Loudness:
    """The same level on the picture's clock."""
    return replace(loudness, t_s=loudness.t_s - late_s)


STEP_S = 0.005
MOST_LATE_S = 0.25
LIKE = 0.85
"""How well loudness must follow the bow's speed (correlation of their logarithms) for a delay to be told from it."""
ROOMS = ((0.0, 0.1), (0.5, 0.15), (1.0, 0.15), (0.5, 0.3), (1.0, 0.3), (2.0, 0.3), (1.0, 0.5))
"""Rooms tried: how strong their echo is against the sound itself, and how long it rings (s)."""
GROWTHS = (0.4, 0.7, 1.0)
"""How loudness grows with the bow's speed: the powers tried."""
DRY_SD_S, RINGS_SD_S = 0.01, 0.03
"""How well the course of the sound tells it (one sd): what is echo and what is delay can hardly be told apart."""


def offset_by_level(t_s: Array, speed_cm_s: Array, loudness: Loudness | None) -> SoundOffset | None:
    """How late the sound is, from loudness that follows the bow's speed (n,) at ``t_s`` (n,), through the echo of a room.

    None where loudness does not follow it closely. An echo fills the dip at a turn and moves its lowest point; the whole course of the
    sound does not mind.
    """
    if loudness is None or len(loudness.t_s) < 100 or np.isfinite(speed_cm_s).sum() < 20:
        return None
    grid = np.arange(max(t_s[0], loudness.t_s[0]) + MOST_LATE_S, min(t_s[-1], loudness.t_s[-1]) - MOST_LATE_S, STEP_S)
    known = np.interp(grid, t_s, np.isfinite(speed_cm_s).astype(float)) > 0.5 if len(grid) else np.zeros(0, bool)
    if known.sum() * STEP_S < 1.0:
        return None
    speed = np.interp(grid, t_s, np.abs(np.nan_to_num(speed_cm_s)))
    usual = float(np.percentile(speed[known], 60))
    if usual <= 1.0:
        return None
    lags = np.arange(-MOST_LATE_S, MOST_LATE_S + 1e-9, STEP_S)
    heard = np.array([np.interp(grid + lag, loudness.t_s, loudness.level)[known] for lag in lags])
    heard = np.log(heard / np.percentile(heard, 90, axis=1, keepdims=True) + 0.05)
    heard -= heard.mean(axis=1, keepdims=True)
    heard /= np.linalg.norm(heard, axis=1, keepdims=True) + 1e-12
    best, late, rings = LIKE, np.nan, False
    for growth in GROWTHS:
        power = np.minimum(speed / usual, 1.3) ** (2 * growth)
        for strength, ring in ROOMS:
            tail = np.exp(-np.arange(0, 4 * ring, STEP_S) / ring)
            played = np.log(np.sqrt(power + strength * np.convolve(power, tail / tail.sum())[: len(power)]) + 0.05)[known]
            played -= played.mean()
            alike = heard @ played / (np.linalg.norm(played) + 1e-12)
            k = int(alike.argmax())
            if alike[k] > best:
                best, late, rings = float(alike[k]), float(lags[k]), strength > 0
    return SoundOffset(late, RINGS_SD_S if rings else DRY_SD_S, rings) if np.isfinite(late) else None
