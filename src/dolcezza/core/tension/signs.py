"""The signs of tension that a camera sees, each on its own: value, ±, reference, and where it shows.

No camera sees tension. Each sign has other causes too; together they are called few, some or many, with the reasons listed,
and never a diagnosis or a score.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.message import NOTHING, Message
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.strokes.figures import Stroke

QUIET_SHARE = 0.25
"""The quietest quarter of the player's own strokes is the player's own reference."""
TIMES_OWN = 2.0
"""A stroke this many times beyond the player's own quiet strokes shows the sign, even below the profile's reference."""
FEWEST_STROKES = 3
LEAST_RANGE_POSITION = 0.6
"""Wrist and elbow are judged on strokes that use at least so much of the bow: near the frog alone the elbow hardly opens."""
OWN_COUNTS = ("shaking bow", "bouncing stick")
"""Signs for which the player's own quiet strokes count besides the reference."""
STANDS_OUT = 3.0
"""So many times the noise of measuring a trembling must be to be told from it (an even noise reaches twice by chance)."""
SAME_HZ = 1.0
"""A hand trembles at one frequency; noise peaks anywhere."""
ALMOST_ALL = 0.75
"""A hand that trembles, and a stick that bounces, do so in almost every stroke; a bow that is hard to follow jumps here and there."""
CERTAIN = ("shaking bow", "bouncing stick", "raised shoulder")
"""Signs that can be sure. The others rest on joints that a model has seen, or on speeds that noise makes uneven: worth a look, no more."""
BALANCE = (0.2, 0.5)
"""Where about the bow's balance point lies (share of the hair from the frog; from memory): bouncing gathers there."""


@dataclass(frozen=True)
class Reference:
    """Where a sign begins: ``limit`` in ``unit``; ``above`` = more is the sign; ``reason`` why this limit."""

    name: str
    limit: float
    unit: str
    above: bool
    reason: str


REFERENCES: dict[str, Reference] = {
    r.name: r
    for r in (
        Reference("shaking bow", 0.9, "mm", True, "quiet strokes of takes measured so far stay below 0.6 mm"),
        Reference("bouncing stick", 0.15, "deg", True, "quiet strokes of takes measured so far stay below 0.05 degrees"),
        Reference("jerky speed (arc length)", -2.6, "", False, "a movement without a halt lies near -1.5; common practice, no source"),
        Reference("jerky speed (jerk)", -11.0, "", False, "a smooth reach lies at -5.3, quiet strokes of takes measured so far above -9.6"),
        Reference("wrist that does not move", 6.0, "deg", False, "common practice, no source: the wrist gives some ten degrees in a bow"),
        Reference("frozen elbow", 25.0, "deg", False, "a whole bow opens the elbow by 60 degrees and more; common practice, no source"),
        Reference("raised shoulder", 0.08, "of shoulder width", True, "common practice, no source: a rise that is seen from the front"),
    )
}
HAND_SIGNS = ("straight thumb", "locked little finger", "same hand at frog and head", "fingers squeezed or stretched")

LEAST_LEVELS_DEG, LEAST_SEMITONES = 5.0, 2.0
"""Levels and notes must differ by so much (one sd) for a shoulder to be seen to go with them."""
FEWEST_TOGETHER, GOES_WITH = 6, 0.7
"""So many strokes, so close together (correlation)."""
HEARD_GAP_S = 0.06
"""A silence of so long between two bows is heard as a gap (common practice, no source)."""


class Amount(StrEnum):
    """All signs together."""

    FEW = "few"
    SOME = "some"
    MANY = "many"


@dataclass(frozen=True)
class Sign:
    """One sign: median ``value`` over the strokes with ``sd`` (of that median), ``reference`` (the profile's) and ``own`` (the
    player's own quiet strokes; NaN = too few). ``strokes`` that show it, out of ``of``, with one moment each (s). ``sure``: shown,
    beyond the reference by two sd, and told from the noise of measuring, on half of the strokes or more (of trembling and bouncing: on
    almost all). ``note``: what it was compared with; ``where``: where along the bow, or with what, it goes."""

    name: str
    value: float
    sd: float
    unit: str
    reference: float
    own: float
    strokes: tuple[int, ...]
    of: int
    evidence_s: tuple[float, ...]
    shown: bool
    note: Message = NOTHING
    sure: bool = False
    where: Message = NOTHING


