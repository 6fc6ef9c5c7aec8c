"""Strokes: cut where the bow turns, stops, is lifted; figures that follow from the movement."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from dolcezza.core.sound.level import STEP_S, Loudness, loudness
from dolcezza.core.strokes.figures import describe, find_strokes
from dolcezza.core.strokes.heard_turns import dips_at, goes_on, rises_between
from dolcezza.core.strokes.segment import Span, segment, where_drawn
from dolcezza.core.strokes.signature import Shape, signature
from dolcezza.core.strokes.sounded import refine, sounding
from dolcezza.core.strokes.turns import ByEar
from tests_support import minimum_jerk, series_from

RATE = 60.0


def joined(*parts: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    position = np.concatenate(parts)
    return np.arange(len(position)) / RATE, position


def rest(place: float, seconds: float) -> np.ndarray:
    return np.full(round(seconds * RATE), place)


def test_down_and_up_with_rests_before_and_after():
    t, p = joined(rest(0.1, 0.8), minimum_jerk(0.1, 0.9, 1.0), minimum_jerk(0.9, 0.1, 1.2), rest(0.1, 0.7))
    spans = segment(p, t)
    assert [s.down for s in spans] == [True, False]
    assert spans[0].start_s == pytest.approx(0.8, abs=0.06)
    assert spans[0].end_s == pytest.approx(1.81, abs=0.04)
    assert spans[0].end_s == spans[1].start_s
    assert spans[1].end_s == pytest.approx(3.03, abs=0.06)


def test_how_well_places_are_known_and_seen_goes_into_the_strokes():
    """The bow seems to go on by 1 % of the hair for 0.4 s after its tone has dipped: that is its turn where places are known no better."""
    t = np.arange(0.0, 4.0, 1 / RATE)
    place = np.interp(t, [0.0, 2.0, 2.4, 4.0], [0.1, 0.86, 0.87, 0.1])
    at = np.arange(0.0, 4.0, STEP_S)
    heard = Loudness(at, np.abs(np.sin(np.pi * at / 2.0)) + 1e-3, False)
    for sd, turn in ((0.05, 2.0), (0.003, 2.4)):
        series = series_from(t, place).with_columns({"bow_position_sd": np.full(len(t), sd), "confidence": np.where(t < 2.2, 0.9, 0.3)})
        first, second = find_strokes(series, heard)
        assert first.end_s == pytest.approx(turn, abs=0.06)
        assert (first.confidence, second.confidence) == (0.9, 0.3)


def test_noise_at_rest_makes_no_strokes():
    rng = np.random.default_rng(0)
    t = np.arange(300) / RATE
    assert segment(0.4 + rng.normal(0, 0.003, 300), t) == []


def test_strokes_survive_noise_and_missing_frames():
    rng = np.random.default_rng(1)
    t, p = joined(*[minimum_jerk(a, 1 - a, 0.8) for a in (0.1, 0.9, 0.1, 0.9)])
    noisy = p + rng.normal(0, 0.002, len(p))
    noisy[40:45] = np.nan
    spans = segment(noisy, t)
    assert [s.down for s in spans] == [True, False, True, False]
    for k, span in enumerate(spans):
        assert span.start_s == pytest.approx(k * 49 / RATE, abs=0.08)


def test_what_a_place_is_in_doubt_by_is_no_turn():
    """Just after a turn the head was lost before a wall: the bow seemed to lie up to 8 % farther on, give or take 4."""
    t, p = joined(minimum_jerk(0.9, 0.1, 1.0), minimum_jerk(0.1, 0.9, 1.0))
    off, sd = p.copy(), np.full(len(p), 0.02)
    at = slice(62, 73)
    off[at] += np.interp(np.arange(11), [0, 4, 10], [0.02, 0.08, 0.0])
    steady, turning = ByEar(rises=lambda *_: False), ByEar(rises=lambda *_: True)
    assert len(segment(off, t, sd=sd, heard=steady)) == 4
    sd[at] = 0.03
    assert len(segment(off, t, sd=sd, heard=steady)) == 4, "6 % back are more than twice what 3 % and not 2 leave in doubt"
    sd[at] = 0.04
    assert [s.down for s in segment(off, t, sd=sd, heard=steady)] == [False, True]
    assert len(segment(off, t, sd=sd, heard=turning)) == len(segment(off, t, sd=sd)) == 4, "the tone says that it has turned, or nothing"
    series = series_from(t, off).with_columns({"bow_position_sd": sd})
    sounds = replace(humming([]), t_s=np.arange(0, 3, 0.01), level=np.ones(300))
    assert len(find_strokes(series)) == 4 and len(find_strokes(series, sounds)) == 2
    assert len(segment(off, t, sd=np.full(len(p), 0.07), heard=steady)) == 4, "what all places share moves none against the others"


def flicked(*at: float, by: float = 0.1) -> tuple[np.ndarray, np.ndarray]:
    """A down- and an up-bow of 3 s, the head of the bow taken for something else for a fifth of a second at each of the moments ``at``."""
    t, p = joined(minimum_jerk(0.1, 0.9, 3.0), minimum_jerk(0.9, 0.1, 3.0))
    for moment in at:
        p = p + by * np.interp(t, moment + np.array([-0.1, 0.0, 0.02, 0.12]), [0, 1, 1, 0])
    return t, p


@pytest.mark.parametrize("at", [(4.0,), (4.0, 4.2, 4.9)])
def test_a_flick_in_a_long_bow_is_none_while_its_tone_goes_on(at):
    t, p = flicked(*at)
    on, turns = ByEar(goes_on=lambda *_: True), ByEar(goes_on=lambda *_: False)
    assert len(segment(p, t)) == len(segment(p, t, heard=turns)) > 3, "without a tone, or where that dips, it has turned"
    down, up = segment(p, t, heard=on)
    t, p = flicked()
    assert [up.start_s, up.end_s] == pytest.approx([segment(p, t)[1].start_s, segment(p, t)[1].end_s], abs=0.03)
    assert down.down and not up.down
    humming_on = Loudness(np.arange(0, 7, STEP_S), np.where(np.abs(np.arange(0, 7, STEP_S) - 3.0) < 0.04, 0.1, 1.0))
    series = series_from(*flicked(*at))
    assert len(find_strokes(series, humming_on)) == 2 < len(find_strokes(series))


def test_how_evenly_a_bow_goes_is_not_told_where_it_seems_to_go_back():
    t = np.arange(0, 7, STEP_S)
    humming_on = Loudness(t, np.where(np.abs(t - 3.0) < 0.04, 0.1, 1.0))
    _, whole = find_strokes(series_from(*flicked()), humming_on)
    _, back = find_strokes(series_from(*flicked(4.0)), humming_on)
    assert whole.evenness == pytest.approx(find_strokes(series_from(*flicked(4.0, by=0.01)), humming_on)[1].evenness, abs=0.1)
    assert np.isnan(back.evenness) and not np.isnan(whole.evenness)


def test_quick_bows_are_no_flicks():
    """Between two long bows four short ones: as long together as a long one, however their tone goes on."""
    t, p = joined(minimum_jerk(0.1, 0.7, 1.0), *[minimum_jerk(a, 1.2 - a, 0.2) for a in (0.7, 0.5, 0.7, 0.5)], minimum_jerk(0.7, 0.1, 1.0))
    assert len(segment(p, t, heard=ByEar(goes_on=lambda *_: True))) == 6


def test_a_dotted_rhythm_is_played_though_somebody_elses_tone_goes_on():
    """Six times a long bow and a short one back; alone among long ones it would be a flick."""
    on = ByEar(goes_on=lambda *_: True)
    pairs = [
        minimum_jerk(a, b, long)
        for k in range(6)
        for a, b, long in ((0.1 + 0.1 * k, 0.3 + 0.1 * k, 0.6), (0.3 + 0.1 * k, 0.2 + 0.1 * k, 0.2))
    ]
    t, p = joined(*pairs)
    assert len(segment(p, t, heard=on)) == 12
    t, p = joined(*pairs[:2], minimum_jerk(0.2, 0.9, 2.0))
    assert len(segment(p, t, heard=on)) == 1


@pytest.mark.parametrize("first", [True, False])
def test_a_flick_before_or_after_a_bow_is_left_out_while_its_tone_goes_on(first):
    t, p = joined(
        *([minimum_jerk(0.2, 0.1, 0.15)] if first else []), minimum_jerk(0.1, 0.9, 1.0), *([] if first else [minimum_jerk(0.9, 0.8, 0.15)])
    )
    assert len(segment(p, t)) == 2
    [only] = segment(p, t, heard=ByEar(dips=lambda _: False))
    assert only.down and only.start_s == pytest.approx(0.15 if first else 0.0, abs=0.05)
    assert only.end_s == pytest.approx(1.17 if first else 1.0, abs=0.05)


def test_a_tone_goes_on_or_dips_whatever_it_beats():
    """Two tones that beat thirty times a second by a third; a dip of a twelfth of a second at 1.0 s, another at 1.3 s or none."""
    t = np.arange(0, 3, STEP_S)
    beats = 1 + 0.3 * np.sin(2 * np.pi * 30 * t)
    dips = beats * (1 - 0.7 * ((np.abs(t - 1.0) < 0.04) | (np.abs(t - 1.3) < 0.04)))
    on, twice = Loudness(t, beats), Loudness(t, dips)
    assert goes_on(on, 1.0, 1.3) and not goes_on(twice, 1.0, 1.3) and not goes_on(None, 1.0, 1.3)
    assert dips_at(twice, 1.0) and dips_at(None, 1.0) and not dips_at(on, 1.0)
    murmurs = Loudness(t, dips * np.where(t < 1.0, 1.0, 0.4))
    assert not dips_at(murmurs, 1.0), "what rises again no more than that is no bow"
    hushed = Loudness(t, np.where((t > 0.9) & (t < 1.4), 0.2, 1.0))
    assert not goes_on(hushed, 1.0, 1.3), "what hardly sounds does not go on"


def test_a_tone_rises_between_two_turns_of_the_bow():
    """Dips at 1.0 and 1.3 s; in a tone that goes on, or only comes back after a dip, nothing has turned twice."""
    level = np.ones(300)
    level[95:105] = level[125:135] = 0.5
    sound = replace(humming([]), t_s=np.arange(300) / 100, level=level)
    assert rises_between(sound, 1.0, 1.3) and rises_between(None, 1.0, 1.3)
    assert not rises_between(replace(sound, level=np.ones(300)), 1.0, 1.3)
    back = np.interp(np.arange(300) / 100, [0.9, 1.0, 1.4], [1.0, 0.4, 1.0])
    assert not rises_between(replace(sound, level=back), 1.0, 1.1), "a dip and the way out of it"


def test_a_halt_in_one_direction_makes_two_strokes():
    t, p = joined(minimum_jerk(0.1, 0.5, 0.6), rest(0.5, 0.4), minimum_jerk(0.5, 0.9, 0.6))
    assert [s.down for s in segment(p, t)] == [True, True]


def test_a_bow_set_down_elsewhere_is_a_new_stroke():
    t, p = joined(minimum_jerk(0.9, 0.1, 0.6), minimum_jerk(0.5, 0.9, 0.6))
    spans = segment(p, t)
    assert [s.down for s in spans] == [False, True]
    assert spans[0].end_s == pytest.approx(0.6, abs=0.08)


@pytest.mark.parametrize(("seconds", "travel"), [(0.12, 0.15), (0.3, 0.4), (2.0, 0.6), (20.0, 0.7)])
def test_very_short_and_very_long_strokes(seconds, travel):
    far = 0.2 + travel
    t, p = joined(rest(0.2, 0.3), minimum_jerk(0.2, far, seconds), minimum_jerk(far, 0.2, seconds), rest(0.2, 0.3))
    spans = segment(p, t)
    assert [s.down for s in spans] == [True, False]
    assert spans[0].end_s == pytest.approx(0.3 + seconds, abs=0.08)


def test_a_turn_that_is_not_seen_lies_in_the_middle_while_the_bow_is_there():
    """The head leaves the picture for half a second: the bow is seen on its string, but not how far it has gone."""
    t = np.arange(0, 4, 1 / 30)
    p = np.interp(t, [0, 2, 4], [0.1, 0.9, 0.1])
    hidden = np.abs(t - 2.0) < 0.28
    p[hidden] = np.nan
    assert len(segment(p, t)) == 2 and segment(p, t)[0].end_s < 1.8, "nothing is known of the gap"
    down, up = segment(p, t, there=np.ones(len(t), bool))
    assert (down.down, up.down) == (True, False)
    assert down.end_s == pytest.approx(2.0, abs=0.05) and up.start_s == pytest.approx(2.0, abs=0.05)
    away = ~hidden
    assert segment(p, t, there=away) == segment(p, t), "a bow that is not seen at all may be anywhere"


def test_a_moment_that_stands_alone_does_not_lengthen_a_stroke():
    """The bow goes away after a stroke; a quarter of a second later an arm crosses the strings for a moment."""
    t, p = joined(rest(0.2, 0.3), minimum_jerk(0.2, 0.7, 0.8), rest(0.7, 1.0))
    gone = (t > 1.12) & ~((t > 1.36) & (t < 1.43))
    arm = (t > 1.36) & (t < 1.43)
    assert 2 <= arm.sum() <= 4
    p = np.where(arm, 0.95, np.where(gone, np.nan, p))
    (stroke,) = segment(p, t)
    assert stroke.end_s == pytest.approx(1.1, abs=0.06)
    # what is known just before and after a single lost frame is no moment alone
    holes = np.where(np.arange(len(t)) % 3 == 2, np.nan, np.where(t < 1.12, p, np.nan))
    assert len(segment(holes, t)) == 1


def test_nothing_measured_means_no_strokes():
    assert segment(np.full(50, np.nan), np.arange(50) / 30.0) == []
    assert segment(np.zeros(0), np.zeros(0)) == []


def test_top_speed_of_the_smoothest_stroke_is_1875_of_the_mean():
    """Flash & Hogan 1985 (minimum-jerk movement, from memory): peak speed = 1.875 x mean speed."""
    t, p = joined(rest(0.1, 0.5), minimum_jerk(0.1, 0.9, 1.0), rest(0.9, 0.5))
    (stroke,) = find_strokes(series_from(t, p))
    speed = np.abs(np.gradient(p, t)) * 64.5
    assert stroke.peak_speed_cm_s == pytest.approx(1.875 * 0.8 * 64.5, rel=0.03)
    assert stroke.peak_speed_cm_s == pytest.approx(speed.max(), rel=0.02)
    assert stroke.share_used == pytest.approx(0.8, abs=0.01)


def test_speed_has_the_sign_of_the_stroke():
    t, p = joined(minimum_jerk(0.1, 0.9, 1.0), minimum_jerk(0.9, 0.1, 1.0))
    series = series_from(t, p)
    down, up = find_strokes(series)
    assert down.direction == "down"
    assert series["bow_speed_cm_s"][20] > 0 > series["bow_speed_cm_s"][90]
    assert up.mean_speed_cm_s == pytest.approx(down.mean_speed_cm_s, rel=0.05)


def test_thirds_slope_and_drift_of_a_bow_that_swings():
    t, p = joined(minimum_jerk(0.0, 1.0, 1.0))
    (stroke,) = find_strokes(series_from(t, p, angle=-8 + 16 * p, contact=25 + 10 * p))
    assert stroke.angle_slope == pytest.approx(16, abs=0.2)
    assert stroke.angle_frog < -5 < stroke.angle_middle < 5 < stroke.angle_tip
    assert stroke.contact_drift == pytest.approx(10, abs=0.3)
    assert abs(stroke.angle_worst) == pytest.approx(8, abs=0.3)


def test_a_stroke_says_what_share_of_it_was_seen():
    t, p = joined(minimum_jerk(0.1, 0.9, 1.0))
    series = series_from(t, p)
    for column in ("bow_angle_deg", "contact_point_mm"):
        series.values[column][:12] = np.nan
    (stroke,) = find_strokes(series)
    assert stroke.share_seen == pytest.approx(1 - 12 / 61, abs=0.05)


def shape_of(angle) -> Shape:
    t, p = joined(minimum_jerk(0.0, 1.0, 1.0))
    return signature(find_strokes(series_from(t, p, angle=angle(p))), 4.0).shape


@pytest.mark.parametrize(
    ("angle", "shape"),
    [
        (lambda p: 0 * p + 1.0, Shape.STRAIGHT),
        (lambda p: -9 + 18 * p, Shape.SWING),
        (lambda p: 8 - 16 * p, Shape.SWING),
        (lambda p: np.where(p > 0.7, 40 * (p - 0.7), 0.0), Shape.TIP_ONLY),
        (lambda p: np.where(p < 0.3, -40 * (0.3 - p), 0.0), Shape.FROG_ONLY),
        (lambda p: 0 * p - 7.0, Shape.CONSTANT),
    ],
)
def test_the_shape_along_the_bow_names_the_cause(angle, shape):
    """Which shape goes with which cause: common practice, no source."""
    assert shape_of(angle) is shape


def humming(spans, level=0.3, rate=16_000, length=4.0):
    """A tone that swells and fades within each span, silent between."""
    t = np.arange(int(length * rate)) / rate
    sound = np.zeros_like(t)
    for a, b in spans:
        inside = (t >= a) & (t <= b)
        u = (t[inside] - a) / (b - a)
        sound[inside] = level * np.minimum(1, 8 * np.minimum(u, 1 - u)) * np.sin(2 * np.pi * 220 * t[inside])
    return loudness(sound, start_s=0.0, rate_hz=rate)


def test_the_sound_moves_a_boundary_to_its_dip():
    seen = [Span(0.55, 1.58, True), Span(1.58, 2.4, False)]
    got = refine(seen, humming([(0.5, 1.5), (1.5, 2.5)]))
    assert got[0].end_s == got[1].start_s == pytest.approx(1.5, abs=0.012)
    assert got[0].start_s == pytest.approx(0.5, abs=0.02)
    assert got[1].end_s == pytest.approx(2.5, abs=0.02)


def test_a_sound_that_goes_on_or_is_missing_changes_nothing():
    seen = [Span(0.55, 1.58, True), Span(1.58, 2.4, False)]
    steady = loudness(np.sin(np.arange(64_000) / 9.0), start_s=0.0, rate_hz=16_000)
    assert refine(seen, steady) == seen
    assert refine(seen, None) == seen
    assert refine(seen, humming([(3.5, 3.9)])) == seen


def test_evenness_is_one_for_a_steady_bow_and_falls_when_it_rushes():
    t = np.arange(90) / RATE
    steady = np.interp(t, [0, 0.2, 1.2, 1.5], [0.1, 0.1, 0.9, 0.9])
    rushed = np.interp(t, [0, 0.2, 0.4, 1.2, 1.5], [0.1, 0.1, 0.6, 0.9, 0.9])
    (even,), (uneven,) = (find_strokes(series_from(t, p)) for p in (steady, rushed))
    assert even.evenness > 0.95
    assert uneven.evenness < 0.7
    # a place that is told 1 % of the hair too far on over one half of 80 %: that half is quicker and the other slower by root 2 of 80 to 1
    (doubtful,) = find_strokes(series_from(t, steady).with_columns({"bow_position_sd": np.full(90, 0.01)}))
    assert doubtful.evenness_sd == pytest.approx(doubtful.evenness**2 * np.sqrt(2) / 80, rel=0.02)


def test_where_a_place_is_hardly_known_a_bow_does_not_go_unevenly():
    """The head is lost for a tenth of a second twice, and the bow seems to run ahead by 5 %, by no more than two sd of its place."""
    t = np.arange(90) / RATE
    steady = np.interp(t, [0, 0.2, 1.2, 1.5], [0.1, 0.1, 0.9, 0.9])
    ahead = ((t > 0.4) & (t < 0.5)) | ((t > 0.8) & (t < 0.9))
    place, sd = steady + 0.05 * ahead, np.where(ahead, 0.025, 0.01)
    (known,) = find_strokes(series_from(t, place).with_columns({"bow_position_sd": np.full(90, 0.01)}))
    (lost,) = find_strokes(series_from(t, place).with_columns({"bow_position_sd": sd}))
    assert known.evenness < 0.75 and lost.evenness > 0.9
    half = np.where((t > 0.3) & (t < 0.8), 0.03, np.where(t < 0.3, 0.01, 0.012))
    (unknown,) = find_strokes(series_from(t, place).with_columns({"bow_position_sd": half}))
    assert np.isnan(unknown.evenness), "most of the stroke tells nothing"


def test_contact_spread_and_fraction_of_a_stroke():
    t, p = joined(minimum_jerk(0.1, 0.9, 1.0))
    (stroke,) = find_strokes(series_from(t, p, contact=28.5 + 3 * np.sign(np.sin(np.arange(len(p))))))
    assert stroke.contact_spread == pytest.approx(3.0, abs=0.1)
    assert stroke.contact_fraction == pytest.approx(0.5, abs=0.01)


@pytest.mark.parametrize(("doubtful", "told"), [(0.2, 12.0), (0.4, 1.5)], ids=["at the turn", "for a note of a slur"])
def test_a_string_is_told_as_plainly_as_on_most_of_the_stroke(doubtful, told):
    """On a note of a slur that may be another string's the angle may be another: a stroke is not plain for its other notes."""
    t, p = joined(minimum_jerk(0.1, 0.9, 1.0))
    margin = np.where(t <= doubtful * t[-1], 1.5, 12.0)
    (stroke,) = find_strokes(series_from(t, p).with_columns({"string_margin": margin}))
    assert stroke.string_margin == pytest.approx(told)
    (unknown,) = find_strokes(series_from(t, p).with_columns({"string_margin": np.full(len(t), np.nan)}))
    assert np.isnan(unknown.string_margin)


