"""A crossing to another string is believed if the line in the picture shows it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from dolcezza.core.bowing.crossings import Hypotheses, settle_crossings
from dolcezza.core.bowing.strings import solve_bow
from dolcezza.core.camera.poses import Poses
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import InstrumentModel
from tests_support import camera_at, seen_lines

RATE, N = 25.0, 60
NOTE = slice(22, 38)
APART_DEG = 12.0
"""By so much the two strings' angles differ for one line, seen along the strings."""


def settled(
    angle: np.ndarray,
    *,
    apart: float = APART_DEG,
    heard_against: float = 3.0,
    note: slice = NOTE,
    seen: np.ndarray | None = None,
    picture: np.ndarray | None = None,
) -> np.ndarray:
    """The string of every frame (n,) where the sound says the other one during a note, and that it is not elsewhere; ``angle`` (n,): the
    bow's on the first string."""
    n = len(angle)
    state = np.zeros(n, int)
    state[note] = 1
    heard = np.zeros((n, 2))
    heard[:, 1] = 10.0
    heard[note] = [heard_against, 0.0]
    angles = np.array([angle, angle + apart])
    known = np.ones(n, bool) if seen is None else seen
    liked = np.zeros((n, 2)) if picture is None else picture
    got = settle_crossings(state, Hypotheses(np.array([0, 1]), angles, liked, heard, 4), known, RATE)
    assert set(got) <= {0, 1}
    return got


def test_a_line_that_goes_on_as_it_went_stays_on_its_string():
    assert (settled(np.full(N, 1.0)) == 0).all()
    # and a bow that turns slowly all the while
    assert (settled(np.linspace(-4, 6, N)) == 0).all()


def test_a_line_that_turns_with_the_crossing_has_crossed():
    """On the other string the bow is as straight as before: on the first one it would have turned."""
    angle = np.full(N, 1.0)
    angle[NOTE] -= APART_DEG
    assert (settled(angle)[NOTE] == 1).all()


def test_seen_from_the_side_the_sound_decides():
    """There a line has the same angle on both strings."""
    assert (settled(np.full(N, 1.0), apart=2.0)[NOTE] == 1).all()


def test_what_does_not_turn_is_left_to_picture_and_sound():
    """Frame by frame the picture likes the first string a little better, the sound the other: the chain has weighed them already."""
    liked = np.zeros((N, 2))
    liked[NOTE, 1] = 2.0
    assert (settled(np.full(N, 1.0), apart=0.0, picture=liked)[NOTE] == 1).all()


def test_a_picture_that_errs_alike_does_not_outvote_the_turn():
    liked = np.zeros((N, 2))
    liked[NOTE, 0] = 0.6
    assert (settled(np.full(N, 1.0), picture=liked) == 0).all()


def test_a_long_stretch_is_more_than_a_note():
    n = 200
    assert (settled(np.full(n, 1.0), note=slice(40, 150))[40:150] == 1).all()


def test_a_note_that_cannot_be_played_there_and_the_teachers_word_stand():
    assert (settled(np.full(N, 1.0), heard_against=40.0)[NOTE] == 1).all()


def test_the_shorter_stretch_is_wrong_sooner():
    """Two notes that may be played on either string: the one in the middle of the stroke goes where the rest is."""
    state = np.zeros(N, int)
    state[NOTE] = 1
    angles = np.array([np.full(N, 1.0), np.full(N, 1.0 + APART_DEG)])
    nothing = np.zeros((N, 2))
    got = settle_crossings(state, Hypotheses(np.array([0, 1]), angles, nothing, nothing, 4), np.ones(N, bool), RATE)
    assert (got == 0).all()


@pytest.mark.parametrize("early", [-12, -5, 5, 12])
def test_a_crossing_is_where_the_line_turns(early):
    """From then on the bow is as straight on the other string as it was before."""
    crosses = 30
    angle = np.where(np.arange(N) < crosses, 1.0, 1.0 - APART_DEG)
    told = (np.arange(N) >= crosses - early).astype(int)
    nothing = np.zeros((N, 2))
    either = Hypotheses(np.array([0, 1]), np.array([angle, angle + APART_DEG]), nothing, nothing, 4)
    got = settle_crossings(told, either, np.ones(N, bool), RATE)
    assert np.flatnonzero(np.diff(got)) == pytest.approx([crosses - 1], abs=2)


def test_no_bow_has_stayed_on_a_pair_of_strings():
    """A pose that is off makes a pair likely for a while: the string beside it is not drawn into it."""
    state = np.where(np.arange(N) < 22, 0, 1)
    angles = np.array([np.full(N, 1.0), np.full(N, 1.0 + APART_DEG)])
    heard = np.zeros((N, 2))
    heard[22:, 0] = 10.0
    for string, expected in ((4, state), (1, np.ones(N, int))):
        of = Hypotheses(np.array([0, string]), angles, np.zeros((N, 2)), heard, 4)
        assert (settle_crossings(state, of, np.ones(N, bool), RATE) == expected).all()


def test_a_bow_that_was_taken_off_between_may_be_anywhere():
    seen = np.ones(N, bool)
    seen[[20, 21, 38, 39]] = False
    got = settled(np.full(N, 1.0), seen=seen)
    assert (got[NOTE] == 1).all()


@pytest.mark.parametrize("crosses", [False, True])
def test_a_fourth_finger_is_no_open_string_if_the_bow_stays(crosses):
    """A slur on A of which one note sounds as the open E does: stopped with the fourth finger, or played open. Of the bow only the line is
    seen, so that on E it would be another line's twin."""
    model = InstrumentModel(instrument("violin 4/4"))
    camera = camera_at(model, -12, 45)
    string = np.full(N, 2)
    if crosses:
        string[NOTE] = 3
    plane = model.string_planes[string].astype(float)
    # the arm takes a fifth of a second to go from string to string
    plane = np.convolve(np.pad(plane, 2, mode="edge"), np.full(5, 0.2), mode="valid")
    params = np.column_stack([np.full(N, 28.0), np.zeros(N), plane, np.linspace(0.2, 0.8, N)])
    lines = seen_lines(model, camera, params, string, rng=np.random.default_rng(5))
    lines = replace(lines, head=np.full(N, np.nan), frog=np.full(N, np.nan))
    open_e = np.zeros((N, 4))
    open_e[NOTE] = [5.0, 4.0, 3.1, 0.0]
    open_e[: NOTE.start] = open_e[NOTE.stop :] = [2.5, 1.5, 0.5, 10.0]
    got = solve_bow(model, lines, Poses.of([camera] * N), scale_px=1.0, rate_hz=RATE, hint=open_e)
    assert (got.string == string).mean() > 0.9
    assert np.abs(np.median(got.params[NOTE, 1])) < 2.0
