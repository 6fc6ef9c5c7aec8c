"""Hair by its stick: drawn bows of which the hair is bright, dark, hidden, or nothing is there at all."""

from __future__ import annotations

from types import SimpleNamespace

import cv2
import numpy as np
import pytest

from dolcezza.core.base.job import finish
from dolcezza.core.camera.poses import Poses
from dolcezza.core.media.video import Frame
from dolcezza.core.pipeline import bow_lines as deciding
from dolcezza.core.pipeline.bow_lines import BY_STICK, DARK_HAIR, FAINT_HAIR, bow_lines
from dolcezza.core.pipeline.frame_pass import FramePass
from dolcezza.core.pipeline.stick_pass import APART_SD_MM, Hair, _away, _Stick, _which, look_beside_stick
from dolcezza.core.pipeline.whole_bow_pass import WHOLE_BOW
from dolcezza.core.tracking.bow_find import BowFinder
from dolcezza.core.tracking.bow_path import FAINTLY, choose
from drawn_bow import LOW, MODEL, SHAPE, off_px, picture_of
from tests_support import camera_at

ABOVE = camera_at(MODEL, 0, 86)
TIMES = [k / 30 for k in range(6)]


def take_of(pictures, view):
    """What the first pass over a take of such pictures keeps, and the take around it."""
    grey = [np.ascontiguousarray(p) for p in pictures]
    finder = BowFinder(MODEL, SHAPE)
    at = SimpleNamespace(camera=view, confidence=1.0)
    seen = FramePass(
        times=list(TIMES), followed=[at] * len(grey), candidates=[finder.find(g, view) for g in grey], colours=[None] * len(grey)
    )
    px = np.linalg.norm(np.diff(view.project(np.array([[20.0, 0, 0], [20.0, 300.0, 0]])), axis=0)) / 300
    context = SimpleNamespace(
        model=MODEL, spec=MODEL.spec, length_px=0.8 * px * MODEL.spec.hair_length, scale_px=1.0, fit=SimpleNamespace(by_hand=()),
        frames=lambda: iter([Frame(k, t, g) for k, (t, g) in enumerate(zip(TIMES, grey, strict=True))]),
    )  # fmt: skip
    return context, seen, px


def bows(pace=0.06, **looks):
    """Six pictures of a bow that is drawn by ``pace`` from one to the next."""
    made = [picture_of(1.0, 0.3 + pace * k, **looks) for k in range(len(TIMES))]
    return [m[0] for m in made], [m[1] for m in made]


def found(pictures, view):
    context, seen, px = take_of(pictures, view)
    return finish(look_beside_stick(context, seen, choose(seen.candidates, length_px=context.length_px))), px


@pytest.mark.parametrize(
    ("kind", "looks"),
    [
        (Hair.BRIGHT, {"hair": 215, "stick": 55, "wall": 120, "rise_mm": 9.0}),
        (Hair.DARK, {"hair": 60, "stick": 40, "wall": 170, "rise_mm": 12.0}),
        (Hair.DARK, {"hair": 30, "stick": 40, "wall": 170, "rise_mm": 9.0}),
    ],
)
def test_hair_that_goes_with_its_stick_is_found_bright_or_dark(kind, looks):
    """The dark hair has its stick beside it, and between the two the wall is seen: a bright line, too near the stick to be hair."""
    pictures, ends = bows(view=LOW, **looks)
    told, _ = found(pictures, LOW)
    assert told.seen is kind
    lines = [c[0] for c in told.lines.candidates]
    assert max(off_px(line, e) for line, e in zip(lines, ends, strict=True)) < 1.5
    if kind is Hair.BRIGHT:
        assert told.off_mm < 0.5, "what was followed first was the hair as well"
    else:
        assert told.off_mm > 2.0, "what was followed first was the gap"


@pytest.mark.parametrize(("view", "hair"), [(ABOVE, 100), (LOW, 118)])
def test_where_the_hair_is_hidden_or_as_dull_as_the_wall_it_is_told_by_the_stick(view, hair):
    pictures, ends = bows(view=view, hair=hair, stick=40, wall=120, rise_mm=9.0)
    told, px = found(pictures, view)
    assert told.seen is Hair.BEHIND
    off_mm = [off_px(c[0], e) / px for c, e in zip(told.lines.candidates, ends, strict=True)]
    assert max(off_mm) < 2 * APART_SD_MM, "about so far from the stick as hair is"


def test_without_a_stick_nothing_is_told_by_it():
    rng = np.random.default_rng(1)
    wall = np.clip(120 + cv2.GaussianBlur(rng.normal(0, 6, SHAPE), (0, 0), 3), 0, 255).astype(np.uint8)
    assert found([wall] * len(TIMES), LOW)[0] is None


def test_a_dark_line_that_stands_is_no_bow():
    """The edge of a shelf, for one, which is seen as plainly as a stick."""
    pictures, _ = bows(pace=0.0, view=LOW, hair=118, stick=40, wall=120, rise_mm=9.0)
    assert found(pictures, LOW)[0] is None
    assert found(bows(view=LOW, hair=118, stick=40, wall=120, rise_mm=9.0)[0], LOW)[0] is not None


