"""Candidates for the bow in one frame: bright thin lines that cross the strings, with where each one ends.

The hair is a bright ridge between darker sides. Ridge pixels vote for lines in the two numbers that matter, where
the line crosses the strings and its direction (a Hough transform restricted to what a bow can do); the best few are
refined below a pixel on profiles across the line in the full picture, and the ridge along each is kept as a strip
from which its ends are found later, over the whole take.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.lens import Camera
from dolcezza.core.instrument.model import REQUIRED_LANDMARKS, InstrumentModel
from dolcezza.core.tracking.bow_space import SearchSpace, bow_like, search_space
from dolcezza.core.tracking.profiles import centres, dark_line, inside, plain_line, sample, straight

CANDIDATES = 4
STRIP_STEP_PX = 2.0
"""Distance of neighbouring samples of a strip, at a picture 1280 px wide."""
ANGLE_STEP_DEG = 0.5
SEARCH_EVERY = 20
STILL_THERE = 0.8
"""Share of the usual score at which the line found near the last one is taken without a search."""
WEAK_SHARE, WEAK_EVERY = 0.4, 3
"""A line with less than this share of the best score so far is something else while the bow is away: the bow is looked for so often."""
STICK_REACH_MM = 22.0
"""How high above the hair the stick is at most (at frog and head), mm, from memory."""
STICK_SAMPLES = 9
STICK_MM, STICK_RADIUS_MM = 15.0, 3.5
"""The stick lies so high above the hair, seen over its whole length, and half of it is so thick, from memory."""
HAIR_APART_MM = (6.0, 11.0, 17.0)
"""Hair is looked for so far from the stick, or from the middle of the gap between them."""
TILTS_DEG = (-10.0, 0.0, 25.0)
"""A bow is turned about its stick by so much, + = the stick towards the fingerboard."""
RIVAL_SHARE = 0.4
"""A line with less than this share of the best line's votes is not worth refining."""
SET_SD = (0.6, 0.002)
"""sd of a line that was set by hand: offset (px), direction (rad)."""
BAND_WIDTHS = 2.5
"""A whole bow, stick and hair beside each other, is about so many times as wide as its hair."""
EDGE_REACH_PX = 6.0
"""An edge is looked for so far to either side of where it is thought (px at 1280)."""
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


