"""What another phone has seen of the player, laid beside what the first one measures."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from dolcezza.core.arm.beside import BESIDE, CAMERA, LENS, TURN, Beside
from dolcezza.core.arm.chain import ArmSeen, View, true_shoulder
from dolcezza.core.arm.standing import FEWEST_MOMENTS, OtherPhone, Stands, anchor_places, anchors, where_it_stands
from dolcezza.core.arm.trunk import SEEN_SD_DEG, TrunkLine, trunk_between, trunk_line
from dolcezza.core.base.arrays import Array
from dolcezza.core.base.geometry import rotation_of
from dolcezza.core.body.points import ARMS, BodySeen, other
from dolcezza.core.body.proportions import Build

LONGEST_GAP_S = 0.45
"""A body seen at two moments so close together is known between them."""
FROM_PLAYER_SD_DEG = 8.0
"""How well a camera whose place the player alone tells knows the trunk's line: it is turned by some ten degrees as often as not."""
LEAST_SHARE = 0.3
"""An arm that is shown at a smaller share of the moments at which somebody is seen is another's."""
OTHER_ARM = 0.3
"""Share of the arm's length by which a joint may lie off where the first phone has it: beyond, the model has looked at something else."""
NOTHING_MORE = np.zeros(8)


@dataclass(frozen=True)
class SeenBeside:
    """What another phone shows at the first one's m moments: the ``arm``, the ``trunk``'s line, and all points of the ``body``, whose bow
    arm is on that ``side``."""

    arm: Beside
    trunk: TrunkLine
    body: BodySeen
    side: str

    def view(self, first: View, shoulder: Array, numbers: Array) -> View:
        """The instrument's poses and the trunk in the other picture; ``numbers`` (12,): what the chain has told of it, ``shoulder``
        (m, 3) mm in the space of the ``first``."""
        a = self.arm
        turn = rotation_of(numbers[TURN]) @ a.rotation
        shift = a.into(shoulder, shoulder, numbers[CAMERA]) - np.einsum("mij,mj->mi", turn, shoulder)
        moved = np.einsum("mij,mj->mi", turn, first.translation) + shift
        focal = a.focal * float(np.exp(numbers[LENS]))
        return View(turn @ first.rotation, moved, focal, a.center, np.einsum("mij,mj->mi", turn, first.down))

    def trunk_line(self, numbers: Array) -> TrunkLine:
        """The trunk's line under what the chain has told of this picture (12,)."""
        return replace(self.trunk, rotation=rotation_of(numbers[TURN]) @ self.trunk.rotation)

    def between_deg(self, shoulder: Array, numbers: Array) -> float:
        """How far apart the two phones stand as the shoulder (m, 3) mm sees them, the median."""
        there = np.einsum("mji,mj->mi", rotation_of(numbers[TURN]) @ self.arm.rotation, self.arm.into(shoulder, shoulder, numbers[CAMERA]))
        cosine = (there * shoulder).sum(axis=1) / (np.linalg.norm(there, axis=1) * np.linalg.norm(shoulder, axis=1))
        return float(np.degrees(np.median(np.arccos(np.clip(cosine, -1, 1)))))


def seen_besides(
    others: Sequence[OtherPhone], body: BodySeen, view: View, arm: tuple[Array, Array, Array], person: Build, *, apart_s: float, side: str,
    elbow_known: bool,
) -> list[SeenBeside]:  # fmt: skip
    """What other phones show at the m moments of ``body``, ``apart_s`` from each other, of those whose place can be told; ``arm``:
    shoulder, elbow, wrist (m, 3) mm in the first camera's space, seen there on that ``side``."""
    out = []
    fixed = anchors(person, view, body, side)
    for phone in others:
        there = at_moments(phone.body, body.t_s)
        stands = where_it_stands(phone, there, view, arm, fixed, elbow_known=elbow_known)
        if stands is None:
            continue
        plain = _plain(stands, len(body), apart_s)
        kept = _of_this_arm(plain, stands.side, there, arm, person.upper_arm + person.forearm, elbow_known)
        if kept.found.sum() < max(FEWEST_MOMENTS, LEAST_SHARE * there.found.sum()):
            continue
        one = _with_arm(plain, stands.side, kept, view, arm[0], person.upper_arm + person.forearm)
        if phone.poses is None:
            shown = {name: p for name, p in anchor_places(kept, stands.side).items() if np.isfinite(p).all()}
            one = replace(one, anchors=_rows([fixed[n] for n in shown], 3), places=_rows(list(shown.values()), 2))
        depth = one.into(arm[0], arm[0], NOTHING_MORE)[:, 2]
        line_sd = SEEN_SD_DEG if phone.poses is not None else FROM_PLAYER_SD_DEG
        trunk = TrunkLine(*trunk_line(kept), one.rotation, one.translation, one.focal, one.center, depth, line_sd)
        out.append(SeenBeside(one, trunk, kept, stands.side))
    return out


