"""What the tone tells of turns that a bow seems to make: it dips where a bow turns, and rises between two turns."""

from __future__ import annotations

from functools import partial

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array
from dolcezza.core.sound.level import STEP_S, Loudness
from dolcezza.core.strokes.sounded import ECHO, REACH_S
from dolcezza.core.strokes.turns import ByEar

BEFORE_DIP_S, AFTER_DOUBT_S, RISES = 0.05, 0.2, 1.25
"""A dip comes no sooner before what the picture tells than the first, and where the bow's place is in doubt no later than the second;
between two dips the tone is so many times as loud as in either."""
USUAL_TONE = 75
"""Percentile of a take's levels at which its usual tone is."""
MURMUR = 0.5
"""What sounds less than this share of the tone on the other side of a turn is talk, or what is left of the tone."""
BEATS_S = 0.045
"""Two tones beat no slower than this where it matters; a turn's dip lasts longer."""


def by_ear(loudness: Loudness | None) -> ByEar:
    """What a take's sound says of turns."""
    return ByEar(partial(rises_between, loudness), partial(goes_on, loudness), partial(dips_at, loudness))


def rises_between(loudness: Loudness | None, first_s: float, second_s: float) -> bool:
    """Whether a bow may have turned at two moments by its tone: it rises between them over what it is at both; yes without sound."""
    if loudness is None or not len(loudness.t_s):
        return True
    t, level = _without_beats(loudness, first_s - BEFORE_DIP_S, second_s + AFTER_DOUBT_S)
    inside = np.flatnonzero((t >= first_s) & (t <= second_s))
    if not len(inside):
        return True
    top = inside[level[inside].argmax()]
    return bool(level[top] >= RISES * max(level[: top + 1].min(), level[top:].min()))


def goes_on(loudness: Loudness | None, first_s: float, second_s: float) -> bool:
    """Whether a tone sounds from one moment to another as if the bow turned at neither; no without sound."""
    if loudness is None or not len(loudness.t_s):
        return False
    _, level = loudness.between(first_s, second_s)
    sounds = len(level) > 0 and float(np.median(level)) >= ECHO * float(np.percentile(loudness.level, USUAL_TONE))
    return sounds and not rises_between(loudness, first_s, second_s)


def dips_at(loudness: Loudness | None, turn_s: float) -> bool:
    """Whether a bow may have turned at a moment by its tone: near it the tone is lower than both before and after, where it is no murmur;
    yes without sound."""
    if loudness is None or not len(loudness.t_s):
        return True
    t, level = _without_beats(loudness, turn_s - AFTER_DOUBT_S, turn_s + AFTER_DOUBT_S)
    near = np.flatnonzero((t >= turn_s - BEFORE_DIP_S) & (t <= turn_s + REACH_S))
    if not len(near):
        return True
    low = near[level[near].argmin()]
    less, more = sorted([float(level[: low + 1].max()), float(level[low:].max())])
    return less >= max(RISES * float(level[low]), MURMUR * more)


def _without_beats(loudness: Loudness, start_s: float, end_s: float) -> tuple[Array, Array]:
    """The part from ``start_s`` to ``end_s`` without what two tones beat: slower than a roughness, faster than a bow turns."""
    t, level = loudness.between(start_s, end_s)
    return t, scipy.ndimage.uniform_filter1d(level, max(1, round(BEATS_S / STEP_S)), mode="nearest") if len(level) else level
