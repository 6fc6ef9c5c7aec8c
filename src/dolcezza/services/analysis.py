"""The whole measurement of a take as one generator: follow, find, choose, solve, cut into strokes, judge."""

from __future__ import annotations

import time
from dataclasses import dataclass, field, replace
from pathlib import Path

import numpy as np

import dolcezza
from dolcezza.core.arm.figures import measure_arm
from dolcezza.core.assignment.exercise import Exercise
from dolcezza.core.base.job import Progress, Work
from dolcezza.core.bowing.measure import know_take
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.bowing.steady import steady_poses
from dolcezza.core.bowing.whole_bow import ends_of_band
from dolcezza.core.bowing.zero import HAND_SD_DEG
from dolcezza.core.camera.lens import FILE_FOCAL_LOG_SD, FOCAL_LOG_SD
from dolcezza.core.camera.pose import PinFit
from dolcezza.core.camera.poses import Poses
from dolcezza.core.camera.precision import ViewPrecision, predict
from dolcezza.core.camera.unknowns import at, from_pins
from dolcezza.core.findings.body import BodyReport
from dolcezza.core.findings.finding import Finding
from dolcezza.core.findings.profiles import Profile, default_profile
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.media.probe import TakeFile, probe
from dolcezza.core.media.video import FrameStore
from dolcezza.core.strokes.figures import Stroke
from dolcezza.core.strokes.passages import in_words, passages
from dolcezza.core.tone.report import ToneReport
from dolcezza.core.tracking.bow_find import Candidate
from dolcezza.core.tracking.bow_path import LEAST_STANDING_OUT, BowLines, choose, lines_of, stands_out
from dolcezza.core.tracking.instrument import PinnedFrame
from dolcezza.core.tracking.stickers import use_stickers
from dolcezza.services.bench import Bench, solve
from dolcezza.services.by_hand import frogs_by_hand, heads_by_hand, joints_by_hand, mend_candidates
from dolcezza.services.dark_hair import WHOLE_BOW, look_for_whole_bow
from dolcezza.services.early import EarlyStrokes
from dolcezza.services.fitfile import Fit
from dolcezza.services.listening import listen
from dolcezza.services.telling import NO_STROKE, tell
from dolcezza.services.watching import (
    Watched,
    aligned,
    check_measurable,
    check_seen,
    doubtful_pins,
    fitted,
    measured_scale,
    pinned_moments,
    watch,
    with_own_lengths,
)
from dolcezza.services.watching_body import BodyWatch

Array = np.ndarray

DARK_HAIR = (
    "The bow's hair hardly stands out from what is behind it: angle, contact point and strokes cannot be told from this video. "
    "Film before a darker, plainer wall with more light on the player, or put coloured stickers on frog and head."
)
ZERO_FROM_DEG, ZERO_SHARE = 2.2, 0.7
"""A zero is offered where the angle's ± is at least so large, and would become so much smaller."""
NO_ARM = (
    "The bow arm was not measured: nobody was found with the arm in the picture. "
    "Film from the front, from the head to the hips, the bow arm free."
)


@dataclass(frozen=True)
class TakeAnalysis:
    """All that one measurement gives. ``timings`` are seconds by stage."""

    file: TakeFile
    fit: Fit
    profile: Profile
    pin_fit: PinFit
    precision: ViewPrecision
    series: BowSeries
    strokes: list[Stroke]
    findings: list[Finding]
    timings: dict[str, float]
    body: BodyReport | None = None
    notes: list[str] = field(default_factory=list)
    version: str = dolcezza.__version__
    tone: ToneReport | None = None
    bench: Bench | None = None

    @property
    def model(self) -> InstrumentModel:
        """Geometry of the instrument that was measured."""
        return InstrumentModel(self.fit.spec)


