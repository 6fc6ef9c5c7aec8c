"""The check card: a sheet slid under the strings against the bridge, with lines at known angles at two known distances."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.instrument.catalog import InstrumentSpec

LINES_DEG = (0.0, 10.0, -10.0)
"""The lines that the bow is laid along at each distance, in this order; + = tip towards the scroll."""
THIN_DEG = (-10.0, -5.0, 0.0, 5.0, 10.0)
"""All lines that are drawn."""
NEAR_SHARE, FAR_SHARE, STEP_MM = 0.28, 0.68, 5.0
"""Where the lines cross the middle of the card, as shares of the way from bridge to fingerboard, in whole steps."""
RULER_MM = 100.0
"""The printed ruler that proves the print."""
FOOT_MM = {"violin": 3.6, "viola": 4.0, "cello": 9.7}
"""How far the front of the bridge's feet stands before the middle of its top: the back of a bridge is upright, its feet are about 4.3 mm
thick (violin), 4.7 (viola), 11 (cello), its top 1.4 to 2.6. From memory."""
WIDTH_SHARE = 3.0
"""The card is so many times as wide as the strings lie apart at the bridge, so that lines are seen beside them."""


@dataclass(frozen=True)
class Laid:
    """One hold that is asked for: the bow along the line at ``angle_deg`` that crosses the middle of the card at ``contact_mm`` from the
    bridge's top."""

    angle_deg: float
    contact_mm: float


@dataclass(frozen=True)
class CheckCard:
    """The card of one instrument, mm: ``distances`` of its two fans of lines from the middle of the bridge's top, ``edge`` where its edge
    touches the bridge's feet, ``length`` along the strings and ``width``."""

    distances: tuple[float, float]
    edge: float
    length: float
    width: float

    @classmethod
    def of(cls, spec: InstrumentSpec) -> CheckCard:
        """The card for an instrument."""
        gap = spec.bridge_to_fingerboard
        near, far = (max(STEP_MM, STEP_MM * round(share * gap / STEP_MM)) for share in (NEAR_SHARE, FAR_SHARE))
        edge = FOOT_MM[spec.family] * spec.body_scale
        return cls(
            (near, far),
            edge,
            STEP_MM * np.ceil(gap / STEP_MM) + STEP_MM - edge,
            STEP_MM * round(WIDTH_SHARE * spec.spread_bridge / STEP_MM),
        )

    def holds(self, print_scale: float = 1.0) -> tuple[Laid, ...]:
        """What is asked for, in its order: three lines near the bridge, three far from it. ``print_scale``: how long the printed ruler
        is, over ``RULER_MM``; only what lies on the paper grows with it, not where the paper begins."""
        return tuple(Laid(angle, self.edge + (at - self.edge) * print_scale) for at in self.distances for angle in LINES_DEG)


def seen_along_the_bow(line_deg: float, inclination_deg: float) -> float:
    """The bow angle (deg) of a bow that covers a line of the card, seen from straight above, while it leans to a string's plane.

    The angle is defined in the plane the bow moves in, the line lies flat.
    """
    return float(np.degrees(np.arctan(np.tan(np.radians(line_deg)) * np.cos(np.radians(inclination_deg)))))
