"""How player and instrument stand to each other: direction on the clock, neck against the floor, head, endpin. Noted, not judged.

The floor is taken to lie square to the trunk; which way the player faces comes from the line between the two shoulders.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from dolcezza.core.arm.chain import View
from dolcezza.core.arm.posture_lines import Line, OneMoment, posture_lines
from dolcezza.core.base.arrays import Array
from dolcezza.core.body.points import ARMS, EAR_LEFT, EAR_RIGHT, HIPS, KNEES, NOSE, BodySeen, middle, other
from dolcezza.core.body.proportions import JOINTS_APART, Build
from dolcezza.core.instrument.model import InstrumentModel

HEAD_HALF_BREADTH = 0.045
"""Half the distance of the ears (share of stature, from memory)."""


@dataclass(frozen=True)
class PostureFigure:
    """One figure over the take: median ``value`` with ``sd``, in ``unit``, and what it means. ``t_s``: the moment that is nearest to
    the median; ``lines`` (px) what it was told from there: the thing measured, then what it is measured against."""

    name: str
    value: float
    sd: float
    unit: str
    meaning: str
    t_s: float = float("nan")
    lines: tuple[Line, ...] = ()

    def as_filmed(self, width: int | None, *, scale: float = 1.0) -> PostureFigure:
        """The same with its lines in the picture as it was filmed; ``width`` and ``scale`` as of a series."""

        def back(point: tuple[float, float]) -> tuple[float, float]:
            return (scale * point[0] if width is None else width - scale * point[0], scale * point[1])

        return replace(self, lines=tuple((back(a), back(b)) for a, b in self.lines))


OWN_SD = {
    "clock": 0.5,
    "neck_deg": 6.0,
    "head_tilt_deg": 12.0,
    "nose_to_scroll_deg": 15.0,
    "top_deg": 8.0,
    "endpin_offset": 0.3,
    "knee_over_hip": 0.3,
}
"""What the way of telling leaves unknown besides (one sd)."""
MEANINGS = {
    "clock": ("o'clock", "direction of the instrument, twelve = straight ahead of the player, nine = to the left"),
    "neck_deg": ("deg", "neck against the floor, + = the scroll is higher"),
    "head_tilt_deg": ("deg", "head against the trunk, + = tilted to the instrument's side"),
    "nose_to_scroll_deg": ("deg", "between where the nose points and the scroll, seen from above"),
    "top_deg": ("deg", "how far the top faces outwards, 0 = up to the ceiling, 90 = straight ahead"),
    "endpin_offset": ("of shoulder width", "endpin beside the midline of the body, + = to the bow's side"),
    "knee_over_hip": ("of shoulder width", "knees above the hips; below = the seat is higher"),
}


def posture(
    model: InstrumentModel, person: Build, view: View, body: BodySeen, side: str, shoulder: Array
) -> dict[str, PostureFigure]:  # fmt: skip
    """Figures from the moments of ``body`` (m); ``shoulder`` (m, 3) mm: the bow arm's shoulder in camera space."""
    found = {"neck_deg": np.degrees(np.arcsin(np.clip(-np.einsum("mi,mi->m", view.rotation[:, :, 0], view.down), -1, 1)))}
    right, ahead = _facing(person, view, body, side, shoulder)
    down_px = view.see(shoulder + 60.0 * view.down) - view.see(shoulder)
    down_px /= np.maximum(np.linalg.norm(down_px, axis=1, keepdims=True), 1e-9)
    across_px = np.column_stack([-down_px[:, 1], down_px[:, 0]])
    ears = body.points[:, EAR_RIGHT] - body.points[:, EAR_LEFT]
    if side == "left":
        ears = -ears
    # the line of the ears against the line across the trunk, from the instrument's ear to the bow's
    found["head_tilt_deg"] = -np.degrees(np.arctan2((ears * down_px).sum(axis=1), np.abs((ears * across_px).sum(axis=1))))
    width = np.linalg.norm(body.points[:, ARMS[side][0]] - body.points[:, ARMS[other(side)][0]], axis=1)
    outwards = body.points[:, ARMS[side][0]] - body.points[:, ARMS[other(side)][0]]
    outwards /= np.maximum(np.linalg.norm(outwards, axis=1, keepdims=True), 1e-9)
    if model.spec.family == "cello":
        button = view.see(view.place(model.landmarks["end_button"]))
        found["endpin_offset"] = ((button - middle(body, HIPS)) * outwards).sum(axis=1) / np.maximum(width, 1.0)
        knees = 0.5 * (body.points[:, KNEES[0]] + body.points[:, KNEES[1]])
        found["knee_over_hip"] = -((knees - middle(body, HIPS)) * down_px).sum(axis=1) / np.maximum(width, 1.0)
    else:
        strings = view.rotation[:, :, 0] - np.einsum("mi,mi->m", view.rotation[:, :, 0], view.down)[:, None] * view.down
        left = np.degrees(np.arctan2(-np.einsum("mi,mi->m", strings, right), np.einsum("mi,mi->m", strings, ahead)))
        found["clock"] = 12.0 - left / 30.0
        found["top_deg"] = np.degrees(np.arccos(np.clip(-np.einsum("mi,mi->m", view.rotation[:, :, 2], view.down), -1, 1)))
        found["nose_to_scroll_deg"] = np.abs(_nose(person, view, body, shoulder, right, ahead) - left)
    out = {}
    for name, values in found.items():
        known = values[np.isfinite(values)]
        if len(known):
            value = float(np.median(known))
            spread = 1.4826 * float(np.median(np.abs(known - value)))
            k = int(np.nanargmin(np.abs(values - value)))
            one = np.array([k])
            still = BodySeen(body.t_s[one], body.points[one], body.visible[one])
            lines = posture_lines(name, OneMoment(model, view.at(one), still, ahead[one], across_px[k], down_px[k]))
            out[name] = PostureFigure(
                name, value, float(np.hypot(spread, OWN_SD[name])), *MEANINGS[name], t_s=float(body.t_s[k]), lines=lines
            )  # fmt: skip
    return out


