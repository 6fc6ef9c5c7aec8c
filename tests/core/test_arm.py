"""The arm as a chain, the staircase, the joint shares, posture: simulated arms and hand-computed cases."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dolcezza.core.arm.chain import ArmSeen, joints, true_shoulder, upper_arm_level
from dolcezza.core.arm.chain_fit import fit_chain
from dolcezza.core.arm.figures import measure_arm, shoulder_rise
from dolcezza.core.arm.joint_contributions import bow_travel, contributions_by_speed, contributions_by_third, joint_travel, shares_of
from dolcezza.core.arm.staircase import StairShape, stair_shape, staircase
from dolcezza.core.arm.trunk import trunk_down, upright
from dolcezza.core.body.points import ARMS, BodySeen, bow_arm
from dolcezza.core.body.proportions import FOREARM, UPPER_ARM, build, stature
from dolcezza.core.camera.poses import Poses
from dolcezza.core.instrument.catalog import instrument
from player_support import MODEL, PERSON, VIEW, body_at, true_arm
from tests_support import series_from


def seen_arm(view, arm, rng, noise=6.0, bias=(8.0, -5.0)) -> ArmSeen:
    n = len(arm[0])
    elbow = view.see(arm[1]) + bias + rng.normal(0, noise, (n, 2))
    return ArmSeen(view.see(arm[0]) + rng.normal(0, noise, (n, 2)), elbow, np.full((n, 2), np.nan), np.zeros(n, bool), 0.29)


def test_the_chain_finds_shoulder_elbow_and_level_of_a_simulated_arm():
    _, view, hand, arm = true_arm()
    chain = fit_chain(PERSON, view, hand, seen_arm(view, arm, np.random.default_rng(1)))
    shoulder, elbow, wrist, _ = joints(view, hand, chain.numbers, chain.turn)
    arm_px = (PERSON.upper_arm + PERSON.forearm) * VIEW.focal / VIEW.tvec[2]
    for found, true in zip((shoulder, elbow, wrist), arm[:3], strict=True):
        assert np.median(np.linalg.norm(view.see(found) - view.see(true), axis=1)) < 0.05 * arm_px
    level, truth = upper_arm_level(shoulder, elbow, view.down), upper_arm_level(arm[0], arm[1], view.down)
    assert np.median(np.abs(level - truth)) < 6.0
    sd = np.sqrt((chain.level_error**2).sum(axis=1))
    assert np.mean(np.abs(level - truth) < 2 * sd) > 0.9
    assert np.allclose(np.linalg.norm(elbow - shoulder, axis=1), chain.upper_arm)
    assert np.allclose(np.linalg.norm(wrist - elbow, axis=1), chain.forearm, atol=1.0)


def test_an_elbow_that_goes_with_the_stroke_is_followed():
    """It rises towards the frog (common practice, no source): a turn within each stroke is no hurry of the arm to be smoothed away."""
    place, view, hand, _ = true_arm()
    numbers = np.concatenate([PERSON.shoulder, np.log([PERSON.upper_arm, PERSON.forearm]), PERSON.wrist])
    turned = {}
    for slope in (0.0, 0.3, 0.6):
        arm = joints(view, hand, numbers, 0.2 + slope * (place - 0.5))
        chain = fit_chain(PERSON, view, hand, seen_arm(view, arm, np.random.default_rng(3), noise=4.0))
        turned[slope] = chain.turn[place > 0.8].mean() - chain.turn[place < 0.2].mean()
    assert turned[0.3] == pytest.approx(0.75 * 0.3, abs=0.12), "what is usual"
    assert turned[0.0] < turned[0.3] - 0.03 < turned[0.6] - 0.06, "and what the picture shows besides"


def test_a_joint_set_by_hand_wins_and_pulls_its_neighbours_along():
    _, view, hand, arm = true_arm()
    seen = seen_arm(view, arm, np.random.default_rng(2))
    plain = fit_chain(PERSON, view, hand, seen)
    before = view.see(joints(view, hand, plain.numbers, plain.turn)[1])
    place = before[30] + [0.0, 26.0]
    own = seen.by_hand.copy()
    own[30] = True
    elbow = seen.elbow.copy()
    elbow[30] = place
    mended = fit_chain(PERSON, view, hand, ArmSeen(seen.shoulder, elbow, seen.wrist, own, seen.apart_s))
    after = view.see(joints(view, hand, mended.numbers, mended.turn)[1])
    assert np.linalg.norm(after[30] - place) < 0.5 * np.linalg.norm(before[30] - place)
    assert np.linalg.norm(after[31] - before[31]) > 2.0


@pytest.mark.parametrize(
    ("arm", "degrees"), [((0, 0, 1), 0.0), ((1, 0, 0), 90.0), ((0, 0, -1), 180.0), ((1, 0, 1), 45.0), ((0, 1, -1), 135.0)]
)
def test_elevation_is_that_of_the_standard(arm, degrees):
    """ISB, Wu et al. 2005: humerothoracic elevation, 0 hanging along the trunk, 90 square to it, whatever the plane (from memory)."""
    level = upper_arm_level(np.zeros((1, 3)), np.array([arm], float) * 300, np.array([[0.0, 0, 1]]))
    assert level[0] == pytest.approx(degrees)


def test_segments_are_those_of_the_handbook():
    """Drillis and Contini 1964: upper arm 0.186, forearm 0.146 of stature (from memory). Sizes: common practice, no source."""
    assert (UPPER_ARM, FOREARM) == (0.186, 0.146)
    assert build(MODEL).upper_arm == pytest.approx(0.186 * stature("violin", 1.0))
    heights = [stature("violin", instrument(f"violin {s}").body_scale) for s in ("1/16", "1/8", "1/4", "1/2", "3/4", "4/4")]
    assert heights == sorted(heights)
    assert 950 < heights[0] < 1100 and 1600 < heights[-1] < 1800


def test_the_whole_arm_of_a_record_is_told_for_every_frame_with_a_bow():
    n = 90
    place, view, _, arm = true_arm(n)
    t = np.arange(n) / 30
    series = series_from(t, place)
    series.values["inclination_deg"][:] = MODEL.string_planes[1]
    frog = (
        MODEL.string_point(1, np.full(n, 28.0))
        - MODEL.bow_direction(np.zeros(n), np.full(n, MODEL.string_planes[1])) * (place * MODEL.spec.hair_length)[:, None]
    )
    frog_px = view.see(np.einsum("nij,nj->ni", view.rotation, frog) + view.translation)
    series.values["frog_x_px"], series.values["frog_y_px"] = frog_px.T
    poses = Poses(view.rotation, view.translation, VIEW.focal, VIEW.center)
    looks = np.arange(0, n, 8)
    seen = BodySeen(t[looks], body_at(view, arm, n)[looks], np.ones((len(looks), 33)))
    series.values["bow_position"][40:43] = np.nan
    got = measure_arm(MODEL, series, poses, seen)
    truth = upper_arm_level(arm[0], arm[1], view.down)
    assert np.isfinite(got.columns["elbow_level_deg"]).all(), "a gap of a tenth of a second is carried"
    assert np.median(np.abs(got.columns["elbow_level_deg"] - truth)) < 8.0
    assert got.arm == "right"
    travel = np.column_stack([got.columns[f"{j}_travel_mm"] for j in ("shoulder", "elbow", "wrist")])[1:]
    whole, way = travel.sum(axis=1)[5:35], np.diff(place)[5:35] * MODEL.spec.hair_length
    assert np.corrcoef(whole, way)[0, 1] > 0.85, "what the joints do together is the bow's way, as far as it lies in their plane"
    assert 0.7 < np.abs(whole).sum() / np.abs(way).sum() < 1.3
    assert 8.0 < got.posture["clock"].value < 12.5
    assert abs(got.posture["neck_deg"].value) < 4.0
    upper, fore = arm[1] - arm[0], arm[2] - arm[1]
    inner = np.degrees(np.arccos(-(upper * fore).sum(axis=1) / np.linalg.norm(upper, axis=1) / np.linalg.norm(fore, axis=1)))
    assert np.median(np.abs(got.columns["forearm_angle_deg"] - inner)) < 8.0
    own = np.einsum("nji,nj->ni", view.rotation, arm[1] - view.translation) - MODEL.string_point(1, np.full(n, 28.0))
    lean = np.radians(MODEL.string_planes[1])
    over = own @ np.array([0.0, -np.sin(lean), np.cos(lean)])
    assert np.median(np.abs(got.columns["elbow_to_bow_plane_mm"] - over)) < 35.0
    line = view.see(arm[0] + 50 * view.down) - view.see(arm[0])
    line /= np.linalg.norm(line, axis=1, keepdims=True)
    higher = -((view.see(arm[1]) - view.see(arm[0])) * line).sum(axis=1) / (PERSON.upper_arm * VIEW.focal / arm[0][:, 2])
    assert np.median(np.abs(got.columns["elbow_height"] - higher)) < 0.15
    ahead, right = view.rotation @ PERSON.ahead, np.cross(view.down, view.rotation @ PERSON.ahead)
    swing = np.degrees(np.arctan2((upper * right).sum(axis=1), (upper * ahead).sum(axis=1)))
    assert np.median(np.abs(got.columns["upper_arm_swing_deg"] - swing)) < 15.0
    rare = BodySeen(seen.t_s[[0, 1, 2, 3, 4, 11]], seen.points[[0, 1, 2, 3, 4, 11]], seen.visible[:6])
    gap = measure_arm(MODEL, series, poses, rare).columns["elbow_level_deg"]
    assert np.isfinite(gap[:40]).all()
    far = series_from(np.arange(n) / 10, place)
    far.values.update({"inclination_deg": series["inclination_deg"], "frog_x_px": frog_px[:, 0], "frog_y_px": frog_px[:, 1]})
    late = BodySeen(3 * rare.t_s, rare.points, rare.visible)
    lost = measure_arm(MODEL, far, poses, late).columns["elbow_level_deg"]
    assert np.isnan(lost[58:62]).all() and np.isfinite(lost[:40]).all(), "seconds from any look the arm is not told"
    nobody = BodySeen(seen.t_s, np.full_like(seen.points, np.nan), seen.visible)
    assert measure_arm(MODEL, series, poses, nobody) is None
    assert measure_arm(MODEL, series, poses, nobody, [(1.0, {"elbow": np.array([300.0, 300.0])})]) is None


def test_the_bow_says_which_arm_it_is():
    points = np.zeros((4, 33, 2))
    points[:, 15], points[:, 16] = [100.0, 100.0], [500.0, 300.0]
    seen = BodySeen(np.arange(4.0), points, np.ones((4, 33)))
    assert bow_arm(seen, np.full((4, 2), 120.0)) == "left"
    assert bow_arm(seen, np.tile([480.0, 310.0], (4, 1))) == "right"


def test_the_hand_that_holds_the_bow_is_the_one_that_is_never_far_from_its_frog():
    """On most moments the bow is at the frog, before the other hand: nearer to that than a hand's length is to the wrist that holds it."""
    points = np.full((7, 33, 2), 300.0)
    frog = np.array([[700.0, 300.0]] * 4 + [[450.0, 450.0]] * 3)
    points[:, ARMS["right"][2]] = frog - np.array([80.0, 0.0])
    points[:, ARMS["left"][2]] = [720.0, 310.0]
    seen = BodySeen(np.arange(7.0), points, np.ones((7, 33)))
    apart = {side: np.linalg.norm(points[:, ids[2]] - frog, axis=1) for side, ids in ARMS.items()}
    assert np.median(apart["left"]) < np.median(apart["right"])
    assert bow_arm(seen, frog) == "right"
    # looks at which the model takes one side for the other do not change it
    points[1, [ARMS["right"][2], ARMS["left"][2]]] = points[1, [ARMS["left"][2], ARMS["right"][2]]]
    assert bow_arm(seen, frog) == "right"


