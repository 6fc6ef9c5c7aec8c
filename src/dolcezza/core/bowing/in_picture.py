"""How the hair lies to the camera: which share of it is seen where along its line.

A bow that is drawn towards the phone is short in the picture, its near half takes more of it than its far half, and a hand, which is as
wide as it is long, hides more of its hair.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array
from dolcezza.core.bowing.strings import BowSolution
from dolcezza.core.camera.bow_view import hair_ends, see_slopes
from dolcezza.core.camera.poses import Poses
from dolcezza.core.instrument.model import InstrumentModel

SETTLED_S = 0.4
"""How the hair lies to the camera does not leap, though a change of strings may be told too early or late; nor does a wall's edge come
and go."""
STEEPEST = 0.25
"""Along a line that goes into the distance a pixel is at most so many times (inverse) as much of the bow as at the string;
and no bow points more straight at the camera than that (sine)."""


@dataclass(frozen=True)
class HairInPicture:
    """``px_mm`` (n,): px in the picture a mm of the bow, at the string; ``away`` (n,): by which share the bow goes away from the camera in
    a mm towards its head; ``slant`` (n,): how far it points at the camera or away from it, as the cotangent of its angle to the line of
    sight, not negative. NaN where nothing was solved. ``hair_mm``: the whole hair."""

    px_mm: Array
    away: Array
    slant: Array
    hair_mm: float

    def share(self, along_px: Array) -> Array:
        """The part of the hair (n,) between the string and a place ``along_px`` (n,) along the line, towards the head."""
        return np.asarray(along_px / self._grown(along_px) / self.hair_mm)

    def px(self, share: Array) -> Array:
        """Where along the line (n,) px such a ``share`` (n,) of the hair, from the string towards the head, ends."""
        mm = share * self.hair_mm
        return np.asarray(self.px_mm * mm / np.maximum(1 + self.away * mm, STEEPEST))

    def px_a_share(self, along_px: Array) -> Array:
        """How many px the whole hair would have (n,) if all of it were seen as it is at a place ``along_px`` (n,)."""
        return np.asarray(self._grown(along_px) ** 2 / self.px_mm * self.hair_mm)

    def _grown(self, along_px: Array) -> Array:
        """px a mm between the string and a place."""
        return np.asarray(np.maximum(self.px_mm - self.away * along_px, STEEPEST * self.px_mm))


def hair_in_picture(model: InstrumentModel, solution: BowSolution, poses: Poses, t_s: Array, at_s: Array) -> HairInPicture:
    """How the hair lies to the camera at ``at_s`` (m,), from a solution at ``t_s`` (n,)."""
    hair_mm = model.spec.hair_length
    good = (solution.string >= 0) & np.isfinite(solution.params).all(axis=1)
    if not good.any():
        nothing = np.full(len(at_s), np.nan)
        return HairInPicture(nothing, nothing, nothing, hair_mm)
    params, string, poses = solution.params[good], solution.string[good], poses.rows(good)
    ends, touch = hair_ends(model, params, string), model.string_point(string, params[:, 0])
    way = (ends[:, 1] - ends[:, 0]) / hair_mm
    slope = see_slopes(touch[:, None], way[:, None, :, None], poses.rotation, poses.translation, poses.focal, poses.radial)[:, 0, :, 0]
    place, along = (np.einsum("nij,nj->ni", poses.rotation, v) for v in (touch, way))
    place = place + poses.translation
    towards = (place * along).sum(axis=1) / np.linalg.norm(place, axis=1)
    slant = np.abs(towards) / np.sqrt(np.maximum(1 - towards**2, STEEPEST**2))
    frames = max(1, round(SETTLED_S / float(np.median(np.diff(t_s))))) if len(t_s) > 1 else 1
    px_mm, away, slant = (
        np.interp(at_s, t_s[good], scipy.ndimage.median_filter(v, frames, mode="nearest"))
        for v in (np.linalg.norm(slope, axis=1), along[:, 2] / place[:, 2], slant)
    )
    return HairInPicture(px_mm, away, slant, hair_mm)
