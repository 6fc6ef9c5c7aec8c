"""The notes of a take as its bows divide them: one pitch in one bow is one note."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from dolcezza.core.sound.notes import SHORTEST_S, find_notes
from dolcezza.core.sound.pitch import PitchTrack
from dolcezza.core.strokes.figures import Stroke

NEAR_TURN_S = 0.09
"""A note that begins so shortly before or after the bow turns begins with it: the ear hears the new pitch, the eye the turn."""


@dataclass(frozen=True)
class HeardNote:
    """One pitch in one bow. ``stroke``: number of the bow it sounds in, 0 = none was seen."""

    start_s: float
    end_s: float
    midi: int
    stroke: int

    @property
    def seconds(self) -> float:
        """How long it sounds."""
        return self.end_s - self.start_s


def notes_by_bow(track: PitchTrack, strokes: Sequence[Stroke], *, offset_cents: float = 0.0) -> list[HeardNote]:
    """Notes in order, cut where the bow turns. A cut very near a note's own edge moves to it."""
    turns = sorted({t for s in strokes for t in (s.start_s, s.end_s)})
    out: list[HeardNote] = []
    for note in find_notes(track, offset_cents=offset_cents):
        cuts = [t for t in turns if note.start_s + NEAR_TURN_S < t < note.end_s - NEAR_TURN_S]
        edges = [note.start_s, *_apart(cuts), note.end_s]
        for start, end in pairwise(edges):
            if end - start >= SHORTEST_S:
                out.append(HeardNote(start, end, note.midi, _bow_at(strokes, start, end)))
    return _joined(out)


def _apart(cuts: list[float]) -> list[float]:
    """An end of one bow and the start of the next are one turn."""
    out: list[float] = []
    for cut in cuts:
        if out and cut - out[-1] < NEAR_TURN_S:
            out[-1] = 0.5 * (out[-1] + cut)
        else:
            out.append(cut)
    return out


def _bow_at(strokes: Sequence[Stroke], start: float, end: float) -> int:
    """The bow in which most of a stretch lies."""
    lies = [(min(end, s.end_s) - max(start, s.start_s), s.number) for s in strokes]
    best = max(lies, default=(0.0, 0))
    return best[1] if best[0] > 0.3 * (end - start) else 0


def _joined(notes: list[HeardNote]) -> list[HeardNote]:
    """One pitch in one bow that a slip has cut in two."""
    out: list[HeardNote] = []
    for note in notes:
        last = out[-1] if out else None
        if last is not None and last.midi == note.midi and last.stroke == note.stroke and note.start_s - last.end_s < 0.08 and note.stroke:
            out[-1] = replace(last, end_s=note.end_s)
        else:
            out.append(note)
    return out
