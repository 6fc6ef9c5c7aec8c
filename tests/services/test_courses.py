"""Courses that come from no video: joints on pictures, answers, settings, the ladder."""

from __future__ import annotations

from datetime import date
from pathlib import Path

import pytest

from dolcezza.core.findings.profiles import PROFILES
from dolcezza.core.hold.figures import Hold, Shape
from dolcezza.core.practice.plan import Task, make_plan
from dolcezza.core.practice.progress import Change
from dolcezza.services.courses import hold_courses, what_helped
from dolcezza.services.practice import LADDER
from dolcezza.storage.records import FeltAnswer, HandStill, HoldAnswer, Practised

USUAL = PROFILES["Franco-Belgian"]


def still(day: date, thumb: float, role="frog") -> HandStill:
    hold = Hold({"thumb_mcp": (thumb, 6.0)}, Shape.ROUND, Shape.UNCLEAR, {}, 2.0, 0.0, 0.8)
    return HandStill(1, role, day, Path("x.jpg"), None, hold)


def by_name(**given):
    usual = {"stills": [], "answers": [], "felt": [], "entries": [], "profile": USUAL, "balance_cm": None} | given
    return {c.name: c for c in hold_courses(**usual)}


def test_joints_of_the_pictures_at_the_frog_over_their_days():
    found = by_name(stills=[still(date(2026, 11, 2), 44.0), still(date(2026, 10, 1), 12.0), still(date(2026, 10, 9), 2.0, "tip")])
    own = found["Thumb at the frog"]
    assert [(p.day.day, p.value) for p in own.points] == [(1, 12.0), (2, 44.0)] and own.strings == []
    assert own.latest is Change.BETTER, "a thumb that became round, by more than twice its uncertainty"


def test_answers_that_are_faults_are_counted_at_each_day():
    day = date(2026, 10, 1)
    said = [
        HoldAnswer(1, "thumb place", "through", day), HoldAnswer(1, "palm", "touches", day),
        HoldAnswer(1, "palm", "free", date(2026, 10, 20)), HoldAnswer(1, "thumb place", "notch", date(2026, 11, 2)),
    ]  # fmt: skip
    own = by_name(answers=said)["Answers about the hold"]
    assert [p.value for p in own.points] == [2.0, 1.0, 0.0] and own.latest is Change.BETTER


def test_small_tests_that_came_out_stiff_count_among_the_answers_until_they_come_out_free():
    tried = [
        FeltAnswer(1, "wave", "yes", date(2026, 11, 2), 3), FeltAnswer(1, "ring", "no", date(2026, 10, 1), 2),
        FeltAnswer(1, "wave", "no", date(2026, 10, 1), 1),
    ]  # fmt: skip
    own = by_name(felt=tried, answers=[HoldAnswer(1, "palm", "touches", date(2026, 10, 20))])["Answers about the hold"]
    assert [p.value for p in own.points] == [2.0, 3.0, 2.0]


def test_settings_add_up_and_the_ladder_shows_the_best_of_a_day():
    first, second = date(2026, 10, 1), date(2026, 10, 2)
    log = [
        Practised(1, second, "D4", count=10), Practised(1, first, "D4", count=8), Practised(1, first, LADDER, count=3),
        Practised(1, second, LADDER, count=5), Practised(1, second, LADDER, count=4), Practised(1, first, "D1", count=9),
    ]  # fmt: skip
    found = by_name(entries=log, balance_cm=6.0)
    assert [p.value for p in found["Settings of the hand"].points] == [8.0, 18.0]
    assert [p.value for p in found["Ladder places"].points] == [3.0, 5.0]
    assert found["Ladder places"].target == 5.0, "6 cm in steps of 1.5, and the frog"
    assert by_name() == {}


def test_a_plan_of_settings_is_answered_from_the_log():
    first = date(2026, 10, 1)
    plan = make_plan([Task("Set and keep", 3, "D4")], first_day=first, next_lesson=date(2026, 10, 8), today=first, minutes_a_day=10)
    log = [Practised(1, first, "D4", count=10), Practised(1, date(2026, 10, 5), "D4", count=10)]
    since, (told,) = what_helped(plan, list(by_name(entries=log).values()), [])
    assert since == first and told.drill == "D4" and (told.before.value, told.after.value) == (10.0, 20.0)
    assert told.change is Change.BETTER


@pytest.mark.parametrize("role", ["tip", "relaxed", "hold"])
def test_other_pictures_are_not_mixed_in(role):
    assert by_name(stills=[still(date(2026, 10, 1), 30.0, role)]) == {}
