"""Pins set or moved on a measured take: the instrument is put right where it hangs on them, and only there the bow is measured again.

A pin of a moment from which the take was followed moves every frame that was followed from there. A pin on any other frame is for the
stretch around it: the instrument is followed from it to both sides, and its poses are blended into those that were there.
"""

from __future__ import annotations

from dataclasses import fields, replace
from pathlib import Path

import numpy as np

from dolcezza.core.base.errors import PinError
from dolcezza.core.base.geometry import rotation_of, rotation_vector
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.bowing.steady import steady_poses
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.pose import SHARED_LOG_SD, PinFit, fit_pins
from dolcezza.core.camera.poses import Poses
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.media.probe import TakeFile
from dolcezza.core.media.video import FrameStore
from dolcezza.core.tracking.bow_find import BowFinder
from dolcezza.core.tracking.bow_path import BowLines
from dolcezza.core.tracking.instrument import InstrumentFollower, PinnedFrame, moved_along, moved_px
from dolcezza.services.bench import Bench
from dolcezza.services.by_hand import lines_with_hand
from dolcezza.services.fitfile import SAME_MOMENT_S, Fit
from dolcezza.services.nearby import arm_again, rows_near, solved_again
from dolcezza.services.watching import Watched, measured_scale, measured_size, pins_as_measured

Array = np.ndarray

PIN_REACH_S = 1.5
PIN_BLEND_S = 0.5
MOVED_PX = 3.0
"""Where the instrument was put right by more than this (px at 1280) the bow is looked for anew."""


def pins_again(
    video: Path, file: TakeFile, fit: Fit, before: Fit, bench: Bench, own: BowSeries, t_s: float
) -> tuple[Bench, BowSeries, tuple[float, float]]:  # fmt: skip
    """Take in the pins that ``fit`` has at ``t_s`` and ``before`` had not. Returns also the stretch (s) that was measured again.

    Raises PinError when they do not fit the instrument.
    """
    if any(abs(k - t_s) < SAME_MOMENT_S for k in bench.keys_s):
        rows, bench = _followed_from(file, fit, before, bench, t_s)
    else:
        rows, bench = _followed_anew(video, file, fit, bench, t_s)
    first, last = float(bench.t_s[rows.start]), float(bench.t_s[rows.stop - 1])
    middle, half = 0.5 * (first + last), 0.5 * (last - first) + 1e-6
    own = solved_again(fit, bench, own, middle, half)
    if bench.arm is not None and bench.body is not None:
        bench, own = arm_again(file, fit, bench, own, middle, half + PIN_BLEND_S)
    return bench, own, (first - PIN_BLEND_S, last + PIN_BLEND_S)


def _pinned(fit: Fit, file: TakeFile, bench: Bench, t_s: float, near: Camera | None = None) -> PinFit:
    """The pose that the pins at ``t_s`` give with the lens of the take. Raises PinError."""
    model, size = InstrumentModel(fit.spec), measured_size(file)
    points = next((p for m, p in zip(fit.pins, pins_as_measured(fit, file), strict=True) if abs(m.t_s - t_s) < SAME_MOMENT_S), None)
    if points is None:
        raise PinError(f"Nothing is pinned at {t_s:.1f} s.", "Set the pins there.")
    try:
        return fit_pins(model, points, size=size, focal=bench.poses.focal, focal_sd=SHARED_LOG_SD, near=near)
    except PinError:
        if near is None:
            raise
        return fit_pins(model, points, size=size, focal=bench.poses.focal, focal_sd=SHARED_LOG_SD)


def _followed_from(file: TakeFile, fit: Fit, before: Fit, bench: Bench, t_s: float) -> tuple[slice, Bench]:
    """All frames that hang on this moment, turned and moved as its pose was."""
    old = _pinned(before, file, bench, t_s).camera
    new = _pinned(fit, file, bench, t_s, old)
    keys = np.array(bench.keys_s)
    mine = int(np.abs(keys - t_s).argmin())
    at = np.flatnonzero(np.abs(bench.t_s[:, None] - keys).argmin(axis=1) == mine)
    rows = slice(int(at[0]), int(at[-1]) + 1)
    poses = bench.poses
    rotation, place = poses.rotation.copy(), poses.translation.copy()
    rotation[rows], place[rows] = moved_along(rotation[rows], place[rows], old, new.camera)
    return rows, replace(bench, poses=replace(poses, rotation=rotation, translation=place))


