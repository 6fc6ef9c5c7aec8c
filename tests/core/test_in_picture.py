"""Which share of the hair is seen where, against what OpenCV projects of points along it."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest

from dolcezza.core.bowing.in_picture import hair_in_picture
from dolcezza.core.bowing.strings import BowSolution
from dolcezza.core.camera.bow_view import hair_ends
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.poses import Poses
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import InstrumentModel
from tests_support import camera_at

N, RATE = 30, 25.0
MODEL = InstrumentModel(instrument("violin 4/4"))
HAIR_MM = MODEL.spec.hair_length


def times(n: int = N) -> np.ndarray:
    return np.arange(n) / RATE


def solved(angle_deg: float = 0.0) -> BowSolution:
    """A bow from near its frog to near its tip on the D string, at this angle to the bridge."""
    params = np.column_stack([np.full(N, 28.0), np.full(N, angle_deg), np.full(N, MODEL.string_planes[1]), np.linspace(0.2, 0.8, N)])
    return BowSolution(np.ones(N, int), params, np.tile(np.eye(4), (N, 1, 1)), np.zeros(N), np.full(N, 9.0))


def projected(view: Camera, points: np.ndarray) -> np.ndarray:
    """By OpenCV, (k, 2) px."""
    matrix = np.array([[view.focal, 0, view.center[0]], [0, view.focal, view.center[1]], [0, 0, 1.0]])
    return cv2.projectPoints(points.reshape(-1, 1, 3), np.asarray(view.rvec, float), np.asarray(view.tvec, float), matrix, None)[0][:, 0]


# along the strings, to the side, and so that the frog comes near the phone
@pytest.mark.parametrize(("azimuth", "angle_deg"), [(-12, 0.0), (35, -8.0), (60, 10.0), (-50, 5.0)])
def test_a_share_of_the_hair_lies_where_opencv_projects_it(azimuth, angle_deg):
    view, solution = camera_at(MODEL, azimuth, 38), solved(angle_deg)
    hair = hair_in_picture(MODEL, solution, Poses.of([view] * N), times(), times())
    ends = hair_ends(MODEL, solution.params, solution.string)
    touch = MODEL.string_point(solution.string, solution.params[:, 0])
    shares = np.array([-0.3, -0.1, 0.2, 0.4])
    for k in (5, 15, 25):
        seen = projected(view, touch[k] + np.outer(shares, ends[k, 1] - ends[k, 0]))
        at = projected(view, touch[k][None])[0]
        way = projected(view, ends[k])
        direction = (way[1] - way[0]) / np.linalg.norm(way[1] - way[0])
        along = (seen - at) @ direction
        for share, px in zip(shares, along, strict=True):
            assert hair.share(np.full(N, px))[k] == pytest.approx(share, abs=0.004)
            assert hair.px(np.full(N, share))[k] == pytest.approx(px, abs=2.0)
            slope = (hair.px(np.full(N, share + 1e-4)) - hair.px(np.full(N, share - 1e-4))) / 2e-4
            assert hair.px_a_share(hair.px(np.full(N, share)))[k] == pytest.approx(slope[k], rel=1e-3)
        # the angle between the bow and the line of sight, as a cotangent
        sight = touch[k] - (-view.rotation.T @ np.asarray(view.tvec))
        bow = ends[k, 1] - ends[k, 0]
        cosine = abs(sight @ bow) / np.linalg.norm(sight) / np.linalg.norm(bow)
        assert hair.slant[k] == pytest.approx(1 / np.tan(np.arccos(cosine)), abs=0.02)


def test_the_half_that_is_nearer_takes_more_of_the_picture():
    view, solution = camera_at(MODEL, 60, 38), solved()
    hair = hair_in_picture(MODEL, solution, Poses.of([view] * N), times(), times())
    near, far = sorted(abs(hair.px(np.full(N, s))[15]) for s in (-0.5, 0.5))[::-1]
    assert near > 1.15 * far and hair.slant[15] > 0.7


def test_a_frame_that_is_solved_on_a_wrong_string_does_not_make_it_leap():
    view, solution = camera_at(MODEL, -12, 38), solved()
    poses = Poses.of([view] * N)
    leap = replace(solution, params=solution.params + np.where(np.arange(N) == 15, 25.0, 0.0)[:, None] * [0, 1.0, 0, 0])
    whole, leapt = (hair_in_picture(MODEL, s, poses, times(), times()) for s in (solution, leap))
    assert leapt.px_mm[15] == pytest.approx(whole.px_mm[15], rel=0.02)


def test_where_nothing_is_solved_nothing_is_known():
    nothing = replace(solved(), string=np.full(N, -1))
    hair = hair_in_picture(MODEL, nothing, Poses.of([camera_at(MODEL, -12, 38)] * N), times(), times())
    assert np.isnan(hair.share(np.full(N, 30.0))).all() and np.isnan(hair.px(np.full(N, 0.5))).all()
