"""Coloured stickers on the bow's head and frog, found by themselves where they are.

A sticker shows as one strong colour that keeps its place against the bow's end while the bow moves. It makes the end sturdier
where the hair fades into a bright wall or the fingers cover it; a take without stickers is measured as before.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.precision import HEAD_SD_PX
from dolcezza.core.tracking.bow_line import Candidate
from dolcezza.core.tracking.bow_path import BowLines

LEAST_COLOUR = 28.0
"""Distance from grey in the picture's two colour channels (8 bit) from which a place is coloured."""
ALIKE = 0.9
"""Cosine between colours (about 25 degrees of hue) from which they are the same."""
WINDOW_PX = 45.0
"""How far from the hair's end a sticker is looked for (px at 1280)."""
LEAST_FRAMES = 0.4
STEADY_PX = 5.0
"""A sticker keeps its distance to the hair's end to this (median deviation, px at 1280)."""
FROG_SD_PX = 3.0
SIDE_STEPS = 5
SKIN = np.array([-0.55, 0.835])
"""Direction of skin, varnish and wood in the two colour channels (from memory; all complexions lie close together)."""
SKIN_ALIKE = 0.8
SKIN_COLOUR = 75.0
"""A sticker of skin's hue must be far more coloured than skin is."""
WIDEST_PX = 40.0
"""A sticker is a spot, not a sleeve (px at 1280)."""
GROSS_PX = 8.0
"""From this distance on the sticker is believed rather than the hair's end (px at 1280)."""


@dataclass(frozen=True)
class Sticker:
    """One sticker: ``end`` "head" or "frog", its mean ``colour`` (2,) of the two colour channels from grey, how many frames
    show it, and its place along the line against the hair's end (px)."""

    end: str
    colour: tuple[float, float]
    frames: int
    offset_px: float


