"""How far hair and stick are apart, from one close photo of a strung bow: the gap all along, and which way the stick bends.

Both ends of the free hair are marked; the length of the hair gives the scale. Across the hair, at many places along it, the picture is read
outwards: hair, what is behind, stick. Stick and hair may each be darker or paler than what is behind them.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import cv2
import numpy as np
import scipy

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import MediaError
from dolcezza.core.base.signals import runs

PENCIL_MM = 7.0
"""A pencil's thickness (common practice, no source)."""
PLACES = 80
ENDS = (0.1, 0.9)
"""Frog, winding, the tip's curve and the head's plate lie outside these shares of the hair."""
REACH_MM, STEP_MM = 30.0, 0.2
HAIR_MM = 2.5
"""The hair lies no farther than this beside the line between the two marks."""
STICK_MM = (2.5, 14.0)
"""Thickness of a stick as it may be seen."""
STANDS_OUT, NOISE = 14.0, 5.0
"""How much (grey levels of 255, and times the background's own spread) hair and stick differ from what is behind them."""
FEWEST = 0.4
"""Share of the places at which the stick must be told."""
EDGE_SD_PX, SCALE_SD = 0.7, 0.02
"""How well an edge is read (px, one sd), and how well the length of a bow's hair is known (share)."""
LEAST_PX_MM = 0.6
"""A photo with fewer pixels a millimetre tells no gap."""
STRAIGHT_MM = 0.8
"""A stick that bends less than this over the hair is straight."""
LITTLE, MUCH = 0.6, 1.5
"""Pencils below which the hair is slack, and above which it is tight."""


class Tension(StrEnum):
    """What the gap says of how far the bow is tightened."""

    SLACK = "slack"
    RIGHT = "right"
    TIGHT = "tight"
    OUTWARDS = "outwards"


@dataclass(frozen=True)
class HairGap:
    """``share`` (k,) of the hair from the frog and ``gap_mm`` (k,) between hair and stick there; ``middle_mm`` with ``sd_mm`` (one sd) at
    the middle, ``least_mm`` at ``least_share`` the smallest; ``bend_mm``: by how much the stick comes nearer in the middle than the line
    between its ends, below 0 = it bends away from the hair. ``edges_px`` (k, 2, 2): where hair and stick were read in the picture."""

    share: Array
    gap_mm: Array
    middle_mm: float
    sd_mm: float
    least_mm: float
    least_share: float
    bend_mm: float
    edges_px: Array

    @property
    def pencils(self) -> float:
        """The gap at the middle in pencils."""
        return self.middle_mm / PENCIL_MM

    @property
    def tension(self) -> Tension:
        """What it says of how far the bow is tightened."""
        if self.bend_mm < -STRAIGHT_MM:
            return Tension.OUTWARDS
        return Tension.SLACK if self.pencils < LITTLE else Tension.TIGHT if self.pencils > MUCH else Tension.RIGHT


def hair_gap(image: Array, frog: tuple[float, float], head: tuple[float, float], hair_mm: float) -> HairGap:
    """The gap in a picture (h, w, 3) RGB with the ends of the free hair marked at ``frog`` and ``head`` (px); ``hair_mm``: how long it is.

    Raises MediaError with a sentence where it cannot be told.
    """
    a, b = np.asarray(frog, float), np.asarray(head, float)
    length = float(np.linalg.norm(b - a))
    if length < LEAST_PX_MM * hair_mm:
        raise MediaError("The bow is too small in this photo to measure the gap.", "Take it closer: the bow as long as the picture.")
    px_mm = length / hair_mm
    along = (b - a) / length
    across = np.array([-along[1], along[0]])
    share = np.linspace(*ENDS, PLACES)
    steps = np.arange(-REACH_MM, REACH_MM + STEP_MM / 2, STEP_MM)
    profiles = _profiles(image, a + share[:, None] * (b - a), along, across, steps * px_mm, px_mm)
    sides = [_side(profiles[:, ::s], steps[::s] * s) for s in (1, -1)]
    told = [np.isfinite(gap).mean() for _, gap in sides]
    best = int(np.argmax(told))
    if told[best] < FEWEST:
        raise MediaError(
            "Hair and stick cannot be told from what is behind them.",
            "Lay the bow on something plain, neither as bright as its hair nor as dark as its stick, and mark the ends again.",
        )
    hair, stick = sides[best]
    sign = 1 if best == 0 else -1
    good = np.isfinite(stick)
    gap = stick - hair
    curve = _curve(share[good], gap[good])
    smooth = np.polyval(curve, share)
    left = gap[good] - np.polyval(curve, share[good])
    noise = 1.48 * float(np.median(np.abs(left)))
    middle = float(np.polyval(curve, 0.5))
    ends = np.polyval(curve, np.array(ENDS))
    k = int(smooth.argmin())
    own = np.hypot(np.sqrt(2.0) * EDGE_SD_PX / px_mm, 2 * noise / np.sqrt(good.sum()))
    rows = (a + share[good, None] * (b - a))[:, None] + (sign * px_mm * np.stack([hair, stick], axis=1)[good])[:, :, None] * across
    return HairGap(
        share, smooth, middle, float(np.hypot(own, SCALE_SD * middle)), float(smooth[k]), float(share[k]),
        float(ends.mean() - middle), rows,
    )  # fmt: skip