def test_hips_in_the_picture_put_the_trunk_right():
    n = 6
    _, view, _, arm = true_arm(n)
    seen = BodySeen(np.arange(n) / 3.0, body_at(view, arm, n), np.ones((n, 33)))
    tilted = np.radians(15)
    hips = seen.points[:, [23, 24]] - seen.points[:, [11, 12]].mean(axis=1, keepdims=True)
    turn = np.array([[np.cos(tilted), -np.sin(tilted)], [np.sin(tilted), np.cos(tilted)]])
    seen.points[:, [23, 24]] = seen.points[:, [11, 12]].mean(axis=1, keepdims=True) + hips @ turn.T
    down = trunk_down(PERSON, view.rotation, view.translation, VIEW.focal, VIEW.center, seen)
    unseen = BodySeen(seen.t_s, seen.points, np.zeros((n, 33)))
    usual = trunk_down(PERSON, view.rotation, view.translation, VIEW.focal, VIEW.center, unseen)
    assert np.allclose(usual, view.down)
    apart = np.degrees(np.arccos(np.einsum("ni,ni->n", down, view.down)))
    assert 8.0 < apart.mean() < 17.0


def test_a_body_with_its_hips_above_its_shoulders_is_not_this_player():
    """Legs were taken for arms, and a scroll that stands higher than the bridge was told to hang 65 degrees below it, surely."""
    n = 6
    _, view, _, arm = true_arm(n)
    seen = BodySeen(np.arange(n) / 3.0, body_at(view, arm, n), np.ones((n, 33)))
    poses = Poses(view.rotation, view.translation, VIEW.focal, VIEW.center)
    middle = seen.points[:, [11, 12]].mean(axis=1, keepdims=True)
    hips = seen.points[:, [23, 24]] - middle
    seen.points[2:4, [23, 24]] = (middle - hips)[2:4]
    leans = np.radians(40)
    turn = np.array([[np.cos(leans), -np.sin(leans)], [np.sin(leans), np.cos(leans)]])
    seen.points[4, [23, 24]] = (middle + hips @ turn.T)[4]
    assert upright(PERSON, poses, seen).tolist() == [True, True, False, False, True, True]
    seen.visible[:, [23, 24]] = 0.0
    assert upright(PERSON, poses, seen).all(), "hips that are not in the picture say nothing"


