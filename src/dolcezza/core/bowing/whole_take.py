"""What all bows of a take together say of this instrument, this bow and this player's way: one adjustment of the take's unknowns.

A bow has one length. Seen at many places of many strokes, on several strings, it says how long it is and how it stands to the strings;
landmarks and seen strings say the rest. Every frame's own parameters are taken out of the equations first (Schur complement).
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.bowing.solve import BowProblem, robust_weights, take_slopes
from dolcezza.core.camera.lens import LensPrior
from dolcezza.core.camera.poses import Poses
from dolcezza.core.camera.unknowns import CalibrationFrame, TakeUnknowns, at, expected, from_landmarks, landmark_information
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.tracking.bow_path import BowLines

MOST_FRAMES = 300
ALIKE_S = 0.3
"""Neighbouring frames err alike: so long a stretch counts as one frame."""
SYSTEMATIC = np.array([0.5, 3.0, 0.5, 2.0])
"""By so much more (times their own sd) a line and its ends may be off for a whole take: stick, plate and fingers hide them alike."""
ROUNDS = 4
TAKE_ANGLE_SD, TAKE_CONTACT_SD = 2.0, 0.17
"""How crooked, and how far from its usual place (share of the gap), bows are on the average of a take (one sd; common practice, no source:
a bow that swings is off to both sides). It is expected once: a hundred bows that are all alike crooked are no hundred surprises."""
MOST_COST = 12.0
"""A frame that no bow explains better than so says nothing of the take."""


def fit_take(
    model: InstrumentModel, lines: BowLines, poses: Poses, string: Array, params: Array, t_s: Array, moments: Sequence[CalibrationFrame], *,
    scale_px: float, lens: LensPrior,
) -> TakeUnknowns:  # fmt: skip
    """The take's unknowns from landmarks, strings and the bows ``params`` (n, 4) on ``string`` (n,) (-1 = none)."""
    told = from_landmarks(model, moments, scale_px=scale_px, lens=lens)
    good = np.flatnonzero((string >= 0) & np.isfinite(params).all(axis=1) & (np.isfinite(lines.head) | np.isfinite(lines.frog)))
    if len(good) < 5:
        return told
    good = good[:: max(1, len(good) // MOST_FRAMES)]
    apart = float(np.median(np.diff(t_s))) * max(1.0, len(t_s) / len(good))
    counts = min(1.0, apart / ALIKE_S)
    mean, sd = expected(model.spec, scale_px=scale_px, lens=lens, assumed=moments[0].camera)
    own = lines.rows(good)
    values, now = told.values, params[good].copy()
    covariance = told.covariance
    for _ in range(ROUNDS):
        changed, there = at(model, poses.rows(good), values)
        problem = BowProblem(changed, own, there, string[good], scale_px, values[-4:])
        problem.weight = problem.weight / (1 + SYSTEMATIC)
        problem.prior_sd = _expected_once(problem, counts * len(good))
        now = _settled(problem, now)
        residual = problem.residual(now)
        robust = robust_weights(residual, problem.open_head)
        cost = (residual**2 * robust).sum(axis=1)
        frame = counts * (cost < MOST_COST)
        normal, pull, follow = _reduced(problem, now, residual, robust, frame)
        landmarks, landmark_pull, _ = landmark_information(model, moments, values, scale_px=scale_px)
        covariance = np.linalg.inv(normal + landmarks + np.diag(sd**-2.0))
        step = covariance @ (pull + landmark_pull + (mean - values) / sd**2)
        values = values + step
        now = now + follow @ step
    return TakeUnknowns(values, covariance)


def _expected_once(problem: BowProblem, count: float) -> Array:
    """What is expected of each frame's parameters (n, 4, one sd) so that what ``count`` frames have in common is expected once, and not the
    more firmly the longer a take is."""
    sd = problem.prior_sd.copy()
    each = np.array([TAKE_CONTACT_SD * problem.model.spec.bridge_to_fingerboard, TAKE_ANGLE_SD])
    sd[:, :2] = np.maximum(sd[:, :2], each * np.sqrt(max(1.0, count)))
    return sd


def _normal(problem: BowProblem, now: Array, residual: Array, robust: Array) -> tuple[Array, Array, Array]:
    """The frames' own equations: weighted slopes (n, 4, 4), normal matrices (n, 4, 4), pulls (n, 4)."""
    jac = problem.jacobian(now) * problem.weight[:, :, None]
    weighted = jac * robust[:, :4, None]
    own = np.einsum("nia,nib->nab", weighted, jac) + (problem.prior_sd**-2.0)[:, :, None] * np.eye(4)
    return weighted, own, -np.einsum("nia,ni->na", weighted, residual[:, :4]) - residual[:, 4:] / problem.prior_sd


def _settled(problem: BowProblem, now: Array, rounds: int = 2) -> Array:
    """The frames' parameters where the unknowns are as they are now."""
    for _ in range(rounds):
        residual = problem.residual(now)
        _, own, pull = _normal(problem, now, residual, robust_weights(residual, problem.open_head))
        now = now + np.clip(np.linalg.solve(own, pull[..., None])[..., 0], [-10, -5, -3, -0.1], [10, 5, 3, 0.1])
    return now


def _reduced(problem: BowProblem, now: Array, residual: Array, robust: Array, frame: Array) -> tuple[Array, Array, Array]:
    """Normal matrix (22, 22) and pull (22,) of the unknowns without the frames' parameters, and how those follow (n, 4, 22)."""
    seen, mean = take_slopes(problem, now)
    seen = seen * problem.weight[:, :, None]
    mean = mean / problem.prior_sd[:, :, None]
    weighted, own, pull = _normal(problem, now, residual, robust)
    mixed = np.einsum("nia,nik->nak", weighted, seen) - mean / problem.prior_sd[:, :, None]
    follow = -np.linalg.solve(own, mixed)
    square = np.einsum("nik,ni,nil->nkl", seen, robust[:, :4], seen) + np.einsum("nak,nal->nkl", mean, mean)
    straight = -np.einsum("nik,ni->nk", seen, robust[:, :4] * residual[:, :4]) + np.einsum("nak,na->nk", mean, residual[:, 4:])
    left = square + np.einsum("nak,nal->nkl", mixed, follow)
    gone = straight + np.einsum("nak,na->nk", follow, pull)
    return np.einsum("n,nkl->kl", frame, left), np.einsum("n,nk->k", frame, gone), follow
