"""How a take was filmed, and what to do next time: framing, light, sharpness, frame rate (common practice, no source: most videos fail at
one of these)."""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.message import Message
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.media.probe import TakeFile
from dolcezza.core.strokes.figures import Stroke
from dolcezza.core.tracking.strings_seen import Sample

CROPPED_FRAMES, CROPPED_SHARE = 3, 0.25
"""So many frames of a stroke with an end of the bow outside the picture crop it; from this share of the strokes on it is said."""
SMALL_SHARE = 0.25
"""A bow whose hair is shorter than this share of the picture's width, in the strokes where it looks longest, is filmed from too far."""
DARK_GREY = 45.0
"""Mean grey (of 255) below which a picture is dark."""
BLURRED_PX = 3.0
"""Edges that are wider than this (one sd, px of a picture 1280 wide) are out of focus or shaken."""
FEW_FRAMES_S = 23.5
"""Fewer frames a second show neither quick strokes nor trembling."""
PROBE_PX, OWN_PX, TOP_PERCENT = 2.0, 0.7, 99.0
"""The blur (one sd, px) that is added to see how much it changes, one that takes off the noise before, and the strongest edges."""
SLOPE_PX2 = 0.5
"""What taking the slope blurs by itself (variance, px squared)."""
PICTURES, HALF_PX = 9, 200.0
"""So many pictures of a take are looked at, so far (px of a picture 1280 wide) about the middle of the instrument."""


def about_the_instrument(model: InstrumentModel, samples: Sequence[Sample], scale_px: float) -> list[Array]:
    """Some pictures of the take, cut out around the instrument: the player is what is to be light and sharp."""
    out, half = [], round(HALF_PX * scale_px)
    for sample in samples[:: max(1, len(samples) // PICTURES)]:
        place = sample.camera.project(model.middle[None])[0]
        if not np.isfinite(place).all():
            continue
        x, y = (round(float(v)) for v in place)
        cut = sample.grey[max(0, y - half) : max(0, y + half), max(0, x - half) : max(0, x + half)]
        if min(cut.shape) > half // 2:
            out.append(cut)
    return out


def said_of_filming(
    file: TakeFile, series: BowSeries, strokes: Sequence[Stroke], pictures: Sequence[Array], scale_px: float
) -> list[Message]:
    """What would make the next video better; nothing of a good one.

    ``series`` in px of the picture as filmed; ``pictures``: grey pictures (h, w) of the instrument, ``scale_px`` px of them to one of a
    picture that is 1280 wide.
    """
    out = [*_framing(file, series, strokes)]
    if pictures and float(np.median([p.mean() for p in pictures])) < DARK_GREY:
        out.append(Message("note.dark picture"))
    if pictures and float(np.median([edge_width(p) for p in pictures])) > BLURRED_PX * scale_px:
        out.append(Message("note.blurred"))
    if file.frame_rate < FEW_FRAMES_S:
        out.append(Message("note.few frames", {"rate": file.frame_rate}))
    return out


def _framing(file: TakeFile, series: BowSeries, strokes: Sequence[Stroke]) -> list[Message]:
    out = []
    ends = {end: np.column_stack([series[f"{end}_x_px"], series[f"{end}_y_px"]]) for end in ("frog", "head")}
    spans = [(series.t >= s.start_s) & (series.t <= s.end_s) for s in strokes]
    for end, px in ends.items():
        outside = ((px < 0) | (px > np.array(file.size))).any(axis=1)
        cropped = sum(int((outside & inside).sum()) >= CROPPED_FRAMES for inside in spans)
        if cropped > CROPPED_SHARE * len(strokes):
            out.append(Message("note.cropped", {"end": Message(f"end.{end}"), "n": cropped, "of": len(strokes)}))
    length = np.linalg.norm(ends["head"] - ends["frog"], axis=1)
    lengths = [float(np.nanmedian(length[inside])) for inside in spans if np.isfinite(length[inside]).any()]
    if lengths and max(lengths) < SMALL_SHARE * file.size[0]:
        out.append(Message("note.small", {"share": 100 * max(lengths) / file.size[0]}))
    return out


def edge_width(grey: Array) -> float:
    """How wide the sharpest edges of a picture (h, w) are: the sd (px) of the blur that made them, by how one more blur weakens them."""
    fine = cv2.GaussianBlur(grey.astype(np.float32), (0, 0), OWN_PX)
    before, after = _slope(fine), _slope(cv2.GaussianBlur(fine, (0, 0), PROBE_PX))
    strong = before >= max(float(np.percentile(before, TOP_PERCENT)), 1e-6)
    if not strong.any():
        return 0.0
    kept = min(float(np.median(after[strong] / before[strong])), 0.999)
    wide = PROBE_PX**2 * kept**2 / (1 - kept**2)
    return float(np.sqrt(max(wide - OWN_PX**2 - SLOPE_PX2, 0.0)))


def _slope(picture: Array) -> Array:
    return np.hypot(cv2.Sobel(picture, cv2.CV_32F, 1, 0), cv2.Sobel(picture, cv2.CV_32F, 0, 1))
