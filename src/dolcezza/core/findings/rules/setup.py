"""Findings about set-up, a bow that leaves the string, and the hold as pictures of the hand show it."""

from __future__ import annotations

from collections.abc import Sequence

from dolcezza.core.arm.posture import PostureFigure
from dolcezza.core.assignment.match import Match
from dolcezza.core.base.message import Message, said
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.findings.catalogue import found, on_strokes
from dolcezza.core.findings.finding import Finding, surely_beyond
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.hold.figures import HandSign, Hold
from dolcezza.core.strokes.figures import Stroke

FEWEST_OFF = 3
"""Frames of a stroke with the bow off the strings, from which it left them."""
ONCE = 1.0
"""What happens once is a slip."""
WRIST_ALLOWED = {"neutral": (-0.35, 0.6), "rises": (-0.35, 0.8), "below": (-0.8, 0.35)}
"""How much lower or higher than the knuckles the wrist may be (share of the hand's size; common practice, no source)."""
WRIST_SD = 12.0
"""How well a tilted phone lets that be told (one sd, % of the hand's size)."""
HAND_KINDS = {
    "straight thumb": ("straight thumb", "thumb", "round"), "locked little finger": ("straight little finger", "little", "round"),
    "same hand at frog and head": ("hand does not change", "along_the_bow", "changes"),
    "fingers squeezed or stretched": ("fingers squeezed", "", ""),
}  # fmt: skip
"""Sign of the hand to the kind of finding, and what the profile must ask for to make it one."""


def posture_findings(posture: dict[str, PostureFigure], profile: Profile) -> list[Finding]:
    """Set-up beside the profile's bands; where the profile has none, nothing is judged."""
    out = []
    for name, figure in posture.items():
        band = profile.posture.get(name)
        if band is None or band.holds(figure.value, figure.sd):
            continue
        limit = band.low if figure.value < band.low else band.high
        side = "high" if figure.value > band.high else "low"
        message = Message(f"posture.{name}.{side}", {"profile": profile.name, "low": band.low, "high": band.high})
        out.append(
            found(
                "posture", message, at=[figure.t_s], value=figure.value, sd=figure.sd, limit=limit, unit=figure.unit,
                sure=surely_beyond(figure.value, limit, figure.sd), against=said(band.reason),
            )
        )  # fmt: skip
    return out


def off_string(series: BowSeries, strokes: Sequence[Stroke], matched: Match | None) -> list[Finding]:
    """A bow that leaves the string within its strokes, where the exercise keeps it on."""
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
            value=float(len(members)), sd=0.5, limit=ONCE, unit="strokes", sure=True,
        )
    ]  # fmt: skip


def wrist_findings(hold: Hold | None, profile: Profile) -> list[Finding]:
    """A wrist that hangs below the knuckles or is pressed above them on the newest picture, where the profile asks for neither."""
    wish = profile.hold.get("wrist")
    if hold is None or wish is None or wish.want not in WRIST_ALLOWED:
        return []
    value, allowed = hold.wrist_over_knuckles, WRIST_ALLOWED[wish.want]
    if not allowed[0] > value and not value > allowed[1]:
        return []
    side = "below" if value < allowed[0] else "above"
    limit = allowed[0] if value < allowed[0] else allowed[1]
    return [
        found(
            f"wrist {side} the knuckles", Message(f"wrist.{side}"), value=100 * value, sd=WRIST_SD, limit=100 * limit,
            unit="% of the hand", sure=100 * abs(value - limit) > WRIST_SD, against=said(wish.reason),
        )
    ]  # fmt: skip


def hand_findings(signs: Sequence[HandSign], profile: Profile) -> list[Finding]:
    """What the newest pictures of the hand show against what the profile asks; what it does not ask for is no finding."""
    out = []
    for sign in signs:
        kind, wish, want = HAND_KINDS.get(sign.name, ("", "", ""))
        asked = profile.hold.get(wish)
        if not kind or not sign.shown or (wish and (asked is None or asked.want != want)):
            continue
        message = Message(f"hand.{sign.name}", {"reason": said(sign.reason)})
        out.append(
            found(kind, message, value=1.0, sd=0.0, limit=0.0, unit="", sure=True, against=said(asked.reason) if asked else None)
        )  # fmt: skip
    return out
