"""How the bow was used: where it spent its time, how far it reached, how even, how it drifted; alone and against the assignment."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from dolcezza.core.assignment.match import Match
from dolcezza.core.base.arrays import Array
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.strokes.figures import Stroke

PARTS_OF_BOW = 10
"""The hair is divided into so many equal parts, frog first."""
AROUND_S = 1.0
"""What was not seen so near the strokes may belong to them."""
REACH_PERCENT = 25.0
"""The reach is the median of the stroke ends in this outer share of them: one slip is no habit."""
AVOIDS_FROG_FROM = 0.12
"""A player whose strokes never start or end nearer to the frog than this share of the bow keeps away from it (common practice, no
source)."""


@dataclass(frozen=True)
class Use:
    """One figure: ``value`` with ``sd`` (one standard deviation) in ``unit``."""

    value: float
    sd: float
    unit: str


FIGURES: dict[str, tuple[str, str]] = {
    "reach_frog": ("Reach at the frog", "0 = the very frog; the strokes' own nearest ends"),
    "reach_tip": ("Reach at the tip", "1 = the very head; the strokes' own farthest ends"),
    "share": ("Bow used in a stroke", "share of the hair, mean of the strokes"),
    "speed": ("Bow speed", "mean of the strokes"),
    "evenness": ("Evenness of speed", "1 = the same speed all along a stroke"),
    "balance": ("Down against up", "bow used by down-bows less that of up-bows; not 0 = the bow wanders along"),
    "drift": ("Drift", "how far each stroke starts farther towards the head than the one before in its direction"),
    "off_plan": ("Start off the plan", "how far into the bow strokes begin against where they should, + = the first part is left out"),
    "speed_to_plan": ("Speed against plan", "1 = as fast as length, tempo and part of the bow ask"),
    "share_to_plan": ("Bow against plan", "1 = as much bow as was asked"),
    "beat": ("Bow used in a beat", "share of the hair"),
}
"""Name of each figure to its words and what they mean."""


@dataclass(frozen=True)
class BowUse:
    """Figures by name, in the order of ``FIGURES``, those that can be told; ``time_share`` (10,) of the bowing time in each tenth of the
    hair; ``strokes`` so many; ``avoids_frog`` None = it cannot be told (no stroke was to go there)."""

    figures: dict[str, Use]
    time_share: tuple[float, ...]
    strokes: int
    avoids_frog: bool | None


def bow_use(
    series: BowSeries, strokes: Sequence[Stroke], *, matched: Match | None = None, hair_mm: float, tempo_told: bool = True
) -> dict[str, BowUse]:  # fmt: skip
    """Of all strokes ("all") and of each string by its name. With a match also against the plan; ``tempo_told``: the exercise's tempo
    is the one that was asked for, not only a usual one."""
    tempo = matched.exercise.tempo if matched is not None and tempo_told else None
    out = {"all": _use(series, strokes, matched, hair_mm, tempo)}
    for string in dict.fromkeys(s.string for s in strokes if s.string):
        out[string] = _use(series, [s for s in strokes if s.string == string], matched, hair_mm, tempo)
    return out


def _use(series: BowSeries, strokes: Sequence[Stroke], matched: Match | None, hair_mm: float, tempo: float | None) -> BowUse:
    figures: dict[str, Use] = {}
    ends = [(s.from_position, s.to_position) for s in strokes if np.isfinite([s.from_position, s.to_position]).all()]
    place_sd, unknown = _place_sd(series, strokes), _place_unknown(series, strokes)
    asked = _asked(strokes, matched)
    if ends:
        low, high = np.min(ends, axis=1), np.max(ends, axis=1)
        near, far = (
            _without_noise(low, _end_sd(series, strokes, at_frog=True)),
            _without_noise(1.0 - high, _end_sd(series, strokes, at_frog=False)),
        )
        figures["reach_frog"] = Use(_outer(near), float(np.hypot(np.hypot(place_sd, unknown), _se(low))), "share")
        figures["reach_tip"] = Use(1.0 - _outer(far), float(np.hypot(np.hypot(place_sd, unknown), _se(1.0 - high))), "share")
        figures["share"] = _mean(high - low, float(np.hypot(place_sd * np.sqrt(2 / len(ends)), unknown)), "share")
        figures["speed"] = _mean(np.array([s.mean_speed_cm_s for s in strokes]), 0.0, "cm/s")
        figures["evenness"] = _mean(np.array([s.evenness for s in strokes]), 0.0, "")
    figures |= _balance(strokes, place_sd) | _drift(strokes, place_sd)
    if asked:
        figures |= _against(asked, hair_mm, place_sd, tempo)
    return BowUse(
        {name: figures[name] for name in FIGURES if name in figures and np.isfinite(figures[name].value)},
        _time_share(series, strokes), len(strokes), _avoids(strokes, asked, place_sd),
    )  # fmt: skip


def _asked(strokes: Sequence[Stroke], matched: Match | None) -> list[tuple[Stroke, float, float, float]]:
    """Strokes that were asked for, with where they should start and end and their beats. What was split or extra is left out."""
    if matched is None:
        return []
    wanted = matched.exercise.strokes
    own = {s.number: s for s in strokes}
    return [
        (own[p.played[0]], wanted[p.asked].from_position, wanted[p.asked].to_position, wanted[p.asked].beats)
        for p in matched.pairs
        if p.asked is not None and len(p.played) == 1 and p.played[0] in own and own[p.played[0]].down == wanted[p.asked].down
    ]


def _place_sd(series: BowSeries, strokes: Sequence[Stroke]) -> float:
    """The ± of a place on the bow, median over the strokes."""
    inside = np.zeros(len(series), bool)
    for s in strokes:
        inside |= (series.t >= s.start_s) & (series.t <= s.end_s)
    sd = series["bow_position_sd"][inside]
    sd = sd[np.isfinite(sd)]
    return float(np.median(sd)) if len(sd) else 0.0


def _place_unknown(series: BowSeries, strokes: Sequence[Stroke]) -> float:
    """Share of the time with the bow on a string in which its place was not seen, a head outside the picture for one: so much farther the
    bow may have gone than the strokes say."""
    on = np.isfinite(series["bow_angle_deg"])
    if strokes:
        on &= (series.t > strokes[0].start_s - AROUND_S) & (series.t < strokes[-1].end_s + AROUND_S)
    return float((on & ~np.isfinite(series["bow_position"])).sum() / max(1, on.sum()))


def _end_sd(series: BowSeries, strokes: Sequence[Stroke], *, at_frog: bool) -> float:
    """The ± of the strokes' ends nearer to the frog, or to the tip, root of the mean square; 0 where none is known."""
    sd = series["bow_position_sd"]
    known = np.isfinite(sd)
    if not known.any():
        return 0.0
    ends = [s for s in strokes if np.isfinite([s.from_position, s.to_position]).all()]
    times = [s.start_s if (s.from_position < s.to_position) is at_frog else s.end_s for s in ends]
    return float(np.sqrt(np.mean(np.interp(times, series.t[known], sd[known]) ** 2))) if times else 0.0


