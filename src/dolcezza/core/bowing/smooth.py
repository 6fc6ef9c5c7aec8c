"""The bow moves smoothly: one least-squares problem over the whole take instead of one for each frame.

Unknown are the four parameters of every frame. The picture's line and ends count as in ``solve``; in addition no
parameter may accelerate more than a bow can. What one frame cannot tell (the frog behind the fingers, the head outside
the picture, the lean against the angle) its neighbours do. Between two strings the inclination is free.
"""

from __future__ import annotations

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.signals import bend_parts, fill_gaps
from dolcezza.core.bowing.solve import BowProblem, robust_weights
from dolcezza.core.camera.poses import Poses
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.tracking.bow_path import BowLines

ACCELERATION_SD = np.array([300.0, 500.0, 1500.0, 12.0])
"""How hard contact (mm/s^2), angle, inclination (deg/s^2) and position (1/s^2) are accelerated, one sd."""
CHANGE_FREEDOM = 20.0
"""Near a change of string the inclination may do this much more."""
JUMP_SD = 4.0
"""An acceleration beyond this many sd is a jump, not a movement, and is let through."""
CHANGE_REACH_S = 0.1
CHANGE_INCLINATION_SD = 12.0
INFORMATION_REACH_S = 0.1
"""What neighbours know counts for a frame's ± over this reach."""
ROUNDS = 12


def smooth_bow(
    model: InstrumentModel,
    lines: BowLines,
    poses: Poses,
    string: Array,
    start: Array,
    t_s: Array,
    *,
    scale_px: float,
    lean_deg: Array | None = None,
) -> tuple[Array, Array]:
    """Parameters (n, 4) and their covariance (n, 4, 4) from the picture's noise and the priors.

    ``string`` (n,) index, -1 = no line; ``start`` (n, 4) the frame-by-frame solution (NaN where missing). Frames without
    a line get what their neighbours imply.
    """
    n = len(t_s)
    problem, near = take_problem(model, lines, poses, string, t_s, scale_px=scale_px, lean_deg=lean_deg)
    params = np.column_stack([fill_gaps(start[:, k]) for k in range(4)])
    params = np.where(np.isfinite(params), params, problem.prior_mean)
    if n < 5:
        return params, np.tile(np.diag([25.0, 25.0, 4.0, 0.01]), (n, 1, 1))
    stiff, parts = _dynamics(near, t_s), bend_parts(t_s)
    damping = 1e-4
    residual = problem.residual(params)
    for _ in range(ROUNDS):
        penalty = _yielding(stiff, params, parts)
        cost = _cost(problem, residual, params, penalty, parts)
        weights = robust_weights(residual, problem.open_head)
        jac = problem.jacobian(params) * problem.weight[:, :, None]
        weighted = jac * weights[:, :4, None]
        blocks = np.einsum("nia,nib->nab", weighted, jac) + (1 / problem.prior_sd**2)[:, :, None] * np.eye(4)
        gradient = np.einsum("nia,ni->na", weighted, residual[:, :4]) + residual[:, 4:] / problem.prior_sd
        gradient += _bend_gradient(params, penalty, parts)
        band = _banded(blocks, penalty, parts, damping)
        trial = params - scipy.linalg.solveh_banded(band, gradient.ravel()).reshape(n, 4)
        trial_residual = problem.residual(trial)
        trial_cost = _cost(problem, trial_residual, trial, penalty, parts)
        if trial_cost < cost:
            done = cost - trial_cost < 1e-5 * cost
            params, residual, cost, damping = trial, trial_residual, trial_cost, max(damping * 0.2, 1e-8)
            if done:
                break
        else:
            damping *= 10.0
    return params, _covariance(problem, params, residual, t_s)


def take_problem(
    model: InstrumentModel, lines: BowLines, poses: Poses, string: Array, t_s: Array, *, scale_px: float, lean_deg: Array | None = None
) -> tuple[BowProblem, Array]:  # fmt: skip
    """All frames as one problem, each on its string (n,) (-1 = that of its neighbours); and the frames (n,) near a change of string, in
    which the bow may lean as it likes."""
    index = _carry(string)
    problem = BowProblem(model, lines, poses, index, scale_px, lean_deg)
    near = _near_change(index, t_s)
    problem.prior_sd[near, 2] = CHANGE_INCLINATION_SD
    return problem, near


