"""Another phone's look at the player: where it stands, the arm and the trunk by both pictures. Simulated players, projected by OpenCV."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest

from dolcezza.core.arm.beside import CLOCK, Beside
from dolcezza.core.arm.chain import ArmSeen, View, upper_arm_level
from dolcezza.core.arm.chain_fit import fit_chain
from dolcezza.core.arm.figures import measure_arm
from dolcezza.core.arm.other_phone import at_moments
from dolcezza.core.arm.posture import MEANINGS, PostureFigure, posture_joined
from dolcezza.core.arm.standing import OtherPhone, standing
from dolcezza.core.arm.trunk import TRUNK_SD_DEG, TrunkLine, of_trunk, trunk_between
from dolcezza.core.base.geometry import rotation_of
from dolcezza.core.body.points import BodySeen
from dolcezza.core.camera.lens import Camera, LensPrior
from dolcezza.core.camera.poses import Poses
from dolcezza.core.pipeline.clocks import Clocks
from player_support import MODEL, PERSON, VIEW, body_at, true_arm
from tests_support import camera_at, series_from

SIDE = camera_at(MODEL, 38.0, 14.0, focal=1150.0)
"""Where the second phone stands: fifty degrees to the other side, lower."""
N = 120
T = np.arange(N) / 30
LOOKS = np.arange(0, N, 6)


def into(camera: Camera, points: np.ndarray) -> np.ndarray:
    """Points (n, 3) of the first camera's space in that of another camera, by the instrument that both see."""
    return (points - VIEW.tvec) @ VIEW.rotation @ camera.rotation.T + camera.tvec


def player(*, noise: float = 0.0, bias: float = 0.0, seed: int = 0):
    """A record of whole bows, what both phones' models see of the player (px off by ``noise`` and, all through the take, ``bias``), and
    the arm's true level."""
    rng = np.random.default_rng(seed)
    place, view, _, arm = true_arm(N)
    series = series_from(T, place)
    series.values["inclination_deg"][:] = MODEL.string_planes[1]
    way = MODEL.bow_direction(np.zeros(N), np.full(N, MODEL.string_planes[1])) * (place * MODEL.spec.hair_length)[:, None]
    frog = MODEL.string_point(1, np.full(N, 28.0)) - way
    series.values["frog_x_px"], series.values["frog_y_px"] = view.see(np.einsum("nij,nj->ni", view.rotation, frog) + view.translation).T
    there = View(
        np.tile(SIDE.rotation, (N, 1, 1)), np.tile(SIDE.tvec, (N, 1)), SIDE.focal, SIDE.center,
        np.tile(SIDE.rotation @ VIEW.rotation.T @ view.down[0], (N, 1)),
    )  # fmt: skip
    bodies = []
    for one, joints in ((view, arm[:3]), (there, tuple(into(SIDE, j) for j in arm[:3]))):
        points = body_at(one, joints, N)[LOOKS]
        points = points + rng.normal(0, noise, points.shape) + rng.normal(0, bias, (1, *points.shape[1:]))
        bodies.append(BodySeen(T[LOOKS], points, np.ones(points.shape[:2])))
    return series, view, bodies, upper_arm_level(arm[0], arm[1], view.down), arm


def measured(series, view, own: BodySeen, others: list[OtherPhone]):
    return measure_arm(MODEL, series, Poses(view.rotation, view.translation, VIEW.focal, VIEW.center), own, (), others)


def marked(body: BodySeen) -> OtherPhone:
    """A second phone that shows the instrument too."""
    poses = Poses(np.tile(SIDE.rotation, (len(body), 1, 1)), np.tile(SIDE.tvec, (len(body), 1)), SIDE.focal, SIDE.center)
    return OtherPhone(body, poses, LensPrior(SIDE.focal), SIDE.center, 0.004)


