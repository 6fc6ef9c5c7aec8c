"""Measuring the neighbourhood of one moment again, after the teacher has set something there; the rest of the take stays as it is."""

from __future__ import annotations

from dataclasses import fields, replace

import numpy as np

from dolcezza.core.arm.figures import ArmSeries, measure_arm
from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import TrackingError
from dolcezza.core.bowing.series import BOW_COLUMNS, BowSeries
from dolcezza.core.pipeline.cache import MeasurementCache, solve
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.frame_pass import FramePass
from dolcezza.core.pipeline.manual import REACH_S, joints_by_hand, lines_with_hand
from dolcezza.core.tracking.bow_find import BowFinder
from dolcezza.core.tracking.bow_line import Candidate
from dolcezza.core.tracking.bow_path import BowLines
from dolcezza.core.tracking.instrument import Followed

MARGIN_S = 0.5
"""So much more on both sides is solved along, so that the neighbourhood joins on smoothly."""
ARM_REACH_S = 1.2
ARM_BLEND_S = 0.4
SAME_LINE_PX = 0.7
"""A line or an end that moved less than this has not been changed."""


def rows_near(cache: MeasurementCache, t_s: float, reach_s: float) -> slice:
    """The frames within ``reach_s`` of a moment. Raises TrackingError when there are none."""
    at = np.flatnonzero(np.abs(cache.t_s - t_s) <= reach_s)
    if not len(at):
        raise TrackingError("There is no measured frame near this moment.", "Go to a frame of the video.")
    return slice(int(at[0]), int(at[-1]) + 1)


def bow_again(context: Context, cache: MeasurementCache, own: BowSeries, t_s: float) -> tuple[MeasurementCache, BowSeries]:
    """Look for the bow again around ``t_s``, with what the fit has by hand there, and measure the neighbourhood."""
    rows = rows_near(cache, t_s, REACH_S)
    lines = _lines_again(context, cache, rows, t_s)
    cache = replace(cache, lines=lines)
    return cache, solved_again(context, cache, own, t_s, REACH_S)


def solved_again(context: Context, cache: MeasurementCache, own: BowSeries, t_s: float, reach_s: float) -> BowSeries:
    """Measure the frames within ``reach_s`` of ``t_s`` (s) from their lines; the arm's and the sound's columns stay."""
    around = rows_near(cache, t_s, reach_s + MARGIN_S)
    kept = rows_near(cache, t_s, reach_s)
    part = cache.part(around)
    found = solve(part, context.model, context.spec, edits=context.fit.strokes).series
    inner = slice(kept.start - around.start, kept.stop - around.start)
    values = {name: column.copy() for name, column in own.values.items()}
    for name in BOW_COLUMNS:
        values[name][kept] = found[name][inner]
    strings = [*own.strings[: kept.start], *found.strings[inner], *own.strings[kept.stop :]]
    series = BowSeries(values, strings)
    if cache.heard is None:
        return series
    heard = cache.heard.columns(series, context.spec)
    for name, column in heard.items():
        values[name][kept] = column[kept]
    return BowSeries(values, strings)


def arm_again(
    context: Context, cache: MeasurementCache, own: BowSeries, t_s: float, reach_s: float = ARM_REACH_S
) -> tuple[MeasurementCache, BowSeries]:  # fmt: skip
    """Fit the arm with the joints set by hand; only frames within ``reach_s`` of ``t_s`` take it over, blended in at the edges."""
    if cache.body is None or cache.arm is None:
        raise TrackingError("The arm was not measured in this video.", "Analyse the video again.")
    arm = measure_arm(context.model, own, cache.poses, cache.body, joints_by_hand(context))
    if arm is None:
        raise TrackingError("With these joints no arm can be fitted.", "Undo, or set them again.")
    share = np.clip((reach_s - np.abs(cache.t_s - t_s)) / ARM_BLEND_S, 0.0, 1.0)
    columns = {name: _blended(own[name], column, share) for name, column in arm.columns.items() if name in own.values}
    joints = np.where(share[:, None, None] >= 1, arm.joints_mm, cache.arm.joints_mm)
    return replace(cache, arm=_with_errors(cache.arm, arm, share, joints)), own.with_columns(columns)


def _with_errors(old: ArmSeries, new: ArmSeries, share: Array, joints: Array) -> ArmSeries:
    if old.level_error.shape != new.level_error.shape:
        return replace(new, joints_mm=joints)
    error = np.where(share[:, None] > 0, new.level_error, old.level_error)
    return replace(old, joints_mm=joints, level_error=error, posture=new.posture)


def _blended(old: Array, new: Array, share: Array) -> Array:
    both = np.isfinite(old) & np.isfinite(new)
    mixed = np.where(both, (1 - share) * np.nan_to_num(old) + share * np.nan_to_num(new), np.where(share >= 0.5, new, old))
    return np.where(share > 0, mixed, old)


def _lines_again(context: Context, cache: MeasurementCache, rows: slice, t_s: float) -> BowLines:
    part = cache.part(rows)
    found = lines_with_hand(context, _looked_at_again(context, part))
    changed = _changed(part.lines, found)
    here = (p for p in context.fit.by_hand if part.t_s[0] <= p.t_s <= part.t_s[-1])
    by_hand = {int(np.abs(part.t_s - p.t_s).argmin()) for p in here}
    at = int(np.abs(part.t_s - t_s).argmin())
    first = last = at
    while first > 0 and (changed[first - 1] or first - 1 in by_hand):
        first -= 1
    while last + 1 < len(changed) and (changed[last + 1] or last + 1 in by_hand):
        last += 1
    merged = {}
    for f in fields(BowLines):
        column = getattr(cache.lines, f.name).copy()
        column[rows.start + first : rows.start + last + 1] = getattr(found, f.name)[first : last + 1]
        merged[f.name] = column
    return BowLines(**merged)


def _changed(old: BowLines, new: BowLines) -> Array:
    """Frames (n,) whose line or ends have moved."""
    moved = np.linalg.norm(old.point - new.point, axis=1)
    ends = [np.abs(getattr(old, end) - getattr(new, end)) for end in ("frog", "head")]
    gone = [np.isfinite(getattr(old, end)) != np.isfinite(getattr(new, end)) for end in ("point", "frog", "head")]
    lost = gone[0].any(axis=1) | gone[1] | gone[2]
    return np.asarray(lost | (np.nan_to_num(np.maximum(moved, np.maximum(*ends))) > SAME_LINE_PX))


def _looked_at_again(context: Context, part: MeasurementCache) -> FramePass:
    """The frames of a part looked at again near the lines that are known."""
    seen = FramePass(times=[float(t) for t in part.t_s])
    store = context.store()
    try:
        finder: BowFinder | None = None
        for k, t in enumerate(part.t_s):
            grey = store.at(float(t)).image
            finder = finder or BowFinder(context.model, grey.shape[:2])
            camera = part.poses.camera(k)
            seen.followed.append(Followed(camera, float(part.instrument_confidence[k]), 0.0))
            found = finder.near(grey, camera, _like(part.lines, k)) if np.isfinite(part.lines.point[k]).all() else None
            seen.candidates.append([found] if found is not None else [])
            seen.colours.append(None)
    finally:
        store.close()
    return seen


def _like(lines: BowLines, k: int) -> Candidate:
    nothing = np.zeros(0)
    return Candidate(lines.point[k], lines.direction[k], 0.0, lines.fit_sd[k], lines.edges[k], nothing, nothing, nothing, 0.0, 1.0)
