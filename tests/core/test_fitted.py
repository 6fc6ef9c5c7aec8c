"""Doses fitted to who practises, and practice spread over the day."""

from __future__ import annotations

from datetime import date, timedelta

import pytest

from dolcezza.core.practice.drills import drills
from dolcezza.core.practice.fitted import Person, fitted
from dolcezza.core.practice.plan import PORTION_MIN, Task, make_plan
from dolcezza.reports.language import language

MONDAY = date(2026, 3, 2)


def plan(keys, minutes=60.0, person=None):
    tasks = [Task(drills()[k].name, drills()[k].minutes, k) for k in keys]
    return make_plan(tasks, first_day=MONDAY, next_lesson=MONDAY + timedelta(7), today=MONDAY, minutes_a_day=minutes, person=person)


@pytest.mark.parametrize(("age", "minutes", "count"), [(None, 3.0, 10), (20, 3.0, 10), (13, 3.0, 10), (12, 2.0, 8), (6, 1.5, 5)])
def test_small_doses_for_children(age, minutes, count):
    """Set and keep: three minutes and ten settings (common practice, no source); less for the young, never more for anybody."""
    own, said = fitted(drills()["D4"], Person(age))
    assert (own.minutes, own.count) == (minutes, count) and said is None


def test_nobody_is_asked_for_more_than_the_drill_says():
    for drill in drills().values():
        for person in (Person(), Person(5), Person(11, True), Person(40, True, True, True)):
            own, _ = fitted(drill, person)
            assert own is None or (own.minutes <= drill.minutes and own.count <= drill.count and own.count >= 1)


def test_the_weight_exchange_is_not_for_a_hand_that_presses():
    """Release comes first there (common practice, no source)."""
    made = plan(["D12", "D3"], person=Person(presses=True))
    assert [s.drill for s in made.days[0].slots] == ["D3"]
    assert [m.id for m in made.left_out] == ["plan.not for pressing"]
    assert "release comes first" in language("en").sentence(made.left_out[0])
    assert {s.drill for s in plan(["D12", "D3"]).days[0].slots} == {"D12", "D3"}


def test_mobile_joints_halve_the_thumbs_drills_and_pain_stops_the_hard_ones():
    """Hypermobile thumbs: less force, never into the collapse; pain never leads to a higher dose (common practice, no source)."""
    made = plan(["D1", "D18"], person=Person(mobile_joints=True))
    assert {s.drill: s.count for s in made.days[0].slots}["D1"] == drills()["D1"].count // 2
    assert "caves in" in language("en").sentences(made.notes)
    hard = next(k for k, d in drills().items() if d.hard)
    hurt = plan([hard, "D18"], person=Person(had_pain=True))
    assert [s.drill for s in hurt.days[0].slots] == ["D18"] and hurt.left_out[0].id == "plan.after pain"


def test_half_an_hour_of_basics_is_practised_in_portions():
    """At least half an hour a day on basics, spread over the day (common practice, no source)."""
    made = plan(["D15", "D16", "D17", "D22", "D23", "D18"], minutes=60.0)
    day = made.days[0]
    assert day.minutes > PORTION_MIN and len(day.portions) >= 2
    lengths = [sum(s.minutes + s.rest for s in p) for p in day.portions]
    longest = max(s.minutes + s.rest for s in day.slots)
    assert all(x <= max(PORTION_MIN, longest) + 1e-9 for x in lengths)
    assert [s for p in day.portions for s in p] == list(day.slots), "nothing is lost, the order is kept"
    assert len(plan(["D4", "D18"]).days[0].portions) == 1, "what is short is done at once"


def test_an_adult_is_spoken_to_as_one():
    assert (Person(40).reader, Person(9).reader, Person().reader) == ("adult", "child", "child")
