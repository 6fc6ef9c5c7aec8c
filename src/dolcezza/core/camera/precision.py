"""How well a view can measure: from the pins alone to the ± of bow angle, contact point and place on the bow.

The same error model that the solver uses: what the bow's line and ends are worth in the picture, and how uncertain the
pose is. One place, so that the ± shown while pinning is the ± that comes out.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.geometry import turned
from dolcezza.core.camera.bow_view import STEPS, see_bow
from dolcezza.core.camera.pose import PinFit
from dolcezza.core.instrument.model import InstrumentModel

Array = np.ndarray

INCLINATION_SD = 0.8
"""How far the bow leans from its string's plane while it sounds only that string (one sd, deg; the plane of a neighbour is
about 15 away)."""
ANGLE_SD = 12.0
"""How crooked bows are, all players together (one sd, deg): weak, it only settles what the picture leaves open."""
BRIDGE_SD_DEG = 0.3
"""How square bridges stand to the strings, and how straight pinned ones are (one sd, deg, from memory)."""
LINE_SD_PX = 0.3
"""Error of the hair's line that its own fit does not see: shading, the stick over the hair (px at 1280 px)."""
HEAD_SD_PX = 1.5
FROG_SD_PX = 4.0
HEAD_BIAS_PX = 1.0
"""The bright ridge fades this much before the hair's end (px at 1280 px)."""

POSE_STEPS = np.array([1e-4, 1e-4, 1e-4, 0.05, 0.05, 0.05, 1e-4])
"""Steps for numerical derivatives by Rodrigues vector (rad), translation (mm) and log focal length."""
ENOUGH = {"bow_angle": 2.5, "contact_point": 3.0, "bow_position": 0.04}
"""± from which a view is called poor for a figure (deg, mm, share)."""


@dataclass(frozen=True)
class ViewPrecision:
    """One standard deviation of each figure, averaged over the strings and the length of the bow."""

    bow_angle_deg: float
    contact_point_mm: float
    bow_position: float

    @property
    def weak(self) -> list[str]:
        """Names of the figures that this view measures poorly."""
        got = {
            "bow_angle": self.bow_angle_deg,
            "contact_point": self.contact_point_mm,
            "bow_position": self.bow_position,
        }
        return [name for name, sd in got.items() if sd > ENOUGH[name]]


def predict(model: InstrumentModel, fit: PinFit, *, scale_px: float) -> ViewPrecision:
    """The ± that a straight bow will have in the view of ``fit``; ``scale_px`` = longer picture side / 1280."""
    camera = fit.camera
    grid = np.meshgrid(np.arange(len(model.spec.strings)), [0.15, 0.5, 0.85], indexing="ij")
    strings, places = (g.ravel() for g in grid)
    contact = np.full(len(places), 0.5 * model.spec.bridge_to_fingerboard)
    params = np.column_stack([contact, np.zeros(len(places)), model.string_planes[strings], places])
    rot = np.repeat(camera.rotation[None], len(places), axis=0)

    def seen(p: Array, rotation: Array, translation: Array, focal: float) -> Array:
        return see_bow(model, p, strings, rotation, translation, focal, camera.center)

    base = seen(params, rot, camera.tvec, camera.focal)
    along = base[:, 1] - base[:, 0]
    along /= np.linalg.norm(along, axis=1, keepdims=True)
    across = np.stack([-along[:, 1], along[:, 0]], axis=-1)

    def split(ends: Array) -> Array:
        off = ends - base
        return np.concatenate([np.einsum("nki,ni->nk", off, across), np.einsum("nki,ni->nk", off, along)], axis=1)

    jac = np.stack(
        [split(seen(params + np.eye(4)[k] * STEPS[k], rot, camera.tvec, camera.focal)) / STEPS[k] for k in range(4)],
        axis=-1,
    )
    moved = []
    for k, step in enumerate(POSE_STEPS):
        r = turned(rot, k, step) if k < 3 else rot
        t = camera.tvec + (np.eye(3)[k - 3] * step if 3 <= k < 6 else 0.0)
        f = camera.focal * (np.exp(step) if k == 6 else 1.0)
        moved.append(split(seen(params, r, t, f)) / step)
    pose_jac = np.stack(moved, axis=-1)
    weight = 1 / (scale_px * np.array([LINE_SD_PX, LINE_SD_PX, FROG_SD_PX * 2.5, HEAD_SD_PX])) ** 2
    prior = np.diag([0.0, ANGLE_SD**-2, INCLINATION_SD**-2, 0.0])
    covariance = np.linalg.inv(np.einsum("nia,i,nib->nab", jac, weight, jac) + prior + 1e-9 * np.eye(4))
    gain = -np.einsum("nab,nib,i,nik->nak", covariance, jac, weight, pose_jac)
    total = covariance + np.einsum("nak,kl,nbl->nab", gain, fit.covariance, gain)
    sd = np.sqrt(np.einsum("naa->na", total).mean(axis=0))
    return ViewPrecision(float(np.hypot(sd[1], BRIDGE_SD_DEG)), float(sd[0]), float(sd[3]))
