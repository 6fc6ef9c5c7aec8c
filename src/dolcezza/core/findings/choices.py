"""What a teacher chooses, one thing at a time: the hold, the arm, the bow and the stage, each on its own (``choices.json``).

No choice is the truth and none hangs on another, but for the few pairs that contradict each other (``contradictions``).
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from importlib.resources import files

from dolcezza.core.findings.catalogue import Group

ANY = "any"
"""Not judged."""


class Stage(StrEnum):
    """How far a student has come; each stage looks at more than the one before."""

    FIRST_HOLD = "first hold"
    FIRST_BOWS = "first bows"
    LONG_BOWS = "long bows"
    PORTIONS = "portions"
    MUSIC = "music"


NEW_WORK: dict[Stage, tuple[Group, ...]] = {
    Stage.FIRST_HOLD: (Group.TENSION, Group.SETUP, Group.HOLD), Stage.FIRST_BOWS: (Group.STRAIGHTNESS,), Stage.LONG_BOWS: (Group.ARM,),
    Stage.PORTIONS: (Group.BOW_USE,), Stage.MUSIC: (Group.TONE,),
}  # fmt: skip
"""Kinds of work that a stage adds (common practice, no source: straight before levels, levels before portions, tone last)."""


def looked_at(stage: Stage) -> frozenset[Group]:
    """Kinds of work that are judged at a stage."""
    order = tuple(Stage)
    return frozenset(group for s in order[: order.index(stage) + 1] for group in NEW_WORK[s])


def next_stage(stage: Stage) -> Stage | None:
    """The stage after this one; None after the last."""
    order = tuple(Stage)
    k = order.index(stage) + 1
    return order[k] if k < len(order) else None


@dataclass(frozen=True)
class Option:
    """One way to decide: ``name``, a sentence that ``says`` what it means, the ``reason``; ``families`` it is for, () = all."""

    key: str
    name: str
    says: str
    reason: str
    families: tuple[str, ...] = ()


@dataclass(frozen=True)
class Choice:
    """One thing to decide, in its ``group`` (stage, hold, arm, bow). ``answered``: the picture cannot tell it, the teacher does."""

    key: str
    group: str
    name: str
    options: tuple[Option, ...]
    answered: bool = False

    def option(self, key: str) -> Option:
        """An option by its key. Raises KeyError."""
        return {o.key: o for o in self.options}[key]

    def options_for(self, families: tuple[str, ...]) -> tuple[Option, ...]:
        """What can be chosen for instruments of ``families``."""
        return tuple(o for o in self.options if not o.families or set(o.families) & set(families))


@cache
def choices() -> dict[str, Choice]:
    """All choices by key, in the order in which they are asked."""
    data = json.loads(files(__package__).joinpath("choices.json").read_text(encoding="utf-8"))

    def option(o: dict[str, object]) -> Option:
        families = o.get("families", [])
        return Option(
            str(o["key"]), str(o["name"]), str(o["says"]), str(o["reason"]), tuple(families if isinstance(families, list) else ())
        )

    return {
        c["key"]: Choice(c["key"], c["group"], c["name"], tuple(option(o) for o in c["options"]), bool(c.get("answered"))) for c in data
    }


USUAL: Mapping[str, str] = {
    "stage": Stage.MUSIC, "thumb place": ANY, "thumb shape": ANY, "little place": ANY, "little shape": ANY, "index": ANY,
    "fingers": ANY, "palm turn": ANY, "gap": ANY, "wrist": ANY, "hair": ANY,
    "along the bow": "stable", "upper arm": ANY, "lifted bows": "kept on", "roughness": "corrected",
}  # fmt: skip
"""What counts where a profile says nothing."""

CONTRADICTIONS: tuple[tuple[tuple[str, str], tuple[str, str]], ...] = (
    (("along the bow", "stable"), ("thumb shape", "bent at the frog")),
    (("along the bow", "stable"), ("little shape", "round at the frog")),
    (("along the bow", "stable"), ("wrist", "rises")),
)
"""Pairs that cannot both be asked: a hand of one shape does not change it towards the head."""


def contradictions(chosen: Mapping[str, str]) -> list[tuple[tuple[str, str], tuple[str, str]]]:
    """Pairs of (choice, option) that contradict each other in what was ``chosen``."""
    return [pair for pair in CONTRADICTIONS if all(chosen.get(key) == option for key, option in pair)]
