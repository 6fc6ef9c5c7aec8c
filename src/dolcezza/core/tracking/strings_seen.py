"""The strings in the picture, found to a fraction of a pixel, to take out what a hand on the mouse leaves of error in the landmarks.

Frames from all over the take are turned back to how the marked frame saw the instrument; their median shows it without the
bow and without the moving hand. On the dark fingerboard the strings are bright thin ridges whose places in space are known.
They say nothing of the place along the strings, but all of the direction of the strings, which bow angle and contact need.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.pose import LandmarkFit
from dolcezza.core.camera.seen import SeenString
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.tracking.steps import moves

SAMPLES = 60
PROFILE_STEP = 0.25
REACH_SD = 2.5
"""How many sd of the landmarks' own error a string is looked for to each side."""
MOST_REACH_PX = 12.0
STRING_SPREAD_MM = 0.2
"""How much makers and players differ in the place of a string (one sd, mm), from memory."""
RIDGE_SD_PX = 0.2
LEAST_RIDGE = 3.0
"""Grey levels by which a string must stand out from both sides."""
LEAST_SEEN = 0.35
"""Share of a string's length that must be seen."""
BOARD_LEVEL_MM = -6.0
SPAN = (0.08, 0.92)
"""Part of the string's length that is looked at."""


@dataclass(frozen=True)
class Sample:
    """One grey frame (h, w) of the take with the pose of the instrument in it."""

    grey: Array
    camera: Camera


def clean_picture(model: InstrumentModel, camera: Camera, samples: Sequence[Sample]) -> tuple[Array, Array]:
    """The strings as ``camera`` sees them without what passes before them: grey picture, and the (2,) px of its corner."""
    return clean_part(camera, samples, string_marks(model), BOARD_LEVEL_MM)


def string_marks(model: InstrumentModel) -> Array:
    """Places (4, 3) mm about the strings."""
    return np.array([model.landmarks[n] for n in ("bridge_bass", "bridge_treble", "nut_bass", "nut_treble")])


def clean_part(camera: Camera, samples: Sequence[Sample], marks: Array, level_mm: float) -> tuple[Array, Array]:
    """What lies about ``marks`` (n, 3) mm, at one level of the instrument, as ``camera`` sees it without what passes before it."""
    views, corner = turned_back(camera, samples, marks, level_mm)
    return np.median(views, axis=0).astype(np.float32), corner


def turned_back(camera: Camera, samples: Sequence[Sample], marks: Array, level_mm: float) -> tuple[Array, Array]:
    """What each of the samples shows about ``marks`` (n, 3) mm, at one level of the instrument, as ``camera`` sees it: grey pictures
    (samples, h, w), and the (2,) px of their corner."""
    xy = camera.project(marks)
    x0, y0 = np.floor(xy.min(axis=0) - 20).astype(int)
    x1, y1 = np.ceil(xy.max(axis=0) + 20).astype(int)
    corner = np.array([[1, 0, x0], [0, 1, y0], [0, 0, 1.0]])
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    views = [
        cv2.warpPerspective(
            s.grey, _level_map(camera, s.camera, level_mm) @ corner, (x1 - x0, y1 - y0), flags=flags, borderMode=cv2.BORDER_REPLICATE
        )
        for s in samples
    ]
    return np.array(views), np.array([x0, y0], float)


def _level_map(old: Camera, new: Camera, level_mm: float) -> Array:
    """Homography (3, 3) of pixel numbers from ``old`` to ``new`` for what lies at one level of the instrument."""
    square = np.array([[-60, -60, level_mm], [300, -60, level_mm], [300, 60, level_mm], [-60, 60, level_mm]])
    a, b = (c.project(square).astype(np.float32) - 0.5 for c in (old, new))
    return cv2.getPerspectiveTransform(a, b).astype(np.float64)


def _reach_px(model: InstrumentModel, fit: LandmarkFit, normal: Array, place: Array) -> float:
    """How far the landmarks' own error may move the strings in the picture (one sd, px)."""
    gain = np.array([moves(fit.camera, p) @ n for p, n in zip(place, normal, strict=True)])
    return float(np.sqrt(np.einsum("nk,kl,nl->n", gain, fit.covariance, gain).max()))


