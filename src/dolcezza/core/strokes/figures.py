"""The figures of one stroke, from the per-frame record."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, fields, replace

import numpy as np
import scipy

from dolcezza.core.arm.joint_contributions import JOINTS, shares_of
from dolcezza.core.base.arrays import Array
from dolcezza.core.base.known import Known
from dolcezza.core.base.shake import shaking
from dolcezza.core.base.signals import derivative, evenly
from dolcezza.core.base.smoothness import log_dimensionless_jerk, spectral_arc_length
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.sound.level import Loudness
from dolcezza.core.sound.onset import attack
from dolcezza.core.strokes.edits import EditedSpan, StrokeEdit, edited
from dolcezza.core.strokes.heard_turns import by_ear
from dolcezza.core.strokes.segment import LEAST_TRAVEL, Span, segment, where_drawn, without_doubtful
from dolcezza.core.strokes.sounded import crossed, refine, seen_to_stand, sounding, starts_in_doubt, turns_in_doubt
from dolcezza.core.strokes.unseen import unseen_way

THIRDS = ("frog", "middle", "tip")
TURN_S = 0.08
"""A stroke's turns, which are left out where shaking is looked for."""
SOUND_COLUMNS = ("pitch_hz", "semitones", "beta", "level_db", "hnr_db", "fundamental", "split", "hiss_db")
TONE_SHARE = 0.6
"""A movement that makes no tone for more of its way than the rest is no stroke: the bow is carried, or sets off in the air."""
LEVEL_HZ = 50.0
"""The level is looked at so often a second for its modulation."""
LEAP = 0.1
"""From one frame to the next the bow does not move by so much of itself: it was set elsewhere."""
STEADY_MOMENT_S = 0.0075
"""When a picture was so is known to this, or what trembles and goes unevenly may be the pictures' times."""
LEAP_OF_SD, AT_ENDS = 1.5, 3
"""A ± that changes by so much (log) between two frames: four and a half times; so many at the ends of a stroke belong to its turns."""
WORSE_TOLD, SPEED_FRAMES = 1.8, 2
"""A place so many times less well known than the stroke's others says nothing of how evenly it goes, nor do so many frames beside it."""
START_SHARE = 0.1
"""The first tenth of a stroke is its start pose."""