def test_the_joint_lies_below_and_outside_of_the_point_on_the_outline():
    moved = true_shoulder(np.array([[300.0, 200.0]]), np.array([[500.0, 200.0]]), np.array([[0.0, 1.0]]), 400.0)
    assert moved[0, 0] < 300 and moved[0, 1] > 200


def test_a_raised_shoulder_comes_nearer_to_the_ears():
    n = 5
    _, view, _, arm = true_arm(n)
    body = BodySeen(np.arange(n) / 3.0, body_at(view, arm, n), np.ones((n, 33)))
    down = np.tile([0.0, 1.0], (n, 1))
    before = shoulder_rise(body, "right", down)
    body.points[2:, 12, 1] -= 20.0
    assert (shoulder_rise(body, "right", down)[2:] > before[2:] + 0.02).all()


# staircase


def record(levels: dict[str, float], rise=20.0, n=30):
    """Frames of each string from frog to tip; the elbow ``rise`` degrees higher at the frog."""
    place = np.tile(np.linspace(0.02, 0.98, n), len(levels))
    names = [s for s in levels for _ in range(n)]
    level = np.array([levels[s] for s in names]) + rise * (1 - place)
    return level, np.zeros((len(level), 1)), np.full(len(level), 3.0), names, place


def test_an_even_staircase_and_its_steps():
    found = staircase(*record({"E": 30, "A": 50, "D": 72, "G": 91}), order="EADG")
    assert [s.string for s in found.stairs] == list("EADG")
    assert found.steps == pytest.approx((20, 22, 19), abs=0.1)
    assert found.shape is StairShape.EVEN
    assert found.stairs[0].thirds[0] > found.stairs[0].thirds[2]


