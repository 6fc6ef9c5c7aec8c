"""The whole measurement of a take as one generator: follow, find, choose, solve, cut into strokes, judge."""

from __future__ import annotations

import time
from dataclasses import dataclass, field, replace
from pathlib import Path

import numpy as np

import dolcezza
from dolcezza.core.arm.figures import measure_arm, share_held
from dolcezza.core.assignment.exercise import Exercise
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.base.message import NOTHING, Message
from dolcezza.core.bowing.known_take import know_take
from dolcezza.core.bowing.measure import MOMENT_SD_S
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.bowing.zero import HAND_SD_DEG
from dolcezza.core.camera.lens import LensPrior
from dolcezza.core.camera.pose import LandmarkFit
from dolcezza.core.camera.precision import ViewPrecision, predict
from dolcezza.core.camera.unknowns import as_doubtful_as_told, at, from_landmarks
from dolcezza.core.findings.finding import Finding
from dolcezza.core.findings.profiles import Profile, default_profile
from dolcezza.core.findings.rules.arm import BodyReport
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.media.probe import TakeFile, probe
from dolcezza.core.media.repeated import late_by
from dolcezza.core.models.asked import Models
from dolcezza.core.pipeline.alignment import (
    aligned,
    doubtful_landmarks,
    fitted,
    left_beside,
    looked_at,
    marked_moments,
    with_own_lengths,
)
from dolcezza.core.pipeline.body_pass import BodyPass
from dolcezza.core.pipeline.bow_lines import bow_lines
from dolcezza.core.pipeline.cache import MeasurementCache, of_either_hand, solve
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.filming import about_the_instrument, said_of_filming
from dolcezza.core.pipeline.fit_file import Fit
from dolcezza.core.pipeline.frame_pass import check_measurable, check_seen, watch
from dolcezza.core.pipeline.landmark_pass import LandmarkPass
from dolcezza.core.pipeline.manual import heads_set, joints_by_hand
from dolcezza.core.pipeline.place import known_bias
from dolcezza.core.pipeline.preview import Preview
from dolcezza.core.pipeline.report import NO_STROKE, report_on
from dolcezza.core.pipeline.second_phone import SecondPhone
from dolcezza.core.pipeline.sound_pass import listen
from dolcezza.core.pipeline.stick_pass import BY_STICK
from dolcezza.core.pipeline.which_hand import doubtful_hand
from dolcezza.core.pipeline.whole_bow_pass import WHOLE_BOW
from dolcezza.core.strokes.figures import Stroke
from dolcezza.core.strokes.passages import passages, said_of
from dolcezza.core.tone.report import ToneReport
from dolcezza.core.tracking.instrument import KeyFrame
from dolcezza.core.tracking.trajectory import steady_poses

ZERO_FROM_DEG, ZERO_SHARE = 2.2, 0.7
"""A zero is offered where the angle's ± is at least so large, and would become so much smaller."""
NO_ARM = Message("note.no arm")


@dataclass(frozen=True)
class TakeAnalysis:
    """All that one measurement gives. ``timings`` are seconds by stage; ``second``: what a second phone's video was for, if any."""

    file: TakeFile
    fit: Fit
    profile: Profile
    landmark_fit: LandmarkFit
    precision: ViewPrecision
    series: BowSeries
    strokes: list[Stroke]
    findings: list[Finding]
    timings: dict[str, float]
    body: BodyReport | None = None
    notes: list[Message] = field(default_factory=list)
    version: str = dolcezza.__version__
    tone: ToneReport | None = None
    cache: MeasurementCache | None = None
    second: SecondPhone | None = None

    @property
    def model(self) -> InstrumentModel:
        """Geometry of the instrument that was measured."""
        return InstrumentModel(self.fit.spec)


