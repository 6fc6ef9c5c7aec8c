"""Hair that is seen shorter than it is: the head was lost before something bright, or fingers cover more than elsewhere in the take.

Nothing in such a frame says which; a place on the bow that leans on one end is told with a ± that reaches half-way to the other.
"""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.bowing.smooth import with_neighbours
from dolcezza.core.bowing.solve import BowProblem, robust_weights
from dolcezza.core.camera.bow_view import hair_ends
from dolcezza.core.tracking.bow_ends import FROG_SEEN_SD_PX

FEWEST_FRAMES, USUAL_PERCENT = 12, 30.0
"""What fingers usually cover is told by so many frames at least: where less of the hair is missing than in the others."""
MOST_COVERED = 0.15
AS_WELL_SEEN = 0.02
"""Share of the hair to which an end that is seen says where the bow is."""
FINGERS_UP_TO, ANYTHING_FROM = 0.1, 0.2
"""Up to a tenth of the hair may be fingers, or a head that is lost; from a fifth on what is taken for the hair's beginning is something
else, and says nothing of the head."""


def left_open(problem: BowProblem, params: Array, measured: Array, t_s: Array) -> Array:
    """What contradicting ends leave open of the bow's place (n,), share of the hair, one sd; 0 where they agree, or only one is seen. Where
    the head is not seen the frames beside tell the place, with what is open of theirs."""
    both = measured & np.isfinite(problem.lines.head) & np.isfinite(problem.lines.frog) & (problem.lines.frog_sd >= FROG_SEEN_SD_PX)
    out = np.zeros(len(measured))
    if both.sum() < FEWEST_FRAMES:
        return out
    ends = problem.poses.see(hair_ends(problem.model, params, problem.string))
    length = np.maximum(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1), 1.0)
    missing = -problem.see(params)[:, 1] / length
    plain = both & (np.abs(missing) < MOST_COVERED)
    if plain.sum() < FEWEST_FRAMES:
        return out
    more = missing - float(np.percentile(missing[plain], USUAL_PERCENT))
    fingers = np.clip((ANYTHING_FROM - more) / (ANYTHING_FROM - FINGERS_UP_TO), 0.0, 1.0)
    plainly = np.clip(more / AS_WELL_SEEN - 1.0, 0.0, 1.0)
    own = np.where(both, 0.5 * np.clip(more, 0.0, FINGERS_UP_TO) * plainly * fingers, 0.0)
    told = problem.weight[:, 3] ** 2 * robust_weights(problem.residual(params), problem.open_head)[:, 3]
    told = np.where(measured & np.isfinite(problem.lines.head), told, 0.0)
    beside = with_neighbours(told * own, t_s) / np.maximum(with_neighbours(told, t_s), 1e-12)
    return np.asarray(np.where(np.isfinite(problem.lines.head), own, beside))
