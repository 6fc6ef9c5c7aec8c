"""The instrument's landmarks as all looks of a take together show them, in the picture of a marked frame.

Each look finds the landmarks beside where the followed pose puts them. The way from there is carried over to the marked frame along the
instrument's own plane; the middle of all looks leaves out what hands and bow hide in some of them.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.pose import CLICK_SD_PX
from dolcezza.core.camera.seen import SeenPoint
from dolcezza.core.instrument.model import LANDMARK_NAMES, InstrumentModel

LEAST_SHARE = 0.3
"""Share of the likelihood around its place from which a landmark counts as seen in a look."""
LEAST_LOOKS = 3
FAR_PX = 60.0
"""What is farther (px at 1280) from where the pose has it is something else."""
LEARNT_SD_PX = {
    "bridge": 2.4, "board": 1.4, "nut": 4.2, "lower": 9.0, "upper": 10.0, "end": 12.0, "scroll": 18.0,
}  # fmt: skip
CELLO_SD_PX = {
    "bridge": 6.4, "board": 2.8, "nut": 11.0, "lower": 13.0, "upper": 14.0, "end": 17.0, "scroll": 25.0,
}  # fmt: skip
"""What all looks of a take have in common of error (one sd, px at 1280): what the net has learnt of a landmark is not quite it. Told by
takes rendered by another program than the one it learnt from; on cellos both ends of bridge and nut err alike."""
ALIKE_PAIRS = ("bridge", "nut")
"""On cellos both ends of these err alike: the two are worth one."""
ONE_LOOK = 1.25
"""One look alone is so much worse than all together."""
ALIKE = 6.0
"""So many looks err alike."""


MOST_CLICK_SD_PX = 5.0
QUICK, CAREFUL = 4, 8
"""Who sets no more than the landmarks that are asked for is quick; who sets so many takes care over each."""
CAREFUL_LOG_SD = 0.4
QUICK_SD_PX, QUICK_LOG_SD = 2.2, 0.5
"""How far off a quick hand's landmarks are, and how much hands differ in care, before anything is seen of one (one sd of the logarithm)."""
WRONG = ((0.88, 1.0), (0.1, 16.0), (0.02, 400.0))
"""Share of seen landmarks, and by how much their mean square error is larger than what the net has learnt: some are another thing."""


@dataclass(frozen=True)
class LandmarkLook:
    """One look: the pose of the instrument there, and for each of the twelve landmarks its place (12, 2) px and share (12,)."""

    t_s: float
    camera: Camera
    xy: Array
    share: Array


def learnt_sd(model: InstrumentModel, name: str) -> float:
    """How well the net knows a landmark of this family (one sd, px at 1280)."""
    return (CELLO_SD_PX if model.spec.family == "cello" else LEARNT_SD_PX)[name.split("_")[0]]


def steepness(camera: Camera, place: Array) -> float:
    """By how much worse landmarks are told where the instrument is seen along its top: from 60 degrees off square
    on, as it is foreshortened."""
    way = camera.place - place
    return max(1.0, 0.5 / max(float(way[2] / np.linalg.norm(way)), 0.1))


def _in_plane(camera: Camera, place: Array) -> Array:
    """How the picture of ``place`` (3,) moves with the instrument's x and y: (2, 2) px per mm."""
    step = 0.5 * np.eye(3)[:2]
    return np.asarray((camera.project(place + step) - camera.project(place - step)).T)


def carried_over(
    model: InstrumentModel, looks: Sequence[LandmarkLook], camera: Camera, *, scale_px: float, alike: int = 1
) -> list[SeenPoint]:
    """What the looks say of the landmarks as ``camera`` sees them. ``alike``: so many marked frames of the take are told of in this way;
    what the net has in common of error counts once for all of them."""
    out = []
    steep = steepness(camera, model.middle)
    for k, name in enumerate(LANDMARK_NAMES):
        place = model.landmarks[name]
        here, own = camera.project(place), _in_plane(camera, place)
        moves, weights = [], []
        for look in looks:
            if look.share[k] < LEAST_SHARE:
                continue
            there = _in_plane(look.camera, place)
            off = look.xy[k] - look.camera.project(place)
            if not np.isfinite(off).all() or np.hypot(*off) > FAR_PX * scale_px or abs(np.linalg.det(there)) < 1e-4:
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
        sd = float(np.hypot(steep * learnt_sd(model, name) * scale_px, left) * np.sqrt(alike))
        out.append(SeenPoint(name, here + middle, sd))
    if model.spec.family == "cello":
        stems = [p.name.split("_")[0] for p in out]
        both = [s in ALIKE_PAIRS and stems.count(s) == 2 for s in stems]
        out = [replace(p, sd_px=p.sd_px * np.sqrt(2.0)) if two else p for p, two in zip(out, both, strict=True)]
    return out


def _usual_hand(count: int) -> tuple[float, float]:
    """How well a hand that sets so many landmarks sets them (px at 1280), and one sd of the logarithm, before anything is seen of it."""
    care = float(np.clip((count - QUICK) / (CAREFUL - QUICK), 0.0, 1.0))
    return float(QUICK_SD_PX * (CLICK_SD_PX / QUICK_SD_PX) ** care), QUICK_LOG_SD + (CAREFUL_LOG_SD - QUICK_LOG_SD) * care


def click_sd(points: Mapping[str, tuple[float, float]], seen: Sequence[SeenPoint], *, scale_px: float) -> float:
    """How well the hand set ``points`` (one sd, px at 1280), by what the pictures show; never better than a careful hand.

    Of a few landmarks little can be told: what is unknown of the hand is in the answer, the root of the mean square over all hands that may
    have set them so.
    """
    hand = np.geomspace(CLICK_SD_PX, MOST_CLICK_SD_PX, 80)
    usual, log_sd = _usual_hand(len(points))
    likely = -0.5 * (np.log(hand / usual) / log_sd) ** 2
    common = [(np.asarray(points[p.name], float) - p.place, p.sd_px) for p in seen if p.name in points]
    for off, sd_px in common:
        square = float(off @ off) / scale_px**2
        net = (sd_px / scale_px) ** 2
        # now and then it is the pictures that have a landmark wrong: that says nothing of the hand
        told = [np.log(share) - 0.5 * square / (net * wide + hand**2) - np.log(net * wide + hand**2) for share, wide in WRONG]
        likely = likely + np.logaddexp.reduce(told)
    weight = np.exp(likely - likely.max())
    return float(np.sqrt((weight * hand**2).sum() / weight.sum()))
