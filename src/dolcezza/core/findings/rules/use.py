"""Findings about how the bow was used, and about the sound; what was asked counts where it is known."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from dolcezza.core.assignment.match import SHORT_SHARE, Match
from dolcezza.core.assignment.use import AVOIDS_FROG_FROM, BowUse
from dolcezza.core.findings import use_words as words
from dolcezza.core.findings.finding import Finding, surely_beyond, well_seen
from dolcezza.core.strokes.figures import Stroke
from dolcezza.core.tone.report import ToneReport
from dolcezza.core.tone.signs import NOISE_DB, SLOW_START_S, Start, Weight

MANY = 0.25
"""A habit shows on more than this share of the strokes; less is a slip."""
DRIFT_LIMIT = 0.02
"""So much of the bow a stroke, a dozen strokes use up a quarter of it."""
EVEN_LIMIT = 0.62
"""The smoothest single reach there is (minimum jerk: Flash & Hogan 1985) has an evenness of 0.7; a bow clearly below it swells."""
WOBBLE_DB = 2.0
"""Loudness that trembles by this much is heard (common practice, no source)."""


def use_findings(strokes: Sequence[Stroke], use: BowUse, found: Match | None) -> list[Finding]:
    """Short bows, a frog that is kept away from, a bow that wanders, uneven speed; ``found``: the match with what was asked."""
    return [*_short(strokes, use, found), *_frog(strokes, use), *_drift(strokes, use), *_uneven(strokes)]


def _made(
    kind: str,
    members: Sequence[Stroke],
    of: int,
    value: float,
    sd: float,
    limit: float,
    unit: str,
    sentence: str,
    *,
    sure: bool,
    at: Sequence[float] | None = None,
    film: str = "",
) -> Finding:
    cause, text = words.CAUSES[kind]
    moments = tuple(at) if at is not None else tuple(0.5 * (s.start_s + s.end_s) for s in members)
    return Finding(
        kind=kind,
        strokes=tuple(s.number for s in members),
        of=of,
        evidence_s=moments,
        value=value,
        sd=sd,
        limit=limit,
        unit=unit,
        sure=sure,
        cause=cause,
        sentence=sentence,
        cause_text=text,
        against=words.AGAINST.get(kind, ""),
        film=film,
    )


def _short(strokes: Sequence[Stroke], use: BowUse, found: Match | None) -> list[Finding]:
    if found is None:
        return []
    own = {s.number: s for s in strokes}
    members = [own[n] for p in found.pairs if "too short" in p.faults for n in p.played if n in own]
    asked = sum(p.asked is not None and bool(p.played) for p in found.pairs)
    figure = use.figures.get("share_to_plan")
    if figure is None or len(members) <= MANY * asked:
        return []
    sure = surely_beyond(figure.value, SHORT_SHARE, figure.sd) and well_seen(members, asked)
    sentence = words.short(figure.value, len(members), asked)
    return [
        _made(
            "short bows", members, asked, 100 * figure.value, 100 * figure.sd, 100 * SHORT_SHARE, "% of the bow asked", sentence, sure=sure
        )
    ]


def _frog(strokes: Sequence[Stroke], use: BowUse) -> list[Finding]:
    reach = use.figures.get("reach_frog")
    if not use.avoids_frog or reach is None:
        return []
    near = [s for s in strokes if min(s.from_position, s.to_position) > AVOIDS_FROG_FROM]
    at = [s.start_s if s.from_position < s.to_position else s.end_s for s in near]
    sure = surely_beyond(reach.value, AVOIDS_FROG_FROM, reach.sd) and well_seen(near, len(strokes))
    sentence = words.frog(reach.value)
    return [
        _made(
            "avoids the frog",
            near,
            len(strokes),
            100 * reach.value,
            100 * reach.sd,
            100 * AVOIDS_FROG_FROM,
            "% of the hair",
            sentence,
            sure=sure,
            at=at,
        )
    ]


def _drift(strokes: Sequence[Stroke], use: BowUse) -> list[Finding]:
    drift = use.figures.get("drift")
    if drift is None or abs(drift.value) < DRIFT_LIMIT or abs(drift.value) < 2 * drift.sd:
        return []
    balance = use.figures.get("balance")
    if balance is not None and abs(balance.value) < 2 * balance.sd:
        # places differ because other parts of the bow were played, not because down and up are unlike
        return []
    sentence = words.drift(drift.value)
    sure = surely_beyond(abs(drift.value), DRIFT_LIMIT, drift.sd)
    return [
        _made(
            "bow wanders",
            list(strokes),
            len(strokes),
            100 * drift.value,
            100 * drift.sd,
            100 * float(np.copysign(DRIFT_LIMIT, drift.value)),
            "% of the hair a stroke",
            sentence,
            sure=sure,
            at=[s.start_s for s in strokes],
        )
    ]


def _uneven(strokes: Sequence[Stroke]) -> list[Finding]:
    judged = [s for s in strokes if np.isfinite(s.evenness) and s.seconds > 0.4]
    members = [s for s in judged if s.evenness < EVEN_LIMIT]
    if len(members) <= MANY * len(judged):
        return []
    value = float(np.mean([s.evenness for s in members]))
    spread = float(np.std([s.evenness for s in members]) / max(1, len(members)) ** 0.5)
    return [
        _made(
            "uneven speed",
            members,
            len(judged),
            value,
            spread,
            EVEN_LIMIT,
            "",
            words.uneven(len(members), len(judged)),
            sure=surely_beyond(value, EVEN_LIMIT, spread),
        )
    ]


def tone_findings(strokes: Sequence[Stroke], tone: ToneReport) -> list[Finding]:
    """Crushed and airy strokes, unclear starts, a level that trembles, noise between slurred notes (which is the left hand's)."""
    own = {s.number: s for s in strokes}
    told = [t for t in tone.strokes if t.stroke in own]
    out = []
    for weight, kind in ((Weight.CRUSHED, "crushed tone"), (Weight.AIRY, "airy tone")):
        shown = [t for t in told if t.weight is weight]
        heard = [t for t in told if t.weight is not Weight.UNKNOWN]
        if len(shown) > MANY * len(heard):
            value = float(np.mean([t.noise_db for t in shown]))
            spread = float(np.std([t.noise_db for t in shown]) / len(shown) ** 0.5) + 1.0
            out.append(
                _made(
                    kind,
                    [own[t.stroke] for t in shown],
                    len(heard),
                    value,
                    spread,
                    NOISE_DB,
                    "dB",
                    words.tone(kind, len(shown), len(heard)),
                    sure=surely_beyond(value, NOISE_DB, spread),
                    film=words.QUIET_ROOM,
                )
            )
    starts = [t for t in told if t.start in (Start.SLOW, Start.SCRATCHED)]
    known = [t for t in told if t.start is not Start.UNKNOWN]
    if len(starts) > MANY * len(known):
        rises = [own[t.stroke].rise_s for t in starts if np.isfinite(own[t.stroke].rise_s)]
        scratched = sum(t.start is Start.SCRATCHED for t in starts)
        out.append(
            _made(
                "unclear start",
                [own[t.stroke] for t in starts],
                len(known),
                1000 * float(np.mean(rises or [0.0])),
                20.0,
                1000 * SLOW_START_S,
                "ms",
                words.starts(len(starts), len(known), scratched),
                sure=True,
                at=[own[t.stroke].start_s for t in starts],
            )
        )
    wobbling = [s for s in strokes if s.wobble_db > WOBBLE_DB]
    if len(wobbling) > MANY * len(strokes):
        value = float(np.mean([s.wobble_db for s in wobbling]))
        out.append(
            _made(
                "trembling tone",
                wobbling,
                len(strokes),
                value,
                0.3,
                WOBBLE_DB,
                "dB",
                words.wobble(value, len(wobbling), len(strokes)),
                sure=value - WOBBLE_DB > 0.3,
            )
        )
    if len(tone.between) > 1:
        members = [own[n] for n in dict.fromkeys(b.stroke for b in tone.between) if n in own]
        out.append(
            _made(
                "noise between notes",
                members,
                len(strokes),
                float(len(tone.between)),
                0.5,
                1.0,
                "times",
                words.between(len(tone.between)),
                sure=True,
                at=[b.t_s for b in tone.between],
            )
        )
    return out