def unmarked(body: BodySeen) -> OtherPhone:
    """A second phone of which nothing is known but what it shows of the player, and a lens as phones have them."""
    return OtherPhone(body, None, LensPrior(1.1 * SIDE.focal), SIDE.center, 0.03)


NOBODY = BodySeen.of([], [])


def test_a_camera_is_told_by_points_of_which_a_third_are_wrong():
    rng = np.random.default_rng(3)
    points = rng.normal(0, 250, (80, 3)) + np.array([0, 0, 2000.0])
    turn, shift = np.array([0.1, 0.8, -0.2]), np.array([900.0, 100.0, 600.0])
    lens = np.array([[900.0, 0, 640], [0, 900.0, 360], [0, 0, 1]])
    seen = cv2.projectPoints(points, turn, shift, lens, None)[0][:, 0] + rng.normal(0, 3, (80, 2))
    seen[::3] += rng.uniform(-300, 300, (27, 2))
    rotation, translation, share = standing(points, seen, focal=900.0, center=(640.0, 360.0))
    off = np.linalg.norm(cv2.Rodrigues(rotation @ rotation_of(turn).T)[0])
    assert np.degrees(off) < 3.0 and translation == pytest.approx(shift, abs=80.0)
    assert 0.6 < share < 0.95
    assert standing(points, rng.uniform(0, 1000, (80, 2)), focal=900.0, center=(640.0, 360.0)) is None, "points that belong to nothing"
    assert standing(points[:5], seen[:5], focal=900.0, center=(640.0, 360.0)) is None, "five are too few"


@pytest.mark.parametrize("phone", [marked, unmarked])
def test_two_pictures_tell_the_elbow_better_than_one(phone):
    alone, both, sds = [], [], []
    for seed in range(4):
        series, view, bodies, level, _ = player(noise=8.0, bias=14.0, seed=seed)
        one, two = measured(series, view, bodies[0], []), measured(series, view, bodies[0], [phone(bodies[1])])
        off = two.columns["elbow_level_deg"] - level
        alone.append(np.median(np.abs(one.columns["elbow_level_deg"] - level)))
        both.append(np.median(np.abs(off)))
        sds.append((np.median(one.columns["elbow_level_sd_deg"]), np.median(two.columns["elbow_level_sd_deg"])))
        assert (np.abs(off) < 2 * two.columns["elbow_level_sd_deg"]).mean() > 0.9
        assert 40.0 < two.between_deg < 70.0, "53 degrees apart as the bridge sees them, about as many as the shoulder does"
    assert np.mean(both) < 0.9 * np.mean(alone)
    assert all(two < 0.9 * one for one, two in sds), "and the ± says so"


def test_an_arm_that_the_first_phone_does_not_show_is_told_by_the_second():
    series, view, bodies, level, arm = player(noise=6.0, bias=8.0)
    told = measured(series, view, NOBODY, [unmarked(bodies[1])])
    off = told.columns["elbow_level_deg"] - level
    assert np.median(np.abs(off)) < 10.0 and (np.abs(off) < 2 * told.columns["elbow_level_sd_deg"]).all()
    assert np.isfinite(told.columns["shoulder_raise"]).all() and 8.0 < told.posture["clock"].value < 13.0
    assert measured(series, view, NOBODY, []) is None
    known = measured(series, view, NOBODY, [marked(bodies[1])])
    wrist = known.joints_mm[:, 2] @ VIEW.rotation.T + VIEW.tvec
    assert np.median(np.linalg.norm(wrist - arm[2], axis=1)) < 40.0


def test_an_arm_that_does_not_go_with_the_bow_is_not_used():
    series, view, bodies, _, _ = player(noise=4.0)
    rng = np.random.default_rng(1)
    other = replace(bodies[1], points=rng.uniform(100, 1100, bodies[1].points.shape))
    alone, told = measured(series, view, bodies[0], []), measured(series, view, bodies[0], [unmarked(other)])
    assert np.isnan(told.between_deg)
    assert told.columns["elbow_level_deg"] == pytest.approx(alone.columns["elbow_level_deg"])
    assert measured(series, view, NOBODY, [unmarked(other)]) is None


