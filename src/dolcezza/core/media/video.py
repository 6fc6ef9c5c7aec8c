"""Frames of a take by their true timestamps, upright, one at a time: never the whole video in memory."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av
import cv2
import numpy as np
from av.container import InputContainer
from av.error import FFmpegError
from av.video.frame import VideoFrame
from av.video.stream import VideoStream

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import MediaError
from dolcezza.core.media.probe import LOCAL_ONLY, TakeFile, local, opened, probe

_TURNS = {90: cv2.ROTATE_90_COUNTERCLOCKWISE, 180: cv2.ROTATE_180, 270: cv2.ROTATE_90_CLOCKWISE}


@dataclass(frozen=True)
class Frame:
    """One picture of the take: ``index`` counted from 0, ``t_s`` true time, ``image`` (h, w) grey or (h, w, 3) RGB, uint8.

    ``colour`` (h / 2, w / 2, 2) uint8, where asked for and the file holds it so: the two colour channels, 128 = grey.
    """

    index: int
    t_s: float
    image: Array
    colour: Array | None = None


def rgb_part(frame: Frame, box: tuple[int, int, int, int], longest: int) -> tuple[Array, float]:
    """Part of a grey frame in colour, (h, w, 3) RGB, its longer side at most ``longest`` px, and by how much it was reduced.

    ``box``: left, top, right, bottom px within the picture. Without colour channels the part stays grey.
    """
    x0, y0, x1, y1 = box
    scale = min(1.0, longest / max(x1 - x0, y1 - y0))
    size = max(1, round(scale * (x1 - x0))), max(1, round(scale * (y1 - y0)))
    light = cv2.resize(frame.image[y0:y1, x0:x1], size, interpolation=cv2.INTER_AREA)
    if frame.colour is None:
        return cv2.cvtColor(light, cv2.COLOR_GRAY2RGB), scale
    h, w = frame.image.shape[:2]
    ky, kx = frame.colour.shape[0] / h, frame.colour.shape[1] / w
    part = frame.colour[int(y0 * ky) : max(int(y0 * ky) + 1, int(y1 * ky)), int(x0 * kx) : max(int(x0 * kx) + 1, int(x1 * kx))]
    hue = cv2.resize(part, size, interpolation=cv2.INTER_AREA)
    # the order that OpenCV wants: luma, red difference, blue difference
    return cv2.cvtColor(cv2.merge([light, hue[..., 1], hue[..., 0]]), cv2.COLOR_YCrCb2RGB), scale


def _luma(frame: VideoFrame) -> Array:
    if frame.format.name.startswith(("yuv420p", "yuvj420p", "nv12", "yuv422p", "yuvj422p", "yuv444p")) and "10" not in frame.format.name:
        plane = frame.planes[0]
        rows = np.frombuffer(memoryview(plane), np.uint8).reshape(plane.height, plane.line_size)
        return rows[:, : plane.width]
    return frame.to_ndarray(format="gray")


def _chroma(frame: VideoFrame) -> Array | None:
    if frame.format.name not in ("yuv420p", "yuvj420p"):
        return None
    planes = [np.frombuffer(memoryview(p), np.uint8).reshape(p.height, p.line_size)[:, : p.width] for p in frame.planes[1:3]]
    return cv2.merge([np.ascontiguousarray(p) for p in planes])


def _upright(image: Array, rotation: int, flip: bool, scale: float = 1.0) -> Array:
    if scale != 1.0:
        image = cv2.resize(image, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
    if rotation in _TURNS:
        image = cv2.rotate(image, _TURNS[rotation])
    if flip:
        image = cv2.flip(image, 1)
    return np.ascontiguousarray(image)


def read_frames(
    path: Path, *, grey: bool = True, flip: bool = False, start_s: float = 0.0, colour: bool = False, scale: float = 1.0,
    every_s: float = 0.0,
) -> Iterator[Frame]:  # fmt: skip
    """Yield the frames of a take in order, upright, mirrored left-right if ``flip``; with the colour channels if ``colour``;
    made smaller by ``scale``; at least ``every_s`` apart.

    A file that breaks off yields what can be read and then ends. Raises MediaError when nothing can be read.
    """
    info = probe(path)
    with opened(path) as container:
        stream = container.streams.video[0]
        stream.thread_type = "AUTO"
        base = stream.time_base or Fraction(1, 90_000)
        first = float((stream.start_time or 0) * base)
        if start_s > 0:
            container.seek(int((start_s * info.slow + first) / base), stream=stream, backward=True)
        index, due = 0, -1.0
        for frame in _decoded(container, stream):
            t = (frame.time - first) / info.slow if frame.time is not None else index / info.frame_rate
            if t < due - 1e-6:
                index += 1
                continue
            due = t + every_s if every_s else due
            image = _luma(frame) if grey else frame.to_ndarray(format="rgb24")
            hue = _chroma(frame) if colour else None
            turned = [None if p is None else _upright(p, info.rotation, flip, scale) for p in (image, hue)]
            yield Frame(index, float(t), turned[0], turned[1])  # type: ignore[arg-type]
            index += 1
        if index == 0:
            raise MediaError(f"{Path(path).name} holds no picture that can be read.", "Copy it from the phone again.")


def _decoded(container: InputContainer, stream: VideoStream) -> Iterator[VideoFrame]:
    """Pictures in the order they are shown; what cannot be read is passed over, as players do, until the file breaks off."""
    packets = container.demux(stream)
    while True:
        try:
            packet = next(packets)
        except (StopIteration, FFmpegError):
            return
        try:
            yield from packet.decode()
        except FFmpegError:
            continue


NEAR_S = 0.25
"""So far ahead the next frames are decoded at once."""
BACK_BYTES = 90_000_000
"""Decoded pictures that are kept for stepping back."""


class GaveUp(Exception):
    """A picture was no longer wanted."""


class FrameStore:
    """Pictures at given times for showing: keeps the file open and seeks, and the last pictures for stepping back. Not shared between
    threads."""

    def __init__(self, path: Path, *, grey: bool = False, flip: bool = False, scale: float = 1.0) -> None:
        self.info: TakeFile = probe(path)
        self._grey, self._flip, self._scale = grey, flip, scale
        self._container = av.open(local(path), options=LOCAL_ONLY)
        self._stream = self._container.streams.video[0]
        self._stream.thread_type = "AUTO"
        self._base = self._stream.time_base or Fraction(1, 90_000)
        self._first = float((self._stream.start_time or 0) * self._base)
        self._decoder: Iterator[VideoFrame] | None = None
        self._last: VideoFrame | None = None
        self._ahead: VideoFrame | None = None
        size = max(1, int(1.5 * self.info.width * self.info.height))
        self._behind: deque[VideoFrame] = deque(maxlen=max(4, min(90, BACK_BYTES // size)))

    def close(self) -> None:
        """Let go of the file."""
        self._container.close()

    def _time(self, frame: VideoFrame) -> float:
        return ((frame.time or 0.0) - self._first) / self.info.slow

    def near(self, t_s: float) -> bool:
        """Whether the frame at ``t_s`` is had quickly: kept, or a little ahead of the one shown last."""
        now = self._time(self._last) if self._last is not None else None
        return self._kept(t_s) is not None or (now is not None and 0.0 <= t_s - now <= NEAR_S)

    def _kept(self, t_s: float) -> VideoFrame | None:
        half = 0.25 / self.info.frame_rate
        if len(self._behind) > 1 and self._time(self._behind[0]) <= t_s + half and t_s < self._time(self._behind[-1]) - half:
            return next(f for f in reversed(self._behind) if self._time(f) <= t_s + half)
        return None

    def at(self, t_s: float, given_up: Callable[[], bool] = bool) -> Frame:
        """The frame shown at ``t_s``: the last one that begins at or before it.

        ``given_up`` is asked while frames are passed over. Raises MediaError, or GaveUp when the picture is no longer wanted.
        """
        best = self._kept(t_s) or self._decode(t_s, given_up)
        image = _luma(best) if self._grey else best.to_ndarray(format="rgb24")
        return Frame(-1, self._time(best), _upright(image, self.info.rotation, self._flip, self._scale))

    def _decode(self, t_s: float, given_up: Callable[[], bool]) -> VideoFrame:
        half = 0.25 / self.info.frame_rate
        now = self._time(self._last) if self._last is not None else None
        if now is None or t_s < now - half or t_s > now + 1.0:
            self._container.seek(int((max(0.0, t_s) * self.info.slow + self._first) / self._base), stream=self._stream, backward=True)
            self._decoder, self._last, self._ahead = iter(self._container.decode(self._stream)), None, None
            self._behind.clear()
        best = self._last
        try:
            while True:
                frame = self._ahead if self._ahead is not None else next(self._decoder)  # type: ignore[arg-type]
                self._ahead = None
                if best is not None and self._time(frame) > t_s + half:
                    self._ahead = frame
                    break
                best = self._last = frame
                self._behind.append(frame)
                if given_up():
                    raise GaveUp
        except (StopIteration, FFmpegError):
            pass
        if best is None:
            raise MediaError(f"{self.info.path.name} shows no picture at {t_s:.2f} s.", "Choose another moment.")
        self._last = best
        return best
