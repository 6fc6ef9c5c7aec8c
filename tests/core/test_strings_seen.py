"""Strings found in the picture: what they correct, and when they are left alone."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest

from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.pose import fit_landmarks
from dolcezza.core.camera.seen import SeenEdge, SeenString
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import LANDMARK_NAMES, InstrumentModel
from dolcezza.core.tracking.instrument import Followed, put_right
from dolcezza.core.tracking.strings_seen import Sample, clean_picture, see_strings
from tests_support import camera_at

MODEL = InstrumentModel(instrument("violin 4/4"))
VIEW = camera_at(MODEL, -15, 38, focal=1250.0)
SIZE = (1280, 720)


def drawn(camera: Camera, *, bow_at: float | None = None, strings: bool = True) -> np.ndarray:
    """A dark fingerboard with four bright strings, drawn four times as large and made small again."""
    big = np.full((720 * 4, 1280 * 4), 90, np.uint8)
    board = np.round(camera.project(MODEL.board) * 4).astype(np.int32)
    cv2.fillPoly(big, [board], 25)
    if strings:
        for k in range(4):
            a, b = np.round(camera.project(MODEL.string_point(k, np.array([0.0, 328.0]))) * 64).astype(int)
            cv2.line(big, tuple(map(int, a)), tuple(map(int, b)), 190, 5, cv2.LINE_AA, 4)
    if bow_at is not None:
        a, b = np.round(camera.project(np.array([[bow_at, -300, 3.0], [bow_at, 300, 3.0]])) * 4).astype(int)
        cv2.line(big, tuple(map(int, a)), tuple(map(int, b)), 230, 30)
    return cv2.resize(big, SIZE, interpolation=cv2.INTER_AREA)


def wrong_landmarks(seed: int) -> dict[str, tuple[float, float]]:
    rng = np.random.default_rng(seed)
    names = [n for n in LANDMARK_NAMES if n not in ("scroll", "nut_bass", "nut_treble")]
    return {n: tuple(VIEW.project(MODEL.landmarks[n]) + rng.normal(0, 1.2, 2)) for n in names}


def strings_off(camera: Camera) -> float:
    """How far the strings are from where they are drawn, px."""
    places = np.array([MODEL.string_point(k, np.linspace(20, 300, 8)) for k in range(4)])
    true, got = VIEW.project(places), camera.project(places)
    along = np.gradient(true, axis=1)
    across = np.stack([-along[..., 1], along[..., 0]], -1) / np.linalg.norm(along, axis=-1, keepdims=True)
    return float(np.abs(np.einsum("sni,sni->sn", got - true, across)).mean())


@pytest.mark.parametrize("wide", [480, 640, 848, 960, 1280, 1440, 1920])
def test_strings_are_looked_for_in_pictures_of_any_size_and_from_any_distance(wide):
    size = (wide, wide * 9 // 16)
    for share in np.linspace(0.5, 1.5, 11):
        view = replace(camera_at(MODEL, -15, 38, focal=0.98 * wide * share), center=(size[0] / 2, size[1] / 2))
        fit = fit_landmarks(MODEL, {n: tuple(view.project(MODEL.landmarks[n])) for n in LANDMARK_NAMES}, size=size)
        empty = np.full((size[1], size[0]), 90, np.uint8)
        assert see_strings(MODEL, fit, empty, np.zeros(2), scale_px=wide / 1280) == []


def test_the_clean_picture_has_no_bow():
    samples = [Sample(drawn(VIEW, bow_at=20.0 + 9 * k), VIEW) for k in range(9)]
    picture, corner = clean_picture(MODEL, VIEW, samples)
    want = drawn(VIEW)
    x, y = corner.astype(int)
    same = want[y : y + picture.shape[0], x : x + picture.shape[1]]
    assert np.mean(np.abs(picture - same) > 12) < 0.01


def test_frames_of_a_swaying_player_are_turned_back_before_they_are_laid_over_each_other():
    samples = []
    for k in range(7):
        turn = cv2.Rodrigues(np.array([0, 0, np.radians(2.0 * np.sin(k))]))[0]
        moved = Camera(cv2.Rodrigues(turn @ VIEW.rotation)[0].ravel(), VIEW.tvec + np.array([3.0 * k, 0, 0]), VIEW.focal, VIEW.center)
        samples.append(Sample(drawn(moved), moved))
    picture, corner = clean_picture(MODEL, VIEW, samples)
    on = VIEW.project(MODEL.string_point(1, np.linspace(100, 300, 30))) - corner
    values = cv2.remap(picture, *(on[None, :, k].astype(np.float32) - 0.5 for k in (0, 1)), cv2.INTER_LINEAR)
    assert np.median(values) > 90


def test_strings_put_right_what_a_hand_left_in_the_landmarks():
    before, after = [], []
    for seed in range(6):
        landmarks = wrong_landmarks(seed)
        fit = fit_landmarks(MODEL, landmarks, size=SIZE)
        picture, corner = clean_picture(MODEL, fit.camera, [Sample(drawn(VIEW), fit.camera)])
        lines = see_strings(MODEL, fit, picture, corner, scale_px=1.0)
        assert len(lines) == 4
        better = fit_landmarks(MODEL, landmarks, size=SIZE, lines=lines)
        before.append(strings_off(fit.camera))
        after.append(strings_off(better.camera))
        assert np.trace(better.covariance[:3, :3]) < np.trace(fit.covariance[:3, :3])
    assert np.mean(after) < 0.6 * np.mean(before)
    assert max(after) < 0.5


def test_no_strings_no_change():
    fit = fit_landmarks(MODEL, wrong_landmarks(1), size=SIZE)
    picture, corner = clean_picture(MODEL, fit.camera, [Sample(drawn(VIEW, strings=False), fit.camera)])
    assert see_strings(MODEL, fit, picture, corner, scale_px=1.0) == []


def test_a_followed_pose_moves_with_the_marked_one():
    """What was seen relative to the marked pose stays the same: the marked pose itself becomes the corrected one."""
    old, new = VIEW, camera_at(MODEL, -14, 37, focal=1260.0)
    assert np.allclose(put_right(Followed(old, 0.8, 0.3), old, new).camera.project(MODEL.outline), new.project(MODEL.outline))
    swayed = camera_at(MODEL, -20, 41, focal=1250.0)
    got = put_right(Followed(swayed, 0.8, 0.3), old, new)
    assert got.confidence == 0.8
    moved_before = swayed.rotation @ old.rotation.T
    assert got.camera.rotation @ new.rotation.T == pytest.approx(moved_before, abs=1e-6)


def test_the_same_views_count_once_for_all_marked_moments():
    string = SeenString(1, (0.1, 0.9), np.zeros((2, 2)), np.array([0.0, 1.0]), 0.25)
    both = (("waist", 1), ("waist", -1))
    outline = SeenEdge(both, np.zeros((2, 2)), np.array([[0.0, 1.0], [0.6, 0.8]]), np.array([[2.0, 1.0], [1.0, 4.0]]))
    off = np.array([[0.3, 1.0], [-2.0, 0.5]])
    for line in (string, outline):
        alone, told = line.weigh(off), [line.told_so_often(3).weigh(off) for _ in range(3)]
        assert sum(t @ t for t in told) == pytest.approx(alone @ alone)
        assert line.told_so_often(1).weigh(off) == pytest.approx(alone)
