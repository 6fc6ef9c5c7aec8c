"""Solve the bow of every frame for every string it could be on; all frames at once.

Unknown: contact point (mm), bow angle (deg), inclination (deg), bow position (share). Seen: the hair's line in the
picture (2 numbers) and where it ends (2 numbers, the frog's end often hidden). Known: the inclination lies near the
plane of the string. Gauss-Newton with these as soft conditions, from both sides of a camera along the strings.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.bow_view import hair_ends, hair_ends_slopes, see_slopes
from dolcezza.core.camera.poses import Poses
from dolcezza.core.camera.precision import (
    ANGLE_SD,
    HEAD_BIAS_PX,
    INCLINATION_SD,
    LINE_SD_PX,
)
from dolcezza.core.camera.unknowns import COUNT, LEAN, STEP, at
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.tracking.bow_path import BowLines

HEAD_GONE, FROG_GONE = 10.0, 6.0
"""So many sd off, an end counts less and less: the head's plate shines some 16 px beyond the hair, a slide some 40 beyond the frog."""


@dataclass(frozen=True)
class Solved:
    """Best parameters for one string hypothesis: ``params`` (n, 4), ``cost`` (n,), ``covariance`` (n, 4, 4).

    ``hidden`` (n,): by how many sd the frog's end lies farther out than where hair is first seen, 0 and up.
    """

    params: Array
    cost: Array
    covariance: Array
    hidden: Array


class BowProblem:
    """Residuals of all frames; rows: frog across, frog along, head across, head along, then priors of the parameters.

    ``string`` is one index for all frames or (n,), ``lean_deg`` (4,) how far the bow leans off each string's plane.
    ``prior_mean`` and ``prior_sd`` are (n, 4).
    """

    def __init__(
        self, model: InstrumentModel, lines: BowLines, poses: Poses, string: int | Array, scale_px: float, lean_deg: Array | None = None
    ) -> None:
        self.model, self.poses, self.lines = model, poses, lines
        self.string = np.broadcast_to(string, lines.head.shape)
        self.lean_deg = np.zeros(len(model.spec.strings)) if lean_deg is None else lean_deg
        self.prior_mean = prior_mean(model, self.string, self.lean_deg)
        self.prior_sd = np.tile([model.spec.bridge_to_fingerboard, ANGLE_SD, INCLINATION_SD, 1.0], (len(lines.head), 1))
        self.normal = np.stack([-lines.direction[:, 1], lines.direction[:, 0]], axis=-1)
        self.across_sd = np.hypot(LINE_SD_PX * scale_px, np.nan_to_num(lines.fit_sd[:, 0], nan=1.0))
        self.open_head = ~np.isfinite(lines.head) & np.isfinite(lines.beyond)
        self.head = np.where(self.open_head, lines.beyond, lines.head) + HEAD_BIAS_PX * scale_px
        n = len(lines.head)
        weight = np.zeros((n, 4))
        seen = np.isfinite(lines.point[:, 0])
        weight[:, 0] = weight[:, 2] = np.where(seen, 1 / self.across_sd, 0)
        weight[:, 1] = np.where(np.isfinite(lines.frog), 1 / (lines.frog_sd * scale_px), 0)
        weight[:, 3] = np.where(np.isfinite(self.head), 1 / (lines.head_sd * scale_px), 0)
        self.weight = weight

    def see(self, params: Array, model: InstrumentModel | None = None, poses: Poses | None = None) -> Array:
        """Signed offsets (n, 4) px of the projected hair ends from the seen ones; of another instrument or poses if given."""
        ends = (poses or self.poses).see(hair_ends(model or self.model, params, self.string))
        off = ends - self.lines.point[:, None, :]
        across = np.einsum("nki,ni->nk", off, self.normal)
        along = np.einsum("nki,ni->nk", off, self.lines.direction)
        head = along[:, 1] - self.head
        head = np.where(self.open_head, np.minimum(head, 0.0), head)
        out = np.stack([across[:, 0], along[:, 0] - self.lines.frog, across[:, 1], head], axis=-1)
        return np.where(self.weight > 0, np.nan_to_num(out, nan=1e3), 0.0)

    def residual(self, params: Array) -> Array:
        return np.concatenate([self.see(params) * self.weight, (params - self.prior_mean) / self.prior_sd], axis=-1)

    def jacobian(self, params: Array) -> Array:
        """(n, 4, 4) of ``see`` by parameters."""
        poses, ends = self.poses, hair_ends(self.model, params, self.string)
        moved = hair_ends_slopes(self.model, params, self.string)
        slope = see_slopes(ends, moved, poses.rotation, poses.translation, poses.focal, poses.radial)
        across = np.einsum("nkim,ni->nkm", slope, self.normal)
        along = np.einsum("nkim,ni->nkm", slope, self.lines.direction)
        head = along[:, 1]
        if self.open_head.any():
            # hair that was seen up to the picture's edge says nothing while its end lies beyond
            beyond = ((poses.see(ends)[:, 1] - self.lines.point) * self.lines.direction).sum(axis=1) > self.head
            head = np.where((self.open_head & beyond)[:, None], 0.0, head)
        out = np.stack([across[:, 0], along[:, 0], across[:, 1], head], axis=1)
        return np.where(self.weight[..., None] > 0, np.nan_to_num(out), 0.0)


