"""When a bowed string sounds: a steady pitch that these strings have. Talk glides and lies lower, bumps and steps have no pitch."""

from __future__ import annotations

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array
from dolcezza.core.sound.pitch import PitchTrack

STEADY_S = 0.2
"""A pitch is called steady over so long a time, about a vibrato's period."""
STEADY_SEMITONES = 0.6
"""Vibrato swings by less than this to either side of its middle; talk does not hold still so long."""
FLAT_SEMITONES = 0.7
"""How far below the lowest string's pitch a badly tuned one may lie."""
LEAST_LEVEL = 0.1
"""Share of the loud tones' level below which it is an echo, or something in the next room."""
AROUND_S = 0.3
"""A frame is told by so much of the sound around it."""
SOUNDS = 0.4
"""Share of that time that must be a string's tone."""
CLOSE_S = 0.12
"""A bow moves so long before its tone is clear, and after; sound and picture of a phone are so far apart."""
LEAST_S = 0.6
"""A take with less tone than this tells nothing by its silence."""


def string_sounds(track: PitchTrack, t_s: Array, *, lowest_hz: float) -> Array | None:
    """Frames (n,) bool at ``t_s`` (n,) in which a bowed string sounds; None where the sound cannot tell.

    ``lowest_hz``: pitch of the lowest open string.
    """
    if len(track.t_s) < 10:
        return None
    apart = float(np.median(np.diff(track.t_s)))
    known = np.isfinite(track.hz)
    semitones = 12 * np.log2(np.where(known, track.hz, 1.0) / lowest_hz)
    filled = np.interp(track.t_s, track.t_s[known], semitones[known]) if known.any() else semitones
    size = max(3, round(STEADY_S / apart))
    swing = scipy.ndimage.percentile_filter(filled, 85, size) - scipy.ndimage.percentile_filter(filled, 15, size)
    tone = known & (semitones > -FLAT_SEMITONES) & (swing < STEADY_SEMITONES)
    if tone.sum() * apart < LEAST_S:
        return None
    tone &= track.level > LEAST_LEVEL * float(np.percentile(track.level[tone], 80))
    share = scipy.ndimage.uniform_filter1d(tone.astype(float), max(1, round(AROUND_S / apart)))
    share = scipy.ndimage.maximum_filter1d(share, max(1, round(2 * CLOSE_S / apart)))
    sounds: Array = np.interp(t_s, track.t_s, share, left=0.0, right=0.0) >= SOUNDS
    return sounds
