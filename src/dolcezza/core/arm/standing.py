"""Where another phone stands as the first one sees it: told by the instrument where both show it, else by the player.

Where the other picture does not show the instrument, the player is the calibration object: the bow tells where its hand is in space, so
that a wrist on its way, with shoulders, hips and head where players have them, says where the second camera stands (perspective from
points).
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from dolcezza.core.arm.chain import View
from dolcezza.core.base.arrays import Array
from dolcezza.core.body.points import ARMS, EAR_LEFT, EAR_RIGHT, HIPS, BodySeen, other
from dolcezza.core.body.proportions import EARS_ABOVE, JOINTS_APART, TRUNK, Build
from dolcezza.core.camera.lens import LensPrior, pinhole
from dolcezza.core.camera.poses import Poses

FEWEST_POINTS, FEWEST_MOMENTS = 12, 4
NEAR_SHARE, AGREE_SHARE = 0.3, 0.5
"""A point agrees with a camera that sees it within this share of how far the points are spread; so many must."""
PLAINLY = 1.5
"""The bowing wrist goes to and fro by so much more than the other one."""
CLEARLY = 0.5
FROM_PLAYER = np.array([0.5, 0.5, 0.5, 500.0, 500.0, 500.0])
BY_INSTRUMENT = np.array([0.02, 0.02, 0.02, 15.0, 15.0, 15.0])
INSTRUMENT_FOCAL_LOG_SD = 0.03
"""How far off (one sd) a camera may be that was told by the player, and by the instrument: turn (rad), shift (mm); its lens."""


@dataclass(frozen=True)
class OtherPhone:
    """Another phone's look at the player. ``body``: points on the first one's clock; ``poses``: of the instrument in its picture at the
    moments of ``body``, None where it does not show it; ``lens`` and ``center`` px; ``clock_sd_s``: how well the clocks are laid
    together."""

    body: BodySeen
    poses: Poses | None
    lens: LensPrior
    center: tuple[float, float]
    clock_sd_s: float


@dataclass(frozen=True)
class Stands:
    """Where the other camera stands at m moments: ``rotation`` (m, 3, 3), ``translation`` (m, 3) mm from the first one's space to its own,
    ``focal`` px and ``center``; ``doubt`` (8,) as in ``Beside``; the ``side`` of the body model that bows there."""

    rotation: Array
    translation: Array
    focal: float
    center: tuple[float, float]
    doubt: Array
    side: str


def where_it_stands(
    phone: OtherPhone, body: BodySeen, view: View, arm: tuple[Array, Array, Array], fixed: dict[str, Array], *, elbow_known: bool
) -> Stands | None:  # fmt: skip
    """Where the other camera stands at the m moments of ``body``, its points there; ``view`` and ``arm``: shoulder, elbow, wrist (m, 3) mm
    in the first camera's space, ``fixed``: ``anchors`` there. None where it cannot be told. ``elbow_known``: the first one sees it too."""
    if phone.poses is not None:
        return _by_instrument(phone, phone.poses, body, view, arm[2])
    best: tuple[float, str, Array, Array] | None = None
    for side in _bowing_sides(body):
        own = [(arm[k], body.points[:, ARMS[side][k]]) for k in ((0, 1, 2) if elbow_known else (0, 2))]
        shown = anchor_places(body, side)
        repeat = max(1, len(body) // 4)
        # what keeps its place counts as a quarter of the moments each
        own += [(np.tile(fixed[n], (repeat, 1)), np.tile(shown[n], (repeat, 1))) for n in fixed]
        told = standing(*(np.concatenate(part) for part in zip(*own, strict=True)), focal=phone.lens.focal, center=phone.center)
        if told is not None and (best is None or told[2] > best[0]):
            best = told[2], side, told[0], told[1]
    if best is None:
        return None
    _, side, rotation, translation = best
    count = len(body)
    doubt = np.r_[FROM_PLAYER, phone.lens.log_sd, max(phone.clock_sd_s, 1e-3)]
    return Stands(np.tile(rotation, (count, 1, 1)), np.tile(translation, (count, 1)), phone.lens.focal, phone.center, doubt, side)


def standing(points_mm: Array, seen_px: Array, *, focal: float, center: tuple[float, float]) -> tuple[Array, Array, float] | None:
    """Rotation (3, 3) and translation (3,) mm of a camera that shows points (k, 3) mm at (k, 2) px, and the share of them that agree; None
    where they do not tell.

    Perspective from n points by a global method (Terzakis & Lourakis 2020, from memory), in a sample consensus."""
    known = np.isfinite(points_mm).all(axis=1) & np.isfinite(seen_px).all(axis=1)
    if known.sum() < FEWEST_POINTS:
        return None
    places, picture = points_mm[known], seen_px[known]
    lens = np.array([[focal, 0, center[0]], [0, focal, center[1]], [0, 0, 1.0]])
    size = float(np.median(np.linalg.norm(picture - np.median(picture, axis=0), axis=1)))
    cv2.setRNGSeed(0)
    done, turn, shift, inside = cv2.solvePnPRansac(
        places, picture, lens, None, iterationsCount=400, reprojectionError=max(NEAR_SHARE * size, 4.0), confidence=0.9999,
        flags=cv2.SOLVEPNP_SQPNP,
    )  # fmt: skip
    if not done or inside is None or len(inside) < AGREE_SHARE * known.sum():
        return None
    rotation = cv2.Rodrigues(turn)[0]
    if not np.isfinite(rotation).all() or (places @ rotation[2] + float(shift[2, 0]) < 100.0).any():
        return None
    return rotation, shift[:, 0], len(inside) / float(known.sum())


def anchors(person: Build, view: View, body: BodySeen, side: str) -> dict[str, Array]:
    """Where other shoulder, hips and ears are in the first camera's space (3,) mm: by how players stand to their instrument, put onto the
    line of sight where the first picture shows them (``body``, its bow arm's ``side``)."""
    down = view.down.mean(axis=0)
    across = np.cross(down, (view.rotation @ person.ahead).mean(axis=0))
    across /= np.linalg.norm(across)
    shoulder = view.place(person.shoulder).mean(axis=0)
    between = shoulder - 0.5 * JOINTS_APART * person.stature * across
    out = {
        "shoulder": shoulder - JOINTS_APART * person.stature * across,
        "hips": between + TRUNK * person.stature * down,
        "ears": between - EARS_ABOVE * person.stature * down,
    }
    for name, seen in anchor_places(body, side).items():
        if np.isfinite(seen).all():
            out[name] = out[name][2] * np.array([*(seen - np.asarray(view.center)) / view.focal, 1.0])
    return out


def anchor_places(body: BodySeen, side: str) -> dict[str, Array]:
    """Where a picture shows ``anchors``, (2,) px over the take, NaN where it does not; the bow arm is on that ``side`` there."""
    both_hips = [HIPS["left"], HIPS["right"]]
    sure = body.visible[:, both_hips].min(axis=1) > CLEARLY
    points = {
        "shoulder": body.points[:, ARMS[other(side)][0]],
        "hips": np.where(sure[:, None], body.points[:, both_hips].mean(axis=1), np.nan),
        "ears": body.points[:, [EAR_LEFT, EAR_RIGHT]].mean(axis=1),
    }
    known = {name: np.isfinite(p[:, 0]).sum() >= FEWEST_MOMENTS for name, p in points.items()}
    return {name: np.nanmedian(p, axis=0) if known[name] else np.full(2, np.nan) for name, p in points.items()}


def _bowing_sides(body: BodySeen) -> list[str]:
    """The side whose wrist goes to and fro; both where neither does plainly more than the other."""
    moves = {}
    for side, ids in ARMS.items():
        wrist = body.points[body.found, ids[2]]
        moves[side] = float(np.median(np.linalg.norm(wrist - np.median(wrist, axis=0), axis=1))) if len(wrist) else 0.0
    return [side for side in ARMS if moves[side] > PLAINLY * moves[other(side)]] or list(ARMS)


def _by_instrument(phone: OtherPhone, poses: Poses, body: BodySeen, view: View, wrist: Array) -> Stands | None:
    near = np.abs(phone.body.t_s[:, None] - body.t_s[None]).argmin(axis=0)
    there = poses.rows(near)
    rotation = there.rotation @ view.rotation.transpose(0, 2, 1)
    translation = there.translation - np.einsum("mij,mj->mi", rotation, view.translation)
    wrist_px = pinhole(np.einsum("mij,mj->mi", rotation, wrist) + translation, there.focal, there.center)
    apart = {side: np.linalg.norm(body.points[:, ids[2]] - wrist_px, axis=1) for side, ids in ARMS.items()}
    if not all(np.isfinite(a).any() for a in apart.values()):
        return None
    side = min(apart, key=lambda s: float(np.nanmean(apart[s])))
    doubt = np.r_[BY_INSTRUMENT, INSTRUMENT_FOCAL_LOG_SD, max(phone.clock_sd_s, 1e-3)]
    return Stands(rotation, translation, there.focal, there.center, doubt, side)
