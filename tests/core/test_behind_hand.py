"""What the bow hand hides of the hair, and bows that point at the camera: fingers projected with OpenCV."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest

from dolcezza.core.bowing.behind_hand import BEHIND_MM, STANDS_OUT_MM, from_behind_hand, hidden_mm
from dolcezza.core.bowing.end_on import LEAST_SHOWN, end_on
from dolcezza.core.bowing.measure import measure_bow
from dolcezza.core.camera.bow_view import hair_ends
from dolcezza.core.camera.poses import Poses
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import InstrumentModel
from tests_support import camera_at, seen_lines, take_covariance

MODEL = InstrumentModel(instrument("violin 4/4"))


def bows(n: int = 5, *, string: int = 0, angle: float = 0.0) -> tuple[np.ndarray, np.ndarray]:
    params = np.column_stack([np.full(n, 28.0), np.full(n, angle), np.full(n, MODEL.string_planes[string]), np.linspace(0.3, 0.7, n)])
    return params, np.full(n, string)


def finger_on_line(camera, frog, head) -> float:
    """How far along the bow's line (px from the frog) a finger is seen that stands out towards the camera, behind the hair's beginning."""
    along = (head - frog) / np.linalg.norm(head - frog)
    sight = camera.place - frog
    out = sight - (sight @ along) * along
    finger = frog - BEHIND_MM * along + STANDS_OUT_MM * out / np.linalg.norm(out)
    lens = np.array([[camera.focal, 0, camera.center[0]], [0, camera.focal, camera.center[1]], [0, 0, 1.0]])
    xy = cv2.projectPoints(np.array([frog, head, finger]), camera.rvec, camera.tvec, lens, None)[0][:, 0]
    line = (xy[1] - xy[0]) / np.linalg.norm(xy[1] - xy[0])
    return float((xy[2] - xy[0]) @ line)


@pytest.mark.parametrize(("azimuth", "height"), [(40.0, 20.0), (60.0, 25.0), (-30.0, 30.0), (10.0, 60.0)])
def test_hair_begins_where_it_is_and_not_where_a_finger_ends(azimuth, height):
    camera = camera_at(MODEL, azimuth, height)
    params, string = bows()
    ends = hair_ends(MODEL, params, string)
    lines = seen_lines(MODEL, camera, params, string)
    hidden = np.array([max(0.0, finger_on_line(camera, frog, head)) for frog, head in ends])
    lines = replace(lines, frog_sd=np.full(len(params), 7.0))
    seen = replace(lines, frog=lines.frog + hidden)
    told = from_behind_hand(MODEL, seen, Poses.of([camera] * len(params)), params, string, scale_px=1.0)
    assert told.frog == pytest.approx(lines.frog, abs=0.15 * hidden.max() + 0.3)
    assert (told.frog_sd[hidden > 3] > 7.2).all(), "hands differ, and the ± says so"


def test_some_of_these_views_hide_and_others_do_not():
    shown = {}
    for azimuth in (-60.0, 60.0):
        camera = camera_at(MODEL, azimuth, 25.0)
        frog, head = (camera.rotation @ p + camera.tvec for p in hair_ends(MODEL, *bows(1))[0])
        shown[azimuth] = float(hidden_mm(frog[None], head[None])[0])
    assert min(shown.values()) == 0.0 and max(shown.values()) > 5.0


def test_square_to_the_sight_a_hand_hides_nothing():
    frog, head = np.array([[-300.0, 0, 2000.0]]), np.array([[345.0, 0, 2000.0]])
    assert hidden_mm(frog, head)[0] == 0.0
    away = head + np.array([[0, 0, 1100.0]])
    # sight and bow make 68 degrees with each other there: 14 cos - 5 sin, by hand
    along = (away - frog)[0] / np.linalg.norm(away - frog)
    cosine = float(along @ frog[0] / np.linalg.norm(frog))
    assert hidden_mm(frog, away)[0] == pytest.approx(14 * cosine - 5 * np.sin(np.arccos(cosine)))


def test_what_was_marked_stays():
    camera = camera_at(MODEL, 60.0, 25.0)
    params, string = bows()
    lines = replace(seen_lines(MODEL, camera, params, string), frog_sd=np.full(5, 3.0))
    assert from_behind_hand(MODEL, lines, Poses.of([camera] * 5), params, string, scale_px=1.0) is lines


def test_a_bow_that_points_at_the_camera_is_not_measured():
    params, string = bows(40)
    params[:, 3] = np.linspace(0.2, 0.8, 40)
    along = MODEL.bow_direction(params[:1, 1], params[:1, 2])[0]
    beyond = along if along[2] > 0 else -along
    for degrees, told in ((8.0, False), (40.0, True)):
        # a camera that far beside the bow's own line, beyond the end that is higher
        azimuth = np.degrees(np.arctan2(beyond[1], beyond[0])) - degrees
        camera = camera_at(MODEL, azimuth, np.degrees(np.arcsin(beyond[2])))
        poses = Poses.of([camera] * 40)
        assert end_on(MODEL, poses, params, string).all() == (not told)
        lines = seen_lines(MODEL, camera, params, string, rng=np.random.default_rng(0))
        measured = measure_bow(
            MODEL, lines, poses, np.arange(40) / 30, take_covariance(), scale_px=1.0, instrument_confidence=np.ones(40)
        ).series
        assert np.isfinite(measured["bow_angle_deg"]).any() == told
    assert np.sin(np.radians(8.0)) < LEAST_SHOWN < np.sin(np.radians(40.0))


def test_what_is_no_bow_does_not_point_anywhere():
    params, _ = bows(2)
    poses = Poses.of([camera_at(MODEL, 90.0, 5.0)] * 2)
    assert not end_on(MODEL, poses, params, np.array([-1, -1])).any()
