"""The arm as a chain over the whole take: one shoulder, two limbs of constant length, a hand that goes where the bow goes.

A pose model's points are good to some twentieth of the arm and its own depth is worthless; but the bow tells where the hand
is in space, and the instrument where about the shoulder is. What is left of each moment is one number: how far the elbow
has turned about the line from shoulder to wrist.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.lens import pinhole

POINT_INWARDS, POINT_UPWARDS = 0.05, 0.045
"""The pose model puts the shoulder so much nearer to the neck and higher than the joint's centre (share of the arm's length in
the picture; seen in many pose models: they learned from points that people clicked on the outline)."""


@dataclass(frozen=True)
class Hand:
    """Frames of the bow hand in camera space, m moments: ``frog`` (m, 3) mm where the hair begins and ``axes`` (m, 3, 3), rows:
    along the bow to the tip, along the string to the nut, away from the top. ``place`` (m,): where on the bow the string is,
    0 frog, 1 head.
    """

    frog: Array
    axes: Array
    place: Array

    def at(self, index: Array) -> Hand:
        """Some of the moments."""
        return Hand(self.frog[index], self.axes[index], self.place[index])


@dataclass(frozen=True)
class ArmSeen:
    """The arm in the picture at m moments, (m, 2) px each, NaN where not seen: ``shoulder`` the joint's centre as ``true_shoulder``
    gives it, ``elbow``, and ``wrist`` only where the teacher has set it. ``by_hand`` (m,) bool: the teacher set something there.
    ``apart_s``: seconds from one moment to the next."""

    shoulder: Array
    elbow: Array
    wrist: Array
    by_hand: Array
    apart_s: float

    def at(self, index: Array) -> ArmSeen:
        """Some of the moments, evenly chosen."""
        apart = self.apart_s * max(1.0, len(self.by_hand) / len(index))
        return ArmSeen(self.shoulder[index], self.elbow[index], self.wrist[index], self.by_hand[index], apart)


@dataclass(frozen=True)
class ArmChain:
    """What is common to the take. ``shoulder`` (3,) mm in the instrument's frame; ``wrist`` (3,) mm along ``Hand.axes``; ``bias_px``
    (2,) of the model's elbow; ``turn`` (m,) rad of the elbow about shoulder-wrist at the moments looked at, 0 = hanging, of which
    ``slope`` times the place on the bow (from the middle on) goes with the stroke.
    ``level_error`` (m, k) degrees: what k independent errors of one sd each do to the upper arm's elevation at each moment; their
    sum of squares is its variance, and what two moments have in common falls out of their difference. ``others``: of every other
    picture its numbers (``BESIDE``,)."""

    shoulder: Array
    upper_arm: float
    forearm: float
    wrist: Array
    bias_px: Array
    turn: Array
    level_error: Array
    slope: float = 0.0
    others: tuple[Array, ...] = ()

    @property
    def numbers(self) -> Array:
        """The eight numbers that ``joints`` takes."""
        return np.concatenate([self.shoulder, np.log([self.upper_arm, self.forearm]), self.wrist])


@dataclass(frozen=True)
class View:
    """Poses (m, 3, 3), (m, 3) mm and lens at m moments, and the trunk's direction to the hips (m, 3) in camera space."""

    rotation: Array
    translation: Array
    focal: float
    center: tuple[float, float]
    down: Array

    def place(self, point: Array) -> Array:
        """A point (3,) of the instrument's frame in camera space, (m, 3)."""
        return self.rotation @ point + self.translation

    def see(self, points: Array) -> Array:
        """Camera space (m, 3) to pixels (m, 2)."""
        return pinhole(points, self.focal, self.center)

    def at(self, index: Array) -> View:
        """Some of the moments."""
        return View(self.rotation[index], self.translation[index], self.focal, self.center, self.down[index])


def joints(view: View, hand: Hand, chain_numbers: Array, turn: Array) -> tuple[Array, Array, Array, Array]:
    """Shoulder, elbow, wrist (m, 3) mm in camera space, and by how much the arm is too short for the hand (m,) mm.

    ``chain_numbers``: shoulder (3), log upper arm, log forearm, wrist (3).
    """
    shoulder = view.place(chain_numbers[:3])
    upper, fore = np.exp(chain_numbers[3:5])
    wrist = hand.frog + np.einsum("k,mki->mi", chain_numbers[5:8], hand.axes)
    line = wrist - shoulder
    reach = np.linalg.norm(line, axis=1)
    line = line / reach[:, None]
    bent = np.clip(reach, abs(upper - fore) + 1.0, 0.995 * (upper + fore))
    along = (bent**2 + upper**2 - fore**2) / (2 * bent)
    radius = np.sqrt(np.maximum(upper**2 - along**2, 1.0))
    hang = view.down - np.einsum("mi,mi->m", view.down, line)[:, None] * line
    hang /= np.maximum(np.linalg.norm(hang, axis=1, keepdims=True), 1e-9)
    out = np.cross(line, hang)
    elbow = shoulder + along[:, None] * line + radius[:, None] * (np.cos(turn)[:, None] * hang + np.sin(turn)[:, None] * out)
    return shoulder, elbow, wrist, reach - bent


def true_shoulder(shoulder_px: Array, other_px: Array, down_px: Array, arm_px: Array | float) -> Array:
    """The shoulder joint (m, 2) px from the pose model's two shoulder points and the direction to the hips (m, 2)."""
    outwards = shoulder_px - other_px
    outwards /= np.maximum(np.linalg.norm(outwards, axis=1, keepdims=True), 1e-9)
    return shoulder_px + np.asarray(arm_px).reshape(-1, 1) * (POINT_INWARDS * outwards + POINT_UPWARDS * down_px)


def upper_arm_level(shoulder: Array, elbow: Array, down: Array) -> Array:
    """Elevation (m,) degrees of the upper arm against the trunk: 0 = hanging, 90 = square to it.

    ISB's humerothoracic elevation (Wu et al. 2005, from memory).
    """
    arm = elbow - shoulder
    cosine = np.einsum("mi,mi->m", arm, down) / np.linalg.norm(arm, axis=1)
    return np.asarray(np.degrees(np.arccos(np.clip(cosine, -1.0, 1.0))))
