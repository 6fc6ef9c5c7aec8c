"""What a teacher looks at in a bow hand, from the fitted joints: bends, gaps, the ring, the wrist; and what has changed.

Nothing here is a mark: figures with ±, set beside the player's own relaxed hand and the bands of the profile. What cannot be
told from a picture is not guessed; the teacher's own answer stands before any figure.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.known import Known
from dolcezza.core.base.message import Message
from dolcezza.core.hold.fit import HandFit

JOINTS = (
    "thumb_mcp", "index_mcp", "index_pip", "middle_mcp", "middle_pip", "ring_mcp", "ring_pip", "little_mcp", "little_pip",
)  # fmt: skip
"""Joints of the record, 0 = straight, degrees."""
JOINT_WORDS = {"thumb_mcp": "Thumb, middle joint"} | {
    f"{finger}_{joint}": f"{finger.capitalize()} finger, {words}"
    for finger in ("index", "middle", "ring", "little")
    for joint, words in (("mcp", "knuckle"), ("pip", "middle joint"))
}
ROUND_FROM = {"thumb_mcp": 25.0, "little_pip": 35.0}
"""From so many degrees on the thumb's middle joint and the little finger count as round."""
UNCLEAR_SD = 0.45
"""Nearer to the limit than this share of the ±, straight or round cannot be told."""
FINGER_WIDTH_MM = 16.0
"""Width of a finger of the hand that is fitted."""
RING_OPEN_WIDTHS = 2.0
"""A ring of thumb and middle finger is open when so many fingers fit through it side by side (common practice, no source: a couple)."""
WRIST_SD = 0.12
"""How well the wrist's height over the knuckles is known where stick and forearm are marked (one sd, share of the hand's size)."""
LEAST_SQUARE = 0.35
"""A forearm that runs more nearly square to the stick in the picture than this (cosine) leaves no up and down to tell."""
MOST_ASIDE = 0.6
"""A marked forearm comes to the wrist that is seen within this share of the hand's size, or one of the two is wrong."""
CHANGED_SD = 2.0
"""A joint has changed when the difference is larger than so many of its ±."""
GAPS = ("index-middle", "middle-ring", "ring-little")


class Shape(StrEnum):
    """How a thumb or a finger looks."""

    STRAIGHT = "straight"
    ROUND = "round"
    UNCLEAR = "unclear"


@dataclass(frozen=True, eq=False)
class Hold(Known):
    """One bow hand. ``joints``: degrees and ± by name, only those that can be told; ``gaps`` in finger widths between neighbours
    (0 = touching) and ``ring``: how many finger widths fit through thumb and middle finger, NaN = cannot be told;
    ``wrist_over_knuckles``: share of the hand's size, square to the forearm, + = the wrist is higher, NaN without stick and forearm;
    ``set_by_hand``: what the teacher answered by eye."""

    joints: dict[str, tuple[float, float]]
    thumb: Shape
    little: Shape
    gaps: dict[str, float]
    ring: float
    wrist_over_knuckles: float
    facing: float
    set_by_hand: dict[str, str] = field(default_factory=dict)

    @property
    def ring_open(self) -> Shape | str:
        """Whether the ring is open, closed or cannot be told."""
        if not np.isfinite(self.ring):
            return "unclear"
        return "open" if self.ring >= RING_OPEN_WIDTHS else "closed"

    def answered(self, answers: Mapping[str, str]) -> Hold:
        """The same hold with what the teacher says about ``thumb``, ``little`` or anything else put before the figures."""
        thumb = Shape(answers["thumb"]) if "thumb" in answers else self.thumb
        little = Shape(answers["little"]) if "little" in answers else self.little
        return replace(self, thumb=thumb, little=little, set_by_hand={**self.set_by_hand, **answers})

    def with_lines(self, points_px: Array, stick_px: Array, forearm_px: Array) -> Hold:
        """The same hold with its wrist told against the marked stick and forearm, (2, 2) px each."""
        return replace(self, wrist_over_knuckles=over_knuckles(points_px, stick_px, forearm_px))


