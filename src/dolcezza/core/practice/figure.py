"""What is followed over dates: a figure with its ±, and the points of a course."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import NamedTuple


@dataclass(frozen=True)
class Point:
    """A figure on one day: ``value`` with ``sd`` from so many ``strokes``; ``take_id`` 0 = it comes from no video."""

    take_id: int
    day: date
    value: float
    sd: float
    strokes: int


class Figure(NamedTuple):
    """A figure of one take that can be followed: ``value`` with ``sd`` from so many ``strokes``, its ``unit``, what to reach."""

    value: float
    sd: float
    strokes: int
    unit: str
    target: float
    lower_is_better: bool
