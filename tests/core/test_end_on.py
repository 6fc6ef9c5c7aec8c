"""Bows that point at the camera: short lines there are no bows."""

from __future__ import annotations

import numpy as np

from dolcezza.core.bowing.end_on import LEAST_SHOWN, end_on
from dolcezza.core.bowing.measure import measure_bow
from dolcezza.core.camera.poses import Poses
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import InstrumentModel
from tests_support import camera_at, seen_lines, take_covariance

MODEL = InstrumentModel(instrument("violin 4/4"))


def bows(n: int = 5, *, string: int = 0, angle: float = 0.0) -> tuple[np.ndarray, np.ndarray]:
    params = np.column_stack([np.full(n, 28.0), np.full(n, angle), np.full(n, MODEL.string_planes[string]), np.linspace(0.3, 0.7, n)])
    return params, np.full(n, string)


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
