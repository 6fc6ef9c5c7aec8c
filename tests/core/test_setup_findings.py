"""Findings about set-up, a bow off the string and the hold: only where the profile asks, sure only beyond their ±."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from dolcezza.core.arm.posture import MEANINGS, PostureFigure
from dolcezza.core.assignment.match import match
from dolcezza.core.assignment.text import read_exercise
from dolcezza.core.findings.choices import USUAL as NOTHING_ASKED
from dolcezza.core.findings.profiles import PROFILES, Wish
from dolcezza.core.findings.rules.hold import hand_findings, wrist_findings
from dolcezza.core.findings.rules.setup import off_string, posture_findings
from dolcezza.core.hold.figures import HandSign, Hold, Shape
from dolcezza.core.strokes.figures import find_strokes
from tests_support import english, minimum_jerk, series_from

USUAL = PROFILES["Franco-Belgian"]


def figure(name: str, value: float, sd: float) -> dict[str, PostureFigure]:
    return {name: PostureFigure(name, value, sd, *MEANINGS[name], t_s=1.5)}


@pytest.mark.parametrize(
    ("name", "value", "sd", "said", "sure"),
    [
        ("clock", 10.5, 0.5, None, None),
        ("clock", 8.5, 0.5, "too far round to the left", True),
        ("clock", 12.5, 0.4, "too far to the front", True),
        ("clock", 9.2, 0.5, "too far round", False),
        ("neck_deg", -40.0, 6.0, "droops", True),
        ("head_tilt_deg", 40.0, 12.0, "head tilts to", True),
    ],
)
def test_posture_beside_the_band_of_the_profile(name, value, sd, said, sure):
    """Half past ten is usual, nine too far round, twelve too far front; the neck level (common practice, no source)."""
    found = posture_findings(figure(name, value, sd), USUAL)
    if said is None:
        assert found == []
    else:
        assert said in english(found[0]) and found[0].sure is sure and found[0].evidence_s == (1.5,)


def test_a_figure_that_only_a_second_phone_tells_has_no_moment_in_this_video():
    [told] = posture_findings({"neck_deg": replace(figure("neck_deg", -40.0, 6.0)["neck_deg"], t_s=float("nan"))}, USUAL)
    assert told.sure and told.evidence_s == ()


def test_a_profile_without_bands_judges_no_posture():
    assert posture_findings(figure("clock", 7.0, 0.2), PROFILES["Fiddle"]) == []


def test_a_bow_that_leaves_the_string_unless_it_was_asked_to():
    place = np.concatenate([minimum_jerk(a, 1 - a, 1.0)[:-1] for a in (0.05, 0.95, 0.05, 0.95)])
    series = series_from(np.arange(len(place)) / 60, place)
    strokes = find_strokes(series)
    assert off_string(series, strokes, None, USUAL) == []
    lifted = np.zeros(len(place))
    for s in strokes[:2]:
        lifted[np.abs(series.t - 0.5 * (s.start_s + s.end_s)) < 0.1] = 1
    series.values["lifted"][:] = lifted
    [found] = off_string(series, strokes, None, USUAL)
    [faint] = off_string(series, [replace(s, confidence=0.35) for s in strokes], None, USUAL)
    assert found.sure and not faint.sure
    assert found.strokes == (1, 2) and "on 2 of 4 strokes" in english(found)
    assert off_string(series, strokes, match(read_exercise("D: 4 whole lifted"), strokes), USUAL) == []


def test_the_hold_is_a_finding_only_where_the_school_asks_for_it():
    signs = [
        HandSign("straight thumb", True, "3 pictures"),
        HandSign("same hand at frog and head", True, "both"),
        HandSign("locked little finger", None, ""),
    ]
    assert [f.kind for f in hand_findings(signs, USUAL)] == ["straight thumb", "hand does not change"]
    free = replace(USUAL, chosen={key: Wish(want, "") for key, want in NOTHING_ASKED.items()})
    hanging = Hold({}, Shape.UNCLEAR, Shape.UNCLEAR, {}, float("nan"), -0.7, 1.0)
    assert [f.kind for f in wrist_findings(hanging, USUAL)] == ["wrist below the knuckles"] and wrist_findings(hanging, free) == []
    assert wrist_findings(replace(hanging, wrist_over_knuckles=0.1), USUAL) == [] == wrist_findings(None, USUAL)
    assert wrist_findings(replace(hanging, wrist_over_knuckles=0.9), USUAL)[0].kind == "wrist above the knuckles"
    assert hand_findings(signs, free) == []
