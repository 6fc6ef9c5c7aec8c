"""One playing filmed by two phones: each video measured, their clocks laid together, bow and arm told by both."""

from __future__ import annotations

import time
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np

from dolcezza.core.arm.figures import ArmSeries, measure_arm
from dolcezza.core.arm.two_views import arms_joined
from dolcezza.core.assignment.exercise import Exercise
from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import MediaError
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.base.message import Message
from dolcezza.core.bowing.measure import Measured, bow_columns
from dolcezza.core.bowing.same_bow import SAME_BOW, BowClock, lay_bows
from dolcezza.core.bowing.series import BowSeries, as_filmed, check
from dolcezza.core.bowing.two_views import CONTRADICT, SHARED, Joined, joined, on_clock
from dolcezza.core.camera.lens import LensPrior
from dolcezza.core.camera.precision import BRIDGE_SD_DEG
from dolcezza.core.camera.unknowns import expected
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.media.audio import read_sound
from dolcezza.core.models.asked import Models
from dolcezza.core.pipeline.cache import MeasurementCache, solve
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.fit_file import Fit
from dolcezza.core.pipeline.manual import joints_by_hand
from dolcezza.core.pipeline.measure import NO_ARM, TakeAnalysis, measure_take
from dolcezza.core.pipeline.report import NO_STROKE, report_on
from dolcezza.core.pipeline.second_phone import SecondPhone
from dolcezza.core.sound.pitch import RATE_HZ
from dolcezza.core.sound.together import Together, lay_together
from dolcezza.core.strokes.passages import passages, said_of

NEAR_SOUND_S = 0.3
"""Sound may run before or behind the picture by so much in either phone together."""
OTHER_STRING = 4.0
"""What a string costs on which the other phone does not see the bow."""
MOST_SHARE = 0.6
"""Where the sound does not tell, so much of the playing must be seen by both and run together."""
BY_SOUND_SD_S = 0.02
"""Where the bow's motion does not tell the moment: sound and picture of a phone run apart by about so much."""


@dataclass(frozen=True)
class _Phone:
    """One phone's video as it was measured alone."""

    analysis: TakeAnalysis
    context: Context
    cache: MeasurementCache

    @classmethod
    def of(cls, video: Path, analysis: TakeAnalysis) -> _Phone:
        assert analysis.cache is not None
        return cls(analysis, Context.of(video, analysis.file, analysis.fit), analysis.cache)

    def solved(self, more: Array | None = None) -> Measured:
        return solve(
            self.cache, self.context.model, self.context.spec, zero_s=self.context.fit.zero, edits=self.context.fit.strokes, more=more
        )

    @property
    def late_s(self) -> float:
        """By how much the sound was found to be late and was moved."""
        heard = self.cache.heard
        return heard.offset.late_s if heard is not None and heard.offset is not None and heard.offset.matters else 0.0

    def arm(self, own: BowSeries) -> ArmSeries | None:
        looks = self.cache.body
        return measure_arm(self.context.model, own, self.cache.poses, looks, joints_by_hand(self.context)) if looks is not None else None


def measure_two(
    videos: tuple[Path, Path], fits: tuple[Fit, Fit], models: Models, *, profile: Profile | None = None, exercise: Exercise | None = None
) -> Work[TakeAnalysis]:  # fmt: skip
    """Measure one playing from two videos; the record is on the first one's clock and in its picture.

    Raises a DolcezzaError with a sentence for bad input, also where the two are not of one playing."""
    began = time.perf_counter()
    if fits[0].instrument != fits[1].instrument:
        raise MediaError(f"The two videos are of different instruments: {fits[0].instrument} and {fits[1].instrument}.", "Set both alike.")
    first = yield from measure_take(videos[0], fits[0], models, profile=profile, exercise=exercise, first_strokes=False)
    second = yield from measure_take(videos[1], fits[1], models, profile=profile, exercise=exercise, first_strokes=False)
    yield Progress(Stage.SOLVING, 0, 1)
    one, two = _Phone.of(videos[0], first), _Phone.of(videos[1], second)
    clock = clocks(one.analysis, two.analysis, _sounds(videos), one.late_s - two.late_s)
    a, b = one.solved(), two.solved()
    a, b = one.solved(_strings(b, clock.second(a.parts.t_s), a)), two.solved(_strings(a, clock.first(b.parts.t_s), b))
    sd = expected(one.context.spec, scale_px=1.0, lens=LensPrior(1.0), assumed=one.cache.poses.camera(0))[1][SHARED]
    here = joined(a.parts, on_clock(b.parts, clock.second(a.parts.t_s)), sd, clock_sd_s=clock.sd_s)
    there = joined(b.parts, on_clock(a.parts, clock.first(b.parts.t_s)), sd, clock_sd_s=clock.sd_s)
    if not here.both.any():
        raise MediaError("The two videos show the bow at no common moment on a string.", "Film the same playing with both phones.")
    own, theirs = _record(one, a, here), _record(two, b, there)
    arm, notes = one.arm(own), []
    other = two.arm(theirs)
    arm = arms_joined(arm, other, theirs.t, clock.second(own.t))
    if arm is None:
        notes.append(NO_ARM)
    else:
        own = own.with_columns(arm.columns)
    heard = one.cache.heard
    if heard is not None:
        own = own.with_columns(heard.columns(own, one.context.spec))
    told = report_on(own, heard, arm, one.context, profile=first.profile, exercise=exercise)
    between = between_phones(one.cache, two.cache, clock.second(one.cache.t_s), one.context.model)
    width, scale = two.context.as_filmed
    used = SecondPhone(
        videos[1], two.context.fit, clock.offset_s, clock.drift, clock.sd_s, between, _usual_sd(a.series, here), _usual_sd(own, here),
        as_filmed(theirs, width, scale=scale),
    )  # fmt: skip
    notes += [n for n in first.notes if n.id not in ("note.passages", "note.zero would help", NO_STROKE.id, NO_ARM.id)]
    notes += [said_of_two(used), *([Message("note.two disagree", {"apart": here.apart})] if here.apart > CONTRADICT else [])]
    notes += [n for n in [said_of(passages(told.strokes))] if n.id]
    if not told.strokes:
        notes.append(NO_STROKE)
    yield Progress(Stage.DONE, 1, 1)
    timings = {f"first {k}": v for k, v in first.timings.items() if k != "total"} | {
        f"second {k}": v for k, v in second.timings.items() if k != "total"
    }
    return replace(
        first, series=told.series, strokes=told.strokes, findings=told.findings, body=told.body, tone=told.tone, notes=notes,
        timings={**timings, "total": time.perf_counter() - began}, cache=replace(one.cache, arm=arm), second=used,
    )  # fmt: skip


