"""What a file holds, and plain sentences for what is wrong with it."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

import av
from av.container import InputContainer
from av.error import FFmpegError

from dolcezza.core.base.errors import MediaError

FILM_DIAGONAL_MM = 43.27
STEADYING = 1.1


@dataclass(frozen=True)
class TakeFile:
    """One video file. ``width`` and ``height`` are those of the upright picture (rotation applied), px.

    ``focal_px``: focal length by the file's own lens data, None where it has none. ``slow``: a phone has saved it to be shown so many times
    slower than it was filmed, 1 = as filmed; ``frame_rate`` and ``duration_s`` are true ones.
    """

    path: Path
    width: int
    height: int
    rotation: int
    frame_rate: float
    duration_s: float
    codec: str
    has_sound: bool
    focal_px: float | None = None
    slow: float = 1.0

    @property
    def size(self) -> tuple[int, int]:
        """(width, height) of the upright picture, px."""
        return self.width, self.height


FILMED_RATE = "com.android.capture.fps"
LEAST_SLOW, MOST_SLOW = 1.5, 40.0
"""Nearer to 1 it is the rounding of a rate; more than this no phone films."""
FIRST_YEAR = 2000
"""Phones that do not know the day write that of an epoch (1904, 1970)."""
LOCAL_ONLY = {"protocol_whitelist": "file", "format_whitelist": "mov,matroska,webm,avi,mpegts,mpeg,asf,ogg,flv,wav,mp3,aac,flac"}
"""A video is one file on this machine: no address, no list of other files is followed."""


STILLS = {".png", ".jpg", ".jpeg", ".gif", ".bmp", ".webp", ".heic", ".tif", ".tiff"}


def local(path: Path) -> str:
    """A path that is never taken for an address, whatever its name."""
    return f"file:{Path(path).absolute()}"


@contextmanager
def opened(path: Path) -> Iterator[InputContainer]:
    """Open a video file and close it again; every fault becomes a MediaError with a sentence."""
    path = Path(path)
    if not path.exists():
        raise MediaError(f"The video {path.name} is no longer where it was.", "Find it again, or put it back in its folder.")
    if path.is_dir():
        raise MediaError(f"{path.name} is a folder, not a video.", "Choose a video file.")
    if path.stat().st_size == 0:
        raise MediaError(f"{path.name} is empty.", "Copy the video from the phone again.")
    try:
        container = av.open(local(path), options=LOCAL_ONLY)
    except (FFmpegError, OSError, ValueError) as error:
        if path.suffix.lower() in STILLS:
            raise MediaError(f"{path.name} is a single picture, not a video.", "Choose a video file.") from error
        damaged = "moov" in str(error) or path.suffix.lower() in {
            ".mp4",
            ".mov",
            ".mkv",
            ".webm",
            ".avi",
            ".m4v",
            ".3gp",
        }
        if damaged:
            raise MediaError(
                f"{path.name} cannot be read: it is damaged, cut off, or not a video.", "Copy it from the phone again."
            ) from error
        raise MediaError(f"{path.name} is not a video that can be read.", "Choose a video file from a phone or camera.") from error
    try:
        yield container
    finally:
        container.close()


def _rotation(container: InputContainer) -> int:
    for frame in container.decode(video=0):
        return int(round(getattr(frame, "rotation", 0) / 90.0) * 90) % 360
    return 0


def probe(path: Path) -> TakeFile:
    """Read what the file holds. Raises MediaError for a file without pictures."""
    path = Path(path)
    with opened(path) as container:
        if not container.streams.video:
            if container.streams.audio:
                raise MediaError(f"{path.name} has sound but no picture.", "Choose the video itself, not its sound.")
            raise MediaError(f"{path.name} has no picture in it.", "Choose a video file from a phone or camera.")
        stream = container.streams.video[0]
        if stream.codec_context.name in {"png", "mjpeg", "gif", "bmp", "ansi"} and not (stream.frames or 0) > 1 and not stream.duration:
            raise MediaError(f"{path.name} is a single picture, not a video.", "Choose a video file.")
        try:
            rotation = _rotation(container)
        except FFmpegError as error:
            raise MediaError(f"{path.name} holds no picture that can be read.", "Copy it from the phone again.") from error
        w, h = stream.codec_context.width, stream.codec_context.height
        if not w or not h:
            raise MediaError(f"{path.name} holds no picture that can be read.", "Copy it from the phone again.")
        rate = float(stream.average_rate or stream.guessed_rate or 30)
        length = 0.0
        if container.duration:
            length = container.duration / av.time_base
        elif stream.duration and stream.time_base:
            length = float(stream.duration * stream.time_base)
        if rotation in (90, 270):
            w, h = h, w
        focal = focal_from_tags({**container.metadata, **stream.metadata}, max(w, h))
        slow, sound = slowness(container), bool(container.streams.audio)
        return TakeFile(path, w, h, rotation, rate * slow, length / slow, stream.codec_context.name, sound, focal, slow)


def slowness(container: InputContainer) -> float:
    """How many times slower than filmed the pictures of a file are shown, 1 where no tag says so.

    Phones write at how many frames a second they filmed; slow motion is saved at fewer (tag of phones' own camera programs, from memory).
    """
    stream = container.streams.video[0]
    tags = {k.lower(): v for k, v in {**container.metadata, **stream.metadata}.items()}
    try:
        filmed = float(str(tags[FILMED_RATE]).split()[0])
        slow = filmed / float(stream.average_rate or stream.guessed_rate or 30)
    except (KeyError, ValueError, IndexError, ZeroDivisionError):
        return 1.0
    return slow if LEAST_SLOW <= slow <= MOST_SLOW else 1.0


def recorded_at(path: Path) -> datetime | None:
    """When a video was filmed, local time: by the file's own tag, which phones write in UTC; None where it has none that can be.

    Raises MediaError for a file that cannot be opened.
    """
    with opened(Path(path)) as container:
        streams = [dict(s.metadata) for s in container.streams]
        tags = [dict(container.metadata), *streams]
    for name in ("creation_time", "date"):
        for tag in tags:
            try:
                when = datetime.fromisoformat(tag[name].replace("Z", "+00:00"))
            except (KeyError, ValueError):
                continue
            if when.year >= FIRST_YEAR:
                return when.astimezone().replace(tzinfo=None) if when.tzinfo is not None else when
    return None


def focal_from_tags(tags: Mapping[str, str], longer_side_px: int) -> float | None:
    """Focal length, px, from a file's tags; None where no tag tells it.

    Phones write the focal length that gives the same picture on 35 mm film, counted over the diagonal (43.27 mm) of the
    whole 4:3 sensor, whose longer side is 0.8 of it; video then leaves a margin for steadying (about 1.1, from memory).
    """
    for name, value in tags.items():
        key = name.lower().replace("_", "").replace(".", "")
        if "focallength" in key and "35mm" in key:
            try:
                equivalent = float(str(value).split()[0])
            except (ValueError, IndexError):
                continue
            if 8.0 <= equivalent <= 400.0:
                return equivalent / (0.8 * FILM_DIAGONAL_MM) * STEADYING * longer_side_px
    return None


def fingerprint(path: Path) -> str:
    """A name for the file's content that survives moving and renaming: SHA-256 of the whole file."""
    try:
        with Path(path).open("rb") as handle:
            return hashlib.file_digest(handle, "sha256").hexdigest()
    except OSError as error:
        raise MediaError(f"{Path(path).name} cannot be read.", "Check that the file is there and may be opened.") from error
