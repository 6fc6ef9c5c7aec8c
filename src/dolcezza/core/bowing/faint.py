"""Hair that hardly stands out from what is behind it: the line that was followed may be the stick's, which ends elsewhere. How far that is
may be wrong all through the take, so the ± is wider."""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.bowing.hair import TURNED, TURNED_SD, stands
from dolcezza.core.bowing.solve import BowProblem, Solved, seen_gain
from dolcezza.core.bowing.whole_bow import FROG_MM, MAY_BE_STICK, px_mm_along
from dolcezza.core.tracking.bow_ends import HEAD_SHARE
from dolcezza.core.tracking.bow_line import STICK_REACH_MM
from dolcezza.core.tracking.bow_path import FAINTLY, BowLines

ROWS = np.eye(4)[[0, 2, 1, 3]]
"""What may be elsewhere: the line at the frog's end and at the head's, and the two ends along it."""


def faintly_seen(lines: BowLines) -> bool:
    """Whether the take's hair hardly stands out: most of its lines are seen no better than such hair is."""
    seen = lines.confidence[lines.confidence > 0]
    return bool(len(seen) and np.median(seen) <= FAINTLY)


def may_be_stick(problem: BowProblem, solved: Solved) -> Array:
    """How the parameters move, (n, 4, 4), by one sd of each of four unknowns of a take whose hair is hardly seen (``ROWS``)."""
    model, lines = problem.model, problem.lines
    across, turn, _, _ = stands(model, lines.direction, problem.poses, solved.params, np.maximum(problem.string, 0))
    rise = MAY_BE_STICK * STICK_REACH_MM * across * np.sin(np.maximum(turn, TURNED + TURNED_SD))
    along = px_mm_along(model, problem.poses, len(rise))
    px = rise, rise, 0.5 * FROG_MM * along, MAY_BE_STICK * HEAD_SHARE * model.spec.hair_length * along
    return np.stack([seen_gain(problem, solved, row) * sd[:, None] for row, sd in zip(ROWS, px, strict=True)], axis=2)
