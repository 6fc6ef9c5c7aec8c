"""A reference picture of the instrument: one view of it in which points are known, and in which other frames are compared.

A frame is turned back to how the reference saw the instrument, so that a turned or nearer one looks the same; what passes before it
(bow, hands) goes when several frames so turned are put together by their median. Fingerboard and top plate lie at different heights and
are turned back each for itself. How high each point lies is learnt from frames that see it from elsewhere.
"""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.lens import Camera
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.instrument.surface import board_plane, height_sd, neck_end, plate_plane, surface_points
from dolcezza.core.tracking.rigid import POINT_SD_PX, Sightings

CELLS = 150
"""About so many cells of the picture of the instrument give one point each."""
MARGIN_PX = 16
LEAST_EDGE = 4e-6
"""Eigenvalue (OpenCV's scale) from which something can be seen to move."""
CORNER_SHARE = 0.15
"""A weaker direction with less than this share of the stronger's contrast is an edge's own: it tells nothing."""
BLIND = 0.02
SAMPLE_EVERY_S = 0.2
MOST_SAMPLES, FIRST_SAMPLES, MORE_SAMPLES = 15, 4, 1.6
"""The median is made from the fourth sample on, and again whenever there are this much more."""
LEARN = 0.3
"""How far one frame's word on a height counts: neighbours err alike."""
LEARN_REACH_PX = 4.0
FEWEST_POINTS = 12
"""Fewer points tell no pose."""
_STOP = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 10, 0.03)
FLOW: dict[str, Any] = {"winSize": (13, 13), "maxLevel": 2, "criteria": _STOP, "minEigThreshold": 1e-5}


def body_mask(model: InstrumentModel, camera: Camera, shape: tuple[int, ...]) -> Array:
    """Pixels of body, fingerboard and scroll, (h, w) uint8."""
    mask = np.zeros(shape[:2], np.uint8)
    for polygon in (model.outline, model.board, neck_end(model)):
        xy = camera.project(polygon)
        if np.isfinite(xy).all():
            cv2.fillPoly(mask, [np.round(xy).astype(np.int32)], 255)
    return mask


def plane_map(plane: Array, old: Camera, new: Camera) -> Array | None:
    """Homography (3, 3) of pixel numbers from ``old`` to ``new`` for what lies in ``plane`` (4, 3); None where it is not in view."""
    a, b = old.project(plane), new.project(plane)
    if not (np.isfinite(a).all() and np.isfinite(b).all()):
        return None
    # pixel centres lie at halves; OpenCV counts them from zero
    return cv2.getPerspectiveTransform((a - 0.5).astype(np.float32), (b - 0.5).astype(np.float32)).astype(np.float64)


def _moved(points: Array, homography: Array) -> Array:
    return cv2.perspectiveTransform(np.asarray(points, np.float64)[:, None], homography)[:, 0]


