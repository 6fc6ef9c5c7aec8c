"""Exercises that are made up: mixes by chance in even counts, and lists in which nothing is skipped."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import permutations

import numpy as np

from dolcezza.core.assignment.exercise import PARTS, Exercise, Item, Line
from dolcezza.core.base.errors import ExerciseError

EVEN_COUNTS = (2, 4, 6, 8)
"""Even counts bring the bow back to where it began (common practice, no source)."""
BEATS = {"whole": 4.0, "lower": 2.0, "upper": 2.0, "middle": 1.0, "frog": 1.0, "tip": 1.0}
"""Beats of a stroke that keep the bow at about one speed."""


def random_mix(strings: str, *, seed: int, items_a_string: int = 2, tempo: float = 60.0) -> Exercise:
    """On each string in order a few groups of strokes, parts and even counts by chance; the same ``seed`` gives the same mix.

    Neighbouring groups never use the same part. Raises ExerciseError for fewer than one or more than twelve groups a string.
    """
    if not 1 <= items_a_string <= 12:
        raise ExerciseError(f"A mix of {items_a_string} groups on each string cannot be made.", "From 1 to 12.")
    dice = np.random.default_rng(seed)
    lines, last = [], ""
    for string in strings:
        items = []
        for _ in range(items_a_string):
            last = str(dice.choice([p for p in PARTS if p != last]))
            items.append(Item(int(dice.choice(EVEN_COUNTS)), *PARTS[last], BEATS[last]))
        lines.append(Line((string,), tuple(items)))
    return Exercise(f"Mix {seed}", tuple(lines), tempo)


def every_pair_of_parts(strings: str, parts: Sequence[str] = tuple(PARTS), *, count: int = 2, tempo: float = 60.0) -> Exercise:
    """Every part of the bow followed by every other, ``count`` strokes each, on every string: none skipped, none twice.

    Raises ExerciseError for an odd count or fewer than two parts.
    """
    if count < 2 or count % 2:
        raise ExerciseError(f"{count} strokes in a group would turn the bow round.", "Take an even count: 2, 4, 6, 8.")
    if len(set(parts)) < 2:
        raise ExerciseError("One part alone makes no pair.", f"Parts: {', '.join(PARTS)}.")
    items = tuple(Item(count, *PARTS[part], BEATS[part]) for pair in permutations(dict.fromkeys(parts), 2) for part in pair)
    return Exercise("Every part after every other", (Line(tuple(strings), items),), tempo)


def every_change_of_string(strings: str, part: str = "whole", *, count: int = 2, tempo: float = 60.0) -> Exercise:
    """From every string to every other, ``count`` strokes on each: none skipped, none twice. Raises ExerciseError."""
    if count < 1:
        raise ExerciseError(f"{count} strokes on a string are none.", "At least 1.")
    if len(set(strings)) < 2:
        raise ExerciseError("One string alone has no change.", "Name two strings or more.")
    item = Item(count, *PARTS[part], BEATS[part])
    return Exercise("Every string after every other", tuple(Line(pair, (item,)) for pair in permutations(strings, 2)), tempo)
