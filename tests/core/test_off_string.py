"""The bow off the string, silence, and the zero."""

from __future__ import annotations

import numpy as np
import pytest

from dolcezza.core.base.errors import TrackingError
from dolcezza.core.bowing.lifted import lifted
from dolcezza.core.bowing.measure import measure_bow
from dolcezza.core.bowing.undrawn import astray, spikes, undrawn
from dolcezza.core.bowing.zero import find_zero
from dolcezza.core.camera.poses import Poses
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.sound.level import loudness, silence
from dolcezza.core.strokes.figures import find_strokes
from dolcezza.core.strokes.segment import Span, segment
from dolcezza.core.strokes.sounded import sounding
from tests_support import camera_at, seen_lines, series_from, take_covariance

MODEL = InstrumentModel(instrument("violin 4/4"))
VIEW = camera_at(MODEL, -15, 38)
LANDMARKS = take_covariance(turn=5e-4)
RATE = 8000


def measure(params, *, silent=None, zero_s=(), string=1, covariance=LANDMARKS):
    n = len(params)
    return measure_bow(
        MODEL, seen_lines(MODEL, VIEW, params, string), Poses.of([VIEW] * n), np.arange(n) / 30, covariance, scale_px=1.0,
        instrument_confidence=np.ones(n), silent=silent, zero_s=zero_s,
    )  # fmt: skip


def bow(n=60, angle=0.0):
    place = 0.5 - 0.4 * np.cos(2 * np.pi * np.arange(n) / 40)
    return np.column_stack([np.full(n, 28.0), np.full(n, angle), np.full(n, MODEL.string_planes[1]), place])


def tone(parts, rate=RATE):
    """Sound of (seconds, loudness) parts with a little noise below it."""
    made = np.concatenate([level * np.sin(2 * np.pi * 294 * np.arange(int(s * rate)) / rate) for s, level in parts])
    return made + 1e-4 * np.random.default_rng(0).normal(size=len(made))


def test_a_bow_seen_behind_the_bridge_is_lifted_and_not_measured():
    path = bow()
    path[20:30, 0] = -30.0
    series = measure(path).series
    assert set(np.flatnonzero(series["lifted"] > 0)) >= set(range(21, 29))
    assert np.isnan(series["bow_angle_deg"][22:28]).all()
    assert series.strings[25] == ""
    assert (series["lifted"][:18] == 0).all()


def test_what_the_landmarks_leave_unknown_hides_no_lifted_bow():
    """Two places of one take differ by 15 mm, however far both may lie from the bridge."""
    path = bow(90)
    path[40:60, 3] = path[39, 3]
    path[45:56, 0] += 15.0
    silent = np.zeros(90, bool)
    silent[40:60] = True
    series = measure(path, silent=silent, covariance=take_covariance(side=1e-5)).series
    assert np.nanmedian(series["contact_point_sd_mm"]) > 5.0
    assert (series["lifted"][47:54] > 0).all() and (series["lifted"][:40] == 0).all()


def test_a_bow_that_moves_in_silence_is_lifted_one_that_rests_is_not():
    path = bow(80)
    path[50:, 3] = path[49, 3]
    silent = np.zeros(80, bool)
    silent[25:35] = silent[60:75] = True
    series = measure(path, silent=silent).series
    assert (series["lifted"][26:34] > 0).all()
    assert (series["lifted"][60:75] == 0).all()


def test_a_glance_of_a_frame_or_two_is_not_a_lift():
    t = np.arange(40) / 30
    contact = np.full(40, 28.0)
    contact[10:12] = -40.0
    assert not lifted(MODEL, contact, np.full(40, 1.0), np.zeros(40), np.zeros(40), t, None).any()
    contact[10:20] = -40.0
    assert lifted(MODEL, contact, np.full(40, 1.0), np.zeros(40), np.zeros(40), t, None).sum() == 10


def test_a_bow_on_its_way_to_behind_the_bridge_has_left_its_string():
    """Frame by frame it is seen farther from where it played; the first of them might still be a place on the string."""
    t = np.arange(60) / 30
    contact = np.full(60, 28.0)
    contact[30:34], contact[34:] = [26.0, 16.0, 6.0, -4.0], -25.0
    off = lifted(MODEL, contact, np.full(60, 1.0), np.zeros(60), np.zeros(60), t, None)
    assert np.flatnonzero(off).tolist() == list(range(31, 60))


