"""Findings about set-up, and a bow that leaves the string."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from dolcezza.core.arm.posture import PostureFigure
from dolcezza.core.assignment.match import Match
from dolcezza.core.base.message import Message, said
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.findings.catalogue import found, on_strokes
from dolcezza.core.findings.finding import LEAST_CONFIDENCE, Finding, surely_beyond
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.strokes.figures import Stroke

FEWEST_OFF = 3
"""Frames of a stroke with the bow off the strings, from which it left them."""
ONCE = 1.0
"""What happens once is a slip."""


def posture_findings(posture: dict[str, PostureFigure], profile: Profile) -> list[Finding]:
    """Set-up beside the profile's bands; where the profile has none, nothing is judged."""
    out = []
    for name, figure in posture.items():
        band = profile.posture.get(name)
        if band is None or band.holds(figure.value, figure.sd):
            continue
        limit = band.low if figure.value < band.low else band.high
        side = "high" if figure.value > band.high else "low"
        # what a second phone alone tells has no moment in this video
        moments = [figure.t_s] if np.isfinite(figure.t_s) else []
        message = Message(f"posture.{name}.{side}", {"profile": profile.name, "low": band.low, "high": band.high})
        out.append(
            found(
                "posture", message, at=moments, value=figure.value, sd=figure.sd, limit=limit, unit=figure.unit,
                sure=surely_beyond(figure.value, limit, figure.sd), against=said(band.reason),
            )
        )  # fmt: skip
    return out


def off_string(series: BowSeries, strokes: Sequence[Stroke], matched: Match | None, profile: Profile) -> list[Finding]:
    """A bow that leaves the string within its strokes, where profile and exercise keep it on."""
    if profile.want("lifted bows") == "tolerated":
        return []
    if matched is not None and any(s.kind in ("lifted", "landing") for s in matched.exercise.strokes):
        return []
    members = []
    for s in strokes:
        inside = (series.t > s.start_s + 0.05) & (series.t < s.end_s - 0.05)
        if int((series["lifted"][inside] > 0).sum()) >= FEWEST_OFF:
            members.append(s)
    if len(members) < 2 or len(members) <= 0.25 * len(strokes):
        return []
    count = on_strokes(len(members), len(strokes))
    return [
        found(
            "leaves the string", Message("leaves the string", {"count": count}), members=members, of=len(strokes),
            value=float(len(members)), sd=0.5, limit=ONCE, unit="strokes", sure=all(not s.confidence < LEAST_CONFIDENCE for s in members),
        )
    ]  # fmt: skip
