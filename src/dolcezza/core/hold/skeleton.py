"""A hand of fixed proportions: joint angles in, 21 points in space out.

Bone lengths of adult hands (Buryanov and Kotiuk 2010, from memory), in mm; only their ratios matter, the distance to the
camera makes up for the size. Frame of a right hand: origin at the wrist, x to the knuckles, y to the thumb's side, z out of the
back of the hand. Numbering as in ``core.body.points``: wrist, then four points a finger, thumb first.
"""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.arrays import Array

FINGERS = ("index", "middle", "ring", "little")
KNUCKLES = np.array([[88.0, 24.0, 0.0], [86.0, 3.0, 3.0], [79.0, -16.0, 1.0], [71.0, -34.0, -5.0]])
PHALANGES = np.array([[39.8, 22.4, 20.0], [44.6, 26.3, 21.5], [41.4, 25.7, 21.5], [32.7, 18.1, 19.5]])
"""Proximal, middle, and last to the point that a model marks as fingertip (inside the flesh's end)."""
SPLAY = np.radians([6.0, 0.0, -6.0, -14.0])
"""How the straight fingers spread (towards the thumb's side)."""
THUMB_ROOT = np.array([22.0, 26.0, -8.0])
THUMB_BONES = np.array([46.2, 31.6, 26.0])
ANGLES = (
    *(f"{f}_{j}" for f in FINGERS for j in ("mcp", "side", "pip", "dip")),
    "thumb_out", "thumb_across", "thumb_turn", "thumb_mcp", "thumb_ip",
)  # fmt: skip
"""Joint angles in the order that ``hand_points`` takes them, radians. ``side``: spreading to the thumb's side; ``thumb_out``: of the
first bone towards the thumb's side, ``thumb_across``: towards the palm, ``thumb_turn``: of its bending plane about itself."""
COUNT = len(ANGLES)


def hand_points(angles: Array) -> Array:
    """The 21 joints (..., 21, 3) mm of a right hand with these joint angles (..., ``COUNT``) rad."""
    shape = angles.shape[:-1]
    a = angles[..., :16].reshape(*shape, 4, 4)
    out = np.zeros((*shape, 21, 3))
    spread = SPLAY + a[..., 1]
    ahead = np.stack([np.cos(spread), np.sin(spread), np.zeros_like(spread)], axis=-1)
    palm = np.array([0.0, 0.0, -1.0])
    place = np.broadcast_to(KNUCKLES, (*shape, 4, 3))
    bend = np.zeros((*shape, 4))
    for k, joint in enumerate((0, 2, 3)):
        out[..., 5 + k : 18 + k : 4, :] = place
        bend = bend + a[..., joint]
        place = place + PHALANGES[:, k, None] * (np.cos(bend)[..., None] * ahead + np.sin(bend)[..., None] * palm)
    out[..., 8::4, :] = place
    side, across, turn, mcp, ip = np.moveaxis(angles[..., 16:], -1, 0)
    # the thumb's first bone, and the plane in which its other two bend: towards the fingers, turned about the bone
    none = np.zeros_like(side)
    first = np.stack([np.cos(side) * np.cos(across), np.sin(side) * np.cos(across), -np.sin(across)], axis=-1)
    inwards = np.stack([np.sin(side), -np.cos(side), none], axis=-1)
    curl = np.cos(turn)[..., None] * inwards + np.sin(turn)[..., None] * np.cross(first, inwards)
    thumb = np.broadcast_to(THUMB_ROOT, (*shape, 3))
    out[..., 1, :] = thumb
    for k, bent in enumerate((none, mcp, mcp + ip)):
        thumb = thumb + THUMB_BONES[k] * (np.cos(bent)[..., None] * first + np.sin(bent)[..., None] * curl)
        out[..., 2 + k, :] = thumb
    return out
