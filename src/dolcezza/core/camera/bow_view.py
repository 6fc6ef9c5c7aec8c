"""The bow as the camera sees it: from (contact, angle, inclination, position) to points in space and in the picture.

Parameter rows are ``(contact_point mm, bow_angle deg, inclination deg, bow_position 0..1)`` everywhere.
"""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.lens import pinhole
from dolcezza.core.instrument.model import InstrumentModel


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
    cam = np.matmul(points, np.swapaxes(rotation, -1, -2)) + np.asarray(translation)[..., None, :]
    return pinhole(cam, focal, center, radial)


def hair_ends_slopes(model: InstrumentModel, params: Array, string: Array | int) -> Array:
    """How the hair's ends move with each parameter: (n, 2, 3, 4) mm a unit (mm, deg, deg, share) for rows (n, 4)."""
    p = np.asarray(params, float)
    length = model.spec.hair_length
    way = model.string_point(string, np.ones(len(p))) - model.string_point(string, np.zeros(len(p)))
    reach = np.stack([-p[:, 3], 1 - p[:, 3]], axis=1)[:, :, None, None] * length
    turned = model.bow_direction_slopes(p[:, 1], p[:, 2])[:, None] * reach
    slid = -length * model.bow_direction(p[:, 1], p[:, 2])
    way, slid = (np.broadcast_to(v[:, None, :, None], (len(p), 2, 3, 1)) for v in (way, slid))
    return np.concatenate([way, turned, slid], axis=-1)


def see_slopes(points: Array, moved: Array, rotation: Array, translation: Array, focal: float, radial: float = 0.0) -> Array:
    """How ``see`` of points (n, k, 3) moves (n, k, 2, m), px, where they move by (n, k, 3, m), mm: the pinhole's own derivative."""
    turned = np.swapaxes(rotation, -1, -2)
    cam = np.matmul(points, turned) + translation[:, None, :]
    z = np.where(cam[..., 2:3] > 1.0, cam[..., 2:3], np.nan)
    tangent = cam[..., :2] / z
    step = np.matmul(rotation[:, None], moved)
    slope = (step[..., :2, :] - tangent[..., None] * step[..., 2:3, :]) / z[..., None]
    if radial:
        away = (tangent**2).sum(axis=-1)[..., None, None]
        inwards = (tangent[..., None] * slope).sum(axis=-2, keepdims=True)
        slope = (1 + radial * away) * slope + 2 * radial * tangent[..., None] * inwards
    return np.asarray(focal * slope)


def see_bow(
    model: InstrumentModel, params: Array, string: Array | int, rotation: Array, translation: Array,
    focal: float, center: tuple[float, float],
) -> Array:  # fmt: skip
    """Hair ends in the picture, (..., 2, 2): frog end first."""
    return see(hair_ends(model, params, string), rotation, translation, focal, center)
