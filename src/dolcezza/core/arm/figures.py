"""The arm's figures for every frame: elbow level and height, distance from the bow's plane, forearm, wrist, swing, shoulder."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from dolcezza.core.arm.chain import ArmChain, ArmSeen, Hand, View, fit_chain, joints, true_shoulder, upper_arm_level
from dolcezza.core.arm.joint_contributions import JOINTS, bow_travel
from dolcezza.core.arm.posture import PostureFigure, posture
from dolcezza.core.arm.trunk import TRUNK_SD_DEG, trunk_down
from dolcezza.core.base.arrays import Array
from dolcezza.core.base.signals import fill_gaps
from dolcezza.core.body.points import ARMS, EAR_LEFT, EAR_RIGHT, BodySeen, bow_arm, other
from dolcezza.core.body.proportions import HAND, Build, build
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.camera.bow_view import hair_ends
from dolcezza.core.camera.lens import pinhole
from dolcezza.core.camera.poses import Poses
from dolcezza.core.instrument.model import InstrumentModel

FEWEST_SEEN = 5
"""Looked-at moments with the arm and the bow seen together, from which an arm is fitted."""
HOLDS_MM = 260.0
"""A wrist is no farther than this from the frog that its hand holds: a hand's length and what a pose model misses a wrist by."""
LONGEST_GAP_S = 0.7
"""How long the bow may be unseen while the arm is carried on."""
LONGEST_UNSEEN_S = 1.2
"""How far from a moment at which the arm was seen it is still told."""


@dataclass(frozen=True)
class ArmSeries:
    """One row a frame, n frames, NaN = not measured. ``columns`` by their names in the record; ``joints_mm`` (n, 4, 3): shoulder,
    elbow, wrist and frog in the instrument's frame; ``down`` (n, 3) the trunk's direction there; ``level_error`` (n, k) as
    in ``ArmChain``; ``arm`` the side of the body model that bows; ``posture`` over the take."""

    columns: dict[str, Array]
    joints_mm: Array
    down: Array
    level_error: Array
    chain: ArmChain
    arm: str
    posture: dict[str, PostureFigure]


SetJoints = Sequence[tuple[float, Mapping[str, Array]]]
"""Joints set by hand: time (s), and ``shoulder``, ``elbow``, ``wrist`` (2,) px where they were set."""


def measure_arm(model: InstrumentModel, series: BowSeries, poses: Poses, seen: BodySeen, by_hand: SetJoints = ()) -> ArmSeries | None:
    """Fit the arm over the take and tell its figures for every frame; None where there is too little to go on.

    What is set ``by_hand`` wins, and pulls the moments around it along.
    """
    t = series.t
    params, string, known = _bow(model, series)
    seen = _with_moments(seen, [m for m, _ in by_hand])
    if len(seen) == 0 or not known.any():
        return None
    at = np.clip(np.searchsorted(t, seen.t_s), 0, len(t) - 1)
    frog_px = np.column_stack([series["frog_x_px"], series["frog_y_px"]])[at]
    side = bow_arm(seen, frog_px)
    use = seen.found & known[at] & (np.abs(t[at] - seen.t_s) < 0.1)
    use &= holds_bow(seen, side, frog_px, poses.focal / poses.translation[at, 2]) | np.isin(seen.t_s, [m for m, _ in by_hand])
    if use.sum() < FEWEST_SEEN:
        return None
    body, at = BodySeen(seen.t_s[use], seen.points[use], seen.visible[use]), at[use]
    person = build(model)
    down = trunk_down(person, poses.rotation[at], poses.translation[at], poses.focal, poses.center, body)
    view = View(poses.rotation[at], poses.translation[at], poses.focal, poses.center, down)
    hand = _hand(model, params[at], string[at], view)
    chain = fit_chain(person, view, hand, _arm_seen(person, view, body, side, by_hand))
    # the whole take: what the moments say, carried between them
    own_down = np.einsum("mji,mj->mi", view.rotation, down).mean(axis=0)
    own_down /= np.linalg.norm(own_down)
    whole = View(poses.rotation, poses.translation, poses.focal, poses.center, poses.rotation @ own_down)
    turn = np.interp(t, body.t_s, chain.turn - chain.slope * hand.place) + chain.slope * params[:, 3]
    after = np.clip(np.searchsorted(body.t_s, t), 1, len(body) - 1)
    near = np.minimum(np.abs(t - body.t_s[after - 1]), np.abs(body.t_s[after] - t))
    told = known & (near <= LONGEST_UNSEEN_S)
    grip = _hand(model, params, string, whole)
    shoulder, elbow, wrist, _ = joints(whole, grip, chain.numbers, turn)
    error = chain.level_error[np.searchsorted(0.5 * (body.t_s[1:] + body.t_s[:-1]), t)]
    columns = _columns(person, whole, grip, chain, (shoulder, elbow, wrist), model.string_point(string, params[:, 0]))
    columns["elbow_level_sd_deg"] = np.sqrt((error**2).sum(axis=1) + TRUNK_SD_DEG**2)
    columns["shoulder_raise"] = np.interp(t, body.t_s, shoulder_rise(body, side, _down_px(whole.at(at), shoulder[at])))
    columns = {name: np.where(told, values, np.nan) for name, values in columns.items()}
    own = [np.einsum("nji,nj->ni", poses.rotation, p - poses.translation) for p in (shoulder, elbow, wrist, grip.frog)]
    joints_mm = np.where(told[:, None, None], np.stack(own, axis=1), np.nan)
    travel = bow_travel(joints_mm, model.bow_direction(params[:, 1], params[:, 2]))
    columns |= {f"{name}_travel_mm": travel[:, k] for k, name in enumerate(JOINTS)}
    stands = posture(model, person, view, body, side, shoulder[at])
    return ArmSeries(columns, joints_mm, np.tile(own_down, (len(t), 1)), error, chain, side, stands)


