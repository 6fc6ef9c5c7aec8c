"""The sound of a take summed up: tone of every stroke, the tone field, noise between slurred notes, tuning, sound against picture."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np

from dolcezza.core.base.message import Message
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.sound.notes import Note
from dolcezza.core.sound.tuning import Tuning
from dolcezza.core.strokes.figures import Stroke
from dolcezza.core.strokes.offset import SoundOffset
from dolcezza.core.tone.signs import SCRATCH_S, Start, StrokeTone, Weight, stroke_tones

PIECE_S = 0.2
"""The tone field has a point for so much of a stroke."""
TURN_S = 0.08
AROUND_S, STEADY_SHARE = 0.08, 0.75
"""Between two notes the bow is steady when it keeps this share of its speed all through so much before and after."""
RINGS_ON_S, SAME_NOTE = 0.3, 0.5
"""A note rings on in string and room for so long after its bow; so many semitones apart it is another (common practice, no source)."""
DROP_DB, GAP_S = 8.0, 0.06
"""Between two notes there is noise when the tone falls so much towards its noise, or has no pitch for so long."""


@dataclass(frozen=True)
class FieldPoint:
    """A fifth of a second of a stroke: bow speed (cm/s) and the tone over its noise (dB)."""

    t_s: float
    stroke: int
    string: str
    speed_cm_s: float
    hnr_db: float


@dataclass(frozen=True)
class BetweenNotes:
    """Noise between two slurred notes while the bow was steady: the left hand's, not the bow's. ``midi`` of the two notes."""

    t_s: float
    stroke: int
    midi: tuple[int, int]


@dataclass(frozen=True)
class ToneReport:
    """All that the sound of a take tells. ``tuning`` and ``offset`` None = cannot be told."""

    strokes: tuple[StrokeTone, ...]
    points: tuple[FieldPoint, ...]
    between: tuple[BetweenNotes, ...]
    tuning: Tuning | None = None
    offset: SoundOffset | None = None
    notes: tuple[Message, ...] = field(default=())

    @property
    def counts(self) -> dict[str, int]:
        """How many strokes show each weight sign."""
        found = Counter(str(s.weight) for s in self.strokes)
        return {str(w): found[str(w)] for w in Weight if found[str(w)]}

    @property
    def starts(self) -> dict[str, int]:
        """How many strokes begin in each way."""
        found = Counter(str(s.start) for s in self.strokes)
        return {str(w): found[str(w)] for w in Start if found[str(w)]}


def tone_report(
    series: BowSeries, strokes: list[Stroke], notes: list[Note], tuning: Tuning | None, offset: SoundOffset | None, said: list[Message]
) -> ToneReport:  # fmt: skip
    """Sum the sound up. ``notes`` on the picture's clock; ``said``: what is wrong with the recording."""
    late = {
        s.number: float("nan") if before is not None and _rings_into(before, s) else _start_noise(series, s)
        for before, s in zip([None, *strokes], strokes, strict=False)
    }
    tones, points, between = stroke_tones(strokes, late), _points(series, strokes), _between(series, strokes, notes)
    return ToneReport(tuple(tones), tuple(points), tuple(between), tuning, offset, tuple(said))


def _rings_into(before: Stroke, s: Stroke) -> bool:
    """Whether another note than this one's still rings where a stroke begins: two notes at once are no scratch."""
    return s.start_s - before.end_s < RINGS_ON_S and (s.string != before.string or abs(s.semitones - before.semitones) > SAME_NOTE)


def _start_noise(series: BowSeries, s: Stroke) -> float:
    """How much nearer to its noise the tone begins than it goes on, dB; NaN = cannot be told."""
    t, hnr = series.t, series["hnr_db"]
    first = (t >= s.start_s + 0.02) & (t <= s.start_s + SCRATCH_S) & (series["level_db"] > -20.0)
    rest = (t > s.start_s + 2 * SCRATCH_S) & (t < s.end_s - TURN_S) & np.isfinite(hnr)
    if first.sum() < 2 or rest.sum() < 4:
        return float("nan")
    # a first moment without any pitch is as noisy as can be
    return float(np.median(hnr[rest]) - np.median(np.nan_to_num(hnr[first], nan=0.0)))


def _points(series: BowSeries, strokes: list[Stroke]) -> list[FieldPoint]:
    out = []
    t = series.t
    for s in strokes:
        for start in np.arange(s.start_s + TURN_S, s.end_s - TURN_S - PIECE_S + 1e-9, PIECE_S):
            at = (t >= start) & (t < start + PIECE_S)
            speed, hnr = np.abs(series["bow_speed_cm_s"][at]), series["hnr_db"][at]
            if np.isfinite(speed).any() and np.isfinite(hnr).any():
                out.append(FieldPoint(float(start + 0.5 * PIECE_S), s.number, s.string, float(np.nanmean(speed)), float(np.nanmedian(hnr))))
    return out


def _between(series: BowSeries, strokes: list[Stroke], notes: list[Note]) -> list[BetweenNotes]:
    out = []
    t, hnr = series.t, series["hnr_db"]
    speed = np.abs(series["bow_speed_cm_s"])
    for s in strokes:
        own = [n for n in notes if n.start_s >= s.start_s - 0.03 and n.end_s <= s.end_s + 0.03]
        for a, b in pairwise(own):
            if a.midi == b.midi:
                continue
            middle = 0.5 * (a.end_s + b.start_s)
            around = (t > a.end_s - AROUND_S) & (t < b.start_s + AROUND_S)
            beside = (t > a.start_s) & (t < b.end_s) & ~around
            if around.sum() < 3 or not np.isfinite(speed[around]).all() or not np.isfinite(hnr[beside]).any():
                continue
            steady = speed[around].min() > STEADY_SHARE * float(np.nanmedian(speed[(t > a.start_s) & (t < b.end_s)]))
            lowest = float(np.nanmin(np.where(np.isfinite(hnr[around]), hnr[around], 0.0)))
            noisy = b.start_s - a.end_s > GAP_S or float(np.nanmedian(hnr[beside])) - lowest > DROP_DB
            if steady and noisy and b.start_s - a.end_s > GAP_S / 3:
                out.append(BetweenNotes(middle, s.number, (a.midi, b.midi)))
    return out
