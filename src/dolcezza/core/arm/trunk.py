"""Which way the trunk points: from how the instrument is held, put right by the line from shoulders to hips in the picture."""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.body.points import ARMS, HIPS, LEAST_VISIBLE, BodySeen, middle
from dolcezza.core.body.proportions import Build
from dolcezza.core.camera.lens import pinhole

HOLD_SD_DEG = 9.0
"""How differently players hold their instrument to the trunk (one sd)."""
SEEN_SD_DEG = 3.0
"""How well the pose model's shoulders and hips tell the trunk's line in the picture (one sd)."""
TRUNK_SD_DEG = 5.0
"""What is left unknown of the trunk's direction (one sd): mostly how far it leans towards the camera."""


def trunk_down(build: Build, rotation: Array, translation: Array, focal: float, center: tuple[float, float], seen: BodySeen) -> Array:
    """Unit vectors (m, 3) in camera space along the trunk to the hips at the moments of ``seen`` (m).

    Poses (m, 3, 3), (m, 3) of the instrument. Where the hips are not in the picture, the way the instrument is held decides.
    """
    down = rotation @ build.down
    shoulder = rotation @ build.shoulder + translation
    shoulders, hips = middle(seen, {side: ids[0] for side, ids in ARMS.items()}), middle(seen, HIPS)
    line = hips - shoulders
    sure = np.isfinite(line[:, 0]) & (seen.visible[:, [HIPS["left"], HIPS["right"]]].min(axis=1) > LEAST_VISIBLE)
    if not sure.any():
        return down
    depth = shoulder[:, 2:]
    start = np.column_stack([(shoulders - np.asarray(center)) / focal, np.ones(len(down))]) * depth
    should = pinhole(start + 300.0 * down, focal, center) - shoulders
    apart = np.arctan2(should[:, 0] * line[:, 1] - should[:, 1] * line[:, 0], (should * line).sum(axis=1))
    share = HOLD_SD_DEG**2 / (HOLD_SD_DEG**2 + SEEN_SD_DEG**2)
    turn = share * float(np.median(apart[sure]))
    ray = start[sure].mean(axis=0)
    return _about(down, ray / np.linalg.norm(ray), turn)


def _about(vectors: Array, axis: Array, angle: float) -> Array:
    """Vectors (m, 3) turned about a unit ``axis`` (3,) by ``angle`` rad (Rodrigues)."""
    across = np.cross(axis, vectors)
    return np.asarray(vectors * np.cos(angle) + across * np.sin(angle) + np.outer(vectors @ axis, axis) * (1 - np.cos(angle)))