def _carry(string: Array) -> Array:
    """String index without holes: the nearest known one."""
    known = np.flatnonzero(string >= 0)
    if not len(known):
        return np.zeros(len(string), int)
    at = np.arange(len(string))
    after = np.searchsorted(known, at).clip(0, len(known) - 1)
    before = np.maximum(after - 1, 0)
    nearest = np.where(at - known[before] <= known[after] - at, before, after)
    nearest = np.where(at >= known[-1], len(known) - 1, nearest)
    return np.asarray(string[known[nearest]].astype(int))


def _near_change(index: Array, t_s: Array) -> Array:
    near = np.zeros(len(index), bool)
    for k in np.flatnonzero(np.diff(index)):
        near |= np.abs(t_s - 0.5 * (t_s[k] + t_s[k + 1])) < CHANGE_REACH_S
    return near


def _dynamics(near: Array, t_s: Array) -> Array:
    """Weights (n - 2, 4) of the second differences."""
    gap = np.maximum(0.5 * (t_s[2:] - t_s[:-2]), 1e-3)
    sd = ACCELERATION_SD[None, :] * gap[:, None] ** 2
    sd[near[1:-1], 2] *= CHANGE_FREEDOM
    return np.asarray(1 / sd**2)


def _yielding(stiff: Array, params: Array, parts: Array) -> Array:
    """The weights where a jump has broken them: a bow taken off and set down elsewhere, a change of string."""
    return np.asarray(stiff / (1 + stiff * _bends(params, parts) ** 2 / JUMP_SD**2))


def _bends(params: Array, parts: Array) -> Array:
    first, middle, last = parts.T[..., None]
    return np.asarray(first * params[:-2] + middle * params[1:-1] + last * params[2:])


def _cost(problem: BowProblem, residual: Array, params: Array, penalty: Array, parts: Array) -> float:
    return float((residual**2 * robust_weights(residual, problem.open_head)).sum() + (penalty * _bends(params, parts) ** 2).sum())


def _bend_gradient(params: Array, penalty: Array, parts: Array) -> Array:
    pull = penalty * _bends(params, parts)
    first, middle, last = parts.T[..., None]
    out = np.zeros_like(params)
    out[:-2] += first * pull
    out[1:-1] += middle * pull
    out[2:] += last * pull
    return out


def _banded(blocks: Array, penalty: Array, parts: Array, damping: float) -> Array:
    """Upper banded form (12, 4n) of frame blocks (n, 4, 4) plus the coupling of neighbours."""
    n = len(blocks)
    band = np.zeros((12, 4 * n))
    for a in range(4):
        for b in range(a, 4):
            band[11 - (b - a), b::4] = blocks[:, a, b]
    first, middle, last = parts.T
    for j in range(4):
        w = penalty[:, j]
        own = np.zeros(n)
        own[:-2] += first**2 * w
        own[1:-1] += middle**2 * w
        own[2:] += last**2 * w
        band[11, j::4] += own
        one = np.zeros(n - 1)
        one[:-1] += first * middle * w
        one[1:] += middle * last * w
        band[11 - 4, j + 4 :: 4] += one
        band[11 - 8, j + 8 :: 4] += first * last * w
    band[11] *= 1 + damping
    band[11] += 1e-9
    return band


def _covariance(problem: BowProblem, params: Array, residual: Array, t_s: Array) -> Array:
    """What each frame and its near neighbours know, without counting the same hidden error many times over."""
    weights = robust_weights(residual, problem.open_head)
    # hair that was only seen to go on tells how far the bow is at most, but no place
    weights[problem.open_head, 3] = 0.0
    jac = problem.jacobian(params) * problem.weight[:, :, None]
    information = np.einsum("nia,ni,nib->nab", jac, weights[:, :4], jac)
    spread = with_neighbours(information, t_s)
    total = spread + (1 / problem.prior_sd**2)[:, :, None] * np.eye(4)
    return np.linalg.inv(total)


def with_neighbours(information: Array, t_s: Array) -> Array:
    """What frames know (n, ...), of each and its near neighbours, which count the less the farther they are."""
    reach = max(1, round(INFORMATION_REACH_S / float(np.median(np.diff(t_s)))))
    kernel = np.bartlett(2 * reach + 3)[1:-1]
    return np.asarray(scipy.ndimage.convolve1d(information, kernel / kernel.sum(), axis=0, mode="constant"))
