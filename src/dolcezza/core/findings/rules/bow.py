"""Rules: figures of strokes in, findings out. One function a fault, all listed in ``RULES``."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable

import numpy as np

from dolcezza.core.base.message import Message
from dolcezza.core.findings.catalogue import found, on_strokes, where_it_shows
from dolcezza.core.findings.finding import Finding, surely_above, surely_beyond, well_seen
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.findings.rank import in_order
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.strokes.figures import THIRDS, Stroke
from dolcezza.core.strokes.signature import Shape, Signature, signature

CAUSE_OF: dict[str, str] = {
    Shape.SWING: "arm swings from the shoulder", Shape.TIP_ONLY: "arm does not open", Shape.FROG_ONLY: "wrist and hand do not give",
    Shape.CONSTANT: "angle kept all along", Shape.MIXED: "no single shape",
}  # fmt: skip
STRAIGHT_DEG = 1.5
"""An end of the bow that is less off is called straight."""
TURNING_SHARE = 0.35
"""How well half the turn of a bow along its way is known against the angle itself: what is the same all along falls out."""


def crooked(strokes: list[Stroke], spec: InstrumentSpec, profile: Profile) -> list[Finding]:
    """Bow not parallel to the bridge: a third of the bow whose mean angle is beyond the profile's limit.

    Strokes that are off to the same side are one finding; its cause comes from the shape they have together.
    """
    limit = profile.angle_limit_deg
    judged = [s for s in strokes if any(np.isfinite(s.third(k)) for k in THIRDS)]
    out = []
    for crooked_ones in _off_alike(judged, limit):
        members, own, strings = where_it_shows(crooked_ones, judged, lambda s: s.string)
        mark = signature(members, limit)
        shape = mark.shape
        sd = _of_all(members)
        placed_crooked = shape == Shape.CONSTANT and all(abs(s.angle_start) > 0.7 * limit for s in members)
        # a bow that turns along its way is crooked somewhere, whatever landmarks and lens have put into all its angles alike; but an angle
        # that is known worse than what is asked of it proves nothing, however far it lies off
        half = 0.5 * abs(mark.tip - mark.frog)
        off = surely_above(abs(mark.worst), limit, sd) or (half > limit and surely_above(half, limit, TURNING_SHARE * sd))
        cause = "set down crooked" if placed_crooked else CAUSE_OF[shape]
        out.append(
            found(
                "crooked", _crooked(mark, on_strokes(len(members), len(own), _kind_of(members), strings)), members=members, of=len(own),
                at=[s.angle_worst_s for s in members], value=mark.worst, sd=sd, limit=limit, unit="deg",
                sure=off and sd <= limit and well_seen(members, len(own)), cause=cause,
            )
        )  # fmt: skip
    return out


def _off_alike(strokes: list[Stroke], limit: float) -> list[list[Stroke]]:
    """Strokes beyond the limit that are off to the same side; where those are off at different places of the bow, so that none of them
    shows in all together, those that are off at the same one."""
    by_side: dict[float, list[Stroke]] = defaultdict(list)
    for stroke in strokes:
        mark = signature([stroke], limit)
        if mark.shape is not Shape.STRAIGHT:
            by_side[float(np.sign(mark.worst))].append(stroke)
    out = []
    for members in by_side.values():
        if signature(members, limit).shape is not Shape.STRAIGHT:
            out.append(members)
            continue
        by_third: dict[str, list[Stroke]] = defaultdict(list)
        for stroke in members:
            by_third[signature([stroke], limit).worst_third].append(stroke)
        out += list(by_third.values())
    return out


def _crooked(mark: Signature, count: Message) -> Message:
    """What is said of a crooked bow: by the shape of its angles along the bow."""
    if mark.shape is Shape.SWING and np.isfinite(mark.frog) and np.isfinite(mark.tip):
        return Message("crooked.swing", {"frog": _at(mark.frog, "frog"), "tip": _at(mark.tip, "head"), "count": count})
    if mark.shape is Shape.TIP_ONLY:
        return Message("crooked.tip", {**_off(mark.tip), "count": count})
    if mark.shape is Shape.FROG_ONLY:
        return Message("crooked.frog", {**_off(mark.frog), "count": count})
    if mark.shape is Shape.CONSTANT:
        return Message("crooked.all along", {**_off(mark.worst), "count": count})
    return Message("crooked.somewhere", {**_off(mark.worst), "place": Message(f"place.{mark.worst_third}"), "count": count})


def _off(angle: float) -> dict[str, Message]:
    degrees = round(abs(angle))
    return {"degrees": Message("degrees", {"n": degrees}), "side": Message("side.scroll" if angle > 0 else "side.player")}


def _at(angle: float, end: str) -> Message:
    return Message(f"straight at the {end}") if abs(angle) < STRAIGHT_DEG else Message(f"off at the {end}", _off(angle))


def out_of_lane(strokes: list[Stroke], spec: InstrumentSpec, profile: Profile) -> list[Finding]:
    """Contact point outside the profile's lane, on the whole stroke or because it drifts out of it."""
    judged = [s for s in strokes if np.isfinite(s.contact_point_mm)]
    sides: dict[str, list[tuple[Stroke, float, float]]] = defaultdict(list)
    bands = {s.number: profile.lane.band_mm(spec, semitones=s.semitones) for s in judged}
    for stroke in judged:
        low, high = bands[stroke.number]
        drift = stroke.contact_drift if np.isfinite(stroke.contact_drift) else 0.0
        # the first and last tenth are left out: placing and turning
        ends = [(stroke.contact_point_mm + sign * 0.4 * drift, stroke.start_s + (0.5 + 0.4 * sign) * stroke.seconds) for sign in (-1, 1)]
        near, far = min(ends), max(ends)
        if far[0] > high and far[0] - high >= low - near[0]:
            sides["fingerboard"].append((stroke, far[0], far[1]))
        elif near[0] < low:
            sides["bridge"].append((stroke, near[0], near[1]))
    out = []
    for side, outside in sides.items():
        members, judged_there, strings = where_it_shows(outside, [(s, 0.0, 0.0) for s in judged], lambda m: m[0].string)
        value = float(np.mean([m[1] for m in members]))
        sd = float(np.mean([m[0].contact_point_sd_mm for m in members]))
        low, high = np.mean([bands[m[0].number] for m in members], axis=0).tolist()
        limit = high if side == "fingerboard" else low
        steered = np.mean([abs(m[0].angle_slope) > profile.angle_limit_deg for m in members]) > 0.5
        own = [m[0] for m in members]
        count = on_strokes(len(members), len(judged_there), _kind_of(own), strings)
        out.append(
            found(
                "out of the lane", Message(f"lane.{side}", {"mm": value, "low": low, "high": high, "count": count}), members=own,
                of=len(judged_there), at=[m[2] for m in members], value=value, sd=sd, limit=limit, unit="mm",
                sure=surely_beyond(value, limit, sd) and well_seen(own, len(judged_there)),
                cause="the crooked bow steers it" if steered else "the hand does not steer",
            )
        )  # fmt: skip
    return out


def _of_all(members: list[Stroke]) -> float:
    """± of the mean angle of several strokes (one sd, deg): what they share stays, what is each one's own is averaged out."""
    whole = np.array([s.bow_angle_sd_deg for s in members])
    shared = np.array([s.bow_angle_take_sd_deg for s in members])
    shared = np.where(np.isfinite(shared), np.minimum(shared, whole), whole)
    return float(np.sqrt(np.mean(shared**2) + np.mean(whole**2 - shared**2) / len(members)))


def _kind_of(members: list[Stroke]) -> str:
    directions = {s.direction for s in members}
    return f"{directions.pop()}-bows" if len(directions) == 1 else "strokes"


RULES: tuple[Callable[[list[Stroke], InstrumentSpec, Profile], list[Finding]], ...] = (crooked, out_of_lane)


def find(strokes: list[Stroke], spec: InstrumentSpec, profile: Profile) -> list[Finding]:
    """All findings about the bow, in order."""
    return in_order([f for rule in RULES for f in rule(strokes, spec, profile)])
