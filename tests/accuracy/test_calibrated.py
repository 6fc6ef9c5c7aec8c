"""The ± is calibrated from below and from above: takes drawn from what the program expects of instruments, lenses, hands and bows (its
priors), seen by OpenCV's projection and measured as any take, lie within two sd in about 95 of 100 frames, not in all of them.

Rendered takes lie inside more often: their phones have no distortion, and their players' bows lean less than is expected of players.
"""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest

from dolcezza.core.bowing import hair
from dolcezza.core.bowing.known_take import know_take
from dolcezza.core.bowing.measure import MOMENT_SD_S, measure_bow
from dolcezza.core.camera import precision, unknowns
from dolcezza.core.camera.lens import LensPrior, prior_focal
from dolcezza.core.camera.pose import CLICK_SD_PX, fit_landmarks, maker_sd_mm
from dolcezza.core.camera.poses import Poses
from dolcezza.core.camera.seen import SeenPoint
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import LANDMARK_NAMES, InstrumentModel
from dolcezza.core.tracking.bow_path import BowLines
from tests_support import camera_at

TABLE = InstrumentModel(instrument("violin 4/4"))
SIZE, N, STROKE = (1280, 720), 160, 20
DRAWS = 24
NET_SD_PX, FROG_HIDDEN_PX = 1.5, 6.0
NAMES = LANDMARK_NAMES[:10]
FIGURES = {"bow_angle_deg": 1, "contact_point_mm": 0, "bow_position": 3}


def drawn_camera(rng):
    """A phone somewhere in front, and how it sees points (..., 3): with its own lens."""
    focal = prior_focal(*SIZE) * 1.15 * np.exp(0.2 * rng.normal())
    distance = TABLE.spec.string_length * rng.uniform(4.0, 6.0)
    camera = camera_at(TABLE, rng.uniform(-50, 30), rng.uniform(15, 60), focal=focal, distance=distance)
    centre = np.array(SIZE) / 2 + unknowns.CENTRE_SD * SIZE[0] * rng.normal(size=2)
    matrix = np.array([[focal, 0, centre[0]], [0, focal, centre[1]], [0, 0, 1.0]])
    bent = np.array([unknowns.RADIAL_SD * rng.normal(), 0, 0, 0])

    def see(points):
        flat = np.ascontiguousarray(points, float).reshape(-1, 3)
        return cv2.projectPoints(flat, camera.rvec, camera.tvec, matrix, bent)[0].reshape(*np.shape(points)[:-1], 2)

    return camera, see


def drawn_marks(model, see, rng):
    """Landmarks as a hand sets them, and as they are found in the picture."""
    world = np.array([model.landmarks[n] + maker_sd_mm(n) * rng.normal(size=3) for n in NAMES])
    there = see(world)
    way = see(world + np.array([unknowns._outwards(n) for n in NAMES])) - there
    outside = unknowns.HAND_PX + unknowns.HAND_SD_PX * rng.normal()
    set_ = there + outside * way / np.maximum(np.linalg.norm(way, axis=1, keepdims=True), 1e-6) + CLICK_SD_PX * rng.normal(size=there.shape)
    found = there + NET_SD_PX * rng.normal(size=there.shape)
    return (
        {n: (float(x), float(y)) for n, (x, y) in zip(NAMES, set_, strict=True)},
        [SeenPoint(n, place, NET_SD_PX) for n, place in zip(NAMES, found, strict=True)],
    )


def places(late_s: float):
    """Where the strokes have the bow in each frame (N,), a little later than the frame says."""
    return 0.5 - 0.42 * np.cos(np.pi * ((np.arange(N) + 30 * late_s) % (2 * STROKE)) / STROKE)


