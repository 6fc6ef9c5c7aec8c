"""Which way the trunk points: from how the instrument is held, put right by the line from shoulders to hips in one picture or two."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.geometry import rotation_of
from dolcezza.core.body.points import ARMS, HIPS, LEAST_VISIBLE, BodySeen, middle
from dolcezza.core.body.proportions import Build
from dolcezza.core.camera.lens import pinhole
from dolcezza.core.camera.poses import Poses

HOLD_SD_DEG = 9.0
"""How differently players hold their instrument to the trunk (one sd)."""
MOST_BESIDE_DEG = 60.0
"""Nobody holds it so far from that."""
SEEN_SD_DEG = 3.0
"""How well the pose model's shoulders and hips tell the trunk's line in the picture (one sd)."""
TRUNK_SD_DEG = 5.0
"""What is left unknown of the trunk's direction (one sd): mostly how far it leans towards the camera."""


def trunk_down(build: Build, rotation: Array, translation: Array, focal: float, center: tuple[float, float], seen: BodySeen) -> Array:
    """Unit vectors (m, 3) in camera space along the trunk to the hips at the moments of ``seen`` (m).

    Poses (m, 3, 3), (m, 3) of the instrument. Where the hips are not in the picture, the way the instrument is held decides.
    """
    down = rotation @ build.down
    start, apart = _beside_hold(build, rotation, translation, focal, center, seen)
    sure = np.isfinite(apart)
    if not sure.any():
        return down
    share = HOLD_SD_DEG**2 / (HOLD_SD_DEG**2 + SEEN_SD_DEG**2)
    turn = share * float(np.median(apart[sure]))
    ray = start[sure].mean(axis=0)
    return np.asarray(down @ rotation_of(turn * ray / np.linalg.norm(ray)).T)


def upright(build: Build, poses: Poses, seen: BodySeen) -> Array:
    """Moments (m,) bool at which the trunk of ``seen`` (m) lies in the picture as it can for one who plays this instrument, or is not
    seen; ``poses`` (m). Where not, legs were taken for arms, or it is somebody else."""
    _, apart = _beside_hold(build, poses.rotation, poses.translation, poses.focal, poses.center, seen)
    return np.asarray(~(np.abs(apart) > np.radians(MOST_BESIDE_DEG)))


def _beside_hold(
    build: Build, rotation: Array, translation: Array, focal: float, center: tuple[float, float], seen: BodySeen
) -> tuple[Array, Array]:  # fmt: skip
    """The middle of the shoulders (m, 3) mm, and by how much (m,) rad the line to the hips is turned in the picture from where it lies by
    how the instrument is held; NaN where the hips are not seen."""
    shoulders, line = trunk_line(seen)
    depth = (rotation @ build.shoulder + translation)[:, 2:]
    start = np.column_stack([(shoulders - np.asarray(center)) / focal, np.ones(len(depth))]) * depth
    should = pinhole(start + 300.0 * (rotation @ build.down), focal, center) - shoulders
    return start, np.arctan2(should[:, 0] * line[:, 1] - should[:, 1] * line[:, 0], (should * line).sum(axis=1))


@dataclass(frozen=True)
class TrunkLine:
    """The line from shoulders to hips in a picture at m moments: ``start`` and ``line`` (m, 2) px, NaN where not seen; ``rotation``
    (m, 3, 3) and ``translation`` (m, 3) mm from the first camera's space to that picture's, its ``focal`` px and ``center``; ``depth``
    (m,) mm of the shoulders there; ``sd_deg``: how well the line is known in the first camera's space."""

    start: Array
    line: Array
    rotation: Array
    translation: Array
    focal: float
    center: tuple[float, float]
    depth: Array
    sd_deg: float = SEEN_SD_DEG

    def apart(self, down: Array) -> float:
        """By how much (rad, the median) the seen line is turned from where ``down`` (m, 3) of the first camera's space would lie; NaN where
        it is seen at no moment."""
        theirs = np.einsum("mij,mj->mi", self.rotation, down)
        start = np.column_stack([(self.start - np.asarray(self.center)) / self.focal, np.ones(len(down))]) * self.depth[:, None]
        should = pinhole(start + 300.0 * theirs, self.focal, self.center) - self.start
        angle = np.arctan2(should[:, 0] * self.line[:, 1] - should[:, 1] * self.line[:, 0], (should * self.line).sum(axis=1))
        return float(np.nanmedian(angle)) if np.isfinite(angle).any() else float("nan")


def trunk_line(seen: BodySeen) -> tuple[Array, Array]:
    """Middle of the shoulders and the way from there to the hips' (m, 2) px each, NaN where the hips are not in the picture."""
    shoulders, hips = middle(seen, {side: ids[0] for side, ids in ARMS.items()}), middle(seen, HIPS)
    sure = seen.visible[:, [HIPS["left"], HIPS["right"]]].min(axis=1) > LEAST_VISIBLE
    return shoulders, np.where(sure[:, None], hips - shoulders, np.nan)


def trunk_between(expected: Array, lines: Sequence[TrunkLine]) -> tuple[Array, Array]:
    """The trunk's direction (m, 3) in the first camera's space from several pictures, and its covariance (3, 3) rad2: ``expected`` (m, 3)
    by how the instrument is held, turned so that every picture's line fits as well as it can (least squares)."""
    usual = expected.mean(axis=0) / np.linalg.norm(expected.mean(axis=0))
    across = np.linalg.svd(usual[None])[2][1:]
    hold = np.radians(HOLD_SD_DEG)
    told = [line for line in lines if np.isfinite(line.apart(expected))]
    tilt, information = np.zeros(2), np.eye(2) / hold**2

    def turned(w: Array) -> Array:
        return np.asarray(expected @ rotation_of(w @ across).T)

    def residual(w: Array) -> Array:
        return np.array([*(w / hold), *(line.apart(turned(w)) / np.radians(line.sd_deg) for line in told)])

    for _ in range(4):
        now = residual(tilt)
        slope = np.column_stack([(residual(tilt + step) - now) / 1e-3 for step in 1e-3 * np.eye(2)])
        information = slope.T @ slope
        tilt = tilt - np.linalg.solve(information, slope.T @ now)
    return turned(tilt), across.T @ np.linalg.inv(information) @ across


def of_trunk(arm: Array, down: Array, trunk: Array) -> Array:
    """What a trunk known to ``trunk`` (3, 3) deg2 leaves unknown of the elevation of an upper arm (n, 3) against it, (n,) deg2."""
    unit = arm / np.linalg.norm(arm, axis=1, keepdims=True)
    away = unit - np.einsum("ni,ni->n", unit, down)[:, None] * down
    away /= np.maximum(np.linalg.norm(away, axis=1, keepdims=True), 1e-9)
    return np.asarray(np.einsum("ni,ij,nj->n", away, trunk, away))
