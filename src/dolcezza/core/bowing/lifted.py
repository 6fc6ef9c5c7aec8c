"""When the bow is off the string: lifted, carried back for a retake, or only held there. Such frames are not measured.

Four signs tell: a hair line that crosses the strings where no bow plays (a lifted bow is seen higher, which looks like a
place behind the bridge or up the fingerboard), a bow that moves while no string sounds, silence for long (the bow rests on a string for
a moment before it plays and after, but while its player talks it may be anywhere), and a silent bow that lies otherwise than it played.
"""

from __future__ import annotations

from itertools import takewhile

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.signals import fill_gaps, robust_sd, runs
from dolcezza.core.instrument.model import InstrumentModel

BEHIND_BRIDGE_MM = 8.0
OVER_BOARD_SHARE = 0.45
"""How far over the fingerboard a bow may still be played, as a share of the way from bridge to fingerboard."""
SILENT_SPEED_CM_S = 12.0
"""A bow that moves faster than this on a string sounds."""
REST_S = 1.2
"""A bow rests on its string so long before the tone and after it."""
PLAYED_S = 0.8
"""How it lay while it played is told by so much of the tone next to a silence."""
STRAYED_MM, STRAYED_DEG = 6.0, 10.0
"""Contact point and angle so far from where it played, and from how much they varied there: the bow is in the air. What rests keeps its
place."""
LEAST_TIME_S = 0.1
REJOIN_S = 0.08
"""On the string for less than this between two lifted stretches is still lifted."""


def lifted(
    model: InstrumentModel, contact_mm: Array, contact_sd_mm: Array, angle_deg: Array, speed_cm_s: Array, t_s: Array, silent: Array | None,
    noise_mm: Array | None = None,
) -> Array:  # fmt: skip
    """Frames (n,) bool in which the bow is off the strings.

    ``contact_mm``, ``contact_sd_mm``, ``angle_deg``, ``speed_cm_s`` (n,), NaN = not seen. ``silent`` (n,) bool: nothing sounds in this
    frame although the take has sound; None without sound. ``noise_mm`` (n,): the part of the contact's sd that is each frame's own, None =
    all of it; two places of one take differ by that alone.
    """
    noise = contact_sd_mm if noise_mm is None else noise_mm
    low = -BEHIND_BRIDGE_MM - 2 * contact_sd_mm
    high = (1 + OVER_BOARD_SHARE) * model.spec.bridge_to_fingerboard + 2 * contact_sd_mm
    off = (contact_mm < low) | (contact_mm > high)
    if silent is not None and not silent.all():
        off |= silent & (np.abs(fill_gaps(speed_cm_s)) > SILENT_SPEED_CM_S)
        off |= _long_after(silent, t_s)
        off |= _strayed(silent, contact_mm, noise, angle_deg, t_s)
    if len(t_s) < 3 or not off.any():
        return off
    off |= _on_the_way(off, np.zeros(len(off), bool) if silent is None else silent, contact_mm, noise, angle_deg, t_s)
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


def _strayed(silent: Array, contact_mm: Array, noise_mm: Array, angle_deg: Array, t_s: Array) -> Array:
    """Silent frames (n,) that no rest joins to the tone beside them: on the way there the bow lay otherwise than it played."""
    off = silent.copy()
    least = max(1, round(LEAST_TIME_S / float(np.median(np.diff(t_s))))) if len(t_s) > 1 else 1
    for a, b in runs(silent):
        for edge, way in ((a - 1, range(a, b)), (b, range(b - 1, a - 1, -1))):
            if not 0 <= edge < len(t_s):
                continue
            played = ~silent & (np.abs(t_s - t_s[edge]) <= PLAYED_S) & np.isfinite(contact_mm)
            if not played.any():
                off[a:b] = False
                continue
            far = _elsewhere(contact_mm, noise_mm, angle_deg, played)
            astray = 0
            for k in way:
                astray = astray + 1 if far[k] else 0
                if astray >= least:
                    break
                off[k] = off[k] and far[k]
    return off


def _on_the_way(off: Array, silent: Array, contact_mm: Array, noise_mm: Array, angle_deg: Array, t_s: Array) -> Array:
    """Frames (n,) next to those in which the bow is ``off`` where it lies otherwise than it played: it leaves while the string still rings,
    and is not down yet where the next tone seems to begin. It played where it was for most of the time next to that."""
    out = np.zeros(len(off), bool)
    for a, b in runs(off):
        for edge, way in ((a - 1, range(a - 1, -1, -1)), (b, range(b, len(t_s)))):
            if not 0 <= edge < len(t_s):
                continue
            played = ~off & ~silent & (np.abs(t_s - t_s[edge]) <= PLAYED_S) & np.isfinite(contact_mm)
            if played.any():
                far = _elsewhere(contact_mm, noise_mm, angle_deg, played)
                out[list(takewhile((far & ~off).__getitem__, way))] = True
    return out


def _elsewhere(contact_mm: Array, noise_mm: Array, angle_deg: Array, played: Array) -> Array:
    """Frames (n,) bool in which the bow lies otherwise than it usually did in those in which it ``played`` (n,)."""
    contact, angle = contact_mm[played], angle_deg[played]
    most = STRAYED_MM + 2 * robust_sd(contact) + 2 * noise_mm
    return np.asarray((np.abs(contact_mm - np.median(contact)) > most) | (np.abs(angle_deg - np.median(angle)) > STRAYED_DEG))