def test_like_is_compared_with_like():
    """Elbows also rise towards the frog (common practice, no source): a string played at the frog only is not a higher step."""
    level, error, sd, names, place = record({"E": 40, "A": 40}, rise=30.0)
    keep = np.array([(s == "E" and p > 0.34) or (s == "A" and p < 0.66) for s, p in zip(names, place, strict=True)])
    found = staircase(level[keep], error[keep], sd[keep], [s for s, k in zip(names, keep, strict=True) if k], place[keep], order="EA")
    assert abs(found.steps[0]) < 2.0, "the middle thirds are the same"
    assert found.stairs[1].level - found.stairs[0].level > 8
    assert found.shape is StairShape.FLAT


@pytest.mark.parametrize(
    ("steps", "shape"),
    [
        ((20, 19, 22), "even"),
        ((2, 1, 3), "flat"),
        ((-9, -12), "reversed"),
        ((30, -12, 25), "broken"),
        ((40, 3, 38), "broken"),
        ((), "cannot tell"),
    ],
)
def test_shapes_of_staircases(steps, shape):
    assert stair_shape(steps, [2.0] * len(steps)) == shape


def test_an_error_that_all_levels_share_falls_out_of_the_steps():
    level, _, sd, names, place = record({"D": 60, "G": 80})
    shared = staircase(level, np.full((len(level), 1), 9.0), sd, names, place, order="DG")
    own = staircase(level, np.where(np.array(names) == "G", 9.0, 0.0)[:, None], sd, names, place, order="DG")
    assert shared.step_sd[0] < 3.0 < 8.0 < own.step_sd[0]


