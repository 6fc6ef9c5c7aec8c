"""Small pictures from all along a take, so that any moment shows something at once while the exact frame is still being decoded."""

from __future__ import annotations

from bisect import bisect_left
from pathlib import Path

import cv2

from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.media.video import read_frames

LONGEST_PX = 640
APART_S = 0.1
MOST_PICTURES = 3600
"""A long take is skimmed more coarsely: about 90 MB at most."""
QUALITY = 80


class Skim:
    """Pictures by time, growing while the take is skimmed. Reading and adding may happen in two threads."""

    def __init__(self) -> None:
        self._times: list[float] = []
        self._jpegs: list[bytes] = []

    def __len__(self) -> int:
        return len(self._times)

    def add(self, t_s: float, jpeg: bytes) -> None:
        """One more picture, later than all before."""
        self._jpegs.append(jpeg)
        self._times.append(t_s)

    def nearest(self, t_s: float, *, within_s: float) -> tuple[float, bytes] | None:
        """Time and JPEG of the picture nearest to a moment; None where there is none near enough."""
        n = len(self._times)
        k = bisect_left(self._times, t_s, 0, n)
        near = [j for j in (k - 1, k) if 0 <= j < n and abs(self._times[j] - t_s) <= within_s]
        if not near:
            return None
        best = min(near, key=lambda j: abs(self._times[j] - t_s))
        return self._times[best], self._jpegs[best]


def skim(path: Path, into: Skim, *, duration_s: float) -> Work[None]:
    """Go through a take once and keep a small colour picture every so often. Raises MediaError when nothing can be read."""
    apart = max(APART_S, duration_s / MOST_PICTURES)
    total = max(1, round(duration_s / apart))
    for frame in read_frames(path, grey=False, every_s=apart):
        h, w = frame.image.shape[:2]
        scale = min(1.0, LONGEST_PX / max(h, w))
        small = cv2.resize(frame.image, (max(1, round(scale * w)), max(1, round(scale * h))), interpolation=cv2.INTER_AREA)
        into.add(frame.t_s, cv2.imencode(".jpg", cv2.cvtColor(small, cv2.COLOR_RGB2BGR), [cv2.IMWRITE_JPEG_QUALITY, QUALITY])[1].tobytes())
        yield Progress(Stage.SKIMMING, min(len(into), total), total)