@dataclass(frozen=True, eq=False)
class Stroke(Known):
    """One stroke. Angles in degrees, contact in mm, positions and shares 0..1, times in s; NaN = not measured.

    ``angle_frog``, ``angle_middle``, ``angle_tip``: mean bow angle in each third of the bow (NaN where the stroke does
    not go there). ``angle_slope``: degrees over a whole bow, + = the tip turns to the scroll towards the head.
    ``contact_drift``: mm from the stroke's start to its end. ``evenness``: 1 = the same speed all along, falling with
    the spread of the speed over the middle four fifths, ``evenness_sd``: its ±. ``share_seen``: share of its frames that were measured,
    ``confidence``: how plainly the bow was seen in them (median);
    ``string_margin``: by how much the next best string explains them worse, in three of four frames at least.
    ``forearm_range_deg``, ``wrist_range_deg``: how far elbow and wrist opened and closed (middle nine tenths). ``..._share``: how much
    of the bow's way came from a joint. ``shake_mm`` along the bow and ``bounce_deg`` about the string: root mean square of shaking,
    each with its frequency ``..._hz`` and how many times it is larger than the noise of measuring (``..._over_noise``).
    ``bow_angle_take_sd_deg``: the part of the angle's ± that all strokes of the take share. ``share_unseen``: by how much longer than
    ``share_used`` the stroke may be, because the bow was lost before it turned.
    ``arc_length``, ``log_jerk``: smoothness of the speed (SPARC, LDLJ). ``pitch_hz`` to ``split``: medians of the record's columns;
    ``wobble_db``: 3 to 12 Hz modulation of the level; ``rise_s`` of the tone at its start, ``gap_s`` of quiet there.
    ``by_hand``: what the teacher did to it ("cut", "joined", "string"), "" = as it was found.
    """

    number: int
    direction: str
    string: str
    start_s: float
    end_s: float
    from_position: float
    to_position: float
    share_used: float
    mean_speed_cm_s: float
    peak_speed_cm_s: float
    evenness: float
    bow_angle_deg: float
    bow_angle_sd_deg: float
    angle_start: float
    angle_frog: float
    angle_middle: float
    angle_tip: float
    angle_slope: float
    angle_worst: float
    angle_worst_s: float
    contact_point_mm: float
    contact_point_sd_mm: float
    contact_fraction: float
    contact_drift: float
    contact_spread: float
    inclination_deg: float
    share_seen: float
    elbow_level_deg: float = math.nan
    elbow_level_sd_deg: float = math.nan
    elbow_height: float = math.nan
    elbow_to_bow_plane_mm: float = math.nan
    forearm_range_deg: float = math.nan
    wrist_range_deg: float = math.nan
    shoulder_raise: float = math.nan
    shoulder_share: float = math.nan
    elbow_share: float = math.nan
    wrist_share: float = math.nan
    string_margin: float = math.nan
    shake_mm: float = math.nan
    bounce_deg: float = math.nan
    arc_length: float = math.nan
    log_jerk: float = math.nan
    pitch_hz: float = math.nan
    semitones: float = math.nan
    beta: float = math.nan
    level_db: float = math.nan
    hnr_db: float = math.nan
    fundamental: float = math.nan
    split: float = math.nan
    hiss_db: float = math.nan
    wobble_db: float = math.nan
    rise_s: float = math.nan
    gap_s: float = math.nan
    by_hand: str = ""
    shake_hz: float = math.nan
    shake_over_noise: float = math.nan
    bounce_hz: float = math.nan
    bounce_over_noise: float = math.nan
    bow_angle_take_sd_deg: float = math.nan
    share_unseen: float = 0.0
    evenness_sd: float = math.nan
    confidence: float = math.nan

    @property
    def seconds(self) -> float:
        """How long it lasts."""
        return self.end_s - self.start_s

    @property
    def down(self) -> bool:
        """Frog to head."""
        return self.direction == "down"

    def third(self, name: str) -> float:
        """Mean bow angle in the third ``frog``, ``middle`` or ``tip``, deg."""
        return float(getattr(self, f"angle_{name}"))


STROKE_COLUMNS = tuple(f.name for f in fields(Stroke))


def find_spans(series: BowSeries, loudness: Loudness | None = None, edits: Sequence[StrokeEdit] = ()) -> list[EditedSpan]:
    """Where strokes begin and end, with the sound's help where there is sound; what was set by hand wins."""
    place = without_doubtful(series["bow_position"], series["bow_position_sd"], series.t)
    there = np.isfinite(series["bow_angle_deg"])
    spans = segment(place, series.t, series["lifted"] > 0, there, series["bow_position_sd"], by_ear(loudness))
    spans = sounding(spans, loudness)
    spans = [s for s in spans if _with_tone(series, s)]
    doubts = turns_in_doubt(spans, place, series["bow_position_sd"], series.t)
    stood = seen_to_stand(spans, place, series["bow_position_sd"], series.t)
    later = starts_in_doubt(spans, place, series["bow_position_sd"], series.t)
    turned = crossed(refine(spans, loudness, doubts, stood, later), series.t, series["pitch_hz"], series.strings)
    found = edited(where_drawn(turned, place, series.t, series["lifted"] > 0), edits)
    return [replace(e, span=_with_direction(series, e.span)) if e.by_hand else e for e in found]


def _with_tone(series: BowSeries, span: Span) -> bool:
    """Whether a string sounds for most of the bow's way in a span; yes where the sound cannot tell."""
    inside = (series.t >= span.start_s) & (series.t <= span.end_s)
    tone, way = series["tone"][inside], np.abs(np.diff(series["bow_position"][inside], prepend=np.nan))
    known = np.isfinite(tone) & np.isfinite(way)
    return not known.any() or float((tone * way)[known].sum()) >= TONE_SHARE * float(way[known].sum())