def _profiles(image: Array, places: Array, along: Array, across: Array, steps: Array, px_mm: float) -> Array:
    """Colours (k, m, 3) read across the hair at ``places`` (k, 2), each the mean over a millimetre and a half along it."""
    smooth = cv2.GaussianBlur(image, (0, 0), max(0.6, 0.15 * px_mm))
    spread = np.linspace(-0.75, 0.75, 5) * px_mm
    at = places[:, None, None] + spread[None, :, None, None] * along + steps[None, None, :, None] * across
    maps = np.ascontiguousarray(at.reshape(len(places) * len(spread), len(steps), 2).astype(np.float32))
    read = cv2.remap(smooth, maps[..., 0], maps[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(read.reshape(len(places), len(spread), len(steps), 3).astype(float).mean(axis=1))


def _side(profiles: Array, steps: Array) -> tuple[Array, Array]:
    """Where the hair ends (k,) and the stick begins (k,) to one side of the line, mm; NaN where the stick is not told."""
    hair, stick = np.zeros(len(profiles)), np.full(len(profiles), np.nan)
    beyond = np.abs(steps) > HAIR_MM
    for k, colours in enumerate(profiles):
        # what is behind is what most of the profile shows
        behind = np.median(colours[beyond], axis=0)
        off = np.abs(colours - behind).max(axis=1)
        quiet = off[beyond]
        least = max(STANDS_OUT, NOISE * 1.48 * float(np.median(quiet)))
        pieces = [(steps[i], steps[j - 1], i, j) for i, j in runs(off > least)]
        near = [p for p in pieces if p[0] <= HAIR_MM and p[1] >= -HAIR_MM]
        if not near:
            continue
        edge = _crossing(steps, off, max(p[3] for p in near) - 1, 0.5 * max(off[i:j].max() for _, _, i, j in near))
        out = [p for p in pieces if p[0] > edge and STICK_MM[0] <= p[1] - p[0] <= STICK_MM[1]]
        if out:
            first = min(out)
            hair[k] = edge
            stick[k] = _crossing(steps, off, first[2], 0.5 * float(np.median(off[first[2] : first[3]])), outwards=False)
    return hair, stick


def _crossing(steps: Array, off: Array, k: int, level: float, *, outwards: bool = True) -> float:
    """Where ``off`` passes ``level`` near sample ``k``, between samples: falling ``outwards``, or rising."""
    way = 1 if outwards else -1
    # from inside the piece to its edge
    while 0 < k < len(off) - 1 and off[k] < level:
        k -= way
    while 0 < k < len(off) - 1 and off[k + way] >= level:
        k += way
    n = min(max(k + way, 0), len(off) - 1)
    if n == k or off[k] == off[n]:
        return float(steps[k])
    part = float(np.clip((off[k] - level) / (off[k] - off[n]), 0.0, 1.0))
    return float(steps[k] + part * (steps[n] - steps[k]))


def _curve(share: Array, gap: Array) -> Array:
    """A cubic through the gaps that leaves out what is something else (robust)."""
    start = np.polyfit(share, gap, 2) if len(share) > 6 else np.array([0.0, 0.0, float(np.median(gap))])
    fit = scipy.optimize.least_squares(
        lambda c: np.polyval(c, share) - gap, np.concatenate([[0.0], start]), loss="soft_l1", f_scale=0.3
    )  # fmt: skip
    return np.asarray(fit.x)
