"""What to change first: the order in which most teachers work, then how often, how far and how sure. Explained, and changeable."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from dolcezza.core.findings.finding import Finding

GROUPS: tuple[str, ...] = ("tension", "set-up", "straightness", "arm", "bow use", "tone", "hold")
"""The usual order (common practice, no source): set-up and start pose, straightness, arm levels, bow use, tone, refinement of the hold;
but signs of tension come first where they are many."""
GROUP_OF: dict[str, str] = {
    "crooked": "straightness",
    "out of the lane": "straightness",
    "elbow staircase": "arm",
    "elbow level": "arm",
    "elbow behind the back": "arm",
    "raised shoulder": "arm",
    "frozen elbow": "arm",
    "wrist that does not move": "arm",
    "shaking bow": "arm",
    "bouncing stick": "arm",
    "jerky speed (jerk)": "bow use",
    "jerky speed (arc length)": "bow use",
    "short bows": "bow use",
    "avoids the frog": "bow use",
    "bow wanders": "bow use",
    "uneven speed": "bow use",
    "crushed tone": "tone",
    "airy tone": "tone",
    "unclear start": "tone",
    "trembling tone": "tone",
    "noise between notes": "tone",
    "straight thumb": "hold",
    "straight little finger": "hold",
    "hand does not change": "hold",
    "posture": "set-up",
    "leaves the string": "bow use",
    "fingers squeezed": "hold",
    "wrist below the knuckles": "hold",
    "wrist above the knuckles": "hold",
}
MANY_SIGNS = 3.0
"""From so many signs of tension on they come before everything else; fewer are work on the arm."""
START_CAUSES = ("set down crooked",)
"""Crooked from the start pose on is set-up: it is put right before anything moves."""


def group_of(finding: Finding) -> str:
    """The kind of work a finding belongs to."""
    if finding.kind == "signs of tension":
        return "tension" if finding.value >= MANY_SIGNS else "arm"
    if finding.cause in START_CAUSES:
        return "set-up"
    return GROUP_OF.get(finding.kind, "hold")


def weight(finding: Finding) -> float:
    """How much a finding matters within its group: how often times how far beyond the limit, halved where it is not sure."""
    often = len(finding.strokes) / finding.of if finding.of else 1.0
    far = abs(finding.value - finding.limit * float(np.sign(finding.value) or 1.0)) / max(abs(finding.limit), 1.0)
    if finding.limit < 0 or finding.value < finding.limit:
        far = abs(finding.value - finding.limit) / max(abs(finding.limit), 1.0)
    return often * min(far, 3.0) * (1.0 if finding.sure else 0.5)


def in_order(found: Sequence[Finding], groups: Sequence[str] = GROUPS) -> list[Finding]:
    """Sure before not sure, then by group in the order of ``groups``, then by weight."""
    place = {name: k for k, name in enumerate(groups)}
    return sorted(found, key=lambda f: (not f.sure, place.get(group_of(f), len(place)), -weight(f)))


def why(finding: Finding, place: int, groups: Sequence[str] = GROUPS) -> str:
    """Why a finding stands at its place (0 = first), in one sentence."""
    group = group_of(finding)
    often = f"{len(finding.strokes)} of {finding.of} strokes" if finding.of else "the whole take"
    if not finding.sure:
        return f"Later, because it is not sure ({group}, {often})."
    after = [g for g in groups[: groups.index(group)] if g != "tension"] if group in groups else []
    if group == "tension":
        return "First, because signs of tension are many: nothing is learned well against them."
    said = f"{'First: ' if place == 0 else ''}{group} comes before {' and '.join(groups[groups.index(group) + 1 :][:2]) or 'the rest'}"
    return f"{said}{f', after {after[-1]}' if after and place else ''}; it shows on {often}."
