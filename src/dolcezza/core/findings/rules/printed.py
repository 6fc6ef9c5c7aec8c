"""Findings that only the printed notes make: bows that go otherwise than they stand there."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from dolcezza.core.base.message import Message
from dolcezza.core.findings.catalogue import found
from dolcezza.core.findings.finding import Finding, plainly_seen, surely_below
from dolcezza.core.played.played import LITTLE_BOW, Performance, PlayedBow
from dolcezza.core.strokes.figures import Stroke

KINDS = {
    "other way": "bow the other way", "broken slur": "slur broken", "not separate": "notes in one bow", "little bow": "little bow",
}  # fmt: skip
"""Kind of finding by what went otherwise than printed."""
SHORTEST_S = 0.15
"""A bow must last so long for its direction to count."""
PLACE_SD = 0.02
"""How well the share of the bow that a bow used is measured (one sd)."""
FEWEST = 2
"""Once is a slip, of the player, of the measuring or of the laying against the notes."""
MOST_BARS = 6


def printed_findings(told: Performance, strokes: Sequence[Stroke]) -> list[Finding]:
    """What went otherwise than printed. Nothing where the take is not of this score for certain."""
    if not told.sure:
        return []
    seen = {s.number: s for s in strokes}
    out = []
    for fault, kind in KINDS.items():
        bows = [b for b in told.bows if fault in b.faults and b.strokes and b.strokes[0] in seen]
        if not bows:
            continue
        members = [seen[b.strokes[0]] for b in bows]
        asked = [b for b in told.bows if b.strokes and _could_show(fault, b, told)]
        plain = all(plainly_seen(s) and s.seconds >= SHORTEST_S for s in members)
        value, limit, sd, unit = (float(len(bows)), 0.0, 0.0, "bows")
        enough = len(bows) >= FEWEST
        if fault == "little bow":
            value, limit, unit = 100 * float(np.median([b.share / b.asked for b in bows])), 100 * LITTLE_BOW, "%"
            sd = 100 * PLACE_SD / float(np.median([b.asked for b in bows]))
            enough = enough and surely_below(value, limit, sd)
        if fault == "other way":
            # where no sign stands, the way follows from the first bow, which is a custom and no print
            enough = enough or any(b.printed.signed for b in bows)
        values = {"bars": _bars(bows, told), "n": len(bows), "of": len(asked), "share": value}
        out.append(
            found(
                kind, Message(f"printed.{fault}", values), members=members, of=max(len(asked), len(bows)),
                at=[told.notes[k].start_s for b in bows for k in [next(k for k in b.printed.notes if k in told.notes)]],
                value=value, sd=sd, limit=limit, unit=unit, sure=plain and enough,
            )
        )  # fmt: skip
    return out


def _could_show(fault: str, bow: PlayedBow, told: Performance) -> bool:
    """Whether a bow could have shown the fault at all."""
    if fault == "broken slur":
        return sum(k in told.notes for k in bow.printed.notes) > 1
    return fault != "little bow" or bool(np.isfinite(bow.asked))


def _bars(bows: Sequence[PlayedBow], told: Performance) -> str:
    """Numbers of the bars in which the bows begin."""
    bars = list(dict.fromkeys(told.score.notes[b.printed.notes[0]].measure for b in bows))
    return ", ".join(map(str, bars[:MOST_BARS])) + (" …" if len(bars) > MOST_BARS else "")
