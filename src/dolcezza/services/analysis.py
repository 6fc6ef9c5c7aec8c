"""The whole measurement of a take as one generator: follow, find, choose, solve, cut into strokes, judge."""

from __future__ import annotations

import time
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np

import dolcezza
from dolcezza.core.base.errors import PinError, TrackingError
from dolcezza.core.base.job import Progress, Work
from dolcezza.core.bowing.measure import measure_bow, steady_poses
from dolcezza.core.bowing.series import BowSeries, turned_back
from dolcezza.core.camera.pose import PinFit, fit_moments
from dolcezza.core.camera.precision import ViewPrecision, predict
from dolcezza.core.findings.profiles import Profile, default_profile
from dolcezza.core.findings.rules import Finding, find
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.media.audio import read_sound
from dolcezza.core.media.probe import TakeFile, probe
from dolcezza.core.media.video import FrameStore, read_frames
from dolcezza.core.sound.level import Loudness, loudness, silence
from dolcezza.core.sound.pitch import RATE_HZ, track_pitch
from dolcezza.core.sound.strings import open_pitches, string_costs
from dolcezza.core.strokes.figures import Stroke, find_strokes
from dolcezza.core.tracking.bow_find import BowFinder, Candidate
from dolcezza.core.tracking.bow_path import choose, lines_of
from dolcezza.core.tracking.instrument import Followed, InstrumentFollower, PinnedFrame, put_right
from dolcezza.core.tracking.strings_seen import Sample, clean_picture, see_strings
from dolcezza.services.fitfile import Fit, flipped

Array = np.ndarray

PROGRESS_EVERY = 5
SAMPLES = 36
"""About so many frames of a take are looked at again for the strings."""
LOST_SHARE = 0.5
"""Share of frames without instrument, or without bow, from which the take is not measured at all."""


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
    notes: list[str] = field(default_factory=list)
    version: str = dolcezza.__version__

    @property
    def model(self) -> InstrumentModel:
        """Geometry of the instrument that was measured."""
        return InstrumentModel(self.fit.spec)


def fitted(model: InstrumentModel, fit: Fit, file: TakeFile) -> list[tuple[float, PinFit]]:
    """Fit the pinned moments, in the picture as it is measured (flipped where needed). Raises PinError."""
    points = [flipped(m.points, file.width) if fit.flip else m.points for m in fit.pins]
    return list(zip([m.t_s for m in fit.pins], fit_moments(model, points, size=file.size), strict=True))


def analyse(video: Path, fit: Fit, *, profile: Profile | None = None) -> Work[TakeAnalysis]:
    """Measure a take. Yields progress; returns the analysis. Raises a DolcezzaError with a sentence for bad input."""
    started = time.perf_counter()
    timings: dict[str, float] = {}
    yield Progress("opening the video", 0, 1)
    file = probe(video)
    spec = fit.spec
    model = InstrumentModel(spec)
    profile = profile or default_profile(spec)
    moments = fitted(model, fit, file)
    store = FrameStore(video, grey=True, flip=fit.flip)
    try:
        pinned = [PinnedFrame(t, store.at(t).image, pf.camera) for t, pf in moments]
    finally:
        store.close()
    pin_fit = moments[0][1]
    scale_px = max(file.size) / 1280.0
    precision = predict(model, pin_fit, scale_px=scale_px)
    timings["fit"] = time.perf_counter() - started

    followed, candidates, times, samples = yield from _watch(video, file, fit, model, pinned, timings)
    notes = _check_seen(file, followed, candidates, times)

    yield Progress("solving the bow", 0, 1)
    begin = time.perf_counter()
    length_px = _length_px(model, pin_fit)
    moments, followed = _aligned(model, fit, file, moments, followed, samples, times, scale_px)
    pin_fit = moments[0][1]
    lines = lines_of(choose(candidates, length_px=length_px), length_px=length_px, scale_px=scale_px)
    t_s = np.array(times)
    rate = 1.0 / float(np.median(np.diff(t_s)))
    poses = steady_poses(followed, rate_hz=rate)
    hint, loud = _listen(video, spec.family, t_s)
    measured = measure_bow(
        model, lines, poses, t_s, pin_fit.covariance, scale_px=scale_px,
        instrument_confidence=np.array([f.confidence for f in followed]),
        hint=hint, silent=silence(loud, t_s) if loud is not None else None, zero_s=fit.zero,
    )  # fmt: skip
    if measured.zero is not None:
        z = measured.zero
        notes.append(f"Zero set: {z.bias_deg:+.1f} ± {z.sd_deg:.1f} degrees taken off every bow angle.")
    series = turned_back(measured.series, file.width) if fit.flip else measured.series
    timings["solve"] = time.perf_counter() - begin
    begin = time.perf_counter()
    strokes = find_strokes(series, loud)
    if not strokes:
        notes.append("No stroke was found: the bow was seen, but it hardly moved.")
    findings = find(strokes, spec, profile)
    timings["strokes"] = time.perf_counter() - begin
    timings["total"] = time.perf_counter() - started
    yield Progress("done", 1, 1)
    return TakeAnalysis(file, fit, profile, pin_fit, precision, series, strokes, findings, timings, notes)


