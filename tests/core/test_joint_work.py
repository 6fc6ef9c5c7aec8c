"""Degrees of the joints a tenth of the bow, against arms that are moved by known angles."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from dolcezza.core.findings.profiles import PROFILES, Wish
from dolcezza.core.findings.rules.arm_school import arm_school_findings
from dolcezza.core.strokes.figures import find_strokes
from dolcezza.core.strokes.joint_work import work_by_speed, work_by_third
from tests_support import minimum_jerk, series_from


def bowed(level, elbow, wrist, swing=lambda p: 0 * p + 60.0, seconds=1.0, noise=0.0):
    """Six whole bows with the joints at angles that are functions of the place on the bow."""
    place = np.concatenate([minimum_jerk(a, 1 - a, seconds) for a in (0.02, 0.98) * 3])
    rng = np.random.default_rng(3)
    series = series_from(np.arange(len(place)) / 60.0, place)
    for name, angle in (
        ("elbow_level_deg", level),
        ("forearm_angle_deg", elbow),
        ("wrist_angle_deg", wrist),
        ("upper_arm_swing_deg", swing),
    ):
        series.values[name][:] = angle(place) + noise * rng.normal(size=len(place))
    return series, find_strokes(series)


def test_degrees_a_tenth_of_the_bow_are_what_the_joints_turn():
    """Twenty degrees over a whole bow are two a tenth, up- and down-bows alike."""
    series, strokes = bowed(lambda p: 30 + 20 * p, lambda p: 40 + 90 * p, lambda p: 25 - 10 * p)
    for third in ("frog", "middle", "tip"):
        work = work_by_third(series, strokes)[third]
        assert work.degrees == pytest.approx((2.0, 9.0, 1.0), abs=0.05)
        assert work.strokes == tuple(s.number for s in strokes)


def test_an_arm_that_swings_round_the_trunk_moves_too():
    """Level kept at 90 degrees, the arm going round by 30: that is 3 a tenth; hanging down it would be none."""
    level = work_by_third(*bowed(lambda p: 0 * p + 90.0, lambda p: 0 * p, lambda p: 0 * p, swing=lambda p: 30 + 30 * p))["middle"]
    hanging = work_by_third(*bowed(lambda p: 0 * p, lambda p: 0 * p, lambda p: 0 * p, swing=lambda p: 30 + 30 * p))["middle"]
    assert level.degrees[0] == pytest.approx(3.0, abs=0.05)
    assert hanging.degrees[0] == pytest.approx(0.0, abs=0.05)


def test_thirds_are_told_apart_and_what_was_not_seen_is_not_told():
    series, strokes = bowed(lambda p: 30 + 40 * np.minimum(p, 1 / 3), lambda p: 20 + 150 * np.maximum(p - 2 / 3, 0), lambda p: 0 * p)
    work = work_by_third(series, strokes)
    assert work["frog"].degrees[0] == pytest.approx(4.0, abs=0.1) and work["tip"].degrees[0] == pytest.approx(0.0, abs=0.1)
    assert work["tip"].degrees[1] == pytest.approx(15.0, abs=0.2)
    series.values["wrist_angle_deg"][:] = np.nan
    assert set(work_by_third(series, strokes).values()) == {None}


def test_the_uncertainty_covers_noise_and_grows_where_strokes_differ():
    truth = bowed(lambda p: 30 + 20 * p, lambda p: 40 + 90 * p, lambda p: 25 - 10 * p)
    noisy = bowed(lambda p: 30 + 20 * p, lambda p: 40 + 90 * p, lambda p: 25 - 10 * p, noise=2.0)
    for third in ("frog", "middle", "tip"):
        a, b = work_by_third(*truth)[third], work_by_third(*noisy)[third]
        assert all(abs(x - y) < 2 * sd for x, y, sd in zip(a.degrees, b.degrees, b.sd, strict=True))
    series, strokes = truth
    first = strokes[0]
    inside = (series.t >= first.start_s) & (series.t <= first.end_s)
    series.values["forearm_angle_deg"][inside] = 40.0
    assert (
        work_by_third(series, strokes)["middle"].sd[1]
        > 2 * work_by_third(*bowed(lambda p: 0 * p, lambda p: 90 * p, lambda p: 0 * p))["middle"].sd[1] * 0.7
    )


def test_strokes_go_to_the_band_of_their_speed():
    slow, quick = (
        bowed(lambda p: 0 * p, lambda p: 90 * p, lambda p: 0 * p, seconds=4.0),
        bowed(lambda p: 0 * p, lambda p: 90 * p, lambda p: 0 * p, seconds=0.8),
    )
    assert work_by_speed(*slow)["slow"] is not None and work_by_speed(*slow)["fast"] is None
    assert work_by_speed(*quick)["fast"] is not None and work_by_speed(*quick)["slow"] is None
    assert work_by_speed(*slow)["slow"].surely_led_by() == "elbow"


def test_what_two_strokes_show_of_a_school_is_never_sure():
    """A hinge whose upper arm moves ten degrees a tenth of the bow: sure from three strokes on."""
    hinge = replace(PROFILES["Franco-Belgian"], chosen={**PROFILES["Franco-Belgian"].chosen, "upper arm": Wish("hinge", "")})
    series, strokes = bowed(lambda p: 30 + 100 * p, lambda p: 40 + 90 * p, lambda p: 25 - 10 * p)
    for count in (2, 3, 6):
        (found,) = arm_school_findings(series, strokes[:count], hinge)
        assert found.kind == "upper arm moves" and found.sure == (count >= 3), count
