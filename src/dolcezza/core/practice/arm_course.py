"""Figures of arm, tension, tone and notes of one take that are followed over dates."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.findings.rules.arm import BodyReport
from dolcezza.core.findings.rules.arm_school import HINGE_DEG, WRIST_DEG
from dolcezza.core.findings.rules.asked import CHANGE_SHARE
from dolcezza.core.practice.figure import Figure
from dolcezza.core.strokes.compare import ratio
from dolcezza.core.strokes.figures import Stroke
from dolcezza.core.strokes.joint_work import work_by_third
from dolcezza.core.tension.signs import REFERENCES
from dolcezza.core.tone.notes_in_bow import notes_in_bows
from dolcezza.core.tone.report import ToneReport
from dolcezza.core.tone.signs import Start, Weight

SMOOTHNESS = "Smoothness"
"""How smoothly the bow goes, as a logarithm: better or worse is told of it, no figure."""
SIGN_NAMES = {
    "wrist that does not move": "Wrist in a stroke", "frozen elbow": "Elbow in a stroke", "raised shoulder": "Raised shoulder",
    "jerky speed (jerk)": SMOOTHNESS,
}  # fmt: skip
"""Signs of tension that are followed by a name of their own; shaking and bouncing are figures of strokes."""
STEADY_NOTES = "Bow under more notes"
ALIKE_SHARE = 0.25
"""Bows whose length differs by less than this (share of the hair) are set beside each other."""
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


def notes_figures(series: BowSeries, strokes: Sequence[Stroke]) -> dict[str, Figure]:
    """By how much (%) the bow goes quicker or slower where at least twice as many notes sound in it, on bows of about one length."""
    heard = notes_in_bows(series, strokes)
    told = [s for s in strokes if heard.get(s.number, 0) > 0 and np.isfinite(s.share_used)]
    if len(told) < 4:
        return {}
    usual = float(np.median([s.share_used for s in told]))
    alike = [s for s in told if abs(s.share_used - usual) < ALIKE_SHARE]
    few = min((heard[s.number] for s in alike), default=0)
    plain, many = ([s for s in alike if more == (heard[s.number] >= 2 * few)] for more in (False, True))
    got = ratio(plain, many, "mean_speed_cm_s")
    if got is None:
        return {}
    return {STEADY_NOTES: Figure(100 * abs(got[0] - 1.0), 100 * got[1], len(alike), " %", 100 * CHANGE_SHARE, True)}
