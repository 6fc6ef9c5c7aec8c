"""A second look at a take whose hair does not stand out: the whole bow is looked for in every frame."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from dolcezza.core.base.job import Progress, Work
from dolcezza.core.bowing.whole_bow import hair_of_band
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.media.probe import TakeFile
from dolcezza.core.media.video import read_frames
from dolcezza.core.tracking.bow_find import BowFinder, Candidate
from dolcezza.services.fitfile import Fit
from dolcezza.services.watching import PROGRESS_EVERY, Watched, measured_scale

LEAST_BELIEVED = 0.5
"""Share of the frames with a whole bow in which its hair must be seen."""
WHOLE_BOW = (
    "The hair of the bow hardly stands out from what is behind it: the whole bow was followed instead, less exactly. "
    "Light on the hair makes the figures better."
)  # fmt: skip


def look_for_whole_bow(video: Path, file: TakeFile, fit: Fit, model: InstrumentModel, seen: Watched, *, scale_px: float) -> Work[Watched]:
    """The same frames with the hair's lines as whole bows have them; frames without one have none, all have none where what was found
    is mostly the stick alone."""
    finder: BowFinder | None = None
    found: list[list[Candidate]] = []
    believed: list[bool] = []
    before: Candidate | None = None
    for frame in read_frames(video, flip=fit.flip, scale=measured_scale(file)):
        k = len(found)
        if k >= len(seen.times):
            break
        if frame.t_s < seen.times[k] - 1e-6:
            continue
        finder = finder or BowFinder(model, frame.image.shape[:2], dark=True)
        at = seen.followed[k]
        bands = finder.find(frame.image, at.camera) if at.confidence > 0 else []
        hair = [h for band in bands if (h := hair_of_band(finder, frame.image, at.camera, band, before, scale_px=scale_px)) is not None]
        found.append([h.line for h in hair])
        if hair:
            believed.append(hair[0].seen)
        before = found[-1][0] if found[-1] else None
        if k % PROGRESS_EVERY == 0:
            yield Progress("looking for the whole bow", k + 1, len(seen.times))
    if sum(believed) < LEAST_BELIEVED * len(believed):
        found = []
    found += [[] for _ in range(len(seen.times) - len(found))]
    return replace(seen, candidates=found, colours=[None] * len(seen.times))