def describe(fit: HandFit, points_px: Array) -> Hold:
    """The figures of a fitted hand; ``points_px`` (21, 2) as in the upright picture (y down)."""
    joints = {name: (fit.angles[name], fit.sd[name]) for name in JOINTS if fit.told(name)}
    p = fit.points
    gaps = {}
    for name, a, b in zip(GAPS, (6, 10, 14), (10, 14, 18), strict=True):
        wide = float(np.linalg.norm(p[a] - p[b])) / FINGER_WIDTH_MM - 1.0
        gaps[name] = max(0.0, wide) if fit.told(f"{name.split('-')[0]}_pip") else float("nan")
    ring = ring_widths(p) if fit.told("thumb_mcp") else float("nan")
    return Hold(
        joints=joints, thumb=_shape(fit, "thumb_mcp"), little=_shape(fit, "little_pip"), gaps=gaps, ring=ring,
        wrist_over_knuckles=float("nan"), facing=fit.facing,
    )  # fmt: skip


def over_knuckles(points_px: Array, stick_px: Array, forearm_px: Array) -> float:
    """How much higher the wrist is than the knuckles: square to the forearm, on the side where the knuckles are over the stick, share of
    the hand's size; NaN where stick and forearm leave no up and down, or the forearm goes by the wrist.

    ``points_px`` (21, 2); ``stick_px`` (2, 2) two points on the stick, ``forearm_px`` (2, 2) two along the forearm. However the picture
    and the bow are turned, it is the same.
    """
    stick, forearm = (line[1] - line[0] for line in (stick_px, forearm_px))
    forearm = forearm / max(float(np.linalg.norm(forearm)), 1e-9)
    over = np.array([-stick[1], stick[0]]) / max(float(np.linalg.norm(stick)), 1e-9)
    knuckles = points_px[[5, 9, 13, 17]].mean(axis=0)
    if (knuckles - stick_px[0]) @ over < 0:
        over = -over
    up = over - (over @ forearm) * forearm
    length = float(np.linalg.norm(up))
    if length < LEAST_SQUARE:
        return float("nan")
    size = float(np.linalg.norm(points_px[9] - points_px[0]))
    away = points_px[0] - forearm_px[0]
    if abs(float(away[0] * forearm[1] - away[1] * forearm[0])) > MOST_ASIDE * size:
        return float("nan")
    return float((points_px[0] - knuckles) @ up) / length / max(size, 1.0)


RING = (2, 3, 4, 12, 11, 10, 9)
"""Points around the opening of thumb and middle finger."""
RING_STEP_MM = 2.0
RING_CROSSED_MM = 1.0
"""A ring without any room in it crosses itself: the fit is not good enough to tell."""


def ring_widths(points: Array) -> float:
    """How many finger widths fit through the ring of thumb and middle finger, ``points`` (21, 3) mm of the fitted hand.

    The room that is left between the fingers' flesh, for one finger beside another.
    """
    ring = points[list(RING)]
    middle = ring.mean(axis=0)
    axes = np.linalg.svd(ring - middle)[2]
    flat = np.ascontiguousarray((ring - middle) @ axes[:2].T, np.float32)
    low, high = flat.min(axis=0), flat.max(axis=0)
    xs, ys = (np.arange(a, b, RING_STEP_MM) for a, b in zip(low, high, strict=True))
    spots = [(float(x), float(y)) for x in xs for y in ys]
    clear = np.array([cv2.pointPolygonTest(flat, spot, measureDist=True) for spot in spots])
    half = 0.5 * FINGER_WIDTH_MM
    free = np.array(spots)[clear >= 2 * half]
    if clear.max(initial=0.0) < RING_CROSSED_MM:
        return float("nan")
    if len(free) == 0:
        return max(0.0, (float(clear.max(initial=0.0)) - half) / half)
    apart = float(np.linalg.norm(free[:, None] - free[None], axis=2).max())
    return 1.0 + apart / FINGER_WIDTH_MM


def _shape(fit: HandFit, joint: str) -> Shape:
    limit = ROUND_FROM[joint]
    if not fit.is_hand or abs(fit.angles[joint] - limit) < UNCLEAR_SD * fit.sd[joint]:
        return Shape.UNCLEAR
    return Shape.ROUND if fit.angles[joint] >= limit else Shape.STRAIGHT


@dataclass(frozen=True)
class Change:
    """One joint at two moments: degrees ``before`` and ``after``, ``sd`` of the difference, and whether it is ``sure``."""

    joint: str
    before: float
    after: float
    sd: float
    sure: bool


def changes(before: Hold, after: Hold) -> list[Change]:
    """What changed from one picture to another (frog and tip, relaxed hand and hold), the surest first."""
    out = []
    for name in JOINTS:
        if name in before.joints and name in after.joints:
            (a, sd_a), (b, sd_b) = before.joints[name], after.joints[name]
            sd = float(np.hypot(sd_a, sd_b))
            out.append(Change(name, a, b, sd, abs(b - a) > CHANGED_SD * sd))
    return sorted(out, key=lambda c: -abs(c.after - c.before) / c.sd)


