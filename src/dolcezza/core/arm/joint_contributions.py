"""Who moves the bow: how much of its travel comes from the shoulder, the elbow, the wrist with the fingers.

The arm is laid into the plane it moves in; from one frame to the next each joint alone is moved from its start to its end,
in every order, and the hand's way along the bow is shared out by the average (so that the shares add to the whole).
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import permutations

import numpy as np

from dolcezza.core.base.arrays import Array

JOINTS = ("shoulder", "elbow", "wrist")
BANDS_CM_S = (20.0, 50.0)
"""Slow, medium and fast bows, cm/s."""
LEAST_TRAVEL_MM = 30.0


@dataclass(frozen=True)
class JointContributions:
    """``shares`` of shoulder, elbow and wrist, adding to 1 (a joint that works against the bow has a negative one), of
    ``travel_mm`` of bow."""

    shares: tuple[float, float, float]
    travel_mm: float

    @property
    def leader(self) -> str:
        """The joint with the largest share."""
        return JOINTS[int(np.argmax(self.shares))]


def joint_travel(flat: Array, along: Array) -> Array:
    """Way of the hand along the bow from each joint between frames, (n - 1, 3) mm.

    ``flat`` (n, 4, 2): shoulder, elbow, wrist, frog; ``along`` (n, 2): direction of a down-bow in the same plane, unit length.
    """
    limbs = np.diff(flat, axis=1)
    lengths = np.linalg.norm(limbs, axis=2)
    heading = np.unwrap(np.arctan2(limbs[..., 1], limbs[..., 0]), axis=0)
    # joint angles: upper arm in space, then each limb against the one before it
    angles = np.column_stack([heading[:, 0], heading[:, 1] - heading[:, 0], heading[:, 2] - heading[:, 1]])
    size = 0.5 * (lengths[1:] + lengths[:-1])
    way = 0.5 * (along[1:] + along[:-1])

    def hand(a: Array) -> Array:
        total = np.cumsum(a, axis=1)
        place = np.stack([(size * np.cos(total)).sum(axis=1), (size * np.sin(total)).sum(axis=1)], axis=-1)
        return np.asarray((place * way).sum(axis=1))

    out = np.zeros((len(flat) - 1, 3))
    for order in permutations(range(3)):
        now = angles[:-1].copy()
        before = hand(now)
        for joint in order:
            now[:, joint] = angles[1:, joint]
            after = hand(now)
            out[:, joint] += (after - before) / 6.0
            before = after
    return out


def bow_travel(joints_mm: Array, along_mm: Array) -> Array:
    """Way of the bow from each joint since the frame before, (n, 3) mm, + = down-bow; NaN where the arm is not known.

    ``joints_mm`` (n, 4, 3) shoulder, elbow, wrist, frog; ``along_mm`` (n, 3) from frog to head. The plane is the one in which the arm
    moves over the take.
    """
    known = np.asarray(np.isfinite(joints_mm).all(axis=(1, 2)) & np.isfinite(along_mm).all(axis=1))
    out = np.full((len(joints_mm), 3), np.nan)
    if known.sum() < 3:
        return out
    own = joints_mm - joints_mm[:, :1]
    _, _, axes = np.linalg.svd(own[known][:, 1:].reshape(-1, 3), full_matrices=False)
    flat, along = own @ axes[:2].T, along_mm @ axes[:2].T
    along = along / np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-9)
    flat, along = np.where(known[:, None, None], flat, 1.0), np.where(known[:, None], along, 0.0)
    # the frog goes against the direction to the head on a down-bow
    travel = joint_travel(flat, -along)
    out[1:] = np.where((known[1:] & known[:-1])[:, None], travel, np.nan)
    return out


def shares_of(travel: Array, chosen: Array) -> JointContributions | None:
    """Shares over the frames ``chosen`` (n,) bool; None where the bow hardly moved. ``travel`` (n, 3) mm as in ``bow_travel``."""
    use = chosen & np.isfinite(travel).all(axis=1)
    # up-bows count like down-bows: what helps the bow on its way is positive
    on = np.sign(travel.sum(axis=1))
    summed = (travel[use] * on[use, None]).sum(axis=0)
    whole = float(summed.sum())
    if not use.any() or whole < LEAST_TRAVEL_MM:
        return None
    a, b, c = (summed / whole).tolist()
    return JointContributions((a, b, c), whole)


def contributions_by_third(travel: Array, position: Array, bowing: Array) -> dict[str, JointContributions | None]:
    """Shares in each third of the bow; ``position`` (n,) 0..1, ``bowing`` (n,) bool."""
    bands = {"frog": position < 1 / 3, "middle": (position >= 1 / 3) & (position < 2 / 3), "tip": position >= 2 / 3}
    return {name: shares_of(travel, bowing & here) for name, here in bands.items()}


def contributions_by_speed(travel: Array, speed_cm_s: Array, bowing: Array) -> dict[str, JointContributions | None]:
    """Shares in slow, medium and fast bows (``BANDS_CM_S``)."""
    quick, (low, high) = np.abs(speed_cm_s), BANDS_CM_S
    bands = {"slow": quick < low, "medium": (quick >= low) & (quick < high), "fast": quick >= high}
    return {name: shares_of(travel, bowing & here) for name, here in bands.items()}
