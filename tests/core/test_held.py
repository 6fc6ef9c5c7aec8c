"""Which end of the hair was lost: head, frog, hand and how bows move, weighed together on lines whose truth is known."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from dolcezza.core.body.points import BODY_POINTS, BodySeen
from dolcezza.core.bowing.held import (
    BESIDE_MM,
    KNUCKLES,
    HeldFrog,
    believed_ends,
    hair_px,
    held_frog,
    likeliest_place,
)
from dolcezza.core.bowing.strings import solve_bow
from dolcezza.core.camera.poses import Poses
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.tracking.bow_path import BowLines
from tests_support import camera_at, seen_lines

HAIR_PX, HAIR_MM, RATE = 400.0, 650.0, 25.0
COVERED_PX = 12.0


def drawn(places: np.ndarray) -> BowLines:
    """A bow at these places (n,), its line along x, all that is seen of it right; fingers cover 12 px."""
    n = len(places)
    point = np.tile([600.0, 300.0], (n, 1))
    return BowLines(
        point, np.tile([1.0, 0.0], (n, 1)), np.full((n, 2), 0.1), np.full((n, 2, 2), np.nan), (1 - places) * HAIR_PX, np.full(n, np.nan),
        -places * HAIR_PX + COVERED_PX, np.full(n, 7.0), np.ones(n),
    )  # fmt: skip


def times(n: int) -> np.ndarray:
    return np.arange(n) / RATE


def hand_at(places: np.ndarray, *, sd: float = 17.0, off: float = 0.0) -> HeldFrog:
    return HeldFrog(-places * HAIR_PX + off, np.full(len(places), sd), 5.0)


WAY = np.concatenate([np.full(10, 0.1), np.linspace(0.1, 0.9, 40), np.full(10, 0.9)])
LENGTH = np.full(len(WAY), HAIR_PX)


def test_what_is_seen_rightly_is_left_alone():
    lines = drawn(WAY)
    assert believed_ends(lines, LENGTH, hand_at(WAY), times(60), scale_px=1.0) is lines
    assert believed_ends(lines, LENGTH, None, times(60), scale_px=1.0) is lines
    assert likeliest_place(lines, LENGTH, None, times(60)) == pytest.approx(WAY, abs=0.03)


def test_a_head_that_is_seen_far_beyond_is_the_edge_of_a_wall():
    """From the thirtieth frame on something goes on in the bow's line, a whole bow's length away: hand and frog tell the place."""
    lines = drawn(WAY)
    edge = lines.head.copy()
    edge[30:] = 1.02 * HAIR_PX
    seen = replace(lines, head=edge)
    got = believed_ends(seen, LENGTH, hand_at(WAY), times(60), scale_px=1.0)
    assert np.isnan(got.head[36:]).all() and np.isnan(got.beyond[36:]).all(), "nor did hair go on to there"
    assert got.head[:30] == pytest.approx(lines.head[:30])
    assert -got.frog[36:] / HAIR_PX == pytest.approx(WAY[36:], abs=0.06)
    near = replace(lines, head=lines.head + 0.05 * HAIR_PX)
    assert np.isfinite(believed_ends(near, LENGTH, hand_at(WAY), times(60), scale_px=1.0).head).all(), (
        "a little farther: the string may be another"
    )


def test_a_bow_goes_on_while_no_frame_is_taken():
    """Half of the frames missing, here and there: what is seen of the bow is right, and stays so."""
    kept = np.flatnonzero(np.random.default_rng(5).random(60) < 0.5)
    quick = 0.5 - 0.4 * np.cos(2 * np.pi * np.arange(60) / 20)
    lines = drawn(quick[kept])
    assert likeliest_place(lines, LENGTH[kept], None, times(60)[kept]) == pytest.approx(quick[kept], abs=0.06)


def test_a_head_behind_the_left_hand_lies_farther_on_and_the_frog_tells_the_place():
    """The left hand ends what is seen 60 px beyond the string, wherever the bow is."""
    lines = drawn(WAY)
    seen = replace(lines, head=np.where(lines.head > 60, 60.0, lines.head))
    hidden = lines.head > 60 + 0.06 * HAIR_PX
    got = believed_ends(seen, LENGTH, hand_at(WAY), times(60), scale_px=1.0)
    lost = np.isnan(got.head)
    assert lost[hidden].mean() > 0.95
    assert got.beyond[lost] == pytest.approx(60.0)
    assert (~lost[~hidden]).mean() > 0.9
    # the frog: half of what fingers usually cover farther out than hair is seen, with a ± that holds that
    assert got.frog[lost] == pytest.approx(seen.frog[lost] - 0.02 * HAIR_PX)
    assert (np.abs(got.frog[lost] + WAY[lost] * HAIR_PX) < 2 * got.frog_sd[lost]).all()


def test_a_head_that_stands_in_the_picture_while_the_frog_goes_on_is_an_edge():
    """Quick bows whose head goes behind a pale wall's edge and comes back: a hand that covers more and more would say the same, but no
    head stands still while its frog goes on."""
    quick = 0.51 - 0.11 * np.cos(2 * np.pi * np.arange(60) / 16)
    lines, edge = drawn(quick), 185.0
    seen = replace(lines, head=np.minimum(lines.head, edge))
    hidden = lines.head > edge + 0.05 * HAIR_PX
    assert hidden.mean() > 0.2
    place = likeliest_place(seen, np.full(60, HAIR_PX), hand_at(quick), times(60))
    assert np.abs(place - quick)[hidden].max() < 0.06
    got = believed_ends(seen, np.full(60, HAIR_PX), hand_at(quick), times(60), scale_px=1.0)
    assert np.isnan(got.head[hidden]).all() and np.isfinite(got.head[~hidden]).mean() > 0.7
    # a bow at rest stands at both ends, and fingers that move for a moment take nothing from it
    rest = drawn(np.full(60, 0.4))
    fidgets = replace(rest, frog=rest.frog + np.where(np.arange(60) % 20 == 7, 30.0, 0.0))
    assert believed_ends(fidgets, np.full(60, HAIR_PX), hand_at(np.full(60, 0.4)), times(60), scale_px=1.0) is fidgets


@pytest.mark.parametrize("frog_seen", [True, False], ids=["frog seen", "frog not seen"])
def test_a_head_that_stands_beyond_while_the_hand_goes_on_is_an_edge(frog_seen):
    """The stick ends before what is as dark, and stays there while the bow goes on to its tip and back: the place does not stand still."""
    whole = np.concatenate([np.linspace(0.1, 0.93, 40), np.linspace(0.93, 0.1, 40)])
    lines, edge, length = drawn(whole), 0.46 * HAIR_PX, np.full(80, HAIR_PX)
    seen = replace(lines, head=np.maximum(lines.head, edge), frog=lines.frog - 120 if frog_seen else np.full(80, np.nan))
    hidden = lines.head < edge - 0.15 * HAIR_PX
    place = likeliest_place(seen, length, hand_at(whole), times(80))
    assert np.abs(place - whole)[hidden].max() < 0.06
    got = believed_ends(seen, length, hand_at(whole), times(80), scale_px=1.0)
    assert np.isnan(got.head[hidden]).all() and np.isfinite(got.head[lines.head > edge]).mean() > 0.9
    assert -got.frog[hidden] / HAIR_PX == pytest.approx(whole[hidden], abs=0.06)


def test_a_frog_and_a_hand_that_contradict_each_other_leave_the_place_open():
    """The head is lost, and the hand seems to be elsewhere: nothing says which of the two is right."""
    lines = drawn(WAY)
    seen = replace(lines, head=np.where(lines.head > 60, 60.0, lines.head))
    off = 0.25 * HAIR_PX
    got = believed_ends(seen, LENGTH, hand_at(WAY, off=off), times(60), scale_px=1.0)
    lost = np.isnan(got.head) & np.isfinite(got.frog)
    by_frog = lost & (np.abs(got.frog - seen.frog) < 10)
    assert by_frog.any() and (got.frog_sd[by_frog] > 0.4 * off).all()
    agreed = believed_ends(seen, LENGTH, hand_at(WAY), times(60), scale_px=1.0)
    assert (agreed.frog_sd[by_frog & np.isnan(agreed.head)] < 0.2 * off).all()


def test_a_head_that_the_teacher_has_set_stands_whatever_else_is_seen():
    lines = drawn(WAY)
    seen = replace(lines, head=np.where(lines.head > 60, 60.0, lines.head))
    own = np.arange(60) == 22
    got = believed_ends(seen, LENGTH, hand_at(WAY), times(60), scale_px=1.0, by_hand=own)
    assert got.head[22] == 60.0 and np.isnan(got.head[[15, 28]]).all()


def test_a_frog_that_is_lost_does_not_take_the_head_along():
    """Cloth hides the hair near the hand for a while: the head, which moves on, is believed."""
    lines = drawn(WAY)
    seen = replace(lines, frog=np.where((np.arange(60) > 25) & (np.arange(60) < 40), -30.0, lines.frog))
    got = believed_ends(seen, LENGTH, hand_at(WAY), times(60), scale_px=1.0)
    assert got is seen
    assert likeliest_place(seen, LENGTH, None, times(60))[30:36] == pytest.approx(WAY[30:36], abs=0.03)


def test_what_shines_beyond_the_frog_says_nothing_of_the_head():
    lines = drawn(WAY)
    seen = replace(lines, frog=lines.frog - 80.0)
    assert believed_ends(seen, LENGTH, hand_at(WAY), times(60), scale_px=1.0) is seen


def test_a_head_too_far_on_is_left_to_the_robust_fit():
    lines = drawn(WAY)
    seen = replace(lines, head=np.where(np.arange(60) == 30, lines.head + 90, lines.head))
    assert believed_ends(seen, LENGTH, hand_at(WAY), times(60), scale_px=1.0) is seen


def test_the_hand_alone_does_not_overrule_a_head():
    """Somebody else's hand, or a sleeve: where no hair is seen at the frog, the head stays."""
    lines = drawn(WAY)
    seen = replace(lines, frog=np.full(60, np.nan))
    got = believed_ends(seen, LENGTH, hand_at(WAY, off=150.0), times(60), scale_px=1.0)
    assert np.isfinite(got.head).all()


