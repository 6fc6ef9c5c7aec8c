"""What the arm and the signs of tension come to over a take, and the findings about them."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from dolcezza.core.arm.figures import ArmSeries
from dolcezza.core.arm.joint_contributions import JOINTS, JointContributions, contributions_by_speed, contributions_by_third
from dolcezza.core.arm.posture import PostureFigure
from dolcezza.core.arm.staircase import Staircase, StairShape, staircase
from dolcezza.core.base.message import Message
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.findings.catalogue import CATALOGUE, found, on_strokes
from dolcezza.core.findings.finding import Finding, surely_above, surely_below, surely_beyond, well_seen
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.strokes.figures import Stroke
from dolcezza.core.tension.signs import Amount, Sign, Tension, tension_signs

STAIRS_CAUSE: dict[str, str] = {
    StairShape.FLAT: "elbow stays at one height",
    StairShape.BROKEN: "a level is skipped",
    StairShape.REVERSED: "levels the other way round",
}
MORE_THAN_ONE = 1.0
"""Signs of tension are told together from more than one on."""
MOVING_CM_S = 5.0
"""Slower bows say nothing about who moves them."""


@dataclass(frozen=True)
class BodyReport:
    """The arm over a take. ``by_third`` and ``by_speed``: joint shares, None = too little bow there; ``arm_seen``: share of the
    frames with a bow on which the arm was told; lengths in mm; ``posture`` noted, judged only where the profile has a band."""

    stairs: Staircase
    by_third: dict[str, JointContributions | None]
    by_speed: dict[str, JointContributions | None]
    tension: Tension
    upper_arm_mm: float
    forearm_mm: float
    arm_seen: float
    posture: dict[str, PostureFigure] = field(default_factory=dict)


def body_report(
    series: BowSeries, strokes: list[Stroke], arm: ArmSeries, spec: InstrumentSpec, profile: Profile, relaxed_s: float | None = None
) -> BodyReport:  # fmt: skip
    """Sum the arm up by string, third of the bow and speed; ``relaxed_s``: a moment at ease (s)."""
    bowing = np.zeros(len(series), bool)
    for s in strokes:
        bowing |= (series.t >= s.start_s) & (series.t <= s.end_s)
    level = np.where(bowing, series["elbow_level_deg"], np.nan)
    stairs = staircase(
        level, arm.level_error, series["elbow_level_sd_deg"], series.strings, series["bow_position"], profile.elbow_order(spec)
    )  # fmt: skip
    travel = np.column_stack([series[f"{joint}_travel_mm"] for joint in JOINTS])
    moving = bowing & (np.abs(np.nan_to_num(series["bow_speed_cm_s"])) > MOVING_CM_S)
    with_bow = np.isfinite(series["bow_angle_deg"])
    return BodyReport(
        stairs=stairs, by_third=contributions_by_third(travel, series["bow_position"], moving),
        by_speed=contributions_by_speed(travel, series["bow_speed_cm_s"], moving),
        tension=tension_signs(series, strokes, references=profile.tension, relaxed_s=relaxed_s),
        upper_arm_mm=arm.chain.upper_arm, forearm_mm=arm.chain.forearm,
        arm_seen=float(np.isfinite(series["elbow_level_deg"])[with_bow].mean()) if with_bow.any() else 0.0,
        posture=arm.posture,
    )  # fmt: skip


def body_findings(report: BodyReport, series: BowSeries, strokes: list[Stroke], spec: InstrumentSpec, profile: Profile) -> list[Finding]:
    """Findings about elbow levels, the arm's place, and the signs of tension together."""
    return [
        *_stairs(report, strokes, spec, profile),
        *_plane(strokes, profile),
        # behind the back is told against the violin's way of standing; a cellist's arm is beside the instrument
        *(_swing(series, strokes, profile) if spec.family != "cello" else []),
        *_tension(report, strokes),
    ]


def _stairs(report: BodyReport, strokes: list[Stroke], spec: InstrumentSpec, profile: Profile) -> list[Finding]:
    stairs = report.stairs
    if not profile.order_is_set(spec) or not stairs.steps:
        return []
    mean, sd = float(np.mean(stairs.steps)), float(np.sqrt(np.sum(np.square(stairs.step_sd)))) / len(stairs.steps)
    if stairs.shape is StairShape.UNKNOWN or (stairs.shape is StairShape.EVEN and mean >= profile.least_step_deg):
        return []
    shape = StairShape.FLAT if stairs.shape is StairShape.EVEN else stairs.shape
    members = [s for s in strokes if s.string in {stair.string for stair in stairs.stairs}]
    worst = stairs.stairs[int(np.argmin(stairs.steps)) + 1].string
    evidence = [s for s in members if s.string == worst] or members
    least, at_least = min(zip(stairs.steps, stairs.step_sd, strict=True))
    wrong, wrong_sd = (least, at_least) if shape is StairShape.BROKEN else (mean, sd)
    sure = surely_below(wrong, profile.least_step_deg, wrong_sd) and well_seen(evidence, len(evidence))
    order = [stair.string for stair in stairs.stairs]
    message = Message(f"stairs.{shape}", {"degrees": Message("degrees", {"n": round(mean)}), "first": order[0], "last": order[-1]})
    return [
        found(
            "elbow staircase", message, members=evidence, of=len(members), value=mean, sd=sd, limit=profile.least_step_deg, unit="deg",
            sure=sure, cause=STAIRS_CAUSE[shape],
        )
    ]  # fmt: skip


