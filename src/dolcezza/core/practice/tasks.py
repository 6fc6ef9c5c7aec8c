"""What was played in a take, as words that are the same for like takes: strings, portion of the bow, stroke type."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

import numpy as np

from dolcezza.core.assignment.exercise import PARTS
from dolcezza.core.strokes.figures import Stroke

NEAR = 0.17
"""Strokes that end so near to a part's ends (share of the bow) are of that part."""
MIXED_SHARE = 0.7
"""A part that fewer of the strokes belong to is not what was played: it was mixed."""


def part_of(stroke: Stroke) -> str:
    """The part of the bow a stroke was played in; "" = none of them."""
    low, high = sorted((stroke.from_position, stroke.to_position))
    if not np.isfinite([low, high]).all():
        return ""
    apart = {name: max(abs(low - a), abs(high - b)) for name, (a, b) in PARTS.items()}
    best = min(apart, key=lambda name: apart[name])
    return best if apart[best] <= NEAR else ""


def task_of(strokes: Sequence[Stroke]) -> str:
    """Strings, the portion of the bow (or "mixed"), and "lifted" where each stroke goes the same way: ``A D, whole``."""
    strings = " ".join(sorted({s.string for s in strokes if s.string}))
    parts = Counter(p for s in strokes if (p := part_of(s)))
    portion = "mixed"
    if parts and parts.most_common(1)[0][1] >= MIXED_SHARE * len(strokes):
        portion = parts.most_common(1)[0][0]
    ways = {s.direction for s in strokes}
    lifted = ", lifted" if len(strokes) > 3 and len(ways) == 1 else ""
    return f"{strings}, {portion}{lifted}" if strings else ""
