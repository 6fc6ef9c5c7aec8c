"""What all bows of a take together say of instrument, lens and player, and which ends of the hair can be believed by that."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.body.points import BodySeen
from dolcezza.core.bowing.end_on import end_on
from dolcezza.core.bowing.hair import uncover_hair
from dolcezza.core.bowing.held import believed_ends, held_frog
from dolcezza.core.bowing.in_picture import hair_in_picture
from dolcezza.core.bowing.noisy_ends import as_noisy_as_seen
from dolcezza.core.bowing.smooth import smooth_bow
from dolcezza.core.bowing.solve import BowProblem
from dolcezza.core.bowing.strings import solve_bow
from dolcezza.core.bowing.whole_take import fit_take
from dolcezza.core.camera.bow_view import hair_ends
from dolcezza.core.camera.lens import LensPrior
from dolcezza.core.camera.poses import Poses
from dolcezza.core.camera.unknowns import CalibrationFrame, TakeUnknowns
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.tracking.bow_path import BowLines

ENOUGH_FRAMES = 300
"""About so many frames, spread over the take, say what there is to know of it."""
BEYOND_FROG = 0.04
"""Share of the hair by which it seems to go on beyond the frog in half of all frames, from which its end there is not believed."""


def know_take(
    model: InstrumentModel, lines: BowLines, poses: Poses, t_s: Array, moments: Sequence[CalibrationFrame], *, scale_px: float,
    lens: LensPrior, hint: Array | None = None, silent: Array | None = None, body: BodySeen | None = None,
    heads_set: Array | None = None,
) -> tuple[TakeUnknowns, BowLines]:  # fmt: skip
    """What landmarks, strings and all bows of the take together say of the instrument, the lens and the player's way; and the lines,
    without ends that cannot be believed.

    ``silent`` (n,) bool: no string sounds there, so that a bow may be anywhere; such frames do not count. ``body``: where the hand is that
    holds the frog; ``heads_set`` (n,) bool: the teacher has set the head there.
    """
    t_s = np.asarray(t_s)
    every = slice(None, None, max(1, len(t_s) // ENOUGH_FRAMES))
    few, few_s = poses.rows(every), t_s[every]
    hint, silent = (None if v is None else v[every] for v in (hint, silent))
    rate_hz = 1 / float(np.median(np.diff(few_s)))
    lines = as_noisy_as_seen(lines, scale_px=scale_px)
    solution = solve_bow(model, lines.rows(every), few, scale_px=scale_px, rate_hz=rate_hz, hint=hint)
    hair = hair_in_picture(model, solution, few, few_s, t_s)
    held = held_frog(lines, hair, body, t_s) if body is not None and len(body) else None
    kept = believed_ends(lines, hair, held, t_s, scale_px=scale_px, by_hand=heads_set)
    if kept is not lines:
        solution = solve_bow(model, kept.rows(every), few, scale_px=scale_px, rate_hz=rate_hz, hint=hint)
    string = solution.string if silent is None or silent.all() else np.where(silent, -1, solution.string)
    string = np.where(end_on(model, few, solution.params, solution.string), -1, string)
    seen = uncover_hair(model, kept.rows(every), few, solution.params, solution.string).lines
    params, _ = smooth_bow(model, seen, few, solution.string, solution.params, few_s, scale_px=scale_px)
    beyond = _seen_beyond_the_frog(model, seen, few, string, params, scale_px=scale_px)
    if beyond:
        seen = replace(seen, frog=np.full(len(few_s), np.nan))
        params, _ = smooth_bow(model, seen, few, solution.string, solution.params, few_s, scale_px=scale_px)
    learnt = fit_take(model, seen, few, string, params, few_s, moments, scale_px=scale_px, lens=lens)
    return learnt, replace(kept, frog=np.full(len(t_s), np.nan)) if beyond else kept


def _seen_beyond_the_frog(
    model: InstrumentModel, lines: BowLines, poses: Poses, string: Array, params: Array, *, scale_px: float
) -> bool:  # fmt: skip
    """Whether what was taken for the hair's end at the frog lies beyond it all through the take: a slide that shines like hair."""
    problem = BowProblem(model, lines, poses, np.maximum(string, 0), scale_px)
    good = (string >= 0) & np.isfinite(lines.frog) & np.isfinite(params).all(axis=1)
    if good.sum() < 5:
        return False
    ends = poses.see(hair_ends(model, params, np.maximum(string, 0)))
    length = np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1)
    return bool(np.median(problem.see(params)[good, 1] / length[good]) > BEYOND_FROG)
