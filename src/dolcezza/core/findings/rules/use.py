"""Findings about how the bow was used; what was asked counts where it is known."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from dolcezza.core.assignment.match import SHORT_SHARE, Match
from dolcezza.core.assignment.use import AVOIDS_FROG_FROM, BowUse
from dolcezza.core.base.message import Message
from dolcezza.core.findings.catalogue import found, on_strokes
from dolcezza.core.findings.finding import HABIT, Finding, surely_above, surely_below, well_seen
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.strokes.figures import Stroke


def use_findings(strokes: Sequence[Stroke], use: BowUse, matched: Match | None, profile: Profile) -> list[Finding]:
    """Short bows, a frog that is kept away from, a bow that wanders, uneven speed; ``matched``: with what was asked."""
    return [
        *_short(strokes, use, matched), *_frog(strokes, use), *_drift(strokes, use, profile.limits["bow wanders"].value),
        *_uneven(strokes, profile.limits["uneven speed"].value),
    ]  # fmt: skip


def _short(strokes: Sequence[Stroke], use: BowUse, matched: Match | None) -> list[Finding]:
    if matched is None:
        return []
    own = {s.number: s for s in strokes}
    short = [p for p in matched.pairs if "too short" in p.faults and p.asked is not None and p.played and all(n in own for n in p.played)]
    members = [own[n] for p in short for n in p.played]
    asked = sum(p.asked is not None and bool(p.played) for p in matched.pairs)
    figure = use.figures.get("share_to_plan")
    if figure is None or len(members) <= HABIT * asked:
        return []
    # what those bows used of what was asked of them: the others are none of them
    wanted = matched.exercise.strokes
    shares = [sum(own[n].share_used for n in p.played) / wanted[p.asked].share for p in short if p.asked is not None]
    value = float(np.mean(shares))
    # bows that were lost before they turned may have gone on
    unseen = float(np.mean([sum(own[n].share_unseen for n in p.played) / wanted[p.asked].share for p in short if p.asked is not None]))
    return [
        found(
            "short bows", Message("short", {"share": 100 * value, "count": on_strokes(len(members), asked)}), members=members,
            of=asked, value=100 * value, sd=100 * figure.sd, limit=100 * SHORT_SHARE, unit="% of the bow asked",
            sure=surely_below(value + unseen, SHORT_SHARE, figure.sd) and well_seen(members, asked),
        )
    ]  # fmt: skip


def _frog(strokes: Sequence[Stroke], use: BowUse) -> list[Finding]:
    reach = use.figures.get("reach_frog")
    if not use.avoids_frog or reach is None:
        return []
    near = [s for s in strokes if min(s.from_position, s.to_position) > AVOIDS_FROG_FROM]
    # a bow that was lost on its way may have gone on to the frog
    unseen = float(np.mean([s.share_unseen for s in near])) if near else 0.0
    return [
        found(
            "avoids the frog", Message("frog", {"share": 100 * reach.value}), members=near, of=len(strokes), value=100 * reach.value,
            sd=100 * reach.sd, limit=100 * AVOIDS_FROG_FROM, unit="% of the hair",
            sure=surely_above(reach.value - unseen, AVOIDS_FROG_FROM, reach.sd) and well_seen(near, len(strokes)),
            at=[s.start_s if s.from_position < s.to_position else s.end_s for s in near],
        )
    ]  # fmt: skip


def _drift(strokes: Sequence[Stroke], use: BowUse, limit: float) -> list[Finding]:
    drift = use.figures.get("drift")
    if drift is None or abs(drift.value) < limit or abs(drift.value) < 2 * drift.sd:
        return []
    balance = use.figures.get("balance")
    if balance is not None and abs(balance.value) < 2 * balance.sd:
        # places differ because other parts of the bow were played, not because down and up are unlike
        return []
    message = Message("drift.out" if drift.value > 0 else "drift.in", {"share": 100 * abs(drift.value)})
    return [
        found(
            "bow wanders", message, members=list(strokes), of=len(strokes), value=100 * drift.value, sd=100 * drift.sd,
            limit=100 * float(np.copysign(limit, drift.value)), unit="% of the hair a stroke",
            sure=surely_above(abs(drift.value), limit, drift.sd) and well_seen(strokes, len(strokes)), at=[s.start_s for s in strokes],
        )
    ]  # fmt: skip


def _uneven(strokes: Sequence[Stroke], limit: float) -> list[Finding]:
    judged = [s for s in strokes if np.isfinite(s.evenness) and s.seconds > 0.4]
    members = [s for s in judged if s.evenness < limit]
    if len(members) <= HABIT * len(judged):
        return []
    value = float(np.mean([s.evenness for s in members]))
    spread = float(np.std([s.evenness for s in members]) / max(1, len(members)) ** 0.5)
    spread = float(np.hypot(spread, np.nan_to_num(np.mean([s.evenness_sd for s in members]))))
    return [
        found(
            "uneven speed", Message("uneven", {"count": on_strokes(len(members), len(judged))}), members=members, of=len(judged),
            value=value, sd=spread, limit=limit, unit="", sure=surely_below(value, limit, spread) and well_seen(members, len(judged)),
        )
    ]  # fmt: skip
