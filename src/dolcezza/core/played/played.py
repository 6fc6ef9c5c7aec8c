"""Each printed note with how it was played: where on the bow, which way, on which string, early or late, in its slur or not."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from dolcezza.core.assignment.rhythm import DYNAMICS
from dolcezza.core.base.arrays import Array
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.played.heard_notes import HeardNote
from dolcezza.core.played.lay import Alignment
from dolcezza.core.score.score import PrintedBow, Score
from dolcezza.core.strokes.figures import Stroke

NEIGHBOURS = 4
"""The tempo of a note is that of so many notes before and after it."""
LATE_BEATS, LATE_S = 0.15, 0.07
"""A note is early or late beyond this share of a quarter note, and beyond this time: what ear and pitch tracking tell apart."""
LITTLE_BOW = 0.6
"""A loud bow with less than this share of the bow that its loudness and length ask against the rest of the piece has too little."""
LOUD = ("f", "ff")
SURE_SHARE, SURE_COST = 0.7, 0.6
"""The take is of this score for certain when so many of the printed notes that were reached sound, at most so dear a note."""


@dataclass(frozen=True)
class PlayedNote:
    """One printed note (place in the score) as played. ``strokes``: the bows it sounds in, ``start_place`` and ``end_place`` on the bow
    (NaN = not seen), ``angle_deg`` and ``contact_mm`` means, ``late_s`` against its neighbours (NaN = cannot be told); ``string`` as seen;
    ``wrong``: another pitch sounds."""

    note: int
    start_s: float
    end_s: float
    strokes: tuple[int, ...]
    start_place: float
    end_place: float
    string: str
    angle_deg: float
    contact_mm: float
    late_s: float
    wrong: bool


@dataclass(frozen=True)
class PlayedBow:
    """One printed bow as played. ``strokes``: the bows that were played for it, ``down``: the way it went (None = not seen); ``faults``:
    "other way", "broken slur", "not separate", "little bow"; ``share`` of the bow that it used, ``asked`` of it by its length and loudness
    against the rest of the piece (NaN = cannot be told)."""

    printed: PrintedBow
    strokes: tuple[int, ...]
    down: bool | None
    share: float
    faults: tuple[str, ...]
    asked: float = float("nan")


@dataclass(frozen=True)
class Performance:
    """A take against a score. ``notes`` by place in the score, ``missed`` places that were reached and did not sound, ``extra`` heard
    notes, ``tempo`` quarter notes a minute as played; ``sure``: the take is of this score."""

    score: Score
    notes: dict[int, PlayedNote]
    bows: tuple[PlayedBow, ...]
    missed: tuple[int, ...]
    extra: tuple[HeardNote, ...]
    tempo: float
    sure: bool


def performed(
    score: Score, heard: Sequence[HeardNote], laid: Alignment, series: BowSeries, strokes: Sequence[Stroke]
) -> Performance:  # fmt: skip
    """Tell how every printed note was played."""
    starts, ends = _times(score, heard, laid)
    late = _late(score, starts, laid.beat_s)
    seen = {s.number: s for s in strokes}
    notes = {}
    for own in laid.laid:
        if not own.heard:
            continue
        k, first, last = own.note, starts[own.note], ends[own.note]
        inside = (series.t >= first - 1e-9) & (series.t <= last + 1e-9)
        bows = tuple(dict.fromkeys(heard[h].stroke for h in own.heard if heard[h].stroke))
        place = _known(series.t, series["bow_position"])
        notes[k] = PlayedNote(
            k, first, last, bows, place(first), place(last), seen[bows[0]].string if bows and bows[0] in seen else "",
            _mean(series["bow_angle_deg"][inside]), _mean(series["contact_point_mm"][inside]), late.get(k, float("nan")), own.wrong,
        )  # fmt: skip
    missed = tuple(own.note for own in laid.laid if not own.heard)
    reached = len(laid.laid)
    right = sum(not n.wrong for n in notes.values())
    bows_played = _bows(score, notes, seen)
    return Performance(
        score, notes, bows_played, missed, tuple(heard[j] for j in laid.extra), 60.0 / laid.beat_s,
        bool(reached >= 4 and right >= SURE_SHARE * reached and laid.cost <= SURE_COST),
    )  # fmt: skip


def _times(score: Score, heard: Sequence[HeardNote], laid: Alignment) -> tuple[dict[int, float], dict[int, float]]:
    """When every printed note begins and ends; notes that sound as one share it by their values."""
    starts: dict[int, float] = {}
    ends: dict[int, float] = {}
    groups: dict[tuple[int, ...], list[int]] = {}
    for own in laid.laid:
        if own.heard:
            groups.setdefault(own.heard, []).append(own.note)
    for places, notes in groups.items():
        first, last = heard[places[0]].start_s, heard[places[-1]].end_s
        values = np.array([score.notes[k].beats for k in notes])
        edges = first + (last - first) * np.concatenate([[0.0], np.cumsum(values) / values.sum()])
        for k, (a, b) in zip(notes, pairwise(edges), strict=True):
            starts[k], ends[k] = float(a), float(b)
    return starts, ends


def _late(score: Score, starts: dict[int, float], beat_s: float) -> dict[int, float]:
    """How late (+) each note begins against a line through its neighbours, s."""
    order = sorted(starts)
    out = {}
    for p, k in enumerate(order):
        before, after = order[max(0, p - NEIGHBOURS) : p], order[p + 1 : p + 1 + NEIGHBOURS]
        # at an end of the playing, or where the tempo changes, nobody knows what was meant
        if min(len(before), len(after)) < 2:
            continue
        near = before + after
        beats = np.array([score.notes[q].start for q in near]) - score.notes[k].start
        times = np.array([starts[q] for q in near])
        slope = np.median(np.diff(times) / np.maximum(np.diff(beats), 1e-6)) if len(near) > 2 else beat_s
        slope = float(np.clip(slope, 0.6 * beat_s, 1.6 * beat_s))
        out[k] = float(starts[k] - np.median(times - slope * beats))
    return out


def _bows(score: Score, notes: dict[int, PlayedNote], seen: dict[int, Stroke]) -> tuple[PlayedBow, ...]:
    printed = score.bows
    found: list[tuple[PrintedBow, tuple[int, ...], bool | None, float]] = []
    for bow in printed:
        own = [notes[k] for k in bow.notes if k in notes]
        strokes = tuple(dict.fromkeys(s for n in own for s in n.strokes))
        ways = [seen[s].down for s in strokes if s in seen]
        share = sum(abs(seen[s].to_position - seen[s].from_position) for s in strokes if s in seen) if ways else float("nan")
        found.append((bow, strokes, ways[0] if ways else None, share))
    usual = _usual_share(score, found)
    out = []
    other_way = False
    for n, (bow, strokes, down, share) in enumerate(found):
        faults = []
        if down is not None:
            turned = down != bow.down
            # one slip turns all that follow: it is said once, and again where a sign stands
            if turned and (not other_way or bow.signed):
                faults.append("other way")
            other_way = turned
        sounding = [k for k in bow.notes if k in notes]
        if len(sounding) > 1 and len(strokes) > 1:
            faults.append("broken slur")
        before = found[n - 1] if n else None
        if before is not None and strokes and before[1] and strokes[0] == before[1][-1] and not bow.rest and not bow.retake:
            faults.append("not separate")
        asked = usual * _need(score, bow) if usual > 0 else float("nan")
        if np.isfinite(share) and score.notes[bow.notes[0]].dynamic in LOUD and share < min(LITTLE_BOW * asked, 0.8):
            faults.append("little bow")
        out.append(PlayedBow(bow, strokes, down, share, tuple(faults), asked))
    return tuple(out)


def _need(score: Score, bow: PrintedBow) -> float:
    """How much bow it asks: by its length and how loud it is."""
    return float(sum(score.notes[k].beats * DYNAMICS[score.notes[k].dynamic] for k in bow.notes))


def _usual_share(score: Score, found: list[tuple[PrintedBow, tuple[int, ...], bool | None, float]]) -> float:
    ratios = [share / _need(score, bow) for bow, _, _, share in found if np.isfinite(share) and _need(score, bow) > 0]
    return float(np.median(ratios)) if len(ratios) >= 4 else 0.0


def _known(t: Array, values: Array) -> Callable[[float], float]:
    """The value at a moment, NaN where none is known near it."""
    good = np.isfinite(values)

    def at(moment: float) -> float:
        if not good.any():
            return float("nan")
        near = int(np.abs(t[good] - moment).argmin())
        return float(np.interp(moment, t[good], values[good])) if abs(t[good][near] - moment) < 0.15 else float("nan")

    return at


def _mean(values: Array) -> float:
    known = values[np.isfinite(values)]
    return float(known.mean()) if len(known) else float("nan")


def off_the_beat(note: PlayedNote, beat_s: float) -> str:
    """ "early", "late" or "" where it is neither."""
    if not np.isfinite(note.late_s) or abs(note.late_s) < max(LATE_S, LATE_BEATS * beat_s):
        return ""
    return "late" if note.late_s > 0 else "early"
