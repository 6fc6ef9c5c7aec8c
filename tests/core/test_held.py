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
    held_frog,
    likeliest_place,
)
from dolcezza.core.bowing.in_picture import HairInPicture
from dolcezza.core.tracking.bow_path import BowLines

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
    n = len(places)
    return HeldFrog(places - off / HAIR_PX, np.full(n, sd / HAIR_PX), np.full(n, 0.04), 5.0)


def across(n: int, *, slant: float = 0.0) -> HairInPicture:
    """A bow that is everywhere as long in the picture."""
    return HairInPicture(np.full(n, HAIR_PX / HAIR_MM), np.zeros(n), np.full(n, slant), HAIR_MM)


WAY = np.concatenate([np.full(10, 0.1), np.linspace(0.1, 0.9, 40), np.full(10, 0.9)])
HAIR = across(len(WAY))


def test_what_is_seen_rightly_is_left_alone():
    lines = drawn(WAY)
    assert believed_ends(lines, HAIR, hand_at(WAY), times(60), scale_px=1.0) is lines
    assert believed_ends(lines, HAIR, None, times(60), scale_px=1.0) is lines
    assert likeliest_place(lines, HAIR, None, times(60)) == pytest.approx(WAY, abs=0.03)


def test_a_head_that_is_seen_far_beyond_is_the_edge_of_a_wall():
    """From the thirtieth frame on something goes on in the bow's line, a whole bow's length away: hand and frog tell the place."""
    lines = drawn(WAY)
    edge = lines.head.copy()
    edge[30:] = 1.02 * HAIR_PX
    seen = replace(lines, head=edge)
    got = believed_ends(seen, HAIR, hand_at(WAY), times(60), scale_px=1.0)
    assert np.isnan(got.head[36:]).all() and np.isnan(got.beyond[36:]).all(), "nor did hair go on to there"
    assert got.head[:30] == pytest.approx(lines.head[:30])
    assert -got.frog[36:] / HAIR_PX == pytest.approx(WAY[36:], abs=0.06)
    near = replace(lines, head=lines.head + 0.05 * HAIR_PX)
    assert np.isfinite(believed_ends(near, HAIR, hand_at(WAY), times(60), scale_px=1.0).head).all(), (
        "a little farther: the string may be another"
    )


def test_a_bow_goes_on_while_no_frame_is_taken():
    """Half of the frames missing, here and there: what is seen of the bow is right, and stays so."""
    kept = np.flatnonzero(np.random.default_rng(5).random(60) < 0.5)
    quick = 0.5 - 0.4 * np.cos(2 * np.pi * np.arange(60) / 20)
    lines = drawn(quick[kept])
    assert likeliest_place(lines, across(len(kept)), None, times(60)[kept]) == pytest.approx(quick[kept], abs=0.06)


def test_a_head_behind_the_left_hand_lies_farther_on_and_the_frog_tells_the_place():
    """The left hand ends what is seen 60 px beyond the string, wherever the bow is."""
    lines = drawn(WAY)
    seen = replace(lines, head=np.where(lines.head > 60, 60.0, lines.head))
    hidden = lines.head > 60 + 0.06 * HAIR_PX
    got = believed_ends(seen, HAIR, hand_at(WAY), times(60), scale_px=1.0)
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
    place = likeliest_place(seen, HAIR, hand_at(quick), times(60))
    assert np.abs(place - quick)[hidden].max() < 0.06
    got = believed_ends(seen, HAIR, hand_at(quick), times(60), scale_px=1.0)
    assert np.isnan(got.head[hidden]).all() and np.isfinite(got.head[~hidden]).mean() > 0.7
    # a bow at rest stands at both ends, and fingers that move for a moment take nothing from it
    rest = drawn(np.full(60, 0.4))
    fidgets = replace(rest, frog=rest.frog + np.where(np.arange(60) % 20 == 7, 30.0, 0.0))
    assert believed_ends(fidgets, HAIR, hand_at(np.full(60, 0.4)), times(60), scale_px=1.0) is fidgets


@pytest.mark.parametrize("frog_seen", [True, False], ids=["frog seen", "frog not seen"])
def test_a_head_that_stands_beyond_while_the_hand_goes_on_is_an_edge(frog_seen):
    """The stick ends before what is as dark, and stays there while the bow goes on to its tip and back: the place does not stand still."""
    whole = np.concatenate([np.linspace(0.1, 0.93, 40), np.linspace(0.93, 0.1, 40)])
    lines, edge, hair = drawn(whole), 0.46 * HAIR_PX, across(80)
    seen = replace(lines, head=np.maximum(lines.head, edge), frog=lines.frog - 120 if frog_seen else np.full(80, np.nan))
    hidden = lines.head < edge - 0.15 * HAIR_PX
    place = likeliest_place(seen, hair, hand_at(whole), times(80))
    assert np.abs(place - whole)[hidden].max() < 0.06
    got = believed_ends(seen, hair, hand_at(whole), times(80), scale_px=1.0)
    assert np.isnan(got.head[hidden]).all() and np.isfinite(got.head[lines.head > edge]).mean() > 0.9
    assert -got.frog[hidden] / HAIR_PX == pytest.approx(whole[hidden], abs=0.06)


