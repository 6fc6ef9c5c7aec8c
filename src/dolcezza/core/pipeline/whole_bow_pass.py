"""A second look at a take whose hair does not stand out: the whole bow is looked for in every frame."""

from __future__ import annotations

from dataclasses import replace

from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.base.message import Message
from dolcezza.core.bowing.whole_bow import hair_of_band
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.frame_pass import PROGRESS_EVERY, FramePass
from dolcezza.core.tracking.bow_find import BowFinder, Candidate

LEAST_BELIEVED = 0.5
"""Share of the frames with a whole bow in which its hair must be seen."""
WHOLE_BOW = Message("note.whole bow")


def look_for_whole_bow(context: Context, seen: FramePass) -> Work[FramePass]:
    """The same frames with the hair's lines as whole bows have them; frames without one have none, all have none where what was found
    is mostly the stick alone."""
    finder: BowFinder | None = None
    found: list[list[Candidate]] = []
    believed: list[bool] = []
    before: Candidate | None = None
    for frame in context.frames():
        k = len(found)
        if k >= len(seen.times):
            break
        if frame.t_s < seen.times[k] - 1e-6:
            continue
        finder = finder or BowFinder(context.model, frame.image.shape[:2], dark=True)
        at = seen.followed[k]
        bands = finder.find(frame.image, at.camera) if at.confidence > 0 else []
        hair = [
            h for band in bands if (h := hair_of_band(finder, frame.image, at.camera, band, before, scale_px=context.scale_px)) is not None
        ]
        found.append([h.line for h in hair])
        if hair:
            believed.append(hair[0].seen)
        before = found[-1][0] if found[-1] else None
        if k % PROGRESS_EVERY == 0:
            yield Progress(Stage.WHOLE_BOW, k + 1, len(seen.times))
    if sum(believed) < LEAST_BELIEVED * len(believed):
        found = []
    found += [[] for _ in range(len(seen.times) - len(found))]
    return replace(seen, candidates=found, colours=[None] * len(seen.times))