class BowFinder:
    """Finds candidates frame by frame; keeps its buffers between frames. ``dark``: lines darker than their sides are looked for, not
    brighter ones; they are ``widths`` times as wide as hair."""

    def __init__(self, model: InstrumentModel, shape: tuple[int, int], *, dark: bool = False, widths: float = 1.0) -> None:
        self.model, self.shape, self._dark, self._widths = model, shape, dark, widths
        self._negative = np.empty(shape, np.uint8) if dark else None
        self._scale_px = max(shape) / 1280.0
        self._last: Candidate | None = None
        self._space_of: tuple[Array, SearchSpace] | None = None
        self._usual = self._best = 0.0
        self._since = 0

    def find(self, grey: Array, camera: Camera) -> list[Candidate]:
        """The best lines of one grey picture (h, w) uint8 for the instrument at ``camera``, best first.

        Call it frame after frame: a bow that is where it was a moment ago is found there at once; the whole picture is
        searched when it is not, and every ``SEARCH_EVERY`` frames in any case.
        """
        space = self._space(camera)
        if self._dark:
            grey = cv2.bitwise_not(grey, self._negative)
        self._since += 1
        if self._last is not None and self._since < SEARCH_EVERY:
            angle = float(np.arctan2(self._last.direction[1], self._last.direction[0]))
            again = self._refine(grey, space, self._last.point, angle, near=True)
            weak = again is not None and again.score < WEAK_SHARE * self._best
            if again is not None and again.score > STILL_THERE * self._usual and not (weak and self._since >= WEAK_EVERY):
                return self._keep([again])
        self._since = 0
        return self._keep(self._search(grey, space))

    def near(self, grey: Array, camera: Camera, like: Candidate) -> Candidate | None:
        """The bow in this picture if it is close to where ``like`` is; None if nothing is there."""
        return self._refine(grey, self._space(camera), like.point, float(np.arctan2(like.direction[1], like.direction[0])), near=True)

    def away_from_stick(self, grey: Array, camera: Camera, like: Candidate, *, other_side: bool = False) -> Candidate | None:
        """The line beside ``like`` on the side away from the stick, where hair lies if ``like`` is the stick, or the gap between the two;
        on its ``other_side``, where the stick lies if ``like`` is the hair; None if nothing is there."""
        space = self._space(camera)
        if self._dark:
            grey = cv2.bitwise_not(grey, self._negative)
        normal = np.array([-like.direction[1], like.direction[0]])
        rise = float(space.stick_px @ normal) * (-1.0 if other_side else 1.0)
        angle = float(np.arctan2(like.direction[1], like.direction[0]))
        found = []
        for apart in HAIR_APART_MM:
            start = like.point - apart * rise * normal
            hair = self._refine(grey, space, start, angle, near=True)
            off = -float((hair.point - like.point) @ normal) * np.sign(rise) if hair is not None else 0.0
            if hair is not None and 0.25 * space.hair_px < off < STICK_REACH_MM * abs(rise) + 3.0:
                found.append(hair)
        return max(found, key=lambda c: c.score, default=None)

    def along(self, grey: Array, camera: Camera, frog: Array, head: Array) -> Candidate | None:
        """The line from ``frog`` to ``head`` (2,) px as it was set by hand: nothing is searched for; None off the picture."""
        space = self._space(camera)
        direction = (head - frog) / max(float(np.hypot(*(head - frog))), 1e-9)
        return self._described(grey, space, _cross(np.asarray(frog, float), direction, space), direction, np.array(SET_SD))

    def levels(self, grey: Array, line: Candidate, across_px: float) -> tuple[Array, Array]:
        """Grey levels (m,) along a ``line``'s strip, and of what lies ``across_px`` beside it (+ along its normal)."""
        along = line.strip_start + line.step * np.arange(len(line.strip))
        rows = sample(grey, line.point, line.direction, along, np.array([-0.5, 0.0, 0.5, across_px, across_px + np.sign(across_px)]))
        return rows[:, :3].mean(axis=1), rows[:, 3:].mean(axis=1)

    def edge(self, grey: Array, camera: Camera, line: Candidate, at_px: float) -> tuple[float, float]:
        """Shift (px along the normal) and slope of the straight edge near ``at_px`` beside a ``line``, beyond which it is brighter; NaN if
        there is none."""
        space, sign = self._space(camera), float(np.sign(at_px))
        reach = 1.15 * float(np.hypot(space.box[2] - space.box[0], space.box[3] - space.box[1]))
        along = inside(line.point, line.direction, reach, 2.5 * STRIP_STEP_PX * self._scale_px, self.shape)
        walk = np.arange(-EDGE_REACH_PX, EDGE_REACH_PX + 0.1, 0.5) * self._scale_px
        rows = sample(grey, line.point, line.direction, along, at_px + sign * walk)
        rise = rows[:, 4:] - rows[:, :-4]
        at = rise.argmax(axis=1)
        height = rise[np.arange(len(along)), at]
        good = height > 2 * RIDGE_FLOOR
        if good.sum() < 12:
            return float("nan"), float("nan")
        where = at_px + sign * walk[2:-2][at[good]]
        (shift, slope), _ = straight(along[good], where, np.minimum(height[good], 40.0), space.hair_px, rounds=6)
        return float(shift), float(slope)

    def stick_px(self, camera: Camera) -> Array:
        """(2,) px by which the stick lies beside the hair, per mm of its height above it."""
        return self._space(camera).stick_px

    def _space(self, camera: Camera) -> SearchSpace:
        """The search space, worked out anew when the instrument has moved by a pixel."""
        marks = camera.project(np.array([self.model.landmarks[n] for n in REQUIRED_LANDMARKS]))
        if self._space_of is None or np.abs(marks - self._space_of[0]).max() > 1.0:
            space = search_space(self.model, camera, self.shape)
            self._space_of = (marks, replace(space, hair_px=self._widths * space.hair_px))
        return self._space_of[1]

    def _keep(self, found: list[Candidate]) -> list[Candidate]:
        self._last = found[0] if found else None
        if found:
            self._best = max(self._best, found[0].score)
            self._usual = 0.9 * self._usual + 0.1 * found[0].score if self._usual else found[0].score
        return found

    def _search(self, grey: Array, space: SearchSpace) -> list[Candidate]:
        """Look through the whole box of the search space."""
        shrink = float(np.clip(2.2 / max(space.hair_px * 0.5, 1.0), 0.15, 1.0)) if space.hair_px > 4 else 1.0
        x0, y0, x1, y1 = space.box
        if x1 - x0 < 60 or y1 - y0 < 40:
            return []
        small = cv2.resize(grey[y0:y1, x0:x1], None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA)
        lines = self._vote(small, space, np.array([x0, y0], float), shrink)
        out = [c for point, angle in lines if (c := self._refine(grey, space, point, angle)) is not None]
        out.sort(key=lambda c: -c.score)
        return _distinct(out)[:CANDIDATES]

    def _vote(self, small: Array, space: SearchSpace, origin: Array, shrink: float) -> list[tuple[Array, float]]:
        smooth = cv2.GaussianBlur(small, (0, 0), 1.1).astype(np.float32)
        dxx = cv2.Sobel(smooth, cv2.CV_32F, 2, 0, ksize=3)
        dyy = cv2.Sobel(smooth, cv2.CV_32F, 0, 2, ksize=3)
        dxy = cv2.Sobel(smooth, cv2.CV_32F, 1, 1, ksize=3)
        trace, diff = dxx + dyy, dxx - dyy
        root = cv2.magnitude(diff, 2 * dxy)
        strength = 0.5 * (root - trace)  # minus the smaller eigenvalue: large on bright ridges
        rows, cols = np.nonzero((strength > 16.0) & (strength > 1.5 * np.abs(strength - root)))
        if len(rows) < 30:
            return []
        s = np.minimum(strength[rows, cols], 80.0)
        # along the ridge points the eigenvector of the larger eigenvalue
        along = 0.5 * np.arctan2(2 * dxy[rows, cols], diff[rows, cols])
        low, high = space.angles
        step = np.radians(ANGLE_STEP_DEG)
        n_angle = int(np.ceil((high - low) / step)) + 1
        mid = 0.5 * (low + high)
        turn = (along - mid + np.pi / 2) % np.pi - np.pi / 2
        bin_of = (turn + mid - low) / step
        ok = (bin_of > -8) & (bin_of < n_angle + 8)
        rows, cols, s, bin_of = rows[ok], cols[ok], s[ok], bin_of[ok]
        if len(rows) > 9000:
            keep = np.argpartition(-s, 9000)[:9000]
            rows, cols, s, bin_of = rows[keep], cols[keep], s[keep], bin_of[keep]
        begin = (space.start - origin) * shrink
        span = (space.stop - space.start) * shrink
        length = float(np.hypot(*span))
        n_cross = max(8, int(np.ceil(length / 1.0)) + 1)
        px, py = cols + 0.5 - begin[0], rows + 0.5 - begin[1]
        votes = np.zeros(n_angle * n_cross, np.float32)
        base = np.round(bin_of).astype(int)
        for d in range(-9, 10):
            b = base + d
            angle = low + b * step
            ca, sa = np.cos(angle), np.sin(angle)
            cross = span[0] * sa - span[1] * ca
            share = (px * sa - py * ca) / np.where(np.abs(cross) < 1e-3 * length, np.nan, cross)
            cell = share * (n_cross - 1)
            near = (b >= 0) & (b < n_angle) & (cell > -0.5) & (cell < n_cross - 0.5)
            weight = s * np.float32(np.exp(-0.5 * (d / 5.0) ** 2))
            votes += np.bincount(b[near] * n_cross + np.round(cell[near]).astype(int), weight[near], minlength=n_angle * n_cross).astype(
                np.float32
            )
        field = cv2.GaussianBlur(votes.reshape(n_angle, n_cross), (0, 0), sigmaX=1.2, sigmaY=1.2)
        found: list[tuple[Array, float]] = []
        most = float(field.max())
        for _ in range(CANDIDATES + 2):
            i, j = np.unravel_index(int(np.argmax(field)), field.shape)
            if field[i, j] <= 0 or field[i, j] < RIVAL_SHARE * most:
                break
            found.append((space.start + (space.stop - space.start) * (j / (n_cross - 1)), float(low + i * step)))
            field[max(0, i - 5) : i + 6, max(0, j - 4) : j + 5] = 0
        return found

    def _refine(self, grey: Array, space: SearchSpace, point: Array, angle: float, *, near: bool = False) -> Candidate | None:
        step = STRIP_STEP_PX * self._scale_px
        direction = np.array([np.cos(angle), np.sin(angle)])
        reach = 1.15 * float(np.hypot(space.box[2] - space.box[0], space.box[3] - space.box[1]))
        side = max(2.0, 0.45 * space.hair_px + 1.0)
        sd = np.array([1.0, 0.01])
        for half, fine in ((2.2 * side, 1.0), (1.2 * side, 0.5)) if near else ((3.0 * side, 1.0), (1.6 * side, 0.5), (1.2 * side, 0.5)):
            along = inside(point, direction, reach, step * 4, self.shape)
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
            point = _cross(point + shift * normal, direction, space)
            spread = along[good]
            noise = max(0.15, float(np.sqrt((weights * (centre[good] - shift - slope * spread) ** 2).sum() / used)))
            mean = (weights * spread).sum() / used
            var = (weights * (spread - mean) ** 2).sum() / used
            sd = np.array([noise * np.sqrt((1 + mean**2 / var) / used), noise / np.sqrt(used * var)])
        return self._described(grey, space, point, direction, sd)

    def _described(self, grey: Array, space: SearchSpace, point: Array, direction: Array, sd: Array) -> Candidate | None:
        """Flanks and strips along a line whose place is settled."""
        step = STRIP_STEP_PX * self._scale_px
        reach = 1.15 * float(np.hypot(space.box[2] - space.box[0], space.box[3] - space.box[1]))
        side = max(2.0, 0.45 * space.hair_px + 1.0)
        edges, close = self._flanks(grey, space, point, direction, reach, step * 5)
        # where a flank lies outside the picture nobody sees whether there is a ridge
        along = inside(point, direction, reach, step, self.shape, half=side + 0.5)
        if len(along) < 20:
            return None
        across = np.array([-side - 0.5, -side, -0.5, 0.0, 0.5, side, side + 0.5])
        rows = sample(grey, point, direction, along, across)
        core = rows[:, 2:5].mean(axis=1)
        strip = core - np.maximum(rows[:, :2].mean(axis=1), rows[:, 5:].mean(axis=1))
        score = bow_like(np.clip(strip - RIDGE_FLOOR, 0, 30), along, space.longest_px) * step / self._scale_px
        stick, beyond = self._stick(grey, space, point, direction, along, side)
        strong = strip > 0.5 * np.percentile(strip, 90)
        level = float(np.percentile(core[strong], 75)) if strong.any() else 255.0
        flank = np.maximum(rows[:, :2].mean(axis=1), rows[:, 5:].mean(axis=1))
        room = np.maximum(level - np.maximum(flank, np.minimum(beyond, level)), 0.0)
        return Candidate(
            point, direction, score, sd, edges, strip.astype(np.float16), stick.astype(np.float16), room.astype(np.float16),
            float(along[0]), step, self._beside(grey, space, point, direction, along[strip > RIDGE_FLOOR], side), close,
        )  # fmt: skip

    def _beside(
        self, grey: Array, space: SearchSpace, point: Array, direction: Array, along: Array, side: float
    ) -> tuple[float, float]:  # fmt: skip
        """How plain the plainest line is that goes with a ridge on the stick's side of it, and on the other (grey levels)."""
        normal = np.array([-direction[1], direction[0]])
        rise, slant = float(space.stick_px @ normal), float(space.tilt_px @ normal)
        turned = np.radians(TILTS_DEG)
        seen = STICK_MM * (rise * np.cos(turned) + slant * np.sin(turned)) * np.sign(rise)
        if len(along) < 20 or seen.min() < STICK_RADIUS_MM * float(np.hypot(rise, slant)):
            return float("nan"), float("nan")
        steps = np.linspace(side + 0.5, STICK_REACH_MM * abs(rise) + 3.0, STICK_SAMPLES)
        own, other = (sample(grey, point, direction, along, sign * steps) for sign in (np.sign(rise), -np.sign(rise)))
        return plain_line(own), plain_line(other)

    def _stick(self, grey: Array, space: SearchSpace, point: Array, direction: Array, along: Array, side: float) -> tuple[Array, Array]:
        """Contrast of the darkest thing in the band where the stick runs (m,), and the brightness beyond the band (m,)."""
        normal = np.array([-direction[1], direction[0]])
        rise = float(space.stick_px @ normal)
        far = STICK_REACH_MM * abs(rise)
        if far < side + 2.0:
            return np.zeros(len(along)), np.zeros(len(along))
        steps = np.linspace(side + 0.5, far + 3.0, STICK_SAMPLES)
        band = sample(grey, point, direction, along, np.sign(rise) * steps)
        opposite = sample(grey, point, direction, along, np.array([-np.sign(rise) * (side + 2.0)]))[:, 0]
        return np.minimum(band[:, -1], opposite) - band.min(axis=1), band[:, -1]

    def _flanks(
        self, grey: Array, space: SearchSpace, point: Array, direction: Array, reach: float, step: float
    ) -> tuple[Array, tuple[float, float]]:  # fmt: skip
        """Straight lines through the two flanks of the ridge, where it has fallen to half: (2, 2) shift and slope; and how dark the darkest
        line is on either side."""
        along = inside(point, direction, reach, step, self.shape)
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


def _cross(point: Array, direction: Array, space: SearchSpace) -> Array:
    span = space.stop - space.start
    off = point - space.start
    cross = span[0] * direction[1] - span[1] * direction[0]
    if abs(cross) < 1e-6 * float(np.hypot(*span)):
        return point
    return np.asarray(space.start + (off[0] * direction[1] - off[1] * direction[0]) / cross * span)


def _distinct(found: list[Candidate]) -> list[Candidate]:
    kept: list[Candidate] = []
    for c in found:
        if all(
            np.hypot(*(c.point - k.point)) > 2.0 or abs(c.direction[0] * k.direction[1] - c.direction[1] * k.direction[0]) > 0.012
            for k in kept
        ):
            kept.append(c)
    return kept
