"""What only the teacher sees of a hold: questions with a few answers each, kept with the day (``questions.json``).

Common practice, no source. A picture from the back of the hand hides the thumb's place, and no picture shows who presses.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from functools import cache
from importlib.resources import files

UNCLEAR = "unclear"
"""An answer to every question: it cannot be told; what was said before counts no more."""


@dataclass(frozen=True)
class Question:
    """``key`` in the record, what it ``asks``, and its ``answers``: words by key."""

    key: str
    asks: str
    answers: Mapping[str, str]


@dataclass(frozen=True)
class Said:
    """An answer of the teacher on a day."""

    question: str
    answer: str
    day: date


@cache
def questions() -> dict[str, Question]:
    """All questions by key."""
    data = json.loads(files(__package__).joinpath("questions.json").read_text(encoding="utf-8"))
    return {q["key"]: Question(q["key"], q["asks"], q["answers"]) for q in data}


def newest(answers: Iterable[Said]) -> dict[str, Said]:
    """The last answer to each question; none where it cannot be told any more. Of one day the later one in the row counts."""
    out: dict[str, Said] = {}
    for said in answers:
        if said.question not in out or said.day >= out[said.question].day:
            out[said.question] = said
    return {key: said for key, said in out.items() if said.answer != UNCLEAR}
