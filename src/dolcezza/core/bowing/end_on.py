"""A bow that points at the camera: its picture is too short to tell it from any other line there."""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.bow_view import hair_ends
from dolcezza.core.camera.poses import Poses
from dolcezza.core.instrument.model import InstrumentModel

LEAST_SHOWN = 0.25
"""Of the length that it would have square to the line of sight, so much of the hair must show: it points 14 degrees past the camera
then."""


def end_on(model: InstrumentModel, poses: Poses, params: Array, string: Array) -> Array:
    """Where a bow ``params`` (n, 4) on ``string`` (n,), -1 = none, would point at the camera, (n,) bool."""
    known = (string >= 0) & np.isfinite(params).all(axis=1)
    ends = hair_ends(model, np.where(known[:, None], params, 0.0), np.maximum(string, 0))
    frog, head = (np.einsum("nij,nj->ni", poses.rotation, ends[:, k]) + poses.translation for k in (0, 1))
    sight = frog + head
    sight /= np.linalg.norm(sight, axis=1, keepdims=True)
    along = (head - frog) / model.spec.hair_length
    across = np.linalg.norm(along - np.einsum("ni,ni->n", along, sight)[:, None] * sight, axis=1)
    return np.asarray(known & (across < LEAST_SHOWN))
