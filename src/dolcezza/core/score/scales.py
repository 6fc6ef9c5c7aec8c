"""Scales in two octaves with the bow patterns that are practised on them, as scores (common practice, no source)."""

from __future__ import annotations

from dataclasses import dataclass

from dolcezza.core.score.score import OPEN_MIDI, NotationError, Score, ScoreNote

MAJOR, MELODIC_UP, NATURAL_DOWN = (0, 2, 4, 5, 7, 9, 11), (0, 2, 3, 5, 7, 9, 11), (0, 2, 3, 5, 7, 8, 10)
KEYS: dict[str, int] = {
    "C": 0, "G": 1, "D": 2, "A": 3, "E": 4, "B": 5, "F": -1, "B flat": -2, "E flat": -3, "A flat": -4,
}  # fmt: skip
"""Major keys and their sharps (+) or flats (-)."""
_TONIC = {"C": 0, "G": 7, "D": 2, "A": 9, "E": 4, "B": 11, "F": 5, "B flat": 10, "E flat": 3, "A flat": 8}
OCTAVES = 2


@dataclass(frozen=True)
class Pattern:
    """How a scale is bowed: each note ``times``, ``beats`` (quarter notes) each, bows by ``slurs`` (numbers of notes in turn)."""

    name: str
    beats: float
    slurs: tuple[int, ...] = (1,)
    times: int = 1


PATTERNS = (
    Pattern("Whole bows", 4.0),
    Pattern("Half bows", 2.0),
    Pattern("Each note three times", 1.0, times=3),
    Pattern("Two notes to a bow", 2.0, (2,)),
    Pattern("Three notes to a bow", 1.0, (3,)),
    Pattern("Four notes to a bow", 1.0, (4,)),
    Pattern("Two tied, two separate", 1.0, (2, 1, 1)),
    Pattern("Eight notes to a bow", 0.5, (8,)),
)
"""Four to a bow and eight to a bow have the same bow: twice as many notes, the bow unchanged."""


def keys_for(family: str) -> list[str]:
    """Keys whose two octaves fit from the lowest string on without leaving what is played in the lower positions."""
    low = OPEN_MIDI[family][0]
    return [key for key in KEYS if _lowest(key, low) <= low + 11]


def _lowest(key: str, low: int) -> int:
    tonic = _TONIC[key] + 12 * (low // 12)
    return tonic if tonic >= low else tonic + 12


def scale(family: str, key: str, pattern: Pattern, *, minor: bool = False, tempo: float = 60.0) -> tuple[Score, int]:
    """A scale up and down, and the fifths of its key signature; minor: melodic, of that tonic. Raises NotationError for an unknown key."""
    if key not in KEYS:
        raise NotationError(f"There is no scale on '{key}'.", f"Keys: {', '.join(KEYS)}.")
    first = _lowest(key, OPEN_MIDI[family][0])
    up = [first + 12 * octave + step for octave in range(OCTAVES) for step in (MELODIC_UP if minor else MAJOR)]
    top = first + 12 * OCTAVES
    down = [first + 12 * octave + step for octave in range(OCTAVES) for step in (NATURAL_DOWN if minor else MAJOR)]
    pitches = [*up, top, *reversed(down)]
    played = [p for p in pitches for _ in range(pattern.times)]
    notes: list[ScoreNote] = []
    at, k, slur, turn = 0.0, 0, 0, 0
    while k < len(played):
        count = pattern.slurs[turn % len(pattern.slurs)]
        turn += 1
        slur += 1
        for _ in range(min(count, len(played) - k)):
            own = slur if count > 1 else 0
            notes.append(ScoreNote((), (played[k],), at, pattern.beats, 1 + int(at // 4), slur=own))
            at += pattern.beats
            k += 1
    fifths = KEYS[key] - (3 if minor else 0)
    title = f"{key} {'minor' if minor else 'major'}, {pattern.name[0].lower()}{pattern.name[1:]}"
    return Score(title, tuple(notes), tempo), fifths
