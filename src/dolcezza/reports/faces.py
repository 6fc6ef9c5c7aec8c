"""Faces in pictures that leave the machine: a coarse mosaic over the head, wherever the body's points say that it is or was a moment ago.

A mosaic cannot be undone: of each block only its mean is left. The bow is left open, so that nothing that was measured is hidden. Where no
head is known everything but the surroundings of bow and instrument is hidden.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import StudioError
from dolcezza.core.body.points import BodySeen
from dolcezza.core.pipeline.cache import MeasurementCache
from dolcezza.storage.packed import CACHE_FILE, read_packed

HEAD = tuple(range(11))
"""Points of the face: nose, eyes, ears, mouth."""
SHOULDERS = (11, 12)
REACH_S = 0.45
"""Looks so near in time count together: between two of them the head has moved."""
LEAST_VISIBLE = 0.2
BY_FACE, BY_SHOULDERS = 2.1, 0.42
"""Radius of the head, over the spread of the face's points and over the shoulders' width, the larger one."""
BLOCKS = 4
"""So many blocks across a head."""
BOW_PX = 10.0
"""Half the width (px at 1280) of what is left open along the bow."""


Heads = list[tuple[float, float, float]]
Others = Callable[[Array], Heads]
"""Finds the heads (middle and radius, px) of everybody in an RGB picture."""


def heads_at(body: BodySeen, t_s: float) -> list[tuple[float, float, float]]:
    """Middle and radius (px as the body was seen) of the head in each look near ``t_s``, or in the nearest one."""
    if not len(body) or not body.found.any():
        return []
    apart = np.where(body.found, np.abs(body.t_s - t_s), np.inf)
    near = np.flatnonzero(apart <= max(REACH_S, float(apart.min()) + 1e-9))
    out = []
    for k in near:
        points, visible = body.points[k], body.visible[k]
        face = points[[p for p in HEAD if visible[p] >= LEAST_VISIBLE]] if (visible[list(HEAD)] >= LEAST_VISIBLE).any() else points[[0]]
        middle = face.mean(axis=0)
        spread = float(np.linalg.norm(face - middle, axis=1).max())
        wide = float(np.linalg.norm(points[SHOULDERS[0]] - points[SHOULDERS[1]]))
        out.append((float(middle[0]), float(middle[1]), max(BY_FACE * spread, BY_SHOULDERS * wide, 8.0)))
    return out


def kept_heads(folder: Path, t_s: float, *, width: int, flip: bool, reduced: float) -> list[tuple[float, float, float]]:
    """The heads at ``t_s`` in px of the filmed picture, by what a measurement in ``folder`` has kept; [] where nothing is known."""
    try:
        cache = read_packed(MeasurementCache, Path(folder) / CACHE_FILE)
    except (StudioError, OSError):
        return []
    if cache is None or cache.body is None:
        return []
    out = []
    for x, y, r in heads_at(cache.body, t_s):
        x, y, r = x / reduced, y / reduced, r / reduced
        out.append((width - x if flip else x, y, r))
    return out


def coarse(image: Array, block: int) -> Array:
    """The picture (h, w, 3) in blocks of ``block`` px, each its mean."""
    h, w = image.shape[:2]
    small = cv2.resize(image, (max(1, -(-w // block)), max(1, -(-h // block))), interpolation=cv2.INTER_AREA)
    return cv2.resize(small, (w, h), interpolation=cv2.INTER_NEAREST)


def hide_faces(
    image: Array, heads: Sequence[tuple[float, float, float]], bow: Sequence[tuple[float, float]],
    others: Sequence[tuple[float, float, float]] = (),
) -> Array:  # fmt: skip
    """The picture with the player's ``heads`` and ``others`` hidden; ``bow``: the ends of what must stay to be seen (px). Where the head of
    the player is not known all but the surroundings of the bow is hidden."""
    h, w = image.shape[:2]
    scale = max(w, h) / 1280
    hidden: Array = np.zeros((h, w), np.uint8)
    ends = [(round(x), round(y)) for x, y in bow if np.isfinite([x, y]).all()]
    if heads:
        for x, y, r in (*heads, *others):
            cv2.circle(hidden, (round(x), round(y)), round(r), 255, -1)
        size = max(r for _, _, r in heads)
    else:
        hidden[:] = 255
        size = 0.12 * max(h, w)
        if len(ends) > 1:
            cv2.line(hidden, ends[0], ends[1], 0, round(90 * scale))
    if len(ends) > 1:
        cv2.line(hidden, ends[0], ends[1], 0, max(3, round(2 * BOW_PX * scale)))
    mosaic = coarse(image, max(6, round(2 * size / BLOCKS)))
    return np.where(hidden[..., None] > 0, mosaic, image)