def trunk_by_all(
    person: Build, view: View, body: BodySeen, besides: Sequence[SeenBeside], told: Sequence[Array] = ()
) -> tuple[Array, Array]:  # fmt: skip
    """The trunk's direction (m, 3) by this picture and others, and its covariance (3, 3) deg2. ``told``: the numbers (12,) of each other
    picture, where the arm has told them."""
    here, still = np.tile(np.eye(3), (len(body), 1, 1)), np.zeros((len(body), 3))
    own = TrunkLine(*trunk_line(body), here, still, view.focal, view.center, view.place(person.shoulder)[:, 2])
    numbers = told or [np.zeros(BESIDE)] * len(besides)
    theirs = [b.trunk_line(n) for b, n in zip(besides, numbers, strict=True)]
    down, covariance = trunk_between(view.rotation @ person.down, [own, *theirs])
    return down, np.degrees(1.0) ** 2 * covariance


def at_moments(seen: BodySeen, t_s: Array) -> BodySeen:
    """Body points at other moments (m,) s, NaN where nobody was seen shortly before and after."""
    good = seen.found
    points = np.full((len(t_s), *seen.points.shape[1:]), np.nan)
    visible = np.zeros(points.shape[:2])
    if good.sum() < 2:
        return BodySeen(t_s, points, visible)
    times = seen.t_s[good]
    after = np.clip(np.searchsorted(times, t_s), 1, len(times) - 1)
    gap = times[after] - times[after - 1]
    inside = (t_s >= times[0]) & (t_s <= times[-1]) & (gap <= LONGEST_GAP_S)
    share = np.clip((t_s - times[after - 1]) / gap, 0, 1)

    def between(values: Array) -> Array:
        rows = values[good]
        part = share.reshape(-1, *[1] * (values.ndim - 1))
        return np.asarray((1 - part) * rows[after - 1] + part * rows[after])

    points[inside], visible[inside] = between(seen.points)[inside], between(seen.visible)[inside]
    return BodySeen(t_s, points, visible)


def _plain(stands: Stands, count: int, apart_s: float) -> Beside:
    """The other view before anything is seen in it."""
    empty = np.full((count, 2), np.nan)
    seen = ArmSeen(empty, empty, empty, np.zeros(count, bool), apart_s)
    return Beside(
        stands.rotation, stands.translation, stands.focal, stands.center, seen, np.zeros((count, 3, 2)), stands.doubt, np.zeros((0, 3)),
        np.zeros((0, 2)),
    )  # fmt: skip


def _with_arm(plain: Beside, side: str, body: BodySeen, view: View, shoulder: Array, arm_mm: float) -> Beside:
    """The same with the arm of the ``body`` on that ``side``; ``shoulder`` (m, 3) mm in the first camera's space."""
    down = plain.see(shoulder + 60.0 * view.down, shoulder, NOTHING_MORE) - plain.see(shoulder, shoulder, NOTHING_MORE)
    down /= np.maximum(np.linalg.norm(down, axis=1, keepdims=True), 1e-9)
    bowing, elbow, wrist = (body.points[:, i] for i in ARMS[side])
    joint = true_shoulder(bowing.copy(), body.points[:, ARMS[other(side)][0]], down, plain.arm_px(arm_mm, shoulder))
    speed = np.stack([_speed(p, body.t_s) for p in (joint, elbow, wrist)], axis=1)
    return replace(plain, seen=replace(plain.seen, shoulder=joint, elbow=elbow, wrist=wrist), speed=speed)


def _of_this_arm(
    plain: Beside, side: str, body: BodySeen, arm: tuple[Array, Array, Array], arm_mm: float, elbow_known: bool
) -> BodySeen:  # fmt: skip
    """The other phone's points without the moments at which its model has taken something else for this arm."""
    near = np.ones(len(body), bool)
    for k in (0, 1, 2) if elbow_known else (0, 2):
        off = np.linalg.norm(body.points[:, ARMS[side][k]] - plain.see(arm[k], arm[0], NOTHING_MORE), axis=1)
        near &= off < OTHER_ARM * plain.arm_px(arm_mm, arm[0])
    return BodySeen(body.t_s, np.where(near[:, None, None], body.points, np.nan), np.where(near[:, None], body.visible, 0.0))


def _rows(rows: list[Array], width: int) -> Array:
    return np.array(rows, float).reshape(-1, width)


def _speed(points: Array, t_s: Array) -> Array:
    """How fast points (m, 2) px go, px/s; 0 where they are not known."""
    return np.asarray(np.nan_to_num(np.gradient(points, t_s, axis=0))) if len(t_s) > 2 else np.zeros_like(points)
