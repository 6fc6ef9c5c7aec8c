"""Choices of a profile: each is read by a rule and changes what is said; what contradicts itself is refused; old profiles are read."""

from __future__ import annotations

import json
from dataclasses import replace
from datetime import date
from itertools import pairwise

import numpy as np
import pytest

from dolcezza.core.base.errors import InstrumentError
from dolcezza.core.findings.choices import NEW_WORK, USUAL, Stage, choices, contradictions, looked_at, next_stage
from dolcezza.core.findings.lane import Lane
from dolcezza.core.findings.profiles import PROFILES, Profile, Wish, profile_from_dict, ready_texts
from dolcezza.core.findings.rules.hold import answer_findings, gap_findings, hand_findings, wrist_findings
from dolcezza.core.hold.figures import Hold, Shape, hand_signs
from dolcezza.core.hold.questions import Said
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.pipeline.judge import judge
from dolcezza.core.strokes.figures import find_strokes
from dolcezza.core.tone.report import ToneReport
from dolcezza.core.tone.signs import Start, StrokeTone, Weight
from tests_support import english, minimum_jerk, series_from

VIOLIN, CELLO = instrument("violin 4/4"), instrument("cello 4/4")
DAY = date(2026, 11, 3)
NAN = float("nan")


def wanting(**options: str) -> Profile:
    """A profile in which nothing is asked but what is named; blanks are written as ``_``."""
    chosen = {**USUAL, **{key.replace("_", " "): want for key, want in options.items()}}
    return replace(PROFILES["Franco-Belgian"], chosen={key: Wish(want, "") for key, want in chosen.items()})


def hold(thumb=Shape.ROUND, little=Shape.ROUND, gap=0.9, wrist=0.0) -> Hold:
    joints = {
        "thumb_mcp": (40.0, 6.0),
        "index_pip": (50.0, 6.0),
        "middle_pip": (50.0, 6.0),
        "ring_pip": (50.0, 6.0),
        "little_pip": (60.0, 6.0),
    }
    return Hold(joints, thumb, little, {"index-middle": gap, "middle-ring": 0.4, "ring-little": 0.5}, 2.5, wrist, 0.8)


def said(question: str, answer: str):
    """What the teacher's answer comes to."""
    return lambda profile: answer_findings({question: Said(question, answer, DAY)}, profile)


def pictured(frog: Hold, tip: Hold):
    """What two pictures of the hand come to."""
    long = ("bent at the frog",)
    return lambda profile: hand_findings(hand_signs(frog, tip, None, long_at_head=profile.want("thumb shape") in long), profile)


def played(*, lifted=False, rough=False, angle=0.0, arm=(0.0, 0.0, 0.0), seconds=1.2, reach=(0.04, 0.96)):
    """What four bows come to; ``arm``: degrees a tenth of the bow of shoulder, elbow and wrist."""
    place = np.concatenate([minimum_jerk(a, b, seconds) for a, b in (reach, reach[::-1]) * 2])
    series = series_from(np.arange(len(place)) / 60.0, place, angle=angle)
    strokes = find_strokes(series)
    if lifted:
        series.values["lifted"][:] = 1.0
    for name, value, slope in (
        ("upper_arm_swing_deg", 60.0, 0.0), ("elbow_level_deg", 40.0, arm[0]), ("forearm_angle_deg", 60.0, arm[1]),
        ("wrist_angle_deg", 10.0, arm[2]),
    ):  # fmt: skip
        series.values[name][:] = value + 10 * slope * place
    tone = None
    if rough:
        tone = ToneReport(tuple(StrokeTone(s.number, Weight.CRUSHED, (), 20.0, 1.0, Start.CLEAR, 0.0) for s in strokes), (), ())
    from dolcezza.core.arm.joint_contributions import contributions_by_third
    from dolcezza.core.arm.staircase import staircase
    from dolcezza.core.findings.rules.arm import BodyReport
    from dolcezza.core.tension.signs import tension_signs

    nothing = np.full(len(place), NAN)
    stairs = staircase(nothing, np.zeros((len(place), 1)), nothing, series.strings, place, tuple("EADG"))
    body = BodyReport(
        stairs, contributions_by_third(np.zeros((len(place), 3)), place, nothing > 0), {}, tension_signs(series, strokes), 300.0, 250.0, 1.0
    )
    return lambda profile: judge(series, strokes, body, tone, VIOLIN, profile)


