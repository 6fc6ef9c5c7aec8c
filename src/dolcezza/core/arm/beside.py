"""The bow arm in another phone's picture at the moments of the first: one more view of the same chain."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from dolcezza.core.arm.chain import ArmSeen
from dolcezza.core.base.arrays import Array
from dolcezza.core.base.geometry import rotation_of
from dolcezza.core.camera.lens import pinhole

BESIDE = 12
"""Unknowns of a picture besides: bias of the model's elbow (2) and wrist (2), camera turned (3) and shifted (3), lens, clock."""
BIAS, CAMERA, TURN, LENS, CLOCK = slice(0, 4), slice(4, 12), slice(4, 7), 10, 11
"""Where each stands among them; the camera's are all that is not bias."""
SEEN_SD, BIAS_SD = 0.05, 0.04
"""Errors of the pose model's points in the picture (one sd, share of the arm's length there)."""


@dataclass(frozen=True)
class Beside:
    """The arm as another phone shows it at the first one's m moments. ``rotation`` (m, 3, 3) and ``translation`` (m, 3) mm take the first
    camera's space to this one's; ``focal`` px and ``center``; ``seen``: its wrist is the model's; ``speed`` (m, 3, 2) px/s of shoulder,
    elbow and wrist; ``doubt`` (8,): one sd of turn (3, rad), shift (3, mm), logarithm of the focal length, clock (s). ``anchors`` (k, 3) mm
    in the first camera's space: other parts of the body, and their ``places`` (k, 2) px here."""

    rotation: Array
    translation: Array
    focal: float
    center: tuple[float, float]
    seen: ArmSeen
    speed: Array
    doubt: Array
    anchors: Array
    places: Array

    def at(self, index: Array) -> Beside:
        """Some of the moments."""
        return replace(
            self, rotation=self.rotation[index], translation=self.translation[index], seen=self.seen.at(index), speed=self.speed[index]
        )

    def into(self, points: Array, shoulder: Array, more: Array) -> Array:
        """Points (m, 3) of the first camera's space in this one's, turned about the ``shoulder`` (m, 3) and shifted by ``more`` (8,)."""
        pivot = np.einsum("mij,mj->mi", self.rotation, shoulder) + self.translation
        away = np.einsum("mij,mj->mi", self.rotation, points - shoulder)
        return np.asarray(pivot + away @ rotation_of(more[:3]).T + more[3:6])

    def see(self, points: Array, shoulder: Array, more: Array) -> Array:
        """The same in pixels (m, 2)."""
        return pinhole(self.into(points, shoulder, more), self.focal * float(np.exp(more[6])), self.center)

    def off_anchors(self, shoulder: Array, more: Array) -> Array:
        """How far (k, 2) px the ``anchors`` are seen from their places, over the take."""
        count = len(self.anchors)
        turn, shift = np.tile(self.rotation.mean(axis=0), (count, 1, 1)), np.tile(self.translation.mean(axis=0), (count, 1))
        still = replace(self, rotation=turn, translation=shift)
        return still.see(self.anchors, np.tile(shoulder.mean(axis=0), (count, 1)), more) - self.places

    def arm_px(self, arm_mm: float, shoulder: Array) -> float:
        """About how long an arm is in this picture, px."""
        depth = np.einsum("mj,mj->m", self.rotation[:, 2], shoulder) + self.translation[:, 2]
        return arm_mm * self.focal / max(float(np.median(depth)), 100.0)
