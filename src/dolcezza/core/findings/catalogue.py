"""Every kind of finding in one table: the work it belongs to, its causes, its sentences, and where its limit is kept.

To add one: an entry here, a rule in ``rules/`` that makes it with ``found``, its words in ``reports/words``, and for every new cause a
correction in ``core/practice/corrections.json``. A test walks through the table and names what is missing.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import TypeVar

from dolcezza.core.base.message import NOTHING, Message
from dolcezza.core.findings.finding import HABIT, Finding
from dolcezza.core.strokes.figures import Stroke

T = TypeVar("T")
ENOUGH = 3
"""So many strokes of a string without a fault say that it is not a fault there."""


class Group(StrEnum):
    """Kinds of work."""

    TENSION = "tension"
    SETUP = "set-up"
    STRAIGHTNESS = "straightness"
    ARM = "arm"
    BOW_USE = "bow use"
    TONE = "tone"
    HOLD = "hold"


@dataclass(frozen=True)
class Entry:
    """A kind of finding. ``causes``: keys of what it may come from; ``messages``: ids of its sentences; ``limit``: where the limit is kept
    in the profile, or the constant of another room; ``against``, ``film``: ids of what speaks against it and what to film, "" = none."""

    group: Group
    causes: tuple[str, ...]
    messages: tuple[str, ...]
    limit: str
    against: str = ""
    film: str = ""


def _sign(cause: str, group: Group, kind: str) -> Entry:
    """A sign of tension that stands alone."""
    return Entry(group, (cause,), ("one sign",), f"profile.tension[{kind}]", "one sign", "relaxed moment")


SAID = "said by the teacher"
"""The sentence of what the picture cannot tell."""
ARM, USE, STRAIGHT, TONE, HOLD = Group.ARM, Group.BOW_USE, Group.STRAIGHTNESS, Group.TONE, Group.HOLD
CATALOGUE: dict[str, Entry] = {
    "crooked": Entry(
        STRAIGHT, ("arm swings from the shoulder", "arm does not open", "wrist and hand do not give", "angle kept all along",
            "set down crooked", "no single shape"),
        ("crooked.swing", "crooked.tip", "crooked.frog", "crooked.all along", "crooked.somewhere"), "profile.angle_limit_deg",
    ),
    "out of the lane": Entry(
        STRAIGHT, ("the crooked bow steers it", "the hand does not steer"), ("lane.fingerboard", "lane.bridge"), "profile.lane",
    ),
    "elbow staircase": Entry(
        ARM, ("elbow stays at one height", "a level is skipped", "levels the other way round"),
        ("stairs.flat", "stairs.broken", "stairs.reversed"), "profile.least_step_deg",
    ),
    "elbow level": Entry(ARM, ("elbow hangs", "elbow held up"), ("plane.low", "plane.high"), "profile.plane_mm"),
    "elbow behind the back": Entry(ARM, ("arm goes behind the back",), ("swing",), "profile.swing_limit_deg"),
    "signs of tension": Entry(Group.TENSION, ("several signs together",), ("tension",), "rules.arm.MORE_THAN_ONE"),
    "raised shoulder": _sign("shoulder lifted", ARM, "raised shoulder"),
    "frozen elbow": _sign("elbow does not open", ARM, "frozen elbow"),
    "wrist that does not move": _sign("no release in the wrist", ARM, "wrist that does not move"),
    "shaking bow": _sign("pressing", ARM, "shaking bow"),
    "bouncing stick": _sign("pressing", ARM, "bouncing stick"),
    "jerky speed (jerk)": _sign("stiff changes", USE, "jerky speed (jerk)"),
    "jerky speed (arc length)": _sign("stiff changes", USE, "jerky speed (arc length)"),
    "short bows": Entry(USE, ("caution",), ("short",), "assignment.match.SHORT_SHARE", "short bows"),
    "avoids the frog": Entry(USE, ("bow heavy at the frog",), ("frog",), "assignment.use.AVOIDS_FROG_FROM", "avoids the frog"),
    "bow wanders": Entry(USE, ("down and up unequal",), ("drift.out", "drift.in"), "profile.limits[bow wanders]"),
    "notes in the bow": Entry(USE, ("bow turns within the slur",), ("slur.few", "slur.many"), "rules.asked.NOTES_SD"),
    "neighbour string sounds": Entry(
        ARM, ("bow between two levels",), ("neighbour string",), "rules.asked.FEWEST_BETWEEN", "neighbour string", "quiet room",
    ),
    "bow changes with the notes": Entry(
        USE, ("notes drive the bow",), ("constancy.more", "constancy.less"), "rules.asked.CHANGE_SHARE",
    ),
    "bow the other way": Entry(USE, ("bowing not as printed",), ("printed.other way",), "rules.printed.FEWEST"),
    "slur broken": Entry(USE, ("bow turns within the slur",), ("printed.broken slur",), "rules.printed.FEWEST"),
    "notes in one bow": Entry(USE, ("bow does not turn",), ("printed.not separate",), "rules.printed.FEWEST"),
    "little bow": Entry(USE, ("bow saved where it is loud",), ("printed.little bow",), "played.played.LITTLE_BOW"),
    "uneven speed": Entry(USE, ("speed not kept",), ("uneven",), "profile.limits[uneven speed]"),
    "leaves the string": Entry(USE, ("lifting",), ("leaves the string",), "rules.setup.ONCE", "leaves the string"),
    "crushed tone": Entry(TONE, ("too much weight for the speed",), ("tone.crushed",), "tone.signs.NOISE_DB", "crushed tone", "quiet room"),
    "airy tone": Entry(TONE, ("too much speed for the weight",), ("tone.airy",), "tone.signs.NOISE_DB", "airy tone", "quiet room"),
    "unclear start": Entry(
        TONE, ("start without weight",), ("starts.slow", "starts.scratched"), "tone.signs.SLOW_START_S", "unclear start",
    ),
    "trembling tone": Entry(TONE, ("pressing",), ("wobble",), "profile.limits[trembling tone]", "trembling tone"),
    "noise between notes": Entry(TONE, ("left hand",), ("between",), "rules.setup.ONCE"),
    "posture": Entry(
        Group.SETUP, ("set-up",),
        tuple(
            f"posture.{name}.{side}"
            for name in ("clock", "neck_deg", "head_tilt_deg", "nose_to_scroll_deg", "top_deg", "endpin_offset", "knee_over_hip")
            for side in ("low", "high")
        ),
        "profile.posture", "", "whole player",
    ),
    "upper arm moves": Entry(ARM, ("upper arm bows",), ("arm.hinge",), "rules.arm_school.HINGE_DEG"),
    "upper arm leads": Entry(ARM, ("shoulder does the elbow's work",), ("arm.shoulder leads",), "rules.arm_school.LEADS"),
    "wrist does not lead": Entry(ARM, ("no release in the wrist",), ("arm.wrist at the head",), "rules.arm_school.WRIST_DEG"),
    "joint for the speed": Entry(ARM, ("another joint for this speed",), ("arm.by speed",), "rules.arm_school.LEADS"),
    "straight thumb": Entry(HOLD, ("thumb held straight",), ("hand.straight thumb", SAID), "profile.chosen[thumb shape]"),
    "straight little finger": Entry(
        HOLD, ("little finger held straight",), ("hand.locked little finger", SAID), "profile.chosen[little shape]"
    ),
    "hand does not change": Entry(
        HOLD, ("hand copied from one picture",), ("hand.same hand at frog and head", SAID), "profile.chosen[along the bow]"
    ),
    "fingers squeezed": Entry(HOLD, ("gaps not at ease",), ("hand.fingers squeezed or stretched",), "hold.figures"),
    "wrist below the knuckles": Entry(HOLD, ("wrist collapsed",), ("wrist.below", SAID), "rules.hold.WRIST_ALLOWED"),
    "wrist above the knuckles": Entry(HOLD, ("wrist pressed up",), ("wrist.above", SAID), "rules.hold.WRIST_ALLOWED"),
    "gap of the index": Entry(HOLD, ("gaps not at ease",), ("gap.none", "gap.two", SAID), "rules.hold.GAP_ALLOWED"),
    "thumb place": Entry(HOLD, ("thumb put elsewhere",), (SAID,), "profile.chosen[thumb place]"),
    "thumb through the gap": Entry(HOLD, ("thumb pushed through",), (SAID,), "rules.hold.FAULTS"),
    "thumb caved in": Entry(HOLD, ("thumb gives way",), (SAID,), "rules.hold.FAULTS"),
    "thumb cupped": Entry(HOLD, ("ring closed",), (SAID,), "rules.hold.FAULTS"),
    "little finger place": Entry(HOLD, ("little finger put elsewhere",), (SAID,), "profile.chosen[little place]"),
    "little finger presses": Entry(HOLD, ("little finger pushes",), (SAID,), "rules.hold.FAULTS"),
    "little finger takes over": Entry(HOLD, ("little finger pushes",), (SAID,), "rules.hold.FAULTS"),
    "index depth": Entry(HOLD, ("hand too shallow", "index put elsewhere"), (SAID,), "profile.chosen[index]"),
    "index slides": Entry(HOLD, ("index does not keep the stick",), (SAID,), "rules.hold.FAULTS"),
    "palm on the stick": Entry(HOLD, ("hand too deep",), (SAID,), "rules.hold.FAULTS"),
    "palm turned": Entry(HOLD, ("palm turned elsewhere",), (SAID,), "profile.chosen[palm turn]"),
    "fingers lean": Entry(HOLD, ("fingers lie over",), (SAID,), "profile.chosen[fingers]"),
    "held tight": Entry(Group.TENSION, ("grip too firm", "arm does not let go"), (SAID,), "rules.hold.BY_FEEL"),
    "hair on the string": Entry(HOLD, ("wrist rolls the hair",), (SAID,), "profile.chosen[hair]"),
}  # fmt: skip
"""By the kind that stands in ``findings.json``; these words stay, whatever the screen calls a thing."""


def entry(kind: str) -> Entry:
    """The entry of a kind. Raises KeyError: a kind that is not listed is a mistake of ours."""
    return CATALOGUE[kind]


def found(
    kind: str, message: Message, *, value: float, sd: float, limit: float, unit: str, sure: bool, members: Sequence[Stroke] = (),
    of: int = 0, at: Sequence[float] | None = None, cause: str = "", against: Message | None = None,
) -> Finding:  # fmt: skip
    """A finding as the catalogue has it. ``at``: moments of evidence (s), None = the middles of ``members``; ``cause``: which of several;
    ``against``: something else than the entry's own. Raises ValueError for a cause or sentence that the entry does not list."""
    own = entry(kind)
    cause = cause or own.causes[0]
    if cause not in own.causes or message.id not in own.messages:
        raise ValueError(f"{kind}: cause {cause!r} or message {message.id!r} is not in the catalogue")
    return Finding(
        kind=kind, strokes=tuple(s.number for s in members), of=of,
        evidence_s=tuple(at) if at is not None else tuple(0.5 * (s.start_s + s.end_s) for s in members),
        value=value, sd=sd, limit=limit, unit=unit, sure=sure, cause=cause, message=message,
        against=against if against is not None else (Message(f"against.{own.against}") if own.against else NOTHING),
        film=Message(f"film.{own.film}") if own.film else NOTHING,
    )  # fmt: skip


def on_strokes(shown: int, of: int, what: str = "strokes", strings: Sequence[str] = ()) -> Message:
    """Part of a sentence: on 3 of 8 strokes. ``what``: strokes, down-bows or up-bows; ``strings``: on those alone, () = on all."""
    if strings:
        return Message(f"on {what} of a string", {"n": shown, "of": of, "strings": tuple(Message("string", {"name": s}) for s in strings)})
    return Message(f"on {what}", {"n": shown, "of": of})


def where_it_shows(members: Sequence[T], judged: Sequence[T], string_of: Callable[[T], str]) -> tuple[list[T], list[T], tuple[str, ...]]:
    """Members and judged of only those strings on which something is a habit, and these strings; all, and (), where it is one everywhere,
    or where too little was played of the others to tell."""
    played = Counter(string_of(s) for s in judged)
    shown = Counter(string_of(s) for s in members)
    habit = tuple(s for s in played if shown[s] > HABIT * played[s])
    clean = [s for s in played if s not in habit and played[s] >= ENOUGH]
    if not habit or not clean or len(clean) + len(habit) < len(played):
        return list(members), list(judged), ()
    return [s for s in members if string_of(s) in habit], [s for s in judged if string_of(s) in habit], habit
