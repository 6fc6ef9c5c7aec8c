"""A printed part for one bow: notes in the order they are played, their bows, and which string each lies on."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.instrument.catalog import CATALOG
from dolcezza.core.score.strings_written import string_name
from dolcezza.core.sound.strings import OPEN_STRINGS

DYNAMICS = ("pp", "p", "mp", "mf", "f", "ff")
A4_MIDI = 69
OPEN_MIDI = {family: tuple(A4_MIDI + k for k in semitones) for family, semitones in OPEN_STRINGS.items()}
"""Open strings, bass side first."""
MOST_NOTES = 4000


class NotationError(DolcezzaError):
    """Notation that cannot be read or played."""


@dataclass(frozen=True)
class ScoreNote:
    """One note as it sounds. ``ids``: of its printed heads (several where it is tied), ``midi``: pitches, the lowest first, none = a rest;
    ``start`` and ``beats`` in quarter notes, ``measure`` as printed, 1 and up. ``sign``: "down", "up" or "" as printed; ``slur``: number of
    the slur it lies under, 0 = none; ``first_of_slur``; ``marks`` such as "stacc", "ten"; ``string`` as printed: its letter or Roman
    numeral, I = the highest; ``grace``: takes no time of its own."""

    ids: tuple[str, ...]
    midi: tuple[int, ...]
    start: float
    beats: float
    measure: int
    sign: str = ""
    slur: int = 0
    dynamic: str = "mf"
    marks: tuple[str, ...] = ()
    finger: str = ""
    string: str = ""
    grace: bool = False

    @property
    def rest(self) -> bool:
        """Nothing sounds."""
        return not self.midi

    @property
    def end(self) -> float:
        """When it ends, quarter notes from the start."""
        return self.start + self.beats


@dataclass(frozen=True)
class PrintedBow:
    """Notes in one bow: ``notes`` places in the score, ``down``, ``signed``: its direction is printed; ``retake``: the same direction as
    the bow before, by a sign; ``rest`` quarter notes of silence before it."""

    notes: tuple[int, ...]
    down: bool
    signed: bool = False
    retake: bool = False
    rest: float = 0.0


@dataclass(frozen=True)
class Score:
    """``notes`` in playing order, repeats written out; ``tempo`` quarter notes a minute; ``pickup``: it begins before the first whole bar.
    ``skips``: (from, to) places in ``notes`` where a repeat may be left out. ``skipped``: what the file has and is not read."""

    title: str
    notes: tuple[ScoreNote, ...]
    tempo: float = 60.0
    meter: tuple[int, int] = (4, 4)
    pickup: bool = False
    skips: tuple[tuple[int, int], ...] = ()
    skipped: tuple[str, ...] = ()

    @property
    def sounding(self) -> list[int]:
        """Places of the notes that sound and take time."""
        return [k for k, n in enumerate(self.notes) if not n.rest and not n.grace]

    @property
    def bows(self) -> list[PrintedBow]:
        """The notes in their bows: in turns from the first on (an up-bow before the first whole bar), slurs in one, signs as printed."""
        out: list[PrintedBow] = []
        rest, slur = 0.0, 0
        for k, note in enumerate(self.notes):
            if note.rest:
                rest, slur = rest + note.beats, 0
                continue
            if note.slur and note.slur == slur and out:
                out[-1] = replace(out[-1], notes=(*out[-1].notes, k))
                continue
            if note.grace and not note.slur:
                # a grace note goes with the bow of the note it leans on
                slur = -1 - k
                out.append(self._next(out, note, (k,), rest))
                rest = 0.0
                continue
            if slur < 0 and out:
                out[-1] = replace(out[-1], notes=(*out[-1].notes, k))
            else:
                out.append(self._next(out, note, (k,), rest))
                rest = 0.0
            slur = note.slur
        return out

    def _next(self, before: list[PrintedBow], note: ScoreNote, notes: tuple[int, ...], rest: float) -> PrintedBow:
        usual = (not before[-1].down) if before else not self.pickup
        down = {"down": True, "up": False}.get(note.sign, usual)
        retake = bool(before) and bool(note.sign) and down == before[-1].down
        return PrintedBow(notes, down, bool(note.sign), retake, rest)


def string_names(family: str) -> Sequence[str]:
    """A family's strings, bass side first."""
    return next(spec.strings for spec in CATALOG.values() if spec.family == family)


def on_strings(score: Score, family: str) -> list[str]:
    """The string of every note (n,), "" for a rest: as printed where that string has the note, else the highest that has it, which keeps
    the hand low. Raises NotationError for notes below the lowest string, and instruments without strings."""
    opens = OPEN_MIDI[family]
    names = string_names(family)
    out = []
    for note in score.notes:
        if note.rest:
            out.append("")
        else:
            low = min(note.midi)
            fit = [name for name, own in zip(names, opens, strict=True) if own <= low]
            if (written := string_name(note.string, names)) in fit:
                out.append(written)
                continue
            if not fit:
                raise NotationError(
                    f"'{score.title}' goes below the {family}'s lowest string in bar {note.measure}.", "Choose another staff or instrument."
                )
            out.append(fit[-1])
    return out


def checked(score: Score) -> Score:
    """The score, if there is something to play. Raises NotationError."""
    if not any(not n.rest for n in score.notes):
        raise NotationError(f"'{score.title}' has no notes.", "Choose another file or staff.")
    if len(score.notes) > MOST_NOTES:
        raise NotationError(f"'{score.title}' has {len(score.notes)} notes.", f"Up to {MOST_NOTES} are read: choose a shorter passage.")
    return score


def with_tempo(score: Score, tempo: float) -> Score:
    """The same at another tempo, quarter notes a minute."""
    return replace(score, tempo=float(min(max(tempo, 10.0), 400.0)))


def part(score: Score, first_bar: int, last_bar: int) -> Score:
    """Some bars of it, as printed. Raises NotationError."""
    kept = [k for k, n in enumerate(score.notes) if first_bar <= n.measure <= last_bar]
    if not kept:
        raise NotationError(f"There are no notes in bars {first_bar} to {last_bar}.", "Choose other bars.")
    start = score.notes[kept[0]].start
    notes = tuple(replace(score.notes[k], start=score.notes[k].start - start) for k in kept)
    return checked(replace(score, notes=notes, skips=(), pickup=score.pickup and kept[0] == 0))
