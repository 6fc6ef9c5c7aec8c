"""Every figure leads to its frame: the moments that show it."""

from __future__ import annotations

import numpy as np
import pytest

from dolcezza.core.strokes.figures import find_strokes
from dolcezza.core.strokes.moments import JUST_BEFORE_S, pace_moments, passing_moments, stroke_moment, telling_moments
from tests_support import minimum_jerk, series_from


@pytest.fixture(scope="module")
def played():
    """A whole down-bow in a second, then half an up-bow in two; the tip wanders by 9 degrees at the end of the first."""
    place = np.concatenate([minimum_jerk(0.05, 0.95, 1.0), minimum_jerk(0.95, 0.5, 2.0)[1:]])
    t = np.arange(len(place)) / 60
    angle = np.where(t < 1.0, 9.0 * np.clip(place - 0.05, 0, None) / 0.9, 0.0)
    contact = 28.0 + np.where(np.abs(t - 2.0) < 0.05, 6.0, 0.0)
    series = series_from(t, place, angle=angle, contact=contact)
    return series, find_strokes(series, None, ())


def test_the_moments_of_one_stroke(played):
    series, strokes = played
    assert [s.direction for s in strokes] == ["down", "up"]
    down, up = strokes

    def place_at(t: float) -> float:
        return float(series["bow_position"][np.abs(series.t - t).argmin()])

    assert stroke_moment(series, down, "angle") == pytest.approx(1.0, abs=0.1)
    for name, middle in (("frog", 1 / 6), ("middle", 0.5), ("tip", 5 / 6)):
        assert place_at(stroke_moment(series, down, name)) == pytest.approx(middle, abs=0.04)
    assert abs(series["bow_speed_cm_s"][np.abs(series.t - stroke_moment(series, down, "speed")).argmin()]) > 90
    assert stroke_moment(series, up, "contact") == pytest.approx(2.0, abs=0.1)
    assert up.end_s - 0.04 < stroke_moment(series, up, "used") < up.end_s, "still that stroke"
    assert up.start_s < stroke_moment(series, up, "elbow") < up.end_s
    series.values["contact_point_mm"][:] = np.nan
    assert stroke_moment(series, down, "contact") is None


def test_places_and_paces_lead_to_each_stroke_that_has_them(played):
    series, strokes = played
    assert len(passing_moments(series, strokes, 0.7, 0.8)) == 2
    first = passing_moments(series, strokes, 0.1, 0.2)
    assert len(first) == 1 and 0.0 < first[0] < 0.5, "only the whole bow goes there"
    assert passing_moments(series, [], 0.1, 0.2) == []
    fast = pace_moments(series, strokes, 60.0, np.inf)
    assert len(fast) == 1 and fast[0] == pytest.approx(0.5, abs=0.05)


def test_figures_of_use_lead_to_the_stroke_that_shows_them_most(played):
    _, (down, up) = played
    assert telling_moments([up, down], "reach_frog")[0] == down.start_s
    assert telling_moments([down, up], "reach_tip")[0] in (down.end_s - JUST_BEFORE_S, up.start_s)
    slow = 0.5 * (up.start_s + up.end_s)
    assert telling_moments([down, up, down], "speed")[0] == slow, "the one that is unlike the others"
    assert telling_moments([down, up], "balance") == [0.5 * (s.start_s + s.end_s) for s in (down, up)]
    assert telling_moments([], "share") == [] and telling_moments([], "reach_tip") == []
