"""Strokes laid side by side by the place on the bow, not by the clock: the tip beside the tip, however long each took."""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.strokes.figures import Stroke


def way(series: BowSeries, stroke: Stroke) -> tuple[Array, Array]:
    """Places (k,) on the bow in rising order with the moment (k,) s at which the stroke first came there; empty where nothing was seen."""
    t = series.t
    inside = (t >= stroke.start_s) & (t <= stroke.end_s) & np.isfinite(series["bow_position"])
    moments, places = t[inside], series["bow_position"][inside]
    # a bow that gives way for a moment is not taken back: what counts is how far it had come
    come = np.maximum.accumulate(places) if stroke.down else np.minimum.accumulate(places)
    new = np.concatenate([[True], np.diff(come) != 0]) if len(come) else np.zeros(0, bool)
    places, moments = come[new], moments[new]
    return (places, moments) if stroke.down else (places[::-1], moments[::-1])


def moment_of_place(series: BowSeries, stroke: Stroke, place: float) -> float | None:
    """When (s) a stroke was at a place on the bow (0..1); None where it did not go."""
    places, moments = way(series, stroke)
    if not len(places) or not places[0] <= place <= places[-1]:
        return None
    return float(np.interp(place, places, moments))


def shared_places(a: tuple[BowSeries, Stroke], b: tuple[BowSeries, Stroke]) -> tuple[float, float] | None:
    """From where to where on the bow both strokes went; None where they share nothing."""
    ways = [way(*one)[0] for one in (a, b)]
    if not all(len(w) for w in ways):
        return None
    low, high = max(float(w[0]) for w in ways), min(float(w[-1]) for w in ways)
    return (low, high) if low < high else None
