"""From lines to the record: columns, missing frames, leaps, changes of string, poses of a swaying player."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest

from dolcezza.core.base.errors import TrackingError
from dolcezza.core.bowing import faint as faint_hair
from dolcezza.core.bowing.faint import faintly_seen
from dolcezza.core.bowing.measure import measure_bow
from dolcezza.core.bowing.series import COLUMNS, BowSeries, as_filmed, check
from dolcezza.core.bowing.smooth import smooth_bow
from dolcezza.core.bowing.solve import solve_string
from dolcezza.core.bowing.strings import solve_bow
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.poses import Poses
from dolcezza.core.camera.unknowns import at
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.tracking.bow_line import SET_SD
from dolcezza.core.tracking.instrument import Followed
from dolcezza.core.tracking.trajectory import steady_poses
from tests_support import camera_at, seen_lines, series_from, take_covariance

MODEL = InstrumentModel(instrument("violin 4/4"))
VIEW = camera_at(MODEL, -15, 38)
TAKE_COVARIANCE = take_covariance()


def record(params, string, *, lines=None, rate=30.0):
    n = len(params)
    lines = seen_lines(MODEL, VIEW, params, string, rng=np.random.default_rng(0)) if lines is None else lines
    return measure_bow(
        MODEL, lines, Poses.of([VIEW] * n), np.arange(n) / rate, TAKE_COVARIANCE, scale_px=1.0, instrument_confidence=np.ones(n)
    ).series  # fmt: skip


def strokes_of(n=60, string=1, angle=0.0):
    place = 0.5 - 0.4 * np.cos(2 * np.pi * np.arange(n) / 40)
    return np.column_stack([np.full(n, 28.0), np.full(n, angle), np.full(n, MODEL.string_planes[string]), place])


def test_every_column_is_there_and_says_what_it_should():
    truth = strokes_of(angle=6.0)
    series = record(truth, 1)
    assert set(series.values) == set(COLUMNS) - {"string"}
    assert set(series.strings) == {"D"}
    assert np.abs(series["bow_angle_deg"] - 6.0).max() < 1.5
    assert np.abs(series["bow_position"] - truth[:, 3]).max() < 0.01
    assert np.allclose(series["contact_fraction"], series["contact_point_mm"] / 57.0)
    assert (series["bow_angle_sd_deg"] > 0.3).all()
    speed = np.gradient(truth[:, 3], 1 / 30) * 64.5
    assert np.abs(series["bow_speed_cm_s"] - speed)[3:-3].max() < 6
    assert np.isnan(series["elbow_level_deg"]).all()


def test_the_straight_bow_is_drawn_where_an_angle_of_zero_would_be():
    crooked, straight = record(strokes_of(angle=9.0), 1), record(strokes_of(angle=0.0), 1)
    for axis in "xy":
        assert np.abs(crooked[f"straight_{axis}_px"] - straight[f"head_{axis}_px"]).max() < 12
    apart = np.hypot(crooked["head_x_px"] - crooked["straight_x_px"], crooked["head_y_px"] - crooked["straight_y_px"])
    assert apart.min() > 2


def test_frames_without_a_line_are_missing_not_guessed():
    truth = strokes_of()
    lines = seen_lines(MODEL, VIEW, truth, 1)
    point, confidence = lines.point.copy(), lines.confidence.copy()
    point[20:24], confidence[20:24] = np.nan, 0.0
    series = record(truth, 1, lines=replace(lines, point=point, confidence=confidence))
    for column in ("bow_angle_deg", "contact_point_mm", "bow_position", "head_x_px"):
        assert np.isnan(series[column][20:24]).all()
        assert np.isfinite(series[column][[*range(20), *range(24, 60)]]).all()
    assert series.strings[20:24] == [""] * 4
    assert (series["confidence"][20:24] == 0).all()


def test_hair_that_hardly_stands_out_may_be_the_stick_so_the_figures_are_wider(monkeypatch):
    """The stick ends 16 mm beyond the hair of 640 at the head; at both ends of the bow it stands some 20 mm over its hair."""
    truth = strokes_of(angle=6.0)
    lines = seen_lines(MODEL, VIEW, truth, 1, rng=np.random.default_rng(0))
    plain, faint = (record(truth, 1, lines=replace(lines, confidence=np.full(60, c))) for c in (0.36, 0.35))
    assert np.allclose(plain["bow_angle_deg"], faint["bow_angle_deg"])
    assert np.median(np.sqrt(faint["bow_position_sd"] ** 2 - plain["bow_position_sd"] ** 2)) > 0.6 * 16 / 640
    headed = replace(lines, frog=np.full(60, np.nan), confidence=np.full(60, 0.35))
    nosed = record(truth, 1, lines=headed)["bow_position_sd"]
    monkeypatch.setattr(faint_hair, "HEAD_SHARE", 0.0)
    blunt = record(truth, 1, lines=headed)["bow_position_sd"]
    monkeypatch.undo()
    assert np.median(np.sqrt(nosed**2 - blunt**2)) == pytest.approx(0.6 * 16 / 650, rel=0.1), "by the head alone"
    above = camera_at(MODEL, 0, 80)
    lines = seen_lines(MODEL, above, truth, 1, rng=np.random.default_rng(0))
    sd = []
    for confidence in (0.36, 0.35):
        own = replace(lines, confidence=np.full(60, confidence))
        sd.append(measure_bow(
            MODEL, own, Poses.of([above] * 60), np.arange(60) / 30, 1e-4 * TAKE_COVARIANCE, scale_px=1.0, instrument_confidence=np.ones(60)
        ).series["contact_point_sd_mm"])  # fmt: skip
    grown = np.sqrt(sd[1] ** 2 - sd[0] ** 2)
    assert 1.5 < np.median(grown) < 4.0, "0.6 of 22 mm, a third of it across, half of it of each end"
    assert not faintly_seen(replace(lines, confidence=np.r_[np.full(31, 0.8), np.full(29, 0.3)])), "some frames are faint in every take"


def test_a_line_the_bow_leaps_to_and_back_from_is_missing():
    truth = strokes_of()
    shadow = (np.arange(60) >= 22) & (np.arange(60) < 32)
    lines = seen_lines(MODEL, VIEW, np.column_stack([truth[:, 0] + 45.0 * shadow, truth[:, 1:]]), 1)
    assert (np.isnan(record(truth, 1, lines=lines)["contact_point_mm"]) == shadow).all()
    fit_sd = lines.fit_sd.copy()
    fit_sd[25] = SET_SD
    assert np.isfinite(record(truth, 1, lines=replace(lines, fit_sd=fit_sd))["contact_point_mm"]).all(), "what the teacher has set stands"


def test_a_bow_set_down_elsewhere_stays_a_leap():
    truth = strokes_of(30)
    truth[15:, 3] = np.linspace(0.5, 0.9, 15)
    truth[:15, 3] = np.linspace(0.8, 0.1, 15)
    series = record(truth, 1)
    assert np.abs(series["bow_position"] - truth[:, 3])[[13, 14, 15, 16]].max() < 0.04


def test_a_change_of_string_is_not_smeared_into_the_angle():
    truth = strokes_of(40)
    truth[20:, 2] = MODEL.string_planes[2]
    string = np.repeat([1, 2], 20)
    series = record(truth, string)
    assert series.strings[:18] == ["D"] * 18
    assert series.strings[22:] == ["A"] * 18
    assert np.abs(series["bow_angle_deg"]).max() < 3.0
    assert np.abs(series["inclination_deg"] - truth[:, 2])[[15, 25]].max() < 1.5


def test_the_uncertainty_grows_with_that_of_the_landmarks():
    n, truth = 12, strokes_of(12)
    lines = seen_lines(MODEL, VIEW, truth, 1)
    sds = [
        measure_bow(MODEL, lines, Poses.of([VIEW] * n), np.arange(n) / 30, k * TAKE_COVARIANCE, scale_px=1.0,
                    instrument_confidence=np.ones(n)).series["bow_angle_sd_deg"].mean()
        for k in (0.0, 1.0, 9.0)
    ]  # fmt: skip
    assert sds[0] < sds[1] < sds[2]


def test_landmark_errors_move_the_angle_by_what_is_said():
    """Monte Carlo: the solved angle under poses drawn from a covariance spreads as the propagated one says."""
    truth = strokes_of(1)
    lines = seen_lines(MODEL, VIEW, truth, 1)
    covariance = take_covariance(turn=6e-5, side=6e-8, depth=5e-5, focal=1e-8)
    rng = np.random.default_rng(1)
    angles = []
    for values in rng.multivariate_normal(np.zeros(len(covariance)), covariance, 60):
        model, poses = at(MODEL, Poses.of([VIEW]), values)
        angles.append(solve_string(model, lines, poses, 1, scale_px=1.0).params[0, 1])
    series = [
        measure_bow(MODEL, seen_lines(MODEL, VIEW, np.repeat(truth, 6, 0), 1), Poses.of([VIEW] * 6), np.arange(6) / 30,
                    c, scale_px=1.0, instrument_confidence=np.ones(6)).series["bow_angle_sd_deg"][3]
        for c in (covariance, 0 * covariance)
    ]  # fmt: skip
    from_landmarks = np.sqrt(series[0] ** 2 - series[1] ** 2)
    assert np.std(angles) == pytest.approx(from_landmarks, rel=0.35)


def test_a_camera_along_the_strings_has_two_solutions_and_continuity_chooses():
    along = camera_at(MODEL, 4, 17)
    n = 40
    truth = strokes_of(n)
    truth[:, 1] = -6 + 18 * (truth[:, 3] - 0.1) / 0.8
    lines = seen_lines(MODEL, along, truth, 1, rng=np.random.default_rng(3), end_noise=0.8)
    got = solve_bow(MODEL, lines, Poses.of([along] * n), scale_px=1.0, rate_hz=30.0)
    assert (got.string == 1).mean() > 0.95
    late, early = truth[:, 3] > 0.75, truth[:, 3] < 0.25
    assert np.median(got.params[late, 1]) > np.median(got.params[early, 1]) + 6


# poses, checks


def test_poses_are_steadied_and_lost_frames_bridged():
    rng = np.random.default_rng(4)
    followed, true = [], []
    for k in range(60):
        sway = np.radians(4 * np.sin(2 * np.pi * k / 60))
        rotation = cv2.Rodrigues(np.array([0, sway, 0]))[0] @ VIEW.rotation
        true.append(rotation)
        noisy = cv2.Rodrigues(rng.normal(0, 0.004, 3))[0] @ rotation
        camera = Camera(cv2.Rodrigues(noisy)[0].ravel(), VIEW.tvec + rng.normal(0, 0.5, 3), VIEW.focal, VIEW.center)
        followed.append(Followed(camera, 0.7, 0.3))
    for k in range(30, 34):
        followed[k] = Followed(VIEW, 0.0, np.inf)
    steady = steady_poses(followed, MODEL.middle, t_s=np.arange(len(followed)) / 30)

    def apart(rotations):
        return np.degrees([np.linalg.norm(cv2.Rodrigues(a @ b.T)[0]) for a, b in zip(rotations, true, strict=True)])

    raw = apart([f.camera.rotation for f in followed])
    assert np.median(apart(steady.rotation)) < 0.7 * np.median(raw)
    assert apart(steady.rotation)[30:34].max() < 0.6


def test_a_trembling_hand_is_followed_and_noise_of_the_lean_is_not():
    rng = np.random.default_rng(8)
    followed, true = [], []
    for k in range(90):
        tremble = np.radians(
            [0.25 * np.sin(2 * np.pi * 4 * k / 30), 0.25 * np.cos(2 * np.pi * 3.3 * k / 30), 0.1 * np.sin(2 * np.pi * 3 * k / 30)]
        )
        turn = cv2.Rodrigues(tremble)[0]
        rotation, place = turn @ VIEW.rotation, turn @ VIEW.tvec
        true.append((rotation, place))
        # a follower tells where the instrument is in the picture, and leaning and distance much worse: noise about its own middle
        wobble = cv2.Rodrigues(rng.normal(0, 0.006, 3))[0] @ rotation
        far = 1 + rng.normal(0, 0.003)
        at = far * (rotation @ MODEL.middle + place)
        followed.append(Followed(Camera(cv2.Rodrigues(wobble)[0].ravel(), at - wobble @ MODEL.middle, VIEW.focal, VIEW.center), 0.7, 0.3))
    steady = steady_poses(followed, MODEL.middle, t_s=np.arange(len(followed)) / 30)
    seen = np.einsum("nij,j->ni", steady.rotation, MODEL.middle) + steady.translation
    should = np.array([r @ MODEL.middle + t for r, t in true])
    off_px = VIEW.focal * np.abs(seen[:, :2] / seen[:, 2:] - should[:, :2] / should[:, 2:])[5:-5]
    assert np.median(off_px) < 0.5 and off_px.max() < 2.5, "the picture of the instrument trembles by 6 px"
    lean = [np.linalg.norm(cv2.Rodrigues(r.T @ t[0])[0]) for r, t in zip(steady.rotation, true, strict=True)]
    assert np.median(lean) < 0.006


def test_a_head_outside_the_picture_is_known_to_be_outside():
    n = 120
    truth = strokes_of(n)
    truth[40:, 3] = 0.1  # the bow waits at the frog, its head outside the picture
    lines = seen_lines(MODEL, VIEW, truth, 1, rng=np.random.default_rng(2))
    gone = truth[:, 3] < 0.4
    cut = np.full(n, np.nan)
    cut[gone] = lines.head[gone] - 40.0
    blind = replace(lines, head=np.where(gone, np.nan, lines.head), frog=np.full(n, np.nan))
    poses, times = Poses.of([VIEW] * n), np.arange(n) / 30
    string = np.ones(n, int)
    start = truth.copy()
    start[gone, 3] = np.nan
    for beyond, holds in ((cut, True), (np.full(n, np.nan), False)):
        params, _ = smooth_bow(MODEL, replace(blind, beyond=beyond), poses, string, start, times, scale_px=1.0)
        farthest = (params[gone, 3] - truth[gone, 3]).max()
        assert (farthest < 0.1) == holds, farthest
    measured = measure_bow(
        MODEL, replace(blind, beyond=cut), poses, times, 1e-4 * TAKE_COVARIANCE, scale_px=1.0, instrument_confidence=np.ones(n)
    ).series  # fmt: skip
    known = np.isfinite(measured["bow_position"])
    assert known[~gone].mean() > 0.9
    assert np.isfinite(measured["bow_angle_deg"]).mean() > 0.95
    assert (measured["bow_position_sd"][known] <= 0.12).all()
    # that the head is farther on is a bound and no place, and it does not spoil what else is known
    waits = np.arange(n) > 50
    assert not known[waits].any()
    usual = np.nanmedian(measured["bow_angle_sd_deg"][~gone])
    assert np.nanmax(measured["bow_angle_sd_deg"][waits]) < 5 * usual and np.nanmax(measured["bow_position_sd"][waits]) < 5


def test_a_mirrored_record_is_turned_back_once():
    series = series_from(np.arange(4) / 30, np.full(4, 0.5))
    series.values["head_x_px"] = np.array([100.0, 110.0, np.nan, 130.0])
    back = as_filmed(series, 1280)
    assert back["head_x_px"][:2].tolist() == [1180.0, 1170.0]
    assert np.array_equal(as_filmed(back, 1280)["head_x_px"], series["head_x_px"], equal_nan=True)
    assert np.array_equal(back["bow_angle_deg"], series["bow_angle_deg"])


def test_a_record_that_cannot_be_is_refused_with_its_frame():
    series = series_from(np.array([0.0, 0.1, 0.05]), np.full(3, 0.5))
    with pytest.raises(TrackingError, match="Frame 2"):
        check(series)
    bad = BowSeries({**series_from(np.arange(3) / 30, np.full(3, 0.5)).values, "bow_angle_sd_deg": np.array([1.0, 0.0, 1.0])}, ["D"] * 3)
    with pytest.raises(TrackingError, match="not positive"):
        check(bad)


def test_a_line_that_no_bow_has_is_not_measured():
    """42 degrees off the bridge: a shelf behind, not a bow; what is told of it lies within what bows do."""
    series = record(strokes_of(angle=42.0), 1)
    angle, sd = series["bow_angle_deg"], series["bow_angle_sd_deg"]
    told = np.isfinite(angle)
    assert not told.all() and (np.abs(angle[told]) <= 30.0 + 2 * sd[told]).all()
    assert np.isfinite(record(strokes_of(angle=25.0), 1)["bow_angle_deg"]).all()
