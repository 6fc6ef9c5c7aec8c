"""Which strings a pitch can come from: the open notes, and how likely a stopped one is."""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.sound.pitch import PitchTrack

A4_HZ = 440.0
"""Concert pitch (ISO 16)."""
OPEN_STRINGS: dict[str, tuple[int, ...]] = {"violin": (-14, -7, 0, 7), "viola": (-21, -14, -7, 0), "cello": (-33, -26, -19, -12)}
"""Open strings in fifths, as semitones from A4, bass side first. A pure fifth differs by 2 cents: no matter here."""
IN_TUNE = 0.7
"""Semitones within which a note is taken for an open string: instruments and concert pitches differ."""
IMPOSSIBLE, STOPPED, PER_SEMITONE, MOST = 10.0, 2.0, 0.15, 7.0
"""Costs: a note below the open string; a stopped one where it could be open; each semitone up the string; at most."""
ONLY_OPEN, STOPS_SHARE = 2.5, 0.05
"""What a stopped note at an open string's pitch costs more where no other note is stopped: a hand that stops one stops others. Fewer of all
notes than this share are slips of hearing."""


def open_pitches(family: str, a4_hz: float = A4_HZ) -> Array:
    """Frequencies of the open strings (4,), Hz, bass side first, in equal temperament."""
    return a4_hz * 2.0 ** (np.array(OPEN_STRINGS[family]) / 12.0)


def string_costs(track: PitchTrack, t_s: Array, family: str, *, a4_hz: float = A4_HZ) -> Array:
    """What the sound has against each string in each frame, (n, 4) for times ``t_s`` (n,); 0 where it does not know.

    A note lower than an open string cannot be played on it; a note that is some string's open one is probably that.
    """
    out = np.zeros((len(t_s), 4))
    if not len(track.t_s):
        return out
    nearest = np.clip(np.searchsorted(track.t_s, t_s), 1, len(track.t_s) - 1)
    nearest -= (t_s - track.t_s[nearest - 1]) < (track.t_s[nearest] - t_s)
    hz = track.hz[nearest]
    known = np.isfinite(hz) & (np.abs(track.t_s[nearest] - t_s) < 0.05)
    up = 12 * np.log2(np.where(known, hz, 1.0)[:, None] / open_pitches(family, a4_hz)[None, :])
    is_open = np.abs(up) < IN_TUNE
    dear = 0.0 if _stops(track, family, a4_hz) else ONLY_OPEN
    stopped = np.minimum(PER_SEMITONE * np.maximum(up, 0) + (STOPPED + dear) * is_open.any(axis=1, keepdims=True), MOST + dear)
    cost = np.where(is_open, 0.0, np.where(up < 0, IMPOSSIBLE, stopped))
    out[known] = cost[known]
    return out


def _stops(track: PitchTrack, family: str, a4_hz: float) -> bool:
    """Whether notes of a take are stopped that no open string has."""
    hz = track.hz[np.isfinite(track.hz)]
    if not len(hz):
        return False
    up = 12 * np.log2(hz[:, None] / open_pitches(family, a4_hz)[None, :])
    other = (np.abs(up) >= IN_TUNE).all(axis=1) & (up[:, 0] > 0)
    return bool(other.mean() > STOPS_SHARE)
