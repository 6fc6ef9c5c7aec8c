"""The sentences of the trade. Words for the teacher, no statistics; numbers with their unit."""

from __future__ import annotations

import math
from collections.abc import Sequence

from dolcezza.core.base.units import show
from dolcezza.core.strokes.signature import Shape, Signature
from dolcezza.core.tension.signs import Sign

CROOKED_CAUSE: dict[str, tuple[str, str]] = {
    Shape.SWING: (
        "arm swings from the shoulder",
        "Probably the arm swings round from the shoulder instead of opening at the elbow: the angle "
        "turns steadily along the bow.",
    ),
    Shape.TIP_ONLY: (
        "arm does not open",
        "Probably the arm does not open and reach forward in the last third: only the tip "
        "wanders.",
    ),
    Shape.FROG_ONLY: (
        "wrist and hand do not give",
        "Probably wrist, hand and little finger do not give near the frog: only the first third is "
        "off.",
    ),
    Shape.CONSTANT: (
        "angle kept all along",
        "The same angle all along the bow: look at how arm and instrument stand to each "
        "other.",
    ),
    "start": (
        "set down crooked",
        "Probably the bow was set down crooked and stayed so: it is off from the start pose "
        "on.",
    ),
    Shape.MIXED: ("no single shape", "No single shape along the bow: look at the frames before choosing a correction."),
}  # fmt: skip
LANE_CAUSE: dict[str, tuple[str, str]] = {
    "angle": (
        "the crooked bow steers it",
        "Probably the bow's angle steers it there: a crooked bow slides along the string. Straighten "
        "first.",
    ),
    "hand": (
        "the hand does not steer",
        "The bow is straight enough: probably it was placed there, or the hand does not steer it "
        "back.",
    ),
}  # fmt: skip
STAIRS_CAUSE: dict[str, tuple[str, str]] = {
    "flat": ("elbow stays at one height", "Probably the elbow is left where it is when the string changes. Name its level at each change."),
    "broken": ("a level is skipped", "Probably one string's level is not known yet: the steps from string to string are unlike."),
    "reversed": (
        "levels the other way round",
        "The elbow goes down where the string asks it to go up. Check the order in the profile first.",
    ),
}
PLANE_CAUSE: dict[str, tuple[str, str]] = {
    "low": ("elbow hangs", "Probably the arm rests on itself and the hand carries the bow. Look for a comfortable height."),
    "high": ("elbow held up", "Probably shoulder and elbow are lifted together. Let the arm hang into its height."),
}
SWING_CAUSE = (
    "arm goes behind the back",
    "Probably the arm swings round from the shoulder. Keep the upper arm forward and open at the elbow.",
)
TENSION_CAUSE = (
    "several signs together",
    "Each sign has other causes too: look, ask, feel. Signs, not a diagnosis; at any pain stop and rest.",
)
_PLACE = {"frog": "near the frog", "middle": "in the middle of the bow", "tip": "in the last third"}


def _side(angle: float) -> str:
    return "towards the scroll" if angle > 0 else "towards the player"


def _count(shown: int, of: int, what: str) -> str:
    if what == "strokes":
        return f"on {shown} of {of} strokes"
    return f"on {shown} {what if shown != 1 else what.removesuffix('s')} of {of} strokes"


def _degrees(angle: float) -> str:
    whole = round(abs(angle))
    return f"{whole} degree" if whole == 1 else f"{whole} degrees"


def _at(angle: float, place: str) -> str:
    return f"is straight {place}" if abs(angle) < 1.5 else f"points {_degrees(angle)} {_side(angle)} {place}"


def crooked(mark: Signature, shown: int, of: int, what: str) -> str:
    """One sentence for a crooked bow."""
    count = _count(shown, of, what)
    if mark.shape is Shape.SWING and math.isfinite(mark.frog) and math.isfinite(mark.tip):
        return f"The bow swings round: it {_at(mark.frog, 'at the frog')} and its tip {_at(mark.tip, 'at the head')}, {count}."
    if mark.shape is Shape.TIP_ONLY:
        return f"The tip wanders {_side(mark.tip)} in the last third, {_degrees(mark.tip)}, {count}."
    if mark.shape is Shape.FROG_ONLY:
        return f"The tip points {_side(mark.frog)} near the frog, {_degrees(mark.frog)}, {count}."
    if mark.shape is Shape.CONSTANT:
        return f"The tip points {_side(mark.worst)} all along the bow, {_degrees(mark.worst)}, {count}."
    return f"The tip points {_side(mark.worst)} {_PLACE[mark.worst_third]}, {_degrees(mark.worst)}, {count}."


def out_of_lane(side: str, value: float, band: tuple[float, float], shown: int, of: int, what: str) -> str:
    """One sentence for a contact point outside the lane."""
    return (
        f"The bow runs towards the {side}: {show('contact_point', value)} from the bridge "
        f"(lane {band[0]:.0f} to {band[1]:.0f} mm), {_count(shown, of, what)}."
    )


def stairs(shape: str, step: float, order: list[str]) -> str:
    """One sentence for an elbow staircase that is not even."""
    way = " to ".join((order[0], order[-1]))
    if shape == "flat":
        return f"The elbow hardly changes its height from string to string: {round(step)} degrees a string from {way}."
    if shape == "reversed":
        return f"The elbow staircase runs the other way: {round(step)} degrees a string from {way}."
    return f"The elbow staircase is uneven: its steps from {way} are unlike, {round(step)} degrees on average."


def plane(value: float, high: bool, shown: int, of: int) -> str:
    """One sentence for an elbow far from the bow's plane."""
    where = f"stands {abs(value):.0f} mm above" if high else f"hangs {abs(value):.0f} mm below"
    return f"The elbow {where} the bow, {_count(shown, of, 'strokes')}."


def swing(value: float, shown: int, of: int) -> str:
    """One sentence for an elbow behind the line of the back."""
    return f"The elbow goes behind the line of the back, {round(value - 90)} degrees, {_count(shown, of, 'strokes')}."


def tension(amount: str, signs: Sequence[Sign]) -> str:
    """One sentence for the signs of tension together."""
    reasons = ", ".join(f"{s.name} on {len(s.strokes)} of {s.of} strokes" for s in signs)
    return f"Signs of tension: {amount}. {reasons[0].upper()}{reasons[1:]}."


SIGN_AGAINST = "Against it: one sign alone has many causes. A sign, never a diagnosis."


def one_sign(name: str, shown: int, of: int) -> str:
    """One sentence for a single sign of tension."""
    return f"{name[0].upper()}{name[1:]}, on {shown} of {of} strokes."


def not_sure() -> str:
    """What to say when a finding is within its own ±."""
    return "Not sure: the difference is smaller than what this view can measure."


def view(weak: list[str], better_place: str = "") -> str:
    """What a view measures poorly, and which way to move the phone next time (``better_place``, words or "")."""
    names = {"bow_angle": "bow angle", "contact_point": "contact point", "bow_position": "place on the bow"}
    what = " and ".join(names[w] for w in weak)
    said = f"This view measures the {what} poorly." if weak else "This view measures all three well."
    if better_place:
        said += f" {'Next time' if weak else 'Still better'}: hold the phone {better_place}."
    return said
