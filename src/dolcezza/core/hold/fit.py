"""Joint angles of a hand from 21 points in one picture, each with the ± that the view allows.

A hand model's points in the picture are good, its depth is not. A hand of fixed proportions is fitted to the points; what a
finger does towards the camera is told by how short it looks, and by joints bending one way only. Where that leaves much
open, the ± says so, and a finger seen end-on "cannot be told from here".
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import cv2
import numpy as np
import scipy

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.geometry import rotation_of
from dolcezza.core.hold.skeleton import ANGLES, COUNT, hand_points

if TYPE_CHECKING:
    from scipy.optimize import OptimizeResult

POINT_SD = np.array([0.10, 0.12, 0.08, 0.08, 0.07] + [0.12, 0.05, 0.05, 0.06] + 3 * [0.08, 0.05, 0.05, 0.06])
"""Error of each point against this hand (one sd, share of the hand's size in the picture): the model's, and other proportions.
Wrist, knuckles and the thumb's root lie under the skin and are seen worse than fingers."""
BEND_SD = 0.06
"""Error of how three points that follow each other on a finger bend (one sd of their second difference, share of the hand's size):
smaller than that of the points, which err together along a finger."""
USUAL: dict[str, tuple[float, float]] = {
    "mcp": (46.0, 12.0), "side": (0.0, 8.0), "pip": (50.0, 28.0), "dip": (30.0, 15.0),
    "thumb_out": (30.0, 18.0), "thumb_across": (25.0, 18.0), "thumb_turn": (75.0, 20.0),
    "thumb_mcp": (25.0, 25.0), "thumb_ip": (20.0, 12.0),
}  # fmt: skip
"""Usual angle and its sd of a hand about a stick, degrees, from memory."""
DIP_OF_PIP = 0.6
"""The end joint bends with the middle one."""
IP_OF_MCP = 0.9
"""A thumb about a stick bends or straightens as a whole: its end joint about as much as its middle one."""
FURTHEST_BACK_DEG = -8.0
BACK_SD_DEG = 4.0
NEIGHBOURS_SD_DEG = 22.0
"""How differently neighbouring fingers bend (one sd)."""
DRAWN_STRAIGHTER = 1.25
"""Hand models draw bent middle joints straighter than they are, and spread the bend of a thumb over both its joints: what they
show, times this (measured on rendered hands)."""
USUAL_RMS = 0.05
"""Error of the points as a share of the hand's size, up to which the ± is as the fit says; beyond, it grows with it."""
UNSURE_DEG = 26.0
"""A joint known worse than this cannot be told."""
MODEL_SD_DEG = 9.0
"""What other proportions than these put into a joint besides (one sd)."""
ROUGH, FINE = 12, 60
"""Rounds of the descent: from every start, and from the best of them."""
MOST_RMS = 0.12
"""Points that lie farther from any hand than this (share of the hand's size) are not a hand seen well."""


@dataclass(frozen=True)
class HandFit:
    """``angles`` degrees by name in ``ANGLES`` with ``sd``; ``points`` (21, 3) mm in camera space; ``rms`` error of the points as
    a share of the hand's size in the picture; ``facing``: cosine between the back of the hand and the view, 1 = seen from
    above the back."""

    angles: dict[str, float]
    sd: dict[str, float]
    points: Array
    rms: float
    facing: float

    @property
    def is_hand(self) -> bool:
        """Whether the points lie as a hand's can."""
        return self.rms < MOST_RMS

    def told(self, name: str) -> bool:
        """Whether a joint can be told from here."""
        return self.is_hand and self.sd[name] < UNSURE_DEG


def hand_size(points: Array) -> float:
    """Size of a hand in the picture (21, 2) px: a measure that does not care how the fingers bend."""
    palm = points[[0, 1, 5, 9, 13, 17]]
    return 2.0 * float(np.sqrt(((palm - palm.mean(axis=0)) ** 2).sum(axis=1).mean()))


def _means() -> tuple[Array, Array]:
    rows = [USUAL.get(name, USUAL.get(name.split("_")[1], (0.0, 1.0))) for name in ANGLES]
    return np.radians([r[0] for r in rows]), np.radians([r[1] for r in rows])


_MEAN, _SD = _means()
_PIP = np.array([ANGLES.index(f"{f}_pip") for f in ("index", "middle", "ring", "little")])
_MCP, _DIP = _PIP - 2, _PIP + 1
_MIDDLES = (2, 3, 6, 7, 10, 11, 14, 15, 18, 19)
_BENDS = np.array([*_MCP, *_PIP, *_DIP, ANGLES.index("thumb_mcp"), ANGLES.index("thumb_ip")])


class _Problem:
    """Residuals over rotation (3), place (2, px over focal), log distance, angles. ``visible`` (21,) weights."""

    def __init__(self, points: Array, focal: float, center: Array, visible: Array, right: bool) -> None:
        self.seen = (points - center) / focal
        if not right:
            self.seen = self.seen * [-1.0, 1.0]
        self.size = hand_size(points) / focal
        self.sd = POINT_SD * self.size
        self.visible = visible

    def place(self, q: Array) -> Array:
        """Points (..., 21, 3) in camera space for parameter rows (..., 6 + COUNT)."""
        depth = np.exp(q[..., 5])[..., None]
        shift = np.concatenate([q[..., 3:5] * depth, depth], axis=-1)
        turn = _rotations(q[..., :3])
        return np.asarray(np.einsum("...ij,...kj->...ki", turn, hand_points(q[..., 6:])) + shift[..., None, :])

    def residual(self, q: Array) -> Array:
        """Residuals (..., r) of parameter rows."""
        cam = self.place(q)
        off = (cam[..., :2] / np.maximum(cam[..., 2:], 1.0) - self.seen) / self.sd[:, None] * self.visible[:, None]
        plane = off * self.sd[:, None]
        bent = [plane[..., k - 1, :] - 2 * plane[..., k, :] + plane[..., k + 1, :] for k in _MIDDLES]
        bent_off = np.stack(bent, axis=-2) / (BEND_SD * self.size)
        a = q[..., 6:]
        mean = np.broadcast_to(_MEAN, a.shape).copy()
        mean[..., _DIP] = DIP_OF_PIP * a[..., _PIP]
        mean[..., -1] = IP_OF_MCP * a[..., -2]
        back = np.minimum(a[..., _BENDS] - np.radians(FURTHEST_BACK_DEG), 0.0) / np.radians(BACK_SD_DEG)
        apart = np.concatenate([np.diff(a[..., _PIP[:3]]), np.diff(a[..., _MCP])], axis=-1) / np.radians(NEIGHBOURS_SD_DEG)
        return np.concatenate(
            [off.reshape(*off.shape[:-2], -1), bent_off.reshape(*off.shape[:-2], -1), (a - mean) / _SD, back, apart], axis=-1
        )

    def jacobian(self, q: Array) -> Array:
        """(r, 6 + COUNT) by forward differences, all at once."""
        step = 1e-5
        rows = self.residual(q + step * np.eye(len(q)))
        return ((rows - self.residual(q)) / step).T


def usual_hand() -> Array:
    """A right hand as it usually lies about a stick, seen from its back, (21, 3) mm, y down."""
    return hand_points(_MEAN) * [-1.0, -1.0, 1.0]


def _rotations(vectors: Array) -> Array:
    """Rotations (..., 3, 3) of Rodrigues vectors (..., 3)."""
    flat = vectors.reshape(-1, 3)
    return np.array([rotation_of(v) for v in flat]).reshape(*vectors.shape[:-1], 3, 3)


def fit_hand(
    points: Array, *, size: tuple[int, int], right: bool = True, visible: Array | None = None, focal: float | None = None
) -> HandFit:  # fmt: skip
    """Fit a ``right`` (or left) hand to 21 points (21, 2) px of a picture of ``size`` (width, height).

    ``visible`` (21,) 0..1: how much each point counts; ``focal`` px: a phone's if not given.
    """
    lens = focal or 1.1 * max(size)
    problem = _Problem(points, lens, np.array(size, float) / 2, np.ones(21) if visible is None else visible, right)
    rough = sorted((_descend(problem, start, ROUGH) for start in _starts(problem)), key=lambda f: f.cost)
    fits = [_descend(problem, f.x, FINE) for f in rough[:3]]
    best = min(fits, key=lambda f: f.cost)
    q = best.x
    cam = problem.place(q)
    off = cam[:, :2] / cam[:, 2:] - problem.seen
    rms = float(np.sqrt((off**2).sum(axis=1).mean())) / problem.size
    covariance = np.linalg.inv(best.jac.T @ best.jac + 1e-9 * np.eye(len(q)))
    spread = np.degrees(np.sqrt(np.diag(covariance)[6:])) * max(1.0, rms / USUAL_RMS)
    angles, sd = _as_they_are(np.degrees(q[6:]), np.hypot(np.hypot(spread, MODEL_SD_DEG), _other_ways(fits, best)))
    back = rotation_of(q[:3])[:, 2]
    return HandFit(
        angles=dict(zip(ANGLES, angles.tolist(), strict=True)), sd=dict(zip(ANGLES, sd.tolist(), strict=True)),
        points=cam * (1.0 if right else np.array([-1.0, 1.0, 1.0])), rms=rms, facing=float(-back @ cam[9] / np.linalg.norm(cam[9])),
    )  # fmt: skip


def _as_they_are(angles: Array, sd: Array) -> tuple[Array, Array]:
    """Angles and ± (degrees) with what the hand model draws too straight put right."""
    out, wide = angles.copy(), sd.copy()
    out[_PIP] *= DRAWN_STRAIGHTER
    wide[_PIP] *= DRAWN_STRAIGHTER
    mcp, ip = COUNT - 2, COUNT - 1
    out[mcp] = DRAWN_STRAIGHTER * (angles[mcp] + angles[ip])
    wide[mcp] = DRAWN_STRAIGHTER * sd[mcp]
    return out, wide


def _starts(problem: _Problem) -> list[Array]:
    """Poses to begin from: the palm turned every way that lays its points roughly where they are seen."""
    flat = hand_points(np.zeros(COUNT))[[0, 1, 5, 9, 13, 17]]
    seen = problem.seen[[0, 1, 5, 9, 13, 17]]
    out = []
    for flag in (cv2.SOLVEPNP_IPPE, cv2.SOLVEPNP_SQPNP):
        world = flat * [1, 1, 0] if flag == cv2.SOLVEPNP_IPPE else flat
        try:
            _, rotations, places, _ = cv2.solvePnPGeneric(world, seen, np.eye(3), None, flags=flag)
        except cv2.error:
            continue
        for r, t in zip(rotations, places, strict=True):
            if t[2, 0] > 0:
                depth = float(t[2, 0])
                out.append(np.concatenate([r.ravel(), t[:2, 0] / depth, [np.log(depth)], _MEAN]))
    middle = seen.mean(axis=0)
    depth = np.log(160.0 / max(2 * float(np.ptp(seen, axis=0).max()), 1e-3))
    for lean in (-0.6, 0.6):
        for turn in np.arange(4) * np.pi / 2:
            r = cv2.Rodrigues(np.array([0, 0, turn]))[0] @ cv2.Rodrigues(np.array([np.pi + lean, 0, 0]))[0]
            out.append(np.concatenate([cv2.Rodrigues(r)[0].ravel(), middle, [depth], _MEAN]))
    return out


def _descend(problem: _Problem, start: Array, rounds: int) -> OptimizeResult:
    return scipy.optimize.least_squares(problem.residual, start, jac=problem.jacobian, method="lm", max_nfev=rounds)


def _other_ways(fits: list[OptimizeResult], best: OptimizeResult) -> Array:
    """What other hands that explain the points nearly as well put into each angle (sd, degrees)."""
    weight = np.array([np.exp(-(f.cost - best.cost)) for f in fits])
    if weight.sum() <= 1.0 + 1e-6:
        return np.zeros(COUNT)
    apart = np.array([np.degrees(f.x[6:] - best.x[6:]) for f in fits])
    return np.asarray(np.sqrt((weight[:, None] * apart**2).sum(axis=0) / weight.sum()))
