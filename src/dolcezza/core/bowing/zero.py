"""The zero: moments at which the bow is known to be straight. What is left of the angle there is taken out of the whole take.

Held parallel by hand, or guided through a tube: a teacher can make sure of it. The rest comes from landmarks and lens and is the
same all through the take, so it can go; with it goes the part of the ± that the landmarks had.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import TrackingError

WINDOW_S = 0.25
"""Frames this near a marked moment count."""
HAND_SD_DEG = 0.7
"""How exactly a hand or a tube holds a bow parallel (one sd, deg). Common practice, no source."""


@dataclass(frozen=True)
class Zero:
    """``bias_deg`` to take off every angle, ``sd_deg`` how well it is known; ``gain`` (u,): what the take's unknowns put into the angle at
    the zero, deg a unit of each. A part of the take that is measured again takes the whole take's zero."""

    bias_deg: float
    sd_deg: float
    gain: Array


def find_zero(angle_deg: Array, noise_sd_deg: Array, t_s: Array, moments_s: Sequence[float], gain: Array) -> Zero:
    """Angle (n,), its sd without the landmarks' part (n,) at ``t_s`` (n,), NaN = not measured, and its ``gain`` (n, u) to the unknowns.

    Raises TrackingError when the bow was not measured near any of the moments.
    """
    values, sds, used = [], [], []
    for moment in moments_s:
        near = (np.abs(t_s - moment) <= WINDOW_S) & np.isfinite(angle_deg)
        if near.any():
            values.append(float(np.median(angle_deg[near])))
            sds.append(float(np.median(noise_sd_deg[near])))
            used.append(np.flatnonzero(near))
    if not values:
        when = ", ".join(f"{m:.1f} s" for m in moments_s)
        raise TrackingError(f"The bow was not measured at the zero ({when}).", "Mark a moment at which the whole bow is seen on a string.")
    sd = float(np.hypot(np.mean(sds), HAND_SD_DEG) / np.sqrt(len(values)))
    return Zero(float(np.mean(values)), sd, gain[np.concatenate(used)].mean(axis=0))