HINGE = (9.0, 9.0, 4.0)
SHORT = (0.45, 0.6)
CASES = {
    "stage": [("first hold", "first bows", played(angle=9.0)), ("portions", "music", played(rough=True))],
    "thumb place": [
        ("outside", "notch", said("thumb place", "outside")), ("notch", "under", said("thumb place", "notch")),
        ("under", "outside", said("thumb place", "under")), ("any", "notch", said("thumb place", "outside")),
    ],
    "thumb shape": [
        ("bent", "straight", pictured(hold(thumb=Shape.STRAIGHT), hold(thumb=Shape.STRAIGHT))),
        ("bent", "bent at the frog", pictured(hold(thumb=Shape.UNCLEAR), hold(thumb=Shape.STRAIGHT))),
        ("bent at the frog", "any", pictured(hold(thumb=Shape.STRAIGHT), hold())),
    ],
    "little place": [
        ("top", "nearest edge", said("little place", "top")), ("nearest edge", "inner edge", said("little place", "nearest edge")),
        ("inner edge", "screw", said("little place", "inner edge")), ("screw", "top", said("little place", "screw")),
        ("any", "side", said("little place", "top")),
    ],
    "little shape": [
        ("round", "any", pictured(hold(little=Shape.STRAIGHT), hold())),
        ("round at the frog", "any", pictured(hold(little=Shape.STRAIGHT), hold())),
    ],
    "index": [
        ("middle joint", "between", said("index depth", "middle joint")), ("between", "square", said("index depth", "between")),
        ("square", "middle joint", said("index depth", "square")), ("any", "between", said("index depth", "middle joint")),
    ],
    "fingers": [("any", "square", said("fingers", "lean"))],
    "palm turn": [("any", "outwards", said("palm turn", "down")), ("any", "outwards", said("palm turn", "player"))],
    "gap": [("any", "one finger", said("gap", "two")), ("any", "one finger", lambda p: gap_findings(hold(gap=3.0), p))],
    "wrist": [
        ("below", "level", lambda p: wrist_findings(hold(wrist=-0.7), p)), ("rises", "level", lambda p: wrist_findings(hold(wrist=0.7), p)),
        ("any", "below", lambda p: wrist_findings(hold(wrist=1.4), p)),
        ("below", "rises", said("wrist", "below")), ("any", "level", said("wrist", "below")),
    ],
    "hair": [
        ("flat", "away", said("hair at the frog", "flat")), ("tilted at the frog", "flat", said("hair at the frog", "away")),
        ("tilted at the frog", "away", said("hair at the head", "flat")), ("any", "flat", said("hair at the head", "away")),
    ],
    "along the bow": [("stable", "changes", pictured(hold(), hold())), ("stable", "changes", said("hand along", "same"))],
    "upper arm": [
        ("any", "hinge", played(arm=HINGE)), ("hinge", "chain", played(arm=(9.0, 2.0, 4.0))),
        ("any", "by speed", played(arm=(3.0, 14.0, 2.0), seconds=6.0)),
    ],
    "lifted bows": [("tolerated", "kept on", played(lifted=True))],
    "roughness": [("tolerated", "corrected", played(rough=True))],
}  # fmt: skip
"""By choice: two options, and a take, still or answer whose findings differ between them; of the first there are fewer or others."""


def kinds(found) -> list[tuple[str, str]]:
    return [(f.kind, str(f.message)) for f in found]


@pytest.mark.parametrize(("key", "a", "b", "case"), [(key, *row) for key, rows in CASES.items() for row in rows])
def test_every_choice_changes_what_is_said(key, a, b, case):
    """Two options of a choice, everything else the same: what is found differs."""
    one, other = (case(wanting(**{key.replace(" ", "_"): option})) for option in (a, b))
    assert kinds(one) != kinds(other), f"{key}: {a} and {b} say the same"


def test_no_choice_and_no_option_is_left_out_of_the_walk():
    assert set(CASES) == set(choices())
    for key, choice in choices().items():
        walked = {option for a, b, _ in CASES[key] for option in (a, b)}
        untold = {o.key for o in choice.options} - walked
        # stages between the ends are walked through in their own test
        assert not untold or key == "stage", f"{key}: {untold} never shown to matter"


def test_each_stage_looks_at_more_than_the_one_before():
    """Straight before levels, levels before portions, tone last (common practice, no source)."""
    seen = [looked_at(stage) for stage in Stage]
    assert all(a < b for a, b in pairwise(seen))
    assert {g for groups in NEW_WORK.values() for g in groups} == seen[-1]
    assert next_stage(Stage.PORTIONS) is Stage.MUSIC and next_stage(Stage.MUSIC) is None