def test_looks_at_somebody_else_do_not_count():
    series, view, bodies, level, _ = player(noise=4.0)
    mixed = bodies[1].points.copy()
    mixed[4:9] += [350.0, -60.0]
    gaps = bodies[1].points.copy()
    gaps[4:9] = np.nan
    clean = measured(series, view, bodies[0], [marked(replace(bodies[1], points=gaps))]).columns["elbow_level_deg"]
    told = measured(series, view, bodies[0], [marked(replace(bodies[1], points=mixed))]).columns["elbow_level_deg"]
    assert told == pytest.approx(clean, abs=1.0), "about as if they had not been"
    assert np.median(np.abs(told - level)) < 6.0


def test_a_clock_that_is_a_little_off_is_put_right_by_the_arm_itself():
    series, view, bodies, _, _ = player(noise=2.0)
    late = replace(bodies[1], t_s=bodies[1].t_s + 0.04)
    told = measured(series, view, bodies[0], [unmarked(late)])
    assert told.chain.others[0][CLOCK] == pytest.approx(0.04, abs=0.02)
    # a clock that has the second 0.26 s behind the first, which is 0.3: what it shows at 2.3 s of its own is of 2 s
    clock = Clocks(0.26, 0.0, 0.04).put_right(float(told.chain.others[0][CLOCK]))
    assert clock.first(np.array([2.3])) == pytest.approx([2.0], abs=0.02)


def test_between_two_looks_a_body_goes_on_and_over_a_gap_it_is_not_known():
    points = np.zeros((4, 33, 2))
    points[:, :, 0] = np.array([0.0, 10.0, 20.0, 90.0])[:, None]
    seen = BodySeen(np.array([0.0, 0.2, 0.4, 1.8]), points, np.ones((4, 33)))
    told = at_moments(seen, np.array([-0.1, 0.1, 0.3, 1.0]))
    assert told.points[1:3, 5, 0] == pytest.approx([5.0, 15.0])
    assert told.found.tolist() == [False, True, True, False] and told.visible[0].max() == 0.0
    assert not at_moments(BodySeen.of([], []), np.array([0.0])).found.any()


def seen_from(turn: np.ndarray, down: np.ndarray, m: int = 6) -> TrunkLine:
    """The trunk's line in a camera turned by ``turn`` (3,) rad about the player's shoulders, 2 m away."""
    rotation = rotation_of(turn)
    shoulders = np.array([0.0, 0.0, 2000.0])
    start, end = shoulders, shoulders + 300.0 * rotation @ down
    xy = 1000.0 * np.array([start[:2] / start[2], end[:2] / end[2]]) + 500.0
    translation = shoulders - rotation @ shoulders
    return TrunkLine(
        np.tile(xy[0], (m, 1)), np.tile(xy[1] - xy[0], (m, 1)), np.tile(rotation, (m, 1, 1)), np.tile(translation, (m, 1)), 1000.0,
        (500.0, 500.0), np.full(m, 2000.0),
    )  # fmt: skip


def test_how_far_a_trunk_leans_to_the_camera_is_told_by_a_second_picture():
    """A player who leans 10 degrees towards the first camera: that one cannot tell, one from the side sees it."""
    down = np.array([0.0, np.cos(np.radians(10)), np.sin(np.radians(10))])
    upright = np.tile([0.0, 1.0, 0.0], (6, 1))
    front, side = seen_from(np.zeros(3), down), seen_from(np.array([0.0, np.radians(70), 0.0]), down)

    def apart(told: np.ndarray) -> float:
        return float(np.degrees(np.arccos(np.clip(told[0] @ down, -1, 1))))

    one, alone = trunk_between(upright, [front])
    two, both = trunk_between(upright, [front, side])
    assert apart(one) > 8.0 and apart(two) < 2.5
    assert np.degrees(np.sqrt(np.trace(both))) < 0.6 * np.degrees(np.sqrt(np.trace(alone)))
    # nothing seen: what is expected, with its own ±
    none, wide = trunk_between(upright, [])
    assert none == pytest.approx(upright) and np.degrees(np.sqrt(np.linalg.eigvalsh(wide)[1:])) == pytest.approx([9.0, 9.0])


