"""Where the bow lay still: stretches of a take in which place, angle and contact point stand."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.bowing.series import BowSeries

LEAST_S = 0.5
"""A hold is at least so long."""
STILL_MM_S, STILL_DEG_S, STILL_CONTACT_MM_S = 40.0, 5.0, 12.0
"""Slower than this the bow lies still: along its hair, turning, along the string. A hand holds a bow to a millimetre or two a second;
what is measured trembles more."""
BRIDGED_S = 0.12
"""A gap so short in which nothing was measured does not end a hold."""
EDGE_S = 0.1
"""So much at both ends of a hold is not used: the bow is set down and taken off there."""


@dataclass(frozen=True)
class Hold:
    """A bow that lay still from ``start_s`` to ``end_s``: its angle (deg), contact point (mm) and inclination (deg), each the median, with
    the ± (one sd) that the program states for a single frame of it."""

    start_s: float
    end_s: float
    angle_deg: float
    angle_sd_deg: float
    contact_mm: float
    contact_sd_mm: float
    inclination_deg: float

    @property
    def middle_s(self) -> float:
        """Its middle, s."""
        return 0.5 * (self.start_s + self.end_s)


def find_holds(series: BowSeries, hair_mm: float) -> list[Hold]:
    """Holds of a record in their order; ``hair_mm`` the length of the hair."""
    t = series.t
    width = max(3, round(0.3 * series.rate_hz))
    slopes = [_slope(t, series[name], width) for name in ("bow_position", "bow_angle_deg", "contact_point_mm")]
    limits = (STILL_MM_S / hair_mm, STILL_DEG_S, STILL_CONTACT_MM_S)
    known = np.isfinite(series["bow_angle_deg"]) & np.isfinite(series["contact_point_mm"])
    still = known.copy()
    for slope, limit in zip(slopes, limits, strict=True):
        # a place on the bow that cannot be told does not speak against a hold; angle and contact point have to be known
        still &= ~(np.abs(np.nan_to_num(slope)) > limit)
    found = []
    for start, end in _stretches(t, still):
        inside = (t >= start + EDGE_S) & (t <= end - EDGE_S) & known
        if end - start < LEAST_S or not inside.any():
            continue
        told = {name: float(np.median(series[name][inside])) for name in (
            "bow_angle_deg", "bow_angle_sd_deg", "contact_point_mm", "contact_point_sd_mm", "inclination_deg")}  # fmt: skip
        found.append(Hold(float(start), float(end), *told.values()))
    return found


def _slope(t: Array, values: Array, width: int) -> Array:
    """Change a second (n,) of the straight line through the ``width`` values around each; NaN where fewer than three are known."""
    half = width // 2
    out = np.full(len(t), np.nan)
    for k in range(len(t)):
        rows = slice(max(0, k - half), k + half + 1)
        known = np.isfinite(values[rows])
        if known.sum() >= 3:
            x = t[rows][known] - t[rows][known].mean()
            out[k] = float(x @ values[rows][known] / max(x @ x, 1e-12))
    return out


def _stretches(t: Array, still: Array) -> list[tuple[float, float]]:
    """Times (s) from the first to the last frame of each run of still frames; short gaps bridged."""
    rows = np.flatnonzero(still)
    if not len(rows):
        return []
    cuts = np.flatnonzero(np.diff(t[rows]) > BRIDGED_S) + 1
    return [(float(t[part[0]]), float(t[part[-1]])) for part in np.split(rows, cuts)]
