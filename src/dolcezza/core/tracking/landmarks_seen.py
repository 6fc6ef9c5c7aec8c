"""The instrument's landmarks as all looks of a take together show them, in the picture of a marked frame.

Each look finds the landmarks beside where the followed pose puts them. The way from there is carried over to the marked frame along the
instrument's own plane; the middle of all looks leaves out what hands and bow hide in some of them.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.pose import CLICK_SD_PX, SeenPoint
from dolcezza.core.instrument.model import LANDMARK_NAMES, InstrumentModel

LEAST_SHARE = 0.3
"""Share of the likelihood around its place from which a landmark counts as seen in a look."""
LEAST_LOOKS = 3
FAR_PX = 14.0
"""What is farther (px at 1280) from where the pose has it is something else."""
LEARNT_SD_PX = {
    "bridge": 2.4, "board": 1.4, "nut": 4.2, "lower": 5.5, "upper": 6.5, "end": 8.0, "scroll": 12.0,
}  # fmt: skip
"""What all looks of a take have in common of error (one sd, px at 1280): what the net has learnt of a landmark is not quite it."""
ALIKE = 6.0
"""So many looks err alike."""


MOST_CLICK_SD_PX = 5.0
FEWEST_COMMON = 4


@dataclass(frozen=True)
class LandmarkLook:
    """One look: the pose of the instrument there, and for each of the twelve landmarks its place (12, 2) px and share (12,)."""

    t_s: float
    camera: Camera
    xy: Array
    share: Array


def _in_plane(camera: Camera, place: Array) -> Array:
    """How the picture of ``place`` (3,) moves with the instrument's x and y: (2, 2) px per mm."""
    step = 0.5 * np.eye(3)[:2]
    return np.asarray((camera.project(place + step) - camera.project(place - step)).T)


def carried_over(
    model: InstrumentModel, looks: Sequence[LandmarkLook], camera: Camera, *, scale_px: float, reach_px: float = FAR_PX
) -> list[SeenPoint]:
    """What the looks say of the landmarks as ``camera`` sees them."""
    out = []
    for k, name in enumerate(LANDMARK_NAMES):
        place = model.landmarks[name]
        here, own = camera.project(place), _in_plane(camera, place)
        moves, weights = [], []
        for look in looks:
            if look.share[k] < LEAST_SHARE:
                continue
            there = _in_plane(look.camera, place)
            off = look.xy[k] - look.camera.project(place)
            if not np.isfinite(off).all() or np.hypot(*off) > reach_px * scale_px or abs(np.linalg.det(there)) < 1e-4:
                continue
            moves.append(own @ np.linalg.solve(there, off))
            weights.append(look.share[k])
        if len(moves) < LEAST_LOOKS:
            continue
        away = np.array(moves)
        middle = np.median(away, axis=0)
        spread = 1.48 * np.median(np.abs(away - middle), axis=0)
        near = (np.abs(away - middle) < 2.5 * spread + 0.3 * scale_px).all(axis=1)
        middle = np.average(away[near], axis=0, weights=np.array(weights)[near])
        left = float(np.sqrt((spread**2).mean() * ALIKE / max(near.sum(), ALIKE)))
        sd = float(np.hypot(LEARNT_SD_PX[name.split("_")[0]] * scale_px, left))
        out.append(SeenPoint(name, here + middle, sd))
    return out


def click_sd(points: Mapping[str, tuple[float, float]], seen: Sequence[SeenPoint], *, scale_px: float) -> float:
    """How well the hand set ``points`` (one sd, px at 1280), by what the pictures show; never better than a careful hand."""
    common = [(np.asarray(points[p.name], float) - p.place, p.sd_px) for p in seen if p.name in points]
    if len(common) < FEWEST_COMMON:
        return CLICK_SD_PX
    off, sd = np.array([v for v, _ in common]) / scale_px, np.array([s for _, s in common]) / scale_px
    # the middle of squared distances of two numbers each is 1.386 of their variance
    variance = float(np.median((off**2).sum(axis=1) / 1.386 - sd**2))
    return float(np.clip(np.sqrt(max(variance, 0.0)), CLICK_SD_PX, MOST_CLICK_SD_PX))
