"""Who moves the bow: how much of its travel comes from the shoulder, the elbow, the wrist with the fingers.

The arm is laid into the plane it moves in; from one frame to the next each joint alone is moved from its start to its end,
in every order, and the hand's way along the bow is shared out by the average (so that the shares add to the whole).
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import permutations

import numpy as np

Array = np.ndarray

JOINTS = ("shoulder", "elbow", "wrist")
BANDS_CM_S = (20.0, 50.0)
"""Slow, medium and fast bows, cm/s."""
LEAST_TRAVEL_MM = 30.0


@dataclass(frozen=True)
class JointShares:
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
        return (place * way).sum(axis=1)

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


def shares_of(travel: Array, chosen: Array) -> JointShares | None:
    """Shares over the steps ``chosen`` (n - 1,) bool; None where the bow hardly moved. ``travel`` from ``joint_travel``."""
    use = chosen & np.isfinite(travel).all(axis=1)
    # up-bows count like down-bows: what helps the bow on its way is positive
    on = np.sign(travel.sum(axis=1))
    summed = (travel[use] * on[use, None]).sum(axis=0)
    whole = float(summed.sum())
    if not use.any() or whole < LEAST_TRAVEL_MM:
        return None
    a, b, c = (summed / whole).tolist()
    return JointShares((a, b, c), whole)


def shares_by_third(joints_mm: Array, along_mm: Array, position: Array, bowing: Array) -> dict[str, JointShares | None]:
    """Shares in each third of the bow. ``along_mm`` (n, 3): direction of a down-bow in space; ``bowing`` (n,) bool."""
    travel, ok = _travel(joints_mm, along_mm, bowing)
    middle = 0.5 * (position[1:] + position[:-1])
    bands = {"frog": middle < 1 / 3, "middle": (middle >= 1 / 3) & (middle < 2 / 3), "tip": middle >= 2 / 3}
    return {name: shares_of(travel, ok & here) for name, here in bands.items()}


def shares_by_speed(joints_mm: Array, along_mm: Array, speed_cm_s: Array, bowing: Array) -> dict[str, JointShares | None]:
    """Shares in slow, medium and fast bows (``BANDS_CM_S``)."""
    travel, ok = _travel(joints_mm, along_mm, bowing)
    quick = np.abs(0.5 * (speed_cm_s[1:] + speed_cm_s[:-1]))
    low, high = BANDS_CM_S
    bands = {"slow": quick < low, "medium": (quick >= low) & (quick < high), "fast": quick >= high}
    return {name: shares_of(travel, ok & here) for name, here in bands.items()}


def _travel(joints_mm: Array, along_mm: Array, bowing: Array) -> tuple[Array, Array]:
    known = np.isfinite(joints_mm).all(axis=(1, 2)) & np.isfinite(along_mm).all(axis=1) & bowing
    if known.sum() < 3:
        return np.full((len(joints_mm) - 1, 3), np.nan), np.zeros(len(joints_mm) - 1, bool)
    own = joints_mm - joints_mm[:, :1]
    _, _, axes = np.linalg.svd(own[known][:, 1:].reshape(-1, 3), full_matrices=False)
    flat, along = own @ axes[:2].T, along_mm @ axes[:2].T
    along = along / np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-9)
    flat, along = np.where(known[:, None, None], flat, 0.0), np.where(known[:, None], along, 0.0)
    # the frog moves against the bow's own direction on a down-bow
    return joint_travel(flat, -along), known[1:] & known[:-1]
