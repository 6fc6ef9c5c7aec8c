"""A check that is kept: of which phone, from where, on which instrument; and whether it speaks of another take."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, dataclass, fields
from typing import Any

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.bowing.known_bias import KnownBias
from dolcezza.core.check.compare import CheckFigures, CheckResult

SAME_DEG, SAME_FAR = 15.0, 1.35
"""A phone stands where it stood for the check if it looks at the instrument from within so many degrees, and so many times as far."""


@dataclass(frozen=True)
class PhonePlace:
    """Where the phone stood in the instrument's frame: ``side_deg`` about the strings' normal (0 = the scroll's side, in line with the
    strings, + towards the bass side), ``high_deg`` over the plane of the strings, ``far_mm`` from the bridge."""

    side_deg: float
    high_deg: float
    far_mm: float

    @classmethod
    def of(cls, place: Array) -> PhonePlace:
        """From a camera's place (3,) mm in the instrument's frame."""
        far = float(np.linalg.norm(place))
        return cls(
            round(float(np.degrees(np.arctan2(place[1], place[0]))), 1), round(float(np.degrees(np.arcsin(place[2] / far))), 1), round(far)
        )

    @property
    def direction(self) -> Array:
        """Unit vector (3,) from the bridge to the phone."""
        side, high = np.radians([self.side_deg, self.high_deg])
        return np.array([np.cos(high) * np.cos(side), np.cos(high) * np.sin(side), np.sin(high)])

    def apart_deg(self, other: PhonePlace) -> float:
        """Angle between the two views of the instrument, deg."""
        return float(np.degrees(np.arccos(np.clip(self.direction @ other.direction, -1, 1))))

    def same(self, other: PhonePlace) -> bool:
        """Whether a check from the one speaks of the other."""
        ratio = max(self.far_mm, other.far_mm) / max(min(self.far_mm, other.far_mm), 1.0)
        return self.apart_deg(other) <= SAME_DEG and ratio <= SAME_FAR


@dataclass(frozen=True)
class PhoneCheck(CheckFigures):
    """The figures of one check and what it was made with. ``name``: the phone and its place in the teacher's words;
    ``day`` as 2026-11-28."""

    name: str
    day: str
    instrument: str
    place: PhonePlace
    holds: int

    @classmethod
    def of(cls, result: CheckResult, *, name: str, day: str, instrument: str, place: PhonePlace) -> PhoneCheck:
        """Keep a result."""
        told = {f.name: getattr(result, f.name) for f in fields(CheckFigures)}
        return cls(name=name, day=day, instrument=instrument, place=place, holds=len(result.used), **told)

    def speaks_of(self, instrument: str, place: PhonePlace) -> bool:
        """Whether it was made with an instrument of this size from about here."""
        return self.instrument == instrument and self.place.same(place)

    @property
    def bias(self) -> KnownBias:
        """What can be taken off: only what is constant."""
        angle = (self.angle_bias_deg, self.angle_sd_deg) if self.constant_angle else (0.0, 0.0)
        contact = (self.contact_bias_mm, self.contact_sd_mm) if self.constant_contact else (0.0, 0.0)
        return KnownBias(*angle, *contact)

    def to_dict(self) -> dict[str, Any]:
        """Plain JSON data."""
        return asdict(self)

    @classmethod
    def from_dict(cls, data: dict[str, Any]) -> PhoneCheck:
        """Inverse of ``to_dict``. Raises KeyError, TypeError, ValueError where it is damaged."""
        place = PhonePlace(**{k: _real(v) for k, v in data["place"].items()})
        kinds: dict[str, Callable[[Any], Any]] = {"str": lambda v: str(v)[:200], "bool": bool, "int": int, "float": _real}
        return cls(place=place, **{f.name: kinds[str(f.type)](data[f.name]) for f in fields(cls) if f.name != "place"})


def _real(value: Any) -> float:
    number = float(value)
    if not abs(number) < 1e5:
        raise ValueError(f"{number:g} cannot be")
    return number
