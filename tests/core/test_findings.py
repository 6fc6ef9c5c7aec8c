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
    # known worse than what is asked of it, an angle proves nothing, however far it lies off
    far = find(strokes(angle=lambda p: 17 - 34 * p, sd=6.0), VIOLIN, USUAL)[0]
    assert far.sd > far.limit and not far.sure


def test_what_is_crooked_on_one_of_two_strings_that_explain_the_picture_alike_is_not_sure():
    """On its twin, a neighbouring string, the same picture is a straight bow."""
    for margin, sure in ((12.0, True), (3.9, False), (float("nan"), True)):
        plain = [replace(s, string_margin=margin) for s in strokes(angle=9.0)]
        assert find(plain, VIOLIN, USUAL)[0].sure is sure


def test_what_shows_where_the_bow_was_seen_faintly_is_not_sure():
    """Something else may have been followed there."""
    for confidence, sure in ((0.8, True), (0.3, False), (float("nan"), True)):
        seen = [replace(s, confidence=confidence) for s in strokes(contact=USUAL.lane.band_mm(VIOLIN)[1] + 20)]
        assert find(seen, VIOLIN, USUAL)[0].sure is sure


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


def test_a_fault_on_one_string_is_said_of_that_string():
    """Eight strokes, four on A that are crooked, four on D that are straight: not "4 of 8", but all of those on A. A string of which one
    stroke was played says nothing, and then the whole is counted."""
    from dataclasses import replace

    crooked = [replace(s, string="A") for s in strokes(angle=9.0, sd=1.0)]
    straight = [replace(s, string="D", number=s.number + 4) for s in strokes(angle=0.5, sd=1.0)]
    (found,) = [f for f in find([*crooked, *straight], VIOLIN, USUAL) if f.kind == "crooked"]
    assert found.strokes == (1, 2, 3, 4) and found.of == 4 and "on 4 of 4 strokes on A" in english(found)
    (one,) = [f for f in find([*crooked, straight[0]], VIOLIN, USUAL) if f.kind == "crooked"]
    assert one.of == 5 and "on 4 of 5 strokes." in english(one).replace(", on", " on").replace("strokes. ", "strokes. ")
    slip = [*crooked[:3], replace(straight[0], string="A", number=4), *straight[:3], replace(crooked[3], string="D", number=8)]
    (habit,) = [f for f in find(slip, VIOLIN, USUAL) if f.kind == "crooked"]
    assert habit.strokes == (1, 2, 3) and habit.of == 4, "one slip on the other string is no habit there"
    both = find([*crooked, *(replace(s, string="D", number=s.number + 4) for s in crooked)], VIOLIN, USUAL)
    assert [f.of for f in both if f.kind == "crooked"] == [8], "a habit on every string is one finding"


def test_out_of_the_lane_on_one_string_is_said_of_that_string():
    from dataclasses import replace

    low, high = USUAL.lane.band_mm(VIOLIN)
    far = [replace(s, string="G") for s in strokes(contact=high + 6)]
    inside = [replace(s, string="E", number=s.number + 4) for s in strokes(contact=0.5 * (low + high))]
    (found,) = find([*far, *inside], VIOLIN, USUAL)
    assert found.of == 4 and "on 4 of 4 strokes on G" in english(found)


def test_bows_off_to_one_side_at_different_places_are_found_at_each_place():
    """Of one kind of bow only the frog is off, of the other only the tip: taken together no third is, and each is said by itself."""
    straight = strokes()
    frog = [replace(s, angle_frog=5.0, angle_middle=0.0, angle_tip=-3.0) for s in straight[:2]]
    tip = [replace(s, angle_frog=-3.0, angle_middle=0.0, angle_tip=5.0) for s in straight[2:]]
    found = [f for f in find([*frog, *tip], VIOLIN, USUAL) if f.kind == "crooked"]
    assert sorted(f.strokes for f in found) == [(1, 2), (3, 4)]
    assert all(abs(f.value) > f.limit for f in found)