def drawn_bows(model, rng):
    """Parameters (N, 4) and strings (N,) of strokes that lean, cross and play where they like."""
    strokes = N // STROKE
    of = np.arange(N) // STROKE
    string = np.repeat(np.arange(4), N // 4)
    lean = unknowns.LEAN_SD_DEG * rng.normal(size=4)[string] + precision.INCLINATION_SD * rng.normal(size=strokes)[of]
    contact = TABLE.spec.bridge_to_fingerboard * (0.5 + 0.1 * rng.normal(size=strokes))[of]
    place = places(0.0)
    return np.column_stack([contact, rng.normal(0, 4, strokes)[of], model.string_planes[string] + lean, place]), string


def drawn_lines(model, camera, see, params, string, rng):
    """What is seen of the bows, with what errs from frame to frame, from stroke to stroke and all through the take."""
    touch = model.string_point(string, params[:, 0])
    along = model.bow_direction(params[:, 1], params[:, 2])
    lean = np.radians(params[:, 2])
    up = np.stack([0 * lean, -np.sin(lean), np.cos(lean)], axis=1)
    pressed = (hair.GIVE_MM + hair.GIVE_SD_MM * rng.normal()) * (4 * params[:, 3] * (1 - params[:, 3])) ** 2
    touch = touch - pressed[:, None] * up
    frog = touch - along * (params[:, 3] * model.spec.hair_length)[:, None]
    xy = see(np.stack([touch, frog, frog + along * model.spec.hair_length], axis=1))
    way = xy[:, 2] - xy[:, 1]
    length = np.linalg.norm(way, axis=1)
    way /= length[:, None]
    normal = np.stack([-way[:, 1], way[:, 0]], axis=1)
    of = np.arange(N) // STROKE
    px_mm = camera.focal / float(camera.tvec[2])
    beside, turned = (precision.LINE_SD_PX * rng.normal(size=N // STROKE)[of] for _ in range(2))
    beside = beside + precision.RIBBON_SD_MM * px_mm * rng.normal()
    direction = way + (turned / (0.4 * length))[:, None] * normal
    ends = np.einsum("nki,ni->nk", xy[:, 1:] - xy[:, :1], way)
    head = ends[:, 1] - precision.HEAD_BIAS_PX + precision.HEAD_TAKE_SD_PX * rng.normal() + precision.HEAD_SD_PX * rng.normal(size=N)
    hidden = ends[:, 0] + abs(FROG_HIDDEN_PX * rng.normal()) + precision.FROG_SD_PX * rng.normal(size=N)
    return BowLines(
        xy[:, 0] + beside[:, None] * normal, direction / np.linalg.norm(direction, axis=1, keepdims=True), np.full((N, 2), 0.05),
        np.full((N, 2, 2), np.nan), head, np.full(N, np.nan), hidden, np.full(N, precision.FROG_SD_PX), np.ones(N),
    )  # fmt: skip


def measured_draw(seed):
    """By figure, errors and ± of one drawn take, frames near a change of bow or string left out."""
    rng = np.random.default_rng(seed)
    own = {n: float(getattr(TABLE.spec, n) * (1 + sd * rng.normal())) for n, sd in unknowns.LENGTH_SD.items()}
    model = InstrumentModel(replace(TABLE.spec, **own))
    camera, see = drawn_camera(rng)
    points, found = drawn_marks(model, see, rng)
    params, string = drawn_bows(model, rng)
    shown = np.column_stack([params[:, :3], places(MOMENT_SD_S * rng.normal())])
    lines = drawn_lines(model, camera, see, shown, string, rng)
    fit = fit_landmarks(TABLE, points, size=SIZE, seen=found)
    lens, poses, t_s = LensPrior.of(SIZE, None), Poses.of([fit.camera] * N), np.arange(N) / 30
    marked = unknowns.as_doubtful_as_told(
        TABLE, [unknowns.CalibrationFrame(points, fit.camera, seen=found)], scale_px=1.0, lens=lens
    )  # fmt: skip
    hint = np.where(np.arange(7) == string[:, None], 0.0, 1e3)
    learnt, lines = know_take(TABLE, lines, poses, t_s, marked, scale_px=1.0, lens=lens, hint=hint)
    known, there = unknowns.at(TABLE, poses, learnt.values)
    series = measure_bow(
        known, lines, there, t_s, learnt.covariance, scale_px=1.0, instrument_confidence=np.ones(N), hint=hint, lean_deg=learnt.lean_deg
    ).series
    inner = (np.arange(N) % STROKE > 1) & (np.arange(N) % (N // 4) > 3)
    return {n: ((series[n] - params[:, k])[inner], series[_sd(n)][inner]) for n, k in FIGURES.items()}


def _sd(name):
    return "bow_position_sd" if name == "bow_position" else name.replace("_deg", "_sd_deg").replace("_mm", "_sd_mm")


@pytest.fixture(scope="module")
def draws():
    return [measured_draw(seed) for seed in range(1, DRAWS + 1)]


@pytest.mark.parametrize("figure", FIGURES)
def test_what_is_stated_holds_in_95_of_100_and_no_more(draws, figure):
    off, sd = (np.concatenate([d[figure][k] for d in draws]) for k in range(2))
    good = np.isfinite(off)
    assert good.mean() > 0.97
    assert 0.93 <= float((np.abs(off[good]) <= 2 * sd[good]).mean()) <= 0.98


def test_a_whole_take_may_err_by_what_is_stated(draws):
    """Most of the ± is the same all through a take: over the takes, too, it is neither half nor twice what they err by."""
    for figure in ("bow_angle_deg", "contact_point_mm"):
        off = np.array([np.nanmedian(d[figure][0]) / np.nanmedian(d[figure][1]) for d in draws])
        assert 0.35 < float(np.sqrt((off**2).mean())) < 1.3
