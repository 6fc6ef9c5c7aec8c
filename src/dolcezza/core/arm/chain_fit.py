"""The arm's chain fitted to what one picture shows of it over a take, or two.

The model errs in the same way all through a take, so its many frames together count no more than a few.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from dolcezza.core.arm.beside import BESIDE, BIAS, BIAS_SD, CAMERA, CLOCK, SEEN_SD, Beside
from dolcezza.core.arm.chain import ArmChain, ArmSeen, Hand, View, joints, upper_arm_level
from dolcezza.core.base.arrays import Array
from dolcezza.core.base.signals import whittaker
from dolcezza.core.body.proportions import ARM_RATIO_LOG_SD, STATURE_LOG_SD, Build

SHOULDER_SD = 0.03
"""How far a shoulder may lie from its usual place (one sd, share of stature)."""
WRIST_SD = 0.014
"""How far a wrist may lie from its usual place at the frog (one sd, share of stature)."""
SHOULDER_SEEN_SD = 0.03
ANCHOR_SD = 0.14
"""How far other shoulder, hips and ears may be from where players have them (one sd, share of the arm's length in the picture)."""
ELBOW_SEEN_SD, ELBOW_BIAS_SD = SEEN_SD, BIAS_SD
WORTH_FRAMES = 2.2
"""All frames together tell of what is common to them as much as this many without a common error."""
OWN_WORTH = 0.15
"""What one frame's elbow point is worth for that frame's own elbow."""
TURN_ACCELERATION_SD = 4.0
"""How quickly the elbow's turn about the line from shoulder to wrist changes its pace (rad/s2, one sd)."""
TURN_SD, TURN_SEEN_SD = 1.2, 1e3
"""How far from hanging an elbow may be turned all through a take (one sd, rad); one that is seen may be turned any way."""
SLOPE_SD = 0.35
"""How much the elbow's turn differs between frog and tip from what is usual (one sd, rad)."""
COMMON = 11
"""Unknowns that the whole take shares: eight chain numbers, the elbow's bias (2), the slope of its turn along the bow."""
BY_HAND_WEIGHT = 60.0
"""What a joint set by hand weighs against one that the model has seen."""
MOST_FITTED = 80
ROUNDS = 25


class _Problem:
    """Residuals over ``q``: the eight chain numbers, the elbow's bias (2, share of the arm), the slope of its turn along the bow, then
    ``BESIDE`` numbers for every other picture, then one turn a moment."""

    def __init__(self, build: Build, view: View, hand: Hand, seen: ArmSeen, arm_px: float, others: Sequence[Beside]) -> None:
        self.build, self.view, self.hand, self.seen, self.arm_px = build, view, hand, seen, arm_px
        self.others = [_Other(o, build, view) for o in others]
        self.shared = COMMON + BESIDE * len(self.others)
        self.turn_sd = TURN_ACCELERATION_SD * seen.apart_s**2
        own = seen.by_hand & np.isfinite(seen.shoulder[:, 0])
        shown = own if own.any() else np.isfinite(seen.shoulder[:, 0])
        off = seen.shoulder - view.see(view.place(build.shoulder))
        self.shoulder_at = np.median(off[shown], axis=0) if shown.any() else None
        self.shoulder_sd = (0.2 if own.any() else 1.0) * SHOULDER_SEEN_SD
        count = max(1.0, float(np.isfinite(seen.elbow[:, 0]).sum()))
        self.worth = np.sqrt(min(1.0, WORTH_FRAMES / count) * np.where(seen.by_hand, BY_HAND_WEIGHT, 1.0))
        self.hanging_sd = TURN_SEEN_SD if np.isfinite(seen.elbow).any() else TURN_SD
        self.mean = np.concatenate(
            [build.shoulder, [np.log(build.upper_arm), np.log(build.forearm)], build.wrist, [0.0, 0.0, build.elbow_slope]]
        )

    def start(self, turn: float) -> Array:
        return np.concatenate([self.mean, np.zeros(self.shared - COMMON), np.full(len(self.seen.elbow), turn)])

    def turns(self, q: Array) -> Array:
        """The elbow's turn (m,) of every moment."""
        return np.asarray(q[self.shared :] + q[10] * (self.hand.place - 0.5))

    def hanging(self, q: Array) -> Array:
        """What is expected of all turns together (m,)."""
        own = q[self.shared :]
        return np.asarray(own / (self.hanging_sd * np.sqrt(max(len(own), 1))))

    def beside(self, q: Array) -> list[tuple[_Other, Array]]:
        """The other pictures, each with its numbers (``BESIDE``,)."""
        return [(o, q[COMMON + k * BESIDE : COMMON + (k + 1) * BESIDE]) for k, o in enumerate(self.others)]

    def common(self, q: Array) -> Array:
        """Residuals of what the whole take shares; the last m are those of ``hanging``."""
        b = self.build
        off = q[:COMMON] - self.mean
        out = [
            off[:3] / (SHOULDER_SD * b.stature), [off[3] / STATURE_LOG_SD, (off[3] - off[4]) / ARM_RATIO_LOG_SD],
            off[5:8] / (WRIST_SD * b.stature), off[8:10] / ELBOW_BIAS_SD, off[10:] / SLOPE_SD,
        ]  # fmt: skip
        if self.shoulder_at is not None:
            moved = np.median(self.view.see(self.view.place(q[:3])) - self.view.see(self.view.place(b.shoulder)), axis=0)
            out.append((moved - self.shoulder_at) / (self.shoulder_sd * self.arm_px))
        for other, own in self.beside(q):
            out += other.common(own, self.view.place(q[:3]))
        return np.concatenate([*out, self.hanging(q)])

    def each(self, q: Array) -> Array:
        """Residuals (m, 5 and 4 for each other picture) of every moment: elbow in the picture, wrist where it was set, reach of the arm;
        elbow and wrist in the others."""
        shoulder, elbow, wrist, short = joints(self.view, self.hand, q[:8], self.turns(q))
        # the model's own bias is not in what the teacher has set
        bias = np.where(self.seen.by_hand, 0.0, 1.0)[:, None] * q[8:10]
        off = np.nan_to_num((self.view.see(elbow) - self.seen.elbow) / self.arm_px + bias) / ELBOW_SEEN_SD
        off = np.where(self.seen.by_hand[:, None], off, _bounded(off))
        hand = np.nan_to_num((self.view.see(wrist) - self.seen.wrist) / self.arm_px) / ELBOW_SEEN_SD
        besides = [other.each(own, shoulder, elbow, wrist) for other, own in self.beside(q)]
        return np.column_stack([np.column_stack([off, hand, short / 2.0]) * self.worth[:, None], *besides])


class _Other:
    """Another phone's picture of the arm in the problem, its numbers as ``BESIDE`` says."""

    def __init__(self, beside: Beside, build: Build, view: View) -> None:
        self.beside, seen = beside, beside.seen
        self.arm_px = beside.arm_px(build.upper_arm + build.forearm, view.place(build.shoulder))
        count = max(1.0, float(np.isfinite(seen.elbow[:, 0]).sum()))
        self.worth = float(np.sqrt(min(1.0, WORTH_FRAMES / count)))

    def common(self, own: Array, shoulder: Array) -> list[Array]:
        """What is expected of its numbers (12,), and where it shows the shoulder (m, 3)."""
        out = [own[BIAS] / ELBOW_BIAS_SD, own[CAMERA] / self.beside.doubt]
        out.append(_bounded(self.beside.off_anchors(shoulder, own[CAMERA]) / (ANCHOR_SD * self.arm_px)).ravel())
        off = self.beside.seen.shoulder - self._seen(own, shoulder, shoulder, 0)
        if np.isfinite(off[:, 0]).any():
            out.append(np.nanmedian(off, axis=0) / (SHOULDER_SEEN_SD * self.arm_px))
        return out

    def each(self, own: Array, shoulder: Array, elbow: Array, wrist: Array) -> Array:
        """Residuals (m, 4) of elbow and wrist, each (m, 3) in the first camera's space."""
        rows = []
        for k, (joint, seen) in enumerate(((elbow, self.beside.seen.elbow), (wrist, self.beside.seen.wrist))):
            off = (self._seen(own, joint, shoulder, 1 + k) - seen) / self.arm_px + own[2 * k : 2 * k + 2]
            rows.append(_bounded(np.nan_to_num(off) / ELBOW_SEEN_SD))
        return np.column_stack(rows) * self.worth

    def _seen(self, own: Array, joint: Array, shoulder: Array, which: int) -> Array:
        return np.asarray(self.beside.see(joint, shoulder, own[CAMERA]) - self.beside.speed[:, which] * own[CLOCK])

    def elbow(self, own: Array, shoulder: Array, elbow: Array) -> Array:
        """Where the elbow is against where it should be, (m, 2) in sd; NaN where it is not seen."""
        off = (self.beside.seen.elbow - self._seen(own, elbow, shoulder, 1)) / self.arm_px - own[:2]
        return np.asarray(off / ELBOW_SEEN_SD)


def _bounded(off: Array) -> Array:
    """Residuals (m, 2) of which far ones count less (pseudo-Huber)."""
    size = np.linalg.norm(off, axis=1, keepdims=True)
    return np.asarray(off * np.sqrt(2 * (np.sqrt(1 + size**2) - 1)) / np.maximum(size, 1e-9))


def fit_chain(build: Build, view: View, hand: Hand, seen: ArmSeen, others: Sequence[Beside] = ()) -> ArmChain:
    """Fit the chain to what the picture shows at m moments, and what ``others`` of the same moments show."""
    arm_px = (build.upper_arm + build.forearm) * view.focal / float(np.median(view.translation[:, 2]))
    m = len(seen.elbow)
    some = np.unique(np.concatenate([np.linspace(0, m - 1, min(m, MOST_FITTED)).astype(int), np.flatnonzero(seen.by_hand)]))
    problem = _Problem(build, view.at(some), hand.at(some), seen.at(some), arm_px, [o.at(some) for o in others])
    fits = [_descend(problem, problem.start(turn)) for turn in (-0.7, 0.7)]
    q, information = min(fits, key=lambda f: f[2])[:2]
    whole = _Problem(build, view, hand, seen, arm_px, others)
    turn = _turns(whole, q[: problem.shared], np.interp(np.arange(m), some, q[problem.shared :]))
    upper, fore = np.exp(q[3:5]).tolist()
    error = _level_error(problem, q, information)[_nearest(some, m)]
    return ArmChain(q[:3], upper, fore, q[5:8], q[8:10] * arm_px, turn, error, float(q[10]), tuple(n for _, n in problem.beside(q)))


def _descend(problem: _Problem, q: Array) -> tuple[Array, Array, float]:
    """Gauss-Newton with damping: solution, its information matrix, its cost."""
    shared = problem.shared
    m = len(q) - shared
    bend = np.diff(np.eye(m), n=2, axis=0) / problem.turn_sd if m > 2 else np.zeros((0, m))
    steps = _steps(shared)

    def residual(p: Array) -> Array:
        return np.concatenate([problem.common(p), problem.each(p).ravel(), bend @ p[shared:]])

    def jacobian(p: Array) -> Array:
        columns = []
        for k in range(shared):
            more = p.copy()
            more[k] += steps[k]
            columns.append((residual(more) - residual(p)) / steps[k])
        more = p.copy()
        more[shared:] += 1e-3
        own = (problem.each(more) - problem.each(p)) / 1e-3
        turned = np.zeros((m, m, own.shape[1]))
        turned[np.arange(m), np.arange(m)] = own
        alike = np.zeros((len(problem.common(p)) - m, m))
        hanging = np.eye(m) / (problem.hanging_sd * np.sqrt(max(m, 1)))
        block = np.concatenate([alike, hanging, turned.transpose(1, 2, 0).reshape(-1, m), bend])
        return np.column_stack([*columns, block])

    damping, r = 1e-2, residual(q)
    information = np.eye(len(q))
    for _ in range(ROUNDS):
        jac = jacobian(q)
        information = jac.T @ jac
        step = np.linalg.solve(information + damping * np.diag(np.diag(information) + 1e-6), jac.T @ r)
        trial = residual(q - step)
        if trial @ trial < r @ r:
            done = r @ r - trial @ trial < 1e-4 * (r @ r)
            q, r, damping = q - step, trial, max(damping * 0.3, 1e-6)
            if done:
                break
        else:
            damping *= 6.0
    return q, information, float(r @ r)


def _steps(shared: int) -> Array:
    """How far what is shared is moved to see what it does: mm, logarithms, radians, seconds."""
    own = [0.5] * 3 + [1e-3] * 2 + [0.5] * 3 + [1e-3] * 3
    other = [1e-3] * 4 + [1e-3] * 3 + [0.5] * 3 + [1e-3] * 2
    return np.array(own + other * ((shared - COMMON) // BESIDE))


def _turns(problem: _Problem, q: Array, base: Array) -> Array:
    """The elbow's turn (m,) of every moment with what the take shares (``q``) held fast: near the pictures, and even in time but for what
    goes with the stroke. ``base`` (m,): where to begin, without that."""
    view, hand, seen, arm_px = problem.view, problem.hand, problem.seen, problem.arm_px
    stroke = q[10] * (hand.place - 0.5)
    turn = base + stroke
    shown = np.isfinite(seen.elbow[:, 0])
    worth = OWN_WORTH * np.where(seen.by_hand, BY_HAND_WEIGHT, 1.0)
    elbow_px = seen.elbow - np.where(seen.by_hand, 0.0, 1.0)[:, None] * q[8:10] * arm_px
    for _ in range(6):
        arm, moved = joints(view, hand, q[:8], turn), joints(view, hand, q[:8], turn + 1e-3)
        here = view.see(arm[1])
        slope = (view.see(moved[1]) - here) / 1e-3 / (ELBOW_SEEN_SD * arm_px)
        off = np.nan_to_num((elbow_px - here) / (ELBOW_SEEN_SD * arm_px))
        weight = np.where(shown, worth / np.where(seen.by_hand, 1.0, 1 + 0.25 * (off**2).sum(axis=1)), 0.0)
        stiff, pull = weight * (slope**2).sum(axis=1), weight * (slope * off).sum(axis=1)
        for other, own in problem.beside(q):
            theirs = other.elbow(own, arm[0], arm[1])
            slope = np.nan_to_num((theirs - other.elbow(own, moved[0], moved[1])) / 1e-3)
            theirs = np.nan_to_num(theirs)
            weight = OWN_WORTH / (1 + 0.25 * (theirs**2).sum(axis=1))
            stiff, pull = stiff + weight * (slope**2).sum(axis=1), pull + weight * (slope * theirs).sum(axis=1)
        wish = turn + np.clip(pull / (stiff + 1e-6), -0.5, 0.5)
        turn = stroke + whittaker(wish - stroke, stiff + 1e-9, 1 / (TURN_ACCELERATION_SD * seen.apart_s**2) ** 2)
    return np.asarray(turn)


def _nearest(some: Array, count: int) -> Array:
    """Place in ``some`` (rising indices) that is nearest to each of ``count`` indices."""
    return np.asarray(np.abs(np.arange(count)[:, None] - some[None, :]).argmin(axis=1))


def _level_error(problem: _Problem, q: Array, information: Array) -> Array:
    """``ArmChain.level_error`` of the fitted moments, by propagation."""
    covariance = np.linalg.inv(information + 1e-9 * np.eye(len(q)))

    def level(p: Array) -> Array:
        shoulder, elbow, _, _ = joints(problem.view, problem.hand, p[:8], problem.turns(p))
        return upper_arm_level(shoulder, elbow, problem.view.down)

    base, steps = level(q), _steps(problem.shared)
    gain = np.zeros((len(base), len(q)))
    for k in range(len(q)):
        more = q.copy()
        step = steps[k] if k < len(steps) else 1e-3
        more[k] += step
        gain[:, k] = (level(more) - base) / step
    return gain @ np.linalg.cholesky(covariance + 1e-12 * np.eye(len(q)))
