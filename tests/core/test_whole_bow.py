"""Hair as dark as its surroundings: the whole bow found on drawn pictures, and the hair's edge in it."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest

from dolcezza.core.bowing.whole_bow import FROG_MM, ends_of_band, hair_of_band
from dolcezza.core.camera.poses import Poses
from dolcezza.core.tracking.bow_find import BAND_WIDTHS, BowFinder
from dolcezza.core.tracking.bow_path import FAINTLY, choose, is_hair, lines_of
from dolcezza.core.tracking.profiles import plain_line
from drawn_bow import LOW, MODEL, PLANE, SHAPE, VIEW, WALL, off_px, picture_of
from tests_support import camera_at, seen_lines


def look(picture, before=None):
    finder = BowFinder(MODEL, SHAPE, dark=True, widths=BAND_WIDTHS)
    return hair_of_band(finder, picture, VIEW, finder.find(picture, VIEW)[0], before, scale_px=1.0)


@pytest.mark.parametrize(("angle", "position"), [(0.0, 0.5), (10.0, 0.3), (-8.0, 0.7)])
def test_the_hair_of_a_dark_bow_is_found_at_its_edge(angle, position):
    picture, ends = picture_of(angle, position, hair=95)
    found = look(picture)
    true = (ends[1] - ends[0]) / np.linalg.norm(ends[1] - ends[0])
    normal = np.array([-true[1], true[0]])
    assert found.seen
    assert abs((found.line.point - ends[0]) @ normal) < 1.0, "the hair, not the middle of hair and stick"
    turn = np.degrees(np.arctan2(true[0] * found.line.direction[1] - true[1] * found.line.direction[0], true @ found.line.direction))
    assert abs(turn) < 0.3
    assert found.line.fit_sd[0] > 1.4, "less exact than bright hair"
    # its end at the head is where the hair ends, not the stick
    [line] = choose([[found.line]], length_px=500)
    head = lines_of([line], length_px=500, scale_px=1.0).head[0]
    assert head == pytest.approx((ends[1] - line.point) @ line.direction, abs=5.0)


@pytest.mark.parametrize(("share", "confidence"), [(0.9, 1.0), (0.36, 1.0), (0.34, FAINTLY), (0.13, FAINTLY), (0.11, 0.1)])
def test_what_stands_out_a_third_as_plainly_as_bright_hair_is_followed_faintly(share, confidence):
    """Bright hair is 30 grey levels over what lies beside it, on all of its length: 500 px are four fifths of that."""
    picture, _ = picture_of(0.0, 0.5, hair=230)
    line = replace(BowFinder(MODEL, SHAPE).find(picture, VIEW)[0], score=share * 30 * 500 / 0.8)
    assert lines_of([line] * 4, length_px=500, scale_px=1.0).confidence == pytest.approx([confidence] * 4)
    stick = replace(line, beside=(1.0, 9.0))
    assert lines_of([stick] * 4, length_px=500, scale_px=1.0).confidence == pytest.approx([1.0 if confidence == 1.0 else 0.1] * 4)


def test_hair_as_bright_as_the_wall_is_not_believed():
    picture, _ = picture_of(0.0, 0.5, hair=WALL)
    found = look(picture)
    assert found is None or not found.seen


def test_a_band_that_may_be_the_stick_alone_is_not_known_better_than_the_two_are_apart():
    """Hair as bright as the wall: what is found lies along the stick, and the hair within two sd of it."""
    picture, ends = picture_of(0.0, 0.5, hair=WALL - 6)
    found, plain = look(picture), look(picture_of(0.0, 0.5, hair=95)[0])
    assert not found.seen and plain.seen
    off = off_px(found.line, ends)
    assert off > 3 * plain.line.fit_sd[0] and off < 2 * found.line.fit_sd[0]


def test_the_edge_is_looked_for_from_the_frame_before_as_well():
    picture, ends = picture_of(3.0, 0.5, hair=95)
    finder = BowFinder(MODEL, SHAPE, dark=True, widths=BAND_WIDTHS)
    band = finder.find(picture, VIEW)[0]
    right = hair_of_band(finder, picture, VIEW, band, None, scale_px=1.0).line
    # a band that runs along the stick near the head: its edges are turned by 2 degrees
    edges = band.edges.copy()
    edges[:, 1] += 0.035 if band.edges[0, 1] >= 0 else -0.035
    astray = hair_of_band(finder, picture, VIEW, type(band)(**{**band.__dict__, "edges": edges}), right, scale_px=1.0).line
    true = (ends[1] - ends[0]) / np.linalg.norm(ends[1] - ends[0])
    assert abs(true[0] * astray.direction[1] - true[1] * astray.direction[0]) < 0.005


def test_the_frog_lies_before_the_end_of_the_band():
    params = np.tile([28.0, 0.0, PLANE, 0.5], (4, 1))
    lines = seen_lines(MODEL, VIEW, params, 1)
    poses = Poses.of([VIEW] * 4)
    moved = ends_of_band(MODEL, lines, poses)
    start, end = VIEW.project(
        np.array([[0.5 * MODEL.spec.bridge_to_fingerboard, 0, 0]])
        + np.array([[0.0], [300.0]]) * MODEL.bow_direction(np.zeros(1), np.array([PLANE]))
    )
    px_mm = np.linalg.norm(end - start) / 300
    assert moved.frog - lines.frog == pytest.approx(FROG_MM * px_mm, rel=0.05)
    assert moved.frog_sd == pytest.approx(0.5 * 85 * px_mm, rel=0.4), "half a hand's breadth"


def followed(picture):
    """The bright line of a picture, as it is followed before anything is known of the bow."""
    return BowFinder(MODEL, SHAPE).find(picture, LOW)[0]


def test_bright_hair_under_a_dark_stick_is_hair():
    picture, ends = picture_of(2.0, 0.5, hair=215, view=LOW, wall=110, rise_mm=15)
    line = followed(picture)
    assert off_px(line, ends) < 1.0
    stick, other = line.beside
    assert stick > 30 and other < 2 and is_hair([line] * 5)
    assert is_hair([replace(line, beside=(0.5, 2.5))] * 5), "grain, no line"
    assert not is_hair([replace(line, beside=(0.5, 3.5))] * 5) and is_hair([replace(line, beside=(5.0, 3.5))] * 5)


def test_in_a_band_seen_from_above_the_hair_is_on_the_side_where_players_have_it():
    """From two degrees on either side of straight above: a stick that is turned towards the fingerboard lies there in both pictures."""
    beside = []
    for view in (camera_at(MODEL, 0, 88), camera_at(MODEL, 180, 88)):
        picture, _ = picture_of(0.0, 0.5, hair=60, stick=55, view=view)
        finder = BowFinder(MODEL, SHAPE, dark=True, widths=BAND_WIDTHS)
        band = finder.find(picture, view)[0]
        found = hair_of_band(finder, picture, view, band, None, scale_px=1.0)
        board, bridge = view.project(np.array([[50.0, 0, 0], [0.0, 0, 0]]))
        beside.append(
            float(
                (found.line.point - band.point - band.edges[:, 0].mean() * np.array([-band.direction[1], band.direction[0]]))
                @ (board - bridge)
            )
        )
        assert found.line.fit_sd[0] > np.hypot(band.fit_sd[0], 1.5)
    assert beside[0] < 0 and beside[1] < 0


def test_a_line_is_seen_beside_another_whether_it_is_dark_or_bright_or_both_by_turns():
    """Sixty samples before something dark, sixty before something bright, at nine distances: dull hair beside a bright stick."""
    levels = np.repeat([100.0, 180.0], 60)[:, None] + np.random.default_rng(0).normal(0, 3, (120, 9))
    assert plain_line(levels) < 3
    levels[:, 4] += np.repeat([25.0, -25.0], 60)
    assert plain_line(levels) == pytest.approx(25, abs=3)
    stripes = np.where(np.arange(120)[:, None] % 12 < 5, 40.0, 0.0)
    assert plain_line(levels - 25.0 * np.eye(9)[4] * np.repeat([1, -1], 60)[:, None] + stripes) < 5, "what crosses both is no line"


def test_dull_hair_beside_a_stick_that_is_pale_is_seen_where_the_wall_changes():
    """Half of what is behind the bow is darker than its hair, half of it brighter: it is the stick that was followed."""
    hair = 120
    dark, ends = picture_of(2.0, 0.5, hair=hair, stick=230, view=LOW, wall=95, rise_mm=15)
    bright, _ = picture_of(2.0, 0.5, hair=hair, stick=230, view=LOW, wall=160, rise_mm=15)
    picture = np.where(np.arange(SHAPE[1]) < ends[:, 0].mean(), dark, bright).astype(np.uint8)
    line = followed(picture)
    assert off_px(line, ends) > 3.0
    assert line.beside[1] > 10 and not is_hair([line] * 5)


def test_which_side_of_its_hair_a_stick_covers_is_seen_close_beside_it():
    """From nearly above, on either side of it; a stick as pale as what is behind it shows on neither."""
    for tip, stick in ((74, 40), (106, 40), (74, 110)):
        above = camera_at(MODEL, 0, tip) if tip < 90 else camera_at(MODEL, 180, 180 - tip)
        picture, _ = picture_of(2.0, 0.5, hair=215, stick=stick, view=above, wall=110)
        line = BowFinder(MODEL, SHAPE).find(picture, above)[0]
        normal = np.array([-line.direction[1], line.direction[0]])
        hair, axis = (above.project(MODEL.string_point(1, 28.0) + np.array([0.0, 0.0, z])) for z in (0.0, 11.0))
        minus, plus = line.close
        assert lines_of([line, None], length_px=500, scale_px=1.0).close[0].tolist() == [minus, plus]
        if stick == 110:
            assert max(minus, plus) < 8
        else:
            assert (plus - minus) * np.sign((axis - hair) @ normal) > 25


@pytest.mark.parametrize(("wall", "hair", "stick"), [(105, 45, 190), (190, 60, 55)])
def test_a_bright_stick_and_the_gap_over_dark_hair_are_no_hair_and_the_hair_is_found_beside(wall, hair, stick):
    """A stick that shines over dark hair; a pale wall seen between a dark stick and dark hair."""
    picture, ends = picture_of(2.0, 0.5, hair=hair, stick=stick, view=LOW, wall=wall, rise_mm=15)
    line = followed(picture)
    assert off_px(line, ends) > 3.0 and not is_hair([line] * 5)
    found = BowFinder(MODEL, SHAPE, dark=True).away_from_stick(picture, LOW, line)
    assert off_px(found, ends) < 1.2


def test_a_bright_stick_is_told_from_its_hair_where_the_two_are_seen_close_together():
    """From where a stick is seen hardly farther from its hair than the hair is wide, and can stand on that side only."""
    closer = camera_at(MODEL, -12, 46)
    picture, ends = picture_of(2.0, 0.5, hair=45, stick=190, view=closer, wall=105, rise_mm=15)
    line = BowFinder(MODEL, SHAPE).find(picture, closer)[0]
    assert off_px(line, ends) > 3.0 and not is_hair([line] * 5)
    hair = BowFinder(MODEL, SHAPE, dark=True).away_from_stick(picture, closer, line)
    assert off_px(hair, ends) < 1.2


def test_stripes_behind_bright_hair_are_no_dark_hair():
    """Dark stripes cross what lies beside the hair all along it, none of them goes with it."""
    picture, ends = picture_of(2.0, 0.5, hair=215, view=LOW, wall=150, rise_mm=15)
    before = picture.copy()
    for y in range(-400, 1400, 24):
        cv2.polylines(picture, [np.array([[x, y + round(0.35 * x + 6 * np.sin(x / 21))] for x in range(0, 1280, 8)])], False, 60, 3)
    picture[before > 170] = before[before > 170]
    line = BowFinder(MODEL, SHAPE).find(picture, LOW)[0]
    assert off_px(line, ends) < 1.0
    assert is_hair([line] * 5)


def test_what_lies_beside_the_hair_for_half_a_take_is_no_hair():
    picture, _ = picture_of(2.0, 0.5, hair=215, view=LOW, wall=110, rise_mm=15)
    plain = followed(picture)
    edge = replace(plain, beside=(plain.beside[0], 40.0))
    assert is_hair([edge] * 5 + [plain] * 5) and not is_hair([edge] * 8 + [plain] * 2)


def test_where_the_view_does_not_tell_the_sides_nothing_is_said():
    from_above = camera_at(MODEL, 0, 80)
    picture, _ = picture_of(0.0, 0.5, hair=215)
    line = BowFinder(MODEL, SHAPE).along(picture, from_above, np.array([300.0, 300.0]), np.array([900.0, 330.0]))
    assert np.isnan(line.beside).all() and is_hair([line, None])