def _without_noise(values: Array, sd: float) -> Array:
    """Values drawn in to their mean by as much as their ± spreads them: the outermost of several that are the same seems farther out."""
    spread = float(np.var(values, ddof=1)) if len(values) > 1 else 0.0
    kept = np.sqrt(max(0.0, 1.0 - sd**2 / spread)) if spread > 0 else 1.0
    return np.asarray(values.mean() + kept * (values - values.mean()))


def _outer(values: Array) -> float:
    """Median of the lowest quarter of values (at least one)."""
    count = max(1, round(REACH_PERCENT / 100 * len(values)))
    return float(np.median(np.sort(values)[:count]))


def _se(values: Array) -> float:
    """Standard error of the outer (lowest) values: from the spread within the outer third."""
    outer = np.sort(values)[: max(2, len(values) // 3)]
    return float(np.std(outer) / np.sqrt(len(outer))) if len(values) > 1 else 0.0


def _mean(values: Array, own_sd: float, unit: str) -> Use:
    good = values[np.isfinite(values)]
    if not len(good):
        return Use(float("nan"), float("nan"), unit)
    spread = float(np.std(good, ddof=1) / np.sqrt(len(good))) if len(good) > 1 else 0.0
    return Use(float(np.mean(good)), float(np.hypot(spread, own_sd)), unit)


def _balance(strokes: Sequence[Stroke], place_sd: float) -> dict[str, Use]:
    down, up = (np.array([s.share_used for s in strokes if s.down is way and np.isfinite(s.share_used)]) for way in (True, False))
    if not len(down) or not len(up):
        return {}
    a, b = _mean(down, place_sd * np.sqrt(2 / len(down)), ""), _mean(up, place_sd * np.sqrt(2 / len(up)), "")
    return {"balance": Use(a.value - b.value, float(np.hypot(a.sd, b.sd)), "share")}


def _drift(strokes: Sequence[Stroke], place_sd: float) -> dict[str, Use]:
    """Slope of the starting places over the strokes of one direction, both directions together."""
    slopes, weights = [], []
    for way in (True, False):
        starts = np.array([s.from_position for s in strokes if s.down is way and np.isfinite(s.from_position)])
        if len(starts) < 3:
            continue
        k = np.arange(len(starts)) - 0.5 * (len(starts) - 1)
        slope = float((k * starts).sum() / (k**2).sum())
        rest = starts - starts.mean() - slope * k
        noise = max(place_sd, float(np.sqrt((rest**2).sum() / (len(starts) - 2))))
        slopes.append(slope)
        weights.append((k**2).sum() / noise**2 if noise > 0 else 1e12)
    if not slopes:
        return {}
    w = np.array(weights)
    return {"drift": Use(float((w * slopes).sum() / w.sum()), float(1 / np.sqrt(w.sum())), "share a stroke")}


def _against(asked: list[tuple[Stroke, float, float, float]], hair_mm: float, place_sd: float, tempo: float | None) -> dict[str, Use]:
    off = np.array([(s.from_position - start) * np.sign(end - start) for s, start, end, _ in asked])
    shares = np.array([s.share_used / abs(end - start) for s, start, end, _ in asked])
    share_sd = float(place_sd * np.sqrt(2 / len(asked)) / np.mean([abs(end - start) for _, start, end, _ in asked]))
    out = {"off_plan": _mean(off, place_sd / np.sqrt(len(asked)), "share"), "share_to_plan": _mean(shares, share_sd, "x")}
    if tempo is None:
        return out
    plan_cm_s = np.array([abs(end - start) * hair_mm / 10 / (b * 60 / tempo) for _, start, end, b in asked])
    speeds = np.array([s.share_used * hair_mm / 10 / max(s.seconds, 1e-6) for s, *_ in asked])
    beats = np.array([s.share_used / b for s, _, _, b in asked])
    return out | {"speed_to_plan": _mean(speeds / plan_cm_s, 0.0, "x"), "beat": _mean(beats, 0.0, "share")}


def _time_share(series: BowSeries, strokes: Sequence[Stroke]) -> tuple[float, ...]:
    """Share of the bowing time that the string spent in each tenth of the hair."""
    t, place = series.t, series["bow_position"]
    inside = np.zeros(len(t), bool)
    for s in strokes:
        inside |= (t >= s.start_s) & (t <= s.end_s)
    inside &= np.isfinite(place)
    if not inside.any():
        return (0.0,) * PARTS_OF_BOW
    each = np.minimum(np.gradient(t) if len(t) > 1 else np.ones(1), 0.2)[inside]
    at = np.clip((place[inside] * PARTS_OF_BOW).astype(int), 0, PARTS_OF_BOW - 1)
    time = np.bincount(at, weights=each, minlength=PARTS_OF_BOW)
    return tuple((time / time.sum()).tolist())


def _avoids(strokes: Sequence[Stroke], asked: list[tuple[Stroke, float, float, float]], place_sd: float) -> bool | None:
    """Whether the frog is kept away from, where strokes should go there; without an assignment, where whole bows are near enough."""
    should = [s for s, start, end, _ in asked if min(start, end) < AVOIDS_FROG_FROM / 2]
    if not asked:
        should = [s for s in strokes if s.share_used > 0.4]
    nearest = [min(s.from_position, s.to_position) for s in should if np.isfinite(s.from_position)]
    if len(nearest) < 2:
        return None
    return bool(_outer(np.array(nearest)) - place_sd > AVOIDS_FROG_FROM)
