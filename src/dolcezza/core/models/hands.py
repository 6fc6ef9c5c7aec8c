"""The 21 points of each hand in a picture: palms found by a detector, then one look at each."""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.models.anchors import anchors, detections
from dolcezza.core.models.crop import Square, upright, whole
from dolcezza.core.models.nets import Net

STRIDES = (8, 16, 16, 16)
LEAST_SURE = 0.3
HAND_THERE = 0.5
MOST_HANDS = 4
AROUND, TOWARDS_FINGERS = 2.6, 0.5
"""Side of the crop, and how far its middle lies towards the fingers, as shares of the palm's box."""
WRIST, MIDDLE_KNUCKLE = 0, 2
"""Key points of the detector."""


class HandFinder:
    """Finds the hands of one picture."""

    def __init__(self, detector: Net, landmarks: Net) -> None:
        """``detector`` gives boxes and scores, ``landmarks`` points, presence and which hand it is."""
        self._detector, self._landmarks = detector, landmarks
        self._places = anchors(detector.size, STRIDES)

    def find(self, picture: Array) -> list[tuple[Array, float]]:
        """For each hand (21, 2) px in an RGB picture (h, w, 3) of bytes, and how sure the net is that it is one, 0..1."""
        square, n = whole(picture), self._detector.size
        boxes, scores = self._detector(square.cut(picture, n, 0.0, 1.0, repeat_border=False))
        out = []
        for palm in detections(boxes, scores, self._places, n, LEAST_SURE)[:MOST_HANDS]:
            points = square.back(palm.points * n, n)
            corners = square.back(palm.box.reshape(2, 2) * n, n)
            hand = _around(corners, upright(points[WRIST], points[MIDDLE_KNUCKLE]))
            size = self._landmarks.size
            raw, sure = self._landmarks(hand.cut(picture, size, 0.0, 1.0, repeat_border=True))[:2]
            if float(sure[0]) >= HAND_THERE:
                out.append((hand.back(raw.reshape(21, 3)[:, :2], size), float(sure[0])))
        return out


def _around(corners: Array, angle: float) -> Square:
    """The crop of a hand from its palm's box (2, 2) px."""
    extent = corners[1] - corners[0]
    up = np.array([np.sin(angle), -np.cos(angle)])
    return Square(corners.mean(axis=0) + TOWARDS_FINGERS * extent[1] * up, AROUND * float(extent.max()), angle)
