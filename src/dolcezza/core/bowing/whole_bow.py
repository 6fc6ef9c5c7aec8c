"""Hair that is as dark as what is behind it: the whole bow, stick and hair, is seen as one dark band, and the hair is its side away from
the stick.

The band's edge on that side is the edge of the hair; half a ribbon inwards from it is the hair's middle, as wide as the view shows it on
the middle strings. How a bow is turned about its stick, and where it plays, is not known then: the ± is wider.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array
from dolcezza.core.bowing.hair import STICK_RISE_MM, side_by_view, stands
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.poses import Poses
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.tracking.bow_find import BowFinder
from dolcezza.core.tracking.bow_line import STICK_RADIUS_MM, Candidate
from dolcezza.core.tracking.bow_path import BowLines

BAND_SD_PX = 1.5
"""How well the hair's middle is known from the band's edge (one sd, px at 1280)."""
BESIDE_PX = 2.5
"""What is behind the hair is looked at so far beyond its edge (px at 1280)."""
FROG_MM = 58.0
"""A frog is as dark as such hair and goes on behind it for some 48 mm, the stick with its button for 12 to 15 more; from memory."""
FROG_END_SD_PX = 40.0
"""How well the hair's end at the frog is known from that (one sd, px at 1280): a hand that is dark, too, covers some of it or goes on with
the band, half a hand's breadth more or less."""
WIDE_ENOUGH = 0.72
"""A band narrower than this share of stick and hair together is the stick alone: the hair is as bright as what is behind it."""
MAY_BE_STICK = 0.6
"""Where that is so in a frame of a take whose hair is seen elsewhere, its line may be the stick's: so much of their distance (one sd)."""
STANDS_OUT = 15.0
"""Grey levels by which a quarter of the line must be darker than what lies beside it for the hair's edge to be believed."""
NEAR_RAD = 0.06
"""A bow does not turn farther from one frame to the next."""
MOST_LEVELS = 30.0
"""What one sample may weigh, grey levels."""
ROUNDS = 2
"""How often the edge is looked for again from the line that it has given."""


@dataclass(frozen=True)
class HairOfBand:
    """The hair's ``line`` in a band, and whether the hair is seen at all: the band is wide enough, and its edge stands out."""

    line: Candidate
    seen: bool


def hair_of_band(
    finder: BowFinder, grey: Array, camera: Camera, band: Candidate, before: Candidate | None, *, scale_px: float
) -> HairOfBand | None:  # fmt: skip
    """The hair in a ``band`` that was found as a whole bow in a grey picture (h, w); None where its edge is not seen.

    ``before``: the hair in the frame before. Where hair and stick part, a band's edge may run along the stick: the edge is looked for from
    the line before as well, and of the two that with more dark hair along it is kept.
    """
    model = finder.model
    string = np.array([len(model.spec.strings) // 2 - 1])
    params = np.array([[0.5 * model.spec.bridge_to_fingerboard, 0.0, float(model.string_planes[1:3].mean()), 0.5]])
    px_mm, turn, side, slant = stands(model, band.direction[None], Poses.of([camera]), params, string)
    likely = float(scipy.special.expit(side_by_view(turn, slant, side)[0]))
    outwards = -float(side[0]) if likely >= 0.5 else float(side[0])
    half = 0.5 * float(px_mm[0]) * model.spec.hair_width * float(np.cos(turn[0]))
    outer = band.edges[0] if outwards < 0 else band.edges[1]
    if not np.isfinite(outer).all():
        return None
    starts = [_moved(band, float(outer[0]) - outwards * half, float(outer[1]))]
    if before is not None and abs(float(before.direction @ _normal(band))) < NEAR_RAD:
        starts.append(replace(band, point=before.point, direction=before.direction))
    found = []
    for hair in starts:
        for _ in range(ROUNDS):
            shift, slope = finder.edge(grey, camera, hair, outwards * half)
            if not np.isfinite(shift):
                break
            hair = _moved(hair, shift - outwards * half, slope)
        else:
            found.append(_seen_along(finder, grey, hair, outwards * (half + BESIDE_PX * scale_px)))
    if not found:
        return None
    best = max(found, key=lambda h: float(np.clip(h.strip.astype(np.float32), -MOST_LEVELS, MOST_LEVELS).sum()))
    rise = float(px_mm[0]) * STICK_RISE_MM * float(np.sin(turn[0]))
    wide = float(band.edges[1, 0] - band.edges[0, 0]) >= WIDE_ENOUGH * (half + rise + float(px_mm[0]) * STICK_RADIUS_MM)
    seen = wide and float(np.percentile(best.strip.astype(np.float32), 75)) >= STANDS_OUT
    sd = np.array([np.hypot(band.fit_sd[0], BAND_SD_PX * scale_px), band.fit_sd[1]])
    # where the stick may lie on either side of its hair, so may the hair in the band
    either = 2 * float(np.sqrt(likely * (1 - likely)))
    sd[0] = np.hypot(sd[0], either * 0.5 * max(0.0, float(band.edges[1, 0] - band.edges[0, 0]) - 2 * half))
    if not seen:
        sd[0] = np.hypot(sd[0], MAY_BE_STICK * rise)
    line = replace(best, fit_sd=sd, edges=np.array([[-half, 0.0], [half, 0.0]]), stick=np.zeros_like(band.stick))
    return HairOfBand(line, seen)


def _seen_along(finder: BowFinder, grey: Array, hair: Candidate, beside_px: float) -> Candidate:
    """The line with how much darker it is than what lies beside it, and how much darker it could be there."""
    level, beside = finder.levels(grey, hair, beside_px)
    strip = beside - level
    strong = strip > 0.5 * np.percentile(strip, 90)
    usual = float(np.median(level[strong])) if strong.any() else 0.0
    # before something as dark as itself the hair's end cannot be seen
    room = np.maximum(beside - usual, 0.0)
    return replace(hair, strip=strip.astype(np.float16), room=room.astype(np.float16))


def _normal(line: Candidate) -> Array:
    return np.array([-line.direction[1], line.direction[0]])


def _moved(line: Candidate, shift: float, slope: float) -> Candidate:
    direction = line.direction + slope * _normal(line)
    return replace(line, point=line.point + shift * _normal(line), direction=direction / np.hypot(*direction))


def px_mm_along(model: InstrumentModel, poses: Poses, n: int) -> Array:
    """Pixels a mm (n,) along a bow in its usual place, from its middle to an end."""
    start = np.tile([0.5 * model.spec.bridge_to_fingerboard, 0.0, 0.0], (n, 1))
    along = model.bow_direction(np.zeros(1), model.string_planes[1:3].mean(keepdims=True))[0]
    way = 0.5 * model.spec.hair_length
    ends = poses.see(np.stack([start, start + way * along], axis=1))
    return np.asarray(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1) / way)


def ends_of_band(model: InstrumentModel, lines: BowLines, poses: Poses) -> BowLines:
    """Lines of a whole bow with the ends of its hair: at the head as far as it is seen, at the frog a frog's length before."""
    n = len(lines.head)
    return replace(lines, frog=lines.frog + FROG_MM * px_mm_along(model, poses, n), frog_sd=np.full(n, FROG_END_SD_PX))
