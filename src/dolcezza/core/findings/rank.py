"""What to change first: the order in which most teachers work, then how often, how far and how sure. Explained, and changeable."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from dolcezza.core.base.message import Message
from dolcezza.core.findings.catalogue import Group, entry, on_strokes
from dolcezza.core.findings.finding import Finding

GROUPS: tuple[Group, ...] = tuple(Group)
"""The usual order (common practice, no source): set-up and start pose, straightness, arm levels, bow use, tone, refinement of the hold;
but signs of tension come first where they are many."""
MANY_SIGNS = 3.0
"""From so many signs of tension on they come before everything else; fewer are work on the arm."""
START_CAUSES = ("set down crooked",)
"""Crooked from the start pose on is set-up: it is put right before anything moves."""


def group_of(finding: Finding) -> Group:
    """The kind of work a finding belongs to."""
    if finding.kind == "signs of tension":
        return Group.TENSION if finding.value >= MANY_SIGNS else Group.ARM
    if finding.cause in START_CAUSES:
        return Group.SETUP
    return entry(finding.kind).group


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


def why(finding: Finding, place: int, groups: Sequence[str] = GROUPS, *, accepted: bool = False) -> Message:
    """Why a finding stands at its place (0 = first); ``accepted``: the teacher has said that it is so."""
    group = group_of(finding)
    often = on_strokes(len(finding.strokes), finding.of) if finding.of else Message("on the whole take")
    if accepted and not finding.sure:
        return Message("why.accepted", {"group": Message(f"group.{group}"), "often": often})
    if not finding.sure:
        return Message("why.not sure", {"group": Message(f"group.{group}"), "often": often})
    if group == Group.TENSION:
        return Message("why.tension" if finding.kind == "signs of tension" else "why.held tight")
    after = [g for g in groups[: groups.index(group)] if g != Group.TENSION] if group in groups else []
    rest = tuple(Message(f"group.{g}") for g in groups[groups.index(group) + 1 :][:2]) if group in groups else ()
    values = {"group": Message(f"group.{group}"), "rest": rest or (Message("group.rest"),), "often": often}
    if place == 0:
        return Message("why.first", values)
    return Message("why.after", {**values, "after": Message(f"group.{after[-1]}")}) if after else Message("why.later", values)