def test_what_a_trunk_leaves_unknown_of_an_arm_lies_in_their_common_plane():
    arm, down = np.array([[100.0, 0.0, 0.0]]), np.array([[0.0, 1.0, 0.0]])
    assert of_trunk(arm, down, TRUNK_SD_DEG**2 * np.eye(3)) == pytest.approx([TRUNK_SD_DEG**2])
    assert of_trunk(arm, down, np.diag([4.0, 0.0, 25.0])) == pytest.approx([4.0]), "leaning square to the arm changes nothing"
    # an arm that hangs half: what lies along the trunk is no lean
    assert of_trunk(np.array([[100.0, 100.0, 0.0]]), down, np.diag([4.0, 49.0, 25.0])) == pytest.approx([4.0])


def test_another_view_is_turned_about_the_shoulder_and_then_shifted():
    one = Beside(
        np.tile(np.eye(3), (2, 1, 1)), np.zeros((2, 3)), 1000.0, (0.0, 0.0), ArmSeen(*[np.zeros((2, 2))] * 3, np.zeros(2, bool), 0.2),
        np.zeros((2, 3, 2)), np.ones(8), np.zeros((0, 3)), np.zeros((0, 2)),
    )  # fmt: skip
    shoulder, elbow = np.tile([0.0, 0.0, 2000.0], (2, 1)), np.tile([100.0, 0.0, 2000.0], (2, 1))
    # a quarter turn about the line of sight takes right to down
    more = np.array([0.0, 0.0, np.pi / 2, 5.0, 0.0, 0.0, 0.0, 0.0])
    assert one.into(elbow, shoulder, more) == pytest.approx(np.tile([5.0, 100.0, 2000.0], (2, 1)))
    assert one.see(elbow, shoulder, more)[0] == pytest.approx([2.5, 50.0])


def test_an_arm_of_which_nothing_is_seen_hangs():
    _, view, hand, _ = true_arm(20)
    nothing = ArmSeen(*[np.full((20, 2), np.nan)] * 3, np.zeros(20, bool), 0.2)
    chain = fit_chain(PERSON, view, hand, nothing)
    assert np.abs(chain.turn - PERSON.elbow_slope * (hand.place - 0.5)).max() < 0.1
    assert 10.0 < float(np.median(np.sqrt((chain.level_error**2).sum(axis=1)))) < 60.0, "and nobody knows it well"


def test_posture_of_two_pictures_counts_by_how_well_each_tells_it():
    own = {"clock": PostureFigure("clock", 10.0, 0.5, *MEANINGS["clock"], t_s=1.0, lines=(((0.0, 0.0), (1.0, 1.0)),))}
    other = {
        "clock": PostureFigure("clock", 11.0, 1.0, *MEANINGS["clock"], t_s=2.0),
        "neck_deg": PostureFigure("neck_deg", 5.0, 6.0, *MEANINGS["neck_deg"], t_s=2.0, lines=(((0.0, 0.0), (1.0, 1.0)),)),
    }
    told = posture_joined(own, other)
    assert told["clock"].value == pytest.approx(10.2) and told["clock"].sd == pytest.approx(np.sqrt(0.2)), "weights 4 to 1"
    assert told["clock"].t_s == 1.0 and told["clock"].lines == own["clock"].lines
    assert np.isnan(told["neck_deg"].t_s) and told["neck_deg"].lines == (), "its lines lie in the other picture"
