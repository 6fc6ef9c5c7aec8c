"""The arm's figures for every frame: elbow level and height, distance from the bow's plane, forearm, wrist, swing, shoulder."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from dolcezza.core.arm.beside import CAMERA
from dolcezza.core.arm.chain import ArmChain, ArmSeen, Hand, View, joints, true_shoulder, upper_arm_level
from dolcezza.core.arm.chain_fit import fit_chain
from dolcezza.core.arm.joint_contributions import JOINTS, bow_travel
from dolcezza.core.arm.other_phone import SeenBeside, seen_besides, trunk_by_all
from dolcezza.core.arm.posture import PostureFigure, posture, posture_joined
from dolcezza.core.arm.standing import OtherPhone
from dolcezza.core.arm.trunk import TRUNK_SD_DEG, of_trunk, trunk_down, upright
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
ROUNDS = 2
NEAR_S = 0.1
OUT_OF_PLACE, FARTHER = 0.12, 1.6
"""A shoulder lies no farther from where the instrument has it than this share of stature (four times what players differ by), or than so
many times what it does in the nearest fifth of all looks."""
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
    in ``ArmChain``; ``arm`` the side of the body model that bows; ``posture`` over the take; ``between_deg``: how far apart another phone
    that helped stood as the player's shoulder sees the two, NaN = none did."""

    columns: dict[str, Array]
    joints_mm: Array
    down: Array
    level_error: Array
    chain: ArmChain
    arm: str
    posture: dict[str, PostureFigure]
    between_deg: float = float("nan")


SetJoints = Sequence[tuple[float, Mapping[str, Array]]]
"""Joints set by hand: time (s), and ``shoulder``, ``elbow``, ``wrist`` (2,) px where they were set."""


def measure_arm(
    model: InstrumentModel, series: BowSeries, poses: Poses, seen: BodySeen, by_hand: SetJoints = (), others: Sequence[OtherPhone] = ()
) -> ArmSeries | None:  # fmt: skip
    """Fit the arm over the take and tell its figures for every frame; None where there is too little to go on.

    What is set ``by_hand`` wins, and pulls the moments around it along. ``others``: what other phones have seen of the player.
    """
    t = series.t
    params, string, known = _bow(model, series)
    looks = _looks(model, series, poses, seen, known, [m for m, _ in by_hand], others)
    if looks is None:
        return None
    body, at = looks.body, looks.at
    person = build(model)
    down = trunk_down(person, poses.rotation[at], poses.translation[at], poses.focal, poses.center, body)
    view = View(poses.rotation[at], poses.translation[at], poses.focal, poses.center, down)
    hand = _hand(model, params[at], string[at], view)
    fitted = _fitted(person, view, hand, looks, by_hand, others)
    if fitted is None:
        return None
    view, chain, trunk, besides = fitted.view, fitted.chain, fitted.trunk, fitted.besides
    # the whole take: what the moments say, carried between them
    own_down = np.einsum("mji,mj->mi", view.rotation, view.down).mean(axis=0)
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
    columns["elbow_level_sd_deg"] = np.sqrt((error**2).sum(axis=1) + of_trunk(elbow - shoulder, whole.down, trunk))
    raised = _raised(looks, fitted, shoulder[at])
    columns["shoulder_raise"] = np.interp(t, body.t_s, raised)
    columns = {name: np.where(told, values, np.nan) for name, values in columns.items()}
    own = [np.einsum("nji,nj->ni", poses.rotation, p - poses.translation) for p in (shoulder, elbow, wrist, grip.frog)]
    joints_mm = np.where(told[:, None, None], np.stack(own, axis=1), np.nan)
    travel = bow_travel(joints_mm, model.bow_direction(params[:, 1], params[:, 2]))
    columns |= {f"{name}_travel_mm": travel[:, k] for k, name in enumerate(JOINTS)}
    stands = posture(model, person, view, body, looks.side, shoulder[at]) if not looks.blind else {}
    between = float("nan")
    for one, numbers in zip(besides, chain.others, strict=True):
        there = one.arm.into(shoulder[at], shoulder[at], numbers[CAMERA])
        between = one.between_deg(shoulder[at], numbers)
        stands = posture_joined(stands, posture(model, person, one.view(view, shoulder[at], numbers), one.body, one.side, there))
    return ArmSeries(columns, joints_mm, np.tile(own_down, (len(t), 1)), error, chain, looks.side, stands, between)


@dataclass(frozen=True)
class _Looks:
    """The m moments from which the arm is told: ``body`` (NaN where this picture does not show it, ``blind``), their frames ``at`` (m,),
    the ``side`` of the body model that bows."""

    body: BodySeen
    at: Array
    side: str
    blind: bool


@dataclass(frozen=True)
class _Fitted:
    """``view`` with the trunk's direction and its covariance ``trunk`` (3, 3) deg2, the ``chain``, and what other phones show."""

    view: View
    chain: ArmChain
    trunk: Array
    besides: list[SeenBeside]


def _looks(
    model: InstrumentModel, series: BowSeries, poses: Poses, seen: BodySeen, known: Array, by_hand: list[float],
    others: Sequence[OtherPhone],
) -> _Looks | None:  # fmt: skip
    if not known.any():
        return None
    body, at, side = _usable(model, series, poses, _with_moments(seen, by_hand), known, by_hand)
    if len(body) >= FEWEST_SEEN:
        return _Looks(body, at, side, False)
    if not others:
        return None
    # another phone sees the player, this one the bow alone
    t, theirs = series.t, others[0].body
    at = np.clip(np.searchsorted(t, theirs.t_s), 0, len(t) - 1)
    use = theirs.found & known[at] & (np.abs(t[at] - theirs.t_s) < NEAR_S)
    empty = BodySeen(theirs.t_s[use], np.full_like(theirs.points[use], np.nan), np.zeros_like(theirs.visible[use]))
    return _Looks(empty, at[use], "right", True) if len(empty) >= FEWEST_SEEN else None