def measure_take(
    video: Path, fit: Fit, models: Models, *, profile: Profile | None = None, exercise: Exercise | None = None, first_strokes: bool = True
) -> Work[TakeAnalysis]:  # fmt: skip
    """Measure a take; body and hand points are asked of ``models``; ``exercise``: what was to be played, None = recognise it.

    Yields progress, of longer takes with the first strokes (``FirstStrokes``) if they are wanted; returns the analysis. Raises a
    DolcezzaError with a sentence for bad input.
    """
    clock = _StageClock()
    yield Progress(Stage.OPENING, 0, 1)
    file = probe(video)
    check_measurable(file)
    context = Context.of(video, file, fit)
    profile = profile or default_profile(context.spec)
    marked = fitted(context)
    moments = looked_at(context, marked, models)
    context = replace(context, length_px=_length_px(context.model, moments[0][1]))
    body = BodyPass(context.model, file.duration_s, models)
    store = context.store()
    try:
        keys = [KeyFrame(t, store.at(t).image, pf.camera) for t, pf in moments]
    finally:
        store.close()
    precision = predict(context.model, moments[0][1], scale_px=context.scale_px)
    clock.ends("fit")
    heard, said_of_sound = listen(video, context.spec.family, fit.tuning_cents)
    clock.ends("sound")
    lens = LensPrior.of(context.size, context.focal)
    by_landmarks = from_landmarks(context.model, marked_moments(context, moments), scale_px=context.scale_px, lens=lens)
    preview = Preview(context, heard, by_landmarks.covariance)
    landmarks = LandmarkPass(context.model, file.duration_s, models)
    seen = yield from watch(context, keys, body, landmarks, clock.spent, preview.tell if first_strokes else None)
    notes = doubtful_landmarks(fit, marked) + check_seen(file, seen)
    late_s = late_by(np.array(seen.changes.each), np.array(seen.times))
    if late_s > 0:
        notes.append(Message("note.repeated frames"))
    if file.slow > 1:
        notes.append(Message("note.slow motion", {"rate": file.frame_rate, "slow": file.slow}))

    yield Progress(Stage.SOLVING, 0, 1)
    clock.begins()
    moments, seen, shown = aligned(context, moments, seen)
    notes += left_beside(context, moments)
    landmark_fit = moments[0][1]
    context = replace(context, length_px=_length_px(context.model, landmark_fit))
    t_s = np.array(seen.times)
    poses = steady_poses(seen.followed, context.model.middle, t_s=t_s)
    lines, said_of_bow = yield from bow_lines(context, seen, poses)
    notes += [*said_of_bow, *said_of_sound]
    looks, said_of_body = body.seen()
    told = as_doubtful_as_told(context.model, marked_moments(context, moments, shown), scale_px=context.scale_px, lens=lens)
    learnt, lines = know_take(
        context.model, lines, poses, t_s, told, scale_px=context.scale_px, lens=lens,
        hint=heard.string_costs(t_s, context.spec.family) if heard is not None else None,
        silent=heard.silence(t_s, context.spec) if heard is not None else None, body=looks,
        heads_set=heads_set(context, t_s),
    )  # fmt: skip
    model, poses = at(context.model, poses, learnt.values)
    fit, said = with_own_lengths(fit, learnt)
    notes += said
    context = replace(context, fit=fit, model=model)
    whole_bow = WHOLE_BOW in said_of_bow or BY_STICK in said_of_bow
    cache = MeasurementCache(
        t_s, lines, poses, learnt.covariance, np.array([f.in_body for f in seen.followed]), learnt.lean_deg,
        np.array([f.confidence for f in seen.followed]), context.scale_px, context.length_px, heard=heard,
        keys_s=tuple(t for t, _ in moments), whole_bow=whole_bow, moment_sd_s=max(late_s, MOMENT_SD_S),
    )  # fmt: skip
    known, said = known_bias(fit, poses)
    notes += said
    cache = replace(cache, known=known)
    measured = solve(cache, model, context.spec, zero_s=fit.zero, edits=fit.strokes)
    if measured.zero is not None:
        z = measured.zero
        notes.append(Message("note.zero", {"bias": z.bias_deg, "sd": z.sd_deg}))
        cache = replace(cache, zero=z)
    clock.ends("solve")
    notes += said_of_body
    arm = measure_arm(model, measured.series, poses, looks, joints_by_hand(context))
    if arm is None and not said_of_body:
        notes.append(NO_ARM)
    own = measured.series if arm is None else measured.series.with_columns(arm.columns)
    cache = replace(cache, held=share_held(own, poses, looks))
    if doubt := doubtful_hand(fit, cache.held):
        own, cache = of_either_hand(own), replace(cache, handed_told=False)
        notes.insert(0, doubt)
    clock.ends("arm")
    if heard is not None:
        # a whole bow tells its place too roughly for some hundredths of a second between sound and picture
        heard = heard.with_picture(own) if not whole_bow else replace(heard, loud=replace(heard.loud, rings=True))
        own = own.with_columns(heard.columns(own, context.spec))
    report = report_on(own, heard, arm, context, profile=profile, exercise=exercise)
    notes += [n for n in (report.tone.notes if report.tone is not None else ()) if n not in notes]
    notes += [n for n in (said_of(passages(report.strokes)), zero_would_help(report.series, cache)) if n.id]
    notes += said_of_filming(
        file, report.series, report.strokes, about_the_instrument(model, seen.samples, context.scale_px), context.scale_px
    )
    if not report.strokes:
        notes.append(NO_STROKE)
    clock.ends("strokes")
    yield Progress(Stage.DONE, 1, 1)
    return TakeAnalysis(
        file, fit, profile, landmark_fit, precision, report.series, report.strokes, report.findings, clock.total(), report.body, notes,
        tone=report.tone, cache=replace(cache, heard=heard, body=looks, arm=arm),
    )  # fmt: skip


class _StageClock:
    """Seconds by stage."""

    def __init__(self) -> None:
        self.spent: dict[str, float] = {}
        self._started = self._mark = time.perf_counter()

    def begins(self) -> None:
        """A stage begins now."""
        self._mark = time.perf_counter()

    def ends(self, stage: str) -> None:
        """A stage ends, and the next begins."""
        now = time.perf_counter()
        self.spent[stage] = now - self._mark
        self._mark = now

    def total(self) -> dict[str, float]:
        """All stages, and the whole."""
        return {**self.spent, "total": time.perf_counter() - self._started}


def zero_would_help(series: BowSeries, cache: MeasurementCache) -> Message:
    """By how much a moment known to be straight would narrow the angle's ±, where that is worth the trouble; ``NOTHING`` where not."""
    whole, shared = (series[name] for name in ("bow_angle_sd_deg", "bow_angle_take_sd_deg"))
    if cache.zero is not None or not np.isfinite(whole).any():
        return NOTHING
    now = float(np.nanmedian(whole))
    then = float(np.nanmedian(np.sqrt(np.maximum(whole**2 - shared**2, 0.0) + HAND_SD_DEG**2)))
    if now < ZERO_FROM_DEG or then > ZERO_SHARE * now:
        return NOTHING
    return Message("note.zero would help", {"now": now, "then": then})


def _length_px(model: InstrumentModel, fit: LandmarkFit) -> float:
    """About how long the hair is in the picture, px."""
    depth = float(fit.camera.tvec[2])
    return 0.8 * model.spec.hair_length * fit.camera.focal / depth
