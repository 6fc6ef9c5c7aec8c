"""What has moved as one body: chosen among points of which most belong to something else."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from dolcezza.core.base.geometry import rotation_vector
from dolcezza.core.camera.lens import Camera
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.instrument.surface import height_sd, surface_points
from dolcezza.core.tracking.instrument import InstrumentFollower, KeyFrame, moved_along
from dolcezza.core.tracking.rigid import Sightings, agreed_move, refined, seen_with_slope, stepped, turn_between
from tests_support import camera_at

MODEL = InstrumentModel(instrument("violin 4/4"))
VIEW = camera_at(MODEL, -15, 38)
MOVE = np.array([0.04, -0.05, 0.03, 6.0, -9.0, 12.0])


def body(n: int, rng) -> np.ndarray:
    return np.column_stack([rng.uniform(-150, 400, n), rng.uniform(-90, 90, n), rng.uniform(-45, 0, n)])


def sightings(world, xy, across=None, left_open=None) -> Sightings:
    both = np.tile(np.eye(2), (len(world), 1, 1))
    return Sightings(
        world, xy, both if across is None else across, np.ones(len(world)), np.zeros_like(world) if left_open is None else left_open
    )


@pytest.mark.parametrize("strangers", [0.0, 0.4, 0.65])
def test_the_body_is_found_among_points_that_move_otherwise(strangers):
    """Fingers, bow and sleeve move together too, but not as the instrument does."""
    rng = np.random.default_rng(3)
    world = body(120, rng)
    true = stepped(VIEW, MOVE)
    xy = true.project(world) + rng.normal(0, 0.2, (120, 2))
    other = rng.choice(120, int(strangers * 120), replace=False)
    hand, bow = np.array_split(other, 2)
    xy[hand] = VIEW.project(world[hand]) + np.array([9.0, -4.0]) + rng.normal(0, 2.5, (len(hand), 2))
    xy[bow] = VIEW.project(world[bow]) + rng.uniform(-20, 20, (len(bow), 2))
    seen = sightings(world, xy)
    camera, agree, covariance = refined(agreed_move(VIEW, seen, rng, scale_px=1.0), seen, scale_px=1.0)
    assert turn_between(camera, true) < 0.3
    assert np.abs(camera.project(MODEL.board) - true.project(MODEL.board)).max() < 0.6
    assert agree[np.setdiff1d(np.arange(120), other)].mean() > 0.95
    assert agree[other].mean() < 0.35 if len(other) else True
    assert np.linalg.eigvalsh(covariance).min() > 0


@pytest.mark.parametrize("noise_px", [0.2, 0.4, 0.7])
def test_the_pose_is_as_doubtful_as_its_points_turn_out_to_be(noise_px):
    """Over many draws, turn and move miss by what their covariance says, however well the points agree."""
    true, square = stepped(VIEW, MOVE), []
    for seed in range(12):
        rng = np.random.default_rng(seed)
        world = body(80, rng)
        seen = sightings(world, true.project(world) + rng.normal(0, noise_px, (80, 2)))
        camera, _, covariance = refined(true, seen, scale_px=1.0, steps=5)
        turn = rotation_vector(camera.rotation @ true.rotation.T)
        off = np.concatenate([turn, np.asarray(camera.tvec) - true.tvec])
        square.append(off @ np.linalg.solve(covariance, off) / 6)
    assert 0.6 < np.mean(square) < 1.6


def test_edges_count_across_themselves_only():
    """Points on straight edges slide along them: what flow says along the edge is worth nothing, and does no harm."""
    rng = np.random.default_rng(5)
    world = body(150, rng)
    true = stepped(VIEW, MOVE)
    angle = rng.uniform(0, np.pi, 150)
    along, normal = (np.stack([f(angle), g(angle)], axis=-1) for f, g in ((np.cos, np.sin), (lambda a: -np.sin(a), np.cos)))
    xy = true.project(world) + along * rng.normal(0, 6.0, (150, 1))
    seen = sightings(world, xy, np.stack([normal, 0.02 * along], axis=1))
    camera, _, _ = refined(agreed_move(VIEW, seen, rng, scale_px=1.0), seen, scale_px=1.0)
    assert turn_between(camera, true) < 0.1


def test_points_whose_height_is_not_known_turn_the_instrument_less():
    """A player seen almost from the side turns by four degrees. Three points of four are fingers, pegs, a hand: 12 mm before or behind
    where the look meets the instrument."""
    view = camera_at(MODEL, -60, 14)
    true = stepped(view, np.array([0.02, 0.07, 0.01, 5.0, 0.0, 10.0]))
    off: dict[bool, list[float]] = {True: [], False: []}
    for seed in range(12):
        rng = np.random.default_rng(seed)
        places = np.vstack([body(30, rng), np.column_stack([rng.uniform(150, 400, 90), rng.uniform(-20, 20, 90), np.full(90, -3.5)])])
        ray = places - view.place
        left_open = 12.0 * ray / ray[:, 2:] * (np.arange(120) >= 30)[:, None]
        xy = true.project(places + left_open * rng.normal(size=(120, 1))) + rng.normal(0, 0.3, (120, 2))
        for known in off:
            seen = sightings(places, xy, left_open=left_open * known)
            camera, _, _ = refined(agreed_move(view, seen, np.random.default_rng(0), scale_px=1.0), seen, scale_px=1.0, steps=6)
            off[known].append(float(np.abs(camera.project(MODEL.board) - true.project(MODEL.board)).max()))
        assert np.allclose(seen.across_sd(view, 0.6), 0.6)
    there = sightings(places, xy, left_open=left_open)
    assert np.allclose(there.across_sd(view, 0.6), 0.6, atol=0.05), "where it was first seen nothing is open"
    assert np.median(there.across_sd(true, 0.6)[30:].max(axis=1)) > 1.5 and np.allclose(there.across_sd(true, 0.6)[:30], 0.6)
    assert np.mean(off[True]) < 0.6 * np.mean(off[False])


def test_the_slope_of_what_is_seen_is_that_of_opencv():
    """Outside check: cv2.projectPoints' own Jacobian (OpenCV, reference library), for the move; the turn by differences."""
    world = body(20, np.random.default_rng(0))
    k = np.array([[VIEW.focal, 0, VIEW.center[0]], [0, VIEW.focal, VIEW.center[1]], [0, 0, 1.0]])
    theirs = cv2.projectPoints(world, VIEW.rvec, VIEW.tvec, k, None)[1].reshape(20, 2, -1)
    xy, slope = seen_with_slope(VIEW, world)
    assert np.allclose(slope[:, :, 3:], theirs[:, :, 3:6], rtol=1e-6)
    for j in range(3):
        step = np.eye(6)[j] * 1e-6
        assert np.allclose(slope[:, :, j], (stepped(VIEW, step).project(world) - xy) / 1e-6, rtol=1e-3, atol=1e-2)


