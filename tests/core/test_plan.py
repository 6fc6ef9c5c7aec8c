"""The bow planner against divisions worked out by hand, and its text."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dolcezza.core.assignment.exercise import PARTS, ready_made
from dolcezza.core.assignment.match import match
from dolcezza.core.assignment.mixes import every_change_of_string, every_pair_of_parts, random_mix
from dolcezza.core.assignment.plan import (
    FASTEST_CM_S,
    hooked,
    kept_in,
    less_bow,
    retaken,
    same_speed,
    to_exercise,
    ways,
)
from dolcezza.core.assignment.rhythm import DYNAMICS, Bow, Note, Rhythm, read_rhythm, write_rhythm
from dolcezza.core.assignment.text import read_exercise, write_exercise
from dolcezza.core.base.errors import ExerciseError
from dolcezza.reports.language import language

HAIR_MM = 640.0


def plan_of(rhythm: str, *, repeat: int = 1, head: str = "bow: 0-1") -> Rhythm:
    return read_rhythm(f"tempo: 60\n{head}\nrepeat: {repeat}\nrhythm: {rhythm}")


def said(message) -> str:
    """In words; German has them too."""
    assert language("de").sentence(message)
    return language("en").sentence(message)


def ends(plan) -> list[float]:
    return [b.end for b in plan.bows]


def test_equal_notes_use_the_whole_bow_to_and_fro():
    """Four crotchets: frog, head, frog, head, frog (common practice, no source)."""
    [plan] = ways(plan_of("2 2 2 2"), HAIR_MM)
    assert ends(plan) == pytest.approx([1, 0, 1, 0])
    assert [b.speed_cm_s for b in plan.bows] == pytest.approx([64.0 / 2] * 4), "64 cm of hair in two seconds"
    assert plan.drift == pytest.approx(0) and plan.warnings == () and plan.unevenness == pytest.approx(1)


def test_dotted_pairs_run_out_of_bow_at_the_second_long_note():
    """By hand: 1.5 takes the whole bow, 0.5 a third of it; the second long note has only a third left (common practice, no source)."""
    plan = same_speed(plan_of("1.5 0.5 1.5 0.5"), HAIR_MM)
    assert ends(plan) == pytest.approx([1, 2 / 3, 5 / 3, 4 / 3])
    assert not plan.fits and plan.drift == pytest.approx(4 / 3)
    assert said(plan.warnings[0]) == "Bow 3 (2.0 s) wants 100 % of the bow and has 33 % left towards the head."


def test_a_faster_return_brings_dotted_pairs_back():
    """By hand: down and up must use the same; the least change in ratio is the geometric mean, sqrt(1 x 1/3)."""
    plan = kept_in(plan_of("1.5 0.5 1.5 0.5"), HAIR_MM)
    assert ends(plan) == pytest.approx([3**-0.5, 0, 3**-0.5, 0], abs=2e-3)
    assert plan.bows[1].speed_cm_s == pytest.approx(3 * plan.bows[0].speed_cm_s, rel=0.01), "a third of the time: three times the speed"
    assert any("lighter: bow 2" in said(w) for w in plan.warnings)


def test_dotted_pairs_hooked_go_to_and_fro():
    plan = hooked(plan_of("1.5 0.5 1.5 0.5"), HAIR_MM)
    assert ends(plan) == pytest.approx([1, 0])
    assert plan.bows[0].places == pytest.approx((0.75, 1.0)) and plan.bows[0].hooked
    assert hooked(plan_of("1 1"), HAIR_MM) is None


def test_three_slurred_and_one():
    """By hand: three quarters of the four beats go down, one quarter up: down the whole bow, up a third of it."""
    rhythm = plan_of("(1 1 1) 1", repeat=2)
    plain = same_speed(rhythm, HAIR_MM)
    assert plain.bows[0].places == pytest.approx((1 / 3, 2 / 3, 1))
    assert ends(plain) == pytest.approx([1, 2 / 3, 5 / 3, 4 / 3]) and plain.drift == pytest.approx(2 / 3)
    again = retaken(rhythm, HAIR_MM)
    assert [b.retake for b in again.bows] == [False, False, True, False]
    assert ends(again) == pytest.approx([1, 2 / 3, 1, 2 / 3]) and again.fits


def test_two_slurred_and_two_separate_turn_the_bow_round_and_come_home_the_second_time():
    """By hand: whole down, half up, half down: now at the head; the second time everything the other way round."""
    [plan] = ways(plan_of("(1 1) 1 1", repeat=2), HAIR_MM)
    assert ends(plan) == pytest.approx([1, 0.5, 1, 0, 0.5, 0])
    assert [b.down for b in plan.bows] == [True, False, True, False, True, False]
    assert plan.drift == pytest.approx(0)


def test_louder_notes_get_more_bow_and_what_is_asked_wins():
    plan = same_speed(plan_of("2f 2p 2@0.25"), HAIR_MM)
    assert plan.bows[1].share / plan.bows[0].share == pytest.approx(DYNAMICS["p"] / DYNAMICS["f"])
    assert plan.bows[2].share == pytest.approx(0.25)
    slurred = same_speed(plan_of("(1f 1p)"), HAIR_MM)
    assert slurred.bows[0].places[0] == pytest.approx(1.2 / 1.9)
    kept = kept_in(plan_of("2@0.4 1"), HAIR_MM)
    assert ends(kept) == pytest.approx([0.4, 0.0], abs=1e-3)


def test_less_bow_fits_the_drift_and_says_where_to_begin():
    rhythm = plan_of("3 1", repeat=2, head="bow: 0-1\nstart: 0.4")
    plan = less_bow(rhythm, HAIR_MM)
    assert plan.fits and plan.unevenness == pytest.approx(1)
    assert max(ends(plan)) - min(b.start for b in plan.bows) == pytest.approx(1)
    assert "Begin 0 % up the bow" in said(plan.advice)


def test_ways_are_set_side_by_side_the_best_first():
    found = ways(plan_of("1.5 0.5 1.5 0.5"), HAIR_MM)
    assert {p.way for p in found} == {"One speed", "Faster return", "Less bow", "Short note hooked on", "Taken again"}
    assert [p.cost for p in found] == sorted(p.cost for p in found)
    assert found[0].fits and found[-1].way == "One speed"


def test_too_slow_and_too_fast_bows_are_said():
    slow = same_speed(plan_of("40", head="bow: 0-1"), HAIR_MM)
    assert slow.bows[0].speed_cm_s == pytest.approx(1.6) and "may not speak" in said(slow.warnings[0])
    quick = same_speed(plan_of("0.25@1 4"), HAIR_MM)
    assert quick.bows[0].speed_cm_s > FASTEST_CM_S and any("may skate" in said(w) for w in quick.warnings)
    calm = same_speed(plan_of("0.25 0.25"), HAIR_MM)
    assert calm.bows[0].share < 0.3, "short notes alone do not take the whole bow"


def test_a_retake_without_time_is_said():
    plan = same_speed(plan_of("0.25 ^1"), HAIR_MM)
    assert any("no time to lift after bow 1" in said(w) for w in plan.warnings)
    rested = same_speed(plan_of("1 r1 ^1"), HAIR_MM)
    assert not any("no time" in said(w) for w in rested.warnings) and rested.bows[1].start_s == pytest.approx(2.0)
    assert rested.bows[1].down and rested.bows[1].start == pytest.approx(0)


notes = st.lists(st.builds(Note, st.sampled_from([0.25, 0.5, 1.0, 1.5, 3.0]), st.sampled_from(list(DYNAMICS))), min_size=1, max_size=4)
some_bows = st.lists(
    st.builds(Bow, notes.map(tuple), st.sampled_from([0.0, 1.0]), st.booleans(), st.sampled_from([None, 0.25])), min_size=1, max_size=6
)  # fmt: skip


@settings(max_examples=80, deadline=None)
@given(some_bows, st.sampled_from([0.05, 0.95, 0.5]), st.integers(1, 3))
def test_any_plan_reads_back_and_ways_stay_in_the_bow(bows, start, repeats):
    rhythm = Rhythm("Any", tuple(bows), start=start, repeats=repeats)
    assert read_rhythm(write_rhythm(rhythm)) == rhythm
    for plan in ways(rhythm, HAIR_MM):
        assert len(plan.bows) <= len(bows) * repeats and np.isfinite([b.speed_cm_s for b in plan.bows]).all()
        if plan.way in ("Faster return", "Less bow"):
            assert plan.fits, plan.way
        exercise = to_exercise(plan)
        assert read_exercise(write_exercise(exercise)).counts == exercise.counts


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("rhythm: 1@1.4", "Line 1 of the plan asks for 1.4 bows in one"), ("\nrhythm: 1 ((1", "Line 2 of the plan opens a bracket"),
        ("rhythm: (1 1", "does not close its bracket"), ("rhythm: ()", "holds no notes"), ("rhythm: p 1", "'p' before any note"),
        ("rhythm: 1 x", "has 'x' in the rhythm"), ("rhythm: 100", "a note of 100 beats"), ("tempo: 60", "no notes"),
        ("bow: 0.9-0.1\nrhythm: 1", "'0.9-0.1' as part"), ("start: nut\nrhythm: 1", "starts at 'nut'"),
        ("speed: 3\nrhythm: 1", "says 'speed: 3'"),
        ("string: gg\nrhythm: 1", "'gg' as string"), ("repeat: 90\nrhythm: 1 1 1 1 1 1", "has 540 bows"),
        ("rhythm: @0.5", "before any bow"),
        ("tempo: quick\nrhythm: 1", "'quick' as tempo"),
    ],
)  # fmt: skip
def test_a_mistake_in_a_plan_is_named_with_its_line(text, said):
    with pytest.raises(ExerciseError, match=said):
        read_rhythm(text)


def test_a_planned_pattern_becomes_an_exercise_that_its_own_playing_matches():
    plan = kept_in(plan_of("1.5 0.5 1.5 0.5", head="bow: 0.05-0.95"), HAIR_MM)
    exercise = to_exercise(plan)
    assert [s.down for s in exercise.strokes] == [True, False, True, False]
    assert [s.share for s in exercise.strokes] == pytest.approx([b.share for b in plan.bows], abs=2e-3)
    assert exercise.seconds == pytest.approx(4.0)
    again = to_exercise(retaken(plan_of("(1 1 1) 1", repeat=2), HAIR_MM))
    assert [s.down for s in again.strokes] == [True, False, True, False]
    lifted = to_exercise(same_speed(plan_of("1 ^1 ^1"), HAIR_MM))
    assert [s.down for s in lifted.strokes] == [True, True, True] and lifted.strokes[0].kind == "lifted"
    assert match(exercise, []).as_asked == 0


def test_mixes_are_even_and_the_same_for_a_seed():
    mix = random_mix("GDAE", seed=7, items_a_string=3)
    assert mix == random_mix("GDAE", seed=7, items_a_string=3) and mix != random_mix("GDAE", seed=8, items_a_string=3)
    assert all(i.count % 2 == 0 for line in mix.lines for i in line.items)
    parts = [(i.low, i.high) for line in mix.lines for i in line.items]
    assert all(a != b for a, b in pairwise(parts))
    assert all(s.down for k, s in enumerate(mix.strokes) if k == 0 or mix.strokes[k - 1].string != s.string)
    with pytest.raises(ExerciseError, match="From 1 to 12"):
        random_mix("GDAE", seed=1, items_a_string=0)


def test_lists_skip_nothing():
    """Six parts have 6 x 5 ordered pairs, four strings 4 x 3 changes: counted, each once."""
    pairs = every_pair_of_parts("GD")
    items = pairs.lines[0].items
    seen = [((a.low, a.high), (b.low, b.high)) for a, b in zip(items[::2], items[1::2], strict=True)]
    assert len(seen) == len(set(seen)) == len(PARTS) * (len(PARTS) - 1) == 30
    assert pairs.counts == {"G": 120, "D": 120}
    changes = every_change_of_string("GDAE")
    assert len({line.strings for line in changes.lines}) == len(changes.lines) == 12
    assert read_exercise(write_exercise(pairs)) == pairs
    for wrong in (
        lambda: every_pair_of_parts("G", count=3),
        lambda: every_pair_of_parts("G", ["whole"]),
        lambda: every_change_of_string("G"),
    ):
        with pytest.raises(ExerciseError):
            wrong()
    assert len(ready_made("GDAE")) >= 7