def _falling(off: Array, gone: float) -> Array:
    """Weight of an end that is ``off`` (n,) sd: whole up to three, then Huber's, and from ``gone`` on falling quickly: something else."""
    far = np.maximum(off, 1e-9)
    return np.where(off > 3.0, 3.0 / far, 1.0) * np.where(off > gone, (gone / far) ** 2, 1.0)


def robust_weights(residual: Array, open_head: Array) -> Array:
    """Weights for the rows: the ends may be far off, line and priors may not.

    The head's end can be lost on a bright wall, or the head's plate be taken for hair (Huber, then falling); where hair was seen up to
    the picture's edge (``open_head`` (n,) bool) it ends beyond for certain (Huber). The frog's end may lie
    any way outwards from where hair is first seen, behind the fingers, and hardly inwards of it: what shines beyond is something else.
    """
    w = np.ones_like(residual)
    head = np.abs(residual[:, 3])
    w[:, 3] = np.where(open_head, np.where(head > 3.0, 3.0 / np.maximum(head, 1e-9), 1.0), _falling(head, HEAD_GONE))
    frog = residual[:, 1]
    hidden = 1 / (1 + frog**2) ** 2
    inwards = _falling(frog, FROG_GONE)
    w[:, 1] = np.where(frog < 0, hidden, inwards)
    return w


def _place_by_ends(problem: BowProblem, params: Array) -> Array:
    """First guess of the bow position (n,): that at which the head is where it is seen, else the frog."""
    guess = params.copy()
    rows = np.arange(len(params))
    end = np.where((problem.weight[:, 3] > 0) & ~problem.open_head, 3, 1)
    for _ in range(3):
        here = problem.see(guess)[rows, end]
        slope = (problem.see(guess + np.array([0, 0, 0, 1e-3]))[rows, end] - here) / 1e-3
        firm = np.abs(slope) > 1e-6
        guess[:, 3] = np.clip(guess[:, 3] - np.where(firm, here / np.where(firm, slope, 1.0), 0.0), 0.0, 1.0)
    return guess[:, 3]


