"""Small rotations and angles. Angles in degrees unless a name says otherwise."""

from __future__ import annotations

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array

SMALL_TURN = 1e-4
"""Turns (rad) below this are their own sine to 1e-12; OpenCV calls those below 1e-5 none at all."""


def mean_rotation(rotations: Array) -> Array:
    """Mean of neighbouring rotations (n, 3, 3): the nearest rotation to their arithmetic mean (chordal mean)."""
    u, _, vt = np.linalg.svd(rotations.mean(axis=0))
    return np.asarray(u @ np.diag([1, 1, np.linalg.det(u @ vt)]) @ vt)


def rotation_vector(rotation: Array) -> Array:
    """Rodrigues vector (3,), radians, of a rotation (3, 3)."""
    skew = 0.5 * np.array([rotation[2, 1] - rotation[1, 2], rotation[0, 2] - rotation[2, 0], rotation[1, 0] - rotation[0, 1]])
    if np.trace(rotation) > 1.0 and float(np.abs(skew).max()) < SMALL_TURN:
        return skew
    return cv2.Rodrigues(rotation)[0].ravel()


def rotation_of(vector: Array) -> Array:
    """Rotation (3, 3) of a Rodrigues vector (3,), radians."""
    return cv2.Rodrigues(np.asarray(vector, float))[0]