def _followed_anew(video: Path, file: TakeFile, fit: Fit, bench: Bench, t_s: float) -> tuple[slice, Bench]:
    """The stretch around a frame that was not pinned before, followed from there to both sides."""
    model = InstrumentModel(fit.spec)
    rows = rows_near(bench, t_s, PIN_REACH_S)
    part = bench.part(rows)
    seen = _watched_from(video, file, fit, bench, rows, t_s)
    new = steady_poses(seen.followed, model.middle, rate_hz=1.0 / float(np.median(np.diff(part.t_s))))
    sure = np.array([f.confidence for f in seen.followed])
    share = np.clip((PIN_REACH_S - np.abs(part.t_s - t_s)) / PIN_BLEND_S, 0.0, 1.0)
    share = np.where(sure <= 0, 0.0, np.where(part.instrument_confidence <= 0, 1.0, share))
    mixed = blended(part.poses, new, model.middle, share)
    anew = np.array([bool(found) for found in seen.candidates])
    lines = bench.lines
    if anew.any():
        found = lines_with_hand(video, file, fit, model, seen, length_px=bench.length_px, scale_px=bench.scale_px)
        merged = {f.name: getattr(bench.lines, f.name).copy() for f in fields(BowLines)}
        for name, column in merged.items():
            column[rows][anew] = getattr(found, name)[anew]
        lines = BowLines(**merged)
    rotation, place = bench.poses.rotation.copy(), bench.poses.translation.copy()
    rotation[rows], place[rows] = mixed.rotation, mixed.translation
    confidence = bench.instrument_confidence.copy()
    confidence[rows] = np.where(share > 0, sure, part.instrument_confidence)
    poses = replace(bench.poses, rotation=rotation, translation=place)
    return rows, replace(bench, lines=lines, poses=poses, instrument_confidence=confidence)


def blended(old: Poses, new: Poses, middle: Array, share: Array) -> Poses:
    """Poses between two, ``share`` (n,) 0..1 of the new ones: turned part of the way about ``middle`` (3,) mm, and moved."""
    rotation, translation = old.rotation.copy(), old.translation.copy()
    for k in np.flatnonzero(share > 0):
        rotation[k] = rotation_of(share[k] * rotation_vector(new.rotation[k] @ old.rotation[k].T)) @ old.rotation[k]
        here, there = (p.rotation[k] @ middle + p.translation[k] for p in (old, new))
        translation[k] = here + share[k] * (there - here) - rotation[k] @ middle
    return replace(old, rotation=rotation, translation=translation)


def _watched_from(video: Path, file: TakeFile, fit: Fit, bench: Bench, rows: slice, t_s: float) -> Watched:
    """The frames ``rows`` looked at again, outwards from the pinned frame at ``t_s``; for the bow only where it had not been found, or the
    instrument lies elsewhere than it was thought to."""
    model, times, part = InstrumentModel(fit.spec), bench.t_s[rows], bench.part(rows)
    unknown = (part.instrument_confidence <= 0) | ~np.isfinite(part.lines.point).all(axis=1)
    limit = MOVED_PX * max(measured_size(file)) / 1280.0
    at, n = int(np.abs(times - t_s).argmin()), len(times)
    seen = Watched(times=[float(t) for t in times], followed=[None] * n, candidates=[[]] * n, colours=[None] * n)  # type: ignore[list-item]
    near = bench.poses.camera(rows.start + at) if bench.instrument_confidence[rows.start + at] > 0 else None
    store = FrameStore(video, grey=True, flip=fit.flip, scale=measured_scale(file))
    try:
        # the first half is read forwards, as a video is, and looked at backwards
        first = [store.at(t).image for t in seen.times[: at + 1]]
        pinned = [PinnedFrame(t_s, first[at], _pinned(fit, file, bench, t_s, near).camera)]
        for way in (range(at, -1, -1), range(at + 1, n)):
            follower, finder = InstrumentFollower(model, pinned), BowFinder(model, pinned[0].grey.shape[:2])
            for k in way:
                grey = first[k] if k <= at else store.at(seen.times[k]).image
                seen.followed[k] = follower.step(grey, seen.times[k])
                here = seen.followed[k]
                if here.confidence > 0 and (unknown[k] or moved_px(model, part.poses.camera(k), here.camera) > limit):
                    seen.candidates[k] = finder.find(grey, here.camera)
    finally:
        store.close()
    return seen
