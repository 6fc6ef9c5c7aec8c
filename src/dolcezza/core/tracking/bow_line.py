"""One line in a picture, below a pixel: where the bright ridge near a place lies, how bow-like it is, and what is seen along it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.tracking.bow_space import SearchSpace, bow_like
from dolcezza.core.tracking.profiles import centres, dark_line, inside, plain_line, sample, straight

STRIP_STEP_PX = 2.0
"""Distance of neighbouring samples of a strip, at a picture 1280 px wide."""
STICK_REACH_MM = 22.0
"""How high above the hair the stick is at most (at frog and head), mm, from memory."""
STICK_SAMPLES = 9
STICK_MM, STICK_RADIUS_MM = 15.0, 3.5
"""The stick lies so high above the hair, seen over its whole length, and half of it is so thick, from memory."""
TILTS_DEG = (-10.0, 0.0, 25.0)
"""A bow is turned about its stick by so much, + = the stick towards the fingerboard."""
SET_SD = (0.6, 0.002)
"""sd of a line that was set by hand: offset (px), direction (rad)."""
RIDGE_FLOOR = 5.0
"""Contrast (grey levels) from which a ridge counts."""


@dataclass(frozen=True)
class Candidate:
    """One line. ``point`` (2,) where it crosses the middle of the strings, ``direction`` (2,) unit, frog to head;
    ``score`` how much ridge supports it; ``fit_sd`` (2,) sd of its offset at ``point`` (px) and of its direction (rad);
    ``edges`` (2, 2): shift (px, along the normal (-dy, dx)) and slope of the ridge's two flanks against the line, the one
    on the negative side of the normal first. Along it, at ``strip_start + k * step`` px from ``point``: ``strip`` (m,) ridge
    contrast; ``stick`` (m,) how much darker than its surroundings the darkest thing on the stick's side is; ``room`` (m,) how
    much brighter than its surroundings hair could be there, 0 before a wall as bright as hair. ``beside``: how plain (grey levels) the
    plainest line is, dark or bright, that goes with the ridge on the stick's side and on the other, NaN where the view leaves open which
    side that is; ``close``: how dark the darkest line is close to the ridge, no farther than a stick that covers a part of the hair, on the
    negative side of the normal and on the other.
    """

    point: Array
    direction: Array
    score: float
    fit_sd: Array
    edges: Array
    strip: Array
    stick: Array
    room: Array
    strip_start: float
    step: float
    beside: tuple[float, float] = (float("nan"), float("nan"))
    close: tuple[float, float] = (float("nan"), float("nan"))


@dataclass(frozen=True)
class Ridge:
    """A bright ridge whose place is settled: ``point`` (2,) where it crosses the middle of the strings, ``direction`` (2,) unit, frog to
    head, ``fit_sd`` (2,) sd of its offset there (px) and of its direction (rad); ``score`` how bow-like it is. At ``along`` (m,) px from
    ``point``: grey levels of the ``core`` (m,) and of the brighter ``flank`` (m,)."""

    point: Array
    direction: Array
    fit_sd: Array
    score: float
    along: Array
    core: Array
    flank: Array


class LineReader:
    """Reads lines in grey pictures (h, w) uint8 of one ``shape``."""

    def __init__(self, shape: tuple[int, int]) -> None:
        self.shape, self._scale_px = shape, max(shape) / 1280.0

    @property
    def step(self) -> float:
        """Distance (px) of neighbouring samples along a line."""
        return STRIP_STEP_PX * self._scale_px

    def refined(self, grey: Array, space: SearchSpace, point: Array, angle: float, *, near: bool = False) -> Ridge | None:
        """The ridge near the line through ``point`` (2,) px at ``angle`` (rad); None if there is none. ``near``: no farther off than a bow
        moves from one frame to the next."""
        direction = np.array([np.cos(angle), np.sin(angle)])
        reach = self.reach(space)
        side = _side(space)
        sd = np.array([1.0, 0.01])
        for half, fine in ((2.2 * side, 1.0), (1.2 * side, 0.5)) if near else ((3.0 * side, 1.0), (1.6 * side, 0.5), (1.2 * side, 0.5)):
            along = inside(point, direction, reach, self.step * 4, self.shape)
            if len(along) < 20:
                return None
            normal = np.array([-direction[1], direction[0]])
            offsets = np.arange(-half - side, half + side + 0.01, fine)
            lag = max(1, round(side / fine))
            profile = sample(grey, point, direction, along, offsets)
            ridge = profile[:, lag:-lag] - np.maximum(profile[:, : -2 * lag], profile[:, 2 * lag :])
            inner = offsets[lag:-lag]
            at = np.argmax(ridge, axis=1)
            peak = ridge[np.arange(len(along)), at]
            good = peak > RIDGE_FLOOR
            if good.sum() < 12:
                return None
            # centre of the bright run: mean of the flanks at half height
            centre = centres(profile, inner, at, lag)
            fit, weights = straight(
                along[good], centre[good], np.minimum(peak[good], 40.0), space.hair_px, rounds=6 if half > 2.5 * side else 4
            )
            used = float(weights.sum())
            if used < 6:
                return None
            shift, slope = fit
            direction = direction + slope * normal
            direction /= np.hypot(*direction)
            point = crossing(point + shift * normal, direction, space)
            spread = along[good]
            noise = max(0.15, float(np.sqrt((weights * (centre[good] - shift - slope * spread) ** 2).sum() / used)))
            mean = (weights * spread).sum() / used
            var = (weights * (spread - mean) ** 2).sum() / used
            sd = np.array([noise * np.sqrt((1 + mean**2 / var) / used), noise / np.sqrt(used * var)])
        return self.ridge(grey, space, point, direction, sd)

    def ridge(self, grey: Array, space: SearchSpace, point: Array, direction: Array, sd: Array) -> Ridge | None:
        """The ridge along a line whose place is settled; None off the picture."""
        side = _side(space)
        # where a flank lies outside the picture nobody sees whether there is a ridge
        along = inside(point, direction, self.reach(space), self.step, self.shape, half=side + 0.5)
        if len(along) < 20:
            return None
        rows = sample(grey, point, direction, along, np.array([-side - 0.5, -side, -0.5, 0.0, 0.5, side, side + 0.5]))
        core, flank = rows[:, 2:5].mean(axis=1), np.maximum(rows[:, :2].mean(axis=1), rows[:, 5:].mean(axis=1))
        score = bow_like(np.clip(core - flank - RIDGE_FLOOR, 0, 30), along, space.longest_px) * STRIP_STEP_PX
        return Ridge(point, direction, sd, score, along, core, flank)

    def described(self, grey: Array, space: SearchSpace, line: Ridge) -> Candidate:
        """Flanks and strips along a ridge."""
        side = _side(space)
        edges, close = self._flanks(grey, space, line.point, line.direction)
        strip = line.core - line.flank
        stick, beyond = self._stick(grey, space, line, side)
        strong = strip > 0.5 * np.percentile(strip, 90)
        level = float(np.percentile(line.core[strong], 75)) if strong.any() else 255.0
        room = np.maximum(level - np.maximum(line.flank, np.minimum(beyond, level)), 0.0)
        return Candidate(
            line.point, line.direction, line.score, line.fit_sd, edges, strip.astype(np.float16), stick.astype(np.float16),
            room.astype(np.float16), float(line.along[0]), self.step,
            self._beside(grey, space, line, line.along[strip > RIDGE_FLOOR], side), close,
        )  # fmt: skip

    def reach(self, space: SearchSpace) -> float:
        """How far (px) to either side of the strings a line is read."""
        return 1.15 * float(np.hypot(space.box[2] - space.box[0], space.box[3] - space.box[1]))

    def _beside(self, grey: Array, space: SearchSpace, line: Ridge, along: Array, side: float) -> tuple[float, float]:
        """How plain the plainest line is that goes with a ridge on the stick's side of it, and on the other (grey levels)."""
        normal = np.array([-line.direction[1], line.direction[0]])
        rise, slant = float(space.stick_px @ normal), float(space.tilt_px @ normal)
        turned = np.radians(TILTS_DEG)
        seen = STICK_MM * (rise * np.cos(turned) + slant * np.sin(turned)) * np.sign(rise)
        if len(along) < 20 or seen.min() < STICK_RADIUS_MM * float(np.hypot(rise, slant)):
            return float("nan"), float("nan")
        steps = np.linspace(side + 0.5, STICK_REACH_MM * abs(rise) + 3.0, STICK_SAMPLES)
        own, other = (sample(grey, line.point, line.direction, along, sign * steps) for sign in (np.sign(rise), -np.sign(rise)))
        return plain_line(own), plain_line(other)

    def _stick(self, grey: Array, space: SearchSpace, line: Ridge, side: float) -> tuple[Array, Array]:
        """Contrast of the darkest thing in the band where the stick runs (m,), and the brightness beyond the band (m,)."""
        normal = np.array([-line.direction[1], line.direction[0]])
        rise = float(space.stick_px @ normal)
        far = STICK_REACH_MM * abs(rise)
        if far < side + 2.0:
            return np.zeros(len(line.along)), np.zeros(len(line.along))
        steps = np.linspace(side + 0.5, far + 3.0, STICK_SAMPLES)
        band = sample(grey, line.point, line.direction, line.along, np.sign(rise) * steps)
        opposite = sample(grey, line.point, line.direction, line.along, np.array([-np.sign(rise) * (side + 2.0)]))[:, 0]
        return np.minimum(band[:, -1], opposite) - band.min(axis=1), band[:, -1]

    def _flanks(self, grey: Array, space: SearchSpace, point: Array, direction: Array) -> tuple[Array, tuple[float, float]]:
        """Straight lines through the two flanks of the ridge, where it has fallen to half: (2, 2) shift and slope; and how dark the darkest
        line is on either side."""
        along = inside(point, direction, self.reach(space), self.step * 5, self.shape)
        far = 0.5 * space.hair_px + 3.0
        walk = np.arange(0.0, far + 0.26, 0.5)
        out = np.full((2, 2), np.nan)
        both = [sample(grey, point, direction, along, sign * walk) for sign in (-1.0, 1.0)]
        for k, (sign, values) in enumerate(zip((-1.0, 1.0), both, strict=True)):
            peak, ground = values[:, :3].max(axis=1), values[:, -1]
            lift = peak - ground
            half = (ground + 0.5 * lift)[:, None]
            below = values < half
            at = np.where(below.any(axis=1), below.argmax(axis=1), 0)
            good = (lift > 3 * RIDGE_FLOOR) & (at > 0)
            if good.sum() < 12:
                continue
            rows, at = np.flatnonzero(good), at[good]
            high, low = values[rows, at - 1], values[rows, at]
            where = sign * (walk[at - 1] + 0.5 * np.clip((high - half[good, 0]) / np.maximum(high - low, 1e-6), 0, 1))
            out[k], _ = straight(along[good], where, np.minimum(lift[good], 40.0), space.hair_px, rounds=4)
        ridge = both[0][:, 0] - np.minimum(both[0], both[1]).min(axis=1) > RIDGE_FLOOR
        if ridge.sum() < 12:
            return out, (float("nan"), float("nan"))
        beyond = np.minimum(both[0][:, -1], both[1][:, -1])[:, None]
        dark = [dark_line((beyond - values)[ridge]) for values in both]
        return out, (dark[0], dark[1])


def _side(space: SearchSpace) -> float:
    """Half the width (px) of the ridge and what lies just beyond."""
    return max(2.0, 0.45 * space.hair_px + 1.0)


def crossing(point: Array, direction: Array, space: SearchSpace) -> Array:
    """Where a line crosses the middle of the strings (2,) px."""
    span = space.stop - space.start
    off = point - space.start
    cross = span[0] * direction[1] - span[1] * direction[0]
    if abs(cross) < 1e-6 * float(np.hypot(*span)):
        return point
    return np.asarray(space.start + (off[0] * direction[1] - off[1] * direction[0]) / cross * span)