def test_a_bow_set_elsewhere_between_two_strokes_does_not_lengthen_them():
    rate = 30.0
    first, second = minimum_jerk(0.5, 0.1, 1.0, rate), minimum_jerk(0.55, 0.95, 1.0, rate)
    place = np.concatenate([first, second])
    t = np.arange(len(place)) / rate
    edge = t[len(first) - 1] + 0.5 / rate
    spans = [Span(0.0, edge, False), Span(edge, t[-1], True)]
    before, after = (describe(series_from(t, place), span, k + 1) for k, span in enumerate(spans))
    assert before.to_position == pytest.approx(0.1, abs=0.005) and after.from_position == pytest.approx(0.55, abs=0.005)


def test_a_sound_that_began_early_does_not_begin_a_stroke_before_the_bow_is_set_down():
    """A bow taken back to the frog while the room still rings: what lies before the leap is not drawn."""
    place = np.concatenate([np.full(20, 0.78), minimum_jerk(0.06, 0.8, 1.0)])
    t = np.arange(len(place)) / RATE
    set_down = t[20]
    (early,) = where_drawn([Span(set_down - 0.08, t[-1], True)], place, t)
    assert (early.start_s, early.end_s) == (set_down, t[-1])
    after = np.concatenate([minimum_jerk(0.06, 0.8, 1.0), np.full(20, 0.06)])
    (late,) = where_drawn([Span(0.0, 1.08, True)], after, t)
    assert (late.start_s, late.end_s) == (0.0, t[len(after) - 21])
    quiet = np.zeros(round(2.0 / STEP_S))
    quiet[round((set_down - 0.08) / STEP_S) :] = 0.3
    (heard,) = find_strokes(series_from(t, place), Loudness(np.arange(len(quiet)) * STEP_S, quiet, True))
    assert heard.from_position == pytest.approx(0.06, abs=0.01) and heard.start_s >= set_down


