"""From light to the picture that a phone keeps: exposure, colour of the light, focus, shake, noise, sharpening, compression."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array


@dataclass(frozen=True)
class Sensor:
    """How a phone films. ``white``: gains (3,); ``focus_px`` blur; ``shake_px`` (x, y) of movement while the shutter is open; ``noise``
    share of white at mid grey; ``sharpen`` amount; ``quality`` of the compression (JPEG's 1-100, 0 = none); ``vignette`` share lost in the
    corner; ``curve`` how much it adds contrast."""

    exposure: float = 1.0
    white: tuple[float, float, float] = (1.0, 1.0, 1.0)
    focus_px: float = 0.0
    shake_px: tuple[float, float] = (0.0, 0.0)
    noise: float = 0.0
    sharpen: float = 0.0
    quality: int = 0
    vignette: float = 0.0
    curve: float = 0.0
    grey: bool = False


def developed(light: Array, sensor: Sensor, rng: np.random.Generator) -> Array:
    """Linear light (h, w, 3) to the picture's bytes (h, w, 3), RGB."""
    h, w = light.shape[:2]
    picture = light.astype(np.float32) * (np.array(sensor.white, np.float32) * sensor.exposure)
    if sensor.vignette:
        y, x = np.mgrid[0:h, 0:w].astype(np.float32)
        far = ((x / w - 0.5) ** 2 + (y / h - 0.5) ** 2) * 2
        picture *= (1 - sensor.vignette * far)[..., None]
    if sensor.focus_px > 0.15:
        picture = cv2.GaussianBlur(picture, (0, 0), sensor.focus_px)
    picture = _shaken(picture, sensor.shake_px)
    shown = np.clip(picture, 0, None) ** (1 / 2.2)
    shown = np.where(shown > 0.8, 0.8 + 0.2 * np.tanh((shown - 0.8) / 0.2), shown)
    if sensor.curve:
        shown = shown + sensor.curve * shown * (1 - shown) * (2 * shown - 1)
    if sensor.noise:
        grain = rng.normal(size=shown.shape).astype(np.float32) * (0.4 + shown) * sensor.noise
        shown = shown + cv2.GaussianBlur(grain, (0, 0), 0.6) * 1.8
    if sensor.sharpen:
        shown = shown + sensor.sharpen * (shown - cv2.GaussianBlur(shown, (0, 0), 1.2))
    if sensor.grey:
        shown = np.repeat(shown.mean(2, keepdims=True), 3, 2)
    out = np.clip(np.round(shown * 255), 0, 255).astype(np.uint8)
    if sensor.quality:
        _, data = cv2.imencode(".jpg", out[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, sensor.quality])
        kept = cv2.imdecode(data, cv2.IMREAD_COLOR)
        if kept is not None:
            out = kept[..., ::-1].astype(np.uint8)
    return np.ascontiguousarray(out)


def _shaken(picture: Array, move: tuple[float, float]) -> Array:
    """The picture smeared along a movement."""
    length = float(np.hypot(*move))
    if length < 0.7:
        return picture
    n = 2 * round(length) + 3
    kernel = np.zeros((n, n), np.float32)
    middle = (n - 1) / 2
    ends = [(round((middle + s * move[0] / 2) * 16), round((middle + s * move[1] / 2) * 16)) for s in (-1, 1)]
    cv2.line(kernel, ends[0], ends[1], 1.0, 1, cv2.LINE_AA, 4)
    return cv2.filter2D(picture, -1, kernel / kernel.sum())
