"""Where to put the phone: the ± that other places would give, and which small move helps most."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from dolcezza.core.base.errors import LandmarkError
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.pose import fit_landmarks
from dolcezza.core.camera.precision import ENOUGH, ViewPrecision, predict
from dolcezza.core.instrument.model import LANDMARK_NAMES, InstrumentModel

STEP_DEG = 20.0
WORTH = 0.85
"""A move is worth saying when it brings the worst figure below this share of what it is now."""
MOVES: dict[str, tuple[float, float]] = {
    "higher, looking down on the strings": (0.0, STEP_DEG),
    "lower": (0.0, -STEP_DEG),
    "round to the low-string side": (STEP_DEG, 0.0),
    "round to the high-string side": (-STEP_DEG, 0.0),
    "higher and round to the low-string side": (STEP_DEG, STEP_DEG),
    "higher and round to the high-string side": (-STEP_DEG, STEP_DEG),
}
"""Names and (azimuth, height) in degrees about the bridge; the words are in ``reports``."""


@dataclass(frozen=True)
class Move:
    """A better place: its name, and the ± it would give."""

    name: str
    precision: ViewPrecision


def camera_around(azimuth_deg: float, height_deg: float, *, distance: float, focal: float, size: tuple[int, int]) -> Camera:
    """A level camera at ``distance`` mm from the bridge that looks at it.

    Azimuth 0 = on the scroll's side in line with the strings, + towards the bass side; height 90 = straight above the top.
    """
    az, el = np.radians([azimuth_deg, np.clip(height_deg, -85, 85)])
    place = distance * np.array([np.cos(el) * np.cos(az), np.cos(el) * np.sin(az), np.sin(el)])
    forward = -place / distance
    right = np.cross(forward, [0.0, 0.0, 1.0])
    right /= np.linalg.norm(right)
    rotation = np.array([right, np.cross(forward, right), forward])
    return Camera(cv2.Rodrigues(rotation)[0].ravel(), -rotation @ place, focal, (size[0] / 2, size[1] / 2))


def expected(model: InstrumentModel, camera: Camera, names: tuple[str, ...], size: tuple[int, int]) -> ViewPrecision | None:
    """The ± in a view when the landmarks ``names`` are set with a usual hand; None where the instrument cannot be marked."""
    points = {n: tuple(camera.project(model.landmarks[n])) for n in names}
    try:
        fit = fit_landmarks(model, points, size=size, focal=camera.focal, near=camera)
    except LandmarkError:
        return None
    return predict(model, fit, scale_px=max(size) / 1280.0)


def badness(precision: ViewPrecision) -> float:
    """The worst figure as a share of what is enough; 1 = just enough."""
    return max(
        precision.bow_angle_deg / ENOUGH["bow_angle"],
        precision.contact_point_mm / ENOUGH["contact_point"],
        precision.bow_position / ENOUGH["bow_position"],
    )


def best_move(model: InstrumentModel, camera: Camera, names: tuple[str, ...], size: tuple[int, int]) -> Move | None:
    """The small move of the phone that helps most, or None where none helps enough."""
    names = tuple(n for n in LANDMARK_NAMES if n in names)
    place = camera.place
    distance = float(np.linalg.norm(place))
    azimuth = float(np.degrees(np.arctan2(place[1], place[0])))
    height = float(np.degrees(np.arcsin(place[2] / distance)))

    def at(turn: float, rise: float) -> ViewPrecision | None:
        view = camera_around(azimuth + turn, height + rise, distance=distance, focal=camera.focal, size=size)
        return expected(model, view, names, size)

    now = at(0.0, 0.0)
    if now is None:
        return None
    tried = [(words, at(*step)) for words, step in MOVES.items()]
    best = min(((badness(p), words, p) for words, p in tried if p is not None), default=None)
    if best is None or best[0] > WORTH * badness(now):
        return None
    return Move(best[1], best[2])
