"""Where the instrument was followed to in every frame of a measured take, in pixels of the upright picture: to check it by eye, and to
begin from when a frame is pinned anew."""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.signals import runs
from dolcezza.core.instrument.model import PIN_NAMES, InstrumentModel
from dolcezza.core.media.probe import TakeFile
from dolcezza.services.bench import Bench
from dolcezza.services.fitfile import Fit, Points
from dolcezza.services.pinning import PinState
from dolcezza.services.watching import measured_scale

Array = np.ndarray


class FollowedPins:
    """The poses of a measured take (``bench``) as pins; ``fit`` says which of them were set."""

    def __init__(self, bench: Bench, fit: Fit, file: TakeFile) -> None:
        self._bench, self._fit, self._file = bench, fit, file
        self._model = InstrumentModel(fit.spec)
        pinned = {name for moment in fit.pins for name in moment.points}
        self._names = [n for n in PIN_NAMES if n in pinned]

    def _frame(self, t_s: float) -> int:
        return int(np.abs(self._bench.t_s - t_s).argmin())

    def state(self, t_s: float) -> PinState | None:
        """Pins and outline in the frame at ``t_s``; None where the instrument is lost."""
        k = self._frame(t_s)
        if self._bench.instrument_confidence[k] <= 0:
            return None
        camera = self._bench.poses.camera(k)
        larger = 1.0 / measured_scale(self._file)

        def draw(places: Array) -> Array:
            xy = larger * camera.project(places)
            return np.stack([self._file.width - xy[..., 0], xy[..., 1]], axis=-1) if self._fit.flip else xy

        seen = draw(np.array([self._model.landmarks[n] for n in self._names]))
        points: Points = {n: (float(x), float(y)) for n, (x, y) in zip(self._names, seen, strict=True)}
        return PinState.drawn(points, None, None, self._model, draw)

    @property
    def lost(self) -> list[tuple[float, float]]:
        """Stretches (s) in which the instrument is lost."""
        t = self._bench.t_s
        return [(float(t[a]), float(t[b - 1])) for a, b in runs(self._bench.instrument_confidence <= 0)]