def posture_joined(own: dict[str, PostureFigure], other: dict[str, PostureFigure]) -> dict[str, PostureFigure]:
    """What two pictures tell of the same player, each figure by how well either tells it. Lines are the first picture's; what only the
    other one tells has none."""
    out = {name: replace(figure, t_s=float("nan"), lines=()) for name, figure in other.items()} | own
    for name in own.keys() & other.keys():
        weight = np.array([f.sd**-2.0 for f in (own[name], other[name])])
        value = float(weight @ [own[name].value, other[name].value] / weight.sum())
        out[name] = replace(own[name], value=value, sd=float(weight.sum() ** -0.5))
    return out


def _facing(person: Build, view: View, body: BodySeen, side: str, shoulder: Array) -> tuple[Array, Array]:
    """To the bow's side and straight ahead of the player, unit vectors (m, 3) in camera space."""
    ray = np.column_stack([(body.points[:, ARMS[other(side)][0]] - np.asarray(view.center)) / view.focal, np.ones(len(body))])
    ray /= np.linalg.norm(ray, axis=1, keepdims=True)
    along = np.einsum("mi,mi->m", ray, shoulder)
    gap = (JOINTS_APART * person.stature) ** 2 - (np.einsum("mi,mi->m", shoulder, shoulder) - along**2)
    root = np.sqrt(np.maximum(gap, 0.0))
    usual = view.rotation @ person.ahead
    best: tuple[Array, Array] | None = None
    for sign in (-1.0, 1.0):
        across = shoulder - ray * (along + sign * root)[:, None]
        across -= np.einsum("mi,mi->m", across, view.down)[:, None] * view.down
        across /= np.maximum(np.linalg.norm(across, axis=1, keepdims=True), 1e-9)
        ahead = np.cross(across, view.down)
        if best is None:
            best = across, ahead
        else:
            nearer = (np.einsum("mi,mi->m", ahead, usual) > np.einsum("mi,mi->m", best[1], usual))[:, None]
            best = np.where(nearer, across, best[0]), np.where(nearer, ahead, best[1])
    assert best is not None
    return best


def _nose(person: Build, view: View, body: BodySeen, shoulder: Array, right: Array, ahead: Array) -> Array:
    """Where the nose points, (m,) degrees left of straight ahead: by how far it lies off the middle of the ears."""
    ears = 0.5 * (body.points[:, EAR_LEFT] + body.points[:, EAR_RIGHT])
    half_px = HEAD_HALF_BREADTH * person.stature * view.focal / shoulder[:, 2]
    off = (body.points[:, NOSE] - ears)[:, 0] / half_px
    # in the picture to the right = to the camera's right; the camera looks along z
    own = np.degrees(np.arcsin(np.clip(off / 1.3, -1, 1)))
    towards = np.column_stack([np.sin(np.radians(own)), np.zeros(len(own)), -np.cos(np.radians(own))])
    return np.asarray(np.degrees(np.arctan2(-np.einsum("mi,mi->m", towards, right), np.einsum("mi,mi->m", towards, ahead))))
