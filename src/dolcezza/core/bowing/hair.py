"""Where the middle of the hair is when the stick lies over it.

Seen from the side the whole ribbon of hair is visible and the middle of the bright ridge is its middle. Seen from above, the
stick covers a part of it and the ridge is only what sticks out: its middle is too far to one side, by millimetres on a cello
filmed from the front. The flank away from the stick is the ribbon's own edge wherever the stick is; half a ribbon inwards
from it is the middle. How wide the ribbon is seen depends on how the bow is turned about its stick, which no landmark tells; where the
stick covers some of it, what is left says so.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.poses import Poses
from dolcezza.core.camera.precision import RIBBON_SD_MM
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.tracking.bow_line import STICK_RADIUS_MM
from dolcezza.core.tracking.bow_path import BowLines

COVERED_SHARE = 0.85
"""A ridge narrower than this share of the ribbon is taken for partly covered."""
STEADY_FRAMES = 9
COVERED_SD_PX = 0.9
"""How well the middle of a partly covered ribbon is known in one frame (one sd, px)."""
STICK_RISE_MM = 11.0
"""The stick's axis over the hair at the middle of a strung bow, a pencil's width and half the stick; from memory."""
SHIFTED_SD = 0.5
"""Besides what is not known of every ribbon, this share of what was added for what is covered (one sd)."""
GIVE_MM, GIVE_SD_MM = 0.5, 0.6
"""A string presses the hair in: at the middle of the bow it is touched so much higher than a straight line along it (and one sd), less
towards both ends. A newton bends hair that is strung with 55 by 3 mm at its middle, a third of one, as pupils play, by a third of that; a
line along the whole of it shows half of it; from memory. How much it is in a take no picture tells."""
TURNED, TURNED_SD = np.radians(7.5), np.radians(12.0)
"""How far players turn a bow about its stick, towards the fingerboard, and how much they differ (one sd; common practice, no source)."""
DARKER_BESIDE, MOST_SPOKEN, SEEN_BESIDE_FRAMES = 4.0, 4.0, 31
"""A side that is darker by so much (grey levels), usually, in so many frames, is e times likelier the stick's; and so often at most."""
TURNS = np.radians(np.arange(0.0, 91.0))


@dataclass(frozen=True)
class Uncovered:
    """``lines`` through the middle of the ribbon, and how well that is known all through the take: ``sd_px`` (n,)."""

    lines: BowLines
    sd_px: Array


def uncover_hair(model: InstrumentModel, lines: BowLines, poses: Poses, params: Array, string: Array) -> Uncovered:
    """The lines moved to where the string touches the hair, which gives, and to the ribbon's middle where the stick covers a part of it.

    ``params`` (n, 4) and ``string`` (n,) (-1 = none) from a first solution: they say how the bow stands to the camera.
    """
    solved = (string >= 0) & np.isfinite(params).all(axis=1)
    px_mm, turn, side, slant = stands(model, lines.direction, poses, np.where(solved[:, None], params, 0.0), np.maximum(string, 0))
    known = solved & np.isfinite(lines.edges).all(axis=(1, 2))
    place = np.clip(np.where(solved, params[:, 3], 0.0), 0.0, 1.0)
    normal = np.stack([-lines.direction[:, 1], lines.direction[:, 0]], axis=-1)
    gives = px_mm * (4 * place * (1 - place)) ** 2 * np.sin(turn)
    touched = np.where(solved, side * GIVE_MM * gives, 0.0)
    own = np.hypot(px_mm * RIBBON_SD_MM, GIVE_SD_MM * gives)
    if not known.any():
        return Uncovered(replace(lines, point=lines.point + touched[:, None] * normal), np.where(solved, own, 0.0))
    likely = _side_of_stick(lines, turn, slant, side, solved)
    side, likely = np.where(likely >= 0.5, side, -side), np.maximum(likely, 1 - likely)
    low, high = lines.edges[:, 0], lines.edges[:, 1]
    seen = (high[:, 0] - low[:, 0]) / px_mm
    width = model.spec.hair_width
    covered = known & (seen < COVERED_SHARE * width * np.cos(turn))
    ribbon = px_mm * width * np.cos(np.minimum(turn, _turn_that_leaves(seen, width)))
    outer = np.where((side > 0)[:, None], low, high)
    shift = np.where(covered, outer[:, 0] + 0.5 * side * ribbon, 0.0)
    # where it may be either side, as much of it as is likelier there, and the rest is not known
    either = 2 * np.sqrt(likely * (1 - likely)) * np.abs(shift)
    shift = (2 * likely - 1) * shift
    slope = np.where(covered, (2 * likely - 1) * outer[:, 1], 0.0)
    shift, slope = (scipy.ndimage.median_filter(v, STEADY_FRAMES, mode="nearest") for v in (shift, slope))
    direction = lines.direction + slope[:, None] * normal
    direction /= np.linalg.norm(direction, axis=1, keepdims=True)
    sd = lines.fit_sd.copy()
    sd[covered, 0] = np.hypot(sd[covered, 0], COVERED_SD_PX)
    moved = replace(lines, point=lines.point + (shift + touched)[:, None] * normal, direction=direction, fit_sd=sd)
    return Uncovered(moved, np.where(solved, np.hypot(np.hypot(own, SHIFTED_SD * shift), either), 0.0))


