"""Findings about the hold: as pictures of the hand show it, and as the teacher has said it, beside what was chosen."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from dolcezza.core.base.message import Message, said
from dolcezza.core.findings.catalogue import found
from dolcezza.core.findings.choices import ANY
from dolcezza.core.findings.finding import Finding, surely_beyond
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.hold.felt import FELT_TESTS
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
    ("thumb opposite", "index"): ("thumb place", "thumb put elsewhere"),
    ("thumb opposite", "ring"): ("thumb place", "thumb put elsewhere"),
    ("fingers", "over"): ("fingers lean", "fingers lie over"),
    ("wrist", "above"): ("wrist above the knuckles", "wrist pressed up"),
    ("grip", "squeezes"): ("held tight", "grip too firm"),
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
AGAINST: dict[tuple[str, str], tuple[str, tuple[str, ...], str, str]] = {
    ("gap", "none"): ("gap", ("one finger",), "gap of the index", "gaps not at ease"),
    ("gap", "two"): ("gap", ("one finger",), "gap of the index", "gaps not at ease"),
    ("palm turn", "down"): ("palm turn", ("outwards",), "palm turned", "palm turned elsewhere"),
    ("palm turn", "player"): ("palm turn", ("outwards",), "palm turned", "palm turned elsewhere"),
    ("fingers", "lean"): ("fingers", ("square",), "fingers lean", "fingers lie over"),
    ("wrist", "below"): ("wrist", ("level", "rises"), "wrist below the knuckles", "wrist collapsed"),
    ("hand along", "same"): ("along the bow", ("changes",), "hand does not change", "hand copied from one picture"),
}
"""Answers that are a fault only where something was chosen: question and answer to choice, its options, kind and cause."""
ON_THE_CELLO = {("thumb opposite", "touches"): ("thumb cupped", "ring closed")}
"""Answers that are a fault on the cello alone: there the thumb does not touch the middle finger (common practice, no source)."""
TOLD_OF: dict[str, tuple[str, ...]] = {
    "thumb shape": ("straight thumb",), "little work": ("straight little finger",), "gap": ("gap of the index",),
    "wrist": ("wrist below the knuckles", "wrist above the knuckles"), "hand along": ("hand does not change",),
}  # fmt: skip
"""Kinds of finding that a picture makes too, by the question whose answer stands before them."""
BY_FEEL: dict[str, tuple[str, str]] = {
    "arm_drop": ("held tight", "arm does not let go"),
    **dict.fromkeys(("thumb_tug", "tap", "little_off", "wave", "lift_thumb", "peep", "flop"), ("held tight", "grip too firm")),
    "ring": ("thumb cupped", "ring closed"),
    "curved": ("straight little finger", "little finger held straight"),
    "little_press": ("little finger place", "little finger put elsewhere"),
    "little_lifts": ("little finger presses", "little finger pushes"),
}
"""Small tests by feel that did not come out as those of an easy hand: kind and cause. Where the hold does not stay, or dots show, it is
built once more, which is no fault."""
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
        told = _fault(key, given.answer, profile)
        if told is not None:
            out.append(_said(f"answer.{key}.{given.answer}", given, *told))
    return out


def felt_findings(felt: Mapping[str, Said]) -> list[Finding]:
    """What the small tests by feel come to: those that did not come out as of a hand at ease. ``felt``: the newest answer by test."""
    free = {t.key: t.free for t in FELT_TESTS}
    return [
        _said(f"felt.{key}", given, *BY_FEEL[key], "")
        for key, given in felt.items()
        if key in BY_FEEL and given.answer in ("yes", "no") and given.answer != free[key]
    ]


def _fault(key: str, answer: str, profile: Profile) -> tuple[str, str, str] | None:
    """Kind, cause and reason of an answer that is a fault under a profile; None where it is none."""
    fault = FAULTS.get((key, answer)) or (ON_THE_CELLO.get((key, answer)) if profile.families == ("cello",) else None)
    if fault is not None:
        return *fault, ""
    if (key, answer) in AGAINST:
        choice, options, kind, cause = AGAINST[key, answer]
        return (kind, cause, profile.reason(choice)) if profile.want(choice) in options else None
    if key.startswith("hair"):
        asked = HAIR_ASKED.get(profile.want("hair"))
        if asked is None or answer == asked[key.endswith("head")]:
            return None
        return "hair on the string", "wrist rolls the hair", profile.reason("hair")
    choice, kind, cause = ELSEWHERE.get(key, ("", "", ""))
    if choice and profile.want(choice) not in (ANY, answer):
        return kind, cause, profile.reason(choice)
    return None


def _said(what: str, given: Said, kind: str, cause: str, reason: str) -> Finding:
    message = Message("said by the teacher", {"what": Message(what), "day": given.day})
    against = said(reason) if reason else None
    return found(kind, message, value=1.0, sd=0.0, limit=0.0, unit="", sure=True, cause=cause, against=against)
