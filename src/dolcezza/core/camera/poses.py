"""Poses of the instrument in all frames of a take, which share one lens."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.geometry import rotation_of, rotation_vector
from dolcezza.core.camera.bow_view import see
from dolcezza.core.camera.lens import Camera


@dataclass(frozen=True)
class Poses:
    """Pose of every frame: ``rotation`` (n, 3, 3), ``translation`` (n, 3) mm, one ``focal`` px and ``center``; ``radial``: first
    coefficient of the lens's distortion (of the squared tangent), 0 = none."""

    rotation: Array
    translation: Array
    focal: float
    center: tuple[float, float]
    radial: float = 0.0

    @staticmethod
    def of(cameras: list[Camera]) -> Poses:
        """Stack single cameras that share one lens."""
        first = cameras[0]
        return Poses(
            np.array([c.rotation for c in cameras]),
            np.array([c.tvec for c in cameras], float),
            first.focal,
            first.center,
        )

    def camera(self, k: int) -> Camera:
        """The pose of one frame."""
        return Camera(rotation_vector(self.rotation[k]), self.translation[k], self.focal, self.center)

    def see(self, points: Array) -> Array:
        """Points (n, k, 3) mm of every frame to pixels (n, k, 2)."""
        return see(points, self.rotation, self.translation, self.focal, self.center, self.radial)

    def rows(self, rows: Array | slice) -> Poses:
        """Some of the frames."""
        return Poses(self.rotation[rows], self.translation[rows], self.focal, self.center, self.radial)

    def changed(
        self, turn: Array, move: Array, log_focal: float, centre: Array, radial: float
    ) -> Poses:  # fmt: skip
        """The same with the instrument turned by ``turn`` (3,) rad in its own frame, and moved by ``move`` (3,): to the right and down as
        tangents, and away as a logarithm; under a lens that differs by ``log_focal``, ``centre`` (2,) px and ``radial``.

        The lens alone moves nothing in the picture: a longer one has the instrument farther away, a shifted one has it to the side.
        """
        x, y, z = self.translation.T
        plain = 1 + self.radial * (x**2 + y**2) / z**2
        out = 1 + (self.radial + radial) * (x**2 + y**2) / z**2
        place = np.column_stack(
            [x * plain / out + z * (move[0] - centre[0] / self.focal), y * plain / out + z * (move[1] - centre[1] / self.focal), z]
        )
        place[:, 2] *= np.exp(log_focal)
        focal = self.focal * float(np.exp(log_focal))
        center = (self.center[0] + float(centre[0]), self.center[1] + float(centre[1]))
        return Poses(self.rotation @ rotation_of(turn), place * np.exp(move[2]), focal, center, self.radial + radial)
