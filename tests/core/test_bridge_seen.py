"""Where the bridge stands, told by the far edge of its top."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.pose import LandmarkFit
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import BRIDGE, InstrumentModel
from dolcezza.core.tracking.bridge_seen import EDGE_SD_PX, see_bridge
from dolcezza.core.tracking.strings_seen import Sample
from tests_support import camera_at

MODEL, SMALL = (InstrumentModel(instrument(name)) for name in ("violin 4/4", "violin 1/4"))
VIEW = camera_at(MODEL, -15, 38, focal=1250.0)
LARGE = 4
THICK_MM = 1.4
POSE_SD = np.diag([0.01**2] * 3 + [1.5**2] * 3 + [0.02**2])


def drawn(camera: Camera, *, bridge: int = 190, plate: int = 110, strings: int = 210, model: InstrumentModel = MODEL) -> np.ndarray:
    """A bridge with a thick top and a flat face to both sides before the plate, and the strings."""
    big = np.full((720 * LARGE, 1280 * LARGE), plate, np.uint8)
    y = np.linspace(-20.5, 20.5, 60)
    top = model.bridge_top(y)
    for x in (-0.5 * THICK_MM, 0.5 * THICK_MM):
        edge = top + np.array([x, 0, 0])
        face = np.vstack([edge, edge[::-1] * np.array([1, 1, 0]) + np.array([0, 0, -34.0])])
        fill(big, camera, face, bridge)
    half = np.array([0.5 * THICK_MM, 0, 0])
    fill(big, camera, np.vstack([top - half, top[::-1] + half]), bridge)
    for k in range(4):
        ends = np.vstack([model.string_point(k, np.array([0.0, 300.0])), [[-50.0, model.string_y[0][k], -8.0]]])[[2, 0, 1]]
        cv2.polylines(big, [np.round(camera.project(ends) * LARGE - 0.5).astype(np.int32)], False, strings, 4)
    return cv2.resize(big, (1280, 720), interpolation=cv2.INTER_AREA).astype(np.float32)


def fill(big: np.ndarray, camera: Camera, shape: np.ndarray, grey: int) -> None:
    cv2.fillPoly(big, [np.round(camera.project(shape) * LARGE - 0.5).astype(np.int32)], grey)


def moved(camera: Camera, x_mm: float) -> LandmarkFit:
    """A pose that has the instrument so far along its strings from where it is."""
    aside = Camera(camera.rvec, camera.tvec + camera.rotation @ np.array([x_mm, 0.0, 0.0]), camera.focal, camera.center)
    return LandmarkFit(aside, POSE_SD, {}, 1.0, 1.0)


def seen(fit: LandmarkFit, *pictures: np.ndarray, model: InstrumentModel = MODEL):
    """What frames of a still instrument tell."""
    return see_bridge(model, fit, [Sample(p, fit.camera) for p in pictures], scale_px=1.0)


def off_mm(told, camera: Camera) -> np.ndarray:
    """How far towards the nut each half of the bridge was found, mm."""
    places = told.places(MODEL)
    step = np.einsum("ni,ni->n", camera.project(places + np.array([1.0, 0.0, 0.0])) - camera.project(places), told.normals)
    return np.einsum("ni,ni->n", told.points - camera.project(places), told.normals) / step


BOTH = ((BRIDGE, 1), (BRIDGE, -1))


@pytest.mark.parametrize("view", [VIEW, camera_at(MODEL, 25, 30, focal=1250.0), camera_at(MODEL, 170, 35, focal=1250.0)])
@pytest.mark.parametrize("x_mm", [-3.0, 0.0, 3.0])
def test_the_bridge_is_found_where_it_stands_from_either_end_of_the_strings(view, x_mm):
    told = seen(moved(view, x_mm), drawn(view))
    assert told.stations == BOTH
    assert np.abs(off_mm(told, view)).max() < 0.5


def test_both_halves_share_what_is_unknown_of_a_bridge():
    told = seen(moved(VIEW, 0.0), drawn(VIEW))
    together, turned = (told.weigh(told.normals * np.array([[a], [b]])) for a, b in ((1.0, 1.0), (1.0, -1.0)))
    assert np.linalg.norm(together) < 0.85 * np.linalg.norm(turned)


def test_an_edge_is_no_sharper_in_a_smaller_picture():
    fit, picture = moved(VIEW, 0.0), drawn(VIEW)
    small, usual = (see_bridge(MODEL, fit, [Sample(picture, fit.camera)], scale_px=s).covariance for s in (0.5, 1.0))
    assert np.diag(small).min() >= EDGE_SD_PX**2
    assert np.allclose(np.diag(small), np.diag(usual), rtol=0.1)


def test_a_bridge_as_dark_as_the_plate_or_darker_tells_nothing():
    """What is darker than what lies behind it is no bare maple: another edge."""
    for grey in (112, 40):
        assert seen(moved(VIEW, 0.0), drawn(VIEW, bridge=grey, strings=grey)) is None


@pytest.mark.parametrize(("azimuth", "height"), [(-90, 88), (-15, 20)])
def test_a_bridge_seen_from_above_or_from_flat_along_the_strings_is_left_alone(azimuth, height):
    """From above its feet stand out behind its top, on both sides; from flat along the strings the bow stands before it all the time."""
    view = camera_at(MODEL, azimuth, height, focal=1250.0)
    assert seen(moved(view, 0.0), drawn(view)) is None


@pytest.mark.parametrize(
    ("model", "focal", "told"),
    [(MODEL, 1250.0, True), (MODEL, 700.0, False), (MODEL, 920.0, True), (SMALL, 720.0, False), (SMALL, 920.0, True)],
)
def test_a_bridge_of_which_a_few_pixels_are_seen_is_left_alone(model, focal, told):
    """From far away its top, the hair before it and its foot behind it are one blur: told to a millimetre, it was 6 to 14 mm off. A smaller
    bridge needs more pixels to a millimetre: the fourth has as many as the third."""
    view = camera_at(model, -15, 38, focal=focal)
    assert (seen(moved(view, 0.0), drawn(view, model=model), model=model) is not None) == told


def test_what_only_some_frames_show_is_not_the_bridge():
    """On a short take a hand or the hair stands before the bridge for much of the time: the median of all frames then has edges that most
    of them have not."""
    fit, here = moved(VIEW, 0.0), drawn(VIEW)
    before = [cv2.warpAffine(here, np.array([[1.0, 0, 0], [0, 1.0, y]]), (1280, 720)) for y in (-12.0, 12.0, 25.0)]
    most = seen(fit, here, here, here, *before[:2])
    assert np.abs(off_mm(most, VIEW)).max() < 0.7
    assert seen(fit, here, *before) is None


def test_nothing_is_told_without_frames():
    assert seen(moved(VIEW, 0.0)) is None
