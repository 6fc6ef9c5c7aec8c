"""Exercises, their text, and strokes matched against them."""

from __future__ import annotations

from dataclasses import fields, replace
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dolcezza.core.assignment.exercise import PARTS, Exercise, Item, Line, Printed, check, part_name, ready_made
from dolcezza.core.assignment.match import match, recognise
from dolcezza.core.assignment.text import read_exercise, write_exercise
from dolcezza.core.base.errors import ExerciseError
from dolcezza.core.strokes.figures import Stroke

TEXT = """
exercise: Long and short   # a remark
tempo: 72
start: frog
G D: 2 whole x4
A: 2 lower, 2 0.3-0.6 x0.5
E: 1 whole x4 slur 4
"""


def played(exercise: Exercise, *, ends: float = 0.04) -> list[Stroke]:
    """The strokes of an exercise as a careful player plays them, not quite to the ends of the bow."""
    out = []
    for k, a in enumerate(exercise.strokes):
        values = {f.name: float("nan") for f in fields(Stroke)}
        span = a.high - a.low
        low, high = a.low + ends * span, a.high - ends * span
        values |= {"number": k + 1, "direction": "down" if a.down else "up", "string": a.string, "start_s": float(k), "end_s": k + 0.9}
        values |= {"from_position": low if a.down else high, "to_position": high if a.down else low}
        out.append(Stroke(**values))
    return out


def numbered(strokes: list[Stroke]) -> list[Stroke]:
    return [replace(s, number=k + 1) for k, s in enumerate(strokes)]


def test_an_exercise_is_read_counted_and_timed():
    made = read_exercise(TEXT)
    assert made.name == "Long and short"
    assert made.counts == {"G": 2, "D": 2, "A": 4, "E": 1}
    assert made.seconds == pytest.approx((4 * 4 + 2 * 1 + 2 * 0.5 + 4) * 60 / 72)
    strokes = made.strokes
    assert [s.down for s in strokes] == [True, False] * 4 + [True]
    assert (strokes[6].from_position, strokes[6].to_position) == (0.3, 0.6)
    assert strokes[-1].notes == 4 and strokes[-1].kind == "slurred"


def test_lifted_strokes_all_go_one_way_and_the_tip_begins_with_an_up_bow():
    assert [s.down for s in read_exercise("start: tip\nA: 3 whole").strokes] == [False, True, False]
    assert [s.down for s in read_exercise("A: 3 lower lifted").strokes] == [True, True, True]


items = st.builds(
    Item, st.integers(1, 16), st.sampled_from([0.0, 0.25, 0.3]), st.sampled_from([0.5, 0.6, 1.0]), st.sampled_from([0.5, 1.0, 4.0])
)  # fmt: skip


@settings(max_examples=60, deadline=None)
@given(
    st.lists(st.builds(Line, st.just(("G", "D")), st.lists(items, min_size=1, max_size=4).map(tuple)), min_size=1, max_size=3),
    st.booleans(),
)
def test_text_reads_back_the_same(lines, from_tip):
    exercise = Exercise("Any", tuple(lines), 66.0, from_tip, 2)
    assert read_exercise(write_exercise(exercise)) == exercise


@pytest.mark.parametrize("printed", [Printed("Evening song"), Printed("No. 3, in G # 2", 2, 5, 12), Printed("staff 4", 1, 0, 0)])
def test_the_notes_that_an_exercise_is_made_of_are_named(printed):
    exercise = Exercise("Any", (Line(("D",), (Item(2, 0.0, 1.0),)),), printed=printed)
    assert read_exercise(write_exercise(exercise)) == exercise
    assert read_exercise("printed: Evening song\nG: 2 whole").printed == Printed("Evening song")


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("G 8 whole", "Line 1 of the exercise has no colon"), ("tempo: fast\nG: 1 whole", "'fast' as tempo"), ("\nG: 8 wide", "Line 2"),
        ("G: eight whole", "has 'eight whole'"), ("H: 2 whole", "names 'H' as strings"), ("G: 2 0.8-0.2", "the places 0.8-0.2"),
        ("G: 2 whole bouncing", "'bouncing' as stroke"), ("start: nut\nG: 1 whole", "starts at 'nut'"), ("tempo: 60", "asks for no stroke"),
        ("repeat: 90\nG D A E: 40 whole", "asks for 14400 strokes"), ("G: 1 whole\nprinted:", "Line 2 of the exercise names no piece"),
    ],
)  # fmt: skip
def test_a_mistake_is_named_with_its_line(text, said):
    with pytest.raises(ExerciseError, match=said):
        read_exercise(text)


def test_strings_the_instrument_does_not_have():
    with pytest.raises(ExerciseError, match="'E' is not a string of this instrument"):
        check(read_exercise("E: 2 whole"), "CGDA")


