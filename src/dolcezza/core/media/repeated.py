"""Frames that repeat the one before: a video that a messenger or an editing program has handed on at another rate.

What such a frame shows was so a while before, and the others too are shown a little late, now more and now less. A bow that is drawn evenly
then seems to stop and hurry some times a second.
"""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.arrays import Array

APART_PX = 8
"""Of both sides of a picture every so many pixels are compared."""
REPEATS = 0.1
"""A frame that changes by less than this share of what both its neighbours do repeats the one before."""
LONGEST = 2
"""A frame is repeated so often at most; where more change as little, nothing moves."""
SOME = 0.05
"""From this share of repeated frames on the video was handed on at another rate."""


class Changes:
    """By how much each frame differs from the one before (grey levels), one after another."""

    def __init__(self) -> None:
        self.each: list[float] = []
        self._last: Array | None = None

    def see(self, grey: Array) -> None:
        """The next frame (h, w) uint8."""
        here = grey[APART_PX // 2 :: APART_PX, APART_PX // 2 :: APART_PX].astype(np.int16)
        last, self._last = self._last, here
        self.each.append(float(np.abs(here - last).mean()) if last is not None and last.shape == here.shape else np.nan)


def repeated(changes: Array) -> Array:
    """Which frames (n,) bool repeat the one before, by how much each changes (n,); where nothing moves none does."""
    out = np.zeros(len(changes), bool)
    for times in range(1, LONGEST + 1):
        for k in range(1, len(changes) - times):
            if max(changes[k : k + times]) < REPEATS * min(changes[k - 1], changes[k + times]):
                out[k : k + times] = True
    return out


def late_by(changes: Array, t_s: Array) -> float:
    """How late what is shown may be (one sd, s) in a video some of whose frames repeat the one before: up to one frame. 0 in all others."""
    share = float(repeated(changes).mean()) if len(changes) else 0.0
    return 0.5 * float(np.median(np.diff(t_s))) if share >= SOME and len(t_s) > 1 else 0.0