def solve_string(
    model: InstrumentModel, lines: BowLines, poses: Poses, string: int, *, scale_px: float, start_angle: float = 0.0, steps: int = 12,
    lean_deg: Array | None = None,
) -> Solved:  # fmt: skip
    """Solve all frames as if the bow were on ``string`` (index of ``model.stops``), starting from ``start_angle`` degrees."""
    problem = BowProblem(model, lines, poses, string, scale_px, lean_deg)
    n = len(lines.head)
    params = problem.prior_mean.copy()
    params[:, 1] = start_angle
    params[:, 3] = _place_by_ends(problem, params)
    prior_weight = (1 / problem.prior_sd**2)[:, :, None] * np.eye(4)
    damping = np.full(n, 1e-3)
    res = problem.residual(params)
    cost = (res**2 * robust_weights(res, problem.open_head)).sum(axis=1)
    normal = np.tile(np.eye(4), (n, 1, 1))
    for _ in range(steps):
        rob = robust_weights(res, problem.open_head)
        jac = problem.jacobian(params) * problem.weight[:, :, None]
        wj = jac * rob[:, :4, None]
        normal = np.einsum("nia,nib->nab", wj, jac) + prior_weight
        grad = np.einsum("nia,ni->na", wj, res[:, :4]) + res[:, 4:] / problem.prior_sd
        damped = normal + damping[:, None, None] * np.einsum("naa->na", normal)[:, :, None] * np.eye(4)
        trial = params - np.linalg.solve(damped, grad[..., None])[..., 0]
        trial_res = problem.residual(trial)
        trial_cost = (trial_res**2 * robust_weights(trial_res, problem.open_head)).sum(axis=1)
        better = trial_cost < cost
        params = np.where(better[:, None], trial, params)
        res = np.where(better[:, None], trial_res, res)
        cost = np.where(better, trial_cost, cost)
        damping = np.clip(np.where(better, damping * 0.2, damping * 8.0), 1e-9, 1e6)
    return Solved(params, cost, np.linalg.inv(normal), np.maximum(-res[:, 1], 0.0))


def prior_mean(model: InstrumentModel, string: Array, lean_deg: Array) -> Array:
    """What is expected of contact, angle, inclination and position (n, 4) on ``string`` (n,); ``lean_deg`` (4,) off each string's plane."""
    lean = np.concatenate([lean_deg, 0.5 * (lean_deg[1:] + lean_deg[:-1])])
    one = np.ones(len(string))
    return np.column_stack([0.5 * model.spec.bridge_to_fingerboard * one, 0 * one, (model.stop_planes + lean)[string], 0.5 * one])


def take_slopes(problem: BowProblem, params: Array) -> tuple[Array, Array]:
    """How the offsets (n, 4, 22) and what is expected of the parameters (n, 4, 22) move with the take's unknowns."""
    seen, mean = [], []
    for k in range(COUNT):
        pair = []
        for sign in (1.0, -1.0):
            values = np.zeros(COUNT)
            values[k] = sign * STEP[k]
            model, poses = at(problem.model, problem.poses, values)
            expected = prior_mean(model, problem.string, problem.lean_deg + values[LEAN])
            pair.append((problem.see(params, model, poses), expected))
        seen.append((pair[0][0] - pair[1][0]) / (2 * STEP[k]))
        mean.append((pair[0][1] - pair[1][1]) / (2 * STEP[k]))
    return np.stack(seen, axis=-1), np.stack(mean, axis=-1)


def take_gain(problem: BowProblem, solved: Solved) -> Array:
    """How the parameters move with the take's unknowns, (n, 4, 22).

    The picture stays as it is while an unknown is a little different; the solution moves by the implicit function theorem.
    An unknown's error is the same all through the take.
    """
    seen, mean = take_slopes(problem, solved.params)
    return _gain(problem, solved, seen, mean / problem.prior_sd[:, :, None] ** 2)


ACROSS, HEAD, FROG = np.array([1.0, 0, 1.0, 0]), np.array([0, 0, 0, 1.0]), np.array([0, 1.0, 0, 0])
"""Rows of the offsets that move with the hair's line, and with where its ends at the head and the frog are seen."""


def seen_gain(problem: BowProblem, solved: Solved, rows: Array) -> Array:
    """How the parameters move, (n, 4), when what is seen in ``rows`` (4,) of the offsets lies a pixel farther on."""
    return _gain(problem, solved, np.tile(-rows[:, None], (len(solved.params), 1, 1)), 0.0)[:, :, 0]


def _gain(problem: BowProblem, solved: Solved, seen: Array, expected: Array | float) -> Array:
    """How the parameters (n, 4, k) follow offsets that change by ``seen`` (n, 4, k) while what is expected of them changes too."""
    jac = problem.jacobian(solved.params)
    # an end that was not believed while solving pulls no more now
    counts = problem.weight**2 * robust_weights(problem.residual(solved.params), problem.open_head)[:, :4]
    counts[problem.open_head, 3] = 0.0
    pull = np.einsum("nib,ni,nik->nbk", jac, counts, seen) - expected
    return np.asarray(-np.einsum("nab,nbk->nak", solved.covariance, pull))