def nearness(sign: Sign) -> float:
    """How far a sign's value is on the way to where it begins: 0 = nothing of it, 1 = there, 2 = twice as far. Where less is the sign
    (a wrist that does not move) the other way round."""
    above = REFERENCES[sign.name].above if sign.name in REFERENCES else True
    value, limit = sign.value, sign.reference
    if not np.isfinite(value) or limit == 0:
        return 0.0
    if above or limit < 0:
        return max(0.0, value / limit)
    return limit / value if value > 0 else 2.0


@dataclass(frozen=True)
class Tension:
    """All signs of a take, and what could not be told from it."""

    signs: tuple[Sign, ...]
    unknown: tuple[str, ...]

    @property
    def amount(self) -> Amount:
        """Few, some or many."""
        count = len({s.name.split(" (")[0] for s in self.signs if s.shown})
        return Amount.FEW if count <= 1 else Amount.SOME if count <= 3 else Amount.MANY

    @property
    def reasons(self) -> tuple[str, ...]:
        """Names of the signs that show."""
        return tuple(s.name for s in self.signs if s.shown)


def tension_signs(
    series: BowSeries, strokes: list[Stroke], *, references: Mapping[str, Reference] = REFERENCES, relaxed_s: float | None = None
) -> Tension:  # fmt: skip
    """Every sign that the record of a take can tell. ``relaxed_s``: a moment at which the player stands at ease."""
    whole = [s for s in strokes if abs(s.to_position - s.from_position) >= LEAST_RANGE_POSITION]
    relaxed = _relaxed(series["shoulder_raise"], series.t, relaxed_s)
    by_sign = {
        "shaking bow": {s.number: s.shake_mm for s in strokes},
        "bouncing stick": {s.number: s.bounce_deg for s in strokes},
        "jerky speed (arc length)": {s.number: s.arc_length for s in strokes},
        "jerky speed (jerk)": {s.number: s.log_jerk for s in strokes},
        "wrist that does not move": {s.number: s.wrist_range_deg for s in whole},
        "frozen elbow": {s.number: s.forearm_range_deg for s in whole},
        "raised shoulder": {s.number: s.shoulder_raise - relaxed for s in strokes},
    }
    signs, unknown = [], []
    for name, values in by_sign.items():
        clear = _clear(name, strokes)
        sign = _judge(references[name], values, strokes, clear) if clear is not None else None
        if sign is None:
            unknown.append(name)
        else:
            signs.append(sign)
    if relaxed_s is None:
        signs = [replace(s, note=Message("sign.no ease"), sure=False) if s.name == "raised shoulder" else s for s in signs]
    return Tension(tuple(replace(s, where=_where(s, series, strokes)) for s in signs), (*unknown, *HAND_SIGNS))


def _relaxed(raised: Array, t: Array, relaxed_s: float | None) -> float:
    if not np.isfinite(raised).any():
        return float("nan")
    if relaxed_s is None:
        return float(np.nanpercentile(raised, 10))
    near = np.abs(t - relaxed_s) < 0.5
    return float(np.nanmedian(raised[near])) if np.isfinite(raised[near]).any() else float("nan")


def _clear(name: str, strokes: list[Stroke]) -> set[int] | None:
    """Numbers of the strokes on which a sign can be told from the noise of measuring: trembling has one frequency, and stands out.

    None where the noise alone is so large that the sign could not be seen in this video.
    """
    if name not in OWN_COUNTS:
        return {s.number for s in strokes}
    size, hz, over = (
        ("shake_mm", "shake_hz", "shake_over_noise") if name == "shaking bow" else ("bounce_deg", "bounce_hz", "bounce_over_noise")
    )
    told = [s for s in strokes if np.isfinite(getattr(s, over))]
    if len(told) < FEWEST_STROKES:
        return None
    noise = float(np.median([getattr(s, size) / max(getattr(s, over), 1e-9) for s in told]))
    out = [s for s in told if getattr(s, over) > STANDS_OUT]
    if not out:
        return None if noise * STANDS_OUT > REFERENCES[name].limit else set()
    usual = float(np.median([getattr(s, hz) for s in out]))
    return {s.number for s in out if abs(getattr(s, hz) - usual) <= SAME_HZ}


