"""The take, or one stroke of it, for the student's phone: what was measured drawn in, slowed if wished, faces hidden, with sound."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import MediaError, StudioError
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.media.audio import read_sound
from dolcezza.core.media.tempo import at_tempo
from dolcezza.core.media.video import FrameStore
from dolcezza.core.media.write_video import video_writer
from dolcezza.core.pipeline.cache import MeasurementCache
from dolcezza.core.pipeline.context import MOST_SIDE_PX
from dolcezza.reports.drawn import drawn
from dolcezza.reports.faces import REACH_S, heads_at
from dolcezza.reports.language import Language
from dolcezza.services.body_model import everybodys_heads
from dolcezza.storage.files import disk_faults
from dolcezza.storage.packed import CACHE_FILE, read_packed
from dolcezza.storage.records import StoredAnalysis, Take

WIDEST_PX = 1280
SOUND_HZ = 44_100
AROUND_S = 0.25
"""Before and after a stroke that is shown alone."""
TEMPOS = (1.0, 0.5, 0.25)
CLOSELY_EVERY = 3

Heads = Callable[[float], list[tuple[float, float, float]]]


def video_out(
    take: Take, stored: StoredAnalysis, path: Path, words: Language, *, span: tuple[float, float] | None = None, tempo: float = 1.0,
    faces: bool = False,
) -> Work[Path]:  # fmt: skip
    """Write the video. ``span`` (s) None = all of it; ``tempo`` 0.5 = twice as long; ``faces`` are hidden unless they are asked for.

    Raises MediaError where the video cannot be read any more, StudioError where it cannot be written; nothing half is left behind.
    """
    path, series = Path(path), stored.series
    if path.suffix.lower() != ".mp4":
        raise StudioError(f"{path.name} is no name for a video.", "Let it end in .mp4.")
    if path.exists() and path.samefile(take.path):
        raise StudioError("This is the video itself.", "Choose another name: the one that was filmed stays as it is.")
    if not take.path.exists():
        raise MediaError(f"The video {take.path.name} is no longer where it was.", "Open it again on the students' page.")
    begin, end = span if span is not None else (0.0, float(series.t[-1]))
    chosen = np.flatnonzero((series.t >= begin) & (series.t <= end))
    if len(chosen) < 2:
        raise StudioError("There is nothing to show in this part of the video.", "Choose another stroke, or the whole video.")
    hidden = None if faces else _heads(take, stored)
    made = path.with_name(f".writing-{path.name}")
    try:
        with disk_faults(path):
            yield from _write(take, stored, made, chosen, words, hidden, tempo)
            made.replace(path)
    finally:
        made.unlink(missing_ok=True)
    return path


def _write(
    take: Take, stored: StoredAnalysis, path: Path, chosen: Array, words: Language, hidden: Heads | None, tempo: float
) -> Work[None]:
    series, around = stored.series, _Around()
    store = FrameStore(take.path)
    try:
        scale = min(1.0, WIDEST_PX / max(store.info.width, store.info.height))
        size = (round(store.info.width * scale), round(store.info.height * scale))
        sound = read_sound(take.path, rate_hz=SOUND_HZ)
        with video_writer(path, size, series.rate_hz * tempo, SOUND_HZ if sound is not None else None) as out:
            for count, k in enumerate(int(i) for i in chosen):
                t_s = float(series.t[k])
                image = store.at(t_s).image
                others = around.at(image, t_s) if hidden is not None else []
                picture = drawn(image, series, k, hidden(t_s) if hidden is not None else None, words, others)
                out.picture(cv2.resize(picture, size, interpolation=cv2.INTER_AREA) if scale < 1 else picture)
                if count % 10 == 0:
                    yield Progress(Stage.PICTURES, count, len(chosen))
            if sound is not None:
                samples, start_s = sound
                a, b = (max(0, round((float(series.t[k]) - start_s) * SOUND_HZ)) for k in (chosen[0], chosen[-1]))
                out.sound(at_tempo(np.asarray(samples[a:b], np.float32), rate_hz=SOUND_HZ, tempo=tempo))
    finally:
        store.close()


class _Around:
    """The heads of everybody in the frames of a video, each hidden for a while longer: a face that is lost for a moment is still there."""

    def __init__(self) -> None:
        self._seen: list[tuple[float, tuple[float, float, float]]] = []
        self._count = 0

    def at(self, image: Array, t_s: float) -> list[tuple[float, float, float]]:
        """The heads of a frame (h, w, 3), RGB, and of those just before it."""
        # who is small in the picture is looked for in every third one
        found = everybodys_heads(image, closely=self._count % CLOSELY_EVERY == 0)
        self._count += 1
        self._seen = [(t, head) for t, head in self._seen if 0 <= t_s - t <= REACH_S] + [(t_s, head) for head in found]
        return [head for _, head in self._seen]


def _heads(take: Take, stored: StoredAnalysis) -> Heads:
    """Where the head is at each moment, by what the measurement has kept; nothing known = all but the bow is hidden."""
    try:
        cache = read_packed(MeasurementCache, stored.folder / CACHE_FILE)
    except (StudioError, OSError):
        cache = None
    told = stored.summary.get("fit", {})
    flip = (told.get("handed") == "left") != bool(told.get("mirrored"))
    reduced = min(1.0, MOST_SIDE_PX / max(take.width, take.height))

    def at(t_s: float) -> list[tuple[float, float, float]]:
        if cache is None or cache.body is None:
            return []
        found = [(x / reduced, y / reduced, r / reduced) for x, y, r in heads_at(cache.body, t_s)]
        return [(take.width - x if flip else x, y, r) for x, y, r in found]

    return at
