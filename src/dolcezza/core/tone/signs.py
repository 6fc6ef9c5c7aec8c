"""Weight against speed, from what the tone and the bow do together. Signs relative to the take, never good or bad.

Between bridge and fingerboard a bowed string takes a band of weights: too much for the speed and the slips split and scratch, too
little and the fundamental goes, it whistles. Schelleng (1973, from memory): the most weight goes with speed over beta, the
least with speed over beta squared; so near the bridge the band is narrow and high. The camera gives the speed and the contact
point, the microphone the noise; only which of the two is too much has to be told.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from dolcezza.core.base.message import Message
from dolcezza.core.strokes.figures import Stroke

NOISE_DB = 6.0
"""A tone this much nearer to its noise than the player's own clear strokes is not clear."""
LEAST_OWN_DB = 8.0
"""Below this nothing in the take is clear: there is nothing to compare with."""
OWN_PERCENT = 80.0
SLOW, FAST = 0.8, 1.25
"""Bow speed against the take's median on the string from which a stroke counts as slow or fast."""
SPLIT = 0.03
"""From here on every other period differs: the slips split."""
HISS_DB, THIN_SHARE = 4.0, 0.75
"""So much more hiss, or so much less fundamental (share), than the player's clear strokes."""
SLOW_START_S, SLOW_START_RATIO = 0.14, 1.8
"""A start is slow when the tone takes this long to rise, and this much longer than the take's usual start."""
SCRATCH_DB, SCRATCH_S = 9.0, 0.12
"""A start is scratched when its first moments are so much noisier than the stroke."""


class Weight(StrEnum):
    """Weight against speed."""

    CRUSHED = "crushed"
    CLEAN = "clean"
    AIRY = "airy"
    NOISY = "noisy"
    UNKNOWN = "cannot tell"


class Start(StrEnum):
    """How a stroke begins."""

    CLEAR = "clear"
    SLOW = "slow"
    SCRATCHED = "scratched"
    UNKNOWN = "cannot tell"


@dataclass(frozen=True)
class StrokeTone:
    """The tone of one stroke: ``weight`` with its ``reasons``; ``noise_db``: how much nearer to its noise than the player's clear strokes;
    ``speed_ratio`` to the take's median on the string; ``start`` with ``start_noise_db``: how much noisier it begins than it goes on."""

    stroke: int
    weight: Weight
    reasons: tuple[Message, ...]
    noise_db: float
    speed_ratio: float
    start: Start
    start_noise_db: float


def stroke_tones(strokes: list[Stroke], start_noise_db: dict[int, float]) -> list[StrokeTone]:
    """Every stroke against the take's own clear ones. ``start_noise_db``: by stroke number, how much noisier it begins."""
    out = []
    rises = [s.rise_s for s in strokes if np.isfinite(s.rise_s)]
    usual_rise = float(np.median(rises)) if rises else np.nan
    own = _own(strokes)
    for s in strokes:
        speeds = [o.mean_speed_cm_s for o in strokes if o.string == s.string and np.isfinite(o.mean_speed_cm_s)]
        ratio = s.mean_speed_cm_s / float(np.median(speeds)) if speeds else np.nan
        weight, reasons = _weight(s, own, ratio)
        noise = own.hnr_db - s.hnr_db if own is not None else np.nan
        late = start_noise_db.get(s.number, np.nan)
        out.append(StrokeTone(s.number, weight, reasons, float(noise), float(ratio), _start(s, usual_rise, late), float(late)))
    return out


@dataclass(frozen=True)
class _Own:
    """The player's clear strokes of this take."""

    hnr_db: float
    fundamental: float
    hiss_db: dict[str, float]


def _own(strokes: list[Stroke]) -> _Own | None:
    heard = [s for s in strokes if np.isfinite(s.hnr_db)]
    if not heard:
        return None
    best = float(np.percentile([s.hnr_db for s in heard], OWN_PERCENT))
    clear = [s for s in heard if s.hnr_db > best - 0.5 * NOISE_DB]
    hiss = {string: float(np.median([s.hiss_db for s in clear if s.string == string])) for string in {s.string for s in clear}}
    return _Own(best, float(np.median([s.fundamental for s in clear])), hiss)


def _weight(s: Stroke, own: _Own | None, ratio: float) -> tuple[Weight, tuple[Message, ...]]:
    if own is None or not np.isfinite(s.hnr_db):
        return Weight.UNKNOWN, (Message("tone.why.no pitch"),)
    if own.hnr_db < LEAST_OWN_DB:
        return Weight.UNKNOWN, (Message("tone.why.nothing clear"),)
    noise = own.hnr_db - s.hnr_db
    if noise < NOISE_DB:
        return Weight.CLEAN, ()
    heavy: list[Message] = []
    light: list[Message] = []
    if s.split > SPLIT:
        heavy.append(Message("tone.why.split"))
    if ratio < SLOW:
        heavy.append(Message("tone.why.slow", {"ratio": float(ratio)}))
    if ratio > FAST:
        light.append(Message("tone.why.fast", {"ratio": float(ratio)}))
    if s.fundamental < THIN_SHARE * own.fundamental:
        light.append(Message("tone.why.thin"))
    if s.hiss_db - own.hiss_db.get(s.string, np.inf) > HISS_DB:
        light.append(Message("tone.why.hiss"))
    said = (Message("tone.why.noise", {"db": float(noise)}),)
    if len(heavy) == len(light):
        return Weight.NOISY, said + tuple(heavy + light)
    return (Weight.CRUSHED, said + tuple(heavy)) if len(heavy) > len(light) else (Weight.AIRY, said + tuple(light))


def _start(s: Stroke, usual_rise: float, noise_db: float) -> Start:
    if noise_db > SCRATCH_DB:
        return Start.SCRATCHED
    if not np.isfinite(s.rise_s):
        return Start.UNKNOWN
    if s.rise_s > max(SLOW_START_S, SLOW_START_RATIO * usual_rise):
        return Start.SLOW
    return Start.CLEAR