def holds_bow(seen: BodySeen, side: str, frog_px: Array, px_mm: Array) -> Array:
    """Moments (m,) bool at which the hand of the arm ``side`` is where the frog is seen (m, 2) px; ``px_mm`` (m,) px for each mm there.

    Where it is not, the model has looked at somebody else, or taken a sleeve for an arm.
    """
    apart = np.linalg.norm(seen.points[:, ARMS[side][2]] - frog_px, axis=1)
    return np.asarray(apart < HOLDS_MM * px_mm)


def _with_moments(seen: BodySeen, moments: list[float]) -> BodySeen:
    """The looks with one more at each of ``moments`` (s), its points between those of its neighbours."""
    if not moments or seen.found.sum() < 2:
        return seen
    times = np.unique(np.concatenate([seen.t_s, moments]))
    good = seen.found

    def carried(values: Array) -> Array:
        flat = values[good].reshape(int(good.sum()), -1)
        return np.column_stack([np.interp(times, seen.t_s[good], column) for column in flat.T]).reshape(len(times), *values.shape[1:])

    old = np.searchsorted(times, seen.t_s)
    points, visible = carried(seen.points), carried(seen.visible)
    points[old], visible[old] = seen.points, seen.visible
    return BodySeen(times, points, visible)


def _arm_seen(person: Build, view: View, body: BodySeen, side: str, by_hand: SetJoints) -> ArmSeen:
    """What the model saw of the arm, and over it what the teacher has set."""
    shoulder, elbow = _shoulder_px(person, view, body, side), body.points[:, ARMS[side][1]].copy()
    wrist, own = np.full_like(elbow, np.nan), np.zeros(len(body), bool)
    for t_s, places in by_hand:
        k = int(np.abs(body.t_s - t_s).argmin())
        own[k] = True
        for name, rows in (("shoulder", shoulder), ("elbow", elbow), ("wrist", wrist)):
            if name in places:
                rows[k] = places[name]
            elif name == "shoulder":
                rows[k] = np.nan
    return ArmSeen(shoulder, elbow, wrist, own, float(np.median(np.diff(body.t_s))))


def _bow(model: InstrumentModel, series: BowSeries) -> tuple[Array, Array, Array]:
    """Bow parameters (n, 4), string (n,) and where they are known (n,), short gaps bridged."""
    longest = max(1, round(LONGEST_GAP_S * series.rate_hz))
    names = ("contact_point_mm", "bow_angle_deg", "inclination_deg", "bow_position")
    params = np.column_stack([fill_gaps(series[name], longest=longest) for name in names])
    known = np.isfinite(params).all(axis=1)
    index = np.array([model.stops.index(s) if s else -1 for s in series.strings], float)
    index[index < 0] = np.nan
    string = np.nan_to_num(fill_gaps(index)).round().astype(int)
    return np.where(known[:, None], params, [20.0, 0.0, 0.0, 0.5]), string, known


