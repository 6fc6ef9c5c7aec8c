"""The shape of bow angle against place on the bow: what turns "crooked" into a cause."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from dolcezza.core.strokes.figures import THIRDS, Stroke


class Shape(StrEnum):
    """How the bow angle runs along the bow."""

    STRAIGHT = "straight"
    SWING = "swing"
    TIP_ONLY = "tip only"
    FROG_ONLY = "frog only"
    CONSTANT = "constant"
    MIXED = "mixed"


@dataclass(frozen=True)
class Signature:
    """Mean angle in each third of the bow (deg, NaN = not played there), its shape, and the worst third."""

    frog: float
    middle: float
    tip: float
    shape: Shape
    worst_third: str

    @property
    def worst(self) -> float:
        """Mean angle of the worst third, deg."""
        return float(getattr(self, self.worst_third))


def signature(strokes: list[Stroke], limit_deg: float) -> Signature:
    """Shape of the angles of ``strokes`` (same direction or same fault) against a limit.

    * swing: the ends differ in sign or by more than the limit, in a line
    * tip only, frog only: one end third is beyond the limit, the rest within
    * constant: all thirds beyond the limit to the same side
    """
    mean = {}
    for name in THIRDS:
        values = [s.third(name) for s in strokes if np.isfinite(s.third(name))]
        mean[name] = float(np.mean(values)) if values else float("nan")
    known = {k: v for k, v in mean.items() if np.isfinite(v)}
    if not known:
        return Signature(np.nan, np.nan, np.nan, Shape.STRAIGHT, "middle")
    worst = max(known, key=lambda k: abs(known[k]))
    return Signature(mean["frog"], mean["middle"], mean["tip"], _shape(known, limit_deg), worst)


def _shape(mean: dict[str, float], limit: float) -> Shape:
    beyond = {k for k, v in mean.items() if abs(v) > limit}
    if not beyond:
        return Shape.STRAIGHT
    frog, middle, tip = (mean.get(k, np.nan) for k in THIRDS)
    ends_known = np.isfinite(frog) and np.isfinite(tip)
    if ends_known:
        run = tip - frog
        centre = middle if np.isfinite(middle) else 0.5 * (frog + tip)
        bend = abs(centre - 0.5 * (frog + tip))
        opposite = np.sign(frog) != np.sign(tip) and min(abs(frog), abs(tip)) > 0.25 * limit
        if abs(run) > limit and bend < 0.3 * abs(run) and (opposite or abs(run) > 1.5 * limit):
            return Shape.SWING
    if len(beyond) == len(mean) and len({np.sign(v) for v in mean.values()}) == 1:
        return Shape.CONSTANT
    if beyond == {"tip"}:
        return Shape.TIP_ONLY
    if beyond == {"frog"}:
        return Shape.FROG_ONLY
    return Shape.MIXED
