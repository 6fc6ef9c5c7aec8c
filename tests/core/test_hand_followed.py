"""The hand over a take: what is told of up-bows beside down-bows and of the first strokes beside the last, from made-up looks of a small
hand that is seen badly."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from dolcezza.core.hold.fit import hand_size, usual_hand
from dolcezza.core.hold.followed import LIFTED_SHARE, SLID_MM, HandLook, HandMove, answers_of, follow_hand

HAIR_MM = 645.0
PX_MM = 0.6
"""A violin's bow is some 390 px long in such a picture, its hand some 50 px across."""


def looks(*, index=0.0, little=0.0, slid_mm=0.0, strokes=16, each=4, noise=0.07, seed=1, turn=0.4):
    """A hand whose index and little finger are ``index`` and ``little`` (shares of its size) higher on the up-bow, that goes ``slid_mm``
    along the stick over the take; seen with ``noise`` (share of its size), more and more from the side towards the head."""
    rng = np.random.default_rng(seed)
    flat = usual_hand()[:, :2] * PX_MM
    flat = flat - flat.mean(axis=0)
    size = hand_size(flat)
    along, up = np.array([np.cos(turn), np.sin(turn)]), np.array([np.sin(turn), -np.cos(turn)])
    out = []
    for stroke in range(strokes):
        down = stroke % 2 == 0
        strange = 0.3 * noise * rng.normal(size=2)
        for share in np.linspace(0.2, 0.8, each):
            position = share if down else 1 - share
            hand = flat.copy() * [1.0, 1.0 - 0.2 * position]
            # in the hand's own picture y points down: up is less
            hand[[6, 7, 8]] -= [0, size * (strange[0] + (0.0 if down else index))]
            hand[[18, 19, 20]] -= [0, size * (strange[1] + (0.0 if down else little))]
            hand = hand + noise * size * rng.normal(size=hand.shape)
            frog = np.array([300.0, 420.0]) + 200 * position * along
            place = slid_mm * PX_MM * (stroke + share) / strokes
            points = frog + (hand[:, :1] + place) * along - (hand[:, 1:] - 40 * PX_MM) * up
            out.append(HandLook(stroke + share, points, frog, frog + HAIR_MM * PX_MM * along, position, stroke, down))
    return out


def told(**how):
    return {f.what: f for f in follow_hand(looks(**how), HAIR_MM)}


def test_a_hand_that_keeps_still_is_said_to():
    for seed in range(6):
        got = told(seed=seed, strokes=24)
        assert not any(f.shown for f in got.values()), "a false sign is the worst fault"
        assert got[HandMove.INDEX].absent and got[HandMove.SLIDES].absent
    assert answers_of(list(got.values())) == {HandMove.INDEX: [("index keeps", "stays")]}


@pytest.mark.parametrize("seed", range(4))
def test_an_index_that_leaves_the_stick_on_the_up_bow_is_told(seed):
    got = told(index=0.3, seed=seed)
    index = got[HandMove.INDEX]
    assert index.value == pytest.approx(0.3, abs=3 * index.sd) and index.shown and index.sd < 0.06
    assert not got[HandMove.LITTLE].shown and not got[HandMove.SLIDES].shown
    assert ("little work", "takes over") in answers_of(list(got.values()))[HandMove.INDEX]


def test_a_little_finger_that_leaves_is_another_thing():
    got = told(little=0.3)
    assert got[HandMove.LITTLE].shown and not got[HandMove.INDEX].shown
    assert HandMove.LITTLE not in answers_of(list(got.values())), "no answer of the teacher's list says so"


@pytest.mark.parametrize(("mm", "answer"), [(-24.0, "slides back"), (24.0, None)])
def test_a_hand_that_slides_is_told_with_its_way(mm, answer):
    slides = told(slid_mm=mm)[HandMove.SLIDES]
    assert slides.value == pytest.approx(mm, abs=3 * slides.sd + 1.0) and slides.shown
    got = answers_of(follow_hand(looks(slid_mm=mm), HAIR_MM))
    assert got.get(HandMove.SLIDES) == ([("index keeps", answer)] if answer else None)
    assert ("index keeps", "stays") not in got.get(HandMove.INDEX, [])


def test_a_view_that_changes_along_the_bow_is_no_sign():
    """Strokes of one direction only in each half: what the view does at frog and head is the same both ways and cancels."""
    strokes = [look for look in looks(strokes=24, noise=0.02) if (look.position < 0.6) == look.down]
    index = {f.what: f for f in follow_hand(strokes, HAIR_MM)}[HandMove.INDEX]
    assert not index.shown


def test_half_a_finger_is_neither_shown_nor_absent_in_a_bad_view():
    index = told(index=LIFTED_SHARE, noise=0.15)[HandMove.INDEX]
    assert not index.shown and not index.absent
    assert SLID_MM > 5


def test_too_few_strokes_tell_nothing():
    assert follow_hand(looks(strokes=2), HAIR_MM) == []
    assert HandMove.INDEX not in told(strokes=4)
    one_way = [look for look in looks(strokes=30) if look.down]
    assert HandMove.INDEX not in {f.what for f in follow_hand(one_way, HAIR_MM)}


def test_looks_at_something_else_do_not_count():
    some = looks(index=0.3, strokes=20)
    for k in range(0, len(some), 9):
        some[k] = replace(some[k], points=some[k].frog + 4 * (some[k].points - some[k].frog))
    assert {f.what: f for f in follow_hand(some, HAIR_MM)}[HandMove.INDEX].shown


@pytest.mark.parametrize(
    ("take", "shown", "value", "within"),
    [("still", None, None, 0.0), ("index", HandMove.INDEX, 0.25, 0.15), ("slide", HandMove.SLIDES, -27.5, 6.0)],
)
def test_what_the_practice_room_films_is_told(take, shown, value, within):
    """Looks that the hand model gave of three takes of the practice room, recorded (whole bows on one or two strings, 12 and 16 of them;
    a hand 34 to 60 px across): nothing; ``index_mm`` 16 on every up-bow (the tip is 26 mm higher, some 0.3 of the hand, of which the
    model draws half); ``hand_mm`` 2.5 more towards the screw in every bow, 27.5 in all."""
    with np.load(Path(__file__).parent / "hand_looks.npz") as kept:
        points, ends, about = (kept[f"{take}_{what}"].astype(float) for what in ("points", "ends", "about"))
    seen = [
        HandLook(t, p, frog, head, position, int(stroke), bool(down), chr(int(string)))
        for p, (frog, head), (t, position, stroke, down, string) in zip(points, ends, about, strict=True)
    ]
    got = follow_hand(seen, HAIR_MM)
    assert [f.what for f in got if f.shown] == ([shown] if shown else [])
    if shown:
        (one,) = (f for f in got if f.what is shown)
        assert one.value == pytest.approx(value, abs=within) and one.strokes == 12
    else:
        assert all(f.absent for f in got)