def test_a_stroke_does_not_begin_while_the_bow_is_seen_off_the_string():
    """Somebody talks before the first tone, and after the last: where the bow is lifted nothing is drawn."""
    t, place = joined(rest(0.3, 0.5), minimum_jerk(0.3, 0.8, 1.0), rest(0.8, 0.5))
    off = (t < 0.45) | (t > 1.6)
    (kept,) = where_drawn([Span(0.38, 1.7, True)], place, t, off)
    assert (kept.start_s, kept.end_s) == pytest.approx((t[off & (t < 1)].max() + 0.5 / RATE, t[off & (t > 1)].min() - 0.5 / RATE))
    assert where_drawn([Span(0.48, 1.58, True)], place, t, off) == [Span(0.48, 1.58, True)]
    talk = np.zeros(round(2.5 / STEP_S))
    talk[round(0.38 / STEP_S) : round(1.55 / STEP_S)] = 0.3
    (heard,) = find_strokes(
        series_from(t, np.where(off, np.nan, place)).with_columns({"lifted": off.astype(float)}),
        Loudness(np.arange(len(talk)) * STEP_S, talk, True),
    )
    assert heard.start_s >= t[off & (t < 1)].max()


def test_a_spike_beside_a_turn_is_no_stroke_of_its_own():
    """A change of string at the frog, seen 4 cm too far for one frame: the bow does not turn twice in that time."""
    t, p = joined(minimum_jerk(0.9, 0.06, 1.0), rest(0.06, 0.05), minimum_jerk(0.06, 0.9, 1.0))
    p[62] += 0.06
    spans = segment(p, t)
    assert [s.down for s in spans] == [False, True]
    assert spans[1].start_s == pytest.approx(62 / RATE, abs=0.06)
    # before the first stroke: the farther of the two turns is the one at which it begins
    t, p = joined(rest(0.08, 0.2), np.array([0.11, 0.12, 0.09]), rest(0.06, 0.1), minimum_jerk(0.06, 0.9, 1.0))
    [span] = segment(p, t)
    assert span.start_s == pytest.approx(0.37, abs=0.06)


