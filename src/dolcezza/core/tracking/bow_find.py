"""Candidates for the bow in one frame: bright thin lines that cross the strings, with where each one ends.

The hair is a bright ridge between darker sides. Ridge pixels vote for lines in the two numbers that matter, where
the line crosses the strings and its direction (a Hough transform restricted to what a bow can do); the best few are
refined below a pixel on profiles across the line in the full picture, and the ridge along each is kept as a strip
from which its ends are found later, over the whole take.
"""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.lens import Camera
from dolcezza.core.instrument.model import REQUIRED_LANDMARKS, InstrumentModel
from dolcezza.core.tracking.bow_line import RIDGE_FLOOR, SET_SD, STICK_REACH_MM, Candidate, LineReader, Ridge, crossing
from dolcezza.core.tracking.bow_space import SearchSpace, search_space
from dolcezza.core.tracking.profiles import inside, sample, straight

CANDIDATES = 4
ANGLE_STEP_DEG = 0.5
SEARCH_EVERY = 20
STILL_THERE = 0.8
"""Share of the usual score at which the line found near the last one is taken without a search."""
WEAK_SHARE, WEAK_EVERY = 0.4, 3
"""A line with less than this share of the best score so far is something else while the bow is away: the bow is looked for so often."""
HAIR_APART_MM = (6.0, 11.0, 17.0)
"""Hair is looked for so far from the stick, or from the middle of the gap between them."""
RIVAL_SHARE = 0.4
"""A line with less than this share of the best line's votes is not worth refining."""
BAND_WIDTHS = 2.5
"""A whole bow, stick and hair beside each other, is about so many times as wide as its hair."""
EDGE_REACH_PX = 6.0
"""An edge is looked for so far to either side of where it is thought (px at 1280)."""


class BowFinder:
    """Finds candidates frame by frame; keeps its buffers between frames. ``dark``: lines darker than their sides are looked for, not
    brighter ones; they are ``widths`` times as wide as hair."""

    def __init__(self, model: InstrumentModel, shape: tuple[int, int], *, dark: bool = False, widths: float = 1.0) -> None:
        self.model, self.shape, self._dark, self._widths = model, shape, dark, widths
        self._reader = LineReader(shape)
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
            again = self._reader.refined(grey, space, self._last.point, angle, near=True)
            weak = again is not None and again.score < WEAK_SHARE * self._best
            if again is not None and again.score > STILL_THERE * self._usual and not (weak and self._since >= WEAK_EVERY):
                return self._keep([self._reader.described(grey, space, again)])
        self._since = 0
        return self._keep(self._search(grey, space))

    def near(self, grey: Array, camera: Camera, like: Candidate) -> Candidate | None:
        """The bow in this picture if it is close to where ``like`` is; None if nothing is there."""
        space = self._space(camera)
        ridge = self._reader.refined(grey, space, like.point, float(np.arctan2(like.direction[1], like.direction[0])), near=True)
        return self._reader.described(grey, space, ridge) if ridge is not None else None

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
            hair = self._reader.refined(grey, space, start, angle, near=True)
            off = -float((hair.point - like.point) @ normal) * np.sign(rise) if hair is not None else 0.0
            if hair is not None and 0.25 * space.hair_px < off < STICK_REACH_MM * abs(rise) + 3.0:
                found.append(hair)
        best = max(found, key=lambda ridge: ridge.score, default=None)
        return self._reader.described(grey, space, best) if best is not None else None

    def along(self, grey: Array, camera: Camera, frog: Array, head: Array) -> Candidate | None:
        """The line from ``frog`` to ``head`` (2,) px as it was set by hand: nothing is searched for; None off the picture."""
        space = self._space(camera)
        direction = (head - frog) / max(float(np.hypot(*(head - frog))), 1e-9)
        ridge = self._reader.ridge(grey, space, crossing(np.asarray(frog, float), direction, space), direction, np.array(SET_SD))
        return self._reader.described(grey, space, ridge) if ridge is not None else None

    def levels(self, grey: Array, line: Candidate, across_px: float) -> tuple[Array, Array]:
        """Grey levels (m,) along a ``line``'s strip, and of what lies ``across_px`` beside it (+ along its normal)."""
        along = line.strip_start + line.step * np.arange(len(line.strip))
        rows = sample(grey, line.point, line.direction, along, np.array([-0.5, 0.0, 0.5, across_px, across_px + np.sign(across_px)]))
        return rows[:, :3].mean(axis=1), rows[:, 3:].mean(axis=1)

    def edge(self, grey: Array, camera: Camera, line: Candidate, at_px: float) -> tuple[float, float]:
        """Shift (px along the normal) and slope of the straight edge near ``at_px`` beside a ``line``, beyond which it is brighter; NaN if
        there is none."""
        space, sign = self._space(camera), float(np.sign(at_px))
        along = inside(line.point, line.direction, self._reader.reach(space), 2.5 * self._reader.step, self.shape)
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
        out = [ridge for point, angle in lines if (ridge := self._reader.refined(grey, space, point, angle)) is not None]
        out.sort(key=lambda ridge: -ridge.score)
        return [self._reader.described(grey, space, ridge) for ridge in _distinct(out)[:CANDIDATES]]

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


def _distinct(found: list[Ridge]) -> list[Ridge]:
    kept: list[Ridge] = []
    for c in found:
        if all(
            np.hypot(*(c.point - k.point)) > 2.0 or abs(c.direction[0] * k.direction[1] - c.direction[1] * k.direction[0]) > 0.012
            for k in kept
        ):
            kept.append(c)
    return kept
