"""The solver, on lines made by an independent projection: what went in comes out, on every instrument and string."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest

from dolcezza.core.bowing.smooth import smooth_bow
from dolcezza.core.bowing.solve import solve_string
from dolcezza.core.bowing.strings import solve_bow
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.poses import Poses
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import InstrumentModel
from tests_support import camera_at, seen_lines


def poses(camera: Camera, n: int) -> Poses:
    return Poses.of([camera] * n)


@pytest.mark.parametrize("name", ["violin 4/4", "viola 16", "cello 4/4"])
@pytest.mark.parametrize("string", [0, 1, 2, 3])
def test_a_seen_line_gives_back_angle_contact_and_position(name, string):
    model = InstrumentModel(instrument(name))
    camera = camera_at(model, -20, 40)
    n = 9
    contact = np.linspace(0.35, 0.6, n) * model.spec.bridge_to_fingerboard
    truth = np.column_stack([contact, np.linspace(-6, 8, n), np.full(n, model.string_planes[string]), np.linspace(0.1, 0.9, n)])
    lines = seen_lines(model, camera, truth, string)
    got = solve_string(model, lines, poses(camera, n), string, scale_px=1.0)
    assert np.abs(got.params[:, 1] - truth[:, 1]).max() < 0.6
    assert np.abs(got.params[:, 0] - truth[:, 0]).max() < 0.8
    assert np.abs(got.params[:, 3] - truth[:, 3]).max() < 0.01


def test_signs_are_those_of_the_definition():
    """+ = tip towards the scroll (+x), frog on the treble side for the violin, on the bass side for the cello."""
    violin, cello = (InstrumentModel(instrument(f"{k} 4/4")) for k in ("violin", "cello"))
    assert violin.bow_direction(10.0, 0.0)[0] > 0
    assert violin.bow_direction(0.0, 0.0)[1] > 0
    assert cello.bow_direction(10.0, 0.0)[0] > 0
    assert cello.bow_direction(0.0, 0.0)[1] < 0


def test_the_string_is_told_from_the_picture_alone():
    model = InstrumentModel(instrument("violin 4/4"))
    camera = camera_at(model, -20, 35)
    n = 25
    string = np.repeat(np.arange(4), n)
    params = np.column_stack(
        [np.full(4 * n, 28.0), np.tile(np.linspace(-4, 4, n), 4), model.string_planes[string], np.tile(np.linspace(0.1, 0.9, n), 4)]
    )
    lines = seen_lines(model, camera, params, string, rng=np.random.default_rng(1))
    got = solve_bow(model, lines, poses(camera, 4 * n), scale_px=1.0, rate_hz=30.0)
    assert (got.string == string).mean() > 0.97


def test_a_hint_overrules_a_view_that_cannot_tell():
    model = InstrumentModel(instrument("violin 4/4"))
    camera = camera_at(model, -20, 35)
    params = np.tile([28.0, 0.0, model.string_planes[1], 0.5], (12, 1))
    lines = seen_lines(model, camera, params, 1)
    hint = np.zeros((12, 4))
    hint[:, [0, 1, 3]] = 60.0
    assert set(solve_bow(model, lines, poses(camera, 12), scale_px=1.0, rate_hz=30.0, hint=hint).string) == {2}


def test_smoothing_bridges_frames_without_a_head_and_takes_out_noise():
    model = InstrumentModel(instrument("violin 4/4"))
    camera = camera_at(model, -20, 35)
    t = np.arange(60) / 30.0
    position = 0.5 - 0.4 * np.cos(2 * np.pi * t / 2.0)
    truth = np.column_stack([np.full(60, 30.0), 5 * np.sin(2 * np.pi * t / 2.0), np.full(60, model.string_planes[2]), position])
    lines = seen_lines(model, camera, truth, 2, rng=np.random.default_rng(2), end_noise=3.0)
    head = lines.head.copy()
    head[20:26] = np.nan
    lines = replace(lines, head=head, frog=np.full(60, np.nan))
    alone = solve_string(model, lines, poses(camera, 60), 2, scale_px=1.0)
    together, covariance = smooth_bow(model, lines, poses(camera, 60), np.full(60, 2), alone.params, t, scale_px=1.0)
    error = np.abs(together[:, 3] - position)
    assert error[20:26].max() < 0.02
    assert np.median(error) < np.median(np.abs(alone.params[:, 3] - position))
    assert np.linalg.eigvalsh(covariance).min() > 0


def test_smoothing_does_not_bend_a_bow_between_frames_that_are_missing():
    """A bow that is drawn evenly stays where it is, though a third of its frames is missing and its ends say little: by numbers of frames
    it would seem to be accelerated at each gap."""
    model = InstrumentModel(instrument("violin 4/4"))
    camera = camera_at(model, -20, 35)
    t = np.array([k for k in range(60) if k % 7 not in (2, 3, 5)]) / 30
    n = len(t)
    truth = np.column_stack([np.full(n, 30.0), np.zeros(n), np.full(n, model.string_planes[2]), 0.05 + 0.45 * t])
    lines = seen_lines(model, camera, truth, 2, rng=np.random.default_rng(2), end_noise=0.0)
    hidden = np.where(np.arange(n) % 3 > 0, np.nan, lines.head)
    lines = replace(lines, head=hidden, frog=np.full(n, np.nan))
    alone = solve_string(model, lines, poses(camera, n), 2, scale_px=1.0)
    together, _ = smooth_bow(model, lines, poses(camera, n), np.full(n, 2), alone.params, t, scale_px=1.0)
    assert np.abs(together[:, 3] - truth[:, 3]).max() < 0.006


def test_a_doubtful_head_says_less_of_the_place_and_leaves_more_open():
    """Head and frog contradict each other by 20 px: the surer of the two is followed. Where the head alone tells the place, what it
    is more doubtful by is in the place's ±, over how far the head moves with it in the picture (by hand: 16 - 0.25 square px)."""
    model = InstrumentModel(instrument("violin 4/4"))
    camera = camera_at(model, -20, 35)
    truth = np.tile([30.0, 0.0, model.string_planes[2], 0.4], (5, 1))
    lines = seen_lines(model, camera, truth, 2, rng=np.random.default_rng(2), end_noise=0.0)
    off = replace(lines, head=lines.head + 20.0)
    sure, doubtful = (solve_string(model, replace(off, head_sd=np.full(5, sd)), poses(camera, 5), 2, scale_px=1.0) for sd in (1.5, 12.0))
    assert np.abs(doubtful.params[:, 3] - 0.4).max() < 0.7 * np.abs(sure.params[:, 3] - 0.4).min()
    alone = replace(off, frog=np.full(5, np.nan))
    sure, doubtful = (solve_string(model, replace(alone, head_sd=np.full(5, sd)), poses(camera, 5), 2, scale_px=1.0) for sd in (0.5, 4.0))
    more = doubtful.covariance[:, 3, 3] - sure.covariance[:, 3, 3]
    onward = truth + np.array([0.0, 0.0, 0.0, 0.01])
    farther = seen_lines(model, camera, onward, 2, rng=np.random.default_rng(2), end_noise=0.0)
    px = (lines.head - farther.head) / 0.01
    assert more == pytest.approx((4.0**2 - 0.5**2) / px**2, rel=0.1)