def test_a_place_that_is_doubtful_for_a_moment_ends_no_stroke():
    """Near the tip the head was taken for something else in one frame: the place leaps and comes back, and its ± says so."""
    t, place = joined(minimum_jerk(0.06, 0.92, 1.4), minimum_jerk(0.92, 0.06, 1.4))
    sd = np.full(len(t), 0.008)
    bad = int(np.argmax(place > 0.85))
    place[bad : bad + 2] += 0.09

    def strokes(sds):
        return find_strokes(series_from(t, place).with_columns({"bow_position_sd": sds}))

    assert abs(strokes(sd)[0].end_s - 1.4) > 0.1, "a leap that is as sure as the rest counts"
    sd[bad : bad + 2] = 0.03
    assert [s.end_s for s in strokes(sd)] == pytest.approx([1.4, 2.8], abs=0.04)
    everywhere = strokes(np.full(len(t), 0.03))
    assert everywhere[0].end_s == strokes(np.full(len(t), 0.008))[0].end_s, "where all is as doubtful nothing is left out"


def test_the_first_places_of_a_bow_set_down_are_doubtful_beside_those_that_follow():
    """Just set down, its frog still hidden: two frames that are known badly are no up-bow before the first down-bow."""
    t, place = joined(rest(np.nan, 0.4), minimum_jerk(0.3, 0.8, 1.0))
    sd = np.full(len(t), 0.01)
    first = int(np.argmax(np.isfinite(place)))
    place[first : first + 5] += np.linspace(0.06, 0.01, 5)
    sd[first : first + 5] = 0.05
    series = series_from(t, place)
    assert [s.direction for s in find_strokes(series.with_columns({"bow_position_sd": np.full(len(t), 0.01)}))] == ["up", "down"]
    [only] = find_strokes(series.with_columns({"bow_position_sd": sd}))
    assert only.direction == "down" and only.start_s == pytest.approx(0.45, abs=0.06)


