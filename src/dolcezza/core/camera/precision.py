"""How well a view can measure: from the landmarks alone to the ± of bow angle, contact point and place on the bow.

The same error model that the solver uses: what the bow's line and ends are worth in the picture, and how uncertain the
pose is. One place, so that the ± shown while calibrating is the ± that comes out.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.bow_view import hair_ends, hair_ends_slopes, see_slopes
from dolcezza.core.camera.lens import FOCAL_LOG_SD, LensPrior
from dolcezza.core.camera.pose import CLICK_SD_PX, ClickSd, LandmarkFit
from dolcezza.core.camera.poses import Poses
from dolcezza.core.camera.unknowns import LEAN, STEP, CalibrationFrame, at, from_landmarks
from dolcezza.core.instrument.model import InstrumentModel

INCLINATION_SD = 0.8
"""How far the bow leans from its string's plane while it sounds only that string (one sd, deg; the plane of a neighbour is
about 15 away)."""
ANGLE_SD = 12.0
"""How crooked bows are, all players together (one sd, deg): weak, it only settles what the picture leaves open."""
BRIDGE_SD_DEG = 0.3
"""How square bridges stand to the strings, and how straight marked ones are (one sd, deg, from memory)."""
LINE_SD_PX = 0.3
"""Error of the hair's line that its own fit does not see: shading, the stick over the hair (px at 1280 px)."""
RIBBON_SD_MM = 0.5
"""The middle of what is seen of the hair lies so far beside the middle of the hair all through a take (one sd): ribbons differ in width
and are turned about the stick, which throws its shadow on them."""
HEAD_SD_PX = 1.5
HEAD_TAKE_SD_PX = 1.5
"""So far off, all through a take, the end of the hair at the head is seen: plates differ, and so does what a camera makes of them."""
FROG_SD_PX = 4.0
FROG_TAKE_SD_PX = 6.0
"""The same at the frog: a hand hides as much of the hair in every stroke, as far as that end is believed at all."""
HEAD_BIAS_PX = 1.0
"""The bright ridge fades this much before the hair's end (px at 1280 px)."""

ENOUGH = {"bow_angle": 3.0, "contact_point": 3.0, "bow_position": 0.04}
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


def predict(
    model: InstrumentModel, fit: LandmarkFit, *, scale_px: float, focal_sd: float = FOCAL_LOG_SD, click_sd_px: ClickSd = CLICK_SD_PX
) -> ViewPrecision:  # fmt: skip
    """The ± that a straight bow will have in the view of ``fit``.

    ``scale_px`` = longer picture side / 1280, ``focal_sd`` of the logarithm, ``click_sd_px``: how well the landmarks are known.

    What the landmarks leave open of pose, lens and lengths counts as it does in the measuring; what the bows say besides, it cannot know.
    """
    grid = np.meshgrid(np.arange(len(model.spec.strings)), [0.15, 0.5, 0.85], indexing="ij")
    strings, places = (g.ravel() for g in grid)
    contact = np.full(len(places), 0.5 * model.spec.bridge_to_fingerboard)
    params = np.column_stack([contact, np.zeros(len(places)), model.string_planes[strings], places])
    poses = Poses.of([fit.camera] * len(places))
    ends = hair_ends(model, params, strings)
    base = poses.see(ends)
    along = base[:, 1] - base[:, 0]
    along /= np.linalg.norm(along, axis=1, keepdims=True)
    across = np.stack([-along[:, 1], along[:, 0]], axis=-1)

    def split(off: Array) -> Array:
        return np.concatenate([np.einsum("nki...,ni->nk...", off, across), np.einsum("nki...,ni->nk...", off, along)], axis=1)

    moved = hair_ends_slopes(model, params, strings)
    jac = split(see_slopes(ends, moved, poses.rotation, poses.translation, poses.focal, poses.radial))
    seen, planes = [], []
    for k, step in enumerate(np.diag(STEP)):
        changed, there = at(model, poses, step)
        seen.append(split(there.see(hair_ends(changed, params, strings)) - base) / step[k])
        planes.append((changed.string_planes + step[LEAN] - model.string_planes)[strings] / step[k])
    weight = 1 / (scale_px * np.array([LINE_SD_PX, LINE_SD_PX, FROG_SD_PX * 2.5, HEAD_SD_PX])) ** 2
    prior = np.diag([0.0, ANGLE_SD**-2, INCLINATION_SD**-2, 0.0])
    covariance = np.linalg.inv(np.einsum("nia,i,nib->nab", jac, weight, jac) + prior + 1e-9 * np.eye(4))
    pull = np.einsum("nib,i,nik->nbk", jac, weight, np.stack(seen, axis=-1))
    pull[:, 2] -= np.stack(planes, axis=-1) / INCLINATION_SD**2
    gain = -np.einsum("nab,nbk->nak", covariance, pull)
    told = from_landmarks(
        model,
        [CalibrationFrame(fit.points, fit.camera, click_sd_px=click_sd_px)],
        scale_px=scale_px,
        lens=LensPrior(fit.camera.focal, focal_sd),
        rounds=1,
    )
    ribbon_px = RIBBON_SD_MM * fit.camera.focal / float(fit.camera.tvec[2])
    seen_sd = np.array([[ribbon_px, ribbon_px, 0, 0], [0, 0, 0, HEAD_TAKE_SD_PX * scale_px]])
    beside = np.einsum("nab,nib,i,ki->nak", covariance, jac, weight, seen_sd)
    total = covariance + np.einsum("nak,kl,nbl->nab", gain, told.covariance, gain) + np.einsum("nak,nbk->nab", beside, beside)
    sd = np.sqrt(np.einsum("naa->na", total).mean(axis=0))
    return ViewPrecision(float(np.hypot(sd[1], BRIDGE_SD_DEG)), float(sd[0]), float(sd[3]))
