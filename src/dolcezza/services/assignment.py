"""A measured take against its exercise: read or recognised, matched, said in words, written as open JSON."""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from dolcezza.core.assignment.exercise import Exercise, check, ready_made, told_by_strokes
from dolcezza.core.assignment.match import Match, match, recognise
from dolcezza.core.assignment.text import read_exercise, write_exercise
from dolcezza.core.assignment.use import BowUse
from dolcezza.core.base.errors import ExerciseError
from dolcezza.core.base.message import Message
from dolcezza.core.base.message import said as as_said
from dolcezza.core.strokes.figures import Stroke
from dolcezza.storage.files import write_whole

RECOGNISE, NOTHING = "recognise", "none"
"""Words for an assignment that is to be found out, and for none."""


def read_exercise_file(path: Path) -> Exercise:
    """An exercise from a text file. Raises ExerciseError."""
    try:
        return read_exercise(Path(path).read_text(encoding="utf-8"))
    except (OSError, UnicodeDecodeError) as error:
        raise ExerciseError(f"The exercise {Path(path).name} cannot be read.", "It is a text file.") from error


@dataclass(frozen=True)
class Assigned:
    """A take against its assignment: ``match`` None = nothing fits or nothing was asked; ``how`` it went; ``recognised``: the program
    found out by itself what was played, ``sure`` or not."""

    match: Match | None
    how: Message
    recognised: bool = False
    sure: bool = True


def against(strokes: Sequence[Stroke], strings: str, wanted: Exercise | None, choices: Sequence[Exercise] = ()) -> Assigned:
    """Strokes against an exercise, or against the one of ``choices`` (the ready-made ones if none are given) that fits.

    Raises ExerciseError for strings that the instrument does not have.
    """
    if wanted is not None:
        check(wanted, strings)
        found = match(wanted, strokes)
        return Assigned(found, how_it_went(found))
    guess = recognise([e for e in choices or ready_made(strings) if told_by_strokes(e)], strokes)
    if guess is None:
        return Assigned(None, Message("assigned.nothing fits"), recognised=True, sure=False)
    values = {"exercise": exercise_said(guess.match.exercise.name), "how": how_it_went(guess.match)}
    said = Message("assigned.recognised" if guess.sure else "assigned.recognised, not sure", values)
    return Assigned(guess.match, said, recognised=True, sure=guess.sure)


def how_it_went(found: Match) -> Message:
    """How many strokes were as asked, and what was not."""
    faults = Counter(f for p in found.pairs for f in p.faults)
    values: dict[str, Any] = {"right": found.as_asked, "of": len(found.exercise.strokes)}
    if not faults:
        return Message("assigned.as asked", values)
    counts = tuple(Message("assigned.count", {"count": n, "fault": Message(f"match.{f}")}) for f, n in faults.most_common())
    return Message("assigned.with faults", values | {"faults": counts})


READY_NAMES = frozenset(e.name for e in ready_made("GDAE"))


def exercise_said(name: str) -> Message:
    """The name of an exercise: a ready-made one in the language that is set, the teacher's own as it was given."""
    return Message(f"exercise.{name}") if name in READY_NAMES else as_said(name)


def match_to_dict(found: Match) -> dict[str, Any]:
    """Plain JSON data of a match."""
    asked = found.exercise.strokes
    return {
        "exercise": write_exercise(found.exercise),
        "seconds_asked": round(found.exercise.seconds, 2),
        "cost": round(found.cost, 4),
        "as_asked": found.as_asked,
        "pairs": [
            {
                "asked": None if p.asked is None else p.asked + 1,
                "string": None if p.asked is None else asked[p.asked].string,
                "direction": None if p.asked is None else "down" if asked[p.asked].down else "up",
                "from_position": None if p.asked is None else asked[p.asked].from_position,
                "to_position": None if p.asked is None else asked[p.asked].to_position,
                "strokes": list(p.played),
                "faults": list(p.faults),
            }
            for p in found.pairs
        ],
    }


def write_match(found: Match, folder: Path) -> Path:
    """Write match.json and return its path. Raises StudioError."""
    path = Path(folder) / "match.json"
    write_whole(path, json.dumps(match_to_dict(found), indent=2) + "\n")
    return path


def use_to_dict(used: dict[str, BowUse]) -> dict[str, Any]:
    """Plain JSON data of the bow use, all strokes and each string."""
    return {
        name: {
            "strokes": use.strokes, "avoids_frog": use.avoids_frog, "time_share": [round(v, 4) for v in use.time_share],
            "figures": {k: {"value": round(f.value, 4), "sd": round(f.sd, 4), "unit": f.unit} for k, f in use.figures.items()},
        }
        for name, use in used.items()
    }  # fmt: skip


def write_use(used: dict[str, BowUse], folder: Path) -> Path:
    """Write bow_use.json and return its path. Raises StudioError."""
    path = Path(folder) / "bow_use.json"
    write_whole(path, json.dumps(use_to_dict(used), indent=2) + "\n")
    return path
