"""The four open strings played one after the other: each named, its cents from the standard, and what to turn."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.sound.pitch import PitchTrack
from dolcezza.core.sound.strings import A4_HZ, open_pitches

FAR_CENTS = 340.0
"""Half a fifth: what is nearer to a string than this is that string, however far it is out of tune."""
SHORTEST_S, STEADY_CENTS = 0.35, 35.0
"""A string is held for so long without changing by more than so much."""
IN_TUNE_CENTS = 5.0
"""Nearer than this nobody hears a string out of tune on its own (common practice, no source)."""
PEG_CENTS = 60.0
"""Farther off than this the fine tuner does not reach: the peg is turned first (common practice, no source)."""


class Turn(StrEnum):
    """What is to be turned."""

    NOTHING = "in tune"
    TIGHTEN, LOOSEN = "fine tuner tighter", "fine tuner looser"
    PEG_UP, PEG_DOWN = "peg tighter", "peg looser"


@dataclass(frozen=True)
class OpenString:
    """One string: ``place`` 0 = bass, its pitch ``hz``, ``cents`` from the standard (+ = high) with ``sd``, and when it sounds (s)."""

    place: int
    hz: float
    cents: float
    sd: float
    at_s: float

    @property
    def turn(self) -> Turn:
        """What to turn."""
        if abs(self.cents) <= IN_TUNE_CENTS:
            return Turn.NOTHING
        if abs(self.cents) > PEG_CENTS:
            return Turn.PEG_UP if self.cents < 0 else Turn.PEG_DOWN
        return Turn.TIGHTEN if self.cents < 0 else Turn.LOOSEN


def strings_heard(track: PitchTrack, family: str, a4_hz: float = A4_HZ) -> list[OpenString]:
    """Strings that were held, bass first; of each the longest time it was held. Stopped notes far from a string are left out."""
    pitches = open_pitches(family, a4_hz)
    best: dict[int, tuple[float, OpenString]] = {}
    for start, end in _held(track):
        own = track.hz[start:end]
        hz = float(np.median(own))
        cents = 1200 * np.log2(hz / pitches)
        place = int(np.abs(cents).argmin())
        length = float(track.t_s[end - 1] - track.t_s[start])
        if abs(cents[place]) > FAR_CENTS or length < SHORTEST_S or (place in best and best[place][0] >= length):
            continue
        spread = float(np.std(1200 * np.log2(own / hz)) / np.sqrt(max(1, len(own) / 4)))
        best[place] = (length, OpenString(place, hz, float(cents[place]), max(1.0, spread), float(track.t_s[start])))
    return [best[k][1] for k in sorted(best)]


def _held(track: PitchTrack) -> list[tuple[int, int]]:
    """Runs of frames whose pitch stays where it began."""
    cents: Array = 1200 * np.log2(np.where(np.isfinite(track.hz), track.hz, np.nan))
    runs, start = [], None
    for k in range(len(cents) + 1):
        goes_on = start is not None and k < len(cents) and abs(cents[k] - float(np.median(cents[start:k]))) < STEADY_CENTS
        if start is not None and not goes_on:
            runs.append((start, k))
            start = None
        if start is None and k < len(cents) and np.isfinite(cents[k]):
            start = k
    return runs
