"""The arm as a chain over the whole take: one shoulder, two limbs of constant length, a hand that goes where the bow goes.

A pose model's points are good to some twentieth of the arm and its own depth is worthless; but the bow tells where the hand
is in space, and the instrument where about the shoulder is. What is left of each moment is one number: how far the elbow
has turned about the line from shoulder to wrist. The model errs in the same way all through a take, so its many frames
together count no more than a few.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.signals import whittaker
from dolcezza.core.body.proportions import ARM_RATIO_LOG_SD, STATURE_LOG_SD, Build
from dolcezza.core.camera.lens import pinhole

SHOULDER_SD = 0.03
"""How far a shoulder may lie from its usual place (one sd, share of stature)."""
WRIST_SD = 0.014
"""How far a wrist may lie from its usual place at the frog (one sd, share of stature)."""
SHOULDER_SEEN_SD = 0.03
ELBOW_SEEN_SD = 0.05
ELBOW_BIAS_SD = 0.04
"""Errors of the pose model in the picture (one sd, share of the arm's length there)."""
POINT_INWARDS, POINT_UPWARDS = 0.05, 0.045
"""The pose model puts the shoulder so much nearer to the neck and higher than the joint's centre (share of the arm's length in
the picture; seen in many pose models: they learned from points that people clicked on the outline)."""
WORTH_FRAMES = 2.2
"""All frames together tell of what is common to them as much as this many without a common error."""
OWN_WORTH = 0.15
"""What one frame's elbow point is worth for that frame's own elbow."""
TURN_ACCELERATION_SD = 4.0
"""How quickly the elbow's turn about the line from shoulder to wrist changes its pace (rad/s2, one sd)."""
SLOPE_SD = 0.35
"""How much the elbow's turn differs between frog and tip from what is usual (one sd, rad)."""
COMMON = 11
"""Unknowns that the whole take shares: eight chain numbers, the elbow's bias (2), the slope of its turn along the bow."""
BY_HAND_WEIGHT = 60.0
"""What a joint set by hand weighs against one that the model has seen."""
MOST_FITTED = 80
ROUNDS = 25


@dataclass(frozen=True)
class Hand:
    """Frames of the bow hand in camera space, m moments: ``frog`` (m, 3) mm where the hair begins and ``axes`` (m, 3, 3), rows:
    along the bow to the tip, along the string to the nut, away from the top. ``place`` (m,): where on the bow the string is,
    0 frog, 1 head.
    """

    frog: Array
    axes: Array
    place: Array

    def at(self, index: Array) -> Hand:
        """Some of the moments."""
        return Hand(self.frog[index], self.axes[index], self.place[index])


@dataclass(frozen=True)
class ArmSeen:
    """The arm in the picture at m moments, (m, 2) px each, NaN where not seen: ``shoulder`` the joint's centre as ``true_shoulder``
    gives it, ``elbow``, and ``wrist`` only where the teacher has set it. ``by_hand`` (m,) bool: the teacher set something there.
    ``apart_s``: seconds from one moment to the next."""

    shoulder: Array
    elbow: Array
    wrist: Array
    by_hand: Array
    apart_s: float

    def at(self, index: Array) -> ArmSeen:
        """Some of the moments, evenly chosen."""
        apart = self.apart_s * max(1.0, len(self.by_hand) / len(index))
        return ArmSeen(self.shoulder[index], self.elbow[index], self.wrist[index], self.by_hand[index], apart)


@dataclass(frozen=True)
class ArmChain:
    """What is common to the take. ``shoulder`` (3,) mm in the instrument's frame; ``wrist`` (3,) mm along ``Hand.axes``; ``bias_px``
    (2,) of the model's elbow; ``turn`` (m,) rad of the elbow about shoulder-wrist at the moments looked at, 0 = hanging, of which
    ``slope`` times the place on the bow (from the middle on) goes with the stroke.
    ``level_error`` (m, k) degrees: what k independent errors of one sd each do to the upper arm's elevation at each moment; their
    sum of squares is its variance, and what two moments have in common falls out of their difference."""

    shoulder: Array
    upper_arm: float
    forearm: float
    wrist: Array
    bias_px: Array
    turn: Array
    level_error: Array
    slope: float = 0.0

    @property
    def numbers(self) -> Array:
        """The eight numbers that ``joints`` takes."""
        return np.concatenate([self.shoulder, np.log([self.upper_arm, self.forearm]), self.wrist])


@dataclass(frozen=True)
class View:
    """Poses (m, 3, 3), (m, 3) mm and lens at m moments, and the trunk's direction to the hips (m, 3) in camera space."""

    rotation: Array
    translation: Array
    focal: float
    center: tuple[float, float]
    down: Array

    def place(self, point: Array) -> Array:
        """A point (3,) of the instrument's frame in camera space, (m, 3)."""
        return self.rotation @ point + self.translation

    def see(self, points: Array) -> Array:
        """Camera space (m, 3) to pixels (m, 2)."""
        return pinhole(points, self.focal, self.center)

    def at(self, index: Array) -> View:
        """Some of the moments."""
        return View(self.rotation[index], self.translation[index], self.focal, self.center, self.down[index])


def joints(view: View, hand: Hand, chain_numbers: Array, turn: Array) -> tuple[Array, Array, Array, Array]:
    """Shoulder, elbow, wrist (m, 3) mm in camera space, and by how much the arm is too short for the hand (m,) mm.

    ``chain_numbers``: shoulder (3), log upper arm, log forearm, wrist (3).
    """
    shoulder = view.place(chain_numbers[:3])
    upper, fore = np.exp(chain_numbers[3:5])
    wrist = hand.frog + np.einsum("k,mki->mi", chain_numbers[5:8], hand.axes)
    line = wrist - shoulder
    reach = np.linalg.norm(line, axis=1)
    line = line / reach[:, None]
    bent = np.clip(reach, abs(upper - fore) + 1.0, 0.995 * (upper + fore))
    along = (bent**2 + upper**2 - fore**2) / (2 * bent)
    radius = np.sqrt(np.maximum(upper**2 - along**2, 1.0))
    hang = view.down - np.einsum("mi,mi->m", view.down, line)[:, None] * line
    hang /= np.maximum(np.linalg.norm(hang, axis=1, keepdims=True), 1e-9)
    out = np.cross(line, hang)
    elbow = shoulder + along[:, None] * line + radius[:, None] * (np.cos(turn)[:, None] * hang + np.sin(turn)[:, None] * out)
    return shoulder, elbow, wrist, reach - bent


def true_shoulder(shoulder_px: Array, other_px: Array, down_px: Array, arm_px: Array | float) -> Array:
    """The shoulder joint (m, 2) px from the pose model's two shoulder points and the direction to the hips (m, 2)."""
    outwards = shoulder_px - other_px
    outwards /= np.maximum(np.linalg.norm(outwards, axis=1, keepdims=True), 1e-9)
    return shoulder_px + np.asarray(arm_px).reshape(-1, 1) * (POINT_INWARDS * outwards + POINT_UPWARDS * down_px)


class _Problem:
    """Residuals over ``q``: the eight chain numbers, the elbow's bias (2, share of the arm), the slope of its turn along the bow, then one
    turn a moment."""

    def __init__(self, build: Build, view: View, hand: Hand, seen: ArmSeen, arm_px: float) -> None:
        self.build, self.view, self.hand, self.seen, self.arm_px = build, view, hand, seen, arm_px
        self.turn_sd = TURN_ACCELERATION_SD * seen.apart_s**2
        own = seen.by_hand & np.isfinite(seen.shoulder[:, 0])
        shown = own if own.any() else np.isfinite(seen.shoulder[:, 0])
        off = seen.shoulder - view.see(view.place(build.shoulder))
        self.shoulder_at = np.median(off[shown], axis=0) if shown.any() else None
        self.shoulder_sd = (0.2 if own.any() else 1.0) * SHOULDER_SEEN_SD
        count = max(1.0, float(np.isfinite(seen.elbow[:, 0]).sum()))
        self.worth = np.sqrt(min(1.0, WORTH_FRAMES / count) * np.where(seen.by_hand, BY_HAND_WEIGHT, 1.0))
        self.mean = np.concatenate(
            [build.shoulder, [np.log(build.upper_arm), np.log(build.forearm)], build.wrist, [0.0, 0.0, build.elbow_slope]]
        )

    def start(self, turn: float) -> Array:
        return np.concatenate([self.mean, np.full(len(self.seen.elbow), turn)])

    def turns(self, q: Array) -> Array:
        """The elbow's turn (m,) of every moment."""
        return np.asarray(q[COMMON:] + q[10] * (self.hand.place - 0.5))

    def common(self, q: Array) -> Array:
        """Residuals of what the whole take shares."""
        b = self.build
        off = q[:COMMON] - self.mean
        out = [
            off[:3] / (SHOULDER_SD * b.stature), [off[3] / STATURE_LOG_SD, (off[3] - off[4]) / ARM_RATIO_LOG_SD],
            off[5:8] / (WRIST_SD * b.stature), off[8:10] / ELBOW_BIAS_SD, off[10:] / SLOPE_SD,
        ]  # fmt: skip
        if self.shoulder_at is not None:
            moved = np.median(self.view.see(self.view.place(q[:3])) - self.view.see(self.view.place(b.shoulder)), axis=0)
            out.append((moved - self.shoulder_at) / (self.shoulder_sd * self.arm_px))
        return np.concatenate(out)

    def each(self, q: Array) -> Array:
        """Residuals (m, 5) of every moment: elbow in the picture, wrist where it was set, reach of the arm."""
        _, elbow, wrist, short = joints(self.view, self.hand, q[:8], self.turns(q))
        # the model's own bias is not in what the teacher has set
        bias = np.where(self.seen.by_hand, 0.0, 1.0)[:, None] * q[8:10]
        off = np.nan_to_num((self.view.see(elbow) - self.seen.elbow) / self.arm_px + bias) / ELBOW_SEEN_SD
        size = np.linalg.norm(off, axis=1, keepdims=True)
        off *= np.where(self.seen.by_hand[:, None], 1.0, np.sqrt(2 * (np.sqrt(1 + size**2) - 1)) / np.maximum(size, 1e-9))
        hand = np.nan_to_num((self.view.see(wrist) - self.seen.wrist) / self.arm_px) / ELBOW_SEEN_SD
        return np.column_stack([off, hand, short / 2.0]) * self.worth[:, None]


def fit_chain(build: Build, view: View, hand: Hand, seen: ArmSeen) -> ArmChain:
    """Fit the chain to what the picture shows at m moments."""
    arm_px = (build.upper_arm + build.forearm) * view.focal / float(np.median(view.translation[:, 2]))
    m = len(seen.elbow)
    some = np.unique(np.concatenate([np.linspace(0, m - 1, min(m, MOST_FITTED)).astype(int), np.flatnonzero(seen.by_hand)]))
    problem = _Problem(build, view.at(some), hand.at(some), seen.at(some), arm_px)
    fits = [_descend(problem, problem.start(turn)) for turn in (-0.7, 0.7)]
    q, information = min(fits, key=lambda f: f[2])[:2]
    turn = _turns(q, view, hand, seen, np.interp(np.arange(m), some, q[COMMON:]), arm_px)
    upper, fore = np.exp(q[3:5]).tolist()
    error = _level_error(problem, q, information)[_nearest(some, m)]
    return ArmChain(q[:3], upper, fore, q[5:8], q[8:10] * arm_px, turn, error, float(q[10]))


def _descend(problem: _Problem, q: Array) -> tuple[Array, Array, float]:
    """Gauss-Newton with damping: solution, its information matrix, its cost."""
    m = len(q) - COMMON
    bend = np.diff(np.eye(m), n=2, axis=0) / problem.turn_sd if m > 2 else np.zeros((0, m))
    steps = np.array([0.5] * 3 + [1e-3] * 2 + [0.5] * 3 + [1e-3] * 3)

    def residual(p: Array) -> Array:
        return np.concatenate([problem.common(p), problem.each(p).ravel(), bend @ p[COMMON:]])

    def jacobian(p: Array) -> Array:
        columns = []
        for k in range(COMMON):
            more = p.copy()
            more[k] += steps[k]
            columns.append((residual(more) - residual(p)) / steps[k])
        more = p.copy()
        more[COMMON:] += 1e-3
        own = (problem.each(more) - problem.each(p)) / 1e-3
        turned = np.zeros((m, m, own.shape[1]))
        turned[np.arange(m), np.arange(m)] = own
        common = len(problem.common(p))
        block = np.concatenate([np.zeros((common, m)), turned.transpose(1, 2, 0).reshape(-1, m), bend])
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


def _turns(q: Array, view: View, hand: Hand, seen: ArmSeen, base: Array, arm_px: float) -> Array:
    """The elbow's turn (m,) of every moment with what the take shares held fast: near the picture, and even in time but for what goes with
    the stroke. ``base`` (m,): where to begin, without that."""
    stroke = q[10] * (hand.place - 0.5)
    turn = base + stroke
    shown = np.isfinite(seen.elbow[:, 0])
    worth = OWN_WORTH * np.where(seen.by_hand, BY_HAND_WEIGHT, 1.0)
    elbow_px = seen.elbow - np.where(seen.by_hand, 0.0, 1.0)[:, None] * q[8:10] * arm_px
    for _ in range(6):
        here = view.see(joints(view, hand, q[:8], turn)[1])
        slope = (view.see(joints(view, hand, q[:8], turn + 1e-3)[1]) - here) / 1e-3 / (ELBOW_SEEN_SD * arm_px)
        off = np.nan_to_num((elbow_px - here) / (ELBOW_SEEN_SD * arm_px))
        weight = np.where(shown, worth / np.where(seen.by_hand, 1.0, 1 + 0.25 * (off**2).sum(axis=1)), 0.0)
        stiff = (slope**2).sum(axis=1) + 1e-6
        wish = turn + np.clip((slope * off).sum(axis=1) / stiff, -0.5, 0.5)
        turn = stroke + whittaker(wish - stroke, weight * stiff + 1e-9, 1 / (TURN_ACCELERATION_SD * seen.apart_s**2) ** 2)
    return np.asarray(turn)


def _nearest(some: Array, count: int) -> Array:
    """Place in ``some`` (rising indices) that is nearest to each of ``count`` indices."""
    return np.asarray(np.abs(np.arange(count)[:, None] - some[None, :]).argmin(axis=1))


def upper_arm_level(shoulder: Array, elbow: Array, down: Array) -> Array:
    """Elevation (m,) degrees of the upper arm against the trunk: 0 = hanging, 90 = square to it.

    ISB's humerothoracic elevation (Wu et al. 2005, from memory).
    """
    arm = elbow - shoulder
    cosine = np.einsum("mi,mi->m", arm, down) / np.linalg.norm(arm, axis=1)
    return np.asarray(np.degrees(np.arccos(np.clip(cosine, -1.0, 1.0))))


def _level_error(problem: _Problem, q: Array, information: Array) -> Array:
    """``ArmChain.level_error`` of the fitted moments, by propagation."""
    covariance = np.linalg.inv(information + 1e-9 * np.eye(len(q)))

    def level(p: Array) -> Array:
        shoulder, elbow, _, _ = joints(problem.view, problem.hand, p[:8], problem.turns(p))
        return upper_arm_level(shoulder, elbow, problem.view.down)

    base = level(q)
    gain = np.zeros((len(base), len(q)))
    for k in range(len(q)):
        more = q.copy()
        step = 1e-3 if k >= 8 or k in (3, 4) else 0.5
        more[k] += step
        gain[:, k] = (level(more) - base) / step
    return gain @ np.linalg.cholesky(covariance + 1e-12 * np.eye(len(q)))
