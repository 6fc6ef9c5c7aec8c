"""One of two phones: its video as it was measured alone, and what is told again when the other's is known too."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np

from dolcezza.core.arm.figures import ArmSeries, measure_arm
from dolcezza.core.arm.standing import OtherPhone
from dolcezza.core.assignment.exercise import Exercise
from dolcezza.core.base.arrays import Array
from dolcezza.core.base.message import Message
from dolcezza.core.body.points import BodySeen
from dolcezza.core.bowing.measure import Measured
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.camera.lens import LensPrior
from dolcezza.core.pipeline.cache import MeasurementCache, solve
from dolcezza.core.pipeline.clocks import Clocks
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.manual import joints_by_hand
from dolcezza.core.pipeline.measure import NO_ARM, TakeAnalysis
from dolcezza.core.pipeline.report import NO_STROKE, Report, report_on
from dolcezza.core.pipeline.second_phone import SecondPhone
from dolcezza.core.strokes.passages import passages, said_of

TOLD_ANEW = ("note.passages", "note.zero would help", NO_STROKE.id, NO_ARM.id)


@dataclass(frozen=True)
class Phone:
    """One phone's video as it was measured alone."""

    analysis: TakeAnalysis
    context: Context
    cache: MeasurementCache

    @classmethod
    def of(cls, video: Path, analysis: TakeAnalysis) -> Phone:
        """Of a video that was just measured."""
        assert analysis.cache is not None
        return cls(analysis, Context.of(video, analysis.file, analysis.fit), analysis.cache)

    def solved(self, more: Array | None = None) -> Measured:
        """Its bow; ``more`` (n, 7): what strings and pairs cost besides."""
        return solve(
            self.cache, self.context.model, self.context.spec, zero_s=self.context.fit.zero, edits=self.context.fit.strokes, more=more
        )

    @property
    def late_s(self) -> float:
        """By how much the sound was found to be late and was moved."""
        heard = self.cache.heard
        return heard.offset.late_s if heard is not None and heard.offset is not None and heard.offset.matters else 0.0

    def arm(self, own: BowSeries, others: Sequence[OtherPhone] = ()) -> ArmSeries | None:
        """The arm that goes with a record, by its own looks and by what ``others`` have seen."""
        looks = self.cache.body if self.cache.body is not None else BodySeen.of([], [])
        return measure_arm(self.context.model, own, self.cache.poses, looks, joints_by_hand(self.context), others)

    def player(self, clock: Clocks) -> list[OtherPhone]:
        """What this, the second phone, has seen of the player, on the first one's clock; empty where it has seen nobody."""
        body = self.cache.body
        if body is None or not len(body) or not body.found.any():
            return []
        near = np.abs(self.cache.t_s[:, None] - body.t_s[None]).argmin(axis=0)
        poses = self.cache.poses.rows(near)
        there = BodySeen(clock.first(body.t_s), body.points, body.visible)
        return [OtherPhone(there, poses, LensPrior(poses.focal), poses.center, clock.sd_s)]


def told_again(one: Phone, own: BowSeries, arm: ArmSeries | None, exercise: Exercise | None) -> tuple[BowSeries, Report]:
    """The record ``own`` with its arm and its sound, and what it says."""
    if arm is not None:
        own = own.with_columns(arm.columns)
    heard = one.cache.heard
    if heard is not None:
        own = own.with_columns(heard.columns(own, one.context.spec))
    return own, report_on(own, heard, arm, one.context, profile=one.analysis.profile, exercise=exercise)


def joined_analysis(
    one: Phone, told: Report, arm: ArmSeries | None, used: SecondPhone, said: list[Message], timings: dict[str, float], began: float
) -> TakeAnalysis:  # fmt: skip
    """The first one's analysis with what both tell; ``timings``: seconds of the second by stage; ``began``: when that was begun."""
    first = one.analysis
    notes = [n for n in first.notes if n.id not in TOLD_ANEW] + said
    notes += [n for n in [said_of(passages(told.strokes))] if n.id]
    notes += [NO_ARM] if arm is None else []
    notes += [NO_STROKE] if not told.strokes else []
    both = {f"first {k}": v for k, v in first.timings.items() if k != "total"} | {f"second {k}": v for k, v in timings.items()}
    return replace(
        first, series=told.series, strokes=told.strokes, findings=told.findings, body=told.body, tone=told.tone, notes=notes,
        timings={**both, "total": time.perf_counter() - began}, cache=replace(one.cache, arm=arm), second=used,
    )  # fmt: skip


def elbow_sd(alone: ArmSeries | None, both: ArmSeries | None) -> tuple[float, float]:
    """The median ± (deg) of the elbow's level from the first phone alone and from both, NaN where it was not told."""
    out = []
    for arm in (alone, both):
        sd = arm.columns["elbow_level_sd_deg"] if arm is not None else np.zeros(0)
        known = sd[np.isfinite(sd)]
        out.append(float(np.median(known)) if len(known) else float("nan"))
    return out[0], out[1]
