"""The phone's lens: a pinhole with barrel, written on its own so that it can contradict the measuring's."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array


@dataclass(frozen=True)
class Phone:
    """A camera at ``place`` (3,) mm; ``axes`` (3, 3): right, down and forward as rows; ``focal`` px; ``middle`` px of its picture;
    ``barrel``: radial share by the square of the distance from the middle in focal lengths; ``cut`` (2, 3): from its picture to the part of
    it that is wanted, px."""

    place: Array
    axes: Array
    focal: float
    middle: tuple[float, float]
    barrel: float = 0.0
    cut: Array | None = None

    def depth(self, points: Array) -> Array:
        """How far before the lens (n,), mm."""
        return np.asarray((points - self.place) @ self.axes[2])

    def see(self, points: Array) -> Array:
        """Places (n, 3) mm to pixels (n, 2); what lies behind the lens has no meaning."""
        own = (np.asarray(points, float) - self.place) @ self.axes.T
        flat = own[:, :2] / np.maximum(own[:, 2:], 1e-6)
        # far outside of any picture the barrel would fold back
        bent = flat * (1.0 + self.barrel * np.minimum((flat**2).sum(1, keepdims=True), 0.8))
        seen = bent * self.focal + self.middle
        return np.asarray(seen if self.cut is None else seen @ self.cut[:, :2].T + self.cut[:, 2])


def looking_at(place: Array, target: Array, up: Array, *, roll_deg: float = 0.0) -> Array:
    """Axes (3, 3) of a camera at ``place`` that looks at ``target``, turned about its own axis by ``roll_deg``."""
    forward = np.asarray(target, float) - place
    forward /= np.linalg.norm(forward)
    right = np.cross(forward, up)
    right /= np.linalg.norm(right)
    down = np.cross(forward, right)
    c, s = np.cos(np.radians(roll_deg)), np.sin(np.radians(roll_deg))
    return np.stack([c * right + s * down, c * down - s * right, forward])
