"""The take's sound on the video's clock."""

from __future__ import annotations

from pathlib import Path

import av
import numpy as np
from av.error import FFmpegError

from dolcezza.core.base.arrays import Array
from dolcezza.core.media.probe import opened, slowness


def read_sound(path: Path, *, rate_hz: int) -> tuple[Array, float] | None:
    """The sound as mono samples in -1..1 at ``rate_hz`` and the time (s, video clock) of its first sample.

    None for a take without sound. What can be read of a broken file is returned. Slow motion sounds as it was played: as much faster and
    higher as it was saved slower.
    """
    with opened(path) as container:
        if not container.streams.audio:
            return None
        stream = container.streams.audio[0]
        video = container.streams.video[0] if container.streams.video else None
        video_start = float((video.start_time or 0) * (video.time_base or 0)) if video is not None else 0.0
        slow = slowness(container) if video is not None else 1.0
        resampler = av.AudioResampler(format="flt", layout="mono", rate=max(1, round(rate_hz / slow)))
        parts: list[Array] = []
        start: float | None = None
        try:
            for frame in container.decode(stream):
                if start is None:
                    start = (float(frame.time or 0.0) - video_start) / slow
                parts += [f.to_ndarray().ravel() for f in resampler.resample(frame)]
            parts += [f.to_ndarray().ravel() for f in resampler.resample(None)]
        except FFmpegError:
            pass
        return (np.concatenate(parts), start or 0.0) if parts else None
