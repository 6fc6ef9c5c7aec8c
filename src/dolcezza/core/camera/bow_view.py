"""The bow as the camera sees it: from (contact, angle, inclination, position) to points in space and in the picture.

Parameter rows are ``(contact_point mm, bow_angle deg, inclination deg, bow_position 0..1)`` everywhere.
"""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.lens import pinhole
from dolcezza.core.instrument.model import InstrumentModel

STEPS = np.array([0.05, 0.02, 0.02, 1e-4])
"""Steps for numerical derivatives by parameter (mm, deg, deg, share)."""


def hair_ends(model: InstrumentModel, params: Array, string: Array | int) -> Array:
    """Frog end and head end of the hair, (..., 2, 3) mm, for parameter rows (..., 4) on ``string`` (index, bass first)."""
    p = np.asarray(params, float)
    where = model.string_point(string, p[..., 0])
    along = model.bow_direction(p[..., 1], p[..., 2])
    length = model.spec.hair_length
    frog = where - along * (p[..., 3] * length)[..., None]
    return np.stack([frog, frog + along * length], axis=-2)


def see(
    points: Array, rotation: Array, translation: Array, focal: float, center: tuple[float, float], radial: float = 0.0
) -> Array:  # fmt: skip
    """Points (..., 2, 3) to pixels (..., 2, 2) for poses that broadcast: rotation (..., 3, 3), translation (..., 3)."""
    cam = np.einsum("...ij,...kj->...ki", rotation, points) + np.asarray(translation)[..., None, :]
    return pinhole(cam, focal, center, radial)


def see_bow(
    model: InstrumentModel, params: Array, string: Array | int, rotation: Array, translation: Array,
    focal: float, center: tuple[float, float],
) -> Array:  # fmt: skip
    """Hair ends in the picture, (..., 2, 2): frog end first."""
    return see(hair_ends(model, params, string), rotation, translation, focal, center)
