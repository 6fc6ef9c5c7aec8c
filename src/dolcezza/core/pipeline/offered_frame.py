"""Which frame is offered for setting landmarks: a sharp one on which the bow hand is away from the instrument."""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import ModelsMissing
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.media.probe import probe
from dolcezza.core.media.video import read_frames
from dolcezza.core.models.asked import Models

LOOKS = 16
WITHIN_S = 20.0
"""So many frames are looked at, from the first seconds of the video."""
LONGEST_PX = 512
SHARP_SHARE = 0.6
"""A frame less sharp than this share of the usual one is not offered."""
SHOULDERS, WRISTS = (11, 12), (15, 16)
LEAST_VISIBLE = 0.3


def offered_frame(video: Path, models: Models) -> Work[float]:
    """Time (s) of the frame to begin with. The wrist of the bow hand is farthest from the left hand at the tip, where the hand covers
    nothing of the instrument; without models, or with nobody to be seen, the sharpest frame. Raises MediaError."""
    length_s = min(WITHIN_S, max(probe(video).duration_s, 0.1))
    times, sharp, apart = [], [], []
    for frame in read_frames(video, grey=False, every_s=length_s / LOOKS):
        if frame.t_s > length_s:
            break
        h, w = frame.image.shape[:2]
        scale = min(1.0, LONGEST_PX / max(h, w))
        small = cv2.resize(frame.image, (max(1, round(scale * w)), max(1, round(scale * h))), interpolation=cv2.INTER_AREA)
        times.append(frame.t_s)
        sharp.append(float(cv2.Laplacian(cv2.cvtColor(small, cv2.COLOR_RGB2GRAY), cv2.CV_64F).var()))
        apart.append(_wrists_apart(small, models))
        yield Progress(Stage.SKIMMING, len(times), LOOKS)
    return times[_best(np.array(sharp), np.array(apart))]


def _wrists_apart(image: Array, models: Models) -> float:
    """Distance of the wrists in shoulder widths; NaN where it is not seen."""
    try:
        points = models.body(image, anew=True).result()
    except ModelsMissing:
        return float("nan")
    if points is None or (points[[*WRISTS], 2] < LEAST_VISIBLE).any():
        return float("nan")
    shoulders, wrists = (float(np.hypot(*(points[a, :2] - points[b, :2]))) for a, b in (SHOULDERS, WRISTS))
    return wrists / max(shoulders, 1.0)


def _best(sharp: Array, apart: Array) -> int:
    """Number of the frame to offer: the hand farthest away among the sharp ones, else the sharpest."""
    good = np.isfinite(apart) & (sharp >= SHARP_SHARE * np.median(sharp))
    return int(np.where(good, apart, -np.inf).argmax()) if good.any() else int(sharp.argmax())
