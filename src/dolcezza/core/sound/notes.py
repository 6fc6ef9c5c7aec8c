"""The notes of a take: stretches of one pitch, with the string they can be on, open or stopped."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.sound.pitch import PitchTrack
from dolcezza.core.sound.strings import A4_HZ, IN_TUNE, open_pitches

SPLIT_SEMITONES = 0.6
"""A pitch that leaves the note's own by this much begins another note."""
SHORTEST_S, LONGEST_GAP_S = 0.06, 0.05


@dataclass(frozen=True)
class Note:
    """One note. ``midi`` the nearest number of the equal-tempered scale (69 = A4), ``cents`` from it at the take's own tuning."""

    start_s: float
    end_s: float
    hz: float
    midi: int
    cents: float

    @property
    def seconds(self) -> float:
        """How long it sounds."""
        return self.end_s - self.start_s


def find_notes(track: PitchTrack, *, offset_cents: float = 0.0) -> list[Note]:
    """Notes in order; what is shorter than 60 ms is a slip, not a note."""
    apart = float(np.median(np.diff(track.t_s))) if len(track.t_s) > 1 else 0.0
    groups: list[list[int]] = []
    pitch = 12 * np.log2(np.where(np.isfinite(track.hz), track.hz, np.nan) / A4_HZ) - offset_cents / 100.0
    for k in np.flatnonzero(np.isfinite(pitch)):
        if groups:
            last = groups[-1]
            near = abs(pitch[k] - float(np.median(pitch[last[-8:]]))) < SPLIT_SEMITONES
            if near and track.t_s[k] - track.t_s[last[-1]] <= LONGEST_GAP_S:
                last.append(int(k))
                continue
        groups.append([int(k)])
    out = []
    for group in groups:
        start, end = float(track.t_s[group[0]] - 0.5 * apart), float(track.t_s[group[-1]] + 0.5 * apart)
        if end - start >= SHORTEST_S:
            own = float(np.median(pitch[group]))
            out.append(Note(start, end, float(np.median(track.hz[group])), 69 + round(own), 100.0 * (own - round(own))))
    return out


def semitones_from_open(hz: Array, string: Array, family: str, *, offset_cents: float = 0.0) -> Array:
    """Semitones (n,) of ``hz`` (n,) from the open ``string`` (n,) 0 = bass, -1 = not known; NaN where either is not known."""
    pitches = open_pitches(family, A4_HZ * 2 ** (offset_cents / 1200))
    known = (string >= 0) & np.isfinite(hz)
    return np.where(known, 12 * np.log2(np.where(known, hz, 1.0) / pitches[np.clip(string, 0, 3)]), np.nan)


def semitones_up(hz: Array, string: Array, family: str, *, offset_cents: float = 0.0) -> Array:
    """Semitones (n,) of the left hand above the open string; NaN also where the pitch cannot be played there. Open strings are 0."""
    up = semitones_from_open(hz, string, family, offset_cents=offset_cents)
    up = np.where(np.abs(up) < IN_TUNE, 0.0, up)
    return np.where(up >= 0, up, np.nan)


def moved_target(target_mm: float, semitones: float) -> float:
    """The contact point's target with the left hand so many semitones up: it shrinks with the string, by 2^(-n/12)."""
    return float(target_mm * 2.0 ** (-semitones / 12.0))
