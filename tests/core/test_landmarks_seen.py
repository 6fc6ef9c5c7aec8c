"""Landmarks that pictures show: reading the net's answer, carrying looks over to a marked frame, how well a hand did."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dolcezza.core.base.geometry import rotation_of, rotation_vector
from dolcezza.core.camera.lens import Camera, LensPrior
from dolcezza.core.camera.pose import CLICK_SD_PX, best_pose, fit_landmarks, fit_moments
from dolcezza.core.camera.poses import Poses
from dolcezza.core.camera.seen import SeenPoint
from dolcezza.core.camera.unknowns import CalibrationFrame, at, from_landmarks
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import LANDMARK_NAMES, REQUIRED_LANDMARKS, InstrumentModel
from dolcezza.core.models.landmarks import CELL, PLACES, read_likelihood
from dolcezza.core.tracking.landmarks_seen import LEARNT_SD_PX, MOST_CLICK_SD_PX, LandmarkLook, carried_over, click_sd, learnt_sd, steepness

SIZE = (1280, 720)
MODEL = InstrumentModel(instrument("violin 4/4"))
RIGHT = np.array([5.0, 0.0])
PLACES_MM = np.array([MODEL.landmarks[n] for n in LANDMARK_NAMES])


def camera(turn=(0.0, 0.0, 0.0), move=(0.0, 0.0, 0.0)) -> Camera:
    base = rotation_of(np.array([2.2, 0.6, -0.5]))
    return Camera(rotation_vector(rotation_of(np.array(turn)) @ base), np.array([-60.0, 20, 1900]) + move, 1300.0, (640.0, 360.0))


def points(c: Camera, rng=None, sd: float = 0.0, names=LANDMARK_NAMES) -> dict[str, tuple[float, float]]:
    xy = c.project(PLACES_MM)
    if rng is not None:
        xy = xy + sd * rng.normal(size=xy.shape)
    return {n: (float(x), float(y)) for n, (x, y) in zip(LANDMARK_NAMES, xy, strict=True) if n in names}


def heat(places: np.ndarray, high: float, sd_cells: float = 0.8, shape=(40, 60)) -> np.ndarray:
    """Logits of a net that is as sure as ``high`` of Gaussian places (14, 2) px."""
    y, x = np.mgrid[0 : shape[0], 0 : shape[1]] + 0.5
    return np.stack([high - ((x - px / CELL) ** 2 + (y - py / CELL) ** 2) / (2 * sd_cells**2) for px, py in places])


@given(st.floats(20, 215), st.floats(20, 135))
def test_a_place_between_cells_is_read_to_a_fraction_of_a_pixel(x, y):
    guess = read_likelihood(heat(np.tile([[x, y]], (len(PLACES), 1)), 12.0))
    assert guess.xy[0] == pytest.approx([x, y], abs=0.15)
    assert guess.sd_px[0] == pytest.approx(0.8 * CELL, rel=0.1)
    assert guess.share[0] > 0.98


def test_what_is_nowhere_has_no_share():
    unsure = read_likelihood(heat(np.tile([[100.0, 60.0]], (14, 1)), -6.0))
    assert (unsure.share < 0.05).all()
    two = heat(np.tile([[40.0, 60.0]], (14, 1)), 9.0)
    two = np.logaddexp(two, heat(np.tile([[200.0, 60.0]], (14, 1)), 8.9))
    assert read_likelihood(two).share == pytest.approx(np.full(14, 0.52), abs=0.05)


def test_a_guess_goes_along_into_another_picture():
    guess = read_likelihood(heat(np.tile([[100.0, 60.0]], (14, 1)), 9.0))
    way = np.array([[0.0, -2.0, 300.0], [2.0, 0.0, 10.0]])
    moved = guess.moved(way)
    assert moved.xy[0] == pytest.approx([300 - 120, 10 + 200], abs=0.4)
    assert moved.sd_px == pytest.approx(2 * guess.sd_px)


def looks(truth: Camera, believed: Camera, n: int = 20, wrong: int = 0) -> list[LandmarkLook]:
    """The player turns; every pose is off by as much as the marked one; in ``wrong`` looks a hand is taken for the bridge."""
    out = []
    for k in range(n):
        turn, move = (0.0, 0.04 * np.sin(k), 0.03 * np.cos(k)), (3.0 * np.sin(0.7 * k), 2.0 * np.cos(k), 0.0)
        there = [
            Camera(rotation_vector(rotation_of(np.array(turn)) @ c.rotation), c.tvec + move, c.focal, c.center) for c in (truth, believed)
        ]
        xy = there[0].project(PLACES_MM)
        if k < wrong:
            xy[0] += [9.0, 4.0]
        out.append(LandmarkLook(0.3 * k, there[1], xy, np.ones(12)))
    return out


def test_looks_from_all_over_the_take_say_where_the_marked_landmarks_are():
    truth, believed = camera(), camera(move=(4.0, -3.0, 20.0), turn=(0.0, 0.0, 0.015))
    found = carried_over(MODEL, looks(truth, believed), believed, scale_px=1.0)
    assert [p.name for p in found] == list(LANDMARK_NAMES)
    assert np.array([p.place for p in found]) == pytest.approx(truth.project(PLACES_MM), abs=0.4)
    off = np.abs(believed.project(PLACES_MM) - truth.project(PLACES_MM)).max()
    assert off > 3.0
    for p in found:
        assert p.sd_px == pytest.approx(LEARNT_SD_PX[p.name.split("_")[0]], rel=0.35)


def test_a_hand_over_the_bridge_in_some_looks_is_left_out():
    truth = camera()
    found = carried_over(MODEL, looks(truth, truth, wrong=6), truth, scale_px=1.0)
    assert found[0].place == pytest.approx(truth.project(PLACES_MM[:1])[0], abs=0.4)


def test_few_looks_and_unlikely_places_say_nothing():
    truth = camera()
    assert carried_over(MODEL, looks(truth, truth, n=2), truth, scale_px=1.0) == []
    unsure = [LandmarkLook(look.t_s, look.camera, look.xy, np.where(np.arange(12) == 3, 0.1, 1.0)) for look in looks(truth, truth)]
    assert LANDMARK_NAMES[3] not in [p.name for p in carried_over(MODEL, unsure, truth, scale_px=1.0)]
    far = [LandmarkLook(look.t_s, look.camera, look.xy + 80.0, look.share) for look in looks(truth, truth)]
    assert carried_over(MODEL, far, truth, scale_px=1.0) == []


def seen(c: Camera, sd: float = 1.5) -> list[SeenPoint]:
    return [SeenPoint(n, xy, sd) for n, xy in zip(LANDMARK_NAMES, c.project(PLACES_MM), strict=True)]


def test_how_well_a_hand_did_is_told_by_the_pictures():
    c, rng = camera(), np.random.default_rng(2)
    careful, rough, wild = (
        np.mean([click_sd(points(c, rng, sd), seen(c, 0.01), scale_px=1.0) for _ in range(60)]) for sd in (0.5, 3.0, 20.0)
    )
    assert careful == pytest.approx(CLICK_SD_PX, abs=0.05)  # never better than a careful hand
    assert rough == pytest.approx(3.0, rel=0.15)
    assert wild == pytest.approx(MOST_CLICK_SD_PX, abs=0.05)


def test_of_four_landmarks_that_little_speaks_of_a_quick_hand_is_supposed():
    """Ten are the work of a careful one."""
    c = camera()
    nothing = click_sd(points(c, names=REQUIRED_LANDMARKS), [], scale_px=1.0)
    assert 2.0 < nothing < 3.0
    assert click_sd(points(c), [], scale_px=1.0) < 1.6
    usual = [click_sd(points(c, names=LANDMARK_NAMES[:n]), [], scale_px=1.0) for n in (4, 5, 6, 7, 8, 12)]
    assert usual == sorted(usual, reverse=True) and usual[4] == usual[5] < usual[2] < usual[0]
    vague = [SeenPoint(n, xy, 40.0) for n, xy in zip(LANDMARK_NAMES, c.project(PLACES_MM), strict=True)]
    assert click_sd(points(c, names=REQUIRED_LANDMARKS), vague, scale_px=1.0) == pytest.approx(nothing, rel=0.02)
    # where the pictures tell the places well, four are judged by themselves
    assert click_sd(points(c, names=REQUIRED_LANDMARKS), seen(c, 0.3), scale_px=1.0) < 1.4
    far = points(c, np.random.default_rng(4), 4.0, REQUIRED_LANDMARKS)
    assert click_sd(far, seen(c, 0.3), scale_px=1.0) > 3.0
    # half the picture, half the pixels
    half = {n: (0.5 * x, 0.5 * y) for n, (x, y) in far.items()}
    there = [SeenPoint(p.name, 0.5 * p.place, 0.5 * p.sd_px) for p in seen(c, 0.3)]
    assert click_sd(half, there, scale_px=0.5) == pytest.approx(click_sd(far, seen(c, 0.3), scale_px=1.0))


def test_a_landmark_that_the_pictures_have_wrong_says_nothing_of_the_hand():
    c = camera()
    wrong = [SeenPoint(p.name, p.place + (30.0 if k == 2 else 0.0), p.sd_px) for k, p in enumerate(seen(c, 1.0))]
    assert click_sd(points(c), wrong, scale_px=1.0) < 1.2 * click_sd(points(c), seen(c, 1.0), scale_px=1.0)


def off_at_the_board(told: Camera, truth: Camera) -> float:
    return float(np.linalg.norm(told.project(PLACES_MM) - truth.project(PLACES_MM), axis=1).max())


def test_seen_landmarks_put_right_what_four_rough_clicks_left():
    truth, rng = camera(), np.random.default_rng(5)
    alone, together = [], []
    for _ in range(12):
        rough = points(truth, rng, 3.0, REQUIRED_LANDMARKS)
        alone.append(off_at_the_board(fit_landmarks(MODEL, rough, size=SIZE, click_sd_px=3.0).camera, truth))
        [fit] = fit_moments(MODEL, [rough], size=SIZE, seen=[seen(truth)], click_sd_px=[3.0])
        together.append(off_at_the_board(fit.camera, truth))
        assert set(fit.errors_px) == set(REQUIRED_LANDMARKS)  # how far the hand's own landmarks are off
    assert np.median(together) < 0.15 * np.median(alone)


def test_a_landmark_counts_by_how_well_it_is_known():
    truth = camera()
    moved = points(truth)
    moved["bridge_bass"] = (moved["bridge_bass"][0] + 6.0, moved["bridge_bass"][1])
    trusted, doubted = (
        fit_landmarks(MODEL, moved, size=SIZE, click_sd_px={"bridge_bass": sd}).errors_px["bridge_bass"] for sd in (0.2, 9.0)
    )
    assert trusted < 0.3 * doubted
    marked = CalibrationFrame(moved, truth, click_sd_px={"bridge_bass": 9.0})
    plain = CalibrationFrame(moved, truth)
    turned = [np.abs(from_landmarks(MODEL, [m], scale_px=1.0, lens=LensPrior(truth.focal)).values[:3]).max() for m in (marked, plain)]
    assert turned[0] < turned[1]


def test_seen_landmarks_narrow_what_is_not_known_of_the_take():
    truth = camera()
    four = points(truth, names=REQUIRED_LANDMARKS)
    without, with_ = (
        np.sqrt(
            np.diag(from_landmarks(MODEL, [CalibrationFrame(four, truth, seen=s)], scale_px=1.0, lens=LensPrior(truth.focal)).covariance)
        )
        for s in ((), seen(truth))
    )
    assert (with_[:6] < 0.7 * without[:6]).all()
    shifted = [SeenPoint(p.name, p.place + RIGHT, p.sd_px) for p in seen(truth)]
    told = from_landmarks(
        MODEL, [CalibrationFrame(four, truth, seen=shifted, click_sd_px=500.0)], scale_px=1.0, lens=LensPrior(truth.focal)
    )
    _, poses = at(MODEL, Poses.of([truth]), told.values)
    assert poses.see(PLACES_MM[None, :4])[0] == pytest.approx(truth.project(PLACES_MM[:4]) + RIGHT, abs=0.8)


def test_the_best_pose_is_told_however_bad_it_is():
    wrong = points(camera())
    wrong["nut_bass"] = (wrong["nut_bass"][0] + 40.0, wrong["nut_bass"][1] - 30.0)
    told = best_pose(MODEL, wrong, size=SIZE, sd_px=1.5)
    assert max(told.errors_px, key=told.errors_px.get) == "nut_bass"
    exact = best_pose(MODEL, points(camera()), size=SIZE, sd_px=1.5)
    assert exact.rms_px < 0.05


def test_what_the_net_has_in_common_counts_once_for_all_marked_frames():
    truth = camera()
    one, three = (carried_over(MODEL, looks(truth, truth), truth, scale_px=1.0, alike=n) for n in (1, 3))
    assert [b.sd_px / a.sd_px for a, b in zip(one, three, strict=True)] == pytest.approx([np.sqrt(3)] * 12)


def test_landmarks_count_less_where_the_top_is_seen_edge_on():
    """The cosine of 60 degrees over that of the view: by hand 1 up to 60 degrees, 0.5 / cos 75 = 1.93 at 75."""
    for degrees, worse in ((0.0, 1.0), (59.0, 1.0), (75.0, 1.932)):
        tip = np.radians(180 - degrees)
        view = Camera(np.array([tip, 0.0, 0.0]), np.array([0.0, 0.0, 2000.0]), 1300.0, (640.0, 360.0))
        assert steepness(view, np.zeros(3)) == pytest.approx(worse, abs=0.01)


def test_a_cellos_bridge_and_nut_are_known_less_well():
    cello = InstrumentModel(instrument("cello 4/4"))
    assert learnt_sd(cello, "nut_bass") > 2 * learnt_sd(MODEL, "nut_bass")
    assert learnt_sd(MODEL, "bridge_treble") == LEARNT_SD_PX["bridge"]


def test_both_ends_that_err_alike_count_as_one():
    """On cellos bridge and nut are told too far along the strings at both ends alike; where only one end is seen nothing changes."""
    cello = InstrumentModel(instrument("cello 4/4"))
    turn = rotation_vector(rotation_of(np.array([2.2, 0.6, -0.5])))
    view = Camera(turn, np.array([-200.0, 20, 3200]), 1300.0, (640.0, 360.0))
    shown = view.project(np.array([cello.landmarks[n] for n in LANDMARK_NAMES]))
    both = carried_over(cello, [LandmarkLook(float(t), view, shown, np.ones(12)) for t in range(8)], view, scale_px=1.0)
    share = np.where(np.array(LANDMARK_NAMES) == "nut_bass", 0.0, 1.0)
    one = carried_over(cello, [LandmarkLook(float(t), view, shown, share) for t in range(8)], view, scale_px=1.0)
    sd = [{p.name: p.sd_px for p in found} for found in (both, one)]
    assert sd[0]["nut_treble"] == pytest.approx(np.sqrt(2) * sd[1]["nut_treble"])
    assert sd[0]["bridge_bass"] == sd[1]["bridge_bass"] and sd[0]["board_bass"] == sd[1]["board_bass"]
    assert sd[0]["bridge_bass"] / sd[0]["board_bass"] == pytest.approx(
        np.sqrt(2) * learnt_sd(cello, "bridge_bass") / learnt_sd(cello, "board_bass")
    )
