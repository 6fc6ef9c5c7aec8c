"""What nobody knows of a take before it has been looked at, each with what is expected of it: where the marked instrument really is, the
lens, the lengths of this one instrument and bow, how far outside its edges a hand clicks, and how a player leans the bow.

One vector for the whole take. Landmarks, strings and bows all say something of it; what they leave open is in the ± of every figure.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.lens import Camera, LensPrior
from dolcezza.core.camera.pose import CLICK_SD_PX, ClickSd, click_of, maker_sd_mm
from dolcezza.core.camera.poses import Poses
from dolcezza.core.camera.seen import SeenLine, SeenPoint, SeenString
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.instrument.model import LANDMARK_NAMES, InstrumentModel

LENGTH_SD = {
    "string_length": 0.012, "bridge_to_fingerboard": 0.035, "spread_bridge": 0.023, "spread_nut": 0.023, "bridge_radius": 0.06,
    "hair_length": 0.015, "body_scale": 0.018,
}  # fmt: skip
"""How much instruments and bows of one size differ from the table (one sd, share), from memory."""
RULER_SD = 0.004
"""A length that the teacher has measured is known so well (share)."""
HAND_PX, HAND_SD_PX = 0.5, 0.7
"""People click the visible edge from outside: so far (px at 1280), and how much hands differ."""
RADIAL_SD = 0.04
"""First distortion coefficient of phone lenses after the phone's own correction, one sd, from memory."""
CENTRE_SD = 0.008
"""How far from the middle of the picture the lens's axis lies, share of the longer side, one sd, from memory."""
LEAN_SD_DEG = 1.2
"""How far a player's bow leans off the plane of a string, the same all through a take on that string (one sd, deg)."""

TURN, MOVE, FOCAL = slice(0, 3), slice(3, 6), 6
LENGTHS = slice(7, 7 + len(LENGTH_SD))
HAND, RADIAL, CENTRE, LEAN = 14, 15, slice(16, 18), slice(18, 22)
COUNT = 22
STEP = np.array([1e-4] * 7 + [1e-3] * 7 + [0.05, 1e-3, 0.5, 0.5] + [0.02] * 4)
"""Steps for numerical derivatives. Turns in rad, moves as tangents and a logarithm, the logarithm of the focal length, shares of the
table's lengths, px, the distortion coefficient, px, deg."""


@dataclass(frozen=True)
class TakeUnknowns:
    """``values`` (22,) as they differ from what was assumed, and their ``covariance`` (22, 22)."""

    values: Array
    covariance: Array

    @property
    def lean_deg(self) -> Array:
        """How far the bow leans off each string's plane, (4,) bass side first, deg."""
        return self.values[LEAN]


def expected(spec: InstrumentSpec, *, scale_px: float, lens: LensPrior, assumed: Camera) -> tuple[Array, Array]:
    """Mean (22,) and sd (22,) before anything is seen, beside what is ``assumed``. Pose: nothing is expected (wide)."""
    mean, sd = np.zeros(COUNT), np.zeros(COUNT)
    mean[FOCAL] = lens.beside(assumed.focal)
    mean[HAND] = HAND_PX * scale_px
    sd[TURN], sd[MOVE], sd[FOCAL] = 1.0, 0.3, lens.log_sd
    own = [spec.source.get(name, "").startswith("measured") for name in LENGTH_SD]
    sd[LENGTHS] = np.where(own, RULER_SD, list(LENGTH_SD.values()))
    sd[HAND], sd[RADIAL], sd[CENTRE], sd[LEAN] = HAND_SD_PX * scale_px, RADIAL_SD, CENTRE_SD * 1280 * scale_px, LEAN_SD_DEG
    return mean, sd


def own_spec(spec: InstrumentSpec, values: Array) -> InstrumentSpec:
    """The instrument with the lengths that ``values`` (22,) give it."""
    lengths: dict[str, Any] = {n: float(getattr(spec, n) * (1 + v)) for n, v in zip(LENGTH_SD, values[LENGTHS], strict=True)}
    return replace(spec, **lengths)