def analyse(
    video: Path, fit: Fit, *, profile: Profile | None = None, exercise: Exercise | None = None, first_strokes: bool = True
) -> Work[TakeAnalysis]:  # fmt: skip
    """Measure a take; ``exercise``: what was to be played, None = recognise it.

    Yields progress, of longer takes with the first strokes (``Early``) if they are wanted; returns the analysis. Raises a DolcezzaError
    with a sentence for bad input.
    """
    started = time.perf_counter()
    timings: dict[str, float] = {}
    yield Progress("opening the video", 0, 1)
    file = probe(video)
    check_measurable(file)
    spec = fit.spec
    model = InstrumentModel(spec)
    profile = profile or default_profile(spec)
    moments = fitted(model, fit, file)
    body = BodyWatch(model, file.duration_s)
    reduced = measured_scale(file)
    store = FrameStore(video, grey=True, flip=fit.flip, scale=reduced)
    try:
        pinned = [PinnedFrame(t, store.at(t).image, pf.camera) for t, pf in moments]
    finally:
        store.close()
    scale_px = reduced * max(file.size) / 1280.0
    precision = predict(model, moments[0][1], scale_px=scale_px)
    timings["fit"] = time.perf_counter() - started

    begin = time.perf_counter()
    heard, said_of_sound = listen(video, spec.family, fit.tuning_cents)
    timings["sound"] = time.perf_counter() - begin
    first = moments[0][1]
    focal_sd = FILE_FOCAL_LOG_SD if file.focal_px else FOCAL_LOG_SD
    by_pins = from_pins(model, pinned_moments(fit, file, moments), scale_px=scale_px, focal_sd=focal_sd)
    early = EarlyStrokes(model, fit, file, heard, by_pins.covariance, scale_px=scale_px, length_px=_length_px(model, first))
    seen = yield from watch(video, file, fit, model, pinned, body, timings, early.tell if first_strokes else None)
    notes = doubtful_pins(fit, moments) + check_seen(file, seen)

    yield Progress("solving the bow", 0, 1)
    begin = time.perf_counter()
    moments, seen, strings = aligned(model, fit, file, moments, seen, scale_px=scale_px)
    pin_fit = moments[0][1]
    t_s = np.array(seen.times)
    poses = steady_poses(seen.followed, model.middle, rate_hz=1.0 / float(np.median(np.diff(t_s))))
    lines, more = yield from _bow_lines(video, file, fit, model, seen, poses, length_px=_length_px(model, pin_fit), scale_px=scale_px)
    notes += more
    notes += said_of_sound
    sure = np.array([f.confidence for f in seen.followed])
    keys = tuple(t for t, _ in moments)
    told, lines = know_take(
        model, lines, poses, t_s, pinned_moments(fit, file, moments, strings), scale_px=scale_px, focal_sd=focal_sd,
        hint=heard.string_costs(t_s, spec.family) if heard is not None else None,
        silent=heard.silence(t_s, spec) if heard is not None else None,
    )  # fmt: skip
    model, poses = at(model, poses, told.values)
    fit, said = with_own_lengths(fit, told)
    notes += said
    spec = fit.spec
    own_pose = np.array([f.in_body for f in seen.followed])
    bench = Bench(
        t_s, lines, poses, told.covariance, own_pose, told.lean_deg, sure, scale_px, _length_px(model, pin_fit), heard=heard, keys_s=keys,
        whole_bow=WHOLE_BOW in more,
    )  # fmt: skip
    measured = solve(bench, model, spec, zero_s=fit.zero, edits=fit.strokes)
    if measured.zero is not None:
        z = measured.zero
        notes.append(f"Zero set: {z.bias_deg:+.1f} ± {z.sd_deg:.1f} degrees taken off every bow angle.")
        bench = replace(bench, bias_deg=z.bias_deg, bias_sd_deg=z.sd_deg)
    timings["solve"] = time.perf_counter() - begin
    begin = time.perf_counter()
    looks, said = body.seen()
    notes += said
    arm = measure_arm(model, measured.series, poses, looks, joints_by_hand(fit, file))
    if arm is None and not said:
        notes.append(NO_ARM)
    own = measured.series if arm is None else measured.series.with_columns(arm.columns)
    timings["arm"] = time.perf_counter() - begin
    begin = time.perf_counter()
    if heard is not None:
        # a whole bow tells its place too roughly for some hundredths of a second between sound and picture
        heard = heard.with_picture(own) if WHOLE_BOW not in more else replace(heard, loud=replace(heard.loud, rings=True))
        own = own.with_columns(heard.columns(own, spec))
    tale = tell(own, heard, arm, fit=fit, file=file, profile=profile, exercise=exercise)
    notes += [n for n in (tale.tone.notes if tale.tone is not None else ()) if n not in notes]
    notes += [n for n in (in_words(passages(tale.strokes)), zero_would_help(tale.series, bench)) if n]
    if not tale.strokes:
        notes.append(NO_STROKE)
    timings["strokes"] = time.perf_counter() - begin
    timings["total"] = time.perf_counter() - started
    yield Progress("done", 1, 1)
    return TakeAnalysis(
        file, fit, profile, pin_fit, precision, tale.series, tale.strokes, tale.findings, timings, tale.body, notes, tone=tale.tone,
        bench=replace(bench, heard=heard, body=looks, arm=arm),
    )  # fmt: skip


