"""The 33 points of a body in a picture: found by a detector, then followed by the landmark net's own crop."""

from __future__ import annotations

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array
from dolcezza.core.models.anchors import anchors, detections
from dolcezza.core.models.crop import Square, upright, whole
from dolcezza.core.models.nets import Net

POINTS = 33
STRIDES = (8, 16, 32, 32, 32)
LEAST_SURE = 0.4
STILL_THERE = 0.5
"""A body surer than this is followed; below it is looked for anew."""
LEANING_RAD = np.radians(45.0)
"""Nobody who plays leans so far: what was followed in that direction is something else, and is looked for anew."""
LEFT_SHOULDER, RIGHT_SHOULDER, LEFT_HIP, RIGHT_HIP = 11, 12, 23, 24
AROUND = 1.25
"""The side of the crop, as a share of the circle through the hips' middle that holds the body."""
HIPS, REACH, SHOULDERS = 0, 1, 2
"""Key points of the detector: between the hips, on the circle around the body, between the shoulders."""
PERHAPS = 0.25
"""Somebody who is only perhaps there has a face to hide."""
HEAD_OVER, HEAD_WIDE = 0.48, 0.5
"""A head's middle over the shoulders, and the radius of what may be head, as shares of the way from hips to shoulders: an adult's head lies
0.2 to 0.65 over them, a small child's to 0.9."""
HEAT_SIDE, HEAT_LEAST = 9, 0.5
"""Cells of the heat map around a point that are averaged; a map whose highest cell is below this is left alone."""


class BodyFinder:
    """Finds one body, picture after picture."""

    def __init__(self, detector: Net, landmarks: Net) -> None:
        """``detector`` gives boxes and scores, ``landmarks`` points, presence and heat maps."""
        self._detector, self._landmarks = detector, landmarks
        self._places = anchors(detector.size, STRIDES)
        self._next: Square | None = None

    def forget(self) -> None:
        """The next picture shows another scene."""
        self._next = None

    def find(self, picture: Array) -> Array | None:
        """(33, 3) of x px, y px and visibility 0..1 in an RGB picture (h, w, 3) of bytes; None = nobody."""
        followed, self._next = self._next, None
        found = self._look(picture, followed) if followed is not None else None
        if followed is None or (found is not None and leaning(found[0]) > LEANING_RAD):
            found = self._look(picture, self._detect(picture))
        if found is None:
            return None
        points, around = found
        self._next = around if leaning(points) <= LEANING_RAD else None
        return points

    def _look(self, picture: Array, square: Square | None) -> tuple[Array, Square] | None:
        """The body in a square of the picture, and the square around it; None = nobody."""
        if square is None:
            return None
        n = self._landmarks.size
        raw, sure, heat = self._landmarks(square.cut(picture, n, 0.0, 1.0, repeat_border=True))
        if float(sure[0]) < STILL_THERE:
            return None
        points = raw.reshape(-1, 5)
        places = square.back(refined(points[:, :2] / n, heat) * n, n)
        body = np.column_stack([places[:POINTS], scipy.special.expit(points[:POINTS, 3])])
        return body, _around(places[POINTS], places[POINTS + 1])

    def heads(self, picture: Array, *, closely: bool = True) -> list[tuple[float, float, float]]:
        """Middle and radius (px) of the head of everybody who may be in an RGB picture (h, w, 3); ``closely``: of those who are small in it
        too."""
        h, w = picture.shape[:2]
        parts = [whole(picture)]
        side = min(h, w)
        if closely and max(h, w) > 1.2 * side:
            ends = (side / 2, max(h, w) - side / 2)
            parts += [Square(np.array([e, h / 2] if w > h else [w / 2, e]), float(side), 0.0) for e in ends]
        out = []
        for square in parts:
            for points in self._bodies(picture, square, PERHAPS):
                trunk = points[SHOULDERS] - points[HIPS]
                middle = points[SHOULDERS] + HEAD_OVER * trunk
                out.append((float(middle[0]), float(middle[1]), HEAD_WIDE * float(np.linalg.norm(trunk))))
        return out

    def _bodies(self, picture: Array, square: Square, least: float) -> list[Array]:
        """Key points (4, 2) px of the bodies in a part of the picture, the surest first."""
        n = self._detector.size
        boxes, scores = self._detector(square.cut(picture, n, -1.0, 1.0, repeat_border=False))
        return [square.back(d.points * n, n) for d in detections(boxes, scores, self._places, n, least)]

    def _detect(self, picture: Array) -> Square | None:
        found = self._bodies(picture, whole(picture), LEAST_SURE)
        if not found:
            return None
        stands = [p for p in found if abs(upright(p[HIPS], p[SHOULDERS])) <= LEANING_RAD]
        return _around(*(stands or found)[0][[HIPS, REACH]])


def leaning(points: Array) -> float:
    """How far (radians) the way from the hips to the shoulders of a body (33, 3) leans off the picture's upright."""
    hips, shoulders = points[[LEFT_HIP, RIGHT_HIP], :2].mean(axis=0), points[[LEFT_SHOULDER, RIGHT_SHOULDER], :2].mean(axis=0)
    return abs(upright(hips, shoulders))


def _around(middle: Array, rim: Array) -> Square:
    """The crop around a body: a circle about its hips, turned so that the rim's point is on top."""
    return Square(middle, 2 * AROUND * float(np.linalg.norm(rim - middle)), upright(middle, rim))


def refined(points: Array, heat: Array) -> Array:
    """Points (n, 2), as shares of the side, moved to the middle of what their heat maps (s, s, n) say about them."""
    side, n = heat.shape[0], len(points)
    reach = HEAT_SIDE // 2
    steps = np.arange(-reach, reach + 1)
    cells = (points * side).astype(int)
    inside = ((cells >= 0) & (cells < side)).all(axis=1)
    x, y = (cells[:, k, None] + steps for k in (0, 1))
    there = ((x >= 0) & (x < side))[:, None, :] & ((y >= 0) & (y < side))[:, :, None]
    part = heat[np.clip(y, 0, side - 1)[:, :, None], np.clip(x, 0, side - 1)[:, None, :], np.arange(n)[:, None, None]]
    part = np.where(there, scipy.special.expit(part.astype(float)), 0.0)
    total = part.sum(axis=(1, 2))
    with np.errstate(invalid="ignore", divide="ignore"):
        middle = np.stack([(part.sum(axis=1) * x).sum(axis=1), (part.sum(axis=2) * y).sum(axis=1)], axis=1) / (total * side)[:, None]
    told = inside & (part.max(axis=(1, 2)) >= HEAT_LEAST)
    return np.where(told[:, None], middle, points.astype(float))
