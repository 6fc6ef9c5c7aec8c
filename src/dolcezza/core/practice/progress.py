"""Did it help? The same figure over takes and dates, like against like, told by the uncertainties and not by eye."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

import numpy as np

from dolcezza.core.assignment.use import bow_use
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.findings.rules.arm import BodyReport
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.practice.arm_course import arm_figures, notes_figures, tone_figures
from dolcezza.core.practice.figure import Figure, Point
from dolcezza.core.strokes.figures import Stroke
from dolcezza.core.tension.signs import REFERENCES
from dolcezza.core.tone.report import ToneReport

SURE_SD = 2.0
"""A change counts when it is larger than so many of its ±."""


class Change(StrEnum):
    """What a figure did between two takes."""

    BETTER = "better"
    SAME = "same"
    WORSE = "worse"
    UNKNOWN = "can't tell"


@dataclass(frozen=True)
class Course:
    """A figure over takes. ``target``: the profile's limit; ``lower_is_better`` None = neither; ``task``: what it was taken from."""

    name: str
    unit: str
    task: str
    target: float
    points: tuple[Point, ...]
    lower_is_better: bool | None = True

    @property
    def strings(self) -> list[str]:
        """Strings that were played; () for a course that comes from no video."""
        return self.task.split(",")[0].split() if any(p.take_id for p in self.points) else []

    def change(self, before: Point, after: Point) -> Change:
        """What happened between two takes."""
        return change_of(before, after, self.lower_is_better, self.target)

    @property
    def latest(self) -> Change:
        """Since the take before."""
        return self.change(self.points[-2], self.points[-1]) if len(self.points) > 1 else Change.UNKNOWN

    def since(self, day: date) -> Change:
        """Since a day (a plan's first): the last take up to it against the newest."""
        before = [p for p in self.points if p.day <= day]
        return self.change(before[-1], self.points[-1]) if before and self.points[-1].day > day else Change.UNKNOWN


def change_of(before: Point, after: Point, lower_is_better: bool | None, target: float) -> Change:
    """By the uncertainties: a difference within its ± is *same* where the ± is small enough to have seen a change that matters (a quarter
    of the target), else *can't tell*."""
    difference, sd = after.value - before.value, float(np.hypot(before.sd, after.sd))
    if not np.isfinite([difference, sd]).all():
        return Change.UNKNOWN
    if abs(difference) <= SURE_SD * sd:
        return Change.SAME if SURE_SD * sd < max(0.25 * abs(target), 1e-9) else Change.UNKNOWN
    if lower_is_better is None:
        return Change.UNKNOWN
    return Change.BETTER if (difference < 0) == lower_is_better else Change.WORSE


def _spread(values: Sequence[float], own_sd: Sequence[float]) -> tuple[float, float]:
    """Mean and its ±: spread between the strokes, and what all strokes of the take share (the landmarks)."""
    x = np.array(values)
    between = float(np.std(x, ddof=1) / np.sqrt(len(x))) if len(x) > 1 else 0.0
    return float(x.mean()), float(np.hypot(between, np.mean(own_sd)))


USE_FIGURES = (
    ("share", "Bow used in a stroke", 100.0, " %", 85.0, False),
    ("reach_frog", "Reach at the frog", 100.0, " %", 8.0, True),
    ("evenness", "Evenness of speed", 1.0, "", 0.85, False),
)
STEADY_FIGURES = (("Shaking bow", "shake_mm", " mm", "shaking bow"), ("Bouncing stick", "bounce_deg", "°", "bouncing stick"))
"""Name, figure of a stroke, unit, and the sign of tension whose limit in the profile is the one to stay below."""


def figures(
    series: BowSeries, strokes: Sequence[Stroke], spec: InstrumentSpec, profile: Profile, *, body: BodyReport | None = None,
    tone: ToneReport | None = None,
) -> dict[str, Figure]:  # fmt: skip
    """Figures of one take that can be followed, by name; angles by third of the bow, so that like is set against like, and the lane where
    the stopped pitch puts it."""
    out: dict[str, Figure] = {}
    for third in ("frog", "middle", "tip"):
        own = [s for s in strokes if np.isfinite(s.third(third))]
        if len(own) > 1:
            # the ± of the lean is common to takes filmed alike; half of it is taken to differ
            mean, sd = _spread([abs(s.third(third)) for s in own], [0.5 * s.bow_angle_sd_deg for s in own])
            out[f"Bow angle, {third}"] = Figure(mean, sd, len(own), "°", profile.angle_limit_deg, True)
    lane = [s for s in strokes if np.isfinite(s.contact_point_mm)]
    if len(lane) > 1:
        bands = [profile.lane.band_mm(spec, semitones=s.semitones) for s in lane]
        outside = [max(0.0, low - s.contact_point_mm, s.contact_point_mm - high) for s, (low, high) in zip(lane, bands, strict=True)]
        mean, sd = _spread(outside, [s.contact_point_sd_mm for s in lane])
        out["Outside the lane"] = Figure(mean, sd, len(lane), " mm", 2.0, True)
    use = bow_use(series, strokes, hair_mm=spec.hair_length)["all"]
    for key, name, scale, unit, target, lower in USE_FIGURES:
        figure = use.figures.get(key)
        if figure is not None and np.isfinite(figure.sd):
            out[name] = Figure(scale * figure.value, scale * figure.sd, use.strokes, unit, target, lower)
    for name, field, unit, sign in STEADY_FIGURES:
        values = [v for s in strokes if np.isfinite(v := float(getattr(s, field)))]
        if len(values) > 1:
            mean, sd = _spread(values, [0.0] * len(values))
            target = profile.tension.get(sign, REFERENCES[sign]).limit
            out[name] = Figure(mean, sd, len(values), unit, target, True)
    return out | arm_figures(series, strokes, body, profile) | tone_figures(tone) | notes_figures(series, strokes)


def courses(takes: Sequence[tuple[int, date, str, dict[str, Figure]]]) -> list[Course]:
    """Figures over takes (id, day, task, figures), like against like: only takes of the same task stand in one course. Newest first."""
    found: dict[tuple[str, str], list[tuple[Point, Figure]]] = {}
    for take_id, day, task, own in sorted(takes, key=lambda t: (t[1], t[0])):
        for name, f in own.items():
            found.setdefault((task, name), []).append((Point(take_id, day, f.value, f.sd, f.strokes), f))
    out = [
        Course(name, members[-1][1].unit, task, members[-1][1].target, tuple(p for p, _ in members), members[-1][1].lower_is_better)
        for (task, name), members in found.items()
    ]
    return sorted(out, key=lambda c: (-c.points[-1].day.toordinal(), -len(c.points)))
