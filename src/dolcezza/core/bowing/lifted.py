"""When the bow is off the string: lifted, carried back for a retake, or only held there. Such frames are not measured.

Three signs tell: a hair line that crosses the strings where no bow plays (a lifted bow is seen higher, which looks like a
place behind the bridge or up the fingerboard), a bow that moves while no string sounds, and silence for long: the bow rests on a string for
a moment before it plays and after, but while its player talks it may be anywhere.
"""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.signals import fill_gaps, runs
from dolcezza.core.instrument.model import InstrumentModel

Array = np.ndarray

BEHIND_BRIDGE_MM = 8.0
OVER_BOARD_SHARE = 0.45
"""How far over the fingerboard a bow may still be played, as a share of the way from bridge to fingerboard."""
SILENT_SPEED_CM_S = 12.0
"""A bow that moves faster than this on a string sounds."""
REST_S = 1.2
"""A bow rests on its string so long before the tone and after it."""
LEAST_TIME_S = 0.1
REJOIN_S = 0.08
"""On the string for less than this between two lifted stretches is still lifted."""


def lifted(
    model: InstrumentModel, contact_mm: Array, contact_sd_mm: Array, speed_cm_s: Array, t_s: Array, silent: Array | None
) -> Array:  # fmt: skip
    """Frames (n,) bool in which the bow is off the strings.

    ``contact_mm``, ``contact_sd_mm``, ``speed_cm_s`` (n,), NaN = not seen. ``silent`` (n,) bool: nothing sounds in this
    frame although the take has sound; None without sound.
    """
    low = -BEHIND_BRIDGE_MM - 2 * contact_sd_mm
    high = (1 + OVER_BOARD_SHARE) * model.spec.bridge_to_fingerboard + 2 * contact_sd_mm
    off = (contact_mm < low) | (contact_mm > high)
    if silent is not None and not silent.all():
        off |= silent & (np.abs(fill_gaps(speed_cm_s)) > SILENT_SPEED_CM_S)
        off |= _long_after(silent, t_s)
    if len(t_s) < 3 or not off.any():
        return off
    step = float(np.median(np.diff(t_s)))
    for a, b in runs(~off):
        if a > 0 and b < len(off) and (b - a) * step < REJOIN_S:
            off[a:b] = True
    for a, b in runs(off):
        if (b - a) * step < LEAST_TIME_S:
            off[a:b] = False
    return off


def _long_after(silent: Array, t_s: Array) -> Array:
    """Frames (n,) that are farther than a rest from every frame that sounds."""
    sounding = t_s[~silent]
    after = np.searchsorted(sounding, t_s)
    since = t_s - sounding[np.clip(after - 1, 0, len(sounding) - 1)]
    until = sounding[np.clip(after, 0, len(sounding) - 1)] - t_s
    return silent & (np.where(after > 0, since, np.inf) > REST_S) & (np.where(after < len(sounding), until, np.inf) > REST_S)