def test_a_look_meets_the_board_the_plate_and_what_lies_between():
    marks = np.array([[120.0, 5.0, -3.5], [60.0, 70.0, -40.0], [20.0, 0.0, -3.0]])
    ray = marks - VIEW.place
    found = surface_points(MODEL, VIEW.place, ray / np.linalg.norm(ray, axis=1, keepdims=True), np.array([True, False, False]))
    assert np.abs(found[0] - marks[0]).max() < 0.1
    assert -45 < found[1][2] < -30, "the arch of the plate"
    assert found[2][2] > -6, "strings, not the plate far below them"
    sd = height_sd(MODEL, found, np.array([True, False, False]))
    assert sd[0] < sd[1] < sd[2]
    by_the_nut = np.array([[300.0, 5.0, -3.5], [350.0, 0.0, -10.0]])
    fingers, scroll = height_sd(MODEL, by_the_nut, np.array([True, False]), np.array([False, True]))
    assert min(fingers, scroll) > 10, "fingers stand over the board there, pegs before the scroll"


def picture(camera: Camera, texture: np.ndarray) -> np.ndarray:
    """Plate and fingerboard as two textured planes at their own heights: parallax included."""
    out = np.full((720, 1280), 70, np.uint8)
    for z, x0, x1, y, part in ((-36.0, -150, 190, 95, texture), (-3.5, 57, 328, 22, texture[::-1])):
        corners = np.array([[x0, y, z], [x1, y, z], [x1, -y, z], [x0, -y, z]], float)
        size = np.array([[0, 0], [399, 0], [399, 199], [0, 199]], np.float32)
        turn = cv2.getPerspectiveTransform(size, (camera.project(corners) - 0.5).astype(np.float32))
        mask = cv2.warpPerspective(np.full((200, 400), 255, np.uint8), turn, (1280, 720))
        out = np.where(mask > 128, cv2.warpPerspective(part, turn, (1280, 720)), out)
    return out


def test_a_player_who_turns_far_is_followed_by_references_made_on_the_way_and_tied_to_the_first():
    rng = np.random.default_rng(2)
    texture = cv2.GaussianBlur(rng.integers(0, 255, (200, 400)).astype(np.uint8), (0, 0), 2.0)
    texture = cv2.normalize(texture, None, 30, 220, cv2.NORM_MINMAX)
    cameras = [stepped(VIEW, np.array([0.0, 0.22, 0.12, 40.0, 0, 0]) * np.sin(np.pi * k / 60)) for k in range(61)]
    follower = InstrumentFollower(MODEL, [KeyFrame(0.0, picture(VIEW, texture), VIEW)])
    greys = [picture(c, texture) for c in cameras]
    followed = [follower.step(grey, k / 30) for k, grey in enumerate(greys)]
    assert turn_between(cameras[30], VIEW) > 12
    better = follower.adjusted([(greys[k], k) for k in range(0, 61, 4)], followed)
    for got in (followed, better):
        assert min(f.confidence for f in got) > 0.4
        off = [
            np.linalg.norm(f.camera.project(MODEL.board) - c.project(MODEL.board), axis=1).max() for f, c in zip(got, cameras, strict=True)
        ]
        assert np.median(off) < 0.8 and max(off) < 2.5
    turned = [np.sqrt(np.trace(f.covariance[:3, :3])) for f in better]
    assert turned[30] > 2 * turned[0], "the farther from the marked view, the larger the ±"


def test_a_change_of_lens_does_not_throw_a_turned_instrument_sideways():
    """The marked pose is put right under a longer lens: a frame in which the player has turned keeps its place in the picture."""
    old = VIEW
    new = Camera(old.rvec, np.array([old.tvec[0], old.tvec[1], old.tvec[2] * 1.1]), old.focal * 1.1, old.center)
    turned = stepped(old, np.array([0.0, 0.25, 0.1, 30.0, 10.0, 20.0]))
    rotation, place = moved_along(turned.rotation, np.asarray(turned.tvec), old, new)
    after = Camera(cv2.Rodrigues(rotation)[0].ravel(), place, new.focal, new.center)
    assert np.allclose(after.project(np.zeros(3)), turned.project(np.zeros(3)), atol=1e-6)
    # what is left at the nut is the longer lens's flatter perspective; to turn the change of distance along would throw all by 30 px
    assert np.abs(after.project(MODEL.board) - turned.project(MODEL.board)).max() < 5.0