def _judge(reference: Reference, values: dict[int, float], strokes: list[Stroke], clear: set[int]) -> Sign | None:
    known = {k: v for k, v in values.items() if np.isfinite(v)}
    if len(known) < FEWEST_STROKES:
        return None
    got = np.array(list(known.values()))
    sign = 1.0 if reference.above else -1.0
    own = float(np.percentile(got, 100 * QUIET_SHARE if reference.above else 100 * (1 - QUIET_SHARE)))
    value = float(np.median(got))
    sd = float(max(1.4826 * np.median(np.abs(got - value)), 1e-9) / np.sqrt(len(got)))
    beyond = {k for k, v in known.items() if sign * (v - reference.limit) > 0}
    if reference.name in OWN_COUNTS and own > 0:
        # far beyond the player's own quiet strokes shows too, if it comes near the reference
        beyond |= {k for k, v in known.items() if v > TIMES_OWN * own and v > 0.6 * reference.limit}
    members = [s for s in strokes if s.number in beyond & clear]
    shown = len(members) > max(1, 0.25 * len(known))
    most = ALMOST_ALL if reference.name in OWN_COUNTS else 0.5
    worst = float(np.median([known[s.number] for s in members])) if members else value
    return Sign(
        name=reference.name, value=value, sd=sd, unit=reference.unit, reference=reference.limit, own=own,
        strokes=tuple(s.number for s in members), of=len(known),
        evidence_s=tuple(0.5 * (s.start_s + s.end_s) for s in members), shown=shown,
        sure=shown and reference.name in CERTAIN and len(members) >= FEWEST_STROKES and len(members) >= most * len(known)
        and sign * (worst - reference.limit) > 2 * sd,
    )  # fmt: skip


def _where(sign: Sign, series: BowSeries, strokes: list[Stroke]) -> Message:
    """Where a sign shows most, or with what it goes; nothing where it does not show or that cannot be told."""
    if not sign.shown:
        return NOTHING
    if sign.name == "bouncing stick":
        return _where_it_bounces(series)
    if sign.name == "raised shoulder":
        return _with_what_it_rises(strokes)
    return _gaps(strokes) if sign.name.startswith("jerky speed") else NOTHING


def _where_it_bounces(series: BowSeries) -> Message:
    """Whether a stick bounces most about the balance point."""
    x, p = series["inclination_deg"], series["bow_position"]
    rough = np.abs(np.diff(x, n=2))
    at = p[1:-1]
    known = np.isfinite(rough) & np.isfinite(at)
    near = known & (at > BALANCE[0]) & (at < BALANCE[1])
    far = known & ~((at > BALANCE[0]) & (at < BALANCE[1]))
    if near.sum() < 10 or far.sum() < 10:
        return NOTHING
    return Message("sign.balance" if np.median(rough[near]) > 1.3 * np.median(rough[far]) else "sign.all along")


def _with_what_it_rises(strokes: list[Stroke]) -> Message:
    """Whether a shoulder goes up with the elbow's level, or with the pitch."""
    raised = np.array([s.shoulder_raise for s in strokes])
    for values, least, name in (
        ([s.elbow_level_deg for s in strokes], LEAST_LEVELS_DEG, "sign.high elbow"),
        ([s.semitones for s in strokes], LEAST_SEMITONES, "sign.high notes"),
    ):
        other = np.array(values)
        known = np.isfinite(raised) & np.isfinite(other)
        if known.sum() < FEWEST_TOGETHER or np.std(other[known]) < least or np.std(raised[known]) == 0:
            continue
        if np.corrcoef(raised[known], other[known])[0, 1] > GOES_WITH:
            return Message(name)
    return NOTHING


def _gaps(strokes: list[Stroke]) -> Message:
    """In how many changes of bow a gap is heard: what a jerk at the turn sounds like."""
    told = [s for s in strokes[1:] if np.isfinite(s.gap_s)]
    broken = [s for s in told if s.gap_s > HEARD_GAP_S]
    return Message("sign.gaps", {"n": len(broken), "of": len(told)}) if broken else NOTHING