def test_where_head_and_frog_are_lost_the_hand_has_the_frog():
    """Hair ends at the left hand, and on the other side what shines beyond the frog is taken for its beginning."""
    lines = drawn(WAY)
    hidden = (np.arange(60) >= 20) & (np.arange(60) < 30)
    seen = replace(lines, head=np.where(hidden, lines.head - 150, lines.head), frog=np.where(hidden, lines.frog - 120, lines.frog))
    got = believed_ends(seen, LENGTH, hand_at(WAY), times(60), scale_px=1.0)
    assert np.isnan(got.head[hidden]).all() and np.isfinite(got.head[~hidden]).all()
    assert got.frog[hidden] == pytest.approx(-WAY[hidden] * HAIR_PX)
    # frames between two looks err alike: five of them count as one
    assert got.frog_sd[hidden] == pytest.approx(17.0 * np.sqrt(5.0))


def test_a_bow_that_is_taken_off_and_set_down_elsewhere_may_leap():
    places = np.concatenate([np.full(20, 0.85), np.full(20, 0.1)])
    assert likeliest_place(drawn(places), np.full(40, HAIR_PX), None, times(40)) == pytest.approx(places, abs=0.03)


def body(places: np.ndarray, *, side: str = "right", across_mm: float = -60.0, stranger: bool = False) -> BodySeen:
    """A body whose knuckles lie beside the frog, seen five times a second."""
    every = np.arange(0, len(places), 5)
    points = np.full((len(every), BODY_POINTS, 2), 50.0)
    px_mm = HAIR_PX / HAIR_MM
    x = 600.0 - places[every] * HAIR_PX + BESIDE_MM * px_mm
    if stranger:
        x = x + 300
    for k in KNUCKLES[side]:
        points[:, k] = np.column_stack([x, np.full(len(every), 300.0 + across_mm * px_mm)])
    return BodySeen(times(len(places))[every], points, np.ones((len(every), BODY_POINTS)))


