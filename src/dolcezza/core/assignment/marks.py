"""Where the strokes that were asked lie in time beside those that were played: the pale pattern behind the ribbon."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from dolcezza.core.assignment.match import Match
from dolcezza.core.strokes.figures import Stroke

MISSED_S = 0.35
"""A missed stroke is drawn at least so wide, in the gap where it should have been."""


@dataclass(frozen=True)
class AskedMark:
    """One asked stroke: its ``string``, when (s), from where to where on the bow; ``played`` or not; ``faults`` as in the match."""

    asked: int
    string: str
    start_s: float
    end_s: float
    from_position: float
    to_position: float
    played: bool
    faults: tuple[str, ...]


def asked_marks(found: Match, strokes: Sequence[Stroke], *, end_s: float) -> list[AskedMark]:
    """Marks of a match; what was not reached follows the last stroke at the exercise's tempo, up to the take's end ``end_s`` (s)."""
    own = {s.number: s for s in strokes}
    wanted, beat_s = found.exercise.strokes, 60.0 / found.exercise.tempo
    out: list[AskedMark] = []
    clock = 0.0
    for k, pair in enumerate(found.pairs):
        if pair.asked is None:
            clock = max(clock, *(own[n].end_s for n in pair.played if n in own), clock)
            continue
        asked = wanted[pair.asked]
        if pair.played:
            start, end = own[pair.played[0]].start_s, own[pair.played[-1]].end_s
        else:
            after = next((own[p.played[0]].start_s for p in found.pairs[k + 1 :] if p.played), None)
            start = clock
            end = start + asked.beats * beat_s if after is None else max(after, start + MISSED_S)
        clock = max(clock, end)
        if start < end_s:
            out.append(
                AskedMark(
                    pair.asked, asked.string, start, min(end, end_s), asked.from_position, asked.to_position, bool(pair.played), pair.faults
                )
            )
    return out
