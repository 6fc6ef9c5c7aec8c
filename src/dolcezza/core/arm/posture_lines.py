"""What each figure of the posture was told from, as lines in the picture: the thing itself, and what it is measured against."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from dolcezza.core.arm.chain import View
from dolcezza.core.base.arrays import Array
from dolcezza.core.body.points import ARMS, EAR_LEFT, EAR_RIGHT, HIPS, KNEES, NOSE, BodySeen, middle
from dolcezza.core.instrument.model import InstrumentModel

Line = tuple[tuple[float, float], tuple[float, float]]

CLOCK_HAND, TOP_HAND = 0.8, 0.5
"""Length of the hands drawn for the direction of the instrument and of its top (share of the string length)."""


@dataclass(frozen=True)
class OneMoment:
    """A posture at one moment: ``view`` and ``body`` with one row, ``ahead`` (1, 3) of the player, ``across_px`` (2,) to the right of
    the trunk and ``down_px`` (2,) along it in the picture."""

    model: InstrumentModel
    view: View
    body: BodySeen
    ahead: Array
    across_px: Array
    down_px: Array

    def point(self, k: int) -> Array:
        """A body point (2,) px."""
        return np.asarray(self.body.points[0, k])

    def seen(self, camera_mm: Array) -> Array:
        """A place in camera space (3,) mm, (2,) px."""
        return np.asarray(self.view.see(camera_mm[None])[0])


def posture_lines(name: str, at: OneMoment) -> tuple[Line, ...]:
    """The thing measured, then what it is measured against, in px of the picture that was measured."""
    lines = _LINES[name](at)
    return tuple(((float(a[0]), float(a[1])), (float(b[0]), float(b[1]))) for a, b in lines)


def _level(at: OneMoment, direction: Array) -> Array:
    """A direction (3,) laid on the floor, unit length."""
    down = at.view.down[0]
    flat = direction - (direction @ down) * down
    return np.asarray(flat / max(float(np.linalg.norm(flat)), 1e-9))


def _neck(at: OneMoment) -> list[tuple[Array, Array]]:
    bridge = at.view.place(np.zeros(3))[0]
    nut = at.view.place(np.array([at.model.spec.string_length, 0.0, 0.0]))[0]
    floor = bridge + np.linalg.norm(nut - bridge) * _level(at, nut - bridge)
    return [(at.seen(bridge), at.seen(nut)), (at.seen(bridge), at.seen(floor))]


def _top(at: OneMoment) -> list[tuple[Array, Array]]:
    length = TOP_HAND * at.model.spec.string_length
    bridge = at.view.place(np.zeros(3))[0]
    out, up = at.view.rotation[0][:, 2], -at.view.down[0]
    return [(at.seen(bridge), at.seen(bridge + length * out)), (at.seen(bridge), at.seen(bridge + length * up))]


def _clock(at: OneMoment) -> list[tuple[Array, Array]]:
    length = CLOCK_HAND * at.model.spec.string_length
    bridge = at.view.place(np.zeros(3))[0]
    own = _level(at, at.view.rotation[0][:, 0])
    return [(at.seen(bridge), at.seen(bridge + length * own)), (at.seen(bridge), at.seen(bridge + length * at.ahead[0]))]


def _head(at: OneMoment) -> list[tuple[Array, Array]]:
    left, right = at.point(EAR_LEFT), at.point(EAR_RIGHT)
    half = 0.75 * max(float(np.linalg.norm(right - left)), 1.0) * at.across_px
    mid = 0.5 * (left + right)
    return [(left, right), (mid - half, mid + half)]


def _nose(at: OneMoment) -> list[tuple[Array, Array]]:
    nose, ears = at.point(NOSE), 0.5 * (at.point(EAR_LEFT) + at.point(EAR_RIGHT))
    scroll = at.view.see(at.view.place(at.model.landmarks["scroll"]))[0]
    return [(ears, nose + 1.5 * (nose - ears)), (nose, scroll)]


def _endpin(at: OneMoment) -> list[tuple[Array, Array]]:
    hips = middle(at.body, HIPS)[0]
    shoulders = 0.5 * (at.point(ARMS["right"][0]) + at.point(ARMS["left"][0]))
    button = at.view.see(at.view.place(at.model.landmarks["end_button"]))[0]
    line = (hips - shoulders) / max(float(np.linalg.norm(hips - shoulders)), 1.0)
    foot = shoulders + ((button - shoulders) @ line) * line
    return [(button, foot), (shoulders, foot if (foot - hips) @ line > 0 else hips)]


def _knees(at: OneMoment) -> list[tuple[Array, Array]]:
    hips, knees = middle(at.body, HIPS)[0], 0.5 * (at.point(KNEES[0]) + at.point(KNEES[1]))
    half = 0.6 * float(np.linalg.norm(at.point(HIPS["right"]) - at.point(HIPS["left"]))) * at.across_px
    return [(at.point(KNEES[0]), at.point(KNEES[1])), (hips - half, hips + half), (hips, hips + ((knees - hips) @ at.down_px) * at.down_px)]


_LINES: dict[str, Callable[[OneMoment], list[tuple[Array, Array]]]] = {
    "neck_deg": _neck, "top_deg": _top, "clock": _clock, "head_tilt_deg": _head, "nose_to_scroll_deg": _nose,
    "endpin_offset": _endpin, "knee_over_hip": _knees,
}  # fmt: skip