@pytest.mark.parametrize("side", ["right", "left"])
def test_the_hand_that_keeps_to_the_frog_is_the_bow_hand(side):
    held = held_frog(drawn(WAY), LENGTH, body(WAY, side=side), times(60), hair_mm=HAIR_MM)
    assert held is not None
    known = np.isfinite(held.along)
    assert known.sum() > 50
    assert held.along[known] == pytest.approx(-WAY[known] * HAIR_PX, abs=8)
    assert held.frames == pytest.approx(5.0)
    # 18 mm from hold to hold and 20 a look
    assert held.sd_px == pytest.approx(np.full(60, np.hypot(18, 20) * HAIR_PX / HAIR_MM))


def test_where_the_frog_is_never_seen_the_bow_hand_is_the_one_that_goes_to_and_fro():
    lines = replace(drawn(WAY), frog=np.full(60, np.nan))
    both = body(WAY)
    stays = body(np.full(60, 0.4), side="left").points
    for k in KNUCKLES["left"]:
        both.points[:, k] = stays[:, k]
    held = held_frog(lines, LENGTH, both, times(60), hair_mm=HAIR_MM)
    known = np.isfinite(held.along)
    assert held.along[known] == pytest.approx(-WAY[known] * HAIR_PX, abs=8)
    assert held_frog(lines, LENGTH, body(0.4 + 0.03 * np.sin(times(60) * 9)), times(60), hair_mm=HAIR_MM) is None, (
        "a hand that stays may be the other one"
    )


