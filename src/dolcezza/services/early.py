"""The first strokes while the rest of a take is still being watched: provisional, piece by piece, put right by the whole in the end."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.bowing.series import BowSeries, as_filmed
from dolcezza.core.bowing.steady import steady_poses
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.media.probe import TakeFile
from dolcezza.core.strokes.figures import Stroke, find_strokes
from dolcezza.core.tracking.bow_path import choose, lines_of
from dolcezza.services.bench import Bench, solve
from dolcezza.services.fitfile import Fit
from dolcezza.services.listening import Heard
from dolcezza.services.telling import filmed
from dolcezza.services.watching import Watched

PIECE_S = 6.0
"""So much of a take is told at a time."""
OVERLAP_S = 1.5
"""A piece begins so much before the end of the last one; strokes that reach its end are told with the next piece."""
UNTIL_S = 18.0
"""After this much the rest is waited for."""
WORTH_S = 20.0
"""A shorter take is measured whole soon enough."""


@dataclass(frozen=True)
class Early:
    """What is known so far: frames and strokes from the take's beginning, in pixels of the filmed picture."""

    series: BowSeries
    strokes: list[Stroke]


class EarlyStrokes:
    """Asked after every few frames; tells a piece when enough of the take has been watched. A piece that cannot be told is left out."""

    def __init__(
        self, model: InstrumentModel, fit: Fit, file: TakeFile, heard: Heard | None, take_covariance: np.ndarray, *, scale_px: float,
        length_px: float,
    ) -> None:  # fmt: skip
        self._model, self._fit, self._file, self._heard = model, fit, file, heard
        self._covariance, self._scale_px, self._length_px = take_covariance, scale_px, length_px
        self._told_s = 0.0
        self._pieces: list[BowSeries] = []
        self._strokes: list[Stroke] = []

    def tell(self, seen: Watched) -> Early | None:
        """The next piece with all before it; None while there is nothing new."""
        if self._file.duration_s < WORTH_S or len(seen.times) < 10:
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
        return Early(_joined(self._pieces), list(self._strokes))

    def _measured(self, seen: Watched, first: int, last: int) -> BowSeries:
        t_s = np.array(seen.times[first:last])
        followed = seen.followed[first:last]
        lines = lines_of(
            choose(seen.candidates[first:last], length_px=self._length_px), length_px=self._length_px, scale_px=self._scale_px
        )  # fmt: skip
        poses = steady_poses(followed, self._model.middle, rate_hz=1.0 / float(np.median(np.diff(t_s))))
        sure = np.array([f.confidence for f in followed])
        own = np.array([f.in_body for f in followed])
        lean = np.zeros(len(self._fit.spec.strings))
        bench = Bench(t_s, lines, poses, self._covariance, own, lean, sure, self._scale_px, self._length_px, heard=self._heard)
        width, scale = filmed(self._fit, self._file)
        return as_filmed(solve(bench, self._model, self._fit.spec).series, width, scale=scale)


def _cut(series: BowSeries, from_s: float) -> BowSeries:
    keep = series.t > from_s
    return BowSeries({k: v[keep] for k, v in series.values.items()}, [s for s, own in zip(series.strings, keep, strict=True) if own])


def _joined(pieces: list[BowSeries]) -> BowSeries:
    values = {k: np.concatenate([p.values[k] for p in pieces]) for k in pieces[0].values}
    return BowSeries(values, [s for p in pieces for s in p.strings])
