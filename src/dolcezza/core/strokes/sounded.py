"""Stroke boundaries made finer by the sound: the tone dips where the bow turns and begins where it sets off.

The picture decides that there is a boundary; the sound only moves it, by a little, and only where it speaks clearly.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from dolcezza.core.sound.level import Loudness
from dolcezza.core.strokes.segment import SHORT_REST_S, Span

Array = np.ndarray

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


def refine(spans: list[Span], loudness: Loudness | None) -> list[Span]:
    """The same strokes with boundaries at the dips and onsets of the sound, where it has clear ones."""
    if loudness is None or not len(loudness.t_s) or loudness.rings:
        return spans
    out = list(spans)
    tone = [_tone(s, loudness) for s in spans]
    for k, span in enumerate(spans):
        joined_before = k > 0 and span.start_s - spans[k - 1].end_s < SHORT_REST_S
        joined_after = k + 1 < len(spans) and spans[k + 1].start_s - span.end_s < SHORT_REST_S
        if joined_after:
            turn = 0.5 * (span.end_s + spans[k + 1].start_s)
            dip = _dip(loudness, turn, min(tone[k], tone[k + 1]))
            if dip is not None:
                out[k] = replace(out[k], end_s=dip)
                out[k + 1] = replace(out[k + 1], start_s=dip)
        elif (end := _edge(loudness, span.end_s, tone[k], first=False)) is not None:
            out[k] = replace(out[k], end_s=end)
        if not joined_before and (start := _edge(loudness, span.start_s, tone[k], first=True)) is not None:
            out[k] = replace(out[k], start_s=start)
    return [new if new.end_s > new.start_s + 0.02 else old for new, old in zip(out, spans, strict=True)]


def sounding(spans: list[Span], loudness: Loudness | None) -> list[Span]:
    """The strokes without those in which nothing sounds although the others do: a bow set down, or shifting at rest."""
    if loudness is None or not len(loudness.t_s) or len(spans) < 2:
        return spans
    # an echo is loud where it begins and dies away: what a stroke sounds is told by its middle
    share, least = (50, ECHO) if loudness.rings else (95, QUIET)
    loudest = [float(np.percentile(level, share)) if len(level := loudness.between(s.start_s, s.end_s)[1]) else 0.0 for s in spans]
    usual = float(np.percentile(loudest, 75))
    return [s for s, level in zip(spans, loudest, strict=True) if level >= least * usual]


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