def _hand(model: InstrumentModel, params: Array, string: Array, view: View) -> Hand:
    frog = hair_ends(model, params, string)[:, 0]
    along = model.bow_direction(params[:, 1], params[:, 2])
    lean = np.radians(params[:, 2])
    up = np.column_stack([np.zeros(len(lean)), -np.sin(lean), np.cos(lean)])
    nut = np.tile([1.0, 0.0, 0.0], (len(lean), 1))
    axes = np.einsum("nij,nkj->nki", view.rotation, np.stack([along, nut, up], axis=1))
    return Hand(np.einsum("nij,nj->ni", view.rotation, frog) + view.translation, axes, params[:, 3])


def _down_px(view: View, shoulder: Array) -> Array:
    """The trunk's direction in the picture (m, 2), unit length."""
    line = view.see(shoulder + 50.0 * view.down) - view.see(shoulder)
    return np.asarray(line / np.maximum(np.linalg.norm(line, axis=1, keepdims=True), 1e-9))


def _shoulder_px(person: Build, view: View, body: BodySeen, side: str) -> Array:
    shoulder = view.place(person.shoulder)
    arm_px = (person.upper_arm + person.forearm) * view.focal / np.maximum(shoulder[:, 2], 1.0)
    bowing, resting = body.points[:, ARMS[side][0]], body.points[:, ARMS[other(side)][0]]
    return true_shoulder(bowing, resting, _down_px(view, shoulder), arm_px)


def shoulder_rise(body: BodySeen, side: str, down_px: Array) -> Array:
    """How high the bow arm's shoulder stands towards the ears, (m,) share of shoulder width; only differences tell.

    ``down_px`` (m, 2): the trunk's direction in the picture.
    """
    ears = 0.5 * (body.points[:, EAR_LEFT] + body.points[:, EAR_RIGHT])
    shoulder, resting = body.points[:, ARMS[side][0]], body.points[:, ARMS[other(side)][0]]
    width = float(np.nanmedian(np.linalg.norm(shoulder - resting, axis=1)))
    return np.asarray(-((shoulder - ears) * down_px).sum(axis=1) / max(width, 1.0))


def _columns(
    person: Build, view: View, grip: Hand, chain: ArmChain, arm: tuple[Array, Array, Array], touch: Array
) -> dict[str, Array]:  # fmt: skip
    shoulder, elbow, wrist = arm
    seen = {name: pinhole(p, view.focal, view.center) for name, p in zip(("shoulder", "elbow", "wrist"), arm, strict=True)}
    level = upper_arm_level(shoulder, elbow, view.down)
    upper_px = chain.upper_arm * view.focal / shoulder[:, 2]
    height = -((seen["elbow"] - seen["shoulder"]) * _down_px(view, shoulder)).sum(axis=1) / upper_px
    # the side that strings and bow face together: an elbow that hangs is below it on every instrument
    normal = np.cross(grip.axes[:, 1], grip.axes[:, 0])
    normal /= np.linalg.norm(normal, axis=1, keepdims=True)
    from_string = elbow - (np.einsum("nij,nj->ni", view.rotation, touch) + view.translation)
    fore = wrist - elbow
    palm = grip.frog + HAND * person.stature * (0.15 * grip.axes[:, 2] - 0.1 * grip.axes[:, 0]) - wrist
    out = {
        "elbow_level_deg": level, "elbow_height": height,
        "elbow_to_bow_plane_mm": np.einsum("ni,ni->n", from_string, normal),
        "forearm_angle_deg": _between(shoulder - elbow, fore), "wrist_angle_deg": _between(fore, palm),
        "upper_arm_swing_deg": _swing(person, view, elbow - shoulder),
    }  # fmt: skip
    for name, place in seen.items():
        out[f"{name}_x_px"], out[f"{name}_y_px"] = place[:, 0], place[:, 1]
    return out


def _between(a: Array, b: Array) -> Array:
    """Angle (n,) degrees between vectors (n, 3)."""
    cosine = np.einsum("ni,ni->n", a, b) / (np.linalg.norm(a, axis=1) * np.linalg.norm(b, axis=1))
    return np.asarray(np.degrees(np.arccos(np.clip(cosine, -1.0, 1.0))))


def _swing(person: Build, view: View, arm: Array) -> Array:
    """Where about the trunk the upper arm points, (n,) degrees: 0 = straight ahead, 90 = out to the bow's side, more = behind."""
    ahead = view.rotation @ person.ahead
    ahead -= np.einsum("ni,ni->n", ahead, view.down)[:, None] * view.down
    side = np.cross(view.down, ahead)
    return np.asarray(np.degrees(np.arctan2(np.einsum("ni,ni->n", arm, side), np.einsum("ni,ni->n", arm, ahead))))
