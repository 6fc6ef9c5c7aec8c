"""Rules: figures of strokes in, findings out. One function a fault, all listed in ``RULES``."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable

import numpy as np

from dolcezza.core.findings import words
from dolcezza.core.findings.finding import Finding, surely_beyond, well_seen
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.findings.rank import in_order
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.strokes.figures import THIRDS, Stroke
from dolcezza.core.strokes.signature import Shape, signature

TURNING_SHARE = 0.35
"""How well half the turn of a bow along its way is known against the angle itself: what is the same all along falls out."""


def crooked(strokes: list[Stroke], spec: InstrumentSpec, profile: Profile) -> list[Finding]:
    """Bow not parallel to the bridge: a third of the bow whose mean angle is beyond the profile's limit.

    Strokes that are off to the same side are one finding; its cause comes from the shape they have together.
    """
    limit = profile.angle_limit_deg
    judged = [s for s in strokes if any(np.isfinite(s.third(k)) for k in THIRDS)]
    groups: dict[float, list[Stroke]] = defaultdict(list)
    for stroke in judged:
        mark = signature([stroke], limit)
        if mark.shape is not Shape.STRAIGHT:
            groups[float(np.sign(mark.worst))].append(stroke)
    out = []
    for members in groups.values():
        mark = signature(members, limit)
        shape = mark.shape
        sd = _of_all(members)
        placed_crooked = shape == Shape.CONSTANT and all(abs(s.angle_start) > 0.7 * limit for s in members)
        # a bow that turns along its way is crooked somewhere, whatever landmarks and lens have put into all its angles alike
        half = 0.5 * abs(mark.tip - mark.frog)
        off = surely_beyond(abs(mark.worst), limit, sd) or (half > limit and surely_beyond(half, limit, TURNING_SHARE * sd))
        cause = words.CROOKED_CAUSE["start" if placed_crooked else shape]
        out.append(
            Finding(
                kind="crooked", strokes=tuple(s.number for s in members), of=len(judged),
                evidence_s=tuple(s.angle_worst_s for s in members), value=mark.worst, sd=sd, limit=limit, unit="deg",
                sure=off and well_seen(members, len(judged)), cause=cause[0],
                sentence=words.crooked(mark, len(members), len(judged), _kind_of(members)), cause_text=cause[1],
            )
        )  # fmt: skip
    return out


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
    for side, members in sides.items():
        value = float(np.mean([m[1] for m in members]))
        sd = float(np.mean([m[0].contact_point_sd_mm for m in members]))
        low, high = np.mean([bands[m[0].number] for m in members], axis=0).tolist()
        limit = high if side == "fingerboard" else low
        steered = np.mean([abs(m[0].angle_slope) > profile.angle_limit_deg for m in members]) > 0.5
        cause = words.LANE_CAUSE["angle" if steered else "hand"]
        out.append(
            Finding(
                kind="out of the lane", strokes=tuple(m[0].number for m in members), of=len(judged),
                evidence_s=tuple(m[2] for m in members), value=value, sd=sd, limit=limit, unit="mm",
                sure=surely_beyond(value, limit, sd) and well_seen([m[0] for m in members], len(judged)), cause=cause[0],
                sentence=words.out_of_lane(side, value, (low, high), len(members), len(judged), _kind_of([m[0] for m in members])),
                cause_text=cause[1],
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
