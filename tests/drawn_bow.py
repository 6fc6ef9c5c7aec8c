"""Drawn pictures of a bow on a wall, with where its hair truly is."""

from __future__ import annotations

import cv2
import numpy as np

from dolcezza.core.camera.bow_view import see_bow
from dolcezza.core.camera.lens import Camera
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import InstrumentModel
from tests_support import camera_at

SHAPE = (720, 1280)
MODEL = InstrumentModel(instrument("violin 4/4"))
VIEW = camera_at(MODEL, -12, 38)
LOW = camera_at(MODEL, -12, 20)
"""From lower down: the stick stands plainly over its hair."""
PLANE = float(MODEL.string_planes[1:3].mean())
WALL = 180


def picture_of(
    angle: float, position: float, *, hair: int, stick: int = 55, view: Camera = VIEW, wall: int = WALL, rise_mm: float = 11.0
) -> tuple[np.ndarray, np.ndarray]:
    """A wall with a bow: a ribbon 9 mm wide and a stick 7 mm thick, ``rise_mm`` above it; and the ends of the hair (2, 2) px."""
    rng = np.random.default_rng(1)
    picture = np.clip(wall + cv2.GaussianBlur(rng.normal(0, 6, SHAPE), (0, 0), 3), 0, 255).astype(np.uint8)
    params = np.array([28.0, angle, PLANE, position])
    ends = see_bow(MODEL, params, 1, view.rotation, view.tvec, view.focal, view.center)
    along = MODEL.bow_direction(np.array([angle]), np.array([PLANE]))[0]
    up = np.array([0.0, -np.sin(np.radians(PLANE)), np.cos(np.radians(PLANE))])
    flat = np.cross(along, up)
    touch = MODEL.string_point(1, 28.0)
    start = touch - position * MODEL.spec.hair_length * along
    corners = [start + s * MODEL.spec.hair_length * along + w * flat for s, w in ((0, -4.5), (1, -4.5), (1, 4.5), (0, 4.5))]
    cv2.fillConvexPoly(picture, np.round(view.project(np.array(corners)) * 16 - 8).astype(int), hair, cv2.LINE_AA, 4)
    axis = view.project(np.array([start + rise_mm * up - 20 * along, start + rise_mm * up + (MODEL.spec.hair_length + 15) * along]))
    thick = max(2, round(7 * view.focal / float(view.tvec[2])))
    a, b = (tuple(int(v) for v in np.round(p * 16 - 8)) for p in axis)
    cv2.line(picture, a, b, stick, thick, cv2.LINE_AA, 4)
    return cv2.GaussianBlur(picture, (0, 0), 0.8), ends


def off_px(line, ends) -> float:
    """How far a line's crossing lies beside the hair's."""
    true = (ends[1] - ends[0]) / np.linalg.norm(ends[1] - ends[0])
    return float(abs((line.point - ends[0]) @ np.array([-true[1], true[0]])))
