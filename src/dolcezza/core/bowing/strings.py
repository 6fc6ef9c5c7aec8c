"""Which string, frame by frame: the chain of hypotheses that explains the whole take best.

Every frame has a solution for each string from both sides of a camera along the strings. The picture says how well
each fits; changes of string and jumps of the bow angle cost (Viterbi).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.signals import noise_of_bends, runs
from dolcezza.core.bowing.crossings import Hypotheses, settle_crossings
from dolcezza.core.bowing.solve import Solved, solve_string
from dolcezza.core.camera.poses import Poses
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.tracking.bow_path import BowLines

CHANGE_COST = 9.0
"""Cost of changing the string between two frames."""
SWING_DEG = 25.0
"""How far the angle of a swinging bow turns over its whole length: while the bow stands, its angle stays."""
LEAST_TURN_DEG = 0.15
"""What the angle may turn between two frames while the bow stands (one sd)."""
MOST_JUMP_COST = 12.0
"""What any leap of the angle costs: the bow was taken off and set down again."""
MOST_COST = 30.0
PAIR_COST = 3.0
"""What a double stop costs a frame against a single string: a bow leaning towards a neighbour is not yet on it."""
PAIR_HINT = 4.0
"""Cost of the best single string from which a double stop is thought of."""
PAIR_TIME_S = 0.2
HIDDEN_COST = 1.5
"""What a string costs a frame at most for needing hair that is not seen: the fingers hide some of it, but a string on which
the hair ends just where it is seen to end explains the picture better."""
START_ANGLES = (-9.0, 9.0)


@dataclass(frozen=True)
class BowSolution:
    """Chosen solution of every frame: ``string`` (n,) index of ``model.stops``, -1 missing; ``params`` (n, 4),
    ``covariance`` (n, 4, 4) of the picture's noise and the priors; ``cost`` (n,) of the chosen one, ``margin`` (n,)
    by how much the best other string is worse."""

    string: Array
    params: Array
    covariance: Array
    cost: Array
    margin: Array


def solve_bow(
    model: InstrumentModel, lines: BowLines, poses: Poses, *, scale_px: float, rate_hz: float, hint: Array | None = None,
    lean_deg: Array | None = None,
) -> BowSolution:  # fmt: skip
    """Solve every frame and choose the string, or the pair of neighbours where no single string explains what is seen.

    ``hint`` (n, 4) or, with pairs, (n, 7): cost to add for each string where something else (the sound, the teacher) knows better;
    ``rate_hz`` frames a second; ``lean_deg`` (4,) how far the bow leans off each string's plane.
    """
    n, count = len(lines.head), len(model.spec.strings)
    found: list[Solved] = []
    owner: list[int] = []

    def try_on(stops: range) -> None:
        for stop in stops:
            for start in START_ANGLES:
                found.append(solve_string(model, lines, poses, stop, scale_px=scale_px, start_angle=start, lean_deg=lean_deg))
                owner.append(stop)

    try_on(range(count))
    seen = np.isfinite(lines.point[:, 0])
    strange = seen & (np.min([s.cost for s in found], axis=0) > PAIR_HINT)
    full = None if hint is None else _with_pairs(hint)
    if full is not None:
        strange |= seen & (full[:, count:].min(axis=1) < full[:, :count].min(axis=1))
    if any(b - a >= max(3, PAIR_TIME_S * rate_hz) for a, b in runs(strange)):
        try_on(range(count, len(model.stops)))
    state_string = np.array(owner)
    cost = np.minimum(np.array([s.cost for s in found]).T, MOST_COST) + np.minimum(np.array([s.hidden**2 for s in found]).T, HIDDEN_COST)
    cost += PAIR_COST * (state_string >= count)
    params = np.array([s.params for s in found])
    picture, heard = cost, np.zeros_like(cost) if full is None else full[:, state_string]
    cost = picture + heard
    cost[~seen] = 0.0
    change = CHANGE_COST * (state_string[:, None] != state_string[None, :])
    same = state_string[:, None] == state_string[None, :]
    noise = np.array([noise_of_bends(np.diff(s.params[:, 1], n=2)) for s in found])
    noise = np.nan_to_num(noise, nan=LEAST_TURN_DEG)[:, None] * np.ones(len(found))
    total = cost[0].copy()
    back = np.zeros((n, len(found)), int)
    for k in range(1, n):
        jump = (params[:, k - 1, 1][:, None] - params[:, k, 1][None, :]) ** 2
        travel = params[:, k - 1, 3][:, None] - params[:, k, 3][None, :]
        likely = LEAST_TURN_DEG**2 + 2 * noise**2 + (SWING_DEG * travel) ** 2
        step = change + np.where(same & seen[k] & seen[k - 1], np.minimum(jump / likely, MOST_JUMP_COST), 0.0)
        reach = total[:, None] + step
        back[k] = reach.argmin(axis=0)
        total = reach.min(axis=0) + cost[k]
    state = np.zeros(n, int)
    state[-1] = int(total.argmin())
    for k in range(n - 1, 0, -1):
        state[k - 1] = back[k, state[k]]
    state = settle_crossings(state, Hypotheses(state_string, params[:, :, 1], picture, heard, count), seen, rate_hz)
    rows = np.arange(n)
    chosen = np.where(seen, state_string[state], -1)
    others = np.where(state_string[None, :] == state_string[state][:, None], np.inf, cost)
    return BowSolution(
        string=chosen, params=np.where(seen[:, None], params[state, rows], np.nan),
        covariance=np.array([found[s].covariance[k] for k, s in enumerate(state)]),
        cost=cost[rows, state], margin=others.min(axis=1) - cost[rows, state],
    )  # fmt: skip


def _with_pairs(hint: Array) -> Array:
    """Costs of single strings (n, 4) with those of pairs (n, 7): the lesser of the two strings' where nothing is said of pairs."""
    return hint if hint.shape[1] > 4 else np.concatenate([hint, np.minimum(hint[:, 1:], hint[:, :-1])], axis=1)
