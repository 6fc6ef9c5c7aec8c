"""Building the hold: one list of steps a method, to be ticked in order, and small checks at the end (``methods.json``).

Common practice, no source. The order is the method; which one is taken is the teacher's choice.
"""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache
from importlib.resources import files


@dataclass(frozen=True)
class Step:
    """One step: what it ``says`` is done."""

    key: str
    says: str


@dataclass(frozen=True)
class Method:
    """``steps`` in order; ``held``: level, upright or upside down when the hold is ready; ``checks``: keys of the small
    tests at the end."""

    key: str
    name: str
    families: tuple[str, ...]
    held: str
    steps: tuple[Step, ...]
    checks: tuple[str, ...]

    def next_step(self, done: Iterable[str]) -> Step | None:
        """The first step that is not ticked yet; None when all are."""
        ticked = set(done)
        return next((s for s in self.steps if s.key not in ticked), None)


@cache
def methods() -> dict[str, Method]:
    """All methods by key."""
    data = json.loads(files(__package__).joinpath("methods.json").read_text(encoding="utf-8"))
    return {
        m["key"]: Method(
            m["key"], m["name"], tuple(m["families"]), m["held"], tuple(Step(s["key"], s["says"]) for s in m["steps"]), tuple(m["checks"])
        )
        for m in data
    }


def methods_for(family: str) -> list[Method]:
    """Methods for an instrument family."""
    return [m for m in methods().values() if family in m.families]