def colour_along(colour: Array, line: Candidate, stick_px: Array, reach_mm: float) -> Array:
    """The most coloured thing beside each sample of a line between hair and stick: (m, 2) from grey, float32.

    ``colour`` (h, w, 2) uint8: the two colour channels, any size; it is taken for half the grey picture's. ``stick_px`` (2,)
    px by which the stick lies beside the hair per mm, ``reach_mm`` how far up it.
    """
    along = line.strip_start + line.step * np.arange(len(line.strip))
    sides = np.linspace(-0.2, 1.0, SIDE_STEPS)
    xy = line.point + along[:, None, None] * line.direction + sides[None, :, None] * stick_px * reach_mm
    at = (0.5 * xy - 0.5).astype(np.float32)
    seen = cv2.remap(colour, at[..., 0], at[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE).astype(np.float32) - 128.0
    most = np.hypot(seen[..., 0], seen[..., 1]).argmax(axis=1)
    return np.asarray(seen[np.arange(len(along)), most])


def use_stickers(
    lines: BowLines, chosen: Sequence[Candidate | None], colours: Sequence[Array | None], *, scale_px: float
) -> tuple[BowLines, list[Sticker]]:  # fmt: skip
    """The lines with ends taken from stickers where there are some, and what was found.

    ``colours``: for each frame what ``colour_along`` gave for its chosen line, None where there is none.
    """
    found = []
    for end in ("head", "frog"):
        places = lines.head if end == "head" else lines.frog
        got = _find(end, places, chosen, colours, scale_px)
        if got is None:
            continue
        sticker, where = got
        found.append(sticker)
        # where the end of the hair is seen it is the better measure; the sticker fills in and overrules gross errors
        better = np.isfinite(where) & ~(np.abs(where - places) <= GROSS_PX * scale_px)
        if end == "head":
            lines = replace(lines, head=np.where(better, where, lines.head), head_sd=np.where(better, HEAD_SD_PX, lines.head_sd))
        else:
            lines = replace(lines, frog=np.where(better, where, lines.frog), frog_sd=np.where(better, FROG_SD_PX, lines.frog_sd))
    return lines, found


def _window(line: Candidate, place: float, scale_px: float, end: str) -> slice:
    out, back = (WINDOW_PX, 0.5 * WINDOW_PX) if end == "head" else (0.3 * WINDOW_PX, 2.0 * WINDOW_PX)
    low, high = ((place + d * scale_px - line.strip_start) / line.step for d in (-back, out))
    return slice(max(0, int(low)), max(0, int(high) + 1))


def _find(
    end: str, places: Array, chosen: Sequence[Candidate | None], colours: Sequence[Array | None], scale_px: float
) -> tuple[Sticker, Array] | None:  # fmt: skip
    known = [k for k, c in enumerate(chosen) if c is not None and colours[k] is not None and np.isfinite(places[k])]
    if len(known) < 10:
        return None
    peaks, at = [], []
    for k in known:
        line, colour = chosen[k], colours[k]
        part = _window(line, places[k], scale_px, end)  # type: ignore[arg-type]
        near = colour[part]  # type: ignore[index]
        if not len(near):
            continue
        best = int(np.hypot(near[:, 0], near[:, 1]).argmax())
        peaks.append(near[best])
        at.append(k)
    if not peaks:
        return None
    vectors = np.array(peaks)
    size = np.hypot(vectors[:, 0], vectors[:, 1])
    skin = vectors @ SKIN > SKIN_ALIKE * size
    strong = size > np.where(skin, SKIN_COLOUR, LEAST_COLOUR)
    if strong.mean() < LEAST_FRAMES:
        return None
    mean = _commonest(vectors[strong] / size[strong, None])
    same = strong & (vectors @ mean > ALIKE * size)
    if same.mean() < LEAST_FRAMES:
        return None
    strength = float(np.median(size[same]))
    where = np.full(len(places), np.nan)
    trust = np.array(at)[same]
    filled = np.interp(np.arange(len(places)), trust, places[trust])
    for k, (line, colour) in enumerate(zip(chosen, colours, strict=True)):
        if line is not None and colour is not None:
            where[k] = _centre(line, colour, _window(line, filled[k], scale_px, end), mean, strength, WIDEST_PX * scale_px)
    offset = where - places
    offset = offset[np.isfinite(offset)]
    if len(offset) < LEAST_FRAMES * len(known):
        return None
    usual = float(np.median(offset))
    if float(np.median(np.abs(offset - usual))) > STEADY_PX * scale_px:
        return None
    return Sticker(end, (float(mean[0]), float(mean[1])), int(np.isfinite(where).sum()), usual), where - usual


def _commonest(units: Array) -> Array:
    """The unit vector (2,) with most neighbours of the same hue among (n, 2)."""
    alike = (units @ units.T) > ALIKE
    own = units[alike[int(alike.sum(axis=1).argmax())]].mean(axis=0)
    return np.asarray(own / max(float(np.hypot(*own)), 1e-9))


def _centre(line: Candidate, colour: Array, part: slice, mean: Array, strength: float, widest: float) -> float:
    """Middle of the sticker along the line, px from its crossing; NaN where the colour is not seen."""
    near = colour[part]
    if not len(near):
        return float("nan")
    size = np.hypot(near[:, 0], near[:, 1])
    match = np.where(near @ mean > ALIKE * size, near @ mean, 0.0)
    best = int(match.argmax())
    if match[best] < 0.5 * strength:
        return float("nan")
    low = high = best
    while low > 0 and match[low - 1] > 0.5 * match[best]:
        low -= 1
    while high + 1 < len(match) and match[high + 1] > 0.5 * match[best]:
        high += 1
    # what goes on beyond the window is no spot: a wall behind the end
    if (high - low) * line.step > widest or low == 0 or high + 1 == len(match):
        return float("nan")
    weight = match[low : high + 1]
    return float(line.strip_start + line.step * (part.start + (weight * np.arange(low, high + 1)).sum() / weight.sum()))