def _watch(
    video: Path, file: TakeFile, fit: Fit, model: InstrumentModel, pinned: list[PinnedFrame], timings: dict[str, float]
) -> Work[tuple[list[Followed], list[list[Candidate]], list[float], list[Sample]]]:
    """One pass over the frames: pose of the instrument, candidates for the bow, and some frames to look at again."""
    follower = InstrumentFollower(model, pinned)
    finder = BowFinder(model, (file.height, file.width))
    followed: list[Followed] = []
    candidates: list[list[Candidate]] = []
    times: list[float] = []
    samples: list[Sample] = []
    total = max(1, round(file.duration_s * file.frame_rate))
    apart = max(1, total // SAMPLES)
    spent = {"decode": 0.0, "follow": 0.0, "find": 0.0}
    mark = time.perf_counter()
    for frame in read_frames(video, grey=True, flip=fit.flip):
        now = time.perf_counter()
        spent["decode"] += now - mark
        if times and frame.t_s <= times[-1]:
            mark = time.perf_counter()
            continue
        seen = follower.step(frame.image, frame.t_s)
        after = time.perf_counter()
        spent["follow"] += after - now
        candidates.append(finder.find(frame.image, seen.camera) if seen.confidence > 0 else [])
        if len(times) % apart == 0 and seen.confidence > 0 and len(samples) < 2 * SAMPLES:
            samples.append(Sample(frame.image.copy(), seen.camera))
        followed.append(seen)
        times.append(frame.t_s)
        mark = time.perf_counter()
        spent["find"] += mark - after
        if frame.index % PROGRESS_EVERY == 0:
            yield Progress("watching the bow", frame.index + 1, max(total, frame.index + 1))
            mark = time.perf_counter()
    timings.update(spent)
    if len(times) < 5:
        raise TrackingError(f"{file.path.name} has only {len(times)} frames.", "Choose a video of at least a few strokes.")
    return followed, candidates, times, samples


def _aligned(
    model: InstrumentModel, fit: Fit, file: TakeFile, moments: list[tuple[float, PinFit]], followed: list[Followed],
    samples: list[Sample], times: list[float], scale_px: float,
) -> tuple[list[tuple[float, PinFit]], list[Followed]]:  # fmt: skip
    """Pins and poses put right by the strings that the whole take shows; as they were where no strings are seen."""
    points = [flipped(m.points, file.width) if fit.flip else m.points for m in fit.pins]
    lines = []
    for _, pf in moments:
        picture, corner = clean_picture(model, pf.camera, samples)
        lines.append(see_strings(model, pf, picture, corner, scale_px=scale_px))
    if not any(lines):
        return moments, followed
    try:
        better = fit_moments(model, points, size=file.size, lines=lines)
    except PinError:
        return moments, followed
    fixed = [(t, pf) for (t, _), pf in zip(moments, better, strict=True)]
    pinned_at = np.array([t for t, _ in moments])
    nearest = [int(np.abs(pinned_at - t).argmin()) for t in times]
    return fixed, [put_right(f, moments[k][1].camera, better[k].camera) for f, k in zip(followed, nearest, strict=True)]


def _check_seen(file: TakeFile, followed: list[Followed], candidates: list[list[Candidate]], times: list[float]) -> list[str]:
    n = len(followed)
    lost = np.array([f.confidence <= 0 for f in followed])
    if lost.mean() > LOST_SHARE:
        when = times[int(np.argmax(lost))]
        raise TrackingError(
            f"The instrument cannot be followed from {when:.1f} s on.",
            "Check the pins; pin one more frame there, or film with the whole instrument in the picture and in better light.",
        )
    if np.mean([not c for c in candidates]) > LOST_SHARE:
        raise TrackingError(
            "No bow was found crossing the strings.",
            "Check that the pins sit on the bridge and the fingerboard's end, and that the whole bow is in the picture.",
        )
    notes = []
    if lost.any():
        notes.append(f"The instrument was lost in {int(lost.sum())} of {n} frames, first at {times[int(np.argmax(lost))]:.1f} s.")
    if file.duration_s and times[-1] < 0.9 * file.duration_s - 0.5:
        notes.append(f"The file breaks off at {times[-1]:.1f} s of {file.duration_s:.1f} s; measured up to there.")
    return notes


def _listen(video: Path, family: str, t_s: Array) -> tuple[Array | None, Loudness | None]:
    """What the sound says against each string, (n, 4), and how loud it is; None twice when there is nothing to hear."""
    sound = read_sound(video, rate_hz=RATE_HZ)
    if sound is None:
        return None, None
    samples, start = sound
    lowest = float(open_pitches(family)[0])
    track = track_pitch(samples, start_s=start, lowest_hz=0.9 * lowest, highest_hz=20 * lowest)
    return string_costs(track, t_s, family), loudness(samples, start_s=start, rate_hz=RATE_HZ)


def _length_px(model: InstrumentModel, fit: PinFit) -> float:
    """About how long the hair is in the picture, px."""
    depth = float(fit.camera.tvec[2])
    return 0.8 * model.spec.hair_length * fit.camera.focal / depth
