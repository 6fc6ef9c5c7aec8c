"""Drills, corrections and plans in words, in one language."""

from __future__ import annotations

import json
from dataclasses import replace
from functools import cache
from importlib.resources import files
from typing import Any

from dolcezza.core.base.message import Message
from dolcezza.core.practice.drills import Correction, Drill, drills
from dolcezza.core.practice.plan import Slot
from dolcezza.reports.language import Language


@cache
def _texts(code: str) -> dict[str, Any]:
    path = files("dolcezza.reports") / "words" / f"practice_{code}.json"
    return json.loads(path.read_text(encoding="utf-8")) if path.is_file() else {"drills": {}, "corrections": {}}


def drill_in(drill: Drill, words: Language) -> Drill:
    """A drill with its texts in a language; as it is where there are none."""
    return replace(drill, **_texts(words.code)["drills"].get(drill.key, {}))


def correction_in(correction: Correction, words: Language) -> Correction:
    """A correction with its texts in a language; as it is where there are none."""
    return replace(correction, **_texts(words.code)["corrections"].get(correction.key, {}))


def practice_name(what: str, words: Language) -> str:
    """What was practised, by its name: a drill's key, or free words as they are."""
    return drill_in(drills()[what], words).name if what in drills() else what


def dose(drill: Drill, words: Language) -> str:
    """The daily dose of a drill (already in its language)."""
    minutes = Message("minutes", {"n": drill.minutes})
    return words.sentence(Message("dose", {"count": drill.count, "unit": drill.unit, "minutes": minutes}))


def slot_words(slot: Slot, words: Language) -> str:
    """One item of a day: name, minutes, what to count, the rest after it."""
    known = drill_in(drills()[slot.drill], words) if slot.drill in drills() else None
    values = {
        "name": known.name if known is not None else slot.words, "minutes": Message("minutes", {"n": slot.minutes}), "count": slot.count,
        "unit": known.unit if known is not None else slot.unit, "rest": Message("minutes", {"n": slot.rest}),
    }  # fmt: skip
    return words.sentence(Message(f"slot{'.count' if slot.count else ''}{'.rest' if slot.rest else ''}", values))


def slot_name(slot: Slot, words: Language) -> str:
    """The name of an item of a day."""
    return practice_name(slot.drill, words) if slot.drill else slot.words


def cautions(words: Language, *, thumb: bool = False) -> list[str]:
    """What is shown with every correction and sheet; ``thumb``: also for drills of the thumb."""
    return [words.word(key) for key in ("caution.pain", "caution.small", *(["caution.thumb"] if thumb else []))]
