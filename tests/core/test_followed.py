"""Did it help, for everything that was prescribed: courses by task, arm and tone over dates, each drill's own figure."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest

from dolcezza.core.findings.profiles import PROFILES
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.practice.arm_course import STEADY_NOTES, notes_figures, tone_figures
from dolcezza.core.practice.drills import drills
from dolcezza.core.practice.figure import Figure, Point
from dolcezza.core.practice.helped import ANSWERS, OF_KIND, PLACES, SETTINGS, courses_for, helped
from dolcezza.core.practice.progress import Change, Course, courses, figures
from dolcezza.core.practice.tasks import task_of
from dolcezza.core.strokes.figures import find_strokes
from dolcezza.core.tone.report import ToneReport
from dolcezza.core.tone.signs import Start, StrokeTone, Weight
from tests_support import minimum_jerk, series_from

VIOLIN = instrument("violin 4/4")
MONDAY = date(2026, 3, 2)


def bowed(*ends, string="D", contact=28.0):
    place = np.concatenate([minimum_jerk(a, b, 1.0) for a, b in ends])
    series = series_from(np.arange(len(place)) / 60.0, place, string=string, contact=contact)
    return series, find_strokes(series)


@pytest.mark.parametrize(
    ("ends", "task"),
    [
        (((0.04, 0.95), (0.95, 0.04)) * 3, "D, whole"), (((0.03, 0.48), (0.48, 0.03)) * 3, "D, lower"),
        (((0.52, 0.96), (0.96, 0.52)) * 3, "D, upper"), (((0.04, 0.95), (0.95, 0.04), (0.04, 0.5), (0.5, 0.04)) * 2, "D, mixed"),
    ],
)  # fmt: skip
def test_like_is_set_against_like_by_string_and_portion(ends, task):
    assert task_of(bowed(*ends)[1]) == task


def test_strokes_that_all_go_one_way_were_lifted():
    _, strokes = bowed(*((0.04, 0.95), (0.95, 0.04)) * 4)
    down = [s for s in strokes if s.down]
    assert task_of(down) == "D, whole, lifted" and task_of([]) == ""


def test_the_lane_is_that_of_the_stopped_pitch():
    """An octave up, a cello's lane is half as far from the bridge: a contact there is inside, on the open string it would not be."""
    cello, profile = instrument("cello 4/4"), PROFILES["Cello"]
    low, high = profile.lane.band_mm(cello)
    series, strokes = bowed(*((0.04, 0.95), (0.95, 0.04)) * 2, contact=0.25 * (low + high))
    stopped = [replace(s, semitones=12.0) for s in strokes]
    assert figures(series, strokes, cello, profile)["Outside the lane"].value > 3.0
    assert figures(series, stopped, cello, profile)["Outside the lane"].value == 0.0


def test_tone_is_followed_as_a_share_with_its_uncertainty():
    told = tuple(StrokeTone(k, Weight.CRUSHED if k < 3 else Weight.CLEAN, (), 0.0, 1.0, Start.CLEAR, 0.0) for k in range(12))
    own = tone_figures(ToneReport(told, (), ()))
    assert own["Pressed strokes"].value == pytest.approx(25.0) and own["Airy strokes"].value == 0.0
    # Agresti and Coull 1998: (3 + 2) / 16 = 0.3125, sqrt(0.3125 * 0.6875 / 16) = 11.6 %
    assert own["Pressed strokes"].sd == pytest.approx(11.59, abs=0.01)
    assert own["Airy strokes"].sd > 0, "none of twelve is not certainly none"
    assert tone_figures(None) == {} == tone_figures(ToneReport(told[:3], (), ()))


def course(name: str, *values: float, sd=0.5, lower=True, target=4.0) -> Course:
    days = [MONDAY + timedelta(days=14 * k) for k in range(len(values))]
    return Course(
        name, "°", "D, whole", target, tuple(Point(k + 1, d, v, sd, 6) for k, (d, v) in enumerate(zip(days, values, strict=True))), lower
    )


def test_each_drill_shows_the_figure_it_was_given_for():
    found = [
        course("Bow angle, tip", 11.0, 4.0),
        course("Outside the lane", 3.0, 3.1),
        course("Shaking bow", 0.9, 0.85, sd=0.4, target=0.9),
    ]
    told = helped(["D11", "D21", "D3", "D15"], found, MONDAY, ["crooked"])
    assert [(h.drill, h.course.name if h.course else None, h.change) for h in told] == [
        ("D11", "Bow angle, tip", Change.BETTER), ("D21", "Outside the lane", Change.UNKNOWN), ("D3", "Shaking bow", Change.UNKNOWN),
        ("D15", None, Change.UNKNOWN),
    ]  # fmt: skip
    assert (told[0].before.value, told[0].after.value) == (11.0, 4.0)


def test_before_a_new_video_there_is_nothing_to_compare():
    (told,) = helped(["D11"], [course("Bow angle, tip", 11.0)], MONDAY, ["crooked"])
    assert told.before.value == 11.0 and told.after is None and told.change is Change.UNKNOWN


def test_every_drill_of_a_correction_has_a_figure_or_an_answer_to_follow():
    assert [key for key in drills() if not courses_for(key)] == []
    # circles and lines in the air: the hold stays as it is; quick fingers: the bow does
    assert courses_for("D8") == [ANSWERS] and courses_for("D23")[0] == STEADY_NOTES
    assert courses_for("D4")[0] == SETTINGS and courses_for("D12")[0] == PLACES
    assert all(names for names in OF_KIND.values())


def test_takes_of_other_portions_stand_in_other_courses():
    rows = [
        (k, MONDAY + timedelta(days=k), task, {"A": Figure(1.0, 0.1, 4, "", 1.0, True)})
        for k, task in enumerate(("D, whole", "D, lower", "D, whole"))
    ]
    assert sorted((c.task, len(c.points)) for c in courses(rows)) == [("D, lower", 1), ("D, whole", 2)]


def test_a_bow_that_runs_when_the_notes_double_is_followed():
    """Two notes in a bow, then four: the same bow, and one that is a third quicker."""
    low, high = 0.08, 0.92
    place, hz = [], []
    for k, notes in enumerate((2, 2, 2, 4, 4, 4)):
        seconds = 2.0 if notes == 2 else 1.5
        part = minimum_jerk(*((low, high) if k % 2 == 0 else (high, low)), seconds)
        which = np.minimum((np.arange(len(part)) * notes / len(part)).astype(int), notes - 1)
        place.append(part)
        hz.append(293.66 * 2 ** (2 * which / 12))
    p = np.concatenate(place)
    series = series_from(np.arange(len(p)) / 60.0, p)
    series.values["pitch_hz"][:] = np.concatenate(hz)
    strokes = find_strokes(series)
    own = figures(series, strokes, VIOLIN, PROFILES["Franco-Belgian"])[STEADY_NOTES]
    assert own.value == pytest.approx(33.0, abs=4.0) and own.lower_is_better and own.target == 15.0
    plain = [s for s in strokes if s.end_s - s.start_s > 1.7]
    assert notes_figures(series, plain) == {}, "without more notes there is nothing to set beside"
