"""The turned square of a picture that a net looks at, and the way back from its pixels to the picture's."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array


@dataclass(frozen=True)
class Square:
    """A square of the picture: middle (2,) px, side px, turned by ``angle`` radians (+ = clockwise on the screen)."""

    middle: Array
    side: float
    angle: float = 0.0

    def to_picture(self, size: int) -> Array:
        """(2, 3): from pixels of the net's ``size`` x ``size`` picture to those of the picture."""
        c, s = np.cos(self.angle), np.sin(self.angle)
        linear = self.side / size * np.array([[c, -s], [s, c]])
        return np.asarray(np.c_[linear, np.asarray(self.middle, float) - linear @ [size / 2, size / 2]])

    def cut(self, picture: Array, size: int, low: float, high: float, *, repeat_border: bool) -> Array:
        """(size, size, 3) float32 from ``low`` to ``high``. Outside the picture: its border repeated, or black."""
        border = cv2.BORDER_REPLICATE if repeat_border else cv2.BORDER_CONSTANT
        part = cv2.warpAffine(
            picture, self.to_picture(size), (size, size), flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP, borderMode=border
        )
        out: Array = part.astype(np.float32)
        out *= np.float32((high - low) / 255.0)
        out += np.float32(low)
        return out

    def back(self, points: Array, size: int) -> Array:
        """Points (n, 2) of the net's picture in pixels of the picture (n, 2)."""
        way = self.to_picture(size)
        return points @ way[:, :2].T + way[:, 2]


def whole(picture: Array) -> Square:
    """The square around the whole picture (h, w, 3)."""
    h, w = picture.shape[:2]
    return Square(np.array([w / 2, h / 2]), float(max(h, w)))


def upright(start: Array, end: Array) -> float:
    """By how much (radians) a square is turned so that the way from ``start`` to ``end`` (2,) points up in it."""
    dx, dy = np.asarray(end, float) - start
    angle = np.pi / 2 - np.arctan2(-dy, dx)
    return float((angle + np.pi) % (2 * np.pi) - np.pi)