def zero_would_help(series: BowSeries, bench: Bench) -> str:
    """By how much a moment known to be straight would narrow the angle's ±, where that is worth the trouble; "" where not."""
    whole, shared = (series[name] for name in ("bow_angle_sd_deg", "bow_angle_take_sd_deg"))
    if bench.bias_sd_deg or not np.isfinite(whole).any():
        return ""
    now = float(np.nanmedian(whole))
    then = float(np.nanmedian(np.sqrt(np.maximum(whole**2 - shared**2, 0.0) + HAND_SD_DEG**2)))
    if now < ZERO_FROM_DEG or then > ZERO_SHARE * now:
        return ""
    return (
        f"The angle is known to ± {now:.1f} degrees: a zero (a moment at which the bow is known to be straight) "
        f"would make that ± {then:.1f}."
    )  # fmt: skip


def _bow_lines(
    video: Path, file: TakeFile, fit: Fit, model: InstrumentModel, seen: Watched, poses: Poses, *, length_px: float, scale_px: float
) -> Work[tuple[BowLines, list[str]]]:  # fmt: skip
    """The bow's line and ends in every frame, and what is to be said about them. What the teacher set by hand wins."""
    seen = mend_candidates(video, file, fit, model, seen)
    chosen = choose(seen.candidates, length_px=length_px)
    if not _plain(chosen, length_px=length_px, scale_px=scale_px):
        again = yield from look_for_whole_bow(video, file, fit, model, seen, scale_px=scale_px)
        again = mend_candidates(video, file, fit, model, again, spread=False)
        whole = choose(again.candidates, length_px=length_px)
        if not _plain(whole, length_px=length_px, scale_px=scale_px):
            return lines_of(chosen, length_px=length_px, scale_px=scale_px), [DARK_HAIR]
        heads = heads_by_hand(fit, file, again, whole, scale_px=scale_px)
        lines = ends_of_band(model, lines_of(whole, length_px=length_px, scale_px=scale_px, heads=heads), poses)
        return frogs_by_hand(lines, fit, file, seen), [WHOLE_BOW]
    heads = heads_by_hand(fit, file, seen, chosen, scale_px=scale_px)
    lines = lines_of(chosen, length_px=length_px, scale_px=scale_px, heads=heads)
    first = [c if c is not None and found and c is found[0] else None for c, found in zip(chosen, seen.candidates, strict=True)]
    lines, stickers = use_stickers(lines, first, seen.colours, scale_px=scale_px)
    notes = [f"Stickers found on the bow: {' and '.join(s.end for s in stickers)}."] if stickers else []
    return frogs_by_hand(lines, fit, file, seen), notes


def _plain(chosen: list[Candidate | None], *, length_px: float, scale_px: float) -> bool:
    return stands_out(chosen, length_px=length_px, scale_px=scale_px) >= LEAST_STANDING_OUT


def _length_px(model: InstrumentModel, fit: PinFit) -> float:
    """About how long the hair is in the picture, px."""
    depth = float(fit.camera.tvec[2])
    return 0.8 * model.spec.hair_length * fit.camera.focal / depth
