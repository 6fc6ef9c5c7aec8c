"""Profiles: what this student is measured against. Schools disagree; a profile says which one a limit belongs to.

Bands are common practice, no source; ready-made profiles are starting points that a teacher copies and edits, never the
truth.
"""

from __future__ import annotations

from dataclasses import dataclass

from dolcezza.core.base.errors import InstrumentError
from dolcezza.core.instrument.catalog import InstrumentSpec


@dataclass(frozen=True)
class Lane:
    """Where the bow should meet the string. ``measure``: "mm" from the bridge, or "share" of the way to the fingerboard;
    ``hair_widths`` are taken off both ends (nearer the bridge)."""

    measure: str
    low: float
    high: float
    text: str
    hair_widths: float = 0.0

    def band_mm(self, spec: InstrumentSpec) -> tuple[float, float]:
        """Nearest and farthest place from the bridge on this instrument, mm."""
        scale = spec.bridge_to_fingerboard if self.measure == "share" else 1.0
        off = self.hair_widths * spec.hair_width
        return max(0.0, self.low * scale - off), self.high * scale - off


@dataclass(frozen=True)
class Profile:
    """Limits for one instrument family, school and stage. ``angle_limit_deg``: a straighter bow is not remarked on."""

    name: str
    families: tuple[str, ...]
    stage: str
    angle_limit_deg: float
    lane: Lane


_HALF_WAY = "half-way between bridge and fingerboard"
PROFILES: dict[str, Profile] = {
    p.name: p
    for p in (
        Profile("Franco-Belgian", ("violin", "viola"), "advancing", 4.0, Lane("share", 0.30, 0.65, _HALF_WAY)),
        Profile(
            "Russian",
            ("violin", "viola"),
            "advancing",
            4.0,
            Lane("mm", 8.0, 30.0, "nearer the bridge, from about 1 cm on"),
        ),
        Profile(
            "Starter, thumb outside",
            ("violin", "viola"),
            "starter",
            6.0,
            Lane("share", 0.25, 0.70, _HALF_WAY + ", wide lane"),
        ),
        Profile("Fiddle", ("violin", "viola"), "advancing", 7.0, Lane("share", 0.20, 0.75, "anywhere well between the two")),
        Profile(
            "Cello",
            ("cello",),
            "advancing",
            4.0,
            Lane("share", 0.38, 0.66, _HALF_WAY + ", one hair-width nearer the bridge", 1.0),
        ),
        Profile("Cello starter", ("cello",), "starter", 6.0, Lane("share", 0.28, 0.72, _HALF_WAY + ", wide lane")),
    )
}


def profile(name: str) -> Profile:
    """A ready-made profile by name. Raises InstrumentError."""
    try:
        return PROFILES[name]
    except KeyError:
        raise InstrumentError(f"There is no profile called '{name}'.", f"Choose one of: {', '.join(PROFILES)}.") from None


def default_profile(spec: InstrumentSpec) -> Profile:
    """The profile a new student of this instrument starts with."""
    return PROFILES["Cello" if spec.family == "cello" else "Franco-Belgian"]
