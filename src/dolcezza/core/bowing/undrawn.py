"""What does not move while a bowed string sounds is no bow: the edge of a box, a stripe of a wall that was followed in its place."""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.signals import stays
from dolcezza.core.bowing.series import leaps

STILL = 0.05
"""A bow that keeps to its place within this share of the hair is not drawn."""
SOUNDS_S = 0.25
"""While a string sounds for so long a bow that is drawn goes on, or comes from where it was drawn."""
FROM_STANDING_PER_S = 2.5
"""Nor does one that stands set off with so many bow lengths a second, or stop from that, from one frame to the next."""


def undrawn(place: Array, t_s: Array, silent: Array | None) -> Array:
    """Frames (n,) bool in which what is taken for the bow stands while a string sounds, and comes from nowhere and goes nowhere: its
    ``place`` (n,) on the bow, NaN = not told, leaps there and back. ``silent`` (n,) as in ``lifted``; None tells nothing.

    A bow that creeps at its end, or rests while the room rings, goes on to where it is drawn, or comes from there.
    """
    out = np.zeros(len(place), bool)
    if silent is None or len(place) < 3:
        return out
    frame_s = float(np.median(np.diff(t_s)))
    # frames to which no bow was drawn from the one before
    cut = np.concatenate([[True], leaps(place, t_s, FROM_STANDING_PER_S)[1:] | np.isnan(np.diff(place)), [True]])
    for a, b in stays(place[:, None], STILL):
        out[a:b] = frame_s * float(np.sum(~silent[a:b])) >= SOUNDS_S and cut[a] and cut[b]
    return out
