"""Pictures of a hand: files, and parts of a video's frames that an address names; nothing is copied."""

from __future__ import annotations

import re
from pathlib import Path

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import MediaError
from dolcezza.core.media.still import read_still
from dolcezza.core.media.video import FrameStore

SHOWN_PX = 640
"""A part of a frame is shown at least so large."""
_ADDRESS = re.compile(r"(?P<video>.+)#t=(?P<t>\d+\.\d+)&xywh=(?P<x>\d+),(?P<y>\d+),(?P<w>\d+),(?P<h>\d+)")


def is_frame(path: Path) -> bool:
    """Whether a path is the address of a part of a frame."""
    return _ADDRESS.fullmatch(str(path)) is not None


def read_picture(path: Path) -> Array:
    """A picture (h, w, 3) RGB: a file, or the part of a video's frame that an address names, enlarged. Raises MediaError."""
    found = _ADDRESS.fullmatch(str(path))
    if found is None:
        return read_still(path)
    video = Path(found["video"])
    if not video.exists():
        raise MediaError(f"The video {video.name} is no longer where it was.", "Open it again on the students' page.")
    store = FrameStore(video)
    try:
        frame = store.at(float(found["t"]))
    finally:
        store.close()
    x, y, w, h = (int(found[k]) for k in "xywh")
    part = frame.image[y : y + h, x : x + w]
    if part.size == 0:
        raise MediaError(f"The frame of {video.name} has no such part.", "Choose the picture again.")
    scale = max(1.0, SHOWN_PX / max(part.shape[:2]))
    return np.asarray(cv2.resize(part, None, fx=scale, fy=scale, interpolation=cv2.INTER_CUBIC))
