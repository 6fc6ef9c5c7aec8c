"""Every unit the program shows: its name, its decimals, its sign rule. Numbers are formatted for the eye only here."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Quantity:
    """How one figure is written: ``factor`` turns the stored value into the shown one."""

    name: str
    unit: str
    decimals: int
    factor: float = 1.0
    signed: bool = False


QUANTITIES: dict[str, Quantity] = {
    "bow_angle": Quantity("Bow angle", "°", 1, signed=True),
    "contact_point": Quantity("Contact point", "mm", 0),
    "bow_position": Quantity("Bow position", "%", 0, factor=100.0),
    "bow_speed": Quantity("Bow speed", "cm/s", 0, signed=True),
    "inclination": Quantity("Inclination", "°", 1, signed=True),
    "elbow_level": Quantity("Elbow level", "°", 0),
    "elbow_to_bow_plane": Quantity("Elbow above the bow's plane", "mm", 0, signed=True),
    "joint": Quantity("Joint", "°", 0),
    "finger_widths": Quantity("Gap", "finger widths", 1),
    "time": Quantity("Time", "s", 2),
    "share": Quantity("Share", "%", 0, factor=100.0),
    "pixels": Quantity("Distance in the picture", "px", 1),
}


def clock(seconds: float) -> str:
    """Minutes, seconds and hundredths of a moment in the take: ``0:04.27``."""
    minutes, rest = divmod(max(0.0, round(seconds, 2)), 60.0)
    return f"{int(minutes)}:{rest:05.2f}"
