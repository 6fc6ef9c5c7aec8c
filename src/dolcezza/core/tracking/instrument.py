"""Pose of the instrument in every frame, pulled back to the pinned frames so that it cannot drift.

Feature points on the body are followed by pyramidal optical flow (Lucas-Kanade) from a pinned frame straight to the present
one, which is first warped back by the previous pose, so that a turned or nearer instrument looks as it did when pinned; the
pose comes from robust least squares on their known places. Bow and hand hide some of them and disagree with the rest: they
lose their weight. A lost instrument is looked for in the whole picture by binary features (ORB).
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import cv2
import numpy as np

from dolcezza.core.camera.lens import Camera
from dolcezza.core.instrument.model import REQUIRED_PINS, InstrumentModel

Array = np.ndarray

WANTED_POINTS = 110
FEWEST_POINTS = 8
OUTLIER_PX = 1.5
LOST = 0.15
"""Share of agreeing points below which the instrument is lost."""
CONTENT = 0.4
"""Share from which no other guess is tried."""
SEARCH_EVERY_LOST = 5
"""While lost, the whole picture is searched once in so many frames."""
_FLOW: dict[str, Any] = {"winSize": (17, 17), "maxLevel": 3, "criteria": (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 12, 0.03)}


@dataclass(frozen=True)
class PinnedFrame:
    """A grey picture (h, w) in which the instrument's pose is known from pins."""

    t_s: float
    grey: Array
    camera: Camera


@dataclass(frozen=True)
class Followed:
    """Pose in one frame. ``confidence`` 0..1 is the share of points that agree; 0 = lost. ``fresh``: seen in this very frame,
    not carried over from the one before."""

    camera: Camera
    confidence: float
    spread_px: float
    fresh: bool = True


def moved_px(model: InstrumentModel, old: Camera, new: Camera) -> float:
    """How far bridge and fingerboard have moved in the picture, px."""
    marks = np.array([model.landmarks[n] for n in REQUIRED_PINS])
    return float(np.linalg.norm(old.project(marks) - new.project(marks), axis=1).max())


def moved_along(rotation: Array, place: Array, old: Camera, new: Camera) -> tuple[Array, Array]:
    """Poses (..., 3, 3), (..., 3) mm followed from ``old``, as they are when the pinned frame's pose was ``new`` in truth."""
    moved = rotation @ old.rotation.T
    return moved @ new.rotation, place + moved @ (np.asarray(new.tvec, float) - np.asarray(old.tvec, float))


