"""The first strokes while the rest of a take is still being watched: provisional, piece by piece, put right by the whole in the end."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.bowing.series import BowSeries, as_filmed
from dolcezza.core.pipeline.cache import MeasurementCache, solve
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.frame_pass import FramePass
from dolcezza.core.pipeline.sound_pass import Heard
from dolcezza.core.strokes.figures import Stroke, find_strokes
from dolcezza.core.tracking.bow_path import choose, lines_of
from dolcezza.core.tracking.trajectory import steady_poses

PIECE_S = 6.0
"""So much of a take is told at a time."""
OVERLAP_S = 1.5
"""A piece begins so much before the end of the last one; strokes that reach its end are told with the next piece."""
UNTIL_S = 18.0
"""After this much the rest is waited for."""
WORTH_S = 20.0
"""A shorter take is measured whole soon enough."""


@dataclass(frozen=True)
class FirstStrokes:
    """What is known so far: frames and strokes from the take's beginning, in pixels of the filmed picture."""

    series: BowSeries
    strokes: list[Stroke]


class Preview:
    """Asked after every few frames; tells a piece when enough of the take has been watched. A piece that cannot be told is left out."""

    def __init__(self, context: Context, heard: Heard | None, take_covariance: np.ndarray) -> None:
        self._context, self._heard, self._covariance = context, heard, take_covariance
        self._told_s = 0.0
        self._pieces: list[BowSeries] = []
        self._strokes: list[Stroke] = []

    def tell(self, seen: FramePass) -> FirstStrokes | None:
        """The next piece with all before it; None while there is nothing new."""
        if self._context.file.duration_s < WORTH_S or len(seen.times) < 10:
            return None
        if seen.times[-1] < self._told_s + PIECE_S or self._told_s >= UNTIL_S:
            return None
        first = int(np.searchsorted(seen.times, self._told_s - OVERLAP_S))
        began, self._told_s = self._told_s, seen.times[-1]
        try:
            piece = self._measured(seen, first, len(seen.times))
        except (DolcezzaError, np.linalg.LinAlgError):
            return None
        until = seen.times[-1] - 0.5
        last = self._strokes[-1].end_s if self._strokes else -1.0
        fresh = [s for s in find_strokes(piece) if s.end_s <= until and 0.5 * (s.start_s + s.end_s) > last]
        self._strokes += [replace(s, number=len(self._strokes) + k + 1) for k, s in enumerate(fresh)]
        self._pieces.append(_cut(piece, began if self._pieces else -1.0))
        return FirstStrokes(_joined(self._pieces), list(self._strokes))

    def _measured(self, seen: FramePass, first: int, last: int) -> BowSeries:
        t_s = np.array(seen.times[first:last])
        followed = seen.followed[first:last]
        context = self._context
        chosen = choose(seen.candidates[first:last], length_px=context.length_px)
        lines = lines_of(chosen, length_px=context.length_px, scale_px=context.scale_px, t_s=t_s)
        poses = steady_poses(followed, context.model.middle, t_s=t_s)
        sure = np.array([f.confidence for f in followed])
        own = np.array([f.in_body for f in followed])
        lean = np.zeros(len(context.spec.strings))
        cache = MeasurementCache(
            t_s, lines, poses, self._covariance, own, lean, sure, context.scale_px, context.length_px, heard=self._heard
        )
        width, scale = context.as_filmed
        return as_filmed(solve(cache, context.model, context.spec).series, width, scale=scale)


def _cut(series: BowSeries, from_s: float) -> BowSeries:
    keep = series.t > from_s
    return BowSeries({k: v[keep] for k, v in series.values.items()}, [s for s, own in zip(series.strings, keep, strict=True) if own])


def _joined(pieces: list[BowSeries]) -> BowSeries:
    values = {k: np.concatenate([p.values[k] for p in pieces]) for k in pieces[0].values}
    return BowSeries(values, [s for p in pieces for s in p.strings])
