"""Single terms and signs of the services on which figures hang and which nothing else would notice."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest

from dolcezza.core.arm.trunk import TRUNK_SD_DEG
from dolcezza.core.assignment.use import _se
from dolcezza.core.base.job import finish
from dolcezza.core.bowing.smooth import _carry
from dolcezza.core.camera.precision import HEAD_BIAS_PX
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.fit_file import BowPoints, CalibrationFrame
from dolcezza.core.pipeline.local import solved_again
from dolcezza.core.pipeline.manual import heads_by_hand
from dolcezza.core.practice.progress import figures
from dolcezza.core.tension.signs import REFERENCES
from dolcezza.reports.language import language
from dolcezza.reports.pages import standing
from dolcezza.services.agenda import _practised
from dolcezza.services.analysis import analyse
from dolcezza.storage.records import Verdict
from takes_support import take_video


def test_what_is_not_known_of_the_trunk_is_in_the_elbows_uncertainty(measured):
    got = measured("demo-a3")
    sd, own = got.series["elbow_level_sd_deg"], got.cache.arm.level_error
    told = np.isfinite(sd)
    assert sd[told] ** 2 - (own[told] ** 2).sum(axis=1) == pytest.approx(TRUNK_SD_DEG**2, rel=1e-6)


def test_a_part_measured_again_equals_the_whole(measured):
    """One property for all that is known of the whole take: with a zero, another tuning and a second calibration frame, the figures of a
    part that is measured again are those of the whole, and so is their ±."""
    got = measured("demo-a3")
    k = int(np.abs(got.series.t - 5.0).argmin())
    names = [n for n in got.fit.landmarks[0].points if n in got.model.landmarks]
    seen = got.cache.poses.camera(k).project(np.array([got.model.landmarks[n] for n in names]))
    second = CalibrationFrame(float(got.series.t[k]), {n: (float(x), float(y)) for n, (x, y) in zip(names, seen, strict=True)})
    fit = replace(got.fit, zero=(2.0,), tuning_cents=12.0, landmarks=(*got.fit.landmarks, second))
    whole = finish(analyse(take_video("demo-a3"), fit))
    assert whole.cache.zero is not None and len(whole.cache.keys_s) == 2
    context = Context.of(whole.file.path, whole.file, whole.fit, whole.cache.length_px)
    part = solved_again(context, whole.cache, whole.series, 4.0, 0.5)
    near = (np.abs(whole.series.t - 4.0) < 0.4) & np.isfinite(whole.series["bow_angle_deg"])
    assert near.sum() > 15
    for name, within in (("bow_angle_deg", 0.05), ("bow_angle_sd_deg", 0.02), ("contact_point_mm", 0.1), ("contact_point_sd_mm", 0.05),
                         ("bow_position", 0.001), ("bow_position_sd", 0.001)):  # fmt: skip
        # a ± is the same when it is within a hundredth of itself: 0.02 of a usual 2 degrees, and as much of a large one
        rel = 0.01 if name.endswith("_sd_deg") else 0.0
        assert part[name][near] == pytest.approx(whole.series[name][near], abs=within, rel=rel), name
    without = solved_again(context, replace(whole.cache, zero=None), whole.series, 4.0, 0.5)
    assert np.allclose((without["bow_angle_deg"] - part["bow_angle_deg"])[near], whole.cache.zero.bias_deg, atol=1e-6)
    assert not np.allclose(without["bow_angle_sd_deg"][near], part["bow_angle_sd_deg"][near], atol=0.02), "a zero changes the ±"
    far = np.abs(whole.series.t - 4.0) > 0.6
    assert np.array_equal(part["bow_angle_deg"][far], whole.series["bow_angle_deg"][far], equal_nan=True)


@pytest.mark.parametrize("count", [30, 2500])
def test_frames_without_a_string_take_that_of_the_nearest_known(count):
    """However long the take: the nearest known one, not the next."""
    string = np.full(count, -1)
    string[3], string[20] = 0, 2
    carried = _carry(string)
    assert carried[:12].tolist() == [0] * 12 and carried[12:].tolist() == [2] * (count - 12)


def test_the_uncertainty_of_the_tips_reach_comes_from_the_strokes_that_reach_farthest():
    """By hand: of six strokes two reach 0.95 and 0.97; how the four short ones scatter says nothing about that."""
    even, wild = np.array([0.95, 0.97, 0.5, 0.5, 0.5, 0.5]), np.array([0.95, 0.97, 0.3, 0.6, 0.2, 0.5])
    assert _se(1.0 - even) == pytest.approx(_se(1.0 - wild)) == pytest.approx(0.01 / np.sqrt(2))


def test_progress_takes_its_limits_from_the_profile(measured):
    got = measured("demo-a3")
    strict = replace(got.profile, tension={**got.profile.tension, "shaking bow": replace(REFERENCES["shaking bow"], limit=0.4)})
    own = figures(got.series, got.strokes, got.fit.spec, strict)
    assert own["Shaking bow"].target == 0.4 and own["Bouncing stick"].target == got.profile.tension["bouncing stick"].limit


def test_accepted_findings_stand_and_dismissed_ones_do_not(studio):
    take = next(s.take for st in studio.students() for s in studio.takes(st.id) if s.analysed and studio.analysis(s.take).findings)
    findings = studio.analysis(take).findings
    kinds = ["accepted", "open", "dismissed"]
    judged = [replace(findings[0], verdict=Verdict(kinds[k % 3])) for k in range(6)]
    assert [f.verdict for f in standing(judged)] == ["accepted", "open", "accepted", "open"]


def test_days_since_the_plan_began_count_its_first(studio):
    today = date.today()
    student = studio.add_student("Sunniva Oake", "violin 4/4", since=today - timedelta(days=30))
    since = today - timedelta(days=6)
    [told] = _practised(studio, student, since, today)
    assert language("en").sentence(told).startswith("Practised on 0 of 7 days")
    for back in (0, 0, 3, 9):
        studio.practice.log(student.id, today - timedelta(days=back), "D1", minutes=2)
    [told] = _practised(studio, student, since, today)
    assert language("en").sentence(told).startswith("Practised on 2 of 7 days since the plan began, 6 minutes")


def test_a_head_set_by_hand_is_the_hairs_end_itself(measured):
    """A ridge fades a pixel before the hair ends, a hand sets the end: its place is taken a pixel earlier, so that it comes out there."""
    got = measured("demo-a3")
    seen_line = got.cache.lines
    k = 60

    class Line:
        point, direction = seen_line.point[k], seen_line.direction[k]

    class Seen:
        times = list(got.series.t)

    head = Line.point + 100.0 * Line.direction
    size = got.file.size
    fit = replace(got.fit, by_hand=(BowPoints(float(got.series.t[k]), head=(float(head[0]), float(head[1]))),))
    assert max(size) == 1280
    places = heads_by_hand(Context.of(got.file.path, got.file, fit), Seen, [Line] * len(got.series))
    assert places == {k: pytest.approx(100.0 - HEAD_BIAS_PX)}