def test_an_uncertain_contact_point_does_not_make_a_lift():
    contact = np.full(40, -20.0)
    assert lifted(MODEL, contact, np.full(40, 1.0), np.zeros(40), np.zeros(40), np.arange(40) / 30, None).all()
    assert not lifted(MODEL, contact, np.full(40, 9.0), np.zeros(40), np.zeros(40), np.arange(40) / 30, None).any()


def test_a_silent_bow_that_lies_otherwise_than_it_played_is_in_the_air():
    """It plays, rests, goes off turned by 20 degrees, comes back to where it will play and rests there."""
    t, silent = np.arange(160) / 30, np.zeros(160, bool)
    silent[60:100] = True
    contact, angle = np.full(160, 28.0), np.zeros(160)
    angle[70:90] = 20.0
    got = lifted(MODEL, contact, np.full(160, 1.0), angle, np.zeros(160), t, silent)
    assert np.flatnonzero(got).tolist() == list(range(70, 90))
    # the same by the place on the string, within what its ± allows
    contact[70:90], angle[:] = 43.0, 0.0
    assert lifted(MODEL, contact, np.full(160, 1.0), angle, np.zeros(160), t, silent).sum() == 20
    assert not lifted(MODEL, contact, np.full(160, 5.0), angle, np.zeros(160), t, silent).any()
    # what all frames err by alike moves none of them against another
    assert lifted(MODEL, contact, np.full(160, 5.0), angle, np.zeros(160), t, silent, np.full(160, 1.0)).sum() == 20
    # nor does what varied while it played
    waves = contact + np.where((t < 1.9) | (t > 3.4), 9.0 * np.sin(9 * t), 0.0)
    assert not lifted(MODEL, waves, np.full(160, 1.0), angle, np.zeros(160), t, silent).any()
    # what comes back for a moment in the air is not at rest: nothing joins it to the tone
    contact[78:82] = 28.0
    assert lifted(MODEL, contact, np.full(160, 1.0), angle, np.zeros(160), t, silent).sum() == 20


def test_a_bow_that_leaves_a_string_that_rings_on_is_in_the_air():
    """It plays until 2 s and goes off at once, the string sounds for 0.4 s more; before the next tone, which seems to begin early, it comes
    down again. A bow whose place changes as it is drawn stays on until silence."""
    t = np.arange(160) / 30
    silent = (t >= 2.4) & (t < 3.0)
    away = (t >= 2.0) & (t < 3.1)
    contact = np.where(away, 40.0, 28.0)
    still = np.zeros(160)
    assert (lifted(MODEL, contact, np.full(160, 1.0), still, still, t, silent) == away).all()
    resting = np.where(away & ~silent, 40.0, 28.0)
    assert not lifted(MODEL, resting, np.full(160, 1.0), still, still, t, silent).any(), "what lies elsewhere while it sounds is played so"
    drifts = 28.0 + np.interp(t, [0.0, 2.4], [0.0, 20.0])
    assert not lifted(MODEL, drifts, np.full(160, 1.0), still, still, t, silent)[t < 2.4].any()
    early = np.where((t >= 1.7) & (t < 3.1), 40.0, 28.0)
    assert not lifted(MODEL, early, np.full(160, 1.0), still, still, t, silent)[t < 2.4].any(), "most of the time before it played there"


def test_a_stroke_ends_where_the_bow_is_lifted():
    """Two down-bows with a retake between them: the way back through the air is no stroke."""
    t = np.arange(120) / 60
    position = np.concatenate([np.linspace(0.1, 0.8, 50), np.linspace(0.8, 0.15, 20), np.linspace(0.15, 0.85, 50)])
    off = (np.arange(120) >= 50) & (np.arange(120) < 70)
    assert [s.down for s in segment(position, t, off)] == [True, True]
    assert [s.down for s in segment(position, t)] == [True, False, True]
    series = series_from(t, position)
    series.values["lifted"] = off.astype(float)
    assert [s.direction for s in find_strokes(series)] == ["down", "down"]


def test_silence_is_relative_to_the_take_and_longer_than_the_dip_of_a_change():
    t = np.arange(0, 2.5, 1 / 30)
    for gain in (1.0, 0.02):
        sound = gain * tone([(1.0, 0.5), (0.05, 0.0), (0.7, 0.5), (0.75, 0.0)])
        quiet = silence(loudness(sound, start_s=0.0, rate_hz=RATE), t)
        assert quiet is not None
        assert not quiet[t < 1.7].any()
        assert quiet[(t > 1.85) & (t < 2.4)].all()


