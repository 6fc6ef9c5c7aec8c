"""A second look at a take whose hair is not bright: dark hair is looked for beside what was followed, or the whole bow in every frame."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.base.message import Message
from dolcezza.core.bowing.whole_bow import BAND_SD_PX, hair_of_band
from dolcezza.core.media.video import Frame
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.frame_pass import PROGRESS_EVERY, FramePass
from dolcezza.core.tracking.bow_find import BAND_WIDTHS, BowFinder
from dolcezza.core.tracking.bow_line import Candidate

LEAST_BELIEVED = 0.5
"""Share of the frames with a whole bow in which its hair must be seen."""
WHOLE_BOW = Message("note.whole bow")


def frames_again(context: Context, seen: FramePass) -> Iterator[tuple[int, Frame]]:
    """The frames that the pass over the take has kept, with their numbers."""
    k = 0
    for frame in context.frames():
        if k >= len(seen.times):
            return
        if frame.t_s >= seen.times[k] - 1e-6:
            yield k, frame
            k += 1


def look_for_whole_bow(context: Context, seen: FramePass) -> Work[FramePass]:
    """The same frames with the hair's lines as whole bows have them; frames without one have none, all have none where what was found
    is mostly the stick alone."""
    finder: BowFinder | None = None
    found: list[list[Candidate]] = []
    believed: list[bool] = []
    before: Candidate | None = None
    for k, frame in frames_again(context, seen):
        finder = finder or BowFinder(context.model, frame.image.shape[:2], dark=True, widths=BAND_WIDTHS)
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


def look_for_dark_hair(context: Context, seen: FramePass, followed: list[Candidate | None]) -> Work[FramePass]:
    """The same frames with the dark line beside what was ``followed``: the stick, or the gap between stick and hair."""
    finder: BowFinder | None = None
    found: list[list[Candidate]] = []
    for k, frame in frames_again(context, seen):
        finder = finder or BowFinder(context.model, frame.image.shape[:2], dark=True)
        like, at = followed[k], seen.followed[k]
        hair = finder.away_from_stick(frame.image, at.camera, like) if like is not None and at.confidence > 0 else None
        # a part of it may lie in the stick's shadow, or behind it
        sd = np.array([BAND_SD_PX * context.scale_px, 0.0])
        found.append([replace(hair, fit_sd=np.hypot(hair.fit_sd, sd))] if hair is not None else [])
        if k % PROGRESS_EVERY == 0:
            yield Progress(Stage.WHOLE_BOW, k + 1, len(seen.times))
    found += [[] for _ in range(len(seen.times) - len(found))]
    return replace(seen, candidates=found, colours=[None] * len(seen.times))
