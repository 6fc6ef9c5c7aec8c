"""Pose of the instrument in every frame, pulled back to the pinned frames so that it cannot drift.

Feature points on the body are followed by pyramidal optical flow from a pinned frame straight to the present one
(Lucas-Kanade with the previous pose as the first guess); the pose comes from robust least squares on their known
places. Bow and hand hide some of them and disagree with the rest: they lose their weight.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np

from dolcezza.core.camera.lens import Camera
from dolcezza.core.instrument.model import InstrumentModel

Array = np.ndarray

WANTED_POINTS = 110
FEWEST_POINTS = 8
OUTLIER_PX = 1.5
_FLOW: dict[str, Any] = {"winSize": (17, 17), "maxLevel": 3, "criteria": (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 12, 0.03)}


@dataclass(frozen=True)
class PinnedFrame:
    """A grey picture (h, w) in which the instrument's pose is known from pins."""

    t_s: float
    grey: Array
    camera: Camera


@dataclass(frozen=True)
class Followed:
    """Pose in one frame. ``confidence`` 0..1 is the share of points that agree; below 0.2 the instrument is lost."""

    camera: Camera
    confidence: float
    spread_px: float


def body_mask(model: InstrumentModel, camera: Camera, shape: tuple[int, int]) -> Array:
    """Pixels of body and fingerboard, (h, w) uint8."""
    mask = np.zeros(shape, np.uint8)
    for polygon in (model.outline, model.board):
        xy = camera.project(polygon)
        if np.isfinite(xy).all():
            cv2.fillPoly(mask, [np.round(xy).astype(np.int32)], 255)
    return mask


def _on_body(model: InstrumentModel, camera: Camera, xy: Array) -> Array:
    """Places (n, 3) on the instrument seen at pixels (n, 2): on the fingerboard, else on the arched top plate."""
    ray, eye = camera.ray(xy), camera.place
    board = cv2.convexHull(np.round(camera.project(model.board)).astype(np.float32))
    over_board = np.array([cv2.pointPolygonTest(board, (float(x), float(y)), False) >= 0 for x, y in xy])
    plate = 0.75 * model.landmarks["end_button"][2]
    z = np.where(over_board, -6.0, plate)
    return eye + ray * ((z - eye[2]) / ray[:, 2])[:, None]


def _bounds(xy: Array, shape: tuple[int, int], margin: int) -> tuple[int, int, int, int]:
    x0, y0 = np.floor(np.nanmin(xy, axis=0)).astype(int) - margin
    x1, y1 = np.ceil(np.nanmax(xy, axis=0)).astype(int) + margin
    x0, y0 = max(0, min(x0, shape[1] - 40)), max(0, min(y0, shape[0] - 40))
    return x0, y0, min(shape[1], max(x1, x0 + 40)), min(shape[0], max(y1, y0 + 40))


def refine_pose(camera: Camera, world: Array, xy: Array, *, steps: int = 5) -> tuple[Camera, Array]:
    """Robust Gauss-Newton on points (n, 3) seen at (n, 2), Tukey weights. Returns pose and weights (n,)."""
    rot, trans = camera.rotation, np.asarray(camera.tvec, float)
    weights = np.ones(len(world))
    for k in range(steps):
        turned = world @ rot.T
        cam = turned + trans
        inv = 1.0 / cam[:, 2]
        err = xy - (camera.focal * cam[:, :2] * inv[:, None] + camera.center)
        dist = np.linalg.norm(err, axis=1)
        cut = max(OUTLIER_PX, 3.0 * float(np.median(dist)) if k < 2 else OUTLIER_PX) * 2.0
        weights = np.clip(1 - (dist / cut) ** 2, 0, None) ** 2
        f = camera.focal
        jac = np.zeros((len(world), 2, 6))
        jac[:, 0, 3], jac[:, 1, 4] = f * inv, f * inv
        jac[:, 0, 5], jac[:, 1, 5] = -f * cam[:, 0] * inv**2, -f * cam[:, 1] * inv**2
        # a small turn w after the rotation moves a point by w x (R X)
        for a in range(3):
            shift = np.cross(np.eye(3)[a], turned)
            jac[:, :, a] = np.einsum("nij,nj->ni", jac[:, :, 3:6], shift)
        jw = jac * weights[:, None, None]
        normal = np.einsum("nia,nib->ab", jw, jac)
        normal += np.diag([1e-3 * len(world) * 1e2] * 3 + [1e-7] * 3)
        step = np.linalg.solve(normal, np.einsum("nia,ni->a", jw, err))
        rot = cv2.Rodrigues(step[:3])[0] @ rot
        trans = trans + step[3:]
    return Camera(cv2.Rodrigues(rot)[0].ravel(), trans, camera.focal, camera.center), weights


