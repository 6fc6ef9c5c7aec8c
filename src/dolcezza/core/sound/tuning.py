"""How far an instrument is tuned from the standard, in cents, from its open strings as they sound in the take.

A first finger set low sounds a semitone over its open string, as an open string would that is a semitone too high. The strings of one
instrument are tuned together, and most instruments near the standard: what most of the held notes share, and is near, is the tuning.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.sound.pitch import PitchTrack
from dolcezza.core.sound.strings import open_pitches

NEAR_CENTS = 150.0
"""A note this near to an open string may be that string out of tune."""
STEADY_CENTS, STEADY_FRAMES = 30.0, 6
"""A pitch that stays within this over so many frames is a held note."""
FEWEST_FRAMES = 20
TOGETHER_CENTS = 20.0
"""Notes so near each other (in cents from their open strings) are of one tuning."""
APART_CENTS = 45.0
"""A string is so far from its neighbours' tuning at most; farther it is a stopped note."""
USUAL_CENTS = 40.0
"""How far from the standard instruments are tuned (one sd), from memory."""
ASK_CENTS = 60.0
"""Beyond this an open string and its neighbour's semitone look alike: the teacher is asked."""


@dataclass(frozen=True)
class Tuning:
    """``offset_cents`` of all strings together with ``sd_cents``, + = higher than the standard; ``strings``: place of each string that
    was heard open (0 = bass) to its own cents."""

    offset_cents: float
    sd_cents: float
    strings: dict[int, float]

    @property
    def ask(self) -> bool:
        """Whether it is too far off to be believed without asking."""
        return abs(self.offset_cents) > ASK_CENTS


def believed_cents(tuning: Tuning | None) -> float:
    """The tuning that is believed unasked, cents from the standard: 0 where it is not known, or too far off."""
    return tuning.offset_cents if tuning is not None and not tuning.ask else 0.0


def find_tuning(track: PitchTrack, family: str) -> Tuning | None:
    """The tuning of a ``family``'s open strings; None where no open string is held long enough."""
    known = np.isfinite(track.hz)
    if known.sum() < FEWEST_FRAMES:
        return None
    cents = 1200 * np.log2(np.where(known, track.hz, 1.0)[:, None] / open_pitches(family)[None, :])
    nearest = np.abs(cents).argmin(axis=1)
    off = cents[np.arange(len(cents)), nearest]
    held = known & _held(1200 * np.log2(np.where(known, track.hz, np.nan))) & (np.abs(off) < NEAR_CENTS)
    if held.sum() < FEWEST_FRAMES:
        return None
    tried = np.arange(-NEAR_CENTS, NEAR_CENTS + 1.0)
    shared = np.array([(np.abs(off[held] - c) < TOGETHER_CENTS).sum() for c in tried])
    at = float(tried[int((shared * np.exp(-0.5 * (tried / USUAL_CENTS) ** 2)).argmax())])
    strings = {}
    for k in range(4):
        own = off[held & (nearest == k) & (np.abs(off - at) < APART_CENTS)]
        if len(own) >= FEWEST_FRAMES:
            strings[k] = float(np.median(own))
    if not strings:
        return None
    values = np.array(list(strings.values()))
    offset = float(np.median(values))
    spread = float(np.median(np.abs(values - offset))) * 1.4826 if len(values) > 2 else 5.0
    return Tuning(offset, max(2.0, spread / len(values) ** 0.5), strings)


def _held(cents: Array) -> Array:
    """Frames (m,) bool whose pitch (cents, NaN = none) stays within a few cents all around them."""
    view = np.lib.stride_tricks.sliding_window_view(np.pad(cents, STEADY_FRAMES // 2, constant_values=np.nan), STEADY_FRAMES + 1)
    full = np.isfinite(view).all(axis=1)
    spread = np.where(full, np.nan_to_num(view).max(axis=1) - np.nan_to_num(view).min(axis=1), np.inf)
    return spread < STEADY_CENTS
