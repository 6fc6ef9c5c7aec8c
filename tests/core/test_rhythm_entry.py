"""A rhythm put together by clicks is the text that one would have typed."""

from __future__ import annotations

from functools import reduce

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dolcezza.core.assignment.rhythm import read_rhythm, write_rhythm
from dolcezza.core.assignment.rhythm_entry import VALUES, dotted, is_open, tokens_of, with_loudness, with_note, with_slur, without_last

START = "plan: Study\nstring: D\ntempo: 72\nrhythm:\n"


def done(*gestures) -> str:
    return reduce(lambda text, gesture: gesture(text), gestures, START)


def note(value: str, **how):
    return lambda text: with_note(text, VALUES[value], **how)


def loud(dynamic: str):
    return lambda text: with_loudness(text, dynamic)


@pytest.mark.parametrize(("gestures", "said"), [
    ([note("quarter"), note("eighth")], "1 0.5"),
    ([note("quarter"), dotted, note("eighth")], "1.5 0.5"),
    ([note("half"), dotted, dotted], "2"),
    ([note("quarter"), note("quarter", rest=True), note("half", retake=True)], "1 r1 ^2"),
    ([with_slur, note("quarter"), note("quarter"), with_slur, note("half")], "(1 1) 2"),
    ([with_slur, note("quarter"), note("quarter"), with_slur, loud("f")], "(1 1)f"),
    ([note("half"), loud("p"), loud("f"), loud("mf")], "2"),
    ([with_slur, with_slur, note("whole")], "4"),
    ([note("whole"), note("half"), without_last], "4"),
    ([with_slur, note("quarter"), note("quarter", rest=True), note("half")], "(1) r1 2"),
    ([with_slur, note("quarter"), note("quarter", retake=True), with_slur], "(1 1)"),
    ([without_last, dotted, loud("p")], ""),
])  # fmt: skip
def test_gestures_and_what_they_say(gestures, said):
    text = done(*gestures)
    assert text == START.rstrip() + (f" {said}" if said else "") + "\n"
    if said:
        assert read_rhythm(text).tempo == 72


def test_a_text_that_was_typed_is_gone_on_with_and_the_rest_of_it_stays():
    typed = "plan: Mine   # for Tuesday\nrhythm: 1.5 0.5p (1 1)f\ntempo: 60\n"
    text = with_note(typed, 2.0)
    assert text == "plan: Mine   # for Tuesday\nrhythm: 1.5 0.5p (1 1)f 2\ntempo: 60\n"
    assert tokens_of(typed) == ["1.5", "0.5p", "(", "1", "1", ")f"]
    assert with_note("plan: New", 1.0) == "plan: New\nrhythm: 1\n"


@given(st.lists(st.sampled_from(["whole", "quarter", "eighth", "dot", "slur", "rest", "back", "p"]), max_size=25))
def test_whatever_is_clicked_can_be_read_once_slurs_are_closed(gestures):
    ways = {"dot": dotted, "slur": with_slur, "back": without_last, "p": loud("p"), "rest": note("quarter", rest=True)}
    text = done(*[ways.get(g) or note(g) for g in gestures])
    if is_open(text):
        text = with_slur(text)
    tokens = tokens_of(text)
    assert not is_open(text)
    if any(t[:1].isdigit() for t in tokens):
        read = read_rhythm(text)
        assert read_rhythm(write_rhythm(read)).bows == read.bows
