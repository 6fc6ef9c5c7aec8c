"""Weight against speed, starts, noise between slurred notes, and how the bow was used: made-up strokes with known answers."""

from __future__ import annotations

from dataclasses import fields, replace
from itertools import pairwise

import numpy as np
import pytest

from dolcezza.core.assignment.match import match
from dolcezza.core.assignment.text import read_exercise
from dolcezza.core.assignment.use import FIGURES, bow_use
from dolcezza.core.sound.notes import Note
from dolcezza.core.strokes.figures import Stroke, find_strokes
from dolcezza.core.strokes.offset import SoundOffset
from dolcezza.core.tone.limits import least_weight, most_weight, room
from dolcezza.core.tone.report import tone_report
from dolcezza.core.tone.signs import Start, Weight, stroke_tones
from dolcezza.reports.language import language
from tests_support import minimum_jerk, series_from

HAIR_MM = 645.0


def stroke(number: int, **more) -> Stroke:
    values = {f.name: float("nan") for f in fields(Stroke)} | {
        "number": number, "direction": "down" if number % 2 else "up", "string": "A", "start_s": float(number), "end_s": number + 0.9,
        "mean_speed_cm_s": 40.0, "hnr_db": 22.0, "fundamental": 0.8, "hiss_db": -20.0, "split": 0.0, "rise_s": 0.05,
    }  # fmt: skip
    return Stroke(**(values | more))


def take(**odd) -> list[Stroke]:
    return [*(stroke(k) for k in range(1, 7)), stroke(7, **odd)]


@pytest.mark.parametrize(
    ("odd", "sign", "reason"),
    [
        ({}, Weight.CLEAN, None), ({"hnr_db": 18.0}, Weight.CLEAN, None),
        ({"hnr_db": 9.0, "mean_speed_cm_s": 20.0}, Weight.CRUSHED, "the bow is slow (0.5 x the usual)"),
        ({"hnr_db": 9.0, "split": 0.1}, Weight.CRUSHED, "the slips split"),
        ({"hnr_db": 9.0, "mean_speed_cm_s": 70.0, "hiss_db": -10.0}, Weight.AIRY, "it hisses"),
        ({"hnr_db": 9.0, "fundamental": 0.3}, Weight.AIRY, "the fundamental is weak"),
        ({"hnr_db": 9.0}, Weight.NOISY, "13 dB nearer to its noise than the clear strokes"),
        ({"hnr_db": float("nan")}, Weight.UNKNOWN, "no clear pitch"),
    ],
)  # fmt: skip
def test_weight_against_speed_by_what_bow_and_tone_do_together(odd, sign, reason):
    last = stroke_tones(take(**odd), {})[-1]
    assert last.weight is sign
    assert reason is None or reason in [language("en").sentence(m) for m in last.reasons]


def test_why_a_stroke_is_called_pressed_is_said_in_either_language():
    tone = stroke_tones(take(hnr_db=9.0, mean_speed_cm_s=20.0), {})[-1]
    assert [language("de").sentence(m) for m in tone.reasons] == [
        "13 dB näher an seinem Geräusch als die klaren Striche", "der Bogen ist langsam (0,5 x so schnell wie sonst)"
    ]  # fmt: skip


def test_a_take_without_a_clear_stroke_has_nothing_to_compare_with():
    noisy = [replace(s, hnr_db=4.0) for s in take()]
    assert {t.weight for t in stroke_tones(noisy, {})} == {Weight.UNKNOWN}


def test_starts():
    tones = stroke_tones([*take(), stroke(8, rise_s=0.3), stroke(9), stroke(10, rise_s=float("nan"))], {9: 14.0, 7: 2.0})
    assert [t.start for t in tones[-4:]] == [Start.CLEAR, Start.SLOW, Start.SCRATCHED, Start.UNKNOWN]
    slow_take = [replace(s, rise_s=0.2) for s in take()]
    assert {t.start for t in stroke_tones(slow_take, {})} == {Start.CLEAR}, "relative to the take's own starts"


def test_the_room_for_the_weight_goes_with_the_contact_point():
    """Schelleng 1973 (from memory): most weight ~ v / beta, least ~ v / beta^2, so the room between them ~ beta."""
    assert most_weight(2.0, 0.1) == pytest.approx(2 * most_weight(1.0, 0.1))
    assert most_weight(1.0, 0.05) == pytest.approx(2 * most_weight(1.0, 0.1))
    assert least_weight(1.0, 0.05) == pytest.approx(4 * least_weight(1.0, 0.1))
    assert room(0.05, 0.1) == pytest.approx(0.5)


