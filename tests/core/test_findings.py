"""Findings: what is off, by how much, how sure, on which strokes, and the sentence for it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from dolcezza.core.base.errors import InstrumentError
from dolcezza.core.findings.profiles import PROFILES, default_profile, profile
from dolcezza.core.findings.rules.bow import find
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.strokes.figures import find_strokes
from tests_support import english, minimum_jerk, series_from

VIOLIN = instrument("violin 4/4")
USUAL = PROFILES["Franco-Belgian"]


def strokes(angle=0.0, contact=28.0, sd=1.0):
    """Four whole bows; ``angle`` and ``contact`` may be functions of the place on the bow."""
    p = np.concatenate([minimum_jerk(a, 1 - a, 0.9) for a in (0.03, 0.97, 0.03, 0.97)])
    t = np.arange(len(p)) / 60.0
    series = series_from(t, p, angle=angle(p) if callable(angle) else angle, contact=contact(p) if callable(contact) else contact)
    series.values["bow_angle_sd_deg"][:] = sd
    series.values["contact_point_sd_mm"][:] = sd
    return find_strokes(series)


def test_a_straight_bow_in_the_lane_gives_no_finding():
    assert find(strokes(angle=1.5), VIOLIN, USUAL) == []


def test_a_swinging_bow_is_one_finding_with_its_cause():
    found = [f for f in find(strokes(angle=lambda p: 9 - 18 * p), VIOLIN, USUAL) if f.kind == "crooked"]
    both = {n for f in found for n in f.strokes}
    assert both == {1, 2, 3, 4}
    assert all(f.cause == "arm swings from the shoulder" for f in found)
    assert all(len(f.evidence_s) == len(f.strokes) for f in found)
    assert "swings round" in english(found[0])
    assert "degrees towards" in english(found[0])


def test_only_the_tip_wanders():
    (found,) = find(strokes(angle=lambda p: np.where(p > 0.7, 50 * (p - 0.7), 0.0)), VIOLIN, USUAL)
    assert found.cause == "arm does not open"
    assert english(found).startswith("The tip wanders towards the scroll in the last third")
    assert found.value > found.limit == 4.0
    assert found.of == 4


def test_a_bow_set_down_crooked():
    (found,) = find(strokes(angle=-7.0), VIOLIN, USUAL)
    assert found.cause == "set down crooked"
    assert found.value == pytest.approx(-7, abs=0.1)
    assert "towards the player all along the bow" in english(found)


def test_a_difference_within_its_own_uncertainty_is_not_sure():
    assert not find(strokes(angle=5.0, sd=3.0), VIOLIN, USUAL)[0].sure
    assert find(strokes(angle=9.0, sd=1.0), VIOLIN, USUAL)[0].sure


def test_out_of_the_lane_to_either_side():
    low, high = USUAL.lane.band_mm(VIOLIN)
    (far,) = find(strokes(contact=high + 6), VIOLIN, USUAL)
    (near,) = find(strokes(contact=low - 6), VIOLIN, USUAL)
    assert (far.kind, near.kind) == ("out of the lane", "out of the lane")
    assert "towards the fingerboard" in english(far)
    assert "towards the bridge" in english(near)
    assert far.value == pytest.approx(high + 6, abs=0.2)
    assert near.limit == pytest.approx(low)


def test_drift_out_of_the_lane_is_laid_to_the_angle_when_the_bow_swings():
    found = find(strokes(angle=lambda p: 10 - 20 * p, contact=lambda p: 22 + 24 * p), VIOLIN, USUAL)
    lane = [f for f in found if f.kind == "out of the lane"]
    assert lane
    assert lane[0].cause == "the crooked bow steers it"


def test_the_limit_is_the_profiles():
    angled = strokes(angle=5.5)
    assert find(angled, VIOLIN, PROFILES["Franco-Belgian"])
    assert not find(angled, VIOLIN, PROFILES["Starter, thumb outside"])


def test_lanes_follow_the_size_of_the_instrument():
    """Half-way between bridge and fingerboard lies inside the lane on every size: common practice, no source."""
    for name in ("violin 4/4", "violin 1/8", "viola 16", "cello 4/4", "cello 1/2"):
        spec = instrument(name)
        low, high = default_profile(spec).lane.band_mm(spec)
        assert low < 0.5 * spec.bridge_to_fingerboard - (spec.hair_width if spec.family == "cello" else 0) < high


def test_unknown_profile_names_the_known_ones():
    with pytest.raises(InstrumentError, match="Franco-Belgian"):
        profile("Martian")


def test_a_lane_that_moves_with_the_left_hand():
    """An octave up the cello's lane is half as far from the bridge (2^(-12/12)); on the violin's profiles it stays."""
    cello, spec = PROFILES["Cello"].lane, instrument("cello 4/4")
    low, high = cello.band_mm(spec)
    assert cello.band_mm(spec, semitones=12.0) == pytest.approx((low / 2, high / 2))
    assert cello.band_mm(spec, semitones=float("nan")) == (low, high)
    assert USUAL.lane.band_mm(VIOLIN, semitones=12.0) == USUAL.lane.band_mm(VIOLIN)
    open_string = strokes(contact=0.5 * (low + high))
    assert find(open_string, spec, PROFILES["Cello"]) == []
    stopped = [replace(s, semitones=12.0) for s in open_string]
    (found,) = find(stopped, spec, PROFILES["Cello"])
    assert found.kind == "out of the lane" and found.limit == pytest.approx(high / 2)
