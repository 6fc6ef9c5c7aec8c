"""A measured take against its exercise: read or recognised, matched, said in words, written as open JSON."""

from __future__ import annotations

import json
from collections import Counter
from pathlib import Path
from typing import Any

from dolcezza.core.assignment.exercise import Exercise, check, ready_made
from dolcezza.core.assignment.match import Match, match, recognise
from dolcezza.core.assignment.text import read_exercise, write_exercise
from dolcezza.core.base.errors import ExerciseError
from dolcezza.services.analysis import TakeAnalysis
from dolcezza.storage.files import write_whole

RECOGNISE = "recognise"


def read_exercise_file(path: Path) -> Exercise:
    """An exercise from a text file. Raises ExerciseError."""
    try:
        return read_exercise(Path(path).read_text(encoding="utf-8"))
    except (OSError, UnicodeDecodeError) as error:
        raise ExerciseError(f"The exercise {Path(path).name} cannot be read.", "It is a text file.") from error


def compare(analysis: TakeAnalysis, wanted: Exercise | None) -> tuple[Match | None, str]:
    """The take against an exercise, or against the ready-made one that fits (``wanted`` None), and one sentence about it.

    Raises ExerciseError for strings that the instrument does not have.
    """
    strings = analysis.fit.spec.strings
    if wanted is not None:
        check(wanted, strings)
        found = match(wanted, analysis.strokes)
        return found, in_words(found)
    guess = recognise(ready_made(strings), analysis.strokes)
    if guess is None:
        return None, "None of the ready-made exercises fits what was played: give the exercise as a text file."
    sure = "" if guess.sure else " (not sure)"
    return guess.match, f"Recognised{sure}: {guess.match.exercise.name}. {in_words(guess.match)}"


def in_words(found: Match) -> str:
    """How many strokes were as asked, and what was not."""
    faults = Counter(f for p in found.pairs for f in p.faults)
    said = ", ".join(f"{count} {fault}" for fault, count in faults.most_common())
    return f"{found.as_asked} of {len(found.exercise.strokes)} strokes as asked{f'; {said}' if said else ''}."


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
