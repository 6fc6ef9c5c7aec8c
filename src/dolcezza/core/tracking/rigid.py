"""How a rigid body has moved, from points seen on it of which many may belong to something else.

Fingers, sleeves and the bow pass before an instrument and often outnumber what can be seen of it. So the set that moves as one
body is chosen first, from small samples (MSAC, Torr & Zisserman 2000, from memory), and only then is the pose refined on it. A point on an
edge tells its place across the edge only: every point brings its own two directions and how much each is worth.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.geometry import rotation_of, rotation_vector
from dolcezza.core.camera.lens import Camera

POINT_SD_PX = 0.6
"""How well flow tells the place of a point that is seen (px at 1280)."""
AGREES = 2.0
"""So many sd off, a point still belongs to the body."""
TUKEY_LEAVES = 0.7
"""Tukey's weights leave so much of the mean square of what errs by as much as it should (two directions, cut off at 3.5 sd)."""
LEAST_MISS, MOST_MISS = 0.06, 4.0
"""However well points agree, each is known to 0.15 px at best (0.06 of the square); and they do not agree who miss by twice as much."""
SAMPLES, SAMPLE_POINTS = 100, 6
USUAL_MOVE = np.array([0.06, 0.06, 0.06, 25.0, 25.0, 60.0])
"""From one look to the next the body turns (rad) and moves (mm) about so much (one sd)."""
WEAK_MOVE = np.array([0.3, 0.3, 0.3, 300.0, 300.0, 600.0])


@dataclass(frozen=True)
class Sightings:
    """n points of a rigid body: ``world`` (n, 3) mm, seen at ``xy`` (n, 2) px; ``across`` (n, 2, 2) the two directions (rows) in which a
    point's place counts, each scaled by how much; ``trust`` (n,) 0..1; ``open`` (n, 3) mm: how far its place may be off (one sd)."""

    world: Array
    xy: Array
    across: Array
    trust: Array
    open: Array

    @staticmethod
    def together(parts: list[Sightings]) -> Sightings:
        """All of several in one."""
        return Sightings(*(np.concatenate([getattr(p, name) for p in parts]) for name in ("world", "xy", "across", "trust", "open")))

    def across_sd(self, camera: Camera, sd_px: float) -> Array:
        """How well (n, 2), px, each point tells its place in its two directions, where it is seen to ``sd_px``: what is not known of where
        it lies on the body shows the more, the farther the body is turned from where it was first seen."""
        apart = camera.project(self.world + 0.5 * self.open) - camera.project(self.world - 0.5 * self.open)
        return np.asarray(np.hypot(sd_px, np.einsum("nij,nj->ni", self.across, apart)))

    def off(self, camera: Camera) -> Array:
        """Residuals (n, 2), px, seen minus expected."""
        return np.asarray(np.einsum("nij,nj->ni", self.across, self.xy - camera.project(self.world)))


def seen_with_slope(camera: Camera, world: Array) -> tuple[Array, Array]:
    """Pixels (n, 2) of places (n, 3), and their derivative (n, 2, 6) by a small turn (rad) and move (mm) of the body."""
    turned = world @ camera.rotation.T
    x, y, z = turned.T
    cam = turned + np.asarray(camera.tvec, float)
    inv = 1.0 / cam[:, 2]
    f = camera.focal
    slope = np.zeros((len(world), 2, 6))
    slope[:, 0, 3] = slope[:, 1, 4] = f * inv
    slope[:, 0, 5], slope[:, 1, 5] = -f * cam[:, 0] * inv**2, -f * cam[:, 1] * inv**2
    # a small turn w after the rotation moves a point p by w x p
    slope[:, :, 0] = slope[:, :, 5] * y[:, None] - slope[:, :, 4] * z[:, None]
    slope[:, :, 1] = slope[:, :, 3] * z[:, None] - slope[:, :, 5] * x[:, None]
    slope[:, :, 2] = slope[:, :, 4] * x[:, None] - slope[:, :, 3] * y[:, None]
    return f * cam[:, :2] * inv[:, None] + np.asarray(camera.center), slope


def stepped(camera: Camera, change: Array) -> Camera:
    """The camera after a small turn and move (6,) of the body."""
    rotation = rotation_of(change[:3]) @ camera.rotation
    return Camera(rotation_vector(rotation), np.asarray(camera.tvec, float) + change[3:], camera.focal, camera.center)


def turn_between(a: Camera, b: Camera) -> float:
    """Degrees by which the body is turned between two poses."""
    return float(np.degrees(np.arccos(np.clip(0.5 * (np.einsum("ij,ij->", a.rotation, b.rotation) - 1), -1, 1))))


def agreed_move(guess: Camera, seen: Sightings, rng: np.random.Generator, *, scale_px: float) -> Camera:
    """The pose near ``guess`` on which most points agree; each sample's pose is worked out to first order."""
    sd = seen.across_sd(guess, POINT_SD_PX * scale_px)
    there, slope = seen_with_slope(guess, seen.world)
    off = np.einsum("nij,nj->ni", seen.across, seen.xy - there) / sd
    slope = seen.across @ slope / sd[:, :, None]
    pick = rng.choice(len(off), (SAMPLES, SAMPLE_POINTS), p=seen.trust / seen.trust.sum())
    own = slope[pick].reshape(SAMPLES, -1, 6)
    turned = own.transpose(0, 2, 1)
    normal = turned @ own + np.diag(USUAL_MOVE**-2.0)
    step = np.linalg.solve(normal, turned @ off[pick].reshape(SAMPLES, -1, 1))[..., 0]
    step = np.vstack([np.zeros(6), step])
    left = off.ravel()[:, None] - slope.reshape(-1, 6) @ step.T
    far = (left**2).reshape(len(off), 2, -1).sum(axis=1)
    cost = seen.trust @ np.minimum(far, 9.0)
    return stepped(guess, step[int(cost.argmin())])


def refined(camera: Camera, seen: Sightings, *, scale_px: float, steps: int = 3) -> tuple[Camera, Array, Array]:
    """Gauss-Newton with Tukey's weights. Returns the pose, which points agree (n,) bool, and the covariance (6, 6) of turn and move, by
    how well the points turn out to agree."""
    sd, normal, weight = np.ones((len(seen.world), 2)), np.eye(6), seen.trust
    for _ in range(steps):
        sd = seen.across_sd(camera, POINT_SD_PX * scale_px)
        there, slope = seen_with_slope(camera, seen.world)
        off = np.einsum("nij,nj->ni", seen.across, seen.xy - there) / sd
        slope = seen.across @ slope / sd[:, :, None]
        weight = seen.trust * np.clip(1 - (off**2).sum(axis=1) / 3.5**2, 0, None) ** 2
        flat = (slope * weight[:, None, None]).reshape(-1, 6)
        normal = flat.T @ slope.reshape(-1, 6) + np.diag(WEAK_MOVE**-2.0)
        camera = stepped(camera, np.linalg.solve(normal, flat.T @ off.ravel()))
    off = seen.off(camera) / sd
    return camera, np.linalg.norm(off, axis=1) < AGREES, np.linalg.inv(normal) * _miss(off, seen.across, weight)


def _miss(off: Array, across: Array, weight: Array) -> float:
    """By how much points miss: mean square over the expected one; ``off`` (n, 2) sd, ``weight`` (n,) Tukey's."""
    asked = TUKEY_LEAVES * float(weight @ (across**2).sum(axis=(1, 2)))
    return float(np.clip(float(weight @ (off**2).sum(axis=1)) / max(asked, 1e-9), LEAST_MISS, MOST_MISS))
