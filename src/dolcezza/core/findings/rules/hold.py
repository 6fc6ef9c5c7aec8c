"""Findings about the hold: as pictures of the hand show it, and as the teacher has said it, beside what was chosen."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from dolcezza.core.base.message import Message, said
from dolcezza.core.findings.catalogue import found
from dolcezza.core.findings.choices import ANY
from dolcezza.core.findings.finding import Finding, surely_beyond
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.hold.figures import WRIST_SD, HandSign, Hold
from dolcezza.core.hold.questions import Said

WRIST_ALLOWED = {"level": (-0.35, 0.6), "rises": (-0.35, 0.8), "below": (-0.8, 0.6)}
"""How much lower or higher than the knuckles the wrist may be (share of the hand's size; common practice, no source)."""
GAP_ALLOWED = (0.25, 1.75)
"""Finger widths between index and middle finger: none and two are findings (common practice, no source)."""
GAP_SD = 0.4
"""How well a gap is told from one picture (one sd, finger widths)."""
HAND_KINDS: dict[str, tuple[str, str, tuple[str, ...]]] = {
    "straight thumb": ("straight thumb", "thumb shape", ("bent", "bent at the frog")),
    "locked little finger": ("straight little finger", "little shape", ("round", "round at the frog")),
    "same hand at frog and head": ("hand does not change", "along the bow", ("changes",)),
    "fingers squeezed or stretched": ("fingers squeezed", "", ()),
}
"""Sign of the hand to the kind of finding, the choice that asks for it, and the options under which it is one."""

FAULTS: dict[tuple[str, str], tuple[str, str]] = {
    ("thumb place", "through"): ("thumb through the gap", "thumb pushed through"),
    ("thumb shape", "locked"): ("straight thumb", "thumb held straight"),
    ("thumb shape", "caved in"): ("thumb caved in", "thumb gives way"),
    ("thumb shape", "cupped"): ("thumb cupped", "ring closed"),
    ("little place", "off"): ("little finger place", "little finger put elsewhere"),
    ("little work", "presses"): ("little finger presses", "little finger pushes"),
    ("little work", "takes over"): ("little finger takes over", "little finger pushes"),
    ("little work", "locked"): ("straight little finger", "little finger held straight"),
    ("index depth", "tips"): ("index depth", "hand too shallow"),
    ("index keeps", "slides back"): ("index slides", "index does not keep the stick"),
    ("index keeps", "far out"): ("index slides", "index does not keep the stick"),
    ("index keeps", "leaves"): ("index slides", "index does not keep the stick"),
    ("palm", "touches"): ("palm on the stick", "hand too deep"),
    ("hair at the frog", "rolled"): ("hair on the string", "wrist rolls the hair"),
    ("hair at the head", "rolled"): ("hair on the string", "wrist rolls the hair"),
}
"""Answers that are a fault in every school: kind and cause (common practice, no source)."""
ELSEWHERE: dict[str, tuple[str, str, str]] = {
    "thumb place": ("thumb place", "thumb place", "thumb put elsewhere"),
    "little place": ("little place", "little finger place", "little finger put elsewhere"),
    "index depth": ("index", "index depth", "index put elsewhere"),
}
"""Answers that are a fault where something else was chosen: question to choice, kind and cause."""
HAIR_ASKED = {"flat": ("flat", "flat"), "away": ("away", "away"), "tilted at the frog": ("away", "flat")}
"""How the hair lies near the frog and near the head, by what was chosen."""


def hand_findings(signs: Sequence[HandSign], profile: Profile) -> list[Finding]:
    """What the newest pictures of the hand show against what the profile asks; what it does not ask for is no finding."""
    out = []
    for sign in signs:
        kind, choice, options = HAND_KINDS.get(sign.name, ("", "", ()))
        if not kind or not sign.shown or (choice and profile.want(choice) not in options):
            continue
        message = Message(f"hand.{sign.name}", {"reason": sign.reason})
        against = said(profile.reason(choice)) if choice else None
        out.append(found(kind, message, value=1.0, sd=0.0, limit=0.0, unit="", sure=True, against=against))
    return out


def wrist_findings(hold: Hold | None, profile: Profile) -> list[Finding]:
    """A wrist that hangs below the knuckles or is pressed above them on the newest picture, where the profile asks for neither."""
    allowed = WRIST_ALLOWED.get(profile.want("wrist"))
    if hold is None or allowed is None or not np.isfinite(hold.wrist_over_knuckles):
        return []
    value, sd = hold.wrist_over_knuckles, WRIST_SD
    if allowed[0] <= value <= allowed[1]:
        return []
    side = "below" if value < allowed[0] else "above"
    limit = allowed[0] if value < allowed[0] else allowed[1]
    return [
        found(
            f"wrist {side} the knuckles", Message(f"wrist.{side}"), value=100 * value, sd=100 * sd, limit=100 * limit,
            unit="% of the hand", sure=surely_beyond(value, limit, sd), against=said(profile.reason("wrist")),
        )
    ]  # fmt: skip


def gap_findings(hold: Hold | None, profile: Profile) -> list[Finding]:
    """No gap between index and middle finger on the newest picture, or one of two fingers, where the profile asks for one."""
    gap = hold.gaps.get("index-middle", float("nan")) if hold is not None else float("nan")
    if profile.want("gap") != "one finger" or not np.isfinite(gap) or GAP_ALLOWED[0] <= gap <= GAP_ALLOWED[1]:
        return []
    limit = GAP_ALLOWED[0] if gap < GAP_ALLOWED[0] else GAP_ALLOWED[1]
    message = Message("gap.none" if gap < GAP_ALLOWED[0] else "gap.two")
    return [
        found(
            "gap of the index", message, value=gap, sd=GAP_SD, limit=limit, unit="finger widths", sure=surely_beyond(gap, limit, GAP_SD),
            against=said(profile.reason("gap")),
        )
    ]  # fmt: skip


def answer_findings(answers: Mapping[str, Said], profile: Profile) -> list[Finding]:
    """What the teacher has said of the hold against what every school and this profile ask. ``answers``: the newest by question."""
    out = []
    for key, given in answers.items():
        fault = FAULTS.get((key, given.answer))
        choice, kind, cause = ELSEWHERE.get(key, ("", "", ""))
        reason = ""
        if fault is not None:
            kind, cause = fault
        elif key == "gap":
            if profile.want("gap") != "one finger" or given.answer not in ("none", "two"):
                continue
            kind, cause, reason = "gap of the index", "gaps not at ease", profile.reason("gap")
        elif key.startswith("hair"):
            asked = HAIR_ASKED.get(profile.want("hair"))
            if asked is None or given.answer == asked[key.endswith("head")]:
                continue
            kind, cause, reason = "hair on the string", "wrist rolls the hair", profile.reason("hair")
        elif choice and profile.want(choice) not in (ANY, given.answer):
            reason = profile.reason(choice)
        else:
            continue
        message = Message("said by the teacher", {"what": Message(f"answer.{key}.{given.answer}"), "day": given.day})
        out.append(
            found(kind, message, value=1.0, sd=0.0, limit=0.0, unit="", sure=True, cause=cause, against=said(reason) if reason else None)
        )
    return out