def put_right(followed: Followed, old: Camera, new: Camera) -> Followed:
    """A pose followed from ``old``, as it is when the pinned frame's pose was ``new`` in truth."""
    c = followed.camera
    rotation, place = moved_along(c.rotation, np.asarray(c.tvec, float), old, new)
    return replace(followed, camera=Camera(cv2.Rodrigues(rotation)[0].ravel(), place, new.focal, new.center))


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
        cut = max(OUTLIER_PX, 3.0 * float(np.partition(dist, len(dist) // 2)[len(dist) // 2]) if k < 2 else OUTLIER_PX) * 2.0
        weights = np.clip(1 - (dist / cut) ** 2, 0, None) ** 2
        f = camera.focal
        jac = np.zeros((len(world), 2, 6))
        jac[:, 0, 3], jac[:, 1, 4] = f * inv, f * inv
        jac[:, 0, 5], jac[:, 1, 5] = -f * cam[:, 0] * inv**2, -f * cam[:, 1] * inv**2
        # a small turn w after the rotation moves a point p by w x p
        x, y, z = turned.T
        jac[:, :, 0] = jac[:, :, 5] * y[:, None] - jac[:, :, 4] * z[:, None]
        jac[:, :, 1] = jac[:, :, 3] * z[:, None] - jac[:, :, 5] * x[:, None]
        jac[:, :, 2] = jac[:, :, 4] * x[:, None] - jac[:, :, 3] * y[:, None]
        jw = jac * weights[:, None, None]
        normal = jw.reshape(-1, 6).T @ jac.reshape(-1, 6)
        normal += np.diag([1e-3 * len(world) * 1e2] * 3 + [1e-7] * 3)
        step = np.linalg.solve(normal, jw.reshape(-1, 6).T @ err.ravel())
        rot = cv2.Rodrigues(step[:3])[0] @ rot
        trans = trans + step[3:]
    return Camera(cv2.Rodrigues(rot)[0].ravel(), trans, camera.focal, camera.center), weights


class InstrumentFollower:
    """Gives the pose for one frame after the other. Start it with the pinned frames, then call ``step`` in order."""

    def __init__(self, model: InstrumentModel, pinned: list[PinnedFrame]) -> None:
        self.model = model
        self._keys = [self._prepare(p) for p in sorted(pinned, key=lambda p: p.t_s)]
        self._camera = self._keys[0][0].camera
        self._lost_for = 0

    def _prepare(self, pinned: PinnedFrame) -> tuple[PinnedFrame, Array, Array]:
        mask = body_mask(self.model, pinned.camera, pinned.grey.shape[:2])
        gap = max(3, int(np.sqrt((mask > 0).sum() / WANTED_POINTS) * 0.6))
        found = cv2.goodFeaturesToTrack(pinned.grey, WANTED_POINTS, 0.01, gap, mask=mask, blockSize=5)
        xy = found.reshape(-1, 2).astype(np.float32) if found is not None else np.zeros((0, 2), np.float32)
        return pinned, xy, _on_body(self.model, pinned.camera, xy + 0.5) if len(xy) else np.zeros((0, 3))

    def _attempt(self, grey: Array, key: tuple[PinnedFrame, Array, Array], guess: Camera) -> Followed | None:
        """Follow the points of one pinned frame into this picture, which is first turned back to how that frame saw it."""
        pinned, xy, world = key
        if len(xy) < FEWEST_POINTS:
            return None
        there = guess.project(world)
        if not np.isfinite(there).all():
            return None
        x0, y0, x1, y1 = _bounds(xy, pinned.grey.shape, 24)
        corner = np.array([x0, y0], np.float32)
        turn = _plane_map(self.model, pinned.camera, guess)
        if turn is None:
            return None
        # pixel centres lie at halves; OpenCV counts them from zero
        shift = np.array([[1, 0, x0 + 0.5], [0, 1, y0 + 0.5], [0, 0, 1.0]])
        back = np.array([[1, 0, -0.5], [0, 1, -0.5], [0, 0, 1.0]]) @ turn @ shift
        seen_as = cv2.warpPerspective(
            grey, back, (x1 - x0, y1 - y0), flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP, borderMode=cv2.BORDER_REPLICATE
        )
        old = np.ascontiguousarray(pinned.grey[y0:y1, x0:x1])
        flow, status, _ = cv2.calcOpticalFlowPyrLK(old, seen_as, (xy - corner)[:, None], (xy - corner)[:, None].copy(), **_FLOW)
        good = status.ravel() > 0
        if good.sum() < FEWEST_POINTS:
            return None
        seen = cv2.perspectiveTransform(flow[good].astype(np.float64), back).reshape(-1, 2) + 0.5
        camera, weights = refine_pose(guess, world[good], seen)
        agree = weights > 0.3
        off = np.linalg.norm(camera.project(world[good][agree]) - seen[agree], axis=1)
        spread = float(np.sqrt((off**2).mean())) if agree.any() else np.inf
        return Followed(camera, float(agree.sum() / len(xy)), spread)

    def _again(self, grey: Array) -> Camera | None:
        """Find the lost instrument anywhere in the picture by its look in the pinned frames."""
        best: tuple[int, Camera] | None = None
        finder = cv2.ORB.create(1500)
        now, what = finder.detectAndCompute(grey, None)
        if what is None or len(now) < FEWEST_POINTS:
            return None
        for pinned, _, _ in self._keys:
            mask = body_mask(self.model, pinned.camera, pinned.grey.shape[:2])
            then, look = finder.detectAndCompute(pinned.grey, mask)
            if look is None or len(then) < FEWEST_POINTS:
                continue
            pairs = cv2.BFMatcher(cv2.NORM_HAMMING, crossCheck=True).match(look, what)
            if len(pairs) < FEWEST_POINTS:
                continue
            xy = np.array([then[p.queryIdx].pt for p in pairs]) + 0.5
            seen = np.array([now[p.trainIdx].pt for p in pairs]) + 0.5
            world = _on_body(self.model, pinned.camera, xy)
            c = pinned.camera
            k = np.array([[c.focal, 0, c.center[0]], [0, c.focal, c.center[1]], [0, 0, 1.0]])
            ok, rvec, tvec, inliers = cv2.solvePnPRansac(
                world, seen, k, None, c.rvec.reshape(3, 1).copy(), np.reshape(c.tvec, (3, 1)).astype(float), True, 200, 4.0
            )
            count = 0 if inliers is None else len(inliers)
            if ok and count >= 12 and (best is None or count > best[0]):
                best = (count, Camera(rvec.ravel(), tvec.ravel(), c.focal, c.center))
        return best[1] if best else None

    def step(self, grey: Array, t_s: float) -> Followed:
        """Pose in the frame at ``t_s``. When lost, the last good pose comes back with confidence 0."""
        near = sorted(self._keys, key=lambda k: abs(k[0].t_s - t_s))
        best = self._best(grey, near[:2], (self._camera, near[0][0].camera))
        if best is None or best.confidence < LOST:
            self._lost_for += 1
            if self._lost_for % SEARCH_EVERY_LOST == 1 and (place := self._again(grey)) is not None:
                best = self._best(grey, near[:2], (place,))
        if best is None or best.confidence < LOST:
            return Followed(self._camera, 0.0, np.inf)
        self._lost_for = 0
        self._camera = best.camera
        return best

    def _best(self, grey: Array, keys: list[tuple[PinnedFrame, Array, Array]], guesses: tuple[Camera, ...]) -> Followed | None:
        best: Followed | None = None
        for key in keys:
            for guess in guesses:
                got = self._attempt(grey, key, guess)
                if got is not None and (best is None or got.confidence > best.confidence):
                    best = got
                if best is not None and best.confidence > CONTENT:
                    return best
        return best


def _plane_map(model: InstrumentModel, old: Camera, new: Camera) -> Array | None:
    """Homography (3, 3) that takes pixels of the top plate as ``old`` sees it to those as ``new`` does; None if it cannot be."""
    z = 0.4 * model.landmarks["end_button"][2]
    reach = model.landmarks["upper_bout_bass"]
    corners = np.array([[-reach[0], -reach[1], z], [reach[0], -reach[1], z], [reach[0], reach[1], z], [-reach[0], reach[1], z]])
    a, b = old.project(corners), new.project(corners)
    if not (np.isfinite(a).all() and np.isfinite(b).all()):
        return None
    return cv2.getPerspectiveTransform(a.astype(np.float32), b.astype(np.float32)).astype(np.float64)