def see_strings(model: InstrumentModel, fit: LandmarkFit, picture: Array, corner: Array, *, scale_px: float) -> list[SeenString]:
    """The strings found in a clean picture (h, w) whose corner lies at ``corner`` (2,) px; fewer than two count as none."""
    count = len(model.spec.strings)
    share = np.linspace(*SPAN, SAMPLES)
    along = share * model.spec.string_length
    places = np.array([model.string_point(k, along) for k in range(count)])
    xy = fit.camera.project(places)
    direction = np.gradient(xy, axis=1)
    direction /= np.linalg.norm(direction, axis=2, keepdims=True)
    normal = np.stack([-direction[..., 1], direction[..., 0]], axis=-1)
    spacing = float(np.abs(np.einsum("sni,sni->sn", np.diff(xy, axis=0), normal[1:])).min())
    reach = float(np.clip(REACH_SD * _reach_px(model, fit, normal[1], places[1]), 1.0, MOST_REACH_PX * scale_px))
    width = float(np.clip(0.45 * spacing, 1.5, 2.5 * scale_px))
    shift = np.arange(-reach, reach + 1e-9, PROFILE_STEP)
    ridge = _ridges(picture, xy - corner, normal, shift, width)
    offset = _joint_offset(ridge, shift, reach / REACH_SD)
    found = []
    scale = fit.camera.focal / float(fit.camera.tvec[2])
    for k in range(count):
        seen = _one_string(ridge[k], shift, offset)
        if seen is None:
            continue
        ends = np.array([0, -1])
        point = xy[k][ends] + seen[ends, None] * normal[k][ends]
        line = point[1] - point[0]
        across = np.array([-line[1], line[0]]) / np.linalg.norm(line)
        sd_px = float(np.hypot(RIDGE_SD_PX * scale_px, STRING_SPREAD_MM * scale))
        found.append(SeenString(k, SPAN, point, across, sd_px))
    return found if len(found) >= 2 else []


def _ridges(picture: Array, xy: Array, normal: Array, shift: Array, width: float) -> Array:
    """By how much each place (string, sample, shift) is brighter than both its sides at ``width`` px."""
    step, n = round(width / PROFILE_STEP), len(shift)
    wide = shift[0] + PROFILE_STEP * np.arange(-step, n + step)
    at = (xy[:, :, None] + normal[:, :, None] * wide[None, None, :, None] - 0.5).astype(np.float32)
    flat = at.reshape(at.shape[0] * at.shape[1], -1, 2)
    profile = cv2.remap(picture, flat[..., 0], flat[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    smooth = cv2.GaussianBlur(profile, (0, 0), sigmaX=0.5 / PROFILE_STEP, sigmaY=0.1)
    middle = smooth[:, step : step + n]
    sides = np.maximum(smooth[:, :n], smooth[:, 2 * step : 2 * step + n])
    return (middle - sides).reshape(at.shape[0], at.shape[1], n)


def _joint_offset(ridge: Array, shift: Array, sd: float) -> Array:
    """Offset (samples,) px that all strings share, a straight function of the place along them."""
    s = np.linspace(-1, 1, ridge.shape[1])
    cap = max(float(np.percentile(ridge, 95)), LEAST_RIDGE)
    good = np.clip(ridge, 0, cap).mean(axis=0) / cap
    grid = np.arange(shift[0], shift[-1] + 1e-9, PROFILE_STEP)
    a, b = (g.ravel() for g in np.meshgrid(grid, grid, indexing="ij"))
    line = a[:, None] * (1 - s) / 2 + b[:, None] * (1 + s) / 2
    column = np.clip(np.round((line - shift[0]) / PROFILE_STEP), 0, len(shift) - 1).astype(int)
    score = good[np.arange(len(s)), column].mean(axis=1) - 0.02 * (a**2 + b**2) / sd**2
    return np.asarray(line[int(score.argmax())])


def _one_string(ridge: Array, shift: Array, offset: Array, *, near: float = 1.25) -> Array | None:
    """Offset (samples,) of one string, a robust straight line through its ridge near the shared one; None if not seen."""
    mask = np.abs(shift[None] - offset[:, None]) <= near
    best = np.where(mask, ridge, -np.inf)
    column = best.argmax(axis=1)
    rows = np.arange(len(offset))
    strength = best[rows, column]
    inner = np.clip(column, 1, len(shift) - 2)
    left, mid, right = ridge[rows, inner - 1], ridge[rows, inner], ridge[rows, inner + 1]
    bend = left - 2 * mid + right
    fine = np.where((bend < 0) & (inner == column), 0.5 * (left - right) / np.where(bend < 0, bend, -1.0), 0.0)
    place = shift[column] + np.clip(fine, -0.5, 0.5) * PROFILE_STEP
    weight = (strength > max(LEAST_RIDGE, 0.35 * float(np.percentile(strength, 80)))).astype(float)
    if weight.mean() < LEAST_SEEN:
        return None
    s = np.linspace(-1, 1, len(offset))
    clear = weight.copy()
    fitted = offset
    for _ in range(5):
        slope, level = np.polyfit(s, place, 1, w=np.sqrt(weight + 1e-9))
        fitted = level + slope * s
        left_over = np.abs(place - fitted)
        cut = max(0.35, 3 * float(np.median(left_over[clear > 0])))
        weight = clear * np.clip(1 - (left_over / cut) ** 2, 0, None) ** 2
    return fitted if (weight > 0.2).mean() >= LEAST_SEEN else None
