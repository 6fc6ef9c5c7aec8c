"""Bow plans: a rhythm read, divided in every way there is, said in words and written."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from dolcezza.core.assignment.plan import Plan, ways
from dolcezza.core.assignment.rhythm import Rhythm, read_rhythm
from dolcezza.core.base.errors import ExerciseError
from dolcezza.core.base.message import Message
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.reports.language import language

READY_RHYTHMS: dict[str, str] = {
    "Equal notes": "plan: Equal notes\ntempo: 60\nrepeat: 2\nrhythm: 2 2\n",
    "Dotted pairs": "plan: Dotted pairs\ntempo: 60\nrepeat: 2\nrhythm: 1.5 0.5 1.5 0.5\n",
    "Three slurred and one": "plan: Three slurred and one\ntempo: 72\nrepeat: 2\nrhythm: (1 1 1) 1\n",
    "Two slurred and two separate": "plan: Two slurred and two separate\ntempo: 72\nrepeat: 2\nrhythm: (1 1) 1 1\n",
    "Loud and soft": "plan: Loud and soft\ntempo: 60\nrepeat: 2\nrhythm: 2f 2p 2f 2p\n",
}
"""Worked examples to begin with."""


def plan_text(text: str, spec: InstrumentSpec) -> list[Plan]:
    """All ways to divide the bow for a rhythm's text on an instrument, the least to mind first. Raises ExerciseError."""
    rhythm = read_rhythm(text)
    if not any(line.split("#")[0].strip().lower().startswith("string:") for line in text.splitlines()):
        rhythm = replace(rhythm, string=spec.strings[-1] if "A" not in spec.strings else "A")
    return plan_rhythm(rhythm, spec)


def plan_rhythm(rhythm: Rhythm, spec: InstrumentSpec) -> list[Plan]:
    """All ways to divide the bow for a rhythm on an instrument. Raises ExerciseError for a string that it does not have."""
    if rhythm.string not in spec.strings:
        raise ExerciseError(f"'{rhythm.string}' is not a string of this instrument.", f"Its strings: {' '.join(spec.strings)}.")
    return ways(rhythm, spec.hair_length)


def read_plan_file(path: Path, spec: InstrumentSpec) -> list[Plan]:
    """Ways from a text file. Raises ExerciseError."""
    try:
        text = Path(path).read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise ExerciseError(f"The plan {Path(path).name} cannot be read.", "It is a text file.") from error
    return plan_text(text, spec)


def drift_said(plan: Plan) -> Message:
    """Where repeating the pattern takes the bow."""
    if abs(plan.drift) < 0.005:
        return Message("plan.comes back")
    return Message(f"plan.drifts to the {'head' if plan.drift > 0 else 'frog'}", {"share": 100 * abs(plan.drift)})


def table(plan: Plan) -> str:
    """A plan as lines of text, one a bow."""
    english = language("en")
    rows = [f"{plan.way}: {english.sentences([plan.advice, drift_said(plan)])}"]
    for b in plan.bows:
        places = " ".join(f"{100 * p:.0f}" for p in b.places)
        way = f"{b.number:3d} {'down' if b.down else 'up  '} {b.beats:g} beats  {100 * b.start:4.0f} % -> {places} %"
        rows.append(f"  {way}  {b.speed_cm_s:5.1f} cm/s{'  taken again' if b.retake else ''}")
    return "\n".join([*rows, *(f"  ! {english.sentence(w)}" for w in plan.warnings)])
