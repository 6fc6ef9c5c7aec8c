"""Pinhole camera. Pixels of the upright picture, x right, y down; the camera looks along +z."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array

PHONE_FOV_DEG = 56.0
"""Field of view along the longer side of the picture that is expected before anything is known. Phone main cameras:
60 to 75 degrees in photographs (from memory); video crops a good part of it, and teachers zoom in a little."""
FOCAL_LOG_SD = 0.25
"""One standard deviation of the logarithm of the focal length before anything is known: covers 43 to 71 degrees
within one, a zoom of 1.6 x within two."""

FILE_FOCAL_LOG_SD = 0.08
"""The same where the file tells the lens: what is cropped for steadying differs between phones."""


@dataclass(frozen=True)
class Camera:
    """Where the instrument is in front of the camera, and the focal length.

    ``rvec`` (3,) Rodrigues vector and ``tvec`` (3,) mm take the instrument frame to the camera frame; ``focal`` px,
    ``center`` (cx, cy) px.
    """

    rvec: Array
    tvec: Array
    focal: float
    center: tuple[float, float]

    @property
    def rotation(self) -> Array:
        """Instrument frame to camera frame, (3, 3)."""
        return cv2.Rodrigues(np.asarray(self.rvec, float))[0]

    @property
    def place(self) -> Array:
        """Where the camera stands in the instrument frame, (3,), mm."""
        return -self.rotation.T @ self.tvec

    def project(self, points: Array) -> Array:
        """Points (..., 3) mm in the instrument frame to pixels (..., 2). Points behind the camera become NaN."""
        cam = np.asarray(points, float) @ self.rotation.T + self.tvec
        return pinhole(cam, self.focal, self.center)

    def ray(self, pixels: Array) -> Array:
        """Unit viewing directions (..., 3) in the instrument frame through pixels (..., 2)."""
        p = np.asarray(pixels, float)
        d = np.concatenate([(p - np.asarray(self.center)) / self.focal, np.ones((*p.shape[:-1], 1))], axis=-1)
        d /= np.linalg.norm(d, axis=-1, keepdims=True)
        return d @ self.rotation


@dataclass(frozen=True)
class LensPrior:
    """What is expected of the lens before anything is seen: ``focal`` px, and one sd of its logarithm."""

    focal: float
    log_sd: float = FOCAL_LOG_SD

    @staticmethod
    def of(size: tuple[int, int], file_focal: float | None) -> LensPrior:
        """Of a picture of ``size`` (width, height); ``file_focal`` px where the file tells it."""
        return LensPrior(file_focal, FILE_FOCAL_LOG_SD) if file_focal else LensPrior(prior_focal(*size))

    def beside(self, focal: float) -> float:
        """Where the expected lens lies beside one of ``focal`` px, as a logarithm."""
        return float(np.log(self.focal / focal))


def pinhole(cam: Array, focal: Array | float, center: tuple[float, float], radial: float = 0.0) -> Array:
    """Camera-frame points (..., 3) to pixels (..., 2); NaN behind the camera. ``radial``: the lens draws what is seen under a tangent
    r from its axis out to r (1 + radial r^2)."""
    z = np.where(cam[..., 2:3] > 1.0, cam[..., 2:3], np.nan)
    tangent = cam[..., :2] / z
    if radial:
        tangent = tangent * (1 + radial * (tangent**2).sum(axis=-1, keepdims=True))
    return np.asarray(np.asarray(focal)[..., None] * tangent + np.asarray(center))


def prior_focal(width: int, height: int, fov_deg: float = PHONE_FOV_DEG) -> float:
    """Focal length in px from the field of view along the longer side."""
    return float(0.5 * max(width, height) / np.tan(np.radians(fov_deg) / 2))