def find_strokes(series: BowSeries, loudness: Loudness | None = None, edits: Sequence[StrokeEdit] = ()) -> list[Stroke]:
    """Cut the take into strokes and work out the figures of each; ``edits``: the teacher's own cuts."""
    strokes = []
    for k, e in enumerate(find_spans(series, loudness, edits)):
        found = describe(series, e.span, k + 1, loudness)
        strokes.append(replace(found, by_hand=e.by_hand, string=e.string or found.string))
    return strokes


def _with_direction(series: BowSeries, span: Span) -> Span:
    """A span set by hand goes the way the bow went in it."""
    way = _place_at(series, span, span.end_s) - _place_at(series, span, span.start_s)
    return replace(span, down=way > 0) if math.isfinite(way) else span


def _mean(values: Array) -> float:
    return float(np.mean(values)) if len(values) else float("nan")


def _goes_back(place: Array, down: bool) -> bool:
    """Whether a bow seems to go back in one stroke by as much as there and back in another: an end of it was taken for something else, and
    how fast it goes there is not told."""
    known = place[np.isfinite(place)] * (1.0 if down else -1.0)
    return len(known) > 0 and float((np.maximum.accumulate(known) - known).max()) >= 2 * LEAST_TRAVEL


def _usual(sds: Array) -> float:
    """The ± that most frames of a stroke have: a turn in which the bow leans as it likes says little of the rest."""
    known = sds[np.isfinite(sds)]
    return float(np.median(known)) if len(known) else math.nan


def _at_least(margins: Array) -> float:
    """What three of four frames of a stroke have at least: on a part of it the string may be another, and the angle with it."""
    known = margins[np.isfinite(margins)]
    return float(np.percentile(known, 25)) if len(known) else math.nan


def describe(series: BowSeries, span: Span, number: int, loudness: Loudness | None = None) -> Stroke:
    """Figures of the stroke in ``span``; those of its start need the ``loudness``."""
    t = series.t
    inside = (t >= span.start_s - 1e-9) & (t <= span.end_s + 1e-9)
    if not inside.any():
        inside[np.argmin(np.abs(t - 0.5 * (span.start_s + span.end_s)))] = True
    seen = inside & np.isfinite(series["bow_angle_deg"])
    at = np.flatnonzero(seen)
    angle, place = series["bow_angle_deg"][at], series["bow_position"][at]
    contact, speed = series["contact_point_mm"][at], series["bow_speed_cm_s"][at]
    start, end = _place_at(series, span, span.start_s), _place_at(series, span, span.end_s)
    share = abs(end - start)
    length_s = max(span.end_s - span.start_s, 1e-6)
    thirds = {name: _mean(angle[(place >= k / 3) & (place <= (k + 1) / 3)]) for k, name in enumerate(THIRDS)}
    worst = int(np.argmax(np.abs(angle))) if len(angle) else -1
    slope = drift = float("nan")
    if len(at) > 4 and np.ptp(place) > 0.05:
        slope = float(np.polyfit(place, angle, 1)[0])
        drift = float(np.polyfit(place, contact, 1)[0] * (end - start))
    middle = (t[at] > span.start_s + 0.1 * length_s) & (t[at] < span.end_s - 0.1 * length_s)
    quick = np.abs(speed[middle & np.isfinite(speed) & _well_told(series["bow_position_sd"][at])])
    names = Counter(series.strings[k] for k in at)
    enough = len(quick) > 0.5 * middle.sum() and not _goes_back(place, span.down)
    evenness = _evenness(quick, series["bow_position_sd"][at], series["moment_sd_s"][at]) if enough else math.nan
    return Stroke(
        number=number, direction="down" if span.down else "up", string=names.most_common(1)[0][0] if names else "",
        start_s=span.start_s, end_s=span.end_s, from_position=start, to_position=end, share_used=share,
        mean_speed_cm_s=_mean(np.abs(speed[np.isfinite(speed)])),
        peak_speed_cm_s=float(np.percentile(np.abs(speed[np.isfinite(speed)]), 98)) if np.isfinite(speed).any() else float("nan"),
        evenness=evenness, evenness_sd=_evenness_sd(evenness, _usual(series["bow_position_sd"][at]), share),
        bow_angle_deg=_mean(angle), bow_angle_sd_deg=_usual(series["bow_angle_sd_deg"][at]),
        angle_start=_mean(angle[t[at] <= span.start_s + START_SHARE * length_s]),
        angle_frog=thirds["frog"], angle_middle=thirds["middle"], angle_tip=thirds["tip"], angle_slope=slope,
        angle_worst=float(angle[worst]) if len(angle) else float("nan"),
        angle_worst_s=float(t[at][worst]) if len(angle) else span.start_s,
        contact_point_mm=_mean(contact), contact_point_sd_mm=_usual(series["contact_point_sd_mm"][at]),
        contact_fraction=_mean(series["contact_fraction"][at]), contact_drift=drift,
        contact_spread=float(np.std(contact)) if len(contact) else float("nan"),
        bow_angle_take_sd_deg=_usual(series["bow_angle_take_sd_deg"][at]),
        string_margin=_at_least(series["string_margin"][at]),
        inclination_deg=_mean(series["inclination_deg"][at]), share_seen=float(seen.sum() / inside.sum()), by_hand="",
        share_unseen=unseen_way(series, span), confidence=_usual(series["confidence"][at]),
        **_arm_figures(series, inside), **_steadiness(series, span), **_sound(series, span, loudness),
    )  # fmt: skip


