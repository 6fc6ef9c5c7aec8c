"""From the measured record to what is told of it: strokes, sound, body, findings. Needs no video, so it can be told again at once."""

from __future__ import annotations

from dataclasses import dataclass, replace

from dolcezza.core.arm.figures import ArmSeries
from dolcezza.core.assignment.exercise import Exercise
from dolcezza.core.base.message import Message
from dolcezza.core.bowing.series import BowSeries, as_filmed
from dolcezza.core.findings.finding import Finding
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.findings.rules.arm import BodyReport, body_report
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.judge import asked_match, judge
from dolcezza.core.pipeline.sound_pass import Heard
from dolcezza.core.strokes.figures import Stroke, find_strokes
from dolcezza.core.tone.report import ToneReport

NO_STROKE = Message("note.no stroke")


@dataclass(frozen=True)
class Report:
    """What a record says. ``series`` in pixels of the picture as it was filmed; ``body`` None = no arm, ``tone`` None = no sound."""

    series: BowSeries
    strokes: list[Stroke]
    findings: list[Finding]
    body: BodyReport | None
    tone: ToneReport | None


def report_on(
    own: BowSeries, heard: Heard | None, arm: ArmSeries | None, context: Context, *, profile: Profile,
    exercise: Exercise | None, recognise: bool = True, like: list[Stroke] | None = None, window: tuple[float, float] | None = None,
) -> Report:  # fmt: skip
    """Tell a record ``own`` (in pixels as measured, not turned back yet).

    ``exercise``: what was to be played, None = recognise it if ``recognise``. ``like``: strokes told before; of these, all that neither
    moved nor reach into the ``window`` (s) that was measured again stay as they were.
    """
    fit, spec = context.fit, context.spec
    width, scale = context.as_filmed
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
    return Report(series, strokes, findings, body, tone)


def _kept(stroke: Stroke, like: list[Stroke], window: tuple[float, float] | None, near_s: float) -> Stroke:
    """The stroke as it was told before, if nothing of it has changed but its number."""
    if window is not None and stroke.start_s <= window[1] and window[0] <= stroke.end_s:
        return stroke
    for old in like:
        same = abs(old.start_s - stroke.start_s) < near_s and abs(old.end_s - stroke.end_s) < near_s
        if same and (old.by_hand, old.direction, old.string) == (stroke.by_hand, stroke.direction, stroke.string):
            return replace(old, number=stroke.number)
    return stroke