def test_our_pinhole_agrees_with_opencv():
    """Outside check: cv2.projectPoints (OpenCV, reference library)."""
    model = InstrumentModel(instrument("violin 4/4"))
    camera = camera_at(model, 30, 40)
    points = np.random.default_rng(0).normal(0, 150, (50, 3))
    k = np.array([[camera.focal, 0, camera.center[0]], [0, camera.focal, camera.center[1]], [0, 0, 1.0]])
    theirs = cv2.projectPoints(points, camera.rvec, camera.tvec, k, None)[0][:, 0]
    assert np.abs(camera.project(points) - theirs).max() < 1e-6


def test_a_double_stop_is_a_pair_of_neighbours_where_the_sound_says_so():
    """To the eye alone a pair is hardly to be told from one string with a bow a little crooked."""
    model = InstrumentModel(instrument("violin 4/4"))
    camera = camera_at(model, -20, 35)
    n = 24
    stop = np.repeat([1, 5, 2], n)
    assert [model.stops[k] for k in (1, 5, 2)] == ["D", "D+A", "A"]
    params = np.column_stack([np.full(3 * n, 28.0), np.zeros(3 * n), model.stop_planes[stop], np.tile(np.linspace(0.1, 0.9, n), 3)])
    lines = seen_lines(model, camera, params, stop, rng=np.random.default_rng(4))
    heard = np.full((3 * n, 7), 6.0)
    heard[np.arange(3 * n), stop] = 0.0
    got = solve_bow(model, lines, poses(camera, 3 * n), scale_px=1.0, rate_hz=30.0, hint=heard)
    assert (got.string == stop).mean() > 0.93
    assert np.abs(got.params[n : 2 * n, 1]).max() < 3.0


def test_a_pair_lies_along_the_chord_of_its_two_strings():
    """The bow touches both: both string points lie on the line through the pair's point in the pair's direction."""
    for name in ("violin 4/4", "cello 4/4"):
        model = InstrumentModel(instrument(name))
        for k in range(3):
            pair = len(model.spec.strings) + k
            along = model.bow_direction(0.0, model.stop_planes[pair])
            for string in (k, k + 1):
                off = model.string_point(string, 0.0) - model.string_point(pair, 0.0)
                assert np.linalg.norm(np.cross(off, along)) < 1e-6


def test_a_bow_that_leans_a_little_is_still_on_one_string():
    model = InstrumentModel(instrument("violin 4/4"))
    camera = camera_at(model, -20, 35)
    n = 40
    lean = model.string_planes[2] + np.linspace(-3, 3, n)
    params = np.column_stack([np.full(n, 28.0), np.zeros(n), lean, np.linspace(0.1, 0.9, n)])
    got = solve_bow(model, seen_lines(model, camera, params, 2), poses(camera, n), scale_px=1.0, rate_hz=30.0)
    assert set(got.string) == {2}