def _arm_figures(series: BowSeries, inside: Array) -> dict[str, float]:
    """The arm's means, ranges and shares over the frames of a stroke."""
    means = ("elbow_level_deg", "elbow_level_sd_deg", "elbow_height", "elbow_to_bow_plane_mm", "shoulder_raise")
    out = {name: _mean(values[np.isfinite(values)]) for name, values in ((n, series[n][inside]) for n in means)}
    for name, column in (("forearm_range_deg", "forearm_angle_deg"), ("wrist_range_deg", "wrist_angle_deg")):
        values = series[column][inside]
        values = values[np.isfinite(values)]
        out[name] = float(np.ptp(np.percentile(values, [5, 95]))) if len(values) > 5 else math.nan
    travel = np.column_stack([series[f"{joint}_travel_mm"] for joint in JOINTS])
    shares = shares_of(travel, inside)
    if shares is not None:
        out |= {f"{joint}_share": share for joint, share in zip(JOINTS, shares.shares, strict=True)}
    return out


def _steadiness(series: BowSeries, span: Span) -> dict[str, float]:
    """Shaking and smoothness of a stroke; its turns are left out of the shaking."""
    t = series.t
    inner = (t > span.start_s + TURN_S) & (t < span.end_s - TURN_S)
    whole = (t >= span.start_s) & (t <= span.end_s)
    speed = series["bow_speed_cm_s"]
    pace = derivative(series["bow_position"], t)
    known = np.isfinite(pace) & np.isfinite(speed) & (np.abs(pace) > 0.05)
    hair_mm = 10.0 * float(np.median(speed[known] / pace[known])) if known.any() else math.nan
    rate_hz = series.rate_hz
    moved = evenly(t[inner], series["bow_position"][inner], series["inclination_deg"][inner], rate_hz=rate_hz)
    along, about = (shaking(values, rate_hz) for values in moved)
    (even_speed,) = evenly(t[whole], speed[whole], rate_hz=rate_hz)
    in_turns = _told_in_turns(series["bow_position_sd"][inner])
    told = {
        "shake_mm": hair_mm * along.size,
        "shake_hz": along.hz,
        "shake_over_noise": along.over_noise,
        "bounce_deg": about.size,
        "bounce_hz": about.hz,
        "bounce_over_noise": about.over_noise,
        "arc_length": spectral_arc_length(even_speed, rate_hz),
        "log_jerk": log_dimensionless_jerk(even_speed, rate_hz),
    }
    if bool((series["moment_sd_s"][inner] > STEADY_MOMENT_S).any()):
        return dict.fromkeys(told, math.nan)
    return told | dict.fromkeys(("shake_mm", "shake_hz", "shake_over_noise"), math.nan) if in_turns else told


