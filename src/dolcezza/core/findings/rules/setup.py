"""Findings about set-up, a bow that leaves the string, and the hold as pictures of the hand show it."""

from __future__ import annotations

from collections.abc import Sequence

from dolcezza.core.arm.posture import PostureFigure
from dolcezza.core.assignment.match import Match
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.findings.finding import Finding, surely_beyond
from dolcezza.core.findings.profiles import Band, Profile
from dolcezza.core.findings.use_words import CAUSES
from dolcezza.core.hold.figures import HandSign, Hold
from dolcezza.core.strokes.figures import Stroke

FEWEST_OFF = 3
"""Frames of a stroke with the bow off the strings, from which it left them."""
WORDS: dict[str, tuple[str, str]] = {
    "clock": ("The instrument points too far round to the left", "The instrument points too far to the front"),
    "neck_deg": ("The instrument droops", "The scroll is held high"),
    "head_tilt_deg": ("The head tilts away", "The head tilts to the instrument"),
    "nose_to_scroll_deg": ("The nose looks along the neck", "The nose looks away from the scroll"),
    "endpin_offset": ("The endpin stands off the midline", "The endpin stands off the midline"),
    "knee_over_hip": ("The seat is high for these legs", "The seat is low for these legs"),
}
"""What a figure of the posture below and above its band is called."""
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
        cause, text = CAUSES["posture"]
        out.append(
            Finding(
                kind="posture", strokes=(), of=0, evidence_s=(figure.t_s,), value=figure.value, sd=figure.sd, limit=limit, unit=figure.unit,
                sure=surely_beyond(figure.value, limit, figure.sd), cause=cause,
                sentence=f"{WORDS[name][int(figure.value > band.high)]} ({profile.name}: {_span(band)}).",
                cause_text=text, against=band.reason, film="To be sure: film the whole player from the front.",
            )
        )  # fmt: skip
    return out


def _span(band: Band) -> str:
    return f"{band.low:g} to {band.high:g}".replace("-", "−")


def off_string(series: BowSeries, strokes: Sequence[Stroke], found: Match | None) -> list[Finding]:
    """A bow that leaves the string within its strokes, where the exercise keeps it on."""
    if found is not None and any(s.kind in ("lifted", "landing") for s in found.exercise.strokes):
        return []
    members = []
    for s in strokes:
        inside = (series.t > s.start_s + 0.05) & (series.t < s.end_s - 0.05)
        if int((series["lifted"][inside] > 0).sum()) >= FEWEST_OFF:
            members.append(s)
    if len(members) < 2 or len(members) <= 0.25 * len(strokes):
        return []
    cause, text = CAUSES["leaves the string"]
    return [
        Finding(
            kind="leaves the string", strokes=tuple(s.number for s in members), of=len(strokes),
            evidence_s=tuple(0.5 * (s.start_s + s.end_s) for s in members), value=float(len(members)), sd=0.5, limit=1.0, unit="strokes",
            sure=True, cause=cause, sentence=f"The bow leaves the string, on {len(members)} of {len(strokes)} strokes.", cause_text=text,
            against="Against it: a stroke that is lifted on purpose: say so in the exercise.",
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
    kind = "wrist below the knuckles" if value < allowed[0] else "wrist above the knuckles"
    cause, text = CAUSES[kind]
    limit = allowed[0] if value < allowed[0] else allowed[1]
    return [
        Finding(
            kind=kind, strokes=(), of=0, evidence_s=(), value=100 * value, sd=WRIST_SD, limit=100 * limit, unit="% of the hand",
            sure=100 * abs(value - limit) > WRIST_SD, cause=cause, sentence=f"{kind[0].upper()}{kind[1:]}, on the newest picture.",
            cause_text=text, against=wish.reason,
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
        cause, text = CAUSES[kind]
        out.append(
            Finding(
                kind=kind, strokes=(), of=0, evidence_s=(), value=1.0, sd=0.0, limit=0.0, unit="", sure=True, cause=cause,
                sentence=f"{sign.name[0].upper()}{sign.name[1:]}: {sign.reason}.", cause_text=text, against=asked.reason if asked else "",
            )
        )  # fmt: skip
    return out
