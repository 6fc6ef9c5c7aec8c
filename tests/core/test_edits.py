"""Strokes cut, joined, struck out and told to another string by hand."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dolcezza.core.strokes.edits import EditKind, StrokeEdit, edited
from dolcezza.core.strokes.figures import find_strokes
from dolcezza.core.strokes.segment import Span
from tests_support import series_from

THREE = [Span(0.0, 1.0, True), Span(1.0, 2.0, False), Span(2.2, 3.0, True)]


def edges(spans):
    return [(e.span.start_s, e.span.end_s, e.by_hand) for e in spans]


def test_a_cut_makes_two_and_the_nearest_turn_is_joined():
    assert edges(edited(THREE, [StrokeEdit(1.4, EditKind.SPLIT)])) == [(0, 1, ""), (1, 1.4, "cut"), (1.4, 2, "cut"), (2.2, 3, "")]
    assert edges(edited(THREE, [StrokeEdit(0.9, EditKind.MERGE)])) == [(0, 2, "joined"), (2.2, 3, "")]
    assert edges(edited(THREE, [StrokeEdit(1.9, EditKind.MERGE)])) == [(0, 1, ""), (1, 3, "joined")]


def test_struck_out_and_told_strings():
    assert edges(edited(THREE, [StrokeEdit(1.5, EditKind.DELETE)])) == [(0, 1, ""), (2.2, 3, "")]
    said = edited(THREE, [StrokeEdit(2.5, EditKind.STRING, "G")])
    assert [(e.string, e.by_hand) for e in said] == [("", ""), ("", ""), ("G", "string")]


@pytest.mark.parametrize(
    "edit",
    [StrokeEdit(2.1, EditKind.DELETE), StrokeEdit(9.0, EditKind.SPLIT), StrokeEdit(1.03, EditKind.SPLIT), StrokeEdit(8.0, EditKind.MERGE)],
)
def test_what_meets_no_stroke_changes_nothing(edit):
    assert edges(edited(THREE, [edit])) == edges(edited(THREE, []))


@given(st.lists(st.tuples(st.floats(0, 3), st.sampled_from(["cut", "join", "drop"])), max_size=8))
def test_edited_strokes_never_overlap_and_stay_within_what_was_played(edits):
    out = [e.span for e in edited(THREE, [StrokeEdit(t, what) for t, what in edits])]
    assert all(s.start_s < s.end_s for s in out)
    assert all(a.end_s <= b.start_s for a, b in pairwise(out))
    assert all(s.start_s >= 0 and s.end_s <= 3 for s in out)


def test_the_halves_of_a_joined_stroke_go_the_way_the_bow_went():
    """Three strokes of which the last two are one to the teacher: what is left is told from the bow's own places."""
    t = np.arange(0, 6, 1 / 30)
    series = series_from(t, np.interp(t, [0, 2, 4, 6], [0.1, 0.9, 0.2, 0.8]))
    assert [s.direction for s in find_strokes(series)] == ["down", "up", "down"]
    one = find_strokes(series, edits=[StrokeEdit(2.0, EditKind.MERGE)])
    assert [(s.direction, s.by_hand) for s in one] == [("down", "joined"), ("down", "")]
    assert one[0].from_position == pytest.approx(0.1, abs=0.02) and one[0].to_position == pytest.approx(0.2, abs=0.03)
    cut = find_strokes(series, edits=[StrokeEdit(1.0, EditKind.SPLIT), StrokeEdit(0.5, EditKind.STRING, "G")])
    assert [s.string for s in cut] == ["G", "D", "D", "D"] and [s.number for s in cut] == [1, 2, 3, 4]
