"""From the measured record to what is told of it: strokes, sound, body, findings. Needs no video, so it can be told again at once."""

from __future__ import annotations

from dataclasses import dataclass, replace

from dolcezza.core.arm.figures import ArmSeries
from dolcezza.core.assignment.exercise import Exercise
from dolcezza.core.bowing.series import BowSeries, as_filmed
from dolcezza.core.findings.body import BodyReport, body_report
from dolcezza.core.findings.finding import Finding
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.media.probe import TakeFile
from dolcezza.core.strokes.figures import Stroke, find_strokes
from dolcezza.core.tone.report import ToneReport
from dolcezza.services.fitfile import Fit
from dolcezza.services.judging import asked_match, judge
from dolcezza.services.listening import Heard
from dolcezza.services.watching import measured_scale

NO_STROKE = "No stroke was found: the bow was seen, but it hardly moved."


@dataclass(frozen=True)
class Told:
    """What a record says. ``series`` in pixels of the picture as it was filmed; ``body`` None = no arm, ``tone`` None = no sound."""

    series: BowSeries
    strokes: list[Stroke]
    findings: list[Finding]
    body: BodyReport | None
    tone: ToneReport | None


def tell(
    own: BowSeries, heard: Heard | None, arm: ArmSeries | None, *, fit: Fit, file: TakeFile, profile: Profile,
    exercise: Exercise | None, recognise: bool = True, like: list[Stroke] | None = None, window: tuple[float, float] | None = None,
) -> Told:  # fmt: skip
    """Tell a record ``own`` (in pixels as measured, not turned back yet).

    ``exercise``: what was to be played, None = recognise it if ``recognise``. ``like``: strokes told before; of these, all that neither
    moved nor reach into the ``window`` (s) that was measured again stay as they were.
    """
    spec = fit.spec
    width, scale = filmed(fit, file)
    series = as_filmed(own, width, scale=scale)
    strokes = find_strokes(series, heard.loud if heard is not None else None, fit.strokes)
    if like is not None:
        strokes = [_kept(s, like, window, 1.0 / series.rate_hz) for s in strokes]
    tone = heard.report(series, strokes, spec) if heard is not None else None
    body = None
    if arm is not None:
        body = body_report(own, strokes, arm, spec, profile, fit.relaxed_s)
        body = replace(body, posture={n: f.as_filmed(width, scale=scale) for n, f in body.posture.items()})
    matched = asked_match(strokes, spec.strings, exercise) if exercise is not None or recognise else None
    findings = judge(own, strokes, body, tone, spec, profile, matched)
    return Told(series, strokes, findings, body, tone)


def filmed(fit: Fit, file: TakeFile) -> tuple[int | None, float]:
    """How to get from the measured picture back to the filmed one: its width where it was turned left for right, and the scale."""
    return (file.width if fit.flip else None), 1.0 / measured_scale(file)


def _kept(stroke: Stroke, like: list[Stroke], window: tuple[float, float] | None, near_s: float) -> Stroke:
    """The stroke as it was told before, if nothing of it has changed but its number."""
    if window is not None and stroke.start_s <= window[1] and window[0] <= stroke.end_s:
        return stroke
    for old in like:
        same = abs(old.start_s - stroke.start_s) < near_s and abs(old.end_s - stroke.end_s) < near_s
        if same and (old.by_hand, old.direction, old.string) == (stroke.by_hand, stroke.direction, stroke.string):
            return replace(old, number=stroke.number)
    return stroke