@dataclass(frozen=True)
class Clocks:
    """A moment t of the first video is ``t + offset_s + drift * t`` in the second, ± ``sd_s``."""

    offset_s: float
    drift: float
    sd_s: float

    def second(self, t_s: Array) -> Array:
        """Moments of the first (n,) s on the second's clock."""
        return t_s + self.offset_s + self.drift * t_s

    def first(self, t_s: Array) -> Array:
        """Moments of the second (n,) s on the first's clock."""
        return (t_s - self.offset_s) / (1 + self.drift)


def clocks(first: TakeAnalysis, second: TakeAnalysis, sound: Together | None, late_s: float) -> Clocks:
    """Two videos' clocks laid together: by their sound, then by how the bow moves in both. ``late_s``: by how much more the first one's
    sound comes behind its picture. Raises MediaError where they are not of one playing."""
    by_sound = sound.offset_s + late_s if sound is not None else None
    drift = sound.drift if sound is not None and sound.sure else 0.0
    # on a second clock that goes as the first one does
    t_first, t_second = first.series.t, second.series.t / (1 + drift)
    pair = (t_first, first.series["bow_position"], t_second, second.series["bow_position"])
    found: BowClock | None = None
    if sound is not None and by_sound is not None:
        found = lay_bows(*pair, near_s=by_sound, reach_s=NEAR_SOUND_S, least_share=0.0 if sound.sure else MOST_SHARE)
        if found is None and sound.sure:
            return Clocks(by_sound, drift, BY_SOUND_SD_S)
    elif sound is None:
        whole = max(float(t_first[-1]), float(t_second[-1])) - 1.0
        found = lay_bows(*pair, near_s=0.0, reach_s=whole, least_share=MOST_SHARE)
    if found is None or not found.same or ((sound is None or not sound.sure) and found.apart > 0.5 * SAME_BOW):
        raise MediaError(
            "These two videos do not seem to be of the same playing: neither sound nor bow run together.",
            "Film one playing with both phones at the same time, with sound.",
        )
    if by_sound is None or sound is None or not sound.sure:
        return Clocks(found.offset_s, 0.0, found.sd_s)
    weights = np.array([found.sd_s, BY_SOUND_SD_S]) ** -2.0
    offset = float(weights @ [found.offset_s * (1 + drift), by_sound] / weights.sum())
    return Clocks(offset, drift, float(weights.sum() ** -0.5))


def _sounds(videos: tuple[Path, Path]) -> Together | None:
    read = [read_sound(v, rate_hz=RATE_HZ) for v in videos]
    if read[0] is None or read[1] is None:
        return None
    return lay_together(read[0][0], read[1][0], rate_hz=RATE_HZ, starts_s=(read[0][1], read[1][1]))


def _strings(other: Measured, at_s: Array, mine: Measured) -> Array:
    """What each string and pair costs in my frames (n, 7) by where the other phone sees the bow."""
    seen = on_clock(other.parts, at_s)
    costs = np.zeros((len(mine.parts.t_s), 7))
    known = np.flatnonzero(seen.measured)
    costs[known] = OTHER_STRING
    costs[known, seen.string[known]] = 0.0
    return costs


def _record(phone: _Phone, alone: Measured, told: Joined) -> BowSeries:
    """The joined record in the picture of one phone."""
    model, poses = phone.context.model, phone.cache.poses
    sd = np.sqrt(np.maximum(np.einsum("naa->na", told.covariance), 1e-12))
    sd[:, 1] = np.hypot(sd[:, 1], BRIDGE_SD_DEG)
    take_sd = np.minimum(np.sqrt(np.maximum(told.take_covariance[:, 1, 1], 0.0)), sd[:, 1])
    params = np.where(told.measured[:, None], told.params, np.nan)
    values = bow_columns(model, poses, params, sd, take_sd, np.maximum(told.string, 0), told.measured, alone.series.t, 0.0)
    values["lifted"] = np.where(told.measured, 0.0, alone.series["lifted"])
    values["confidence"] = np.where(told.measured, np.maximum(alone.series["confidence"], 0.5), 0.0)
    values["instrument_confidence"] = alone.series["instrument_confidence"]
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