def test_a_stick_that_is_seen_in_few_frames_tells_nothing():
    pictures, _ = bows(view=LOW, hair=215, stick=55, wall=120, rise_mm=9.0)
    wall = np.full(SHAPE, 120, np.uint8)
    assert found([*pictures[:3], wall, wall, wall], LOW)[0] is not None
    assert found([*pictures[:2], wall, wall, wall, wall], LOW)[0] is None


def decided(pictures, view):
    context, seen, _ = take_of(pictures, view)
    return finish(bow_lines(context, seen, Poses.of([view] * len(TIMES))))


def test_plain_bright_hair_is_believed_without_asking_the_stick(monkeypatch):
    pictures, _ = bows(view=LOW, hair=230, stick=55, wall=90, rise_mm=9.0)
    monkeypatch.setattr(deciding, "look_beside_stick", lambda *_: pytest.fail("asked"))
    lines, notes = decided(pictures, LOW)
    assert notes == [] and lines.confidence.min() > FAINTLY


def test_what_is_told_by_the_stick_is_said_and_hardly_sure():
    pictures, ends = bows(view=ABOVE, hair=100, stick=40, wall=120, rise_mm=9.0)
    lines, notes = decided(pictures, ABOVE)
    assert notes == [BY_STICK] and 0 < lines.confidence.max() <= FAINTLY
    px = np.linalg.norm(ends[0][1] - ends[0][0]) / MODEL.spec.hair_length
    for k, (frog, head) in enumerate(ends):
        along = (head - frog) / np.linalg.norm(head - frog)
        assert lines.head[k] == pytest.approx((head - lines.point[k]) @ along, abs=10 * px), "less the head's nose"
    assert (lines.head_sd > 0.015 * MODEL.spec.hair_length * px).all(), "dark wood may be lost sooner"


def test_where_the_hair_beside_the_stick_is_what_was_followed_all_stays(monkeypatch):
    """As if it stood out half as plainly as bright hair."""
    pictures, _ = bows(view=LOW, hair=215, stick=55, wall=120, rise_mm=9.0)
    monkeypatch.setattr(deciding, "stands_out", lambda *_, **__: 0.5)
    monkeypatch.setattr(deciding, "_by_stick", lambda *_: pytest.fail("put elsewhere"))
    assert decided(pictures, LOW)[1] == []


def test_dark_hair_beside_its_stick_is_no_gap():
    pictures, ends = bows(view=LOW, hair=60, stick=40, wall=170, rise_mm=12.0)
    lines, notes = decided(pictures, LOW)
    assert notes == [WHOLE_BOW]
    true = (ends[0][1] - ends[0][0]) / np.linalg.norm(ends[0][1] - ends[0][0])
    assert abs((lines.point[0] - ends[0][0]) @ np.array([-true[1], true[0]])) < 1.5


def test_a_stick_whose_hair_hardly_stands_out_is_faint_hair(monkeypatch):
    """As if the bright line beside the stick stood out a fifth as plainly as bright hair."""
    pictures, _ = bows(view=LOW, hair=215, stick=55, wall=120, rise_mm=9.0)
    monkeypatch.setattr(deciding, "stands_out", lambda *_, **__: 0.2)
    assert decided(pictures, LOW)[1] == [FAINT_HAIR]
    monkeypatch.setattr(deciding, "stands_out", lambda *_, **__: 0.1)
    assert decided(pictures, LOW)[1] == [DARK_HAIR], "so faintly nothing is believed"


def line_at(across_px: float, score: float):
    """A line from left to right so far below the middle of the picture."""
    return SimpleNamespace(point=np.array([640.0, 360.0 + across_px]), direction=np.array([1.0, 0.0]), score=score)


@pytest.mark.parametrize(("expected_mm", "kind"), [(2.3, Hair.BEHIND), (7.0, Hair.BRIGHT)])
def test_where_the_stick_covers_the_hair_a_bright_line_beside_it_is_hardly_the_hair(expected_mm, kind):
    """Four tenths as plain as hair and 6.4 mm from the stick: a bright belly between a bow and its shadow, for one."""
    full = 30.0 * 400 / 0.8
    stick = _Stick(line_at(0.0, full), line_at(6.4, 0.4 * full), None, None)
    row = np.array([1.0, 1.0, expected_mm, 2.9])
    assert _which(SimpleNamespace(length_px=400.0, scale_px=1.0), [stick] * 5, np.tile(row, (5, 1))) is kind


@pytest.mark.parametrize("azimuth", [0, 180])
def test_seen_from_above_the_hair_is_on_the_bridge_side_of_a_stick_that_is_turned_to_the_fingerboard(azimuth):
    view = camera_at(MODEL, azimuth, 88)
    pictures, _ = bows(view=view, hair=100, stick=40, wall=120, rise_mm=9.0)
    context, seen, _ = take_of(pictures, view)
    line = BowFinder(MODEL, SHAPE, dark=True).find(pictures[0], view)[0]
    _, side, apart, _ = _away(context, seen, [_Stick(line, None, None, None)])[0]
    board, bridge = view.project(np.array([[50.0, 0, 0], [0.0, 0, 0]]))
    hair = side * apart * np.array([-line.direction[1], line.direction[0]])
    assert hair @ (board - bridge) < 0
