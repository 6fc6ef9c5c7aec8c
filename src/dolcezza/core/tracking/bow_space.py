"""What a bow can do in a view: where it can cross the strings, which way it can point, which part of the picture it can reach."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.bow_view import see_bow
from dolcezza.core.camera.lens import Camera
from dolcezza.core.instrument.model import InstrumentModel

MAX_BOW_ANGLE_DEG = 30.0
LONGEST_SPARE = 1.08
"""The hair may be so much longer than the table says, and than the pose makes it."""


@dataclass(frozen=True)
class SearchSpace:
    """What a bow can do in this view: the string line from ``start`` to ``stop`` (px), the directions, the box."""

    start: Array
    stop: Array
    angles: tuple[float, float]
    box: tuple[int, int, int, int]
    hair_px: float
    stick_px: Array
    """(2,) px by which the stick lies beside the hair, per mm of its height above it."""
    longest_px: float = np.inf
    """No hair is longer than this in the picture."""
    tilt_px: Array = field(default_factory=lambda: np.zeros(2))
    """(2,) px by which a stick that is turned towards the fingerboard lies beside the hair, per mm."""


def search_space(model: InstrumentModel, camera: Camera, shape: tuple[int, int]) -> SearchSpace:
    """Work out from the pose where the bow can be. ``shape`` (h, w) of the picture."""
    spec = model.spec
    gap = spec.bridge_to_fingerboard
    middle = np.array([[-0.25 * gap, 0, 0.0], [1.35 * gap, 0, 0.0]])
    start, stop = camera.project(middle)
    planes = np.linspace(model.string_planes[0] - 12, model.string_planes[-1] + 12, 9)
    angle, incl, pos, contact = np.meshgrid(
        [-MAX_BOW_ANGLE_DEG, -15, 0, 15, MAX_BOW_ANGLE_DEG], planes, [0.0, 0.5, 1.0], [0.1 * gap, 0.9 * gap]
    )
    params = np.stack([contact, angle, incl, pos], axis=-1).reshape(-1, 4)
    ends = see_bow(model, params, 1, camera.rotation, camera.tvec, camera.focal, camera.center)
    ends = ends[np.isfinite(ends).all(axis=(1, 2))]
    lean = ends[:, 1] - ends[:, 0]
    direction = np.arctan2(lean[:, 1], lean[:, 0])
    mean = np.arctan2(np.sin(direction).mean(), np.cos(direction).mean())
    off = (direction - mean + np.pi) % (2 * np.pi) - np.pi
    pad = np.radians(3)
    low, high = np.clip([mean + off.min() - pad, mean + off.max() + pad], mean - 1.35, mean + 1.35)
    near = ends.reshape(-1, 2)
    x0, y0 = np.floor(near.min(axis=0)).astype(int) - 10
    x1, y1 = np.ceil(near.max(axis=0)).astype(int) + 10
    box = (max(0, x0), max(0, y0), min(shape[1], x1), min(shape[0], y1))
    depth = float((camera.rotation @ np.zeros(3) + camera.tvec)[2])
    foot, top, on = camera.project(np.array([[0.5 * gap, 0, 0.0], [0.5 * gap, 0, 1.0], [0.5 * gap + 1.0, 0, 0.0]]))
    longest = LONGEST_SPARE * float(np.linalg.norm(lean, axis=1).max())
    return SearchSpace(start, stop, (float(low), float(high)), box, spec.hair_width * camera.focal / depth, top - foot, longest, on - foot)


def bow_like(ridge: Array, along: Array, longest_px: float) -> float:
    """How much ridge (m,) there is along a line, at ``along`` (m,) px from its crossing, where a bow may be: in the best stretch over the
    crossing that is no longer than hair can be; what goes on beyond it (a floor's edge, a stripe of a wall) speaks against a bow."""
    total = np.concatenate([[0.0], np.cumsum(ridge)])
    first = np.searchsorted(along, along - longest_px)
    ends = (along >= 0) & (along <= longest_px)
    if not ends.any() or along[-1] - along[0] <= longest_px:
        return float(total[-1])
    inside = float((total[1:] - total[first])[ends].max())
    return max(0.0, 2 * inside - float(total[-1]))
