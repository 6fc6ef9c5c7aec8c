"""Landmarks set or moved on a measured take: the instrument is put right where it hangs on them, and only there the bow is measured again.

A landmark of a moment from which the take was followed moves every frame that was followed from there. A landmark on any other frame is
for the stretch around it: the instrument is followed from it to both sides, and its poses are blended into those that were there.
"""

from __future__ import annotations

from dataclasses import fields, replace

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import LandmarkError
from dolcezza.core.base.geometry import rotation_of, rotation_vector
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.pose import SHARED_LOG_SD, LandmarkFit, fit_landmarks
from dolcezza.core.camera.poses import Poses
from dolcezza.core.pipeline.cache import MeasurementCache
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.fit_file import Fit, same_frame
from dolcezza.core.pipeline.frame_pass import FramePass
from dolcezza.core.pipeline.local import arm_again, rows_near, solved_again
from dolcezza.core.pipeline.manual import lines_with_hand
from dolcezza.core.tracking.bow_find import BowFinder
from dolcezza.core.tracking.bow_path import BowLines
from dolcezza.core.tracking.instrument import InstrumentFollower, KeyFrame, moved_along, moved_px
from dolcezza.core.tracking.trajectory import steady_poses

LANDMARK_REACH_S = 1.5
LANDMARK_BLEND_S = 0.5
MOVED_PX = 3.0
"""Where the instrument was put right by more than this (px at 1280) the bow is looked for anew."""


def landmarks_again(
    context: Context, before: Fit, cache: MeasurementCache, own: BowSeries, t_s: float
) -> tuple[MeasurementCache, BowSeries, tuple[float, float]]:  # fmt: skip
    """Take in the landmarks that the fit has at ``t_s`` and ``before`` had not. Returns also the stretch (s) that was measured again.

    Raises LandmarkError when they do not fit the instrument.
    """
    if any(same_frame(k, t_s, context.file.frame_rate) for k in cache.keys_s):
        rows, cache = _followed_from(context, before, cache, t_s)
    else:
        rows, cache = _followed_anew(context, cache, t_s)
    first, last = float(cache.t_s[rows.start]), float(cache.t_s[rows.stop - 1])
    middle, half = 0.5 * (first + last), 0.5 * (last - first) + 1e-6
    own = solved_again(context, cache, own, middle, half)
    if cache.arm is not None and cache.body is not None:
        cache, own = arm_again(context, cache, own, middle, half + LANDMARK_BLEND_S)
    return cache, own, (first - LANDMARK_BLEND_S, last + LANDMARK_BLEND_S)


def _marked(context: Context, cache: MeasurementCache, t_s: float, near: Camera | None = None) -> LandmarkFit:
    """The pose that the landmarks at ``t_s`` give with the lens of the take. Raises LandmarkError."""
    model, size = context.model, context.size
    rate, marked = context.file.frame_rate, zip(context.fit.landmarks, context.landmarks, strict=True)
    points = next((p for m, p in marked if same_frame(m.t_s, t_s, rate)), None)
    if points is None:
        raise LandmarkError(f"No landmark is set at {t_s:.1f} s.", "Set the landmarks there.")
    try:
        return fit_landmarks(model, points, size=size, focal=cache.poses.focal, focal_sd=SHARED_LOG_SD, near=near)
    except LandmarkError:
        if near is None:
            raise
        return fit_landmarks(model, points, size=size, focal=cache.poses.focal, focal_sd=SHARED_LOG_SD)


def _followed_from(context: Context, before: Fit, cache: MeasurementCache, t_s: float) -> tuple[slice, MeasurementCache]:
    """All frames that hang on this moment, turned and moved as its pose was."""
    old = _marked(replace(context, fit=before), cache, t_s).camera
    new = _marked(context, cache, t_s, old)
    keys = np.array(cache.keys_s)
    mine = int(np.abs(keys - t_s).argmin())
    at = np.flatnonzero(np.abs(cache.t_s[:, None] - keys).argmin(axis=1) == mine)
    rows = slice(int(at[0]), int(at[-1]) + 1)
    poses = cache.poses
    rotation, place = poses.rotation.copy(), poses.translation.copy()
    rotation[rows], place[rows] = moved_along(rotation[rows], place[rows], old, new.camera)
    return rows, replace(cache, poses=replace(poses, rotation=rotation, translation=place))


