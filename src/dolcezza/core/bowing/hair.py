"""Where the middle of the hair is when the stick lies over it.

Seen from the side the whole ribbon of hair is visible and the middle of the bright ridge is its middle. Seen from above, the
stick covers a part of it and the ridge is only what sticks out: its middle is too far to one side, by millimetres on a cello
filmed from the front. The flank away from the stick is the ribbon's own edge wherever the stick is; half a ribbon inwards
from it is the middle.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from scipy.ndimage import median_filter

from dolcezza.core.camera.poses import Poses
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.tracking.bow_path import BowLines

Array = np.ndarray

COVERED_SHARE = 0.85
"""A ridge narrower than this share of the ribbon is taken for partly covered."""
STEADY_FRAMES = 9
COVERED_SD_PX = 0.9
"""How well the middle of a partly covered ribbon is known (one sd, px): widths of ribbons and sticks differ."""


def uncover_hair(model: InstrumentModel, lines: BowLines, poses: Poses, params: Array, string: Array) -> BowLines:
    """The lines moved to the middle of the ribbon where the stick covers a part of it.

    ``params`` (n, 4) and ``string`` (n,) (-1 = none) from a first solution: they say how the bow stands to the camera.
    """
    known = (string >= 0) & np.isfinite(params).all(axis=1) & np.isfinite(lines.edges).all(axis=(1, 2))
    if not known.any():
        return lines
    ribbon, side = _seen_ribbon(model, lines, poses, np.where(known[:, None], params, 0.0), np.maximum(string, 0))
    low, high = lines.edges[:, 0], lines.edges[:, 1]
    covered = known & (high[:, 0] - low[:, 0] < COVERED_SHARE * ribbon)
    outer = np.where((side > 0)[:, None], low, high)
    shift = np.where(covered, outer[:, 0] + 0.5 * side * ribbon, 0.0)
    slope = np.where(covered, outer[:, 1], 0.0)
    shift, slope = (median_filter(v, STEADY_FRAMES, mode="nearest") for v in (shift, slope))
    normal = np.stack([-lines.direction[:, 1], lines.direction[:, 0]], axis=-1)
    direction = lines.direction + slope[:, None] * normal
    direction /= np.linalg.norm(direction, axis=1, keepdims=True)
    sd = lines.fit_sd.copy()
    sd[covered, 0] = np.hypot(sd[covered, 0], COVERED_SD_PX)
    return replace(lines, point=lines.point + shift[:, None] * normal, direction=direction, fit_sd=sd)


def _seen_ribbon(model: InstrumentModel, lines: BowLines, poses: Poses, params: Array, string: Array) -> tuple[Array, Array]:
    """Width of the ribbon in the picture, px, and the side of the line's normal on which the stick is (+1 or -1)."""
    touch = model.string_point(string, params[:, 0])
    along = model.bow_direction(params[:, 1], params[:, 2])
    lean = np.radians(params[:, 2])
    up = np.stack([np.zeros_like(lean), -np.sin(lean), np.cos(lean)], axis=-1)
    flat = np.cross(along, up)
    points = np.stack([touch, touch + up, touch + flat], axis=1)
    xy = poses.see(points)
    normal = np.stack([-lines.direction[:, 1], lines.direction[:, 0]], axis=-1)
    rise = np.einsum("ni,ni->n", xy[:, 1] - xy[:, 0], normal)
    width = model.spec.hair_width * np.abs(np.einsum("ni,ni->n", xy[:, 2] - xy[:, 0], normal))
    return width, np.where(rise >= 0, 1.0, -1.0)
