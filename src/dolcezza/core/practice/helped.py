"""Did a drill help? The figure it was given for, before the plan and now, and what that says."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date

from dolcezza.core.findings.catalogue import CATALOGUE, Group
from dolcezza.core.practice.arm_course import STEADY_NOTES
from dolcezza.core.practice.drills import corrections
from dolcezza.core.practice.figure import Point
from dolcezza.core.practice.progress import Change, Course

ANSWERS, SETTINGS, PLACES = "Answers about the hold", "Settings of the hand", "Ladder places"
"""Courses that come from no video."""
IN_THE_AIR = ("D7", "D8", "D10")
"""Drills without a string, whose aim is a hold that stays as it is: what the teacher sees of the hold follows them."""
OF_KIND: dict[str, tuple[str, ...]] = {
    "crooked": ("Bow angle, tip", "Bow angle, frog", "Bow angle, middle"), "out of the lane": ("Outside the lane",),
    "elbow staircase": ("Elbow from string to string",), "upper arm moves": ("Upper arm in the middle",),
    "upper arm leads": ("Upper arm in the middle",), "wrist does not lead": ("Wrist at the tip",),
    "signs of tension": ("Shaking bow", "Bouncing stick", "Raised shoulder", "Wrist in a stroke"), "raised shoulder": ("Raised shoulder",),
    "frozen elbow": ("Elbow in a stroke",), "wrist that does not move": ("Wrist in a stroke",), "shaking bow": ("Shaking bow",),
    "bouncing stick": ("Bouncing stick",), "jerky speed (jerk)": ("Smoothness",), "jerky speed (arc length)": ("Smoothness",),
    "short bows": ("Bow used in a stroke",), "avoids the frog": ("Reach at the frog",), "uneven speed": ("Evenness of speed",),
    "bow wanders": ("Bow used in a stroke",), "crushed tone": ("Pressed strokes",), "airy tone": ("Airy strokes",),
    "unclear start": ("Unclear starts",), "bow changes with the notes": (STEADY_NOTES,), "straight thumb": ("Thumb at the frog", ANSWERS),
    "straight little finger": ("Little finger at the frog", ANSWERS),
}  # fmt: skip
"""Kinds of finding to the courses that follow them; kinds of the hold that only answers tell go to the answers."""


@dataclass(frozen=True)
class Helped:
    """One drill: the ``course`` it was given for, ``before`` and ``after`` (None = not yet), and what that says."""

    drill: str
    course: Course | None
    before: Point | None
    after: Point | None
    change: Change


def courses_for(drill: str) -> list[str]:
    """Names of the courses that a drill is given for, the nearest first."""
    causes = [c for correction in corrections().values() if drill in correction.drills for c in correction.causes]
    kinds = [kind for kind, entry in CATALOGUE.items() if set(entry.causes) & set(causes)]
    names = [n for kind in kinds for n in OF_KIND.get(kind, (ANSWERS,) if CATALOGUE[kind].group is Group.HOLD else ())]
    if drill == "D4":
        names.insert(0, SETTINGS)
    if drill == "D23":
        names.insert(0, STEADY_NOTES)
    if drill in IN_THE_AIR:
        names.append(ANSWERS)
    if drill in ("D12", "D24"):
        names.insert(0, PLACES)
    return list(dict.fromkeys(names))


def helped(drills: Iterable[str], found: Sequence[Course], since: date, kinds: Sequence[str] = ()) -> list[Helped]:
    """What became of each drill of a plan that began on a day. ``kinds``: what was found before it, whose figures come first."""
    first = [n for kind in kinds for n in OF_KIND.get(kind, ())]
    out = []
    for drill in dict.fromkeys(drills):
        wanted = courses_for(drill)
        names = [*(n for n in first if n in wanted), *wanted]
        own = [c for name in names for c in found if c.name == name]
        both = [c for c in own if any(p.day <= since for p in c.points) and c.points[-1].day > since]
        if both:
            course = max(both, key=lambda c: (c.since(since) in (Change.BETTER, Change.WORSE), -names.index(c.name)))
            before = [p for p in course.points if p.day <= since][-1]
            out.append(Helped(drill, course, before, course.points[-1], course.since(since)))
        else:
            course_or_none = own[0] if own else None
            before_or_none = next((p for p in reversed(own[0].points) if p.day <= since), None) if own else None
            out.append(Helped(drill, course_or_none, before_or_none, None, Change.UNKNOWN))
    return out