def test_the_common_exercises_have_the_numbers_of_the_trade():
    """Long open strings, 8 a string up and back: 64; lower halves 8 a string, treble to bass: 32; upper halves treble to bass and back
    without repeating the bass string: 56; even counts; 4 + 4 and 6 + 8 begin at the frog, short = lower half, 2 + 4 begins at the head,
    short = upper half (common practice, no source)."""
    made = {e.name: e for e in ready_made("GDAE")}
    assert len(made["Long open strings"].strokes) == 64
    assert len(made["Lower halves"].strokes) == 32
    assert list(made["Lower halves"].counts) == list("EADG")
    upper = made["Upper halves, treble to bass and back"]
    assert len(upper.strokes) == 56 and upper.counts == {"E": 16, "A": 16, "D": 16, "G": 8}
    assert not made["Four long, four short"].from_tip and not made["Six short, eight long"].from_tip
    assert made["Two long, four short"].from_tip and made["Two long, four short"].strokes[0].from_position == 1.0
    for name, part in (("Four long, four short", "lower"), ("Six short, eight long", "lower"), ("Two long, four short", "upper")):
        assert {(s.low, s.high) for s in made[name].strokes} == {PARTS["whole"], PARTS[part]}
        ends = [(s.from_position, s.to_position) for s in made[name].strokes]
        assert all(a[1] == b[0] for a, b in pairwise(ends)), f"{name}: each bow begins where the one before ended"
    assert [s.notes for s in made["Twice as many notes, the bow unchanged"].strokes][:8] == [4] * 4 + [8] * 4
    assert {(s.low, s.high) for s in made["Lower halves"].strokes} == {PARTS["lower"]}
    assert all(n % 2 == 0 for e in made.values() for n in e.counts.values())
    assert part_name(0.5, 1.0) == "upper" and part_name(0.1, 0.4) == "0.1-0.4"


MIXED = read_exercise("D: 4 whole, 4 lower\nA: 4 upper")


def test_what_was_played_as_asked_is_as_asked():
    found = match(MIXED, played(MIXED))
    assert found.as_asked == 12 and found.cost < 0.1
    assert [p.asked for p in found.pairs] == list(range(12))


def test_each_way_of_going_wrong_is_named():
    strokes = played(MIXED)
    strokes[1] = replace(strokes[1], string="A")
    strokes[2] = replace(strokes[2], to_position=0.45)
    strokes[5] = replace(strokes[5], from_position=0.95)
    strokes[9] = replace(strokes[9], from_position=0.55, to_position=0.1)
    found = match(MIXED, strokes)
    assert found.pairs[1].faults == ("wrong string",)
    assert found.pairs[2].faults == ("too short",)
    assert found.pairs[5].faults == ("too long",)
    assert found.pairs[9].faults == ("wrong part",)
    assert found.as_asked == 8


def test_missed_and_extra_strokes_do_not_shift_the_rest():
    strokes = played(MIXED)
    missed = match(MIXED, numbered([*strokes[:4], *strokes[6:]]))
    assert missed.count("missed") == 2 and missed.as_asked == 10
    extra = match(MIXED, numbered([*strokes[:8], *strokes[6:8], *strokes[8:]]))
    assert extra.count("extra") == 2 and extra.as_asked == 12


def test_a_bow_that_is_split_by_a_halt_is_one_stroke_that_was_asked():
    strokes = played(MIXED)
    first = replace(strokes[0], to_position=0.5)
    second = replace(strokes[0], from_position=0.5)
    found = match(MIXED, numbered([first, second, *strokes[1:]]))
    assert found.pairs[0].faults == ("split",) and found.pairs[0].played == (1, 2)
    assert found.as_asked == 11


def test_a_false_start_and_an_early_stop_are_seen_as_such():
    strokes = played(MIXED)
    begun = match(MIXED, numbered([replace(strokes[0], to_position=0.2), *strokes]))
    assert begun.pairs[0].faults == ("false start",) and begun.as_asked == 12
    stopped = match(MIXED, strokes[:7])
    assert stopped.count("not reached") == 5 and stopped.as_asked == 7 and stopped.count("missed") == 0
    assert match(MIXED, []).as_asked == 0


@pytest.mark.parametrize("strings", ["GDAE", "CGDA"])
def test_every_common_exercise_is_recognised(strings):
    for exercise in ready_made(strings):
        found = recognise(ready_made(strings), played(exercise))
        assert found is not None and found.match.exercise == exercise, exercise.name
        assert found.match.as_asked == len(exercise.strokes)
        assert found.match.cost < found.others[0][1]


def test_bows_on_other_strings_are_not_recognised_for_certain():
    """Four long bows on D and four on A are like two on each string in all but half of their strings."""
    whole = next(e for e in ready_made("GDAE") if e.name == "Two long on each string")
    strokes = played(whole)
    assert recognise([whole], strokes).sure
    elsewhere = [replace(s, string="DA"[k // 4]) for k, s in enumerate(strokes)]
    found = recognise([whole], elsewhere)
    assert found is not None and not found.sure
    once = [replace(s, string="D" if k == 1 else s.string) for k, s in enumerate(strokes)]
    assert recognise([whole], once).sure, "a wrong string is a fault, not another exercise"


def test_something_else_is_not_recognised():
    wild = played(read_exercise("E: 3 tip\nG: 2 frog\nE: 1 middle"))
    assert recognise(ready_made("GDAE"), wild) is None
    assert recognise(ready_made("GDAE"), []) is None
