"""What pictures show of the instrument besides what a hand has set: landmarks, strings, the outline of its body."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array
from dolcezza.core.instrument.model import InstrumentModel


@dataclass(frozen=True)
class SeenPoint:
    """A landmark as a picture shows it, not as a hand set it: ``name``, ``place`` (2,) px, ``sd_px``."""

    name: str
    place: Array
    sd_px: float


@dataclass(frozen=True)
class SeenString:
    """A string found in the picture: its ends, at ``share`` of the string length, lie somewhere on the line through ``points`` (2, 2) px
    with unit normal ``normal`` (2,); ``sd_px`` of the distance at each end. ``string``: which one it is."""

    string: int
    share: tuple[float, float]
    points: Array
    normal: Array
    sd_px: float

    def places(self, model: InstrumentModel) -> Array:
        """Both ends on ``model``, (2, 3) mm."""
        return model.string_point(self.string, np.asarray(self.share) * model.spec.string_length)

    def weigh(self, off: Array) -> Array:
        """What ``off`` (2, 2, ...) px at both ends says across the string, over what it may: (2, ...)."""
        return np.asarray(np.einsum("mi...,i->m...", off, self.normal) / self.sd_px)

    def told_so_often(self, times: int) -> SeenString:
        """The same, told so many times over by the same views: together they count once."""
        return replace(self, sd_px=float(self.sd_px * np.sqrt(times)))


@dataclass(frozen=True)
class SeenEdge:
    """An edge of the instrument found in the picture at m stations (of the top plate, or of the bridge's top): each of ``stations`` (name,
    side: 1 bass, -1 treble) lies on the line through one of ``points`` (m, 2) px with one of the unit ``normals`` (m, 2); ``covariance``
    (m, m) px^2 of the distances, which the two sides of a body that is shaped otherwise share."""

    stations: tuple[tuple[str, int], ...]
    points: Array
    normals: Array
    covariance: Array

    def places(self, model: InstrumentModel) -> Array:
        """The stations on ``model``, (m, 3) mm."""
        return np.array([model.edge(name, side)[0] for name, side in self.stations])

    @cached_property
    def _own(self) -> Array:
        return np.asarray(scipy.linalg.solve_triangular(np.linalg.cholesky(self.covariance), np.eye(len(self.points)), lower=True))

    def weigh(self, off: Array) -> Array:
        """What ``off`` (m, 2, ...) px says across the edge, made independent and over what it may: (m, ...)."""
        return np.asarray(np.tensordot(self._own, np.einsum("mi...,mi->m...", off, self.normals), axes=1))

    def told_so_often(self, times: int) -> SeenEdge:
        """The same, told so many times over by the same views: together they count once."""
        return replace(self, covariance=self.covariance * times)


SeenLine = SeenString | SeenEdge