def _followed_anew(context: Context, cache: MeasurementCache, t_s: float) -> tuple[slice, MeasurementCache]:
    """The stretch around a frame that was not marked before, followed from there to both sides."""
    model = context.model
    rows = rows_near(cache, t_s, LANDMARK_REACH_S)
    part = cache.part(rows)
    seen = _looked_at_from(context, cache, rows, t_s)
    new = steady_poses(seen.followed, model.middle, t_s=part.t_s)
    sure = np.array([f.confidence for f in seen.followed])
    share = np.clip((LANDMARK_REACH_S - np.abs(part.t_s - t_s)) / LANDMARK_BLEND_S, 0.0, 1.0)
    share = np.where(sure <= 0, 0.0, np.where(part.instrument_confidence <= 0, 1.0, share))
    mixed = blended(part.poses, new, model.middle, share)
    anew = np.array([bool(found) for found in seen.candidates])
    lines = cache.lines
    if anew.any():
        found = lines_with_hand(context, seen)
        merged = {f.name: getattr(cache.lines, f.name).copy() for f in fields(BowLines)}
        for name, column in merged.items():
            column[rows][anew] = getattr(found, name)[anew]
        lines = BowLines(**merged)
    rotation, place = cache.poses.rotation.copy(), cache.poses.translation.copy()
    rotation[rows], place[rows] = mixed.rotation, mixed.translation
    confidence = cache.instrument_confidence.copy()
    confidence[rows] = np.where(share > 0, sure, part.instrument_confidence)
    poses = replace(cache.poses, rotation=rotation, translation=place)
    return rows, replace(cache, lines=lines, poses=poses, instrument_confidence=confidence)


def blended(old: Poses, new: Poses, middle: Array, share: Array) -> Poses:
    """Poses between two, ``share`` (n,) 0..1 of the new ones: turned part of the way about ``middle`` (3,) mm, and moved."""
    rotation, translation = old.rotation.copy(), old.translation.copy()
    for k in np.flatnonzero(share > 0):
        rotation[k] = rotation_of(share[k] * rotation_vector(new.rotation[k] @ old.rotation[k].T)) @ old.rotation[k]
        here, there = (p.rotation[k] @ middle + p.translation[k] for p in (old, new))
        translation[k] = here + share[k] * (there - here) - rotation[k] @ middle
    return replace(old, rotation=rotation, translation=translation)


def _looked_at_from(context: Context, cache: MeasurementCache, rows: slice, t_s: float) -> FramePass:
    """The frames ``rows`` looked at again, outwards from the marked frame at ``t_s``; for the bow only where it had not been found, or the
    instrument lies elsewhere than it was thought to."""
    model, times, part = context.model, cache.t_s[rows], cache.part(rows)
    unknown = (part.instrument_confidence <= 0) | ~np.isfinite(part.lines.point).all(axis=1)
    limit = MOVED_PX * context.scale_px
    at, n = int(np.abs(times - t_s).argmin()), len(times)
    seen = FramePass(times=[float(t) for t in times], followed=[None] * n, candidates=[[]] * n, colours=[None] * n)  # type: ignore[list-item]
    near = cache.poses.camera(rows.start + at) if cache.instrument_confidence[rows.start + at] > 0 else None
    store = context.store()
    try:
        # the first half is read forwards, as a video is, and looked at backwards
        first = [store.at(t).image for t in seen.times[: at + 1]]
        marked = [KeyFrame(t_s, first[at], _marked(context, cache, t_s, near).camera)]
        for way in (range(at, -1, -1), range(at + 1, n)):
            follower, finder = InstrumentFollower(model, marked), BowFinder(model, marked[0].grey.shape[:2])
            for k in way:
                grey = first[k] if k <= at else store.at(seen.times[k]).image
                seen.followed[k] = follower.step(grey, seen.times[k])
                here = seen.followed[k]
                if here.confidence > 0 and (unknown[k] or moved_px(model, part.poses.camera(k), here.camera) > limit):
                    seen.candidates[k] = finder.find(grey, here.camera)
    finally:
        store.close()
    return seen
