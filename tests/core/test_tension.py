"""Smoothness, shaking and the signs of tension: against the formulas' own facts, and on made-up strokes."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dolcezza.core.base.message import Message
from dolcezza.core.base.shake import shaking
from dolcezza.core.base.smoothness import log_dimensionless_jerk, spectral_arc_length
from dolcezza.core.strokes.figures import find_strokes
from dolcezza.core.tension.signs import HAND_SIGNS, REFERENCES, Amount, Reference, Sign, nearness, tension_signs
from tests_support import series_from

RATE = 200.0


def minimum_jerk(duration: float = 1.0, way: float = 40.0, rate: float = RATE) -> np.ndarray:
    """Speed of a reach of least jerk: 30 way / T (tau^2 - 2 tau^3 + tau^4)."""
    tau = np.arange(round(duration * rate) + 1) / (duration * rate)
    return way / duration * 30 * (tau**2 - 2 * tau**3 + tau**4)


def test_the_fastest_moment_of_least_jerk_is_known():
    """Flash and Hogan 1985: peak speed = 1.875 x mean speed (from memory)."""
    speed = minimum_jerk()
    assert speed.max() / np.trapezoid(speed, dx=1 / RATE) == pytest.approx(1.875, rel=1e-3)


def test_dimensionless_jerk_of_least_jerk_is_known():
    """Squared jerk of the reach is 720 way^2 / T^5; over peak speed squared, times T^3: 204.8 (Hogan and Sternad 2009, from memory)."""
    assert log_dimensionless_jerk(minimum_jerk(rate=2000.0), 2000.0) == pytest.approx(-np.log(204.8), abs=0.01)


@settings(max_examples=25, deadline=None)
@given(st.floats(0.6, 3.0), st.floats(5.0, 90.0))
def test_both_measures_do_not_mind_size_and_duration(duration, way):
    """Balasubramanian et al. 2012, 2015: without dimension, so the same for large and small, long and short (from memory)."""
    one, other = minimum_jerk(rate=500.0), minimum_jerk(duration, way, rate=500.0)
    assert log_dimensionless_jerk(other, 500.0) == pytest.approx(log_dimensionless_jerk(one, 500.0), abs=0.05)
    assert spectral_arc_length(other, 500.0) == pytest.approx(spectral_arc_length(one, 500.0), abs=0.06)


def test_a_movement_with_halts_is_less_smooth():
    """SPARC of one bell is near -1.4 to -1.6 and falls with every halt (Balasubramanian et al. 2015, from memory)."""
    one = minimum_jerk()
    three = np.concatenate([minimum_jerk(0.4)] * 3)
    assert -1.7 < spectral_arc_length(one, RATE) < -1.35
    assert spectral_arc_length(three, RATE) < spectral_arc_length(one, RATE) - 1.0
    assert log_dimensionless_jerk(three, RATE) < log_dimensionless_jerk(one, RATE) - 3.0


def test_too_short_or_broken_pieces_tell_nothing():
    assert np.isnan(spectral_arc_length(np.ones(4), 30.0))
    assert np.isnan(log_dimensionless_jerk(np.array([1.0, np.nan] * 10), 30.0))
    assert np.isnan(shaking(np.ones(8), 30.0).size)
    assert np.isnan(shaking(np.random.default_rng(0).normal(size=60), 10.0).size)


@pytest.mark.parametrize("hz", [5.0, 7.0, 10.0])
def test_the_size_and_pitch_of_shaking(hz):
    """A sine of size a has a root mean square of a / sqrt 2."""
    t = np.arange(60) / 30
    found_out = shaking(300 * t + 2.0 * np.sin(2 * np.pi * hz * t), 30.0)
    size, found = found_out.size, found_out.hz
    assert found == pytest.approx(hz, abs=0.7)
    assert size == pytest.approx(2.0 / np.sqrt(2), rel=0.25)
    quick = np.arange(120) / 60
    assert shaking(2.0 * np.sin(2 * np.pi * hz * quick), 60.0).size == pytest.approx(2.0 / np.sqrt(2), rel=0.1), "at any frame rate"
    quiet = shaking(300 * t + 40 * np.sin(2 * np.pi * 0.4 * t), 30.0).size
    assert quiet < 0.1


def strokes_of(seconds=9.0, *, shake=0.0, bounce=0.0, elbow=True, raised=0.0, shaking_s=99.0):
    t = np.arange(round(30 * seconds)) / 30
    place = 0.5 - 0.42 * np.cos(np.pi * t / 1.1) + np.where(t < shaking_s, shake / 645.0 * np.sin(2 * np.pi * 7 * t), 0.0)
    series = series_from(t, place)
    series.values["inclination_deg"] = bounce * np.sin(2 * np.pi * 8 * t)
    open_ = 100 + (40 if elbow else 2) * (place - 0.5)
    series.values["forearm_angle_deg"], series.values["wrist_angle_deg"] = open_, 20 + 15 * (place - 0.5)
    series.values["shoulder_raise"] = np.where(t > 4.5, raised, 0.0)
    return series, find_strokes(series)


def test_quiet_strokes_show_few_signs():
    found = tension_signs(*strokes_of())
    assert found.amount is Amount.FEW
    assert found.reasons == ()
    assert set(HAND_SIGNS) <= set(found.unknown), "a take from the front says nothing of the hand"


def test_a_shaking_bouncing_bow_with_a_raised_shoulder_shows_many_and_says_which():
    found = tension_signs(*strokes_of(shake=3.0, bounce=0.9, elbow=False, raised=0.2))
    assert found.amount is Amount.MANY
    assert {"shaking bow", "bouncing stick", "frozen elbow", "raised shoulder"} <= set(found.reasons)
    shake = next(s for s in found.signs if s.name == "shaking bow")
    assert shake.value == pytest.approx(3.0 / np.sqrt(2), rel=0.3)
    assert len(shake.strokes) == len(shake.evidence_s) == shake.of
    assert shake.sd < 0.5


def test_a_place_that_is_told_now_by_one_end_and_now_by_the_other_does_not_shake():
    """The ± leaps where the head of the bow is lost and found again; with a steady ± the same record shakes."""
    series, shaky = strokes_of(shake=3.0)
    whole = [s.number for s in shaky if np.isfinite(s.shake_mm)]
    assert len(whole) >= 6
    series.values["bow_position_sd"] = np.where(np.arange(len(series)) % 14 < 7, 0.005, 0.03)
    told = find_strokes(series)
    assert len(told) == len(shaky) and all(np.isnan(s.shake_mm) for s in told)
    assert sum(np.isfinite(s.bounce_deg) for s in told) >= 6, "the stick's own leaning is told by its line"
    series.values["bow_position_sd"] = np.linspace(0.005, 0.02, len(series))
    assert [s.number for s in find_strokes(series) if np.isfinite(s.shake_mm)] == whole


def test_what_trembles_here_and_there_is_worth_a_look_and_no_more():
    """A hand that trembles does so in almost every stroke (common practice, no source); a bow that is hard to follow jumps in some."""
    sure = {}
    for until in (5.5, 99.0):
        shake = next(s for s in tension_signs(*strokes_of(shake=3.0, shaking_s=until)).signs if s.name == "shaking bow")
        assert shake.shown and 2 * len(shake.strokes) >= shake.of
        sure[until] = shake.sure
    assert sure == {5.5: False, 99.0: True}


def test_a_moment_at_ease_is_what_the_shoulder_is_compared_with():
    series, strokes = strokes_of(raised=0.2)
    against_low = tension_signs(series, strokes, relaxed_s=1.0)
    against_high = tension_signs(series, strokes, relaxed_s=8.0)
    assert "raised shoulder" in against_low.reasons
    assert "raised shoulder" not in against_high.reasons
    note = next(s for s in tension_signs(series, strokes).signs if s.name == "raised shoulder").note
    assert note.id == "sign.no ease"


@pytest.mark.parametrize(("goes_with", "told"), [("elbow_level_deg", "sign.high elbow"), ("semitones", "sign.high notes"), ("", "")])
def test_a_raised_shoulder_says_what_it_goes_up_with(goes_with, told):
    """Common practice, no source: the shoulder creeps up with the elbow, or with the pitch."""
    series, strokes = strokes_of(raised=0.2)
    up = np.linspace(-1.0, 1.0, len(strokes))
    told_of = [replace(s, shoulder_raise=0.2 + 0.05 * k, elbow_level_deg=30.0, semitones=3.0) for s, k in zip(strokes, up, strict=True)]
    if goes_with:
        told_of = [replace(s, **{goes_with: 20.0 + 15.0 * k}) for s, k in zip(told_of, up, strict=True)]
    sign = next(s for s in tension_signs(series, told_of).signs if s.name == "raised shoulder")
    assert sign.shown and sign.where.id == told


def test_jerky_changes_say_how_many_gaps_are_heard():
    series, strokes = strokes_of()
    told_of = [replace(s, log_jerk=-14.0, gap_s=0.1 if s.number % 2 else 0.0) for s in strokes]
    sign = next(s for s in tension_signs(series, told_of).signs if s.name == "jerky speed (jerk)")
    rest = [s for s in strokes[1:] if s.number % 2]
    assert sign.shown and sign.where == Message("sign.gaps", {"n": len(rest), "of": len(strokes) - 1})
    silent = [replace(s, log_jerk=-14.0) for s in strokes]
    assert next(s for s in tension_signs(series, silent).signs if s.name == "jerky speed (jerk)").where.id == "", "without sound"


def test_the_profile_says_where_a_sign_begins():
    series, strokes = strokes_of(shake=2.0)
    wide = {**REFERENCES, "shaking bow": Reference("shaking bow", 9.0, "mm", True, "a trembling bow is part of this exercise")}
    assert "shaking bow" in tension_signs(series, strokes).reasons
    assert "shaking bow" not in tension_signs(series, strokes, references=wide).reasons


def test_bouncing_that_gathers_about_the_balance_point_says_so():
    series, _ = strokes_of()
    place, t = series["bow_position"], series.t
    near = (place > 0.22) & (place < 0.48)
    series.values["inclination_deg"] = np.where(near, 1.5, 0.05) * np.sin(2 * np.pi * 8 * t)
    noise = 0.002 * np.random.default_rng(0).normal(size=len(t))
    series.values["inclination_deg"] = series["inclination_deg"] + noise
    sign = next(s for s in tension_signs(series, find_strokes(series)).signs if s.name == "bouncing stick")
    assert sign.shown and sign.where.id == "sign.balance"


def test_two_strokes_are_too_few_to_tell():
    series, strokes = strokes_of(2.3)
    assert len(strokes) < 3
    found = tension_signs(series, strokes)
    assert found.signs == () and "shaking bow" in found.unknown


def test_how_near_a_sign_is_to_where_it_begins():
    """By hand: 0.45 of 0.9 mm is half way; arc length -1.9 of -2.6; a wrist that moves 12 degrees where 6 is the sign is half way, one of
    3 twice there; nothing measured is nothing of it."""

    def sign(name, value):
        r = REFERENCES[name]
        return Sign(name, value, 0.1, r.unit, r.limit, float("nan"), (), 4, (), False)

    assert nearness(sign("shaking bow", 0.45)) == pytest.approx(0.5)
    assert nearness(sign("jerky speed (arc length)", -1.95)) == pytest.approx(0.75)
    assert nearness(sign("wrist that does not move", 12.0)) == pytest.approx(0.5)
    assert nearness(sign("wrist that does not move", 3.0)) == pytest.approx(2.0)
    assert nearness(sign("shaking bow", float("nan"))) == 0.0


def test_a_place_that_drifts_is_no_trembling_however_far_it_drifts():
    """The flank of something slower reaches into the band; a tremor is a peak of its own, also beside a drift."""
    t = np.arange(0, 1.8, 1 / 24)
    rng = np.random.default_rng(4)
    drift = 40 * np.exp(-0.5 * ((t - 0.9) / 0.11) ** 2) + rng.normal(0, 0.05, len(t))
    assert shaking(drift, 24.0).size > 0.9 and np.isnan(shaking(drift, 24.0).over_noise)
    tremor = 3 * np.sin(2 * np.pi * 1.1 * t) + 1.5 * np.sin(2 * np.pi * 7 * t) + rng.normal(0, 0.05, len(t))
    found = shaking(tremor, 24.0)
    assert found.hz == pytest.approx(7.0, abs=0.6) and found.over_noise > 3
