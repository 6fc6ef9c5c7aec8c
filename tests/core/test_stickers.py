"""Stickers on the bow: found where they are, left alone where something else is coloured."""

from __future__ import annotations

import numpy as np
import pytest

from dolcezza.core.tracking.bow_line import Candidate
from dolcezza.core.tracking.bow_path import BowLines
from dolcezza.core.tracking.stickers import colour_along, use_stickers

N, STEP = 40, 2.0
PINK, SKIN = np.array([10.0, 60.0]), np.array([-22.0, 33.4])


def line(strip_length=300) -> Candidate:
    """A horizontal line that crosses the strings at (300, 200); its strip runs from -250 px on."""
    strip = np.zeros(strip_length, np.float16)
    return Candidate(
        np.array([300.0, 200.0]), np.array([1.0, 0.0]), 1.0, np.ones(2), np.zeros((2, 2)), strip, strip, strip, -250.0, STEP
    )  # fmt: skip


def take(head, *, colour=PINK, at=None, width=10.0, noise=4.0):
    """Lines whose heads are at ``head`` (n,), and colours with a spot ``at`` (n,) px along each line."""
    rng = np.random.default_rng(0)
    chosen = [line() for _ in head]
    along = -250.0 + STEP * np.arange(300)
    colours = []
    for place in head + 6.0 if at is None else at:
        c = rng.normal(0, noise, (300, 2))
        c[np.abs(along - place) < width / 2] += colour
        colours.append(c.astype(np.float32))
    n = len(head)
    lines = BowLines(
        np.tile([300.0, 200.0], (n, 1)), np.tile([1.0, 0.0], (n, 1)), np.full((n, 2), 0.1), np.full((n, 2, 2), np.nan), head,
        np.full(n, np.nan), np.full(n, np.nan), np.full(n, 4.0), np.ones(n),
    )  # fmt: skip
    return lines, chosen, colours


def heads():
    return 150.0 + 100.0 * np.sin(np.arange(N) / 6.0)


def test_a_sticker_fills_in_a_head_that_is_not_seen_and_mends_one_that_is_wrong():
    true = heads()
    lines, chosen, colours = take(true.copy())
    head = true.copy()
    head[10:14] = np.nan
    head[25] += 18.0
    lines = BowLines(*(head if name == "head" else getattr(lines, name) for name in lines.__dataclass_fields__))
    better, found = use_stickers(lines, chosen, colours, scale_px=1.0)
    assert [s.end for s in found] == ["head"]
    assert found[0].offset_px == pytest.approx(6.0, abs=1.5)
    assert np.abs(better.head - true)[10:14].max() < 3.0
    assert abs(better.head[25] - true[25]) < 3.0
    kept = [k for k in range(N) if k not in (10, 11, 12, 13, 25)]
    assert np.array_equal(better.head[kept], head[kept])


@pytest.mark.parametrize(
    ("what", "options"),
    [
        ("nothing coloured", {"colour": np.zeros(2)}),
        ("skin", {"colour": SKIN}),
        ("a sleeve, not a spot", {"width": 120.0}),
        ("a wall that begins behind the head, and goes on", {"width": 72.0, "at": heads() + 42.0}),
        ("a picture on the wall that does not move with the bow", {"at": np.full(N, 180.0)}),
    ],
)
def test_other_colours_are_no_stickers(what, options):
    lines, chosen, colours = take(heads(), **options)
    same, found = use_stickers(lines, chosen, colours, scale_px=1.0)
    assert found == []
    assert np.array_equal(same.head, lines.head)


def test_frames_without_colour_or_line_are_passed_over():
    lines, chosen, colours = take(heads())
    chosen[3], colours[5] = None, None
    better, found = use_stickers(lines, chosen, colours, scale_px=1.0)
    assert found[0].frames == N - 2
    assert np.isfinite(better.head).all()
    assert use_stickers(lines, [None] * N, [None] * N, scale_px=1.0)[1] == []


def test_colour_is_read_beside_the_hair_from_channels_of_half_the_size():
    planes = np.full((200, 400, 2), 128, np.uint8)
    planes[93:97, 200:206] = (138, 188)  # in the picture: x 400 to 412, y 186 to 194, above the line at y 200
    got = colour_along(planes, line(), np.array([0.0, -0.5]), 22.0)
    along = 300.0 - 250.0 + STEP * np.arange(300)
    coloured = np.hypot(got[:, 0], got[:, 1]) > 30
    assert coloured[(along > 402) & (along < 410)].all()
    assert not coloured[(along < 396) | (along > 416)].any()
