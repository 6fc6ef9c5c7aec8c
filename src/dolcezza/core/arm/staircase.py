"""The staircase of the elbow: how high it is on each string, the same place on the bow compared with the same.

Elbows also rise towards the frog, so the strings are compared third by third of the bow. What is wrong with all levels alike
(the shoulder's place, the trunk) falls out of the differences, so that a step is known better than a level.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

import numpy as np

from dolcezza.core.base.arrays import Array

FEWEST_FRAMES = 6
OWN_NOISE_DEG = 2.0
"""What is left of a median level besides the errors that the fit knows of (one sd)."""
FLAT_STEP_DEG = 4.0
"""A mean step smaller than this is no staircase (common practice, no source: the change cannot be seen from the side)."""
UNEVEN_RATIO = 3.0
"""The largest step of an even staircase is at most so many times the smallest."""
THIRDS = ((0.0, 1 / 3), (1 / 3, 2 / 3), (2 / 3, 1.0))


class StairShape(StrEnum):
    """What the steps look like from the lowest elbow to the highest."""

    EVEN = "even"
    FLAT = "flat"
    BROKEN = "broken"
    REVERSED = "reversed"
    UNKNOWN = "cannot tell"


@dataclass(frozen=True)
class Stair:
    """The elbow on one string: ``level`` degrees (median) with ``sd``, ``low`` and ``high`` its middle four fifths, ``thirds``
    (frog, middle, tip; NaN = the bow was not there), ``frames`` it was seen on."""

    string: str
    level: float
    sd: float
    low: float
    high: float
    thirds: tuple[float, float, float]
    frames: int


@dataclass(frozen=True)
class Staircase:
    """``stairs`` in the order asked for, lowest elbow first; ``steps`` (degrees up from one to the next) with ``step_sd``."""

    stairs: tuple[Stair, ...]
    steps: tuple[float, ...]
    step_sd: tuple[float, ...]
    shape: StairShape


def staircase(
    level: Array, level_error: Array, level_sd: Array, strings: Sequence[str], position: Array, order: Sequence[str]
) -> Staircase:  # fmt: skip
    """Elbow levels (n,) degrees by string and third of the bow.

    ``level_error`` (n, k) as in ``ArmChain``; ``level_sd`` (n,); ``strings`` (n) names, "" = none; ``position`` (n,) 0..1;
    ``order``: strings from the lowest elbow to the highest.
    """
    names = np.array(strings, object)
    stairs, weights = [], []
    for name in order:
        own = (names == name) & np.isfinite(level)
        if own.sum() < FEWEST_FRAMES:
            continue
        thirds = [own & (position >= a) & (position < b + (b == 1.0)) for a, b in THIRDS]
        medians = tuple(float(np.median(level[w])) if w.sum() >= FEWEST_FRAMES else np.nan for w in thirds)
        low, high = np.percentile(level[own], [10, 90])
        here, spread = float(np.median(level[own])), float(np.median(level_sd[own]))
        stairs.append(Stair(name, here, spread, float(low), float(high), (medians[0], medians[1], medians[2]), int(own.sum())))
        weights.append(thirds)
    steps, sds = [], []
    for (a, in_a), (b, in_b) in pairwise(zip(stairs, weights, strict=True)):
        both = [k for k in range(3) if np.isfinite(a.thirds[k]) and np.isfinite(b.thirds[k])]
        if both:
            steps.append(float(np.mean([b.thirds[k] - a.thirds[k] for k in both])))
            apart = np.mean([level_error[in_b[k]].mean(axis=0) - level_error[in_a[k]].mean(axis=0) for k in both], axis=0)
            sds.append(float(np.sqrt((apart**2).sum() + 2 * OWN_NOISE_DEG**2 / len(both))))
        else:
            steps.append(b.level - a.level)
            sds.append(float(np.hypot(a.sd, b.sd)))
    return Staircase(tuple(stairs), tuple(steps), tuple(sds), stair_shape(steps, sds))


def stair_shape(steps: Sequence[float], step_sd: Sequence[float]) -> StairShape:
    """Even, flat, broken or reversed, from the steps (degrees) from the lowest elbow up."""
    if not steps:
        return StairShape.UNKNOWN
    mean = float(np.mean(steps))
    sd = float(np.sqrt(np.sum(np.square(step_sd)))) / len(steps)
    if mean < -max(FLAT_STEP_DEG, sd):
        return StairShape.REVERSED
    if mean < FLAT_STEP_DEG:
        return StairShape.FLAT
    small, large = min(steps), max(steps)
    if small < 0 and small < -step_sd[int(np.argmin(steps))]:
        return StairShape.BROKEN
    # a step counts as uneven when it is so by more than its own uncertainty
    slack = max(step_sd)
    return StairShape.EVEN if large <= UNEVEN_RATIO * max(small + slack, 0.5) else StairShape.BROKEN