class InstrumentFollower:
    """Gives the pose for one frame after the other. Start it with the pinned frames, then call ``step`` in order."""

    def __init__(self, model: InstrumentModel, pinned: list[PinnedFrame]) -> None:
        self.model = model
        self._keys = [self._prepare(p) for p in sorted(pinned, key=lambda p: p.t_s)]
        self._camera = self._keys[0][0].camera

    def _prepare(self, pinned: PinnedFrame) -> tuple[PinnedFrame, Array, Array]:
        mask = body_mask(self.model, pinned.camera, pinned.grey.shape[:2])
        gap = max(3, int(np.sqrt((mask > 0).sum() / WANTED_POINTS) * 0.6))
        found = cv2.goodFeaturesToTrack(pinned.grey, WANTED_POINTS, 0.01, gap, mask=mask, blockSize=5)
        xy = found.reshape(-1, 2).astype(np.float32) if found is not None else np.zeros((0, 2), np.float32)
        return pinned, xy, _on_body(self.model, pinned.camera, xy + 0.5) if len(xy) else np.zeros((0, 3))

    def _attempt(self, grey: Array, key: tuple[PinnedFrame, Array, Array], guess_from: Camera) -> Followed | None:
        pinned, xy, world = key
        if len(xy) < FEWEST_POINTS:
            return None
        guess = guess_from.project(world).astype(np.float32) - 0.5  # pixel centres lie at halves
        if not np.isfinite(guess).all():
            return None
        margin = 24
        ax0, ay0, ax1, ay1 = _bounds(xy, pinned.grey.shape, margin)
        bx0, by0, bx1, by1 = _bounds(guess, grey.shape, margin)
        a, b = np.array([ax0, ay0], np.float32), np.array([bx0, by0], np.float32)
        width, height = max(ax1 - ax0, bx1 - bx0), max(ay1 - ay0, by1 - by0)
        old = _patch(pinned.grey, ax0, ay0, width, height)
        new = _patch(grey, bx0, by0, width, height)
        flow, status, _ = cv2.calcOpticalFlowPyrLK(
            old, new, (xy - a)[:, None], (guess - b)[:, None].copy(), flags=cv2.OPTFLOW_USE_INITIAL_FLOW, **_FLOW
        )
        good = status.ravel() > 0
        if good.sum() < FEWEST_POINTS:
            return None
        seen = flow.reshape(-1, 2)[good] + b + 0.5
        camera, weights = refine_pose(guess_from, world[good], seen.astype(float))
        agree = weights > 0.3
        spread = (
            float(np.sqrt((np.linalg.norm(camera.project(world[good][agree]) - seen[agree], axis=1) ** 2).mean()))
            if agree.any()
            else np.inf
        )
        return Followed(camera, float(agree.sum() / len(xy)), spread)

    def step(self, grey: Array, t_s: float) -> Followed:
        """Pose in the frame at ``t_s``. When lost, the last good pose comes back with confidence 0."""
        near = sorted(self._keys, key=lambda k: abs(k[0].t_s - t_s))
        best: Followed | None = None
        for key in near[:2]:
            for guess in (self._camera, key[0].camera):
                got = self._attempt(grey, key, guess)
                if got is not None and (best is None or got.confidence > best.confidence):
                    best = got
                if best is not None and best.confidence > 0.45:
                    break
            if best is not None and best.confidence > 0.45:
                break
        if best is None or best.confidence < 0.2:
            return Followed(self._camera, 0.0, np.inf)
        self._camera = best.camera
        return best


def _patch(grey: Array, x0: int, y0: int, width: int, height: int) -> Array:
    """Cut (height, width) at (x0, y0), repeating the border where it sticks out."""
    part = grey[y0 : y0 + height, x0 : x0 + width]
    down, right = height - part.shape[0], width - part.shape[1]
    return cv2.copyMakeBorder(part, 0, down, 0, right, cv2.BORDER_REPLICATE) if down or right else np.ascontiguousarray(part)