class ReferenceView:
    """The instrument as it is seen at ``camera`` in a grey picture (h, w). ``marked``: that pose is given and stays."""

    def __init__(self, model: InstrumentModel, t_s: float, grey: Array, camera: Camera, *, marked: bool) -> None:
        self.model, self.camera, self.marked = model, camera, marked
        self.whole = grey if marked else grey.copy()
        mask = body_mask(model, camera, grey.shape)
        rows, cols = np.nonzero(mask)
        if not len(rows):
            rows, cols = np.array([0, grey.shape[0] - 1]), np.array([0, grey.shape[1] - 1])
        h, w = grey.shape[:2]
        self.corner = np.array([max(0, cols.min() - MARGIN_PX), max(0, rows.min() - MARGIN_PX)])
        x0, y0 = self.corner
        x1, y1 = min(w, cols.max() + MARGIN_PX), min(h, rows.max() + MARGIN_PX)
        self._mask = mask[y0:y1, x0:x1] > 0
        board = np.zeros((h, w), np.uint8)
        cv2.fillPoly(board, [np.round(camera.project(model.board)).astype(np.int32)], 1)
        self._board = board[y0:y1, x0:x1] > 0
        neck = np.zeros((h, w), np.uint8)
        beyond_nut = camera.project(neck_end(model))
        if np.isfinite(beyond_nut).all():
            cv2.fillPoly(neck, [np.round(beyond_nut).astype(np.int32)], 1)
        self._neck = neck[y0:y1, x0:x1] > 0
        self.grey = np.ascontiguousarray(grey[y0:y1, x0:x1])
        self._samples = [self.grey]
        self._next_sample_s, self._next_median = t_s + SAMPLE_EVERY_S, FIRST_SAMPLES
        self._planes = (plate_plane(model), board_plane(model))
        self._choose()

    def __len__(self) -> int:
        return len(self.xy)

    @property
    def samples(self) -> int:
        """How many frames its picture was made of."""
        return len(self._samples)

    def _choose(self) -> None:
        """One point a cell, where most can be seen to move; corners before edges."""
        tensor = cv2.cornerEigenValsAndVecs(cv2.GaussianBlur(self.grey, (0, 0), 0.8), 7, 3)
        strong, weak = tensor[..., 0], tensor[..., 1]
        score = np.where(self._mask & (strong > LEAST_EDGE), weak + 0.1 * strong, 0.0)
        cell = max(4, round(float(np.sqrt(max(self._mask.sum(), 1) / CELLS))))
        h, w = (-(-n // cell) * cell for n in score.shape)
        padded = np.zeros((h, w), np.float32)
        padded[: score.shape[0], : score.shape[1]] = score
        cells = padded.reshape(h // cell, cell, w // cell, cell).swapaxes(1, 2).reshape(h // cell, w // cell, cell * cell)
        best = cells.argmax(axis=2)
        i, j = np.nonzero(cells.max(axis=2) > 0)
        rows, cols = i * cell + best[i, j] // cell, j * cell + best[i, j] % cell
        found = tensor[rows, cols]
        first = found[:, 2:4] / np.maximum(np.linalg.norm(found[:, 2:4], axis=1, keepdims=True), 1e-9)
        second = np.stack([-first[:, 1], first[:, 0]], axis=-1)
        share = np.sqrt(np.clip(found[:, 1] / np.maximum(found[:, 0], 1e-12), 0, 1))
        share = np.where(share < CORNER_SHARE, BLIND, share)
        self.across = np.stack([first, second * share[:, None]], axis=1)
        self.xy = np.column_stack([cols, rows]).astype(np.float32)
        self.over_board = self._board[rows, cols]
        ray = self.camera.ray(self.pixels)
        self._base = surface_points(self.model, self.camera.place, ray, self.over_board)
        self._up = ray / ray[:, 2:3]
        self.world = self._base.copy()
        self.height_sd = height_sd(self.model, self._base, self.over_board, self._neck[rows, cols])
        self.trust = np.ones(len(self.xy))
        self._height, self._known, self._told = (np.zeros(len(self.xy)) for _ in range(3))

    @property
    def pixels(self) -> Array:
        """The points (n, 2) in pixels of the whole picture."""
        return np.asarray(self.xy + self.corner + 0.5)

    @property
    def base(self) -> Array:
        """Where the points lie by the instrument's usual relief (n, 3), mm."""
        return self._base

    def moved_to(self, camera: Camera, world: Array) -> None:
        """Take another pose for this picture and other places of its points."""
        self.camera, self.world = camera, world

    def _maps(self, camera: Camera) -> tuple[Array, Array] | None:
        shift = np.array([[1, 0, self.corner[0]], [0, 1, self.corner[1]], [0, 0, 1.0]])
        plate, board = (plane_map(p, self.camera, camera) for p in self._planes)
        return None if plate is None or board is None else (plate @ shift, board @ shift)

    def _turned_back(self, grey: Array, homography: Array) -> Array:
        return cv2.warpPerspective(
            grey, homography, self.grey.shape[::-1], flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP, borderMode=cv2.BORDER_REPLICATE
        )

    def find(self, grey: Array, guess: Camera) -> tuple[Array, Array] | None:
        """Where the points are in another frame: pixels (n, 2) and whether they were found (n,). None where that cannot be asked."""
        maps = self._maps(guess)
        there = guess.project(self.world)
        if maps is None or not np.isfinite(there).all() or len(self) < FEWEST_POINTS:
            return None
        xy, ok = np.zeros((len(self), 2)), np.zeros(len(self), bool)
        h, w = self.grey.shape
        for on_board, homography in zip((False, True), maps, strict=True):
            own = self.over_board == on_board
            if not own.any():
                continue
            picture = self._turned_back(grey, homography)
            light = cv2.mean(self.grey)[0] / max(cv2.mean(picture)[0], 1.0)
            if abs(light - 1) > 0.04:
                picture = cv2.convertScaleAbs(picture, alpha=light)
            start = _moved(there[own] - 0.5, np.linalg.inv(homography)).astype(np.float32)
            got, status, _ = cv2.calcOpticalFlowPyrLK(
                self.grey, picture, self.xy[own][:, None], start[:, None].copy(), flags=cv2.OPTFLOW_USE_INITIAL_FLOW, **FLOW
            )
            got = got[:, 0].astype(float)
            ok[own] = (status.ravel() > 0) & (got > 1).all(axis=1) & (got[:, 0] < w - 2) & (got[:, 1] < h - 2)
            xy[own] = _moved(got, homography) + 0.5
        return xy, ok

    def sightings(self, index: Array, xy: Array) -> Sightings:
        """The points numbered ``index`` (k,), seen at ``xy`` (k, 2)."""
        left = 1.0 / np.sqrt(self._known[index] + self.height_sd[index] ** -2.0)
        return Sightings(self.world[index], xy, self.across[index], self.trust[index], left[:, None] * self._up[index])

    def learn(self, index: Array, xy: Array, agree: Array, camera: Camera, *, scale_px: float) -> None:
        """Take in where points (k,) were seen (k, 2) from ``camera``: whom to trust (``agree`` (k,) bool), and how high they lie."""
        full = np.zeros(len(self), bool)
        full[index[agree]] = True
        self.trust = np.clip(0.9 * self.trust + 0.1 * full, 0.05, 1.0)
        world, step = self.world[index], 0.5 * self._up[index]
        slope = np.einsum("nij,nj->ni", self.across[index], camera.project(world + step) - camera.project(world - step))
        off = np.einsum("nij,nj->ni", self.across[index], xy - camera.project(world))
        weight = LEARN * np.clip(1 - (off**2).sum(axis=1) / (LEARN_REACH_PX * scale_px) ** 2, 0, None) ** 2 / (POINT_SD_PX * scale_px) ** 2
        tells = weight * (slope**2).sum(axis=1)
        self._known[index] += tells
        self._told[index] += weight * (slope * off).sum(axis=1) + tells * self._height[index]
        self._height = self._told / (self._known + self.height_sd**-2.0)
        self.world = self._base + self._height[:, None] * self._up

    def places(self, pixels: Array) -> Array:
        """Where pixels (n, 2) of the whole picture lie on the instrument, by its usual relief (n, 3), mm."""
        at = np.clip(np.round(pixels - 0.5 - self.corner).astype(int), 0, np.array(self._board.shape[::-1]) - 1)
        return surface_points(self.model, self.camera.place, self.camera.ray(pixels), self._board[at[:, 1], at[:, 0]])

    def add(self, t_s: float, grey: Array, camera: Camera) -> bool:
        """Use a frame for the picture, if it is time for one. True = the picture has become clearer and the points were chosen anew."""
        if t_s < self._next_sample_s or len(self._samples) >= MOST_SAMPLES or (maps := self._maps(camera)) is None:
            return False
        self._next_sample_s = t_s + SAMPLE_EVERY_S
        plate, board = (self._turned_back(grey, h) for h in maps)
        self._samples.append(np.where(self._board, board, plate))
        if len(self._samples) < self._next_median:
            return False
        self._next_median = int(MORE_SAMPLES * self._next_median) + 1
        self.grey = np.median(np.array(self._samples), axis=0).astype(np.uint8)
        self._choose()
        return True