def _fitted(
    person: Build, view: View, hand: Hand, looks: _Looks, by_hand: SetJoints, others: Sequence[OtherPhone]
) -> _Fitted | None:  # fmt: skip
    """The chain by this picture, and then by all."""
    shown = _arm_seen(person, view, looks.body, looks.side, by_hand)
    chain, trunk = fit_chain(person, view, hand, shown), TRUNK_SD_DEG**2 * np.eye(3)
    arm = joints(view, hand, chain.numbers, chain.turn)[:3]
    besides = seen_besides(
        others, looks.body, view, arm, person, apart_s=shown.apart_s, side=looks.side, elbow_known=not looks.blind
    )  # fmt: skip
    if looks.blind and not besides:
        return None
    for _ in range(ROUNDS if besides else 0):
        # where the other camera stands tells the trunk, and the trunk how the arm hangs
        down, trunk = trunk_by_all(person, view, looks.body, besides, chain.others)
        view = replace(view, down=down)
        shown = _arm_seen(person, view, looks.body, looks.side, by_hand)
        chain = fit_chain(person, view, hand, shown, [b.arm for b in besides])
    return _Fitted(view, chain, trunk, besides)


def _raised(looks: _Looks, fitted: _Fitted, shoulder: Array) -> Array:
    """How high the shoulder stands (m,), by the picture that shows it; ``shoulder`` (m, 3) mm in the first camera's space."""
    if not looks.blind:
        return shoulder_rise(looks.body, looks.side, _down_px(fitted.view, shoulder))
    one, numbers = fitted.besides[0], fitted.chain.others[0]
    there = one.arm.into(shoulder, shoulder, numbers[CAMERA])
    return shoulder_rise(one.body, one.side, _down_px(one.view(fitted.view, shoulder, numbers), there))


def _usable(
    model: InstrumentModel, series: BowSeries, poses: Poses, seen: BodySeen, known: Array, by_hand: list[float]
) -> tuple[BodySeen, Array, str]:  # fmt: skip
    """The looks that show the arm while the bow is known: those, their frames (m,), and the side of the body model that bows."""
    if len(seen) == 0:
        return seen, np.zeros(0, int), "right"
    at, frog_px, use = _frog_at(series, seen)
    side = bow_arm(seen, frog_px)
    use &= known[at]
    own = holds_bow(seen, side, frog_px, poses.focal / poses.translation[at, 2])
    own &= upright(build(model), poses.rows(at), seen)
    own &= in_place(model, seen, side, poses.rows(at), use & own)
    use &= own | np.isin(seen.t_s, by_hand)
    return BodySeen(seen.t_s[use], seen.points[use], seen.visible[use]), at[use], side


def _frog_at(series: BowSeries, seen: BodySeen) -> tuple[Array, Array, Array]:
    """Of the looks: their frames (m,), the frog in them (m, 2) px, and which found somebody near enough to their frame (m,) bool."""
    t = series.t
    at = np.clip(np.searchsorted(t, seen.t_s), 0, len(t) - 1)
    frog_px = np.column_stack([series["frog_x_px"], series["frog_y_px"]])[at]
    return at, frog_px, np.asarray(seen.found & (np.abs(t[at] - seen.t_s) < NEAR_S))


def holds_bow(seen: BodySeen, side: str, frog_px: Array, px_mm: Array) -> Array:
    """Moments (m,) bool at which the hand of the arm ``side`` is where the frog is seen (m, 2) px; ``px_mm`` (m,) px for each mm there.

    Where it is not, the model has looked at somebody else, or taken a sleeve for an arm.
    """
    apart = np.linalg.norm(seen.points[:, ARMS[side][2]] - frog_px, axis=1)
    return np.asarray(apart < HOLDS_MM * px_mm)


def share_held(series: BowSeries, poses: Poses, seen: BodySeen) -> float:
    """In which share of the looks at a player, while the bow is known, the hand that is usually the nearer one is where the frog is; NaN
    where the looks are too few."""
    if len(seen) == 0:
        return float("nan")
    at, frog_px, use = _frog_at(series, seen)
    use &= np.isfinite(frog_px[:, 0])
    if use.sum() < FEWEST_SEEN:
        return float("nan")
    held = holds_bow(seen, bow_arm(seen, frog_px), frog_px, poses.focal / poses.translation[at, 2])
    return float(held[use].mean())


def in_place(model: InstrumentModel, seen: BodySeen, side: str, poses: Poses, use: Array) -> Array:
    """Moments (m,) bool at which the bow arm's shoulder is about where the instrument has it, or where it is in most looks; ``poses`` of
    the m moments, ``use`` (m,) those that count.

    A model that has taken a chair, a pattern or a second person for the body puts it far from there."""
    if not use.any():
        return use
    person = build(model)
    place = View(poses.rotation, poses.translation, poses.focal, poses.center, np.zeros((len(use), 3))).place(person.shoulder)
    stature_px = person.stature * poses.focal / np.maximum(place[:, 2], 1.0)
    off = np.linalg.norm(seen.points[:, ARMS[side][0]] - pinhole(place, poses.focal, poses.center), axis=1) / stature_px
    return np.asarray(off < max(OUT_OF_PLACE, FARTHER * float(np.percentile(off[use], 20))))


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