def bowed_series(*, strings="A", start=0.05, end=0.95, count=6, seconds=1.0, rate=60.0):
    there, back = minimum_jerk(start, end, seconds, rate)[:-1], minimum_jerk(end, start, seconds, rate)[:-1]
    place = np.concatenate([there if k % 2 == 0 else back for k in range(count)])
    return series_from(np.arange(len(place)) / rate, place, string=strings, hair=HAIR_MM)


def slurred(*, hole: bool, bow_stops: bool = False):
    """Two notes in one bow, with a hole in the tone between them at half way."""
    series = bowed_series(count=1, seconds=2.0)
    near = np.abs(series.t - 1.0) < 0.06
    series.values["hnr_db"][:] = np.where(near & hole, 2.0, 22.0)
    series.values["level_db"][:] = 0.0
    if bow_stops:
        series.values["bow_speed_cm_s"][near] = 2.0
    notes = [Note(0.05, 0.95 if hole else 0.99, 440.0, 69, 0.0), Note(1.05 if hole else 1.01, 1.95, 494.0, 71, 0.0)]
    return tone_report(series, find_strokes(series), notes, None, SoundOffset(0.0, 0.01), ["said"])


def test_noise_between_slurred_notes_while_the_bow_is_steady_is_the_left_hand_s():
    [found] = slurred(hole=True).between
    assert found.midi == (69, 71) and found.t_s == pytest.approx(1.0, abs=0.01)
    assert slurred(hole=False).between == ()
    assert slurred(hole=True, bow_stops=True).between == (), "a bow that stops makes the hole itself"


@pytest.mark.parametrize(
    ("strings", "gap", "told"), [("AAAA", 0, Start.SCRATCHED), ("AEAE", 0, Start.CLEAR), ("AEAE", 60, Start.SCRATCHED)]
)
def test_another_note_that_still_rings_is_no_scratch(strings, gap, told):
    """Two notes at once leave no one pitch: what is left of the string before is not laid to the start of this one."""
    one = minimum_jerk(0.05, 0.95, 1.0)
    place = np.concatenate(
        [p for k in range(4) for p in ((one if k % 2 == 0 else one[::-1]), np.full(gap, one[-1] if k % 2 == 0 else one[0]))]
    )
    names = [s for s in strings for _ in range(len(one) + gap)]
    series = series_from(np.arange(len(place)) / 60.0, place, string=names, hair=HAIR_MM)
    strokes = find_strokes(series)
    series.values["hnr_db"][:], series.values["level_db"][:] = 22.0, 0.0
    for s in strokes:
        series.values["hnr_db"][(series.t >= s.start_s) & (series.t < s.start_s + 0.12)] = 4.0
    strokes = [replace(s, rise_s=0.05, semitones=0.0, hnr_db=22.0) for s in strokes]
    assert [t.start for t in tone_report(series, strokes, [], None, None, []).strokes] == [Start.SCRATCHED, told, told, told]


def test_the_report_counts_and_has_a_point_for_every_fifth_of_a_second():
    series = bowed_series()
    series.values["hnr_db"][:] = 20.0
    series.values["fundamental"][:], series.values["hiss_db"][:], series.values["split"][:] = 0.8, -20.0, 0.0
    series.values["level_db"][:] = 0.0
    report = tone_report(series, find_strokes(series), [], None, None, [])
    assert report.counts == {"clean": len(report.strokes)} and report.starts == {"cannot tell": len(report.strokes)}
    assert len(report.points) == pytest.approx(4 * len(report.strokes), abs=len(report.strokes))
    assert all(p.hnr_db == 20.0 and p.speed_cm_s > 0 for p in report.points)


def used(series, *, exercise: str | None = None):
    strokes = find_strokes(series)
    found = match(read_exercise(exercise), strokes) if exercise else None
    return bow_use(series, strokes, matched=found, hair_mm=HAIR_MM)["all"]


def test_reach_share_and_time_of_whole_bows():
    use = used(bowed_series())
    assert list(use.figures) == [n for n in FIGURES if n in use.figures]
    assert use.figures["reach_frog"].value == pytest.approx(0.05, abs=0.01)
    assert use.figures["reach_tip"].value == pytest.approx(0.95, abs=0.01)
    assert use.figures["share"].value == pytest.approx(0.9, abs=0.01) and use.figures["share"].sd < 0.02
    assert use.figures["speed"].value == pytest.approx(0.9 * HAIR_MM / 10, rel=0.03)
    assert use.avoids_frog is False
    assert sum(use.time_share) == pytest.approx(1.0) and use.time_share[0] > use.time_share[5], "slow at the turns"


