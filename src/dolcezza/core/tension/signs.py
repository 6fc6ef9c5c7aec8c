"""The signs of tension that a camera sees, each on its own: value, ±, reference, and where it shows.

No camera sees tension. Each sign has other causes too; together they are called few, some or many, with the reasons listed,
and never a diagnosis or a score.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.strokes.figures import Stroke

Array = np.ndarray

QUIET_SHARE = 0.25
"""The quietest quarter of the player's own strokes is the player's own reference."""
TIMES_OWN = 2.0
"""A stroke this many times beyond the player's own quiet strokes shows the sign, even below the profile's reference."""
FEWEST_STROKES = 3
LEAST_RANGE_POSITION = 0.6
"""Wrist and elbow are judged on strokes that use at least so much of the bow: near the frog alone the elbow hardly opens."""
OWN_COUNTS = ("shaking bow", "bouncing stick")
"""Signs for which the player's own quiet strokes count besides the reference."""
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


class Amount(StrEnum):
    """All signs together."""

    FEW = "few"
    SOME = "some"
    MANY = "many"


@dataclass(frozen=True)
class Sign:
    """One sign: median ``value`` over the strokes with ``sd`` (of that median), ``reference`` (the profile's) and ``own`` (the
    player's own quiet strokes; NaN = too few). ``strokes`` that show it, out of ``of``, with one moment each (s)."""

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
    note: str = ""


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
        sign = _judge(references[name], values, strokes)
        if sign is None:
            unknown.append(name)
        else:
            signs.append(sign)
    if relaxed_s is None:
        signs = [_without_ease(s) if s.name == "raised shoulder" else s for s in signs]
    return Tension(tuple(_where_it_bounces(s, series, strokes) for s in signs), (*unknown, *HAND_SIGNS))


def _relaxed(raised: Array, t: Array, relaxed_s: float | None) -> float:
    if not np.isfinite(raised).any():
        return float("nan")
    if relaxed_s is None:
        return float(np.nanpercentile(raised, 10))
    near = np.abs(t - relaxed_s) < 0.5
    return float(np.nanmedian(raised[near])) if np.isfinite(raised[near]).any() else float("nan")


def _judge(reference: Reference, values: dict[int, float], strokes: list[Stroke]) -> Sign | None:
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
    members = [s for s in strokes if s.number in beyond]
    return Sign(
        name=reference.name, value=value, sd=sd, unit=reference.unit, reference=reference.limit, own=own,
        strokes=tuple(s.number for s in members), of=len(known),
        evidence_s=tuple(0.5 * (s.start_s + s.end_s) for s in members), shown=len(members) > max(1, 0.25 * len(known)),
    )  # fmt: skip


def _without_ease(sign: Sign) -> Sign:
    note = "Against the lowest shoulder of this take: mark a moment at ease to compare with that."
    return Sign(**{**sign.__dict__, "note": note})


def _where_it_bounces(sign: Sign, series: BowSeries, strokes: list[Stroke]) -> Sign:
    """Say of a bouncing stick whether it does so most about the balance point."""
    if sign.name != "bouncing stick" or not sign.shown:
        return sign
    x, p = series["inclination_deg"], series["bow_position"]
    rough = np.abs(np.diff(x, n=2))
    at = p[1:-1]
    known = np.isfinite(rough) & np.isfinite(at)
    near = known & (at > BALANCE[0]) & (at < BALANCE[1])
    far = known & ~((at > BALANCE[0]) & (at < BALANCE[1]))
    if near.sum() < 10 or far.sum() < 10:
        return sign
    gathers = np.median(rough[near]) > 1.3 * np.median(rough[far])
    note = "Most about the balance point." if gathers else "All along the bow, not only about the balance point."
    return Sign(**{**sign.__dict__, "note": note})
