"""Photos of strung bows, drawn: hair and stick with a known gap, dark and pale, from any side."""

from __future__ import annotations

import cv2
import numpy as np

HAIR_MM = 640.0
FINE = 3
DARK, PALE, BRIGHT, BLACK = (70, 40, 25), (205, 160, 105), (235, 232, 220), (22, 22, 24)


def photo(gap, *, stick=DARK, hair=BRIGHT, ground=(120, 125, 130), px_mm=2.0, turn=0.0, up=True, grain=0.0, light=0.0, seed=0):
    """A bow drawn fine and made small: ``gap`` (mm) by share of the hair. Returns the picture and the ends of the hair (px)."""
    w, h = 1600, 1000
    scale, rng = px_mm * FINE, np.random.default_rng(seed)
    image = np.empty((h * FINE, w * FINE, 3), np.float32)
    image[:] = ground
    way, side = np.array([np.cos(turn), np.sin(turn)]), np.array([-np.sin(turn), np.cos(turn)]) * (-1 if up else 1)
    start = np.array([w, h]) * FINE / 2 - 0.5 * HAIR_MM * scale * way

    def band(inner, outer, colour, a=0.0, b=1.0):
        s = np.linspace(a, b, 400)
        lines = [start + (HAIR_MM * scale * s)[:, None] * way + scale * np.array([f(v) for v in s])[:, None] * side for f in (inner, outer)]
        cv2.fillPoly(image, [np.vstack([lines[0], lines[1][::-1]]).round().astype(np.int32)], colour)

    thick = lambda s: 8.5 - 3.0 * s  # noqa: E731  # a stick is thinner at the head
    band(lambda s: -0.6, lambda s: 0.6, hair)
    band(lambda s: 0.6 + gap(s), lambda s: 0.6 + gap(s) + thick(s), stick, -0.12, 1.0)
    band(lambda s: -9.0, lambda s: 14.0, BLACK, -0.09, 0.0)
    band(lambda s: -1.0, lambda s: 0.6 + gap(1.0) + thick(1.0), stick, 1.0, 1.02)
    image = cv2.resize(image, (w, h), interpolation=cv2.INTER_AREA)
    if light:
        image *= 1.0 + light * np.linspace(-0.5, 0.5, w)[None, :, None]
    if grain:
        coarse = cv2.resize(rng.normal(size=(h // 6, w // 6, 1)).astype(np.float32), (w, h))
        image += grain * (coarse[..., None] + 0.5 * rng.normal(size=(h, w, 3)))
    ends = [tuple(map(float, (start + s * HAIR_MM * scale * way) / FINE - 0.33)) for s in (0.0, 1.0)]
    return np.clip(image, 0, 255).astype(np.uint8), ends[0], ends[1]


def inwards(middle: float, ends: float):
    """A stick that comes nearest at the middle: its gap by share of the hair (mm)."""
    return lambda s: middle + (ends - middle) * (2 * s - 1) ** 2
