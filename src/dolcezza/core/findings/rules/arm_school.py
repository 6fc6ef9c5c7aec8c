"""What the chosen school of the arm says of the joints' work: a hinge that moves, a chain that is led by the wrong joint, a joint too large
for the speed. Said only where the ± allows it.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

from dolcezza.core.arm.joint_contributions import JOINTS
from dolcezza.core.base.message import Message, said
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.findings.catalogue import found
from dolcezza.core.findings.finding import FEWEST_SURE, Finding, surely_above, surely_below, well_seen
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.strokes.figures import Stroke
from dolcezza.core.strokes.joint_work import JointWork, work_by_speed, work_by_third

HINGE_DEG = 4.0
"""Degrees a tenth of the bow from which an upper arm moves with the stroke: forty over a whole bow (common practice, no source)."""
WRIST_DEG = 2.5
"""A wrist that turns by less a tenth of the bow in the last third does not lead there (common practice, no source)."""
SHORT_SHARE = 0.3
"""The fastest bows are short: a whole one cannot come from the wrist."""
LEADS = {"slow": "shoulder", "medium": "elbow", "fast": "wrist"}
"""The joint that leads at each speed (common practice, no source)."""
SHOULDER, ELBOW, WRIST = range(3)


def arm_school_findings(series: BowSeries, strokes: Sequence[Stroke], profile: Profile) -> list[Finding]:
    """Findings of the chosen school of the arm; none where nothing was chosen."""
    rule = RULES.get(profile.want("upper arm"))
    return rule(series, strokes, profile) if rule is not None else []


def _hinge(series: BowSeries, strokes: Sequence[Stroke], profile: Profile) -> list[Finding]:
    work = work_by_third(series, strokes)["middle"]
    if work is None or work.degrees[SHOULDER] <= HINGE_DEG or not surely_above(work.degrees[SHOULDER], HINGE_DEG, work.sd[SHOULDER]):
        return []
    message = Message("arm.hinge", {"degrees": work.degrees[SHOULDER]})
    return [_made("upper arm moves", message, work, SHOULDER, HINGE_DEG, strokes, profile)]


def _chain(series: BowSeries, strokes: Sequence[Stroke], profile: Profile) -> list[Finding]:
    work = work_by_third(series, strokes)
    out = []
    middle, tip = work["middle"], work["tip"]
    if middle is not None and middle.leads(SHOULDER):
        message = Message("arm.shoulder leads", {"degrees": middle.degrees[SHOULDER], "elbow": middle.degrees[ELBOW]})
        out.append(_made("upper arm leads", message, middle, SHOULDER, middle.degrees[ELBOW], strokes, profile))
    if tip is not None and tip.degrees[WRIST] < WRIST_DEG and surely_below(tip.degrees[WRIST], WRIST_DEG, tip.sd[WRIST]):
        message = Message("arm.wrist at the head", {"degrees": tip.degrees[WRIST]})
        out.append(_made("wrist does not lead", message, tip, WRIST, WRIST_DEG, strokes, profile))
    return out


def _by_speed(series: BowSeries, strokes: Sequence[Stroke], profile: Profile) -> list[Finding]:
    short = [s for s in strokes if abs(s.to_position - s.from_position) <= SHORT_SHARE]
    work = work_by_speed(series, strokes) | {"fast": work_by_speed(series, short)["fast"]}
    out = []
    for speed, wanted in LEADS.items():
        own = work[speed]
        leader = own.surely_led_by() if own is not None else ""
        if own is None or leader in ("", wanted):
            continue
        k, w = JOINTS.index(leader), JOINTS.index(wanted)
        values = {"speed": Message(f"speed.{speed}"), "leader": Message(f"joint.{leader}"), "wanted": Message(f"joint.{wanted}")}
        message = Message("arm.by speed", {**values, "degrees": own.degrees[k], "less": own.degrees[w]})
        out.append(_made("joint for the speed", message, own, k, own.degrees[w], strokes, profile))
    return out


def _made(
    kind: str, message: Message, work: JointWork, joint: int, limit: float, strokes: Sequence[Stroke], profile: Profile
) -> Finding:  # fmt: skip
    members = [s for s in strokes if s.number in work.strokes]
    return found(
        kind, message, members=members, of=len(strokes), value=work.degrees[joint], sd=work.sd[joint], limit=limit,
        unit="deg a tenth of the bow",
        sure=len(members) >= FEWEST_SURE and well_seen(members, len(members)), against=said(profile.reason("upper arm")),
    )  # fmt: skip


RULES: dict[str, Callable[[BowSeries, Sequence[Stroke], Profile], list[Finding]]] = {
    "hinge": _hinge, "chain": _chain, "by speed": _by_speed,
}  # fmt: skip
