"""References and a sample of frames adjusted together: poses and places of points that explain all that was seen (bundle adjustment).

Calibrated poses stay. Every point has its usual height as a prior. Points are taken out of the equations first (Schur complement),
so that only the poses are left to solve for.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.lens import Camera
from dolcezza.core.tracking.reference import ReferenceView
from dolcezza.core.tracking.rigid import POINT_SD_PX, WEAK_MOVE, seen_with_slope, stepped, turn_between

REACH_DEG = 10.0
"""A reference is looked for in views turned away from it by up to so much."""
NEAREST = 4
"""In so many references at most every view is compared."""
ROUNDS = 5
OWN_SD_PX = 0.25
"""How well a point's place is known in the reference's own picture."""
FAR_PX = 4.0
"""Farther off, a sighting is of something else."""
MOST_HEIGHT_MM = 15.0
"""A point's place changes by so much at most in a round."""


@dataclass(frozen=True)
class _Seen:
    """Sightings in one view: ``point`` (k,) numbers, ``xy`` (k, 2) px, ``weigh`` (k, 2, 2) directions over their sd, ``own`` (k,) bool."""

    point: Array
    xy: Array
    weigh: Array
    own: Array


def _sightings(views: Sequence[ReferenceView], greys: Sequence[Array], cameras: Sequence[Camera], scale_px: float) -> list[_Seen]:
    """What every view (references first, then frames) shows of all points."""
    first = np.cumsum([0, *(len(v) for v in views)])
    pictures = [v.whole for v in views] + list(greys)
    out = []
    for number, (picture, camera) in enumerate(zip(pictures, cameras, strict=True)):
        parts: list[tuple[Array, Array, Array, Array]] = []
        turn = np.array([turn_between(v.camera, camera) for v in views])
        near = set(np.argsort(turn)[: NEAREST + (number < len(views))].tolist()) | {k for k, v in enumerate(views) if v.marked}
        for k, view in enumerate(views):
            if k == number:
                every = np.arange(len(view))
                weigh = np.tile(np.eye(2) / (OWN_SD_PX * scale_px), (len(view), 1, 1))
                parts.append((first[k] + every, view.pixels, weigh, np.ones(len(view), bool)))
                continue
            got = view.find(picture, camera) if k in near and turn[k] < REACH_DEG else None
            if got is None:
                continue
            off = np.einsum("nij,nj->ni", view.across, got[0] - camera.project(view.world))
            index = np.flatnonzero(got[1] & (np.linalg.norm(off, axis=1) < FAR_PX * scale_px))
            parts.append((first[k] + index, got[0][index], view.across[index] / (POINT_SD_PX * scale_px), np.zeros(len(index), bool)))
        out.append(_Seen(*(np.concatenate([p[j] for p in parts]) for j in range(4))))
    return out


def _slope_by_place(camera: Camera, world: Array) -> Array:
    """Derivative (n, 2, 3) of the pixels of places (n, 3) by the place."""
    cam = world @ camera.rotation.T + np.asarray(camera.tvec, float)
    inv, f = 1.0 / cam[:, 2], camera.focal
    out = np.zeros((len(world), 2, 3))
    out[:, 0, 0] = out[:, 1, 1] = f * inv
    out[:, 0, 2], out[:, 1, 2] = -f * cam[:, 0] * inv**2, -f * cam[:, 1] * inv**2
    return out @ camera.rotation


def adjusted(views: list[ReferenceView], greys: Sequence[Array], cameras: Sequence[Camera], *, scale_px: float) -> list[Camera]:
    """Move the references and their points to where all that they and the frames ``greys`` (seen at ``cameras``) show agrees best.

    Returns the poses of the frames."""
    poses = [v.camera for v in views] + list(cameras)
    free = [k for k in range(len(poses)) if k >= len(views) or not views[k].marked]
    column = {k: i for i, k in enumerate(free)}
    world, base = (np.concatenate([getattr(v, name) for v in views]) for name in ("world", "base"))
    sure = np.concatenate([v.height_sd**-2.0 for v in views])
    if not free or not len(world):
        return list(cameras)
    seen = _sightings(views, greys, poses, scale_px)
    count, points = len(free), len(world)
    for _ in range(ROUNDS):
        pose_normal, pose_pull = np.zeros((6 * count, 6 * count)), np.zeros(6 * count)
        point_normal, point_pull = np.tile(1e-4 * np.eye(3), (points, 1, 1)), np.zeros((points, 3))
        mixed = np.zeros((count, 6, points, 3))
        for k, view in enumerate(seen):
            there, slope = seen_with_slope(poses[k], world[view.point])
            off = np.einsum("nij,nj->ni", view.weigh, view.xy - there)
            weight = np.where(view.own, 1.0, (1 + (off**2).sum(axis=1) / 4.0) ** -2.0)
            by_place = view.weigh @ _slope_by_place(poses[k], world[view.point])
            pulling = (by_place * weight[:, None, None]).transpose(0, 2, 1)
            np.add.at(point_normal, view.point, pulling @ by_place)
            np.add.at(point_pull, view.point, (pulling @ off[:, :, None])[..., 0])
            if k in column:
                slope = view.weigh @ slope
                weighed = slope * weight[:, None, None]
                own = slice(6 * column[k], 6 * column[k] + 6)
                pose_normal[own, own] += weighed.reshape(-1, 6).T @ slope.reshape(-1, 6)
                pose_pull[own] += weighed.reshape(-1, 6).T @ off.ravel()
                mixed[column[k]][:, view.point] += (weighed.transpose(0, 2, 1) @ by_place).transpose(1, 0, 2)
        point_normal[:, 2, 2] += sure
        point_pull[:, 2] += sure * (base - world)[:, 2]
        inverse = np.linalg.inv(point_normal)
        flat = mixed.reshape(6 * count, points, 3)
        gathered = (flat.transpose(1, 0, 2) @ inverse).transpose(1, 0, 2)
        reduced = pose_normal - gathered.reshape(6 * count, -1) @ flat.reshape(6 * count, -1).T
        reduced += np.diag(np.tile(WEAK_MOVE**-2.0, count))
        step = np.linalg.solve(reduced, pose_pull - gathered.reshape(6 * count, -1) @ point_pull.ravel())
        places = np.einsum("pab,pb->pa", inverse, point_pull - np.einsum("cpa,c->pa", flat, step))
        world = world + np.clip(places, -MOST_HEIGHT_MM, MOST_HEIGHT_MM)
        for k, i in column.items():
            poses[k] = stepped(poses[k], step[6 * i : 6 * i + 6])
    first = 0
    for k, reference in enumerate(views):
        reference.moved_to(poses[k], world[first : first + len(reference)])
        first += len(reference)
    return poses[len(views) :]