# joint shares


def planar_arm(shoulder: np.ndarray, elbow: np.ndarray, wrist: np.ndarray) -> np.ndarray:
    """Joints (n, 4, 2) from joint angles (n,) rad: upper arm in space, forearm and hand each against the limb before."""
    lengths = (300.0, 250.0, 90.0)
    heading = np.cumsum(np.column_stack([shoulder, elbow, wrist]), axis=1)
    steps = np.stack([np.cos(heading), np.sin(heading)], axis=-1) * np.array(lengths)[None, :, None]
    return np.concatenate([np.zeros((len(shoulder), 1, 2)), np.cumsum(steps, axis=1)], axis=1)


def shares(flat: np.ndarray) -> tuple[float, ...]:
    way = flat[-1, 3] - flat[0, 3]
    along = np.tile(way / np.linalg.norm(way), (len(flat), 1))
    travel = joint_travel(flat, along)
    return shares_of(travel, np.ones(len(travel), bool)).shares


def test_a_hinge_is_all_elbow_and_a_rigid_swing_all_shoulder():
    t, still = np.linspace(0, 0.9, 40), np.zeros(40)
    assert shares(planar_arm(still + 0.5, 0.6 + t, still + 0.2)) == pytest.approx((0, 1, 0), abs=1e-6)
    assert shares(planar_arm(t, still + 0.7, still + 0.2)) == pytest.approx((1, 0, 0), abs=1e-6)
    assert shares(planar_arm(still, still + 0.7, t - 0.3)) == pytest.approx((0, 0, 1), abs=1e-6)


@settings(max_examples=40, deadline=None)
@given(st.floats(-0.6, 0.6), st.floats(-0.6, 0.6), st.floats(-0.6, 0.6))
def test_shares_add_to_the_whole_way(a, b, c):
    t = np.linspace(0, 1, 30)
    flat = planar_arm(0.4 + a * t, 0.7 + b * t**2, 0.1 + c * t)
    along = np.tile([0.6, 0.8], (30, 1))
    travel = joint_travel(flat, along)
    assert travel.sum() == pytest.approx(((flat[-1, 3] - flat[0, 3]) @ along[0]), abs=0.6)


