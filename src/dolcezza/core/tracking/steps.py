"""Edges as steps of grey across a line that is expected in a picture."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.lens import Camera

STEP_PX = 0.25
LEAST_STEP, LEAST_ALIKE = 6.0, 0.75
"""Grey levels by which both sides of an edge differ, and the share of places along it where they do to the same side."""
LEAST_SEEN = 0.6
"""Share of an edge's places that must lie in the picture."""


@dataclass(frozen=True)
class Steps:
    """Steps beside an expected edge: ``offsets`` (k,) px along its normals, and by how much brighter it is beyond each, ``rises`` (k,)."""

    offsets: Array
    rises: Array


def steps_across(picture: Array, xy: Array, normal: Array, *, reach_px: float, side_px: float) -> Steps:
    """Steps of grey in a picture (h, w) that run along an expected edge: places ``xy`` (m, 2) px in it, unit normals ``normal`` (m, 2);
    no farther than ``reach_px`` beside it, between what lies within ``side_px`` of both their sides."""
    width, far = round(side_px / STEP_PX), round(reach_px / STEP_PX)
    shift = STEP_PX * np.arange(-far, far + 1)
    wide = shift[0] + STEP_PX * (np.arange(len(shift) + 2 * width - 1) - width + 0.5)
    at = (xy[:, None] + normal[:, None] * wide[None, :, None] - 0.5).astype(np.float32)
    there = ((at >= 0) & (at <= np.array(picture.shape[::-1]) - 1)).all(axis=(1, 2))
    if there.mean() < LEAST_SEEN:
        return Steps(np.empty(0), np.empty(0))
    profile = cv2.remap(picture, at[there, :, 0], at[there, :, 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    total = np.cumsum(np.pad(profile.astype(float), ((0, 0), (1, 0))), axis=1)
    sums = (total[:, width:] - total[:, :-width]) / width
    rise = sums[:, width:] - sums[:, :-width]
    usual = np.median(rise, axis=0)
    strength, alike = np.abs(usual), (np.sign(rise) == np.sign(usual)).mean(axis=0)
    inner = strength[1:-1]
    peak = (inner >= strength[:-2]) & (inner > strength[2:]) & (inner >= LEAST_STEP) & (alike[1:-1] >= LEAST_ALIKE)
    at_peak = np.flatnonzero(peak) + 1
    return Steps(shift[at_peak], usual[at_peak])


def seen_by(views: Array, xy: Array, normal: Array, rise: float, *, side_px: float) -> float:
    """In what share of pictures (n, h, w) a step of ``rise`` runs along places ``xy`` (m, 2) px, unit normals ``normal`` (m, 2), at least
    half as high: the median of many pictures may show what only some of them have."""
    away = STEP_PX * (np.arange(round(side_px / STEP_PX)) + 0.5)
    within, beyond = ((xy[:, None] + way * normal[:, None] * away[None, :, None] - 0.5).astype(np.float32) for way in (-1, 1))
    rises = []
    for view in views:
        low, high = (cv2.remap(view, at[..., 0], at[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE) for at in (within, beyond))
        rises.append(np.median(high.mean(axis=1, dtype=float) - low.mean(axis=1, dtype=float)))
    return float((np.array(rises) / rise > 0.5).mean())


def edge_normals(xy: Array, outer: Array) -> Array:
    """Unit normals (n, 2) of a line through places ``xy`` (n, 2) px, each to the side of ``outer`` (n, 2) or (2,)."""
    way = np.gradient(xy, axis=0)
    normal = np.column_stack([-way[:, 1], way[:, 0]]) / np.linalg.norm(way, axis=1, keepdims=True)
    return np.asarray(np.where((normal * outer).sum(axis=1, keepdims=True) >= 0, normal, -normal))


def moves(camera: Camera, place: Array) -> Array:
    """How a place (3,) mm moves in the picture with pose and logarithm of the focal length: (7, 2) px."""
    base, rows = camera.project(place), []
    for k, step in enumerate([1e-4] * 3 + [0.05] * 3 + [1e-4]):
        by = step * np.eye(7)[k]
        moved = Camera(camera.rvec + by[:3], camera.tvec + by[3:6], camera.focal * float(np.exp(by[6])), camera.center)
        rows.append((moved.project(place) - base) / step)
    return np.array(rows)
