"""Where the instrument was followed to in every frame of a measured take, in pixels of the upright picture: to check it by eye, and to
begin from when a frame is marked anew."""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.signals import runs
from dolcezza.core.instrument.model import LANDMARK_NAMES
from dolcezza.core.pipeline.cache import MeasurementCache
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.fit_file import Points
from dolcezza.services.calibration import CalibrationState


class TrackedLandmarks:
    """The poses of a measured take (``cache``) as landmarks; the fit says which of them were set."""

    def __init__(self, cache: MeasurementCache, context: Context) -> None:
        self._cache, self._context = cache, context
        marked = {name for moment in context.fit.landmarks for name in moment.points}
        self._names = [n for n in LANDMARK_NAMES if n in marked]

    def _frame(self, t_s: float) -> int:
        return int(np.abs(self._cache.t_s - t_s).argmin())

    def state(self, t_s: float) -> CalibrationState | None:
        """Landmarks and outline in the frame at ``t_s``; None where the instrument is lost."""
        k = self._frame(t_s)
        if self._cache.instrument_confidence[k] <= 0:
            return None
        camera = self._cache.poses.camera(k)
        width, larger = self._context.as_filmed

        def draw(places: Array) -> Array:
            xy = larger * camera.project(places)
            return xy if width is None else np.stack([width - xy[..., 0], xy[..., 1]], axis=-1)

        seen = draw(np.array([self._context.model.landmarks[n] for n in self._names]))
        points: Points = {n: (float(x), float(y)) for n, (x, y) in zip(self._names, seen, strict=True)}
        return CalibrationState.drawn(points, None, None, self._context.model, draw)

    @property
    def lost(self) -> list[tuple[float, float]]:
        """Stretches (s) in which the instrument is lost."""
        t = self._cache.t_s
        return [(float(t[a]), float(t[b - 1])) for a, b in runs(self._cache.instrument_confidence <= 0)]