def at(model: InstrumentModel, poses: Poses, values: Array) -> tuple[InstrumentModel, Poses]:
    """Instrument and poses as ``values`` (22,) say."""
    changed = InstrumentModel(own_spec(model.spec, values)) if values[LENGTHS].any() else model
    return changed, poses.changed(values[TURN], values[MOVE], float(values[FOCAL]), values[CENTRE], float(values[RADIAL]))


def _outwards(name: str) -> Array:
    """Direction (3,) in which a hand misses a landmark that is clicked at its visible edge."""
    if name == "end_button":
        return np.array([-1.0, 0, 0])
    if name == "scroll":
        return np.array([1.0, 0, 0])
    return np.array([0, 1.0 if name.endswith("bass") else -1.0, 0])


@dataclass(frozen=True)
class CalibrationFrame:
    """One moment's landmarks (name to px), the pose assumed there, and straight parts and landmarks of the instrument found in its picture;
    ``click_sd_px``: how well its landmarks are known (px at 1280)."""

    points: Mapping[str, tuple[float, float]]
    camera: Camera
    lines: Sequence[SeenLine] = ()
    seen: Sequence[SeenPoint] = ()
    click_sd_px: ClickSd = CLICK_SD_PX


def landmark_residuals(model: InstrumentModel, moments: Sequence[CalibrationFrame], values: Array, *, scale_px: float) -> Array:
    """What landmarks and seen strings miss the instrument by, over what they may, as ``values`` (22,) have it."""
    out = []
    for moment in moments:
        own, poses = at(model, Poses.of([moment.camera]), values)
        names = [n for n in LANDMARK_NAMES if n in moment.points]
        world = np.array([own.landmarks[n] for n in names])
        marks = np.array([own.landmarks[p.name] for p in moment.seen]).reshape(-1, 3)
        places = [world, world + np.array([_outwards(n) for n in names]), marks, *(line.places(own) for line in moment.lines)]
        there, out_there, shown, *lines = np.split(poses.see(np.concatenate(places)[None])[0], np.cumsum([len(p) for p in places[:-1]]))
        way = out_there - there
        size = np.linalg.norm(way, axis=1, keepdims=True)
        clicked = there + values[HAND] * way / np.maximum(size, 1e-6)
        px_mm = moment.camera.focal / float(moment.camera.tvec[2])
        sd = np.hypot(
            scale_px * np.array([click_of(moment.click_sd_px, n) for n in names]),
            px_mm * np.array([maker_sd_mm(n) for n in names]),
        )
        out.append(((clicked - np.array([moment.points[n] for n in names], float)) / sd[:, None]).ravel())
        if moment.seen:
            sd = np.hypot([p.sd_px for p in moment.seen], px_mm * np.array([maker_sd_mm(p.name) for p in moment.seen]))
            out.append(((shown - np.array([p.place for p in moment.seen])) / sd[:, None]).ravel())
        out += [line.weigh(seen - line.points) for line, seen in zip(moment.lines, lines, strict=True)]
    return np.concatenate(out)


def slopes(function: Callable[[Array], Array], values: Array, count: int) -> Array:
    """Derivative (m, count) of ``function`` (values to (m,)) by the first ``count`` values, by central differences."""
    return np.column_stack([(function(values + d) - function(values - d)) / (2 * STEP[k]) for k, d in enumerate(np.diag(STEP)[:count])])


MOST_SD = 2.5
"""A landmark that misses by more counts less (Huber)."""


def landmark_information(
    model: InstrumentModel, moments: Sequence[CalibrationFrame], values: Array, *, scale_px: float
) -> tuple[Array, Array, float]:  # fmt: skip
    """Normal matrix (22, 22), pull (22,) and spread (how much more than expected the landmarks miss, 1 and up) at ``values``."""
    return _information(*_residuals_and_slopes(model, moments, values, scale_px))


def _information(off: Array, slope: Array) -> tuple[Array, Array, float]:
    """Normal matrix, pull and spread of residuals (m,) with their ``slope`` (m, 22)."""
    weight = np.minimum(1.0, MOST_SD / np.maximum(np.abs(off), 1e-9))
    free = max(1.0, len(off) - 7.0)
    spread = max(1.0, float((weight * off**2).sum() / free)) if len(off) > 10 else 1.0
    flat = slope * weight[:, None] / spread
    return flat.T @ slope, -flat.T @ off, spread


