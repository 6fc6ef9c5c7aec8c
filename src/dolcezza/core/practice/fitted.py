"""A drill fitted to who does it: smaller doses for children, less for mobile joints, nothing hard after pain, no weight exchange for a hand
that presses. Nobody ever gets more than the drill says.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from dolcezza.core.base.message import Message
from dolcezza.core.practice.drills import Drill

SMALL_UNTIL, YOUNG_UNTIL, ADULT_FROM = 8, 12, 16
"""Ages: half a dose below the first, three quarters up to the second; from the third on an adult is spoken to (common practice, no source:
small doses for children)."""
LEAST_MINUTES = 0.5
WEIGHT_EXCHANGE = "D12"
PRESSING = frozenset(
    {
        "pressing",
        "several signs together",
        "too much weight for the speed",
        "little finger pushes",
        "ring closed",
        "thumb held straight",
        "grip too firm",
    }
)
"""Causes of a hand that presses: release comes first there (common practice, no source)."""


@dataclass(frozen=True)
class Person:
    """``age`` None = not said; ``mobile_joints``, ``had_pain`` as the teacher marked them; ``presses``: what was found says so."""

    age: int | None = None
    mobile_joints: bool = False
    had_pain: bool = False
    presses: bool = False

    @property
    def reader(self) -> str:
        """Whose words of a drill are meant: adult or child."""
        return "adult" if self.age is not None and self.age >= ADULT_FROM else "child"


def fitted(drill: Drill, person: Person) -> tuple[Drill | None, Message | None]:
    """The drill as this person does it, None = not now; and what is to be said of the change, None = nothing."""
    if person.presses and drill.key == WEIGHT_EXCHANGE:
        return None, Message("plan.not for pressing", {"task": drill.key})
    if person.had_pain and drill.hard:
        return None, Message("plan.after pain", {"task": drill.key})
    share, said = 1.0, None
    if person.age is not None and person.age < SMALL_UNTIL:
        share = 0.5
    elif person.age is not None and person.age <= YOUNG_UNTIL:
        share = 0.75
    if person.mobile_joints and drill.thumb:
        share, said = 0.5 * share, Message("plan.mobile", {"task": drill.key})
    if share == 1.0:
        return drill, said
    return replace(drill, minutes=max(LEAST_MINUTES, round(2 * share * drill.minutes) / 2), count=max(1, round(share * drill.count))), said
