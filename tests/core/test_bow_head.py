"""The bow's dark head tells where the hair ends before a wall that is as bright as hair."""

from __future__ import annotations

import numpy as np
import pytest

from dolcezza.core.tracking.bow_ends import hair_ends_along
from dolcezza.core.tracking.bow_head import Ahead, _darkness, _with_head, believed, no_head_there
from dolcezza.core.tracking.bow_line import Candidate
from dolcezza.core.tracking.end_path import roughness

STEP = 2.0
CROSSING = 60
HAIR, HEAD = 60.0, 7


def strip(end: int, wall_from: int, *, dark: float, size: int = 300, beyond: float = 0.0, stick: float = 0.0) -> Candidate:
    """One frame's line as samples: hair up to ``end``, then a head that is ``dark`` grey levels darker than hair; from ``wall_from`` on the
    wall is as bright as hair, before it much darker. ``beyond``: the contrast of something on the wall 80 samples on;
    ``stick``: that of the stick, which goes on to the end of the head."""
    at = np.arange(size)
    room = np.where(at < wall_from, HAIR, 4.0)
    ridge = np.where((at < end) & (at < wall_from), room, 0.0)
    ridge = np.where((at >= end) & (at < end + HEAD), room - dark, ridge) if dark else ridge
    ridge[200:206] += beyond
    column = [v.astype(np.float16) for v in (ridge, np.where(at < end + HEAD, stick, 0.0), room)]
    return Candidate(np.zeros(2), np.array([1.0, 0.0]), 1000.0, np.ones(2), np.zeros((2, 2)), *column, -STEP * CROSSING, STEP)


def along(end: float) -> float:
    """Where a strip's sample lies along the line, px."""
    return STEP * (end - CROSSING)


def test_before_a_bright_wall_the_hair_ends_where_the_dark_head_is():
    """A bow that moves evenly before a wall as bright as hair, which begins at sample 190: hair is seen up to there and no farther."""
    ends = np.rint(175 - 55 * np.cos(np.linspace(0, 2 * np.pi, 60))).astype(int)
    got = hair_ends_along([strip(e, 190, dark=80.0) for e in ends], scale_px=1.0)
    assert np.abs(got.head - [along(e) for e in ends]).max() <= 3 * STEP
    plain = hair_ends_along([strip(e, 190, dark=0.0) for e in ends], scale_px=1.0)
    bands = hair_ends_along([strip(e, 190, dark=80.0) for e in ends], scale_px=1.0, dark_heads=False)
    assert (bands.head <= plain.head + STEP).all(), "of whole bows no head stands out"
    lost = ends > 205
    assert np.abs(plain.head[lost] - along(190)).max() <= 3 * STEP, "without a head it is taken to end where the wall begins"


def test_the_head_itself_is_no_hair_though_the_stick_goes_on_to_its_end():
    ends = np.rint(175 - 55 * np.cos(np.linspace(0, 2 * np.pi, 60))).astype(int)
    got = hair_ends_along([strip(e, 150, dark=80.0, stick=60.0) for e in ends], scale_px=1.0)
    assert np.abs(got.head - [along(e) for e in ends]).max() <= 3 * STEP
    plain = hair_ends_along([strip(e, 150, dark=0.0, stick=60.0) for e in ends], scale_px=1.0)
    nose, before_wall = plain.head - [along(e) for e in ends], ends > 170
    assert np.abs(nose[before_wall]).max() <= 0.5 * HEAD * STEP, "the stick goes on to the head's nose, and hair ends before it"
    assert (plain.head_sd[before_wall] > np.abs(nose[before_wall])).all() and plain.head_sd[ends < 150].max() < 2.0
    assert got.head_sd.max() < 2.0, "a head that is seen tells it as well as hair does"


def test_where_a_head_would_show_and_does_not_the_hair_was_lost():
    """Heads 80 grey levels darker than hair show before a wall as bright as hair, hardly before one that is 60 darker."""
    assert no_head_there(Ahead(strip(192, 190, dark=0.0)), 190, 80.0), "hair that ends where the wall begins, without a head"
    assert not no_head_there(Ahead(strip(190, 190, dark=80.0)), 190, 80.0), "with one"
    assert not no_head_there(Ahead(strip(150, 250, dark=0.0)), 150, 80.0), "before what is nearly as dark as a head nothing can be said"
    brighter = strip(192, 150, dark=0.0)
    brighter.strip[150:192] = -15.0
    assert not no_head_there(Ahead(brighter), 192, 80.0), "nor before what is brighter than hair"


def test_a_head_is_as_long_as_a_head_and_begins_where_the_hair_ends():
    """Seven samples that are 60 darker follow sample 99: so dark there, by a mean of three; what is 40 samples long is no head."""
    ridge = np.where(np.arange(300) < 100, 50.0, 0.0)
    ridge[100:107] = -60.0
    dark = _darkness(ridge.astype(np.float16))
    assert dark.argmax() == 99 and dark[99] == pytest.approx(60.0) and (dark[101:] < 1.0).all()
    ridge[100:140] = -60.0
    assert _darkness(ridge.astype(np.float16))[99] == 0.0