def _evenness(quick: Array, place_sd: Array, moment_sd_s: Array) -> float:
    """1 where the speeds (n,) of a stroke's middle are all alike; NaN where they may come from the telling, or are too few."""
    if len(quick) <= 3 or _told_in_turns(place_sd) or bool((moment_sd_s > STEADY_MOMENT_S).any()):
        return math.nan
    return float(1 / (1 + np.std(quick) / max(float(np.mean(quick)), 1e-6)))


def _evenness_sd(evenness: float, place_sd: float, share_used: float) -> float:
    """What places known to ``place_sd`` leave unknown of the evenness of a stroke that uses so much of the bow: if the bow is told a little
    on in one half of it, that half seems quicker and the other slower, by so much of their way."""
    return evenness**2 * float(np.sqrt(2)) * place_sd / max(share_used, 1e-6)


def _well_told(sd: Array) -> Array:
    """Frames (n,) bool whose place, and those beside it that its speed comes from, are known about as well as most of the stroke's."""
    known = np.isfinite(sd)
    if not known.any():
        return np.ones(len(sd), bool)
    worse = ~known | (sd > WORSE_TOLD * float(np.median(sd[known])))
    return np.asarray(~scipy.ndimage.binary_dilation(worse, iterations=SPEED_FRAMES))


def _told_in_turns(sd: Array) -> bool:
    """Whether the place on the bow is told now by one end of it and now by the other, so that its ± (n,) leaps: what
    then shakes, or goes unevenly, may be the telling."""
    known = sd[np.isfinite(sd) & (sd > 0)]
    return len(known) > 2 * AT_ENDS + 1 and bool(np.abs(np.diff(np.log(known[AT_ENDS:-AT_ENDS]))).max() > LEAP_OF_SD)


def _sound(series: BowSeries, span: Span, loudness: Loudness | None) -> dict[str, float]:
    """Medians of the sound's columns away from the turns, and what only the fine level tells."""
    inner = (series.t > span.start_s + TURN_S) & (series.t < span.end_s - TURN_S)
    out = {}
    for name in SOUND_COLUMNS:
        values = series[name][inner]
        values = values[np.isfinite(values)]
        out[name] = float(np.median(values)) if len(values) > 1 else math.nan
    if loudness is None or not len(loudness.t_s):
        return out
    _, level = loudness.between(span.start_s + TURN_S, span.end_s - TURN_S)
    apart = float(np.median(np.diff(loudness.t_s)))
    every = max(1, round(1.0 / (LEVEL_HZ * apart)))
    decibels = 20 * np.log10(np.maximum(level[::every], 1e-9))
    begins = attack(loudness, span.start_s, span.end_s)
    return out | {"wobble_db": shaking(decibels, 1.0 / (every * apart)).size, "rise_s": begins.rise_s, "gap_s": begins.gap_s}


def _place_at(series: BowSeries, span: Span, t_s: float) -> float:
    """Place on the bow at one end of a stroke. Where the bow was set elsewhere just before or after, the stroke's own side counts."""
    place = series["bow_position"]
    good = np.flatnonzero(np.isfinite(place))
    if not len(good):
        return float("nan")
    t, values = series.t[good], place[good]
    k = int(np.clip(np.searchsorted(t, t_s), 1, max(len(t) - 1, 1)))
    if len(t) > 1 and abs(values[k] - values[k - 1]) > LEAP:
        inside = [float(values[j]) for j in (k - 1, k) if span.start_s <= t[j] <= span.end_s]
        if len(inside) == 1:
            return inside[0]
    return float(np.interp(t_s, t, values))
