"""Whether sound and picture run together: the tone dips where the bow turns, so the dips tell how far the sound is late."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from dolcezza.core.sound.level import Loudness
from dolcezza.core.strokes.segment import SHORT_REST_S, Span

Array = np.ndarray

REACH_S, REACH_SHARE = 0.5, 0.45
"""How far from a turn its dip is looked for: half a second, or less than half of the shorter stroke."""
DIP = 0.6
"""A dip falls to this share of the tone on both sides."""
FEWEST, AGREE_S = 3, 0.06
"""So many turns must agree about as well as this."""
USED_FROM_S = 0.045
"""From here on sound and picture are put together again: below it, ear and eye call it the same moment (ITU-R BT.1359 lets sound be
45 ms early, from memory)."""


@dataclass(frozen=True)
class SoundOffset:
    """``late_s``: how much later the sound comes than the picture, with ``sd_s``; ``rings``: through the echo of a room."""

    late_s: float
    sd_s: float
    turns: int
    rings: bool = False

    @property
    def matters(self) -> bool:
        """Whether it is large and sure enough to be put right."""
        return abs(self.late_s) > USED_FROM_S and abs(self.late_s) > 3 * self.sd_s


def sound_offset(spans: list[Span], loudness: Loudness | None) -> SoundOffset | None:
    """From the turns of the bow in the picture; None where too few turns have a clear dip."""
    if loudness is None or not len(loudness.t_s):
        return None
    late = []
    for a, b in pairwise(spans):
        if b.start_s - a.end_s >= SHORT_REST_S:
            continue
        turn = 0.5 * (a.end_s + b.start_s)
        reach = min(REACH_S, REACH_SHARE * min(a.end_s - a.start_s, b.end_s - b.start_s))
        dip = _dip(loudness, turn, reach)
        if dip is not None:
            late.append(dip - turn)
    if len(late) < FEWEST:
        return None
    middle = float(np.median(late))
    spread = 1.4826 * float(np.median(np.abs(np.array(late) - middle)))
    if spread > AGREE_S:
        return None
    return SoundOffset(middle, max(spread, 0.005) / len(late) ** 0.5, len(late))


def shifted(loudness: Loudness, late_s: float) -> Loudness:
    """The same level on the picture's clock."""
    return replace(loudness, t_s=loudness.t_s - late_s)


def _dip(loudness: Loudness, near_s: float, reach_s: float) -> float | None:
    t, level = loudness.between(near_s - reach_s, near_s + reach_s)
    if len(t) < 9:
        return None
    k = int(level.argmin())
    sides = [float(np.median(part)) for part in (level[: max(k - 4, 0)], level[k + 5 :]) if len(part) > 3]
    if len(sides) < 2 or level[k] > DIP * min(sides):
        return None
    bottom = t[level <= level[k] + 0.04 * min(sides)]
    near = bottom[np.abs(bottom - t[k]) < 0.15]
    return float(0.5 * (near[0] + near[-1]))


STEP_S = 0.005
MOST_LATE_S = 0.25
LIKE = 0.85
"""How well loudness must follow the bow's speed (correlation of their logarithms) for a delay to be told from it."""
ROOMS = ((0.0, 0.1), (0.5, 0.15), (1.0, 0.15), (0.5, 0.3), (1.0, 0.3), (2.0, 0.3), (1.0, 0.5))
"""Rooms tried: how strong their echo is against the sound itself, and how long it rings (s)."""
GROWTHS = (0.4, 0.7, 1.0)
"""How loudness grows with the bow's speed: the powers tried."""
LEVEL_SD_S = 0.012


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
    return SoundOffset(late, LEVEL_SD_S, 0, rings) if np.isfinite(late) else None
