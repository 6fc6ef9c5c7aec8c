"""Corrections, drills, plans, the log's arithmetic and progress, against cases worked out by hand."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dolcezza.core.base.errors import PracticeError
from dolcezza.core.base.message import Message
from dolcezza.core.findings.catalogue import CATALOGUE
from dolcezza.core.practice.drills import READERS, corrections, corrections_for, drill, drills
from dolcezza.core.practice.figure import Figure, Point
from dolcezza.core.practice.plan import Task, ladder, make_plan, most_minutes, streak, strokes_minutes, unlock_day
from dolcezza.core.practice.progress import Change, change_of, courses
from dolcezza.reports.language import language

MONDAY = date(2026, 3, 2)


def plan(tasks, minutes=20.0, days=7, **more):
    return make_plan(tasks, first_day=MONDAY, next_lesson=MONDAY + timedelta(days=days), today=MONDAY, minutes_a_day=minutes, **more)


def test_every_drill_has_words_for_every_reader_and_an_end():
    assert list(drills()) == [f"D{k}" for k in range(1, 25)]
    for d in drills().values():
        assert set(d.how) == set(READERS) and all(len(t) > 20 for t in d.how.values()), d.key
        assert d.watch and d.move_on and d.stop and d.place and d.minutes > 0 and d.count > 0
    with pytest.raises(PracticeError, match="no drill called 'D99'"):
        drill("D99")


def test_every_cause_has_exactly_one_correction():
    for cause in {c for entry in CATALOGUE.values() for c in entry.causes}:
        assert len(corrections_for([cause])) == 1, cause
    owners = [c for k in corrections().values() for c in k.causes]
    assert len(owners) == len(set(owners)) and all(k in drills() for c in corrections().values() for k in c.drills)


def test_one_cause_behind_two_findings_is_one_correction():
    [(one, causes)] = corrections_for(["arm swings from the shoulder", "the crooked bow steers it", "arm goes behind the back"])
    assert one.key == "arm forward" and len(causes) == 3
    both = [c.key for c, _ in corrections_for(["the crooked bow steers it", "caution"])]
    assert both == ["use the whole bow", "start square"]


def said(messages: tuple[Message, ...]) -> list[str]:
    return [language("en").sentence(m) for m in messages]


def test_what_fits_is_taken_and_the_rest_gives_way_by_importance():
    """By hand: 10 minutes. Slow bows 2, weight exchange 3 + 1 rest, piece 6: 2 + 4 = 6, the piece has 4 left and is halved to 3."""
    made = plan([Task("Slow bows", 2, "D18"), Task("Weight exchange", 3, "D12"), Task("Piece, first page", 6)], minutes=10)
    assert len(made.days) == 7 and made.days[0].minutes == pytest.approx(9)
    assert said(made.left_out) == ["Piece, first page: 3 instead of 6 minutes"]
    first = plan([Task("Scales", 8), Task("Slow bows", 2, "D18", first=True)], minutes=6)
    assert [s.words for s in first.days[0].slots] == ["Scales", "Slow bows"] and said(first.left_out) == ["Scales: 4 instead of 8 minutes"]
    none = plan([Task("A", 10), Task("B", 10), Task("C", 10)], minutes=10)
    assert said(none.left_out) == ["B: no room", "C: no room"]


def test_hard_drills_are_followed_by_a_rest_and_kept_apart():
    made = plan([Task("a", 2, "D12"), Task("b", 2, "D13"), Task("c", 2, "D18"), Task("d", 2, "D15")])
    slots = made.days[0].slots
    assert [s.rest for s in slots] == [0, 1, 0, 1]
    assert [s.words for s in slots] == ["c", "a", "d", "b"]


def test_the_load_grows_by_a_step_at_most():
    """By hand: 20 min done: 25 at most; 8 done: 13 (five more); nothing known: as wanted."""
    assert most_minutes(60, 20) == pytest.approx(25) and most_minutes(60, 8) == pytest.approx(13)
    assert most_minutes(10, 20) == 10 and most_minutes(30, None) == 30
    made = plan([Task("A", 25)], minutes=60, done_before=8.0)
    assert made.minutes_a_day == 13 and "13 minutes a day instead of 60" in said(made.notes)[0]


def test_pain_pauses_a_drill_and_never_raises_anything():
    tasks = [Task("Weight exchange", 3, "D12"), Task("Slow bows", 2, "D18")]
    with_pain, without = plan(tasks, pain=["D12"]), plan(tasks)
    assert with_pain.paused == ("D12",) and "doctor or physiotherapist" in said(with_pain.notes)[0]
    assert [s.drill for s in with_pain.days[0].slots] == ["D18"]
    assert with_pain.days[0].minutes < without.days[0].minutes


def test_days_off_and_counts():
    made = plan([Task("Set and keep", 3, "D4")], free_days=[5, 6])
    assert [d.day.weekday() for d in made.days] == [0, 1, 2, 3, 4]
    slot = made.days[0].slots[0]
    assert (slot.count, slot.unit) == (10, "settings")


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"minutes": 0.0}, "no room for anything"), ({"days": 0}, "are 0 days"), ({"days": 60}, "are 60 days"),
        ({"tasks": [Task("x", 2, "D77")]}, "no drill called 'D77'"),
    ],
)  # fmt: skip
def test_plans_that_cannot_be(change, said):
    tasks = change.pop("tasks", [Task("x", 2)])
    with pytest.raises(PracticeError, match=said):
        plan(tasks, **change)


def test_a_plan_in_the_past_is_refused():
    with pytest.raises(PracticeError, match="which is over"):
        make_plan([], first_day=MONDAY - timedelta(1), next_lesson=MONDAY, today=MONDAY, minutes_a_day=10)


keys = st.sampled_from(["", *drills()])
some = st.lists(st.builds(Task, st.just("x"), st.floats(1, 15), keys, st.booleans()), max_size=8)


@settings(max_examples=80, deadline=None)
@given(some, st.floats(1, 60), st.integers(1, 14))
def test_no_day_is_longer_than_it_may_be(tasks, minutes, days):
    made = plan(tasks, minutes=minutes, days=days)
    assert all(d.minutes <= minutes + 1e-6 for d in made.days)
    kept = len(made.days[0].slots) if made.days else 0
    assert kept + sum(m.id == "plan.no room" for m in made.left_out) == len(tasks)


def test_a_hundred_settings_in_ten_days():
    """Ten a day, a hundred: the tenth day (common practice, no source)."""
    assert unlock_day(0, MONDAY) == MONDAY + timedelta(days=9)
    assert unlock_day(95, MONDAY) == MONDAY and unlock_day(120, MONDAY) == MONDAY


def test_the_ladder_to_the_frog():
    """From 19 cm in steps of 1.5 cm: 13 places and the frog, half a minute each."""
    steps = ladder(19.0)
    assert len(steps) == 14 and steps[0] == (19.0, 30.0) and steps[-1][0] == 0.0
    assert sum(s for _, s in steps) == pytest.approx(7 * 60)
    with pytest.raises(PracticeError):
        ladder(0.0)


def test_minutes_of_long_strings_and_streaks():
    """Eight a string, four beats at 60: 32 s a string, a bit over two minutes for four."""
    assert strokes_minutes(8, 4, 4, 60) == pytest.approx(128 / 60)
    days = [MONDAY - timedelta(days=k) for k in (1, 2, 3, 5)]
    assert streak(days, MONDAY) == 3 and streak([*days, MONDAY], MONDAY) == 4 and streak([], MONDAY) == 0


def at(value: float, sd: float, day: int = 0) -> Point:
    return Point(1, MONDAY + timedelta(days=day), value, sd, 6)


@pytest.mark.parametrize(
    ("before", "after", "lower", "said"),
    [
        (at(9, 0.7), at(4, 0.7), True, Change.BETTER), (at(4, 0.7), at(9, 0.7), True, Change.WORSE),
        (at(60, 2), at(85, 2), False, Change.BETTER), (at(5.0, 0.2), at(5.2, 0.2), True, Change.SAME),
        (at(5, 2), at(4, 2), True, Change.UNKNOWN), (at(5, 0.1), at(9, 0.1), None, Change.UNKNOWN),
        (at(float("nan"), 1), at(4, 1), True, Change.UNKNOWN),
    ],
)  # fmt: skip
def test_better_same_or_cannot_tell_by_the_uncertainties(before, after, lower, said):
    """By hand: twice the root of the sum of squares; 9 - 4 = 5 against 2 x 0.99."""
    assert change_of(before, after, lower, 4.0) is said


def test_like_is_set_against_like():
    def takes(tasks):
        angle = [Figure(9 - 3 * k, 0.5, 6, "°", 4, True) for k in range(len(tasks))]
        return [(k, MONDAY + timedelta(days=7 * k), task, {"Bow angle, tip": angle[k]}) for k, task in enumerate(tasks)]

    [course] = courses(takes(["A D", "A D", "A D"]))
    assert [p.value for p in course.points] == [9, 6, 3] and course.latest is Change.BETTER
    assert course.since(MONDAY) is Change.BETTER and course.since(MONDAY + timedelta(days=30)) is Change.UNKNOWN
    apart = courses(takes(["A D", "G", "A D"]))
    assert sorted(len(c.points) for c in apart) == [1, 2] and apart[0].task == "A D"