def test_a_fault_in_every_school_is_said_whatever_was_chosen():
    """Pushed through the gap, caved in, pressing: no school wants them (common practice, no source)."""
    for question, answer in (("thumb place", "through"), ("thumb shape", "caved in"), ("little work", "presses"), ("palm", "touches")):
        (found,) = said(question, answer)(wanting())
        assert found.sure and "said by the teacher, 03 November 2026" in english(found).replace("3 November", "03 November", 1)
    assert said("thumb place", "notch")(wanting()) == []
    assert said("little work", "rests")(wanting()) == []


def test_what_contradicts_itself_is_refused_and_both_are_named():
    assert contradictions({**USUAL, "along the bow": "stable", "thumb shape": "bent at the frog"})
    data = json.loads(ready_texts()["Franco-Belgian"])
    data["choices"]["along the bow"] = "stable"
    with pytest.raises(InstrumentError, match="'one shape for now' and Thumb, its shape 'bent near the frog'"):
        profile_from_dict(data)


@pytest.mark.parametrize(("key", "option"), [("thumb place", "in the ear"), ("little place", "side"), ("colour", "red")])
def test_an_option_that_is_not_there_is_refused_with_those_that_are(key, option):
    data = json.loads(ready_texts()["Franco-Belgian"])
    data["choices"][key] = option
    with pytest.raises(InstrumentError, match="(Options|Choices): "):
        profile_from_dict(data)


def test_the_cellos_little_finger_hangs_along_the_side():
    """Common practice, no source; on a violin that is no option."""
    assert PROFILES["Cello"].want("little place") == "side"
    assert "side" not in {o.key for o in choices()["little place"].options_for(("violin",))}
    assert "top" not in {o.key for o in choices()["little place"].options_for(("cello",))}


def test_a_profile_of_an_earlier_version_keeps_its_sense():
    """Before, the hold was four wishes, the arm a word, the stage free text: each becomes the choice it meant, with its own reason."""
    data = json.loads(ready_texts()["Franco-Belgian"])
    del data["choices"]
    data |= {
        "stage": "starter", "school_of_arm": "by speed",
        "hold": {
            "thumb": {"want": "round", "reason": "My thumb."}, "little": {"want": "any", "reason": "As it lies."},
            "wrist": {"want": "neutral", "reason": "Level."}, "along_the_bow": {"want": "stable", "reason": "For now."},
        },
    }  # fmt: skip
    old = profile_from_dict(data)
    assert (old.want("thumb shape"), old.reason("thumb shape")) == ("bent", "My thumb.")
    assert (old.want("little shape"), old.want("wrist"), old.want("along the bow")) == ("any", "level", "stable")
    assert old.want("upper arm") == "by speed"
    assert old.stage is Stage.MUSIC, "what was judged before is judged still"


def test_elbows_are_not_judged_while_the_order_is_not_agreed():
    """No order is agreed for the viola's C or the cello: the teacher sets it (common practice, no source)."""
    for name, profile in PROFILES.items():
        assert not profile.order_is_set(instrument("viola 16")), name
        assert not profile.order_is_set(CELLO), name
    assert PROFILES["Franco-Belgian"].order_is_set(VIOLIN)


def test_a_lane_between_two_landmarks():
    """Between the upper round of the sound-hole and the end of the fingerboard (common practice, no source), on every size."""
    lane = Lane("landmarks", 0.0, 1.0, "")
    low, high = lane.band_mm(VIOLIN)
    assert low == pytest.approx(34.0) and high == pytest.approx(57.0)
    small = lane.band_mm(instrument("violin 1/4"))
    assert small[1] == pytest.approx(45.0) and small[0] == pytest.approx(34.0 * 0.8)
    half = Lane("landmarks", 0.5, 1.0, "", hair_widths=1.0)
    assert half.band_mm(VIOLIN) == pytest.approx((45.5 - 9.0, 57.0 - 9.0))


def test_millimetres_that_shrink_with_the_body():
    fixed, scaled = Lane("mm", 8.0, 20.0, ""), Lane("mm", 8.0, 20.0, "", scaled=True)
    quarter = instrument("violin 1/4")
    assert fixed.band_mm(quarter) == (8.0, 20.0)
    assert scaled.band_mm(quarter) == pytest.approx((6.4, 16.0)) and scaled.band_mm(VIOLIN) == (8.0, 20.0)


def test_the_school_of_arm_by_speed_comes_with_no_lane_of_its_own():
    lanes = {(p.lane.measure, p.lane.low, p.lane.high) for p in (PROFILES["Russian"], PROFILES["Franco-Belgian"])}
    assert len(lanes) == 1
