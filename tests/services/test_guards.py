"""Single terms and signs of the services on which figures hang and which nothing else would notice."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest

from dolcezza.core.arm.trunk import TRUNK_SD_DEG
from dolcezza.core.camera.precision import HEAD_BIAS_PX
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.fit_file import BowPoints
from dolcezza.core.pipeline.local import solved_again
from dolcezza.core.pipeline.manual import heads_by_hand
from dolcezza.reports.language import language
from dolcezza.reports.pages import standing
from dolcezza.services.agenda import _practised
from dolcezza.storage.records import Verdict


def test_what_is_not_known_of_the_trunk_is_in_the_elbows_uncertainty(measured):
    got = measured("demo-a3")
    sd, own = got.series["elbow_level_sd_deg"], got.cache.arm.level_error
    told = np.isfinite(sd)
    assert sd[told] ** 2 - (own[told] ** 2).sum(axis=1) == pytest.approx(TRUNK_SD_DEG**2, rel=1e-6)


def test_a_zero_holds_where_a_part_is_measured_again(measured):
    """The same part measured again with a zero of 2 degrees has angles 2 degrees lower, and its ± holds the zero's."""
    got = measured("demo-a3")
    context = Context.of(got.file.path, got.file, got.fit, got.cache.length_px)
    plain = solved_again(context, got.cache, got.series, 2.0, 0.5)
    moved = solved_again(context, replace(got.cache, bias_deg=2.0, bias_sd_deg=0.7), got.series, 2.0, 0.5)
    near = np.abs(got.series.t - 2.0) < 0.4
    assert plain["bow_angle_deg"][near] == pytest.approx(got.series["bow_angle_deg"][near], abs=0.05), "the part equals the whole"
    assert (moved["bow_angle_deg"] - plain["bow_angle_deg"])[near] == pytest.approx(-2.0, abs=1e-9)
    assert moved["bow_angle_sd_deg"][near] == pytest.approx(np.hypot(plain["bow_angle_sd_deg"][near], 0.7))
    far = np.abs(got.series.t - 2.0) > 0.6
    assert np.array_equal(moved["bow_angle_deg"][far], got.series["bow_angle_deg"][far], equal_nan=True)


def test_accepted_findings_stand_and_dismissed_ones_do_not(studio):
    take = next(s.take for st in studio.students() for s in studio.takes(st.id) if s.analysed and studio.analysis(s.take).findings)
    findings = studio.analysis(take).findings
    kinds = ["accepted", "open", "dismissed"]
    judged = [replace(findings[0], verdict=Verdict(kinds[k % 3])) for k in range(6)]
    assert [f.verdict for f in standing(judged)] == ["accepted", "open", "accepted", "open"]


def test_days_since_the_plan_began_count_its_first(studio):
    student = studio.add_student("Sunniva Oake", "violin 4/4")
    today = date.today()
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