def _side_of_stick(lines: BowLines, turn: Array, slant: Array, side: Array, solved: Array) -> Array:
    """How likely the stick is on the side (n,) +1 or -1 of each line's normal on which the view has it, (n,) 0 to 1: players turn their bow
    about its stick, mostly towards the fingerboard (``slant``, as in ``stands``), and what is dark close beside the line speaks too."""
    prior = side_by_view(turn, slant, side)
    # a stick may be pale: what is bright beside the line says nothing
    dark = np.maximum(lines.close, 0.0)
    darker = np.where(solved & np.isfinite(dark).all(axis=1), dark[:, 1] - dark[:, 0], 0.0)
    darker = scipy.ndimage.median_filter(darker, SEEN_BESIDE_FRAMES, mode="nearest")
    speaks = side * np.clip(darker / DARKER_BESIDE, -MOST_SPOKEN, MOST_SPOKEN)
    return np.where(solved, scipy.special.expit(prior + speaks), 1.0)


def side_by_view(turn: Array, slant: Array, side: Array) -> Array:
    """The same by the view and how players turn their bows alone, as the logarithm of the odds (n,)."""
    off = (np.sin(turn) + side * slant * np.tan(TURNED)) / (np.abs(slant) * np.tan(TURNED_SD) + 1e-3)
    return np.asarray(scipy.special.log_ndtr(off) - scipy.special.log_ndtr(-off))


def _turn_that_leaves(seen_mm: Array, width_mm: float) -> Array:
    """How a bow is turned to the camera (n,) rad, 0 = the stick lies over the middle of the hair, if the stick leaves ``seen_mm`` (n,)."""
    left = STICK_RISE_MM * np.sin(TURNS) - STICK_RADIUS_MM + 0.5 * width_mm * np.cos(TURNS)
    top = int(np.argmax(left))
    return np.asarray(np.interp(seen_mm, left[: top + 1], TURNS[: top + 1]))


def stands(model: InstrumentModel, direction: Array, poses: Poses, params: Array, string: Array) -> tuple[Array, Array, Array, Array]:
    """Pixels a mm across the bow, its turn to the camera (rad, 0 = seen from above the stick) if it is not turned about its stick, the
    side of the line's normal on which the stick is then (+1 or -1), and which part of a way towards the fingerboard is seen along that
    normal (-1 to 1); each (n,). ``direction`` (n, 2) of the line in the picture."""
    touch = model.string_point(string, params[:, 0])
    along = model.bow_direction(params[:, 1], params[:, 2])
    lean = np.radians(params[:, 2])
    up = np.stack([np.zeros_like(lean), -np.sin(lean), np.cos(lean)], axis=-1)
    flat = np.cross(along, up)
    points = np.stack([touch, touch + up, touch + flat], axis=1)
    xy = poses.see(points)
    normal = np.stack([-direction[:, 1], direction[:, 0]], axis=-1)
    rise = np.einsum("ni,ni->n", xy[:, 1] - xy[:, 0], normal)
    across = np.einsum("ni,ni->n", xy[:, 2] - xy[:, 0], normal)
    px_mm = np.maximum(np.hypot(rise, across), 1e-6)
    return px_mm, np.arctan2(np.abs(rise), np.abs(across)), np.where(rise >= 0, 1.0, -1.0), np.sign(flat[:, 0]) * across / px_mm
