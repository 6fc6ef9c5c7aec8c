"""Pictures and sound written as an MP4 that every phone plays: H.264 in 4:2:0, AAC, the index in front."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from fractions import Fraction
from pathlib import Path

import av
import numpy as np

from dolcezza.core.base.arrays import Array

QUALITY = "23"
"""Constant rate factor: 23 is x264's own default."""


class VideoWriter:
    """Frames of one size, one after the other, then the sound."""

    def __init__(self, out: av.container.OutputContainer, size: tuple[int, int], rate_hz: float, sound_hz: int | None) -> None:
        self._out = out
        self._rate = Fraction(rate_hz).limit_denominator(1001)
        self._size = (size[0] - size[0] % 2, size[1] - size[1] % 2)
        self._video = out.add_stream("libx264", rate=self._rate, options={"preset": "veryfast", "crf": QUALITY})
        self._video.width, self._video.height, self._video.pix_fmt = *self._size, "yuv420p"
        self._sound = out.add_stream("aac", rate=sound_hz, layout="mono") if sound_hz else None
        self._sound_hz = sound_hz or 0
        self._count = 0

    def picture(self, image: Array) -> None:
        """The next frame (h, w, 3) RGB."""
        w, h = self._size
        frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(image[:h, :w]), format="rgb24")
        frame.pts, frame.time_base = self._count, 1 / self._rate
        self._count += 1
        self._out.mux(self._video.encode(frame))

    def sound(self, pieces: Iterable[Array]) -> None:
        """The whole sound: mono pieces in -1..1."""
        if self._sound is None:
            return
        place = 0
        for piece in pieces:
            for a in range(0, len(piece), 1024):
                part = np.ascontiguousarray(piece[None, a : a + 1024], np.float32)
                frame = av.AudioFrame.from_ndarray(part, format="fltp", layout="mono")
                frame.sample_rate, frame.pts, frame.time_base = self._sound_hz, place, Fraction(1, self._sound_hz)
                place += part.shape[1]
                self._out.mux(self._sound.encode(frame))

    def end(self) -> None:
        """What the encoders still hold."""
        for stream in (self._video, self._sound):
            if stream is not None:
                self._out.mux(stream.encode(None))


@contextmanager
def video_writer(path: Path, size: tuple[int, int], rate_hz: float, sound_hz: int | None = None) -> Iterator[VideoWriter]:
    """Write a video of pictures of ``size`` (w, h) at ``rate_hz``; ``sound_hz`` None = silent."""
    with av.open(str(path), "w", format="mp4", options={"movflags": "+faststart"}) as out:
        writer = VideoWriter(out, size, rate_hz, sound_hz)
        yield writer
        writer.end()