CARE_WORTH = 2.0
"""What is expected of a hand's care counts as much as so many numbers that were seen of it."""
CARE_ROUNDS = 3


def as_doubtful_as_told(
    model: InstrumentModel, moments: Sequence[CalibrationFrame], *, scale_px: float, lens: LensPrior
) -> list[CalibrationFrame]:  # fmt: skip
    """The moments with what a hand set in them, and the straight parts seen, as doubtful as they turn out to be: by how much they miss the
    instrument that all together tell, over the numbers that are left to miss by (variance components after Helmert). Never less doubtful
    than they were."""
    moments = list(moments)
    _, sd = expected(model.spec, scale_px=scale_px, lens=lens, assumed=moments[0].camera)
    for _ in range(CARE_ROUNDS):
        told = from_landmarks(model, moments, scale_px=scale_px, lens=lens)
        off, slope = _residuals_and_slopes(model, moments, told.values, scale_px)
        left = 1.0 - np.einsum("ik,kl,il->i", slope, np.linalg.inv(slope.T @ slope + np.diag(sd**-2.0)), slope)
        kind = np.concatenate([_kinds(m) for m in moments])
        hand, lines = (_miss_by(off[kind == k], left[kind == k]) for k in (BY_HAND, STRING))
        if max(hand, lines) < 1.03:
            break
        moments = [
            replace(
                m, click_sd_px={n: hand * click_of(m.click_sd_px, n) for n in m.points},
                lines=[replace(line, sd_px=lines * line.sd_px) if isinstance(line, SeenString) else line for line in m.lines],
            )
            for m in moments
        ]  # fmt: skip
    return moments


BY_HAND, SEEN, STRING, OUTLINE = 0, 1, 2, 3


def _kinds(moment: CalibrationFrame) -> Array:
    """What each of a moment's residuals is of: landmarks that were set, landmarks seen, strings and outline seen."""
    known = sum(n in moment.points for n in LANDMARK_NAMES)
    lines = [np.full(len(line.points), STRING if isinstance(line, SeenString) else OUTLINE) for line in moment.lines]
    return np.concatenate([np.repeat([BY_HAND, SEEN], [2 * known, 2 * len(moment.seen)]), *lines])


def _miss_by(off: Array, left: Array) -> float:
    """By how much more than expected residuals miss, 1 and up; ``left``: what each has left to miss by (0 to 1)."""
    more = (CARE_WORTH + (off**2).sum()) / (CARE_WORTH + np.clip(left, 0.0, 1.0).sum())
    return float(np.sqrt(max(more, 1.0)))


def _residuals_and_slopes(
    model: InstrumentModel, moments: Sequence[CalibrationFrame], values: Array, scale_px: float
) -> tuple[Array, Array]:
    def residuals(v: Array) -> Array:
        return landmark_residuals(model, moments, v, scale_px=scale_px)

    # how a bow leans moves no landmark
    return residuals(values), np.pad(slopes(residuals, values, LEAN.start), ((0, 0), (0, COUNT - LEAN.start)))


SETTLED, BENT = 1e-3, 0.3
"""A step that moves nothing by more of its sd is the last; after one that moves something by more, slopes are taken anew."""


def from_landmarks(
    model: InstrumentModel, moments: Sequence[CalibrationFrame], *, scale_px: float, lens: LensPrior, rounds: int = 4
) -> TakeUnknowns:
    """What landmarks and seen strings alone say of the unknowns."""
    mean, sd = expected(model.spec, scale_px=scale_px, lens=lens, assumed=moments[0].camera)
    values = np.where(np.arange(COUNT) == FOCAL, 0.0, mean)
    covariance = np.diag(sd**2)
    slope: Array | None = None
    for _ in range(rounds):
        if slope is None:
            off, slope = _residuals_and_slopes(model, moments, values, scale_px)
        else:
            off = landmark_residuals(model, moments, values, scale_px=scale_px)
        normal, pull, _ = _information(off, slope)
        covariance = np.linalg.inv(normal + np.diag(sd**-2.0))
        step = covariance @ (pull + (mean - values) / sd**2)
        values = values + step
        moved = float((np.abs(step) / np.sqrt(np.diag(covariance))).max())
        if moved < SETTLED:
            break
        if moved > BENT:
            slope = None
    return TakeUnknowns(values, covariance)
