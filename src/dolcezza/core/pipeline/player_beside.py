"""A second video that shows the player and not the instrument: its looks at the arm, laid beside the first one's bow."""

from __future__ import annotations

import time
from concurrent.futures import Future
from dataclasses import replace
from pathlib import Path

import numpy as np

from dolcezza.core.arm.beside import CLOCK
from dolcezza.core.arm.standing import OtherPhone
from dolcezza.core.assignment.exercise import Exercise
from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import MediaError, ModelsMissing
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.base.message import Message, said
from dolcezza.core.body.points import BodySeen
from dolcezza.core.camera.lens import LensPrior
from dolcezza.core.media.probe import probe
from dolcezza.core.media.video import Frame, rgb_part
from dolcezza.core.models.asked import Models
from dolcezza.core.pipeline.clocks import Clocks, sounds
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.fit_file import Fit
from dolcezza.core.pipeline.frame_pass import check_measurable
from dolcezza.core.pipeline.measure import TakeAnalysis
from dolcezza.core.pipeline.phone import Phone, elbow_sd, joined_analysis, told_again
from dolcezza.core.pipeline.second_phone import SecondPhone
from dolcezza.core.sound.together import Together

LOOKS_PER_S = 5.0
LONGEST_PX = 960
PROGRESS_EVERY = 10
FEWEST_LOOKS = 5
CLOCK_SD_S = 0.04
"""Laid together by sound alone: each phone's picture runs beside its sound by some hundredths of a second."""
NO_PLAYER = Message("note.no player")
NAN = float("nan")


def filmed_together(videos: tuple[Path, Path]) -> Together:
    """How the sound of a video lies to that of a second one that shows the player alone. Raises MediaError where sound does not say when
    the second was filmed, and a DolcezzaError with a sentence for a file that cannot be read."""
    check_measurable(probe(videos[1]))
    sound = sounds(videos)
    if sound is None or not sound.sure:
        raise MediaError(
            "The second video does not show the instrument, and its sound does not say when it was filmed.",
            "Film one playing with both phones at the same time, with sound, or set the landmarks in the second video too.",
        )
    return sound


def with_player(
    videos: tuple[Path, Path], first: TakeAnalysis, fit: Fit, models: Models, *, sound: Together, exercise: Exercise | None, began: float
) -> Work[TakeAnalysis]:  # fmt: skip
    """The first video's analysis, its arm told by both, whose ``sound`` was laid together. ``fit``: what is known of the second besides
    landmarks. Raises a DolcezzaError with a sentence for a file that cannot be read."""
    file = probe(videos[1])
    one = Phone.of(videos[0], first)
    clock = Clocks(sound.offset_s + one.late_s, sound.drift, CLOCK_SD_S)
    context = Context.of(videos[1], file, replace(fit, handed=first.fit.handed))
    mark = time.perf_counter()
    seen, notes = yield from _player(context, clock.second(_moments(one)), models)
    looked = time.perf_counter() - mark
    width, height = context.size
    there = BodySeen(clock.first(seen.t_s), seen.points, seen.visible)
    others = [OtherPhone(there, None, LensPrior.of(context.size, context.focal), (0.5 * width, 0.5 * height), clock.sd_s)]
    own = one.solved().series
    arm = one.arm(own, others if len(there) else [])
    if arm is None or not np.isfinite(arm.between_deg):
        return replace(first, notes=[*first.notes, *notes, NO_PLAYER])
    # the arm's own clock is finer than the sound's: picture against picture
    clock = clock.put_right(float(arm.chain.others[0][CLOCK]))
    _, told = told_again(one, own, arm, exercise)
    elbow = elbow_sd(one.cache.arm, arm)
    used = SecondPhone(
        videos[1], context.fit, clock.offset_s, clock.drift, clock.sd_s, arm.between_deg, (NAN, NAN), (NAN, NAN), None, elbow=elbow
    )
    yield Progress(Stage.DONE, 1, 1)
    return joined_analysis(one, told, arm, used, [*notes, said_of_player(used)], {"look": looked}, began)


def said_of_player(used: SecondPhone) -> Message:
    """What the second phone's look at the player gave."""
    values = {"between": used.between_deg, "alone": used.elbow[0], "both": used.elbow[1]}
    return Message("note.player alone" if not np.isfinite(used.elbow[0]) else "note.player beside", values)


def _moments(one: Phone) -> Array:
    """Moments (m,) s of the first video at which the second is looked at: where its own arm was looked at, or evenly."""
    body = one.cache.body
    if body is not None and body.found.sum() >= FEWEST_LOOKS:
        return body.t_s
    return np.arange(float(one.cache.t_s[0]), float(one.cache.t_s[-1]), 1 / LOOKS_PER_S)


def _player(context: Context, at_s: Array, models: Models) -> Work[tuple[BodySeen, list[Message]]]:
    """Body points at the frames next to ``at_s`` (m,) s of this video, and what is to be said."""
    models.warm("body")
    gap = 0.5 / context.file.frame_rate
    total = max(1, round(context.file.duration_s * context.file.frame_rate))
    due, asked = 0, list[tuple[float, float, Future[Array | None]]]()
    for frame in context.frames(colour=True):
        while due < len(at_s) and at_s[due] < frame.t_s - gap:
            due += 1
        if due < len(at_s) and at_s[due] <= frame.t_s + gap:
            part, scale = _whole(frame)
            asked.append((frame.t_s, scale, models.body(part, anew=not asked)))
            due += 1
        if frame.index % PROGRESS_EVERY == 0:
            yield Progress(Stage.PLAYER, min(frame.index, total), total)
    times, rows = [], []
    try:
        for t_s, scale, answer in asked:
            found = answer.result()
            times.append(t_s)
            rows.append(None if found is None else np.column_stack([found[:, :2] / scale, found[:, 2]]))
    except ModelsMissing as error:
        return BodySeen.of([], []), [Message("note.no models", {"why": said(str(error))})]
    return BodySeen.of(times, rows), []


def _whole(frame: Frame) -> tuple[Array, float]:
    height, width = frame.image.shape[:2]
    return rgb_part(frame, (0, 0, width, height), LONGEST_PX)
