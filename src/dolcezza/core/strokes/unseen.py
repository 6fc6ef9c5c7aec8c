"""How much farther a bow may have gone than was seen of it: its place was lost before it turned, or told only after it had set off."""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.strokes.segment import LONGEST_GAP_S, Span

PACE_S = 0.12
"""A bow's pace where it was last seen is told over so long."""
FASTEST, LEAP = 2.0, 0.1
"""No bow goes farther than so many lengths of hair a second, and so much of it: what seems to was told of something else."""
FRAMES = 1.5
"""What is missing for less than so many frames was seen."""


def unseen_way(series: BowSeries, span: Span) -> float:
    """Share of the hair by which a stroke may be longer than its two places say; 0 where both of its turns were seen.

    A bow that was still moving when it was lost went on, and came back before it was seen again: half of that time each. One that is told
    somewhere else the next moment was lost, and may have gone on to its end.
    """
    t, place, lifted = series.t, series["bow_position"], series["lifted"] > 0
    way = 1.0 if span.down else -1.0
    end = _beyond(t, way * place, lifted, span.start_s, span.end_s)
    start = _beyond(-t[::-1], -way * place[::-1], lifted[::-1], -span.end_s, -span.start_s)
    room_end, room_start = (1.0, 0.0) if span.down else (0.0, -1.0)
    last, first = end[1], -start[1]
    return float(min(end[0], max(room_end - last, 0.0)) + min(start[0], max(first - room_start, 0.0)))


def _beyond(t: Array, place: Array, lifted: Array, start_s: float, end_s: float) -> tuple[float, float]:
    """How much farther than its last known place a stroke that runs upwards may have gone, and that place."""
    known = np.isfinite(place)
    inside = np.flatnonzero(known & (t >= start_s) & (t <= end_s))
    if not len(inside):
        return 0.0, 0.0
    last = int(inside[-1])
    after = np.flatnonzero(known & (t > t[last]))
    frame = float(np.median(np.diff(t)))
    until = float(t[after[0]]) if len(after) else float(t[-1]) + frame
    missing = until - float(t[last])
    between = (t > t[last]) & (t < until)
    if lifted[between].any():
        return 0.0, float(place[last])
    if len(after) and abs(float(place[after[0]]) - float(place[last])) > FASTEST * missing + LEAP:
        return 1.0, float(place[last])
    if missing < FRAMES * frame:
        return 0.0, float(place[last])
    near = inside[t[inside] >= t[last] - PACE_S]
    pace = float(np.polyfit(t[near], place[near], 1)[0]) if len(near) > 1 else 0.0
    # it goes on and comes back; never seen again, it may have gone on for as long as a gap is bridged
    going = 0.5 * missing if len(after) else min(missing, LONGEST_GAP_S)
    return max(pace, 0.0) * min(going, LONGEST_GAP_S), float(place[last])
