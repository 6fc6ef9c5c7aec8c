"""One playing filmed by two phones: each video measured, their clocks laid together, bow and arm told by both."""

from __future__ import annotations

import time
from pathlib import Path

import numpy as np

from dolcezza.core.assignment.exercise import Exercise
from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import MediaError
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.base.message import Message
from dolcezza.core.bowing.measure import Measured, bow_columns
from dolcezza.core.bowing.series import BowSeries, as_filmed, check
from dolcezza.core.bowing.two_views import CONTRADICT, SHARED, Joined, joined, on_clock
from dolcezza.core.camera.lens import LensPrior
from dolcezza.core.camera.precision import BRIDGE_SD_DEG
from dolcezza.core.camera.unknowns import expected
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.models.asked import Models
from dolcezza.core.pipeline.cache import MeasurementCache
from dolcezza.core.pipeline.clocks import clocks, sounds
from dolcezza.core.pipeline.fit_file import Fit
from dolcezza.core.pipeline.measure import TakeAnalysis, measure_take
from dolcezza.core.pipeline.phone import Phone, elbow_sd, joined_analysis, told_again
from dolcezza.core.pipeline.player_beside import filmed_together, with_player
from dolcezza.core.pipeline.second_phone import SecondPhone

OTHER_STRING = 4.0
"""What a string costs on which the other phone does not see the bow."""


def measure_two(
    videos: tuple[Path, Path], fits: tuple[Fit, Fit], models: Models, *, profile: Profile | None = None, exercise: Exercise | None = None
) -> Work[TakeAnalysis]:  # fmt: skip
    """Measure one playing from two videos; the record is on the first one's clock and in its picture. A second fit without landmarks is of
    a video that shows the player and not the instrument: it tells the arm alone.

    Raises a DolcezzaError with a sentence for bad input, also where the two are not of one playing."""
    began = time.perf_counter()
    if fits[0].instrument != fits[1].instrument:
        raise MediaError(f"The two videos are of different instruments: {fits[0].instrument} and {fits[1].instrument}.", "Set both alike.")
    # what makes the two useless together is said before anything is measured
    heard = None if fits[1].landmarks else filmed_together(videos)
    first = yield from measure_take(videos[0], fits[0], models, profile=profile, exercise=exercise, first_strokes=False)
    if heard is not None:
        return (yield from with_player(videos, first, fits[1], models, sound=heard, exercise=exercise, began=began))
    second = yield from measure_take(videos[1], fits[1], models, profile=profile, exercise=exercise, first_strokes=False)
    yield Progress(Stage.SOLVING, 0, 1)
    one, two = Phone.of(videos[0], first), Phone.of(videos[1], second)
    clock = clocks(one.analysis, two.analysis, sounds(videos), one.late_s - two.late_s)
    a, b = one.solved(), two.solved()
    a, b = one.solved(_strings(b, clock.second(a.parts.t_s), a)), two.solved(_strings(a, clock.first(b.parts.t_s), b))
    sd = expected(one.context.spec, scale_px=1.0, lens=LensPrior(1.0), assumed=one.cache.poses.camera(0))[1][SHARED]
    here = joined(a.parts, on_clock(b.parts, clock.second(a.parts.t_s)), sd, clock_sd_s=clock.sd_s)
    there = joined(b.parts, on_clock(a.parts, clock.first(b.parts.t_s)), sd, clock_sd_s=clock.sd_s)
    if not here.both.any():
        raise MediaError("The two videos show the bow at no common moment on a string.", "Film the same playing with both phones.")
    own, theirs = _record(one, a, here), _record(two, b, there)
    arm = one.arm(own, two.player(clock))
    own, told = told_again(one, own, arm, exercise)
    between = between_phones(one.cache, two.cache, clock.second(one.cache.t_s), one.context.model)
    width, scale = two.context.as_filmed
    used = SecondPhone(
        videos[1], two.context.fit, clock.offset_s, clock.drift, clock.sd_s, between, _usual_sd(a.series, here), _usual_sd(own, here),
        as_filmed(theirs, width, scale=scale), elbow=elbow_sd(one.cache.arm, arm),
    )  # fmt: skip
    said = [said_of_two(used), *([Message("note.two disagree", {"apart": here.apart})] if here.apart > CONTRADICT else [])]
    yield Progress(Stage.DONE, 1, 1)
    return joined_analysis(one, told, arm, used, said, {k: v for k, v in second.timings.items() if k != "total"}, began)


def _strings(other: Measured, at_s: Array, mine: Measured) -> Array:
    """What each string and pair costs in my frames (n, 7) by where the other phone sees the bow."""
    seen = on_clock(other.parts, at_s)
    costs = np.zeros((len(mine.parts.t_s), 7))
    known = np.flatnonzero(seen.measured)
    costs[known] = OTHER_STRING
    costs[known, seen.string[known]] = 0.0
    return costs


def _record(phone: Phone, alone: Measured, told: Joined) -> BowSeries:
    """The joined record in the picture of one phone."""
    model, poses = phone.context.model, phone.cache.poses
    sd = np.sqrt(np.maximum(np.einsum("naa->na", told.covariance), 1e-12))
    sd[:, 1] = np.hypot(sd[:, 1], BRIDGE_SD_DEG)
    take_sd = np.minimum(np.sqrt(np.maximum(told.take_covariance[:, 1, 1], 0.0)), sd[:, 1])
    params = np.where(told.measured[:, None], told.params, np.nan)
    values = bow_columns(model, poses, params, sd, take_sd, np.maximum(told.string, 0), told.measured, alone.series.t, 0.0)
    values["lifted"] = np.where(told.measured, 0.0, alone.series["lifted"])
    values["confidence"] = np.where(told.measured, np.maximum(alone.series["confidence"], 0.5), 0.0)
    for name in ("instrument_confidence", "moment_sd_s"):
        values[name] = alone.series[name]
    series = BowSeries(values, [model.stops[s] if ok else "" for s, ok in zip(told.string, told.measured, strict=True)])
    check(series)
    return series


def between_phones(first: MeasurementCache, second: MeasurementCache, at_s: Array, model: InstrumentModel) -> float:
    """How far apart (deg) the two phones stood as the instrument sees them, the median over what both have filmed."""
    other = np.clip(np.searchsorted(second.t_s, at_s), 0, len(second.t_s) - 1)
    inside = (at_s >= second.t_s[0]) & (at_s <= second.t_s[-1])
    ways = []
    for poses, rows in ((first.poses, np.arange(len(at_s))), (second.poses, other)):
        place = -np.einsum("nji,nj->ni", poses.rotation[rows], poses.translation[rows]) - model.middle
        ways.append(place / np.linalg.norm(place, axis=1, keepdims=True))
    cosine = np.clip((ways[0] * ways[1]).sum(axis=1), -1, 1)[inside]
    return float(np.degrees(np.median(np.arccos(cosine)))) if inside.any() else float("nan")


def _usual_sd(series: BowSeries, told: Joined) -> tuple[float, float]:
    use = told.both & np.isfinite(series["bow_angle_sd_deg"])
    if not use.any():
        return float("nan"), float("nan")
    return float(np.median(series["bow_angle_sd_deg"][use])), float(np.median(series["contact_point_sd_mm"][use]))


def said_of_two(used: SecondPhone) -> Message:
    """What the second phone gave."""
    return Message("note.two phones", {
        "between": used.between_deg, "ms": 1000 * used.sd_s, "angle": used.alone[0], "angle_both": used.together[0], "mm": used.alone[1],
        "mm_both": used.together[1],
    })  # fmt: skip
