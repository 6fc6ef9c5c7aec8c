"""Strokes aligned by the place on the bow."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest

from dolcezza.core.strokes.alignment import moment_of_place, shared_places
from dolcezza.core.strokes.figures import find_strokes
from tests_support import series_from


@pytest.fixture
def two():
    """A quick whole down-bow and a slow up-bow over the upper part; 0 to 2 s and 2 to 6 s."""
    t = np.arange(0, 6, 1 / 60)
    series = series_from(t, np.interp(t, [0, 2, 6], [0.05, 0.95, 0.45]))
    down, up = find_strokes(series)
    return series, down, up


def test_the_same_place_whatever_the_speed(two):
    series, down, up = two
    assert moment_of_place(series, down, 0.5) == pytest.approx(1.0, abs=0.03)
    assert moment_of_place(series, up, 0.7) == pytest.approx(4.0, abs=0.05)
    assert moment_of_place(series, up, 0.2) is None, "it does not go there"


def test_what_two_strokes_share(two):
    series, down, up = two
    low, high = shared_places((series, down), (series, up))
    assert low == pytest.approx(0.45, abs=0.02) and high == pytest.approx(0.95, abs=0.02)
    lower = series_from(series.t, np.interp(series.t, [0, 3, 6], [0.05, 0.4, 0.1]))
    assert shared_places((lower, find_strokes(lower)[0]), (series, up)) is None


def test_the_bow_is_where_it_is_said_to_be(two):
    series, down, up = two
    for stroke in (down, up):
        for place in np.linspace(0.5, 0.9, 7):
            moment = moment_of_place(series, stroke, float(place))
            assert np.interp(moment, series.t, series["bow_position"]) == pytest.approx(place, abs=1e-6)


def test_a_bow_that_gives_way_is_not_taken_back():
    t = np.arange(0, 4, 1 / 30)
    series = series_from(t, np.interp(t, [0, 1.5, 1.6, 4], [0.1, 0.5, 0.48, 0.9]))
    stroke = find_strokes(series)[0]
    moments = [moment_of_place(series, stroke, p) for p in np.linspace(0.12, 0.88, 40)]
    assert all(a <= b for a, b in pairwise(moments))


def test_real_strokes_meet_at_the_same_place(measured):
    """Against the record itself: at the moment given, the bow is at the place asked for."""
    record = measured("demo-a1")
    for stroke in record.strokes:
        middle = 0.5 * (stroke.from_position + stroke.to_position)
        moment = moment_of_place(record.series, stroke, middle)
        assert np.interp(moment, record.series.t, record.series["bow_position"]) == pytest.approx(middle, abs=0.01)