def same_hand(before: Hold, after: Hold) -> bool | None:
    """Whether the hand keeps one shape from the frog to the tip; None = cannot be told."""
    told = changes(before, after)
    if len(told) < 5:
        return None
    return not any(c.sure for c in told)


def to_the_stick(points_px: Array, stick_px: Array) -> dict[str, float]:
    """Angle of each finger to the stick, (2, 2) px of two points on it, degrees in the picture (90 = square to it), and where
    the stick crosses the index finger: ``index_place`` 0 = its root, 1 = its middle joint, 2 = its end joint, 3 = its tip."""
    line = stick_px[1] - stick_px[0]
    line = line / np.linalg.norm(line)
    normal = np.array([-line[1], line[0]])
    out = {}
    for k, finger in enumerate(("index", "middle", "ring", "little")):
        bone = points_px[6 + 4 * k] - points_px[5 + 4 * k]
        cosine = abs(float(bone @ line)) / max(float(np.linalg.norm(bone)), 1e-9)
        out[f"{finger}_to_stick_deg"] = float(np.degrees(np.arccos(np.clip(cosine, 0.0, 1.0))))
    side = (points_px[5:9] - stick_px[0]) @ normal
    crossing = np.flatnonzero(np.sign(side[1:]) != np.sign(side[:-1]))
    out["index_place"] = (
        float(crossing[0] + side[crossing[0]] / (side[crossing[0]] - side[crossing[0] + 1])) if len(crossing) else float("nan")
    )
    return out


SQUEEZED_WIDTHS = 0.6
"""A gap that differs from the relaxed hand's by more than this many finger widths is squeezed or stretched (common practice, no
source: gaps as in the hanging hand)."""


@dataclass(frozen=True)
class HandSign:
    """A sign of tension that a picture of the hand may show: ``shown`` None = cannot be told; ``reason`` what it rests on."""

    name: str
    shown: bool | None
    reason: Message


def hand_signs(
    frog: Hold | None, tip: Hold | None, relaxed: Hold | None, other: Hold | None = None, *, long_at_head: bool = False
) -> list[HandSign]:
    """Signs from the newest pictures at the frog, at the tip, of the relaxed hand, and any other hold. Signs, never a diagnosis.

    ``long_at_head``: towards the head thumb and little finger may straighten, so that the picture there says nothing against them.
    """
    playing = [h for h in (frog, other, None if long_at_head else tip) if h is not None]
    near = frog or other
    out = [_shape_sign("straight thumb", [h.thumb for h in playing], "sign.all pictures", "sign.takes the bow")]
    little = [near.little] if near is not None else []
    told_of = "sign.picture at the frog" if frog is not None else "sign.picture of the hold"
    out.append(_shape_sign("locked little finger", little, told_of, "sign.takes the frog"))
    same = same_hand(frog, tip) if frog is not None and tip is not None else None
    out.append(
        HandSign(
            "same hand at frog and head",
            same,
            Message("sign.both pictures" if same is not None else "sign.takes both"),
        )
    )
    gaps = []
    if relaxed is not None and near is not None:
        gaps = [near.gaps[g] - relaxed.gaps[g] for g in GAPS if np.isfinite(near.gaps.get(g, np.nan) - relaxed.gaps.get(g, np.nan))]
    if not gaps:
        out.append(HandSign("fingers squeezed or stretched", None, Message("sign.takes the relaxed hand")))
    else:
        worst = max(gaps, key=abs)
        told = Message("sign.gap wider" if worst > 0 else "sign.gap narrower", {"widths": abs(worst)})
        out.append(HandSign("fingers squeezed or stretched", abs(worst) > SQUEEZED_WIDTHS, told))
    return out


INDEX_PLACES = ("at its root", "at its middle joint", "at its end joint", "at its tip")


def index_words(place: float) -> str:
    """Where the stick crosses the index finger, in words; ``place`` as ``index_place``."""
    return "does not cross it" if not np.isfinite(place) else INDEX_PLACES[int(np.clip(round(place), 0, 3))]


def _shape_sign(name: str, shapes: list[Shape], told_of: str, takes: str) -> HandSign:
    """A sign of one shape: ``told_of``: what it is told from; ``takes``: what it takes where there is nothing."""
    told = [s for s in shapes if s != Shape.UNCLEAR]
    reason = told_of if told else "sign.left open" if shapes else takes
    return HandSign(name, all(s == Shape.STRAIGHT for s in told) if told else None, Message(reason))