def _plane(strokes: list[Stroke], profile: Profile) -> list[Finding]:
    judged = [s for s in strokes if np.isfinite(s.elbow_to_bow_plane_mm)]
    out = []
    for high in (False, True):
        limit = profile.plane_mm.high if high else profile.plane_mm.low
        members = [s for s in judged if (s.elbow_to_bow_plane_mm > limit if high else s.elbow_to_bow_plane_mm < limit)]
        if len(members) <= 0.25 * len(judged):
            continue
        value = float(np.mean([s.elbow_to_bow_plane_mm for s in members]))
        sd = float(np.mean([np.radians(s.elbow_level_sd_deg) * 300.0 for s in members]))
        side = "high" if high else "low"
        message = Message(f"plane.{side}", {"mm": abs(value), "count": on_strokes(len(members), len(judged))})
        out.append(
            found(
                "elbow level", message, members=members, of=len(judged), value=value, sd=sd, limit=limit, unit="mm",
                sure=surely_beyond(value, limit, sd) and well_seen(members, len(judged)), cause="elbow held up" if high else "elbow hangs",
            )
        )  # fmt: skip
    return out


def _swing(series: BowSeries, strokes: list[Stroke], profile: Profile) -> list[Finding]:
    swing = series["upper_arm_swing_deg"]
    worst: dict[int, tuple[float, float]] = {}
    for s in strokes:
        inside = np.flatnonzero((series.t >= s.start_s) & (series.t <= s.end_s) & np.isfinite(swing))
        if len(inside) > 5:
            k = inside[np.argsort(swing[inside])[-max(1, len(inside) // 20)]]
            worst[s.number] = (float(swing[k]), float(series.t[k]))
    members = [n for n, (value, _) in worst.items() if value > profile.swing_limit_deg]
    if len(members) <= 0.25 * len(worst):
        return []
    value = float(np.mean([worst[n][0] for n in members]))
    message = Message("swing", {"degrees": Message("degrees", {"n": round(value - 90)}), "count": on_strokes(len(members), len(worst))})
    return [
        found(
            "elbow behind the back", message, members=[s for s in strokes if s.number in members], of=len(worst),
            at=[worst[n][1] for n in members], value=value, sd=SWING_SD_DEG, limit=profile.swing_limit_deg, unit="deg",
            sure=surely_above(value, profile.swing_limit_deg, SWING_SD_DEG),
        )
    ]  # fmt: skip


SWING_SD_DEG = 15.0
"""How well it is known which way the trunk faces (one sd): from how the instrument is held."""


def _tension(report: BodyReport, strokes: list[Stroke]) -> list[Finding]:
    tension = report.tension
    shown = [s for s in tension.signs if s.shown]
    if tension.amount is Amount.FEW:
        return [f for s in shown if (f := _sign(s, strokes)) is not None]
    numbers = sorted({n for s in shown for n in s.strokes})
    members = [s for s in strokes if s.number in numbers]
    reasons = tuple(
        Message("sign on strokes", {"sign": Message(f"sign.{s.name}"), "count": on_strokes(len(s.strokes), s.of)}) for s in shown
    )
    return [
        found(
            "signs of tension", Message("tension", {"amount": Message(f"amount.{tension.amount}"), "reasons": reasons}), members=members,
            of=len(strokes), value=float(len(shown)), sd=0.5, limit=MORE_THAN_ONE, unit="signs", sure=sum(s.sure for s in shown) > 1,
        )
    ]  # fmt: skip


def _sign(sign: Sign, strokes: list[Stroke]) -> Finding | None:
    """One sign that stands alone; on fewer than a quarter of the strokes it is a slip."""
    if sign.name not in CATALOGUE or len(sign.strokes) <= 0.25 * sign.of:
        return None
    members = [s for s in strokes if s.number in sign.strokes]
    message = Message("one sign", {"sign": Message(f"sign.{sign.name}"), "count": on_strokes(len(sign.strokes), sign.of)})
    return found(
        sign.name, message, members=members, of=sign.of, at=sign.evidence_s or None, value=sign.value, sd=sign.sd, limit=sign.reference,
        unit=sign.unit, sure=sign.sure,
    )  # fmt: skip
