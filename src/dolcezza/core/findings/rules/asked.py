"""Findings that only an exercise makes: notes in a bow, and a bow that changes when the notes double."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from dolcezza.core.assignment.match import Match
from dolcezza.core.base.message import Message
from dolcezza.core.findings.catalogue import found, on_strokes
from dolcezza.core.findings.finding import HABIT, Finding, plainly_seen, surely_above, surely_beyond, well_seen
from dolcezza.core.strokes.compare import ratio
from dolcezza.core.strokes.figures import Stroke

CHANGE_SHARE = 0.15
"""A bow that grows or shrinks by so much when the notes double is not unchanged (common practice, no source)."""
FEWEST_BETWEEN = 2
"""Once the bow touches the next string by a slip."""
NOTES_SD = 0.3
"""How well the number of notes in a bow is heard (one sd)."""


def asked_findings(strokes: Sequence[Stroke], matched: Match | None, heard: Mapping[int, int]) -> list[Finding]:
    """``heard``: notes in each bow by the stroke's number, where they could be told."""
    if matched is None:
        return []
    return [*_slurs(strokes, matched, heard), *_constancy(strokes, matched), *_neighbours(strokes, matched)]


def _slurs(strokes: Sequence[Stroke], matched: Match, heard: Mapping[int, int]) -> list[Finding]:
    wanted, own = matched.exercise.strokes, {s.number: s for s in strokes}
    told = [
        (own[p.played[0]], wanted[p.asked].notes, heard[p.played[0]])
        for p in matched.pairs
        if p.asked is not None and len(p.played) == 1 and p.played[0] in own and p.played[0] in heard and wanted[p.asked].notes > 1
    ]
    out = []
    for few in (True, False):
        members = [(s, asked, got) for s, asked, got in told if (got < asked if few else got > asked)]
        if len(members) <= HABIT * len(told) or len(members) < 2:
            continue
        asked, got = (float(np.median([m[k] for m in members])) for k in (1, 2))
        message = Message("slur.few" if few else "slur.many", {"asked": asked, "heard": got, "count": on_strokes(len(members), len(told))})
        out.append(
            found(
                "notes in the bow", message, members=[m[0] for m in members], of=len(told), value=got, sd=NOTES_SD, limit=asked,
                unit="notes", sure=surely_beyond(got, asked, NOTES_SD) and all(map(plainly_seen, (m[0] for m in members))),
            )
        )  # fmt: skip
    return out


def _neighbours(strokes: Sequence[Stroke], matched: Match) -> list[Finding]:
    """Bows that lie on two strings where one was asked; worth a look, never sure: a double stop may have been meant."""
    own = {s.number: s for s in strokes}
    told = [(own[n], matched.exercise.strokes[p.asked].string) for p in matched.pairs if p.asked is not None for n in p.played if n in own]
    members = [s for s, asked in told if "+" in s.string and "+" not in asked and asked in s.string.split("+")]
    if len(members) < FEWEST_BETWEEN or len(members) <= HABIT * len(told):
        return []
    message = Message("neighbour string", {"count": on_strokes(len(members), len(told))})
    return [
        found(
            "neighbour string sounds", message, members=members, of=len(told), value=float(len(members)), sd=0.5,
            limit=float(FEWEST_BETWEEN), unit="strokes", sure=False,
        )
    ]  # fmt: skip


def _constancy(strokes: Sequence[Stroke], matched: Match) -> list[Finding]:
    """Bows of the same part and length with more notes against those with fewer: speed and amount."""
    wanted, own = matched.exercise.strokes, {s.number: s for s in strokes}
    groups: dict[tuple[float, float, float], dict[int, list[Stroke]]] = {}
    for p in matched.pairs:
        if p.asked is not None and len(p.played) == 1 and p.played[0] in own:
            asked = wanted[p.asked]
            groups.setdefault((asked.low, asked.high, asked.beats), {}).setdefault(asked.notes, []).append(own[p.played[0]])
    for by_notes in groups.values():
        if len(by_notes) < 2:
            continue
        few, many = min(by_notes), max(by_notes)
        a, b = by_notes[few], by_notes[many]
        if min(len(a), len(b)) < 2:
            continue
        changes = []
        for name, field in (("speed", "mean_speed_cm_s"), ("amount", "share_used")):
            told = ratio(a, b, field)
            if told is not None:
                changes.append((abs(told[0] - 1.0), name, *told))
        if not changes:
            continue
        far, name, times, sd = max(changes)
        if far <= CHANGE_SHARE:
            continue
        more = "more" if times > 1 else "less"
        values = {"share": 100 * far, "few": few, "many": many, "what": Message(f"bow.{name}")}
        return [
            found(
                "bow changes with the notes", Message(f"constancy.{more}", values), members=b, of=len(a) + len(b),
                value=100 * (times - 1.0), sd=100 * sd, limit=100 * float(np.copysign(CHANGE_SHARE, times - 1.0)), unit="%",
                sure=surely_above(far, CHANGE_SHARE, sd) and well_seen(b, len(b)) and well_seen(a, len(a)),
            )
        ]  # fmt: skip
    return []


def asked_zones(matched: Match | None) -> dict[int, tuple[str, str]]:
    """What was asked of the strokes that were played besides place and length: contact zone and loudness by the stroke's number."""
    if matched is None:
        return {}
    wanted = matched.exercise.strokes
    return {n: (wanted[p.asked].zone, wanted[p.asked].loud) for p in matched.pairs if p.asked is not None for n in p.played}


def not_asked_for(found_: Finding, zones: Mapping[int, tuple[str, str]]) -> bool:
    """Whether a finding stands, or shows only what was asked for: near the bridge, over the fingerboard, soft, loud."""
    if not found_.strokes:
        return True
    asked = [zones.get(n, ("", "")) for n in found_.strokes]
    share = {
        "lane.bridge": [z == "bridge" for z, _ in asked], "lane.fingerboard": [z == "fingerboard" for z, _ in asked],
        "tone.airy": [loud == "soft" for _, loud in asked], "tone.crushed": [loud == "loud" for _, loud in asked],
    }.get(found_.message.id)  # fmt: skip
    return share is None or sum(share) <= 0.5 * len(share)
