"""Findings about the sound."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from dolcezza.core.base.message import Message
from dolcezza.core.findings.catalogue import found, on_strokes
from dolcezza.core.findings.finding import FEWEST_SURE, HABIT, Finding, surely_above
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.findings.rules.setup import ONCE
from dolcezza.core.strokes.figures import Stroke
from dolcezza.core.tone.report import ToneReport
from dolcezza.core.tone.signs import NOISE_DB, SCRATCH_DB, SLOW_START_S, Start, StrokeTone, Weight

LEVEL_SD_DB, RISE_SD_MS = 0.3, 20.0
"""How well a trembling level and the rise of a tone are known (one sd)."""
START_NOISE_SD_DB = 3.0
"""How much the noise of starts that are all alike differs from one to the next (one sd): it is heard for a tenth of a second only."""
NOISE_SD_DB = 1.0
"""What a room adds to the noise of a stroke, besides its own spread."""


def tone_findings(strokes: Sequence[Stroke], tone: ToneReport, profile: Profile) -> list[Finding]:
    """Pressed and airy strokes, unclear starts, a level that trembles, noise between slurred notes (which is the left hand's)."""
    own = {s.number: s for s in strokes}
    told = [t for t in tone.strokes if t.stroke in own]
    out = _rough(strokes, told, own, profile) if profile.want("roughness") == "corrected" else []
    if len(tone.between) > 1:
        members = [own[n] for n in dict.fromkeys(b.stroke for b in tone.between) if n in own]
        out.append(
            found(
                "noise between notes", Message("between", {"n": len(tone.between)}), members=members, of=len(strokes),
                value=float(len(tone.between)), sd=0.5, limit=ONCE, unit="times", sure=True, at=[b.t_s for b in tone.between],
            )
        )  # fmt: skip
    return out


def _unclear_starts(told: Sequence[StrokeTone], own: dict[int, Stroke]) -> list[Finding]:
    """Strokes that begin with a scratch or slowly, by what most of them do; sure where enough of them are beyond doubt."""
    starts = [t for t in told if t.start in (Start.SLOW, Start.SCRATCHED)]
    known = [t for t in told if t.start is not Start.UNKNOWN]
    if len(starts) <= HABIT * len(known):
        return []
    members = [own[t.stroke] for t in starts]
    scratched = 2 * sum(t.start is Start.SCRATCHED for t in starts) > len(starts)
    if scratched:
        figures, sd, limit, unit = [t.start_noise_db for t in starts], START_NOISE_SD_DB, SCRATCH_DB, "dB"
    else:
        figures, sd, limit, unit = [1000 * s.rise_s for s in members], RISE_SD_MS, 1000 * SLOW_START_S, "ms"
    beyond_doubt = sum(surely_above(f, limit, sd) for f in figures if np.isfinite(f))
    finite = [f for f in figures if np.isfinite(f)]
    return [
        found(
            "unclear start", Message("starts.scratched" if scratched else "starts.slow", {"count": on_strokes(len(starts), len(known))}),
            members=members, of=len(known), value=float(np.mean(finite or [0.0])), sd=sd, limit=limit, unit=unit,
            sure=beyond_doubt >= FEWEST_SURE and beyond_doubt > HABIT * len(known), at=[s.start_s for s in members],
        )
    ]  # fmt: skip


def _rough(strokes: Sequence[Stroke], told: Sequence[StrokeTone], own: dict[int, Stroke], profile: Profile) -> list[Finding]:
    """Pressed and airy strokes, unclear starts, a level that trembles: where roughness is corrected."""
    out = []
    for weight, kind, message in ((Weight.CRUSHED, "crushed tone", "tone.crushed"), (Weight.AIRY, "airy tone", "tone.airy")):
        shown = [t for t in told if t.weight is weight]
        heard = [t for t in told if t.weight is not Weight.UNKNOWN]
        if len(shown) > HABIT * len(heard):
            value = float(np.mean([t.noise_db for t in shown]))
            spread = float(np.std([t.noise_db for t in shown]) / len(shown) ** 0.5) + NOISE_SD_DB
            out.append(
                found(
                    kind, Message(message, {"count": on_strokes(len(shown), len(heard))}), members=[own[t.stroke] for t in shown],
                    of=len(heard), value=value, sd=spread, limit=NOISE_DB, unit="dB",
                    sure=len(shown) >= FEWEST_SURE and surely_above(value, NOISE_DB, spread),
                )
            )  # fmt: skip
    out += _unclear_starts(told, own)
    limit = profile.limits["trembling tone"].value
    wobbling = [s for s in strokes if s.wobble_db > limit]
    if len(wobbling) > HABIT * len(strokes):
        value = float(np.mean([s.wobble_db for s in wobbling]))
        out.append(
            found(
                "trembling tone", Message("wobble", {"db": value, "count": on_strokes(len(wobbling), len(strokes))}), members=wobbling,
                of=len(strokes), value=value, sd=LEVEL_SD_DB, limit=limit, unit="dB",
                sure=len(wobbling) >= FEWEST_SURE and value - limit > LEVEL_SD_DB,
            )
        )  # fmt: skip
    return out
