"""Figures of arm, tension and tone of one take that are followed over dates."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.findings.rules.arm import BodyReport
from dolcezza.core.findings.rules.arm_school import HINGE_DEG, WRIST_DEG
from dolcezza.core.practice.figure import Figure
from dolcezza.core.strokes.figures import Stroke
from dolcezza.core.strokes.joint_work import work_by_third
from dolcezza.core.tension.signs import REFERENCES
from dolcezza.core.tone.report import ToneReport
from dolcezza.core.tone.signs import Start, Weight

SIGN_NAMES = {
    "wrist that does not move": "Wrist in a stroke", "frozen elbow": "Elbow in a stroke", "raised shoulder": "Raised shoulder",
    "jerky speed (jerk)": "Smoothness",
}  # fmt: skip
"""Signs of tension that are followed by a name of their own; shaking and bouncing are figures of strokes."""
FEW_SHARE = 10.0
"""Fewer strokes than this share (%) with a fault of tone are what is aimed at."""


def arm_figures(series: BowSeries, strokes: Sequence[Stroke], body: BodyReport | None, profile: Profile) -> dict[str, Figure]:
    """Elbow from string to string, the joints' work that the school asks about, and the signs of tension."""
    if body is None:
        return {}
    out: dict[str, Figure] = {}
    stairs = body.stairs
    if stairs.steps:
        mean, sd = float(np.mean(stairs.steps)), float(np.sqrt(np.sum(np.square(stairs.step_sd)))) / len(stairs.steps)
        out["Elbow from string to string"] = Figure(mean, sd, len(strokes), "°", profile.least_step_deg, False)
    work = work_by_third(series, strokes)
    middle, tip = work["middle"], work["tip"]
    school = profile.want("upper arm")
    if middle is not None and school in ("hinge", "chain"):
        target = HINGE_DEG if school == "hinge" else middle.degrees[1]
        out["Upper arm in the middle"] = Figure(middle.degrees[0], middle.sd[0], len(middle.strokes), "°", target, True)
    if tip is not None and school == "chain":
        out["Wrist at the tip"] = Figure(tip.degrees[2], tip.sd[2], len(tip.strokes), "°", WRIST_DEG, False)
    for sign in body.tension.signs:
        name = SIGN_NAMES.get(sign.name)
        if name is not None and np.isfinite([sign.value, sign.sd]).all():
            unit = {"deg": "°", "mm": " mm", "of shoulder width": ""}.get(sign.unit, "")
            out[name] = Figure(sign.value, sign.sd, sign.of, unit, sign.reference, REFERENCES[sign.name].above)
    return out


def tone_figures(tone: ToneReport | None) -> dict[str, Figure]:
    """Share of the strokes (%) that are pressed, airy, or begin unclearly; ± of a share that is counted."""
    if tone is None or tone.notes:
        return {}
    out: dict[str, Figure] = {}
    weights = [t.weight for t in tone.strokes if t.weight is not Weight.UNKNOWN]
    starts = [t.start for t in tone.strokes if t.start is not Start.UNKNOWN]
    for name, told, bad in (
        ("Pressed strokes", weights, (Weight.CRUSHED,)), ("Airy strokes", weights, (Weight.AIRY,)),
        ("Unclear starts", starts, (Start.SLOW, Start.SCRATCHED)),
    ):  # fmt: skip
        if len(told) > 3:
            n = len(told)
            share = sum(t in bad for t in told) / n
            # Agresti and Coull 1998: a share of few strokes is never certain
            wide = (sum(t in bad for t in told) + 2) / (n + 4)
            out[name] = Figure(100 * share, 100 * float(np.sqrt(wide * (1 - wide) / (n + 4))), n, " %", FEW_SHARE, True)
    return out