def test_a_frog_and_a_hand_that_contradict_each_other_leave_the_place_open():
    """The head is lost, and the hand seems to be elsewhere: nothing says which of the two is right."""
    lines = drawn(WAY)
    seen = replace(lines, head=np.where(lines.head > 60, 60.0, lines.head))
    off = 0.25 * HAIR_PX
    got = believed_ends(seen, HAIR, hand_at(WAY, off=off), times(60), scale_px=1.0)
    lost = np.isnan(got.head) & np.isfinite(got.frog)
    by_frog = lost & (np.abs(got.frog - seen.frog) < 10)
    assert by_frog.any() and (got.frog_sd[by_frog] > 0.4 * off).all()
    agreed = believed_ends(seen, HAIR, hand_at(WAY), times(60), scale_px=1.0)
    assert (agreed.frog_sd[by_frog & np.isnan(agreed.head)] < 0.2 * off).all()


def test_a_head_that_the_teacher_has_set_stands_whatever_else_is_seen():
    lines = drawn(WAY)
    seen = replace(lines, head=np.where(lines.head > 60, 60.0, lines.head))
    own = np.arange(60) == 22
    got = believed_ends(seen, HAIR, hand_at(WAY), times(60), scale_px=1.0, by_hand=own)
    assert got.head[22] == 60.0 and np.isnan(got.head[[15, 28]]).all()


def test_a_frog_that_is_lost_does_not_take_the_head_along():
    """Cloth hides the hair near the hand for a while: the head, which moves on, is believed."""
    lines = drawn(WAY)
    seen = replace(lines, frog=np.where((np.arange(60) > 25) & (np.arange(60) < 40), -30.0, lines.frog))
    got = believed_ends(seen, HAIR, hand_at(WAY), times(60), scale_px=1.0)
    assert got is seen
    assert likeliest_place(seen, HAIR, None, times(60))[30:36] == pytest.approx(WAY[30:36], abs=0.03)


def test_what_shines_beyond_the_frog_says_nothing_of_the_head():
    lines = drawn(WAY)
    seen = replace(lines, frog=lines.frog - 80.0)
    assert believed_ends(seen, HAIR, hand_at(WAY), times(60), scale_px=1.0) is seen


def test_a_head_too_far_on_is_left_to_the_robust_fit():
    lines = drawn(WAY)
    seen = replace(lines, head=np.where(np.arange(60) == 30, lines.head + 90, lines.head))
    assert believed_ends(seen, HAIR, hand_at(WAY), times(60), scale_px=1.0) is seen


def test_the_hand_alone_does_not_overrule_a_head():
    """Somebody else's hand, or a sleeve: where no hair is seen at the frog, the head stays."""
    lines = drawn(WAY)
    seen = replace(lines, frog=np.full(60, np.nan))
    got = believed_ends(seen, HAIR, hand_at(WAY, off=150.0), times(60), scale_px=1.0)
    assert np.isfinite(got.head).all()


def test_where_head_and_frog_are_lost_the_hand_has_the_frog():
    """Hair ends at the left hand, and on the other side what shines beyond the frog is taken for its beginning."""
    lines = drawn(WAY)
    hidden = (np.arange(60) >= 20) & (np.arange(60) < 30)
    seen = replace(lines, head=np.where(hidden, lines.head - 150, lines.head), frog=np.where(hidden, lines.frog - 120, lines.frog))
    got = believed_ends(seen, HAIR, hand_at(WAY), times(60), scale_px=1.0)
    assert np.isnan(got.head[hidden]).all() and np.isfinite(got.head[~hidden]).all()
    assert got.frog[hidden] == pytest.approx(-WAY[hidden] * HAIR_PX)
    # frames between two looks err alike: five of them count as one
    assert got.frog_sd[hidden] == pytest.approx(17.0 * np.sqrt(5.0))


def test_a_bow_that_is_taken_off_and_set_down_elsewhere_may_leap():
    places = np.concatenate([np.full(20, 0.85), np.full(20, 0.1)])
    assert likeliest_place(drawn(places), across(40), None, times(40)) == pytest.approx(places, abs=0.03)


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
    held = held_frog(drawn(WAY), HAIR, body(WAY, side=side), times(60))
    assert held is not None
    known = np.isfinite(held.place)
    assert known.sum() > 50
    assert held.place[known] == pytest.approx(WAY[known], abs=0.02)
    assert held.frames == pytest.approx(5.0)
    # 18 mm from hold to hold and 20 a look
    assert held.sd == pytest.approx(np.full(60, np.hypot(18, 20) / HAIR_MM))


def test_where_the_frog_is_never_seen_the_bow_hand_is_the_one_that_goes_to_and_fro():
    lines = replace(drawn(WAY), frog=np.full(60, np.nan))
    both = body(WAY)
    stays = body(np.full(60, 0.4), side="left").points
    for k in KNUCKLES["left"]:
        both.points[:, k] = stays[:, k]
    held = held_frog(lines, HAIR, both, times(60))
    known = np.isfinite(held.place)
    assert held.place[known] == pytest.approx(WAY[known], abs=0.02)
    assert held_frog(lines, HAIR, body(0.4 + 0.03 * np.sin(times(60) * 9)), times(60)) is None, "a hand that stays may be the other one"


