"""A printed part as a rhythm whose bow can be divided, and a division of it as an exercise that a take is compared with."""

from __future__ import annotations

from collections.abc import Mapping

from dolcezza.core.assignment.exercise import Exercise, Item, Line
from dolcezza.core.assignment.plan import Plan
from dolcezza.core.assignment.rhythm import Bow, Note, Rhythm
from dolcezza.core.score.score import NotationError, Score, on_strings

MOST_BOWS = 240


def rhythm_of(score: Score, *, low: float = 0.05, high: float = 0.95, shares: Mapping[int, float] | None = None) -> Rhythm:
    """The bows of a score as a rhythm. ``shares``: how much of the bow a bow (its place) is to get, where the teacher has said so.

    Raises NotationError where there are more bows than can be planned at once.
    """
    printed = score.bows
    if len(printed) > MOST_BOWS:
        raise NotationError(f"'{score.title}' has {len(printed)} bows.", f"Up to {MOST_BOWS} can be planned at once: choose some bars.")
    wanted = shares or {}
    bows = []
    for k, own in enumerate(printed):
        notes = [score.notes[n] for n in own.notes if score.notes[n].beats > 0]
        if not notes:
            continue
        # after a pause a bow that goes on in the same direction is set anew as well
        bows.append(Bow(tuple(Note(n.beats, n.dynamic) for n in notes), own.rest, own.retake, wanted.get(k)))
    start = low if printed[0].down else high
    return Rhythm(score.title, tuple(bows), tempo=score.tempo, low=low, high=high, start=start)


def bow_of_notes(plan: Plan, score: Score) -> list[tuple[int, ...]]:
    """The places in the score of the notes in each bow of a plan, in order; hooked bows hold those of both."""
    places = [k for bow in score.bows for k in bow.notes if score.notes[k].beats > 0]
    out, at = [], 0
    for bow in plan.bows:
        out.append(tuple(places[at : at + bow.notes]))
        at += bow.notes
    return out


def exercise_of(plan: Plan, score: Score, family: str) -> Exercise:
    """The plan as an exercise: each bow on the string of its first note, with its notes and its part of the bow. Raises NotationError."""
    strings = on_strings(score, family)
    lines = []
    for bow, notes in zip(plan.bows, bow_of_notes(plan, score), strict=True):
        low, high = sorted((min(max(float(bow.start), 0.0), 1.0), min(max(float(bow.end), 0.0), 1.0)))
        low = round(min(low, 0.99), 3)
        kind = "slurred" if bow.notes > 1 else "on"
        lines.append(Line((strings[notes[0]],), (Item(1, low, round(max(high, low + 0.01), 3), bow.beats, bow.notes, kind),)))
    return Exercise(f"{score.title}: {plan.way.lower()}", tuple(lines), score.tempo, not plan.bows[0].down)