def test_a_take_in_a_noisy_room_tells_nothing_by_its_silence():
    noise = np.random.default_rng(1).normal(size=RATE * 2)
    assert silence(loudness(noise, start_s=0.0, rate_hz=RATE), np.arange(60) / 30) is None
    assert silence(loudness(np.zeros(10), start_s=0.0, rate_hz=RATE), np.arange(60) / 30) is None


def test_a_shift_of_the_resting_bow_is_no_stroke():
    loud = loudness(tone([(0.8, 0.0), (1.0, 0.5), (1.0, 0.4)]), start_s=0.0, rate_hz=RATE)
    spans = [Span(0.1, 0.7, True), Span(0.8, 1.8, False), Span(1.8, 2.8, True)]
    assert sounding(spans, loud) == spans[1:]
    assert sounding(spans, None) == spans


def test_the_zero_takes_the_remaining_angle_out_of_the_take():
    path = bow(90, angle=4.0)
    path[60:, 1] = 9.0
    plain, zeroed = measure(path), measure(path, zero_s=(1.0,))
    assert zeroed.zero is not None
    assert zeroed.zero.bias_deg == pytest.approx(4.0, abs=1.0)
    left = zeroed.series["bow_angle_deg"]
    assert np.median(np.abs(left[10:50])) < 0.3
    assert np.median(left[70:]) == pytest.approx(5.0, abs=0.8)
    assert zeroed.series["bow_angle_sd_deg"][10:50].mean() < plain.series["bow_angle_sd_deg"][10:50].mean()
    straight_moved = np.hypot(*(zeroed.series[f"straight_{a}_px"] - zeroed.series[f"head_{a}_px"] for a in "xy"))
    assert np.median(straight_moved[10:50]) < 3.0


def test_several_zeros_are_averaged_and_known_better():
    t = np.arange(300) / 30
    angle = 3.0 + np.random.default_rng(2).normal(0, 0.2, 300)
    gain = np.column_stack([t, np.ones(300)])
    one, three = find_zero(angle, np.full(300, 0.5), t, [2.0], gain), find_zero(angle, np.full(300, 0.5), t, [2.0, 5.0, 8.0], gain)
    assert three.bias_deg == pytest.approx(3.0, abs=0.2)
    assert one.gain == pytest.approx([2.0, 1.0], abs=0.02) and three.gain == pytest.approx([5.0, 1.0], abs=0.02)
    assert three.sd_deg < one.sd_deg


def test_a_zero_where_no_bow_was_seen_is_refused_with_its_time():
    with pytest.raises(TrackingError, match=r"4\.0 s"):
        find_zero(np.full(60, np.nan), np.full(60, 1.0), np.arange(60) / 30, [4.0], np.zeros((60, 2)))


def test_what_stands_while_a_string_sounds_and_leaps_to_the_bow_is_no_bow():
    """An edge was followed for half a second before the bow was found, where it had come to by then."""
    t = np.arange(50) / 25.0
    drawn = np.interp(t, [0.2, 1.8], [0.1, 0.8])
    edge = np.where(t < 0.8, 0.99, drawn)
    sounds, same = t < 0.2, np.full(50, 55.0)
    assert (undrawn(edge, same, t, sounds) == (t < 0.8)).all()
    unseen = np.where((t > 0.9) & (t < 1.1), np.nan, edge)
    assert (undrawn(unseen, same, t, sounds) == (t < 0.8)).all(), "a bow that is lost for a moment goes on"
    assert not undrawn(edge, same, t, t < 0.7).any(), "nothing sounds: a bow at rest, set down elsewhere afterwards"
    assert not undrawn(edge, same, t, None).any(), "without sound nothing can be said"
    few = np.arange(30) / 10.0
    stops = np.interp(few, [0.5, 0.9, 1.3, 1.7], [0.1, 0.8, 0.8, 0.1])
    assert not undrawn(stops, same[:30], few, np.zeros(30, bool)).any(), (
        "a bow that stops between quick ones, seen in few frames, was drawn there"
    )
    beside = np.where(t < 0.8, drawn[20] + 0.13, drawn)
    assert (undrawn(beside, same, t, sounds) == (t < 0.8)).all(), "from standing no bow is drawn an eighth of its length within a frame"
    half = np.where(np.isclose(t, 0.8), 0.9, np.where(t < 0.8, 0.99, 0.72 + 0.05 * (t - 0.8)))
    assert (undrawn(half, same, t, sounds) == (t < 0.79)).all(), "a line between the two does not lead from the one to the other"
    soon = np.interp(t, [0.0, 0.4, 0.9, 1.3, 1.9], [0.1, 0.7, 0.7, 0.1, 0.1])
    along = np.where((t > 0.38) & (t < 0.92), 75.0, 55.0)
    assert not undrawn(soon, same, t, np.zeros(50, bool)).any()
    assert undrawn(soon, along, t, np.zeros(50, bool))[10:23].all(), "no bow that stands slides 20 mm along the string in a frame"
    creeps = np.interp(t, [0.0, 0.8, 1.9], [0.100, 0.102, 0.8])
    assert not undrawn(creeps, same, t, np.zeros(50, bool)).any(), "a slow bow that has hardly set off is drawn"


