"""Where in a take a figure can be seen: the moments (s) that show it, the one that shows it most first."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.strokes.figures import THIRDS, Stroke

JUST_BEFORE_S = 0.01
"""A stroke's end is shown so much before it, where it is still that stroke."""


def stroke_moment(series: BowSeries, stroke: Stroke, what: str) -> float | None:
    """The moment of a stroke that shows ``what``: the worst "angle", the "frog", "middle" or "tip" third, the "contact" point
    farthest from the mean, the "elbow" half-way, how much bow was "used" at its end, its fastest "speed". None: nothing was measured."""
    t, inside = series.t, _within(series, stroke)
    if what == "elbow":
        return 0.5 * (stroke.start_s + stroke.end_s)
    if what == "used":
        shown = np.arange(len(t), dtype=float)
    elif what in THIRDS:
        shown = -np.abs(series["bow_position"] - (THIRDS.index(what) + 0.5) / 3)
    elif what == "contact":
        shown = np.abs(series["contact_point_mm"] - stroke.contact_point_mm)
    else:
        shown = np.abs(series[{"angle": "bow_angle_deg", "speed": "bow_speed_cm_s"}[what]])
    shown = np.where(inside & np.isfinite(shown), shown, -np.inf)
    best = int(np.argmax(shown))
    return float(t[best]) if np.isfinite(shown[best]) else None


def passing_moments(series: BowSeries, strokes: Sequence[Stroke], low: float, high: float) -> list[float]:
    """One moment for each stroke that plays between ``low`` and ``high`` (share of the hair): nearest to the middle between them."""
    place = series["bow_position"]
    return _one_each(series, strokes, (place >= low) & (place < high), -np.abs(place - 0.5 * (low + high)))


def pace_moments(series: BowSeries, strokes: Sequence[Stroke], low: float, high: float) -> list[float]:
    """One moment for each stroke that is between ``low`` and ``high`` cm/s fast: its fastest there."""
    pace = np.abs(series["bow_speed_cm_s"])
    return _one_each(series, strokes, (pace >= low) & (pace < high), pace)


def _within(series: BowSeries, stroke: Stroke) -> Array:
    """Frames (n,) of a stroke; the one at its very end is the next one's."""
    return (series.t >= stroke.start_s) & (series.t < stroke.end_s)


def _one_each(series: BowSeries, strokes: Sequence[Stroke], here: Array, shown: Array) -> list[float]:
    out = []
    for s in strokes:
        at = np.flatnonzero(here & _within(series, s))
        if len(at):
            out.append(float(series.t[at[np.argmax(shown[at])]]))
    return out


def telling_moments(strokes: Sequence[Stroke], figure: str) -> list[float]:
    """Moments for a figure of the use of the bow (a key of ``core/assignment/use.FIGURES``): the strokes that show it most come first; of
    what is told from all together, every stroke in its order."""
    ends = {s.number: ((s.from_position, s.start_s), (s.to_position, s.end_s - JUST_BEFORE_S)) for s in strokes}
    near, far = ({k: pick(pair) for k, pair in ends.items()} for pick in (min, max))
    if figure == "reach_frog":
        return [t for _, t in sorted(near.values())]
    if figure == "reach_tip":
        return [t for _, t in sorted(far.values(), reverse=True)]
    values = {"share": [s.share_used for s in strokes], "speed": [s.mean_speed_cm_s for s in strokes]}.get(figure)
    order: list[Stroke] = list(strokes)
    if values is not None:
        usual = float(np.nanmedian(values)) if values else 0.0
        apart = np.nan_to_num(np.abs(np.array(values) - usual))
        order = [strokes[k] for k in np.argsort(-apart, kind="stable")]
    elif figure == "evenness":
        order = sorted(strokes, key=lambda s: s.evenness)
    return [0.5 * (s.start_s + s.end_s) for s in order]