def test_a_hand_beside_the_head_or_far_off_the_line_is_nobodys():
    assert held_frog(drawn(WAY), HAIR, body(WAY, across_mm=-400.0), times(60)) is None
    beside = held_frog(drawn(WAY), HAIR, body(WAY, stranger=True), times(60))
    assert beside is None or np.isfinite(beside.place).sum() < 45
    assert held_frog(drawn(WAY), HAIR, BodySeen.of([], []), times(60)) is None


def test_a_frog_that_stands_in_the_picture_while_the_bow_goes_on_is_an_edge():
    """Behind the bow somebody's white sleeve begins: hair is seen no farther, wherever the frog is; and the left hand hides the head."""
    whole = np.concatenate([np.linspace(0.5, 0.93, 30), np.linspace(0.93, 0.5, 30)])
    lines = drawn(whole)
    seen = replace(lines, head=np.minimum(lines.head, -30.0), frog=np.maximum(lines.frog, -0.7 * HAIR_PX))
    hidden = whole > 0.74
    got = believed_ends(seen, HAIR, hand_at(whole), times(60), scale_px=1.0)
    assert np.isnan(got.head).all()
    assert -got.frog[hidden] / HAIR_PX == pytest.approx(whole[hidden], abs=0.02), "as the hand has it"
    assert got.frog_sd[hidden] == pytest.approx(17.0 * np.sqrt(5.0))
    near = ~hidden & (whole < 0.65)
    assert (got.frog_sd[near] < 12).all(), "where the frog goes on it is believed"


def test_a_hand_hides_more_hair_of_a_bow_that_points_at_the_camera():
    """Fingers over a sixth of the hair: too much for a bow that lies across, so that its head would have to be lost."""
    lines = drawn(WAY)
    seen = replace(lines, frog=-(WAY - 0.17) * HAIR_PX)
    hand = replace(hand_at(WAY - 0.1), sd=np.full(60, 0.06))
    off = {slant: WAY - likeliest_place(seen, across(60, slant=slant), hand, times(60)) for slant in (0.0, 0.7)}
    assert (off[0.0] > 0.1).mean() > 0.9
    assert np.abs(off[0.7]).max() < 0.06


def test_a_hand_of_a_bow_that_points_at_the_camera_says_less():
    held = held_frog(drawn(WAY), across(60, slant=1.0), body(WAY), times(60))
    # hold 18 mm; look 20 across, seen at 45 degrees; 20 before or behind the hair
    assert held.sd == pytest.approx(np.full(60, np.sqrt(18**2 + 2 * 20**2 + 20**2) / HAIR_MM))


def test_a_hand_that_is_in_doubt_does_not_overrule_hair():
    """For a second the net sees the bow's hand at the strings, half sure of it, and the frog is something else every other frame."""
    lines = drawn(WAY)
    astray = (np.arange(60) >= 25) & (np.arange(60) < 50)
    frog = np.where(astray & (np.arange(60) % 2 == 0), lines.frog - 90.0, lines.frog)
    seen = replace(lines, frog=frog)
    hand = hand_at(np.where(astray, 0.02, WAY))
    doubted = replace(hand, elsewhere=np.where(astray, 0.3, 0.04))
    sure = np.abs(likeliest_place(seen, HAIR, hand, times(60)) - WAY)[astray]
    doubtful = np.abs(likeliest_place(seen, HAIR, doubted, times(60)) - WAY)[astray]
    assert doubtful.max() < 0.05 and doubtful.mean() <= sure.mean()
    visible = body(WAY)
    visible.visible[4:8] = 0.7
    held = held_frog(lines, HAIR, visible, times(60))
    assert held.elsewhere[20:36] == pytest.approx(np.full(16, 0.3)) and held.elsewhere[[0, 59]] == pytest.approx([0.04, 0.04])


def test_a_frog_that_stands_while_the_head_goes_on_takes_nothing_from_the_head():
    whole = np.concatenate([np.linspace(0.5, 0.93, 30), np.linspace(0.93, 0.5, 30)])
    lines = drawn(whole)
    seen = replace(lines, frog=np.maximum(lines.frog, -0.6 * HAIR_PX))
    assert likeliest_place(seen, HAIR, None, times(60)) == pytest.approx(whole, abs=0.03)
    assert np.isfinite(believed_ends(seen, HAIR, None, times(60), scale_px=1.0).head).all()


def test_how_long_a_bow_is_that_points_at_the_camera_is_known_less():
    """The head seems a tenth nearer than it is: at the frog end of a slanting bow frog and hand say the place."""
    lines = drawn(WAY)
    seen = replace(lines, head=lines.head * 0.9)
    far = 1 - WAY > 0.75
    across_it, slanting = (np.abs(likeliest_place(seen, across(60, slant=s), hand_at(WAY), times(60)) - WAY)[far] for s in (0.0, 1.5))
    assert across_it.mean() > 0.06 and slanting.max() < 0.035
