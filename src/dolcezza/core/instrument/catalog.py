"""Dimensions of violins, violas, cellos and their bows by size, each with where it comes from.

"from memory" marks figures written down from general knowledge of the trade without a document at hand; makers
differ by a few per cent, so every figure can be overwritten for one instrument with a ruler (``InstrumentSpec.with_measured``).
"""

from __future__ import annotations

from dataclasses import dataclass, field, fields, replace
from typing import Any

from dolcezza.core.base.errors import InstrumentError

MEMORY = "from memory"


@dataclass(frozen=True)
class InstrumentSpec:
    """One instrument and its bow. All lengths in millimetres.

    ``body_scale`` is the body length over that of the 4/4 instrument of the family; it scales outline and landmarks.
    ``strings`` are named from the bass side to the treble side. ``frog_side`` is +1 where the frog is on the bass
    side (cello), -1 where it is on the treble side (violin, viola).
    """

    name: str
    family: str
    strings: str
    body_scale: float
    string_length: float
    bridge_to_fingerboard: float
    spread_bridge: float
    spread_nut: float
    bridge_radius: float
    hair_length: float
    hair_width: float
    frog_side: int
    source: dict[str, str] = field(default_factory=dict, compare=False)

    def with_measured(self, **lengths: Any) -> InstrumentSpec:
        """The same instrument with some figures replaced by the teacher's own (mm). Raises InstrumentError."""
        known = {f.name for f in fields(self)} - {"name", "family", "strings", "frog_side", "source"}
        for key, value in lengths.items():
            if key not in known:
                raise InstrumentError(f"'{key}' is not a dimension of an instrument.", f"Known: {', '.join(sorted(known))}.")
            usual = getattr(self, key)
            if not (0.5 * usual <= value <= 2.0 * usual):
                raise InstrumentError(
                    f"{key.replace('_', ' ')} of {value:g} mm cannot be right for {self.name} (usual {usual:g} mm).",
                    "Measure it again, or choose another size.",
                )
        return replace(self, **lengths, source={**self.source, **dict.fromkeys(lengths, "measured by the teacher")})


def _spec(name: str, family: str, strings: str, scale: float, row: tuple[float, ...]) -> InstrumentSpec:
    keys = (
        "string_length",
        "bridge_to_fingerboard",
        "spread_bridge",
        "spread_nut",
        "bridge_radius",
        "hair_length",
        "hair_width",
    )
    frog_side = 1 if family == "cello" else -1
    lengths = dict(zip(keys, row, strict=True))
    return InstrumentSpec(
        name=name, family=family, strings=strings, body_scale=scale, frog_side=frog_side,
        source=dict.fromkeys((*keys, "body_scale"), MEMORY), **lengths,
    )  # fmt: skip


# size: body scale, (string length, bridge to fingerboard, spread at bridge, spread at nut, bridge radius, hair length, hair width)
_VIOLIN = {
    "4/4": (1.00, (328.0, 57.0, 33.5, 16.5, 42.0, 645.0, 9.0)),
    "7/8": (0.97, (318.0, 55.0, 32.5, 16.0, 42.0, 625.0, 9.0)),
    "3/4": (0.94, (307.0, 53.0, 31.5, 15.8, 42.0, 600.0, 8.5)),
    "1/2": (0.87, (285.0, 49.0, 30.0, 15.0, 42.0, 530.0, 8.0)),
    "1/4": (0.80, (260.0, 45.0, 28.0, 14.2, 41.0, 470.0, 7.5)),
    "1/8": (0.72, (236.0, 41.0, 26.0, 13.4, 40.0, 410.0, 7.0)),
    "1/10": (0.68, (222.0, 38.5, 25.0, 13.0, 40.0, 380.0, 6.5)),
    "1/16": (0.65, (210.0, 36.5, 24.0, 12.5, 40.0, 350.0, 6.5)),
}
_VIOLA = {
    "12": (0.86, (300.0, 52.0, 32.0, 15.5, 42.0, 600.0, 9.0)),
    "13": (0.94, (320.0, 55.5, 33.5, 16.0, 42.0, 620.0, 9.0)),
    "14": (1.01, (337.0, 58.5, 34.0, 16.5, 42.0, 640.0, 9.0)),
    "15": (1.08, (355.0, 61.5, 35.0, 17.0, 42.0, 640.0, 9.0)),
    "15.5": (1.11, (365.0, 63.0, 35.5, 17.2, 42.0, 640.0, 9.0)),
    "16": (1.15, (375.0, 65.0, 36.0, 17.5, 42.0, 640.0, 9.0)),
    "16.5": (1.18, (383.0, 66.5, 36.5, 17.7, 42.0, 640.0, 9.0)),
    "17": (1.21, (393.0, 68.0, 37.0, 18.0, 42.0, 640.0, 9.0)),
}
_CELLO = {
    "4/4": (1.00, (692.0, 112.0, 47.0, 22.5, 63.0, 600.0, 10.0)),
    "7/8": (0.96, (665.0, 107.5, 45.5, 22.0, 62.0, 590.0, 10.0)),
    "3/4": (0.92, (630.0, 102.0, 44.0, 21.5, 61.0, 575.0, 9.5)),
    "1/2": (0.85, (580.0, 94.0, 41.0, 20.0, 60.0, 525.0, 9.0)),
    "1/4": (0.77, (520.0, 84.0, 38.0, 18.5, 58.0, 470.0, 8.5)),
    "1/8": (0.68, (450.0, 73.0, 35.0, 17.0, 56.0, 415.0, 8.0)),
}

CATALOG: dict[str, InstrumentSpec] = {}
for _family, _table, _strings in (("violin", _VIOLIN, "GDAE"), ("viola", _VIOLA, "CGDA"), ("cello", _CELLO, "CGDA")):
    for _size, (_scale, _row) in _table.items():
        CATALOG[f"{_family} {_size}"] = _spec(f"{_family} {_size}", _family, _strings, _scale, _row)


def instrument(name: str) -> InstrumentSpec:
    """Look an instrument up by name ("violin 3/4", "viola 16", "cello 4/4"). Raises InstrumentError."""
    try:
        return CATALOG[" ".join(name.lower().split())]
    except KeyError:
        raise InstrumentError(f"'{name}' is not an instrument that is known here.", f"Choose one of: {', '.join(CATALOG)}.") from None
