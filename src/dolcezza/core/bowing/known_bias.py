"""What a phone is known to add to the figures from where it stands: found with a card of known lines, taken off where it is constant."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class KnownBias:
    """What is to be taken off angle (deg) and contact point (mm), each with how well it is known (one sd)."""

    angle_deg: float = 0.0
    angle_sd_deg: float = 0.0
    contact_mm: float = 0.0
    contact_sd_mm: float = 0.0


NO_BIAS = KnownBias()
