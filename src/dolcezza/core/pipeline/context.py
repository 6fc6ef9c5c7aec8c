"""What every stage of the measurement needs to know of the take: the video, what was set by hand, the instrument, the scales."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.media.probe import TakeFile
from dolcezza.core.media.video import Frame, FrameStore, read_frames
from dolcezza.core.pipeline.fit_file import Fit, flipped

MOST_SIDE_PX = 1920
"""Larger pictures are measured at this size: what a lens resolves ends about there, and the eye's click is no finer."""


@dataclass(frozen=True)
class Context:
    """One take on its way through the pipeline.

    "As measured" is the picture turned left for right where the player or the video asks for it, and reduced to at most 1920 px.
    ``model``: the instrument as it is known so far. ``length_px``: about how long the hair is in the picture as measured, NaN before the
    landmarks were fitted.
    """

    video: Path
    file: TakeFile
    fit: Fit
    model: InstrumentModel
    length_px: float = float("nan")

    @classmethod
    def of(cls, video: Path, file: TakeFile, fit: Fit, length_px: float = float("nan")) -> Context:
        """With the instrument that ``fit`` names. Raises InstrumentError."""
        return cls(video, file, fit, InstrumentModel(fit.spec), length_px)

    @property
    def spec(self) -> InstrumentSpec:
        """Dimensions of the instrument as ``fit`` has them."""
        return self.fit.spec

    @property
    def reduced(self) -> float:
        """By how much the picture is made smaller for measuring, 1 = not at all."""
        return min(1.0, MOST_SIDE_PX / max(self.file.size))

    @property
    def scale_px(self) -> float:
        """A pixel of a picture 1280 wide, in pixels as measured."""
        return self.reduced * max(self.file.size) / 1280.0

    @property
    def size(self) -> tuple[int, int]:
        """Width and height as measured, px."""
        return round(self.reduced * self.file.width), round(self.reduced * self.file.height)

    @property
    def focal(self) -> float | None:
        """Focal length by the file's own lens data, px as measured; None where it has none."""
        return self.reduced * self.file.focal_px if self.file.focal_px else None

    @property
    def landmarks(self) -> list[dict[str, tuple[float, float]]]:
        """The landmarks of every calibration frame, px as measured."""
        points = [flipped(m.points, self.file.width) if self.fit.flip else m.points for m in self.fit.landmarks]
        return [{name: (self.reduced * x, self.reduced * y) for name, (x, y) in moment.items()} for moment in points]

    def as_measured(self, xy: tuple[float, float] | None) -> Array | None:
        """A place (2,) px of the upright picture, as measured; None stays None."""
        if xy is None:
            return None
        return self.reduced * np.array([self.file.width - xy[0] if self.fit.flip else xy[0], xy[1]])

    @property
    def as_filmed(self) -> tuple[int | None, float]:
        """The way back to the filmed picture: its width where it was turned left for right, and the scale."""
        return (self.file.width if self.fit.flip else None), 1.0 / self.reduced

    def store(self) -> FrameStore:
        """Grey frames by their times, as measured. To be closed."""
        return FrameStore(self.video, grey=True, flip=self.fit.flip, scale=self.reduced)

    def frames(self, *, colour: bool = False) -> Iterator[Frame]:
        """All frames in order, as measured."""
        return read_frames(self.video, flip=self.fit.flip, scale=self.reduced, colour=colour)

    def within(self, first_s: float, last_s: float) -> Context:
        """The same with only what was set by hand on the bow between two times (s)."""
        return replace(self, fit=replace(self.fit, by_hand=tuple(p for p in self.fit.by_hand if first_s <= p.t_s <= last_s)))
