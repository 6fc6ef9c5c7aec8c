"""What a teacher looks at in a bow hand, from the fitted joints: bends, gaps, the ring, the wrist; and what has changed.

Nothing here is a mark: figures with ±, set beside the player's own relaxed hand and the bands of the profile. What cannot be
told from a picture is not guessed; the teacher's own answer stands before any figure.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np

from dolcezza.core.base.arrays import Array
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
RING_OPEN_WIDTHS = 1.0
"""From so many finger widths between thumb and middle finger on the ring is open (common practice, no source: a couple fit)."""
CHANGED_SD = 2.0
"""A joint has changed when the difference is larger than so many of its ±."""
GAPS = ("index-middle", "middle-ring", "ring-little")


class Shape(StrEnum):
    """How a thumb or a finger looks."""

    STRAIGHT = "straight"
    ROUND = "round"
    UNCLEAR = "unclear"


@dataclass(frozen=True)
class Hold:
    """One bow hand. ``joints``: degrees and ± by name, only those that can be told; ``gaps`` in finger widths between neighbours
    (0 = touching) and ``ring`` of thumb and middle finger in finger widths, NaN = cannot be told; ``wrist_over_knuckles``: share
    of the hand's size in the picture, + = the wrist is higher; ``set_by_hand``: what the teacher answered by eye."""

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
        return Hold(
            self.joints, thumb, little, self.gaps, self.ring, self.wrist_over_knuckles, self.facing, {**self.set_by_hand, **answers}
        )  # fmt: skip


def describe(fit: HandFit, points_px: Array) -> Hold:
    """The figures of a fitted hand; ``points_px`` (21, 2) as in the upright picture (y down)."""
    joints = {name: (fit.angles[name], fit.sd[name]) for name in JOINTS if fit.told(name)}
    p = fit.points
    gaps = {}
    for name, a, b in zip(GAPS, (6, 10, 14), (10, 14, 18), strict=True):
        wide = float(np.linalg.norm(p[a] - p[b])) / FINGER_WIDTH_MM - 1.0
        gaps[name] = max(0.0, wide) if fit.told(f"{name.split('-')[0]}_pip") else float("nan")
    ring = max(0.0, float(np.linalg.norm(p[2] - p[10])) / FINGER_WIDTH_MM - 1.0) if fit.told("thumb_mcp") else float("nan")
    knuckles = points_px[[5, 9, 13, 17]].mean(axis=0)
    size = float(np.linalg.norm(points_px[9] - points_px[0]))
    return Hold(
        joints=joints, thumb=_shape(fit, "thumb_mcp"), little=_shape(fit, "little_pip"), gaps=gaps, ring=ring,
        wrist_over_knuckles=float(knuckles[1] - points_px[0, 1]) / max(size, 1.0), facing=fit.facing,
    )  # fmt: skip


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
    reason: str


def hand_signs(frog: Hold | None, tip: Hold | None, relaxed: Hold | None, other: Hold | None = None) -> list[HandSign]:
    """Signs from the newest pictures at the frog, at the tip, of the relaxed hand, and any other hold. Signs, never a diagnosis."""
    playing = [h for h in (frog, tip, other) if h is not None]
    near = frog or other
    out = [_shape_sign("straight thumb", [h.thumb for h in playing], "from all pictures with the bow")]
    little = [near.little] if near is not None else []
    out.append(
        _shape_sign(
            "locked little finger", little, "from the picture at the frog" if frog is not None else "it takes a picture at the frog"
        )
    )
    same = same_hand(frog, tip) if frog is not None and tip is not None else None
    out.append(
        HandSign(
            "same hand at frog and head",
            same,
            "pictures at frog and tip" if same is not None else "a picture at the frog and one at the tip",
        )
    )
    gaps = []
    if relaxed is not None and near is not None:
        gaps = [near.gaps[g] - relaxed.gaps[g] for g in GAPS if np.isfinite(near.gaps.get(g, np.nan) - relaxed.gaps.get(g, np.nan))]
    if not gaps:
        out.append(HandSign("fingers squeezed or stretched", None, "it takes a picture of the relaxed hand and one with the bow"))
    else:
        worst = max(gaps, key=abs)
        word = "wider" if worst > 0 else "narrower"
        out.append(
            HandSign(
                "fingers squeezed or stretched", abs(worst) > SQUEEZED_WIDTHS, f"a gap {abs(worst):.1f} finger widths {word} than at ease"
            )
        )
    return out


INDEX_PLACES = ("at its root", "at its middle joint", "at its end joint", "at its tip")


def index_words(place: float) -> str:
    """Where the stick crosses the index finger, in words; ``place`` as ``index_place``."""
    return "does not cross it" if not np.isfinite(place) else INDEX_PLACES[int(np.clip(round(place), 0, 3))]


def _shape_sign(name: str, shapes: list[Shape], where: str) -> HandSign:
    told = [s for s in shapes if s != Shape.UNCLEAR]
    return HandSign(name, all(s == Shape.STRAIGHT for s in told) if told else None, where)