def test_a_hand_beside_the_head_or_far_off_the_line_is_nobodys():
    assert held_frog(drawn(WAY), LENGTH, body(WAY, across_mm=-400.0), times(60), hair_mm=HAIR_MM) is None
    beside = held_frog(drawn(WAY), LENGTH, body(WAY, stranger=True), times(60), hair_mm=HAIR_MM)
    assert beside is None or np.isfinite(beside.along).sum() < 45
    assert held_frog(drawn(WAY), LENGTH, BodySeen.of([], []), times(60), hair_mm=HAIR_MM) is None


def test_how_long_the_hair_is_in_the_picture():
    """Of a solved bow, against the ends that OpenCV projects; a frame solved on a wrong string does not make it leap."""
    model = InstrumentModel(instrument("violin 4/4"))
    view = camera_at(model, -12, 38)
    n = 30
    params = np.column_stack([np.full(n, 28.0), np.zeros(n), np.full(n, model.string_planes[1]), np.linspace(0.2, 0.8, n)])
    lines = seen_lines(model, view, params, 1)
    poses = Poses.of([view] * n)
    solution = solve_bow(model, lines, poses, scale_px=1.0, rate_hz=RATE)
    true = lines.head - lines.frog
    got = hair_px(model, solution, poses, times(n), times(n))
    assert got == pytest.approx(true, rel=0.015)
    leap = replace(
        solution, params=np.where(np.arange(n)[:, None] == 15, solution.params * [1, 1, 1, 1] + [0, 25.0, 0, 0], solution.params)
    )
    assert hair_px(model, leap, poses, times(n), times(n))[15] == pytest.approx(true[15], rel=0.02)
