"""Passages of a longer take: strokes that belong together, with what lies between them (talk, tuning, rest) left out."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from dolcezza.core.base.message import NOTHING, Message
from dolcezza.core.strokes.figures import Stroke

BETWEEN_S = 2.0
"""A rest longer than this, without a stroke, parts two passages: longer than a breath or a slow retake."""


@dataclass(frozen=True)
class Passage:
    """Strokes number ``first`` to ``last`` from ``start_s`` to ``end_s``, on ``strings`` in the order in which they were first played."""

    first: int
    last: int
    start_s: float
    end_s: float
    strings: tuple[str, ...]

    @property
    def strokes(self) -> int:
        """How many strokes it has."""
        return self.last - self.first + 1


def passages(strokes: Sequence[Stroke]) -> list[Passage]:
    """The passages of a take, in order; a take played through is one."""
    groups: list[list[Stroke]] = []
    for stroke in strokes:
        if groups and stroke.start_s - groups[-1][-1].end_s <= BETWEEN_S:
            groups[-1].append(stroke)
        else:
            groups.append([stroke])
    return [
        Passage(g[0].number, g[-1].number, g[0].start_s, g[-1].end_s, tuple(dict.fromkeys(s.string for s in g if s.string)))
        for g in groups
    ]  # fmt: skip


def said_of(found: Sequence[Passage]) -> Message:
    """What is said of a take that was not played through; nothing for one passage."""
    if len(found) < 2:
        return NOTHING
    parts = tuple(
        Message("passage", {"start": _clock(p.start_s), "end": _clock(p.end_s), "n": p.strokes, "strings": " ".join(p.strings)})
        for p in found
    )
    return Message("note.passages", {"count": len(found), "passages": parts})


def _clock(seconds: float) -> str:
    whole = round(seconds)
    return f"{whole // 60}:{whole % 60:02d}"