def test_a_turn_that_was_not_seen_lies_in_the_middle_of_what_was_not():
    t, p = joined(minimum_jerk(0.1, 0.9, 1.0), minimum_jerk(0.9, 0.1, 1.0))
    turn = 61 / RATE
    hidden = p.copy()
    hidden[56:67] = np.nan
    hidden[54:56] -= 0.02
    first, second = segment(hidden, t)
    assert first.end_s == second.start_s == pytest.approx(turn, abs=0.02)


def ringing(level_at: dict[float, float], *, rings: bool = True) -> Loudness:
    """A level in decibels at the given moments, straight between them."""
    t = np.arange(0, 4, 0.005)
    return Loudness(t, 10 ** (np.interp(t, list(level_at), list(level_at.values())) / 20), rings)


def test_a_bow_that_leaves_a_ringing_string_is_no_stroke():
    spans = [Span(0.5, 1.5, True), Span(1.5, 1.65, False)]
    dies = ringing({0: -40, 0.5: -40, 0.6: 0, 1.35: 0, 1.5: -6, 2.0: -40})
    assert sounding(spans, dies) == spans[:1]
    # a short stroke puts something in: the level rises again from its turn, or had not fallen before it
    again = ringing({0: -40, 0.5: -40, 0.6: 0, 1.35: 0, 1.5: -9, 1.55: 0, 1.6: -2, 2.0: -40})
    assert sounding(spans, again) == spans
    struck = ringing({0: -40, 0.5: -40, 0.6: 0, 1.35: -10, 1.49: -10, 1.5: 0, 2.0: -40})
    assert sounding(spans, struck) == spans


def test_in_a_room_that_rings_only_a_sharp_start_moves_a_boundary_and_only_back():
    spans = [Span(1.0, 2.0, True)]
    dip = {0: -40, 0.88: -40, 0.92: 0, 1.9: 0, 4.0: -40}
    [got] = refine(spans, ringing(dip))
    assert got.start_s == pytest.approx(0.91, abs=0.02) and got.end_s == 2.0
    [late] = refine(spans, ringing({0: -40, 1.08: -40, 1.12: 0, 1.9: 0, 4.0: -40}))
    assert late.start_s == 1.0, "a bow may creep before it sounds"
    [slow] = refine(spans, ringing({0: -40, 0.8: -40, 1.6: 0, 1.9: 0, 4.0: -40}))
    assert slow == spans[0]