def test_shares_in_space_by_third_and_by_speed():
    """A hinge laid anywhere in space: all elbow, in every third and at every speed it is played."""
    n = 80
    flat = planar_arm(np.full(n, 0.5), 0.5 + 0.5 * (1 - np.cos(np.linspace(0, np.pi, n))), np.full(n, 0.2))
    turn = np.linalg.qr(np.random.default_rng(3).normal(size=(3, 3)))[0]
    joints_mm = np.concatenate([flat, np.zeros((n, 4, 1))], axis=2) @ turn.T + [100, 50, 900]
    along = -np.gradient(joints_mm[:, 3], axis=0)
    along /= np.linalg.norm(along, axis=1, keepdims=True)
    travel = bow_travel(joints_mm, along)
    assert np.isnan(travel[0]).all()
    way = np.nancumsum(travel.sum(axis=1))
    thirds = contributions_by_third(travel, way / way[-1], np.ones(n, bool))
    assert all(s.shares == pytest.approx((0, 1, 0), abs=0.02) and s.leader == "elbow" for s in thirds.values())
    speeds = contributions_by_speed(travel, np.full(n, 35.0), np.ones(n, bool))
    assert speeds["slow"] is None and speeds["fast"] is None and speeds["medium"].shares[1] == pytest.approx(1, abs=0.02)


def test_a_model_that_has_looked_at_a_chair_for_half_of_the_take_is_not_believed_there():
    n = 90
    place, view, _, arm = true_arm(n)
    series = series_from(np.arange(n) / 30, place)
    series.values["inclination_deg"][:] = MODEL.string_planes[1]
    way = MODEL.bow_direction(np.zeros(n), np.full(n, MODEL.string_planes[1])) * (place * MODEL.spec.hair_length)[:, None]
    frog = MODEL.string_point(1, np.full(n, 28.0)) - way
    series.values["frog_x_px"], series.values["frog_y_px"] = view.see(np.einsum("nij,nj->ni", view.rotation, frog) + view.translation).T
    poses = Poses(view.rotation, view.translation, VIEW.focal, VIEW.center)
    looks = np.arange(0, n, 4)
    points = body_at(view, arm, n)[looks]
    clean = measure_arm(MODEL, series, poses, BodySeen(series.t[looks], points, np.ones((len(looks), 33))))
    chair = points.copy()
    # the wrist is where it was, shoulders, elbow and hips are not
    chair[:12, [11, 12, 13, 14, 23, 24]] += [-190.0, 60.0]
    mixed = measure_arm(MODEL, series, poses, BodySeen(series.t[looks], chair, np.ones((len(looks), 33))))
    told = mixed.columns["elbow_level_deg"][60:]
    assert np.abs(told - clean.columns["elbow_level_deg"][60:]).max() < 6.0
    assert abs(mixed.posture["clock"].value - clean.posture["clock"].value) < 0.3
    hanging = points.copy()
    hanging[:12, [23, 24]] = 2 * points[:12, [11, 12]].mean(axis=1, keepdims=True) - points[:12, [23, 24]]
    half = measure_arm(MODEL, series, poses, BodySeen(series.t[looks], hanging, np.ones((len(looks), 33))))
    assert half.posture["neck_deg"].value == pytest.approx(clean.posture["neck_deg"].value, abs=1.0), "half of the looks are upside down"
    upside = 2 * points[:, [11, 12]].mean(axis=1, keepdims=True) - points[:, [23, 24]]
    never = points.copy()
    never[:, [23, 24]] = upside
    assert measure_arm(MODEL, series, poses, BodySeen(series.t[looks], never, np.ones((len(looks), 33)))) is None
    everywhere = points.copy()
    everywhere[:, [11, 12, 13, 14, 23, 24]] += [-90.0, 30.0]
    assert measure_arm(MODEL, series, poses, BodySeen(series.t[looks], everywhere, np.ones((len(looks), 33)))) is not None, "a way to stand"
