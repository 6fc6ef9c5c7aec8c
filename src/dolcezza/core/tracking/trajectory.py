"""Poses of all frames made steady: quick where the picture tells them well, slow where it hardly does.

A phone in the hand turns quickly, and so does the picture of the instrument: where it is, and how it is turned in the
picture, every frame shows to a fraction of a pixel. How it leans towards the camera and how far off it is, a frame shows
badly; but no hand moves a phone around the player in half a second, so these two may be smoothed for longer.
"""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.geometry import mean_rotation, rotation_of, rotation_vector
from dolcezza.core.base.signals import smoothing_weight, whittaker
from dolcezza.core.camera.poses import Poses
from dolcezza.core.tracking.instrument import Followed

PLACE_CUTOFF_HZ = 9.0
"""The hand that holds a phone trembles up to about this; what is quicker is noise of the following."""
LEAN_CUTOFF_HZ = 2.5
"""A swaying player leans no quicker."""


def steady_poses(followed: list[Followed], middle: Array, *, t_s: Array) -> Poses:
    """Poses of all frames, smoothed; frames where the instrument was lost or not looked at are bridged.

    ``middle`` (3,) mm: the place on the instrument whose way through the picture is followed closely. ``t_s`` (n,) s of the frames, which
    need not come evenly.
    """
    rate_hz = 1.0 / float(np.median(np.diff(t_s))) if len(t_s) > 1 else 30.0
    raw = Poses.of([f.camera for f in followed])
    fresh = np.array([f.fresh for f in followed])
    confidence = np.array([f.confidence for f in followed])
    weights = np.where(fresh & (confidence > 0), 0.1 + confidence, 0.0)
    aim, distance = _aim(raw, middle)
    lean = np.einsum("nji,njk->nik", aim, raw.rotation)
    aim = _calm_rotations(aim, weights, smoothing_weight(PLACE_CUTOFF_HZ, rate_hz), t_s)
    slow = smoothing_weight(LEAN_CUTOFF_HZ, rate_hz)
    lean = _calm_rotations(lean, weights, slow, t_s)
    distance = _calm(distance, weights, slow, t_s)
    rotation = aim @ lean
    return Poses(rotation, distance[:, None] * aim[:, :, 2] - rotation @ middle, raw.focal, raw.center)


def _aim(poses: Poses, middle: Array) -> tuple[Array, Array]:
    """Rotations (n, 3, 3) that turn the camera to ``middle`` and its picture upright along the strings; distances (n,) mm."""
    place = poses.rotation @ middle + poses.translation
    distance = np.linalg.norm(place, axis=1)
    ray = place / distance[:, None]
    axes = [poses.rotation[:, :, k] for k in (0, 1)]
    flat = [a - np.einsum("ni,ni->n", a, ray)[:, None] * ray for a in axes]
    length = [float(np.linalg.norm(a, axis=1).min()) for a in flat]
    x = flat[int(length[1] > length[0])]
    x = x / np.linalg.norm(x, axis=1, keepdims=True)
    return np.stack([x, np.cross(ray, x), ray], axis=-1), distance


def _calm_rotations(rotations: Array, weights: Array, lam: float, t_s: Array) -> Array:
    """Rotations (n, 3, 3) smoothed as small turns from their mean."""
    centre = mean_rotation(rotations)
    small = np.array([rotation_vector(r @ centre.T) for r in rotations])
    calm = np.column_stack([_calm(small[:, k], weights, lam, t_s) for k in range(3)])
    return np.array([rotation_of(v) @ centre for v in calm])


def _calm(values: Array, weights: Array, lam: float, t_s: Array) -> Array:
    smoothed = whittaker(values, weights, lam, t_s=t_s)
    left = np.abs(values - smoothed)
    spread = max(float(np.median(left[weights > 0])) if (weights > 0).any() else 0.0, 1e-9)
    return whittaker(values, weights / (1 + (left / (4 * spread)) ** 2), lam, t_s=t_s)
