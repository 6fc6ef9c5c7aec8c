"""Body points of a take as a pose model gives them, whose they are and which arm holds the bow.

The numbering is that of the common 33-point body model (nose 0, ears 7 and 8, shoulders 11 and 12, elbows 13 and 14,
wrists 15 and 16, hips 23 and 24; odd = the left side) and 21-point hand model (wrist 0, then four points a finger from the
thumb on). The model's own idea of left and right is not used: the bow says which arm it is.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array

BODY_POINTS = 33
NOSE, EAR_LEFT, EAR_RIGHT = 0, 7, 8
ARMS = {"right": (12, 14, 16), "left": (11, 13, 15)}
"""Shoulder, elbow and wrist of each arm."""
HIPS = {"right": 24, "left": 23}
KNEES = (25, 26)
LEAST_VISIBLE = 0.3
"""Visibility below which a point was not seen."""


@dataclass(frozen=True)
class BodySeen:
    """Body points at m looked-at moments: ``t_s`` (m,) s, ``points`` (m, 33, 2) px (NaN = no person found), ``visible``
    (m, 33) 0..1."""

    t_s: Array
    points: Array
    visible: Array

    def __len__(self) -> int:
        return len(self.t_s)

    @property
    def found(self) -> Array:
        """(m,) bool: a person was found at all."""
        return np.isfinite(self.points[:, NOSE, 0])

    @staticmethod
    def of(t_s: list[float], seen: list[Array | None]) -> BodySeen:
        """From what the model gave at each moment: (33, 3) of x px, y px, visibility, or None."""
        empty = np.full((BODY_POINTS, 3), np.nan)
        rows = np.array([empty if s is None else s for s in seen]).reshape(-1, BODY_POINTS, 3)
        return BodySeen(np.array(t_s, float), rows[:, :, :2], np.nan_to_num(rows[:, :, 2]))


def bow_arm(seen: BodySeen, frog_px: Array) -> str:
    """The arm ("right" or "left" of the model) whose wrist keeps to the frog, (m, 2) px with NaN where it is not known.

    By the mean distance: at the frog a bow lies near the other hand too, but only the hand that holds it is never far.
    """
    apart = {side: np.linalg.norm(seen.points[:, ids[2]] - frog_px, axis=1) for side, ids in ARMS.items()}
    both = np.isfinite(apart["right"]) & np.isfinite(apart["left"])
    if not both.any():
        return "right"
    return "right" if apart["right"][both].mean() <= apart["left"][both].mean() else "left"


def other(side: str) -> str:
    """The other side."""
    return "left" if side == "right" else "right"


def middle(seen: BodySeen, what: dict[str, int]) -> Array:
    """Midway between the two sides' points, (m, 2) px."""
    return 0.5 * (seen.points[:, what["right"]] + seen.points[:, what["left"]])
