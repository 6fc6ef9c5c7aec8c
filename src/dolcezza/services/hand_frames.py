"""The bow hand out of the take itself: frames with the hand at the frog and at the head, the sharpest and largest, cut out around it.

A frame is named by the video's path, the time and the part of the picture: nothing is copied, nothing stays when the video goes.
"""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import MediaError
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.media.video import FrameStore
from dolcezza.services.hold import HoldStill, look_at_stills

AT_FROG, AT_HEAD = 0.12, 0.85
"""Nearer to the frog than this, farther to the head than this."""
LOOKS = 8
"""So many frames of each end are compared."""
HAND_SHARE = 0.34
"""A hand on the bow with room around it, as a share of the bow's length in the picture."""
SMALL_PX = 110
"""A hand's part of the picture that is smaller shows too little: the hand is to be filmed."""


@dataclass(frozen=True)
class HandFrame:
    """One frame for a ``role`` (frog or tip): when (s), the part of the picture x, y, w, h (px), how ``sharp``."""

    video: Path
    role: str
    t_s: float
    part: tuple[int, int, int, int]
    sharp: float

    @property
    def large(self) -> bool:
        """Whether the hand is large enough in the picture."""
        return self.part[2] >= SMALL_PX

    @property
    def address(self) -> Path:
        """Where the picture is found again."""
        x, y, w, h = self.part
        return Path(f"{self.video}#t={self.t_s:.3f}&xywh={x},{y},{w},{h}")


def part_around(frog: Array, head: Array, size: tuple[int, int], share: float = HAND_SHARE) -> tuple[int, int, int, int] | None:
    """The part of a picture of ``size`` (x, y, w, h px) with the hand that holds a bow from ``frog`` to ``head`` (2,) px, as wide as this
    ``share`` of the bow; None where most of it lies outside."""
    half = 0.5 * share * float(np.linalg.norm(head - frog))
    # the hand lies around the frog, a little towards the head
    middle = frog + 0.04 * (head - frog)
    x0, y0 = np.maximum(np.floor(middle - half), 0).astype(int).tolist()
    x1, y1 = np.minimum(np.ceil(middle + half), size).astype(int).tolist()
    return None if min(x1 - x0, y1 - y0) < half else (x0, y0, x1 - x0, y1 - y0)


def hand_frames(video: Path, series: BowSeries, size: tuple[int, int]) -> Work[list[HandFrame]]:
    """The best frame at the frog and the best at the head; fewer where the bow does not go there. ``size`` of the picture (px)."""
    place, sure = series["bow_position"], series["confidence"]
    ends = {"frog": place < AT_FROG, "tip": place > AT_HEAD}
    out: list[HandFrame] = []
    store = FrameStore(video)
    try:
        for k, (role, there) in enumerate(ends.items()):
            yield Progress(Stage.PICTURES, k, len(ends))
            found = np.flatnonzero(there & np.isfinite(series["frog_x_px"]) & np.isfinite(series["head_x_px"]))
            if not len(found):
                continue
            # spread over the take, the surest of each part of it
            groups = [g for g in np.array_split(found, LOOKS) if len(g)]
            chosen = [int(g[np.nanargmax(np.nan_to_num(sure[g]))]) for g in groups]
            looks = [_look(video, store, series, i, role, size) for i in chosen]
            good = [f for f in looks if f is not None]
            if good:
                out.append(max(good, key=lambda f: (f.large, f.sharp)))
    finally:
        store.close()
    return out


@dataclass(frozen=True)
class SeenHand:
    """A frame of the take with what was told of the hand in it."""

    frame: HandFrame
    still: HoldStill


def hands_of_take(video: Path, series: BowSeries, size: tuple[int, int], *, right: bool) -> Work[list[SeenHand]]:
    """The hand at the frog and at the head out of a take itself. Raises MediaError where it is too small, or the bow does not go there."""
    found = yield from hand_frames(video, series, size)
    large = [f for f in found if f.large]
    if not large:
        seen = max((f.part[2] for f in found), default=0)
        raise MediaError(
            f"The bow hand is too small in this video ({seen} px)." if found else "The bow goes neither to the frog nor to the head here.",
            "Film the hand alone, as large as the picture.",
        )
    stills = yield from look_at_stills([f.address for f in large], right=right)
    return [SeenHand(f, s) for f, s in zip(large, stills, strict=True)]


def _look(video: Path, store: FrameStore, series: BowSeries, k: int, role: str, size: tuple[int, int]) -> HandFrame | None:
    frog = np.array([series["frog_x_px"][k], series["frog_y_px"][k]])
    head = np.array([series["head_x_px"][k], series["head_y_px"][k]])
    found = part_around(frog, head, size)
    if found is None:
        return None
    x0, y0, wide, high = found
    t_s = float(series.t[k])
    part = store.at(t_s).image[y0 : y0 + high, x0 : x0 + wide]
    grey = cv2.cvtColor(np.ascontiguousarray(part), cv2.COLOR_RGB2GRAY)
    return HandFrame(Path(video), role, t_s, found, float(cv2.Laplacian(grey, cv2.CV_64F).var()))