def test_what_the_bow_leaps_to_and_back_from_is_no_bow():
    """For a third of a second its shadow was followed, 45 mm farther along the string; a bow that is set down there stays."""
    t = np.arange(60) / 30.0
    contact, none = 25.0 + 2 * np.sin(t), np.zeros(60, bool)
    shadow = (t > 0.5) & (t < 0.84)
    assert (astray(contact + 45.0 * shadow, t, none) == shadow).all()
    assert not astray(contact + 45.0 * shadow, t, np.arange(60) == 20).any(), "the teacher has set it there"
    lost = np.where(t == t[20], np.nan, contact + 45.0 * shadow)
    assert (astray(lost, t, none) == (shadow & np.isfinite(lost))).all()
    assert not astray(contact + 45.0 * (t > 0.5), t, none).any() and not astray(contact + 45.0 * ((t > 0.3) & (t < 1.6)), t, none).any()
    slides = contact + np.interp(t, [0.3, 0.7, 0.9, 1.4], [0.0, 40.0, 40.0, 0.0])
    assert not astray(slides, t, none).any(), "a bow that slides goes the way between"
    assert not astray(contact + 10.0 * shadow, t, none).any()
    assert not astray(contact + 45.0 * shadow + 25.0 * (t >= 0.84), t, none).any(), "it does not come back to where it was"
    assert not astray(np.where(np.abs(t - 0.5) < 0.2, np.nan, contact + 45.0 * shadow), t, none).any(), (
        "it was set down there, seen by nobody"
    )


def test_the_record_leaves_out_what_is_no_bow():
    """For half a second of tone the line has its place at the tip and does not move; then it is a third of the hair away, and goes on."""
    path = bow(60)
    path[:20, 3] = 0.97
    path[20:, 3] = np.linspace(0.4, 0.9, 40)
    series = measure(path, silent=np.zeros(60, bool)).series
    assert np.isnan(series["bow_angle_deg"][:16]).all() and np.isnan(series["bow_position"][:16]).all()
    assert np.isfinite(series["bow_angle_deg"][24:]).all()
    assert np.isfinite(measure(path).series["bow_angle_deg"][:16]).all(), "without sound it stays"


def test_a_place_that_is_elsewhere_for_a_moment_is_not_told():
    t = np.arange(40) / 25
    place = 0.1 + 0.5 * t / t[-1]
    assert not spikes(place, t).any()
    for far, pace in ((0.1, 20.0), (0.3, 8.0)):
        assert not spikes(0.5 + far * np.sin(pace * t), t).any(), "quick bows go there and back, but not so soon"
    once, twice, longer = place.copy(), place.copy(), place.copy()
    once[10] += 0.14
    twice[20:22] -= 0.14
    longer[20:25] -= 0.14
    assert np.flatnonzero(spikes(once, t)).tolist() == [10]
    assert np.flatnonzero(spikes(twice, t)).tolist() == [20, 21]
    assert not spikes(longer, t).any(), "so long it may be the bow"
    lost = once.copy()
    lost[[9, 11]] = np.nan
    assert np.flatnonzero(spikes(lost, t)).tolist() == []
    assert not spikes(np.where(t > 0.4, place + 0.14, place), t).any(), "what does not come back"
