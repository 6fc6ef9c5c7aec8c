"""Stroke boundaries made finer by the sound: the tone dips where the bow turns and begins where it sets off.

The picture decides that there is a boundary; the sound only moves it, by a little, and only where it speaks clearly.
"""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import numpy as np

from dolcezza.core.sound.level import STEP_S, Loudness
from dolcezza.core.strokes.segment import SHORT_REST_S, Span

REACH_S = 0.13
"""How far the sound may move a boundary."""
FAR_S = 0.25
"""How far into the stroke its first tone may come when all before it is silence: the bow crept before it sounded."""
DIP = 0.45
"""A dip must fall to this share of the tone on both sides."""
ECHO = 0.25
"""In a room that rings, less than this share of the usual tone is the echo of the stroke before."""
QUIET = 0.06
"""Share of a stroke's level below which it has not begun."""
RINGS_ON_S = 0.3
"""A string that was let go rings on; for so long a bow that leaves it may be seen to move along it."""
RINGS_ON_DB_S = 30.0
"""A string or a room that rings falls at least so fast."""
SHARP_S, SHARP = 0.06, 0.6
"""A start is clear in a room that rings if the tone reaches this share of itself so soon."""


def refine(spans: list[Span], loudness: Loudness | None) -> list[Span]:
    """The same strokes with boundaries at the dips and onsets of the sound, where it has clear ones.

    In a room that rings dips are filled up and ends die away: there only a tone out of quiet tells, that a stroke has begun.
    """
    if loudness is None or not len(loudness.t_s):
        return spans
    out = list(spans)
    tone = [_tone(s, loudness) for s in spans]
    for k, span in enumerate(spans):
        joined_before = k > 0 and span.start_s - spans[k - 1].end_s < SHORT_REST_S
        joined_after = k + 1 < len(spans) and spans[k + 1].start_s - span.end_s < SHORT_REST_S
        if joined_after and not loudness.rings:
            turn = 0.5 * (span.end_s + spans[k + 1].start_s)
            dip = _dip(loudness, turn, min(tone[k], tone[k + 1]))
            if dip is not None:
                out[k] = replace(out[k], end_s=dip)
                out[k + 1] = replace(out[k + 1], start_s=dip)
        elif not joined_after and not loudness.rings and (end := _edge(loudness, span.end_s, tone[k], first=False)) is not None:
            out[k] = replace(out[k], end_s=end)
        if not joined_before:
            start = _begun(loudness, span.start_s, tone[k]) if loudness.rings else _edge(loudness, span.start_s, tone[k], first=True)
            out[k] = out[k] if start is None else replace(out[k], start_s=start)
    return [new if new.end_s > new.start_s + 0.02 else old for new, old in zip(out, spans, strict=True)]


def sounding(spans: list[Span], loudness: Loudness | None) -> list[Span]:
    """The strokes without those in which nothing sounds although the others do (a bow set down, or shifting at rest), or in which what
    sounded before only dies away (a bow that leaves the string)."""
    if loudness is None or not len(loudness.t_s) or len(spans) < 2:
        return spans
    # an echo is loud where it begins and dies away: what a stroke sounds is told by its middle
    share, least = (50, ECHO) if loudness.rings else (95, QUIET)
    loudest = [float(np.percentile(level, share)) if len(level := loudness.between(s.start_s, s.end_s)[1]) else 0.0 for s in spans]
    usual = float(np.percentile(loudest, 75))
    return [s for s, level in zip(spans, loudest, strict=True) if level >= least * usual and not _rings_on(s, loudness)]


def _rings_on(span: Span, loudness: Loudness) -> bool:
    """Whether the level only falls in a short span and already fell before it: a stroke would have raised it from its turn."""
    seconds = span.end_s - span.start_s
    if seconds > RINGS_ON_S:
        return False
    edges = [span.start_s - REACH_S, *np.linspace(span.start_s, span.end_s, 4)]
    parts = [loudness.between(a, b)[1] for a, b in pairwise(edges)]
    if any(len(p) < 3 for p in parts):
        return False
    means = [float(p.mean()) for p in parts]
    fall_db = 20 * np.log10(max(means[1], 1e-9) / max(means[-1], 1e-9))
    return all(a > b for a, b in pairwise(means)) and fall_db > RINGS_ON_DB_S * seconds * 2 / 3


def _tone(span: Span, loudness: Loudness) -> float:
    _, level = loudness.between(span.start_s, span.end_s)
    return float(np.median(level)) if len(level) else 0.0


def _dip(loudness: Loudness, near_s: float, tone: float) -> float | None:
    """Middle of the quiet moment around ``near_s``, or None where the sound goes on."""
    t, level = loudness.between(near_s - REACH_S, near_s + REACH_S)
    if len(t) < 5 or tone <= 0 or level.min() > DIP * tone:
        return None
    bottom = t[level <= level.min() + 0.04 * tone]
    if bottom[-1] - bottom[0] > SHORT_REST_S:
        return None
    return float(0.5 * (bottom[0] + bottom[-1]))


def _edge(loudness: Loudness, near_s: float, tone: float, *, first: bool) -> float | None:
    """Where the tone comes out of silence (``first``) or goes back into it, near ``near_s``."""
    inwards = FAR_S if first else -FAR_S
    t, level = loudness.between(min(near_s - REACH_S, near_s + inwards), max(near_s + REACH_S, near_s + inwards))
    if len(t) < 5 or tone <= 0:
        return None
    order = slice(None) if first else slice(None, None, -1)
    quiet = level[order] < QUIET * tone
    if quiet.all() or not quiet[:3].all():
        return None
    return float(t[order][np.argmax(~quiet)])


def _begun(loudness: Loudness, near_s: float, tone: float) -> float | None:
    """In a room that rings: since when there is tone at the latest, where it rises sharply out of silence or an echo."""
    t, level = loudness.between(near_s - FAR_S, near_s + REACH_S)
    quiet = level < ECHO * tone
    if len(t) < 5 or quiet.all() or not quiet[:3].all() or not quiet.any():
        return None
    at = int(np.flatnonzero(quiet)[-1]) + 1
    if at >= len(t) or level[at : at + round(SHARP_S / STEP_S)].max() < SHARP * tone:
        return None
    return min(float(t[at]), near_s)
