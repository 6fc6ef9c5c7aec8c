"""Drills and corrections, as data (``drills.json``, ``corrections.json``): names, words for adult, child and parent, doses.

In English; other languages are laid over them by ``reports.practice``."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from dolcezza.core.base.errors import PracticeError

READERS = ("adult", "child", "parent")


@dataclass(frozen=True)
class Drill:
    """One drill. ``how`` by reader; ``minutes`` and ``count`` ``unit`` a day; ``hard`` ones need a rest, ``thumb`` ones the caution
    about mobile thumbs; the others in words."""

    key: str
    name: str
    place: str
    minutes: float
    count: int
    unit: str
    hard: bool
    how: dict[str, str]
    watch: str
    move_on: str
    stop: str
    thumb: bool = False


@dataclass(frozen=True)
class Correction:
    """One thing to change: what to say, what to feel or look for, the drills for it, and which causes it answers."""

    key: str
    says: str
    feel: str
    drills: tuple[str, ...]
    causes: tuple[str, ...]


@cache
def drills() -> dict[str, Drill]:
    """All drills by key."""
    data = json.loads(files(__package__).joinpath("drills.json").read_text(encoding="utf-8"))
    return {d["key"]: Drill(**d) for d in data}


@cache
def corrections() -> dict[str, Correction]:
    """All corrections by key."""
    data = json.loads(files(__package__).joinpath("corrections.json").read_text(encoding="utf-8"))
    return {k: Correction(k, c["says"], c["feel"], tuple(c["drills"]), tuple(c["causes"])) for k, c in data.items()}


def drill(key: str) -> Drill:
    """A drill by key. Raises PracticeError."""
    try:
        return drills()[key]
    except KeyError:
        raise PracticeError(f"There is no drill called '{key}'.", f"Drills: {', '.join(drills())}.") from None


STEERED = "the crooked bow steers it"
"""A cause that has no correction of its own: the one for the crooked bow answers it."""


def corrections_for(causes: Iterable[str]) -> list[tuple[Correction, tuple[str, ...]]]:
    """Corrections for causes in their order, each with the causes it answers: the same cause behind several findings is one correction."""
    wanted = list(dict.fromkeys(causes))
    out: dict[str, list[str]] = {}
    for cause in wanted:
        found = next((c for c in corrections().values() if cause in c.causes), None)
        if found is not None:
            out.setdefault(found.key, []).append(cause)
    if STEERED in wanted:
        straight = next((k for k in out if k in ("arm forward", "reach at the tip", "give at the frog", "start square")), "start square")
        out.setdefault(straight, []).append(STEERED)
    return [(corrections()[k], tuple(v)) for k, v in out.items()]
