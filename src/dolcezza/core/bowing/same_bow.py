"""Two records of one bow laid together by how the bow moves: finer than the sound, which each phone may keep early or late."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array

STEP_S, COARSE_STEP_S = 0.005, 0.05
FINE_REACH_S = 1.0
"""Lags farther off than this are gone through in coarse steps first."""
LEAST_S = 1.0
"""The bow must be seen by both for so long."""
LEAST_TRAVEL = 0.15
"""And move over so much of the hair in that time, else no moment differs from another."""
ALIKE_S = 0.3
"""So long a stretch errs alike and counts as one moment."""
LEAST_SD_S = 0.003
SAME_BOW = 0.06
"""Two records of one bow differ by less than this at most moments (share of the hair), their constant difference apart."""


@dataclass(frozen=True)
class BowClock:
    """A moment t of the first record is ``t + offset_s`` in the second, ± ``sd_s``; ``apart``: by how much the two positions differ then
    (median, share of the hair)."""

    offset_s: float
    sd_s: float
    apart: float

    @property
    def same(self) -> bool:
        """Whether they are of one bow."""
        return self.apart < SAME_BOW


def lay_bows(
    t_first: Array, first: Array, t_second: Array, second: Array, *, near_s: float, reach_s: float, least_share: float = 0.0
) -> BowClock | None:
    """Bow positions (n,) and (m,) at their times (s), NaN = not measured; offsets within ``reach_s`` of ``near_s`` are tried.

    ``least_share``: so much of what the shorter one shows must be in common. None where the bow was not seen by both for long enough, or
    hardly moved."""
    if reach_s > FINE_REACH_S:
        # a whole take of lags is gone through in coarse steps first
        rough = _laid(t_first, first, t_second, second, near_s=near_s, reach_s=reach_s, least_share=least_share, step_s=COARSE_STEP_S)
        if rough is None:
            return None
        near_s, reach_s = rough.offset_s, 2 * COARSE_STEP_S
    return _laid(t_first, first, t_second, second, near_s=near_s, reach_s=reach_s, least_share=least_share, step_s=STEP_S)


def _laid(
    t_first: Array, first: Array, t_second: Array, second: Array, *, near_s: float, reach_s: float, least_share: float, step_s: float
) -> BowClock | None:  # fmt: skip
    """The same with lags and moments ``step_s`` apart."""
    known, other = np.isfinite(first), np.isfinite(second)
    if known.sum() < 10 or other.sum() < 10:
        return None
    grid = np.arange(float(t_first[0]), float(t_first[-1]), step_s)
    own, seen = _resampled(grid, t_first, first)
    # strokes are alike: laid together by a few of them, any two playings are
    enough = max(LEAST_S, least_share * min(seen.sum() * step_s, _seen_s(t_second, other)))
    lags = near_s + np.arange(-reach_s, reach_s + 0.5 * step_s, step_s)
    cost, apart = np.full(len(lags), np.inf), np.full(len(lags), np.inf)
    for k, lag in enumerate(lags):
        theirs, there = _resampled(grid + lag, t_second, second)
        use = seen & there
        if use.sum() * step_s < enough or np.ptp(own[use]) < LEAST_TRAVEL:
            continue
        off = own[use] - theirs[use]
        off = off - np.median(off)
        cost[k], apart[k] = float(np.minimum(np.abs(off), 0.1).mean()), float(np.median(np.abs(off)))
    best = int(cost.argmin())
    if not np.isfinite(cost[best]):
        return None
    bend = 0.0
    if 0 < best < len(lags) - 1 and np.isfinite(cost[[best - 1, best + 1]]).all():
        before, here, after = cost[best - 1 : best + 2]
        pull = before - 2 * here + after
        bend = float(np.clip(0.5 * (before - after) / pull, -0.5, 0.5)) if pull > 1e-12 else 0.0
    # so far from each other while the bow moves so fast; neighbours err alike
    moving = np.abs(np.gradient(own, step_s))[seen]
    pace, count = float(np.percentile(moving, 60)), max(1.0, seen.sum() * step_s / ALIKE_S)
    sd = float(np.clip(1.48 * apart[best] / max(pace, 0.05) / np.sqrt(count), LEAST_SD_S, 0.1))
    return BowClock(float(lags[best] + bend * step_s), sd, float(apart[best]))


def _resampled(at: Array, t_s: Array, values: Array) -> tuple[Array, Array]:
    """Values at other moments and where they are known: between two measured frames that are close together."""
    good = np.isfinite(values)
    after = np.clip(np.searchsorted(t_s, at), 1, len(t_s) - 1)
    there = good[after] & good[after - 1] & (t_s[after] - t_s[after - 1] < 0.15) & (at >= t_s[0]) & (at <= t_s[-1])
    return np.interp(at, t_s[good], values[good]), there


def _seen_s(t_s: Array, known: Array) -> float:
    """For how long a bow is seen, s."""
    return float(known.sum() * np.median(np.diff(t_s)))
