"""What projective geometry says must hold, whatever the numbers: symmetries, degenerate targets, agreement with reference libraries."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from dolcezza.core.base.errors import LandmarkError
from dolcezza.core.base.geometry import rotation_of, rotation_vector
from dolcezza.core.bowing.solve import Solved, solve_string
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.pose import fit_landmarks
from dolcezza.core.camera.poses import Poses
from dolcezza.core.camera.precision import ANGLE_SD
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import LANDMARK_NAMES, REQUIRED_LANDMARKS, InstrumentModel
from tests_support import camera_at, seen_lines

MODEL = InstrumentModel(instrument("violin 4/4"))
SIZE = (1280, 720)
azimuth, height = st.floats(-60, 60), st.floats(18, 60)


def solved(camera: Camera, params, lines, scale_px: float = 1.0) -> Solved:
    return solve_string(MODEL, lines, Poses.of([camera] * len(params)), 1, scale_px=scale_px)


def angle_of(camera: Camera, params, lines, scale_px: float = 1.0) -> np.ndarray:
    return solved(camera, params, lines, scale_px).params


def bow(angle: float) -> np.ndarray:
    return np.array([[28.0, angle, MODEL.string_planes[1], p] for p in (0.2, 0.5, 0.8)])


@settings(max_examples=25, deadline=None)
@given(azimuth, height, st.floats(-15, 15))
def test_moving_the_phone_sideways_does_not_change_the_angle(az, el, angle):
    """A pure translation of the camera (instrument and bow alike) leaves the bow's angle to the bridge as it was.

    What a view tells badly is drawn towards the usual: an estimate with sd s under a Gaussian expectation of sd S around zero is
    s^2/S^2 of the value too small (Gelman et al., Bayesian Data Analysis, ch. 2, from memory), which may differ between the two
    places and no more.
    """
    camera = camera_at(MODEL, az, el)
    moved = Camera(camera.rvec, np.asarray(camera.tvec) + np.array([120.0, -60.0, 200.0]), camera.focal, camera.center)
    params = bow(angle)
    first, second = (solved(c, params, seen_lines(MODEL, c, params, 1)) for c in (camera, moved))
    drawn = abs(angle) * np.maximum(first.covariance[:, 1, 1], second.covariance[:, 1, 1]) / ANGLE_SD**2
    assert (np.abs(first.params[:, 1] - second.params[:, 1]) < 0.1 + drawn).all()


@settings(max_examples=25, deadline=None)
@given(azimuth, height, st.floats(0.5, 3.0))
def test_picture_and_focal_length_scaled_together_change_nothing(az, el, k):
    camera = camera_at(MODEL, az, el)
    larger = Camera(camera.rvec, camera.tvec, k * camera.focal, (k * camera.center[0], k * camera.center[1]))
    params = bow(7.0)
    lines = seen_lines(MODEL, camera, params, 1)
    scaled = replace(lines, point=k * lines.point, head=k * lines.head, frog=k * lines.frog, fit_sd=lines.fit_sd * [k, 1])
    assert np.abs(angle_of(camera, params, lines) - angle_of(larger, params, scaled, k))[:, [0, 1, 3]].max() < 0.6


@settings(max_examples=25, deadline=None)
@given(azimuth, height)
def test_a_mirrored_picture_of_a_mirrored_instrument_is_the_same_picture(az, el):
    """Left-handed players mirror y: the mirrored camera sees the mirrored instrument where the first saw the instrument."""
    camera = camera_at(MODEL, az, el)
    flip = np.diag([1.0, -1.0, 1.0])
    rotation = np.diag([-1.0, 1.0, 1.0]) @ camera.rotation @ flip
    mirrored = Camera(cv2.Rodrigues(rotation)[0].ravel(), np.asarray(camera.tvec) * [-1, 1, 1], camera.focal, camera.center)
    points = MODEL.outline
    there = camera.project(points)
    assert np.allclose(mirrored.project(points @ flip), np.column_stack([SIZE[0] - there[:, 0], there[:, 1]]), atol=1e-6)


@settings(max_examples=40, deadline=None)
@given(st.lists(st.floats(-3, 3), min_size=3, max_size=3))
def test_rotations_agree_with_scipy(vector):
    """Outside check: scipy.spatial.transform.Rotation (reference library)."""
    v = np.array(vector)
    theirs = Rotation.from_rotvec(v)
    assert np.allclose(rotation_of(v), theirs.as_matrix(), atol=1e-9)
    if np.linalg.norm(v) < np.pi - 1e-3:
        assert np.allclose(rotation_vector(theirs.as_matrix()), v, atol=1e-6)


@pytest.mark.parametrize("size", [0.0, 1e-9, 9e-6, 1.1e-5, 9.9e-5, 1.1e-4, 3.1])
def test_small_turns_are_not_lost(size):
    """Outside check: scipy.spatial.transform.Rotation. OpenCV's own conversion calls turns below 1e-5 rad none."""
    v = size * np.array([0.6, -0.48, 0.64])
    assert np.allclose(rotation_vector(Rotation.from_rotvec(v).as_matrix()), v, rtol=1e-7, atol=1e-15)


@pytest.mark.parametrize("seed", range(5))
def test_pose_from_clean_landmarks_agrees_with_opencvs_own_solver(seed):
    """Outside check: cv2.solvePnP (OpenCV, iterative) with the lens given."""
    rng = np.random.default_rng(seed)
    camera = camera_at(MODEL, rng.uniform(-50, 50), rng.uniform(20, 55))
    world = np.array([MODEL.landmarks[n] for n in LANDMARK_NAMES])
    xy = camera.project(world)
    k = np.array([[camera.focal, 0, 640.0], [0, camera.focal, 360.0], [0, 0, 1.0]])
    _, rvec, tvec = cv2.solvePnP(world, xy, k, None)
    ours = fit_landmarks(MODEL, dict(zip(LANDMARK_NAMES, map(tuple, xy), strict=True)), size=SIZE, focal=camera.focal, focal_sd=1e-4).camera
    assert np.allclose(ours.rotation, cv2.Rodrigues(rvec)[0], atol=2e-3)
    assert np.allclose(ours.tvec, tvec.ravel(), rtol=3e-3, atol=1.0)


def test_a_flat_target_far_away_has_two_poses_and_the_chosen_one_shows_the_top_plate():
    """Necker reversal: under weak perspective a plane tilted either way looks the same (Hartley & Zisserman, from memory)."""
    for az in (-40, 0, 40):
        camera = camera_at(MODEL, az, 35, focal=9000.0, distance=9000.0)
        landmarks = {n: tuple(camera.project(MODEL.landmarks[n])) for n in LANDMARK_NAMES}
        got = fit_landmarks(MODEL, landmarks, size=SIZE, focal=9000.0, focal_sd=1e-3).camera
        assert got.place[2] > 0
        assert np.dot(got.place, camera.place) / np.linalg.norm(got.place) / np.linalg.norm(camera.place) > 0.98


@pytest.mark.parametrize("spread", [(0.0, 0.0), (200.0, 0.0), (200.0, 0.3)])
def test_landmarks_on_one_spot_or_line_leave_the_pose_open_and_are_refused(spread):
    """Degenerate configurations: collinear points do not fix a pose."""
    along, across = spread
    landmarks = {n: (500.0 + along * k / 3, 300.0 + across * (k % 2)) for k, n in enumerate(REQUIRED_LANDMARKS)}
    with pytest.raises(LandmarkError, match="one line or on one spot"):
        fit_landmarks(MODEL, landmarks, size=SIZE)