def test_hair_that_could_be_seen_and_is_not_has_ended_before_any_head():
    """A dark thing 20 samples beyond the end of hair that stands out plainly there: to end at it costs what 20 samples of no hair cost."""
    line = strip(100, 300, dark=80.0)
    line.strip[120:127] = -60.0
    line.strip[100:107] = 0.0
    costs, evidence = np.linspace(0.0, 9.0, 300), np.full(300, -2.0)
    costs[:100], evidence[:100] = 9.0, 1.0
    told = _with_head(costs, Ahead(line), evidence, 0, 140.0)
    assert told[119] == pytest.approx(costs[119] + 0.0), "0.35 * 2 * 20 = 14 is more than it cost anyway"
    near = line.room.copy()
    line.room[100:120] = 4.0
    assert _with_head(costs, Ahead(line), evidence, 0, 140.0)[119] == pytest.approx(0.5), (
        "hair may go on unseen to a head before what is as bright"
    )
    line.room[:] = near


@pytest.mark.parametrize(("rough", "smooth", "against", "share", "worth"), [
    (1.0, 0.3, 1.5, 0.5, True),     # leaps without heads, hardly with them
    (1.0, 0.8, 0.0, 0.5, False),    # four fifths as rough: chance
    (0.2, 0.1, 0.0, 0.5, False),    # a bow that moves well anyway
    (0.4, 0.2, 4.0, 0.5, False),    # smoother, against what the hair says
    (0.1, 0.1, 0.3, 0.9, True),     # wherever heads would show they do
    (0.1, 0.1, 0.3, 0.7, False),
    (0.1, 0.1, 4.0, 0.95, False),   # something dark that stays beside plain hair
])  # fmt: skip
def test_heads_are_believed_where_bows_then_move_like_bows_or_where_they_always_show(rough, smooth, against, share, worth):
    assert believed(rough, smooth, against, share) is worth


def test_something_dark_on_the_wall_is_no_head():
    """Bows whose heads do not show, and a dark thing that stays where it is beyond the hair: the ends move less like a bow's by it."""
    ends = np.r_[np.linspace(100, 140, 24), np.linspace(140, 100, 24)].astype(int)
    got = hair_ends_along([strip(e, 190, dark=0.0, beyond=-80.0) for e in ends], scale_px=1.0)
    assert np.abs(got.head - [along(e) for e in ends]).max() <= 3 * STEP


def test_a_head_that_was_set_stands_whatever_shows():
    ends = np.linspace(120, 230, 24).astype(int)
    got = hair_ends_along([strip(e, 190, dark=80.0) for e in ends], scale_px=1.0, heads={20: 77.0})
    assert got.head[20] == 77.0


def test_a_bow_neither_leaps_nor_sticks():
    """Roughness: half the square of the acceleration over what is usual (12 lengths a second squared), at most 4, on the average.

    Here at 25 frames/s and 250 samples of hair: 12 * 0.04 ** 2 * 250 = 4.8 samples, with 1.5 of the end itself 5.03."""
    free, limits = np.zeros((30, 500)), np.full(30, 500)

    def rough(path):
        return roughness(range(30), _only(free, path), path, limits, length=250.0, t_s=np.arange(30) / 25.0)

    even = np.arange(30) * 5 + 100
    assert rough(even) == pytest.approx(0.0)
    stuck = np.minimum(even, 170)
    assert rough(stuck) == pytest.approx(0.5 * (5 / 5.03) ** 2 / 28, rel=0.01), "it stops once, among 28 moments"
    leaping = even.copy()
    leaping[10] += 100
    assert rough(leaping) == pytest.approx(3 * 4.0 / 28)


def test_a_bow_that_goes_evenly_is_smooth_though_frames_are_missing():
    kept = np.array([k for k in range(60) if k % 7 not in (2, 3, 5)])
    free, limits = np.zeros((len(kept), 500)), np.full(len(kept), 500)

    def rough(path):
        return roughness(range(len(kept)), _only(free, path), path, limits, length=250.0, t_s=kept / 25.0)

    assert rough(100 + 5 * kept) == pytest.approx(0.0, abs=1e-9)
    assert rough(100 + 5 * kept + 40 * (np.arange(len(kept)) % 2)) > 1.0
    assert roughness([], free[:2], np.zeros(2, int), limits[:2], length=250.0, t_s=np.array([0.0, 0.04])) == 0.0


def _only(costs: np.ndarray, path: np.ndarray) -> np.ndarray:
    """Costs that leave each frame nothing but its place on the path."""
    out = costs + 10.0
    out[np.arange(len(path)), path] = 0.0
    return out