def test_a_bow_that_keeps_away_from_the_frog_and_one_that_was_not_to_go_there():
    assert used(bowed_series(start=0.3, end=0.9)).avoids_frog is True
    assert used(bowed_series(start=0.55, end=0.9), exercise="A: 6 upper").avoids_frog is None
    assert used(bowed_series(start=0.3, end=0.9), exercise="A: 6 whole").avoids_frog is True


def test_drift_and_balance_have_their_sign():
    """Down-bows of 0.6 and up-bows of 0.5: every pair ends a tenth nearer to the head."""
    parts, at = [], 0.05
    for k in range(6):
        to = at + 0.6 if k % 2 == 0 else at - 0.5
        parts.append(minimum_jerk(at, to, 1.0)[:-1])
        at = to
    place = np.concatenate(parts)
    use = used(series_from(np.arange(len(place)) / 60, place, hair=HAIR_MM))
    assert use.figures["drift"].value == pytest.approx(0.1, abs=0.01)
    assert use.figures["balance"].value == pytest.approx(0.1, abs=0.01)
    assert use.figures["drift"].value > 3 * use.figures["drift"].sd


def test_against_the_plan():
    use = used(bowed_series(start=0.25, end=0.75, seconds=1.0), exercise="tempo: 120\nA: 6 whole x2")
    assert use.figures["share_to_plan"].value == pytest.approx(0.5, abs=0.02), "half a bow where a whole one was asked"
    assert use.figures["speed_to_plan"].value == pytest.approx(0.5, abs=0.02)
    assert use.figures["beat"].value == pytest.approx(0.25, abs=0.01)
    assert use.figures["off_plan"].value == pytest.approx(0.25, abs=0.01), "a quarter in at both ends"
    guessed = bowed_series(start=0.25, end=0.75)
    strokes = find_strokes(guessed)
    found = match(read_exercise("A: 6 whole"), strokes)
    assert "speed_to_plan" not in bow_use(guessed, strokes, matched=found, hair_mm=HAIR_MM, tempo_told=False)["all"].figures


def test_what_was_not_seen_of_the_places_is_in_the_reach():
    """A head outside the picture: the bow may have gone so much farther than the strokes say."""
    series = bowed_series(count=8)
    strokes = find_strokes(series)
    whole = bow_use(series, strokes, hair_mm=HAIR_MM)["all"].figures
    hidden = series.values["bow_position"] < np.quantile(series["bow_position"], 0.2)
    series.values["bow_position"][hidden] = np.nan
    unseen = bow_use(series, strokes, hair_mm=HAIR_MM)["all"].figures
    for name in ("reach_frog", "reach_tip", "share"):
        assert whole[name].sd < 0.1 and unseen[name].sd == pytest.approx(np.hypot(whole[name].sd, 0.2), abs=0.03)


@pytest.mark.parametrize(("sd", "reach"), [(0.002, 0.05), (0.028, 0.08)])
def test_ends_that_differ_by_no_more_than_their_uncertainty_are_one_end(sd, reach):
    """Strokes that all begin at 0.08, told up to 0.03 off: the nearest of them is no nearer, unless so much is known of each."""
    turns = [x for off in (0.03, -0.03, 0.0, 0.02, -0.02, 0.0) for x in (0.08 + off, 0.9)]
    parts = [minimum_jerk(a, b, 1.0)[:-1] for a, b in pairwise(turns)]
    place = np.concatenate(parts)
    series = series_from(np.arange(len(place)) / 60, place, hair=HAIR_MM)
    series.values["bow_position_sd"][:] = sd
    assert used(series).figures["reach_frog"].value == pytest.approx(reach, abs=0.008)
    assert used(series).figures["reach_tip"].value == pytest.approx(0.9, abs=0.005)


def test_each_string_by_itself():
    series = bowed_series(count=8)
    half = len(series) // 2
    series = series_from(series.t, series["bow_position"], string=["D"] * half + ["A"] * (len(series) - half), hair=HAIR_MM)
    found = bow_use(series, find_strokes(series), hair_mm=HAIR_MM)
    assert list(found) == ["all", "D", "A"] and found["D"].strokes + found["A"].strokes == found["all"].strokes
    nothing = bow_use(series, [], hair_mm=HAIR_MM)["all"]
    assert nothing.figures == {} and nothing.avoids_frog is None and sum(nothing.time_share) == 0
