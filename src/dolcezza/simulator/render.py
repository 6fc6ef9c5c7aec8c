"""Triangles to a picture: which triangle each pixel sees, then light, shadow and texture for all pixels at once.

The triangles of a surface are painted from the far ones to the near ones with their number as colour, and each pixel keeps the nearest
surface; what needs more arithmetic (texture, light) is done afterwards for whole arrays.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.simulator.camera import Phone
from dolcezza.simulator.mesh import Material, Mesh, frame_along

NEAREST_MM = 60.0
SHIFT = 4
"""Corners are painted to a sixteenth of a pixel."""


@dataclass(frozen=True)
class Light:
    """A lamp far away in direction ``towards`` (3,) with colour (3,), and light from all around with colour (3,), stronger from ``up``."""

    towards: Array
    colour: Array
    around: Array
    up: Array
    shadow: bool = True


@dataclass(frozen=True)
class _Triangles:
    """All meshes as one: points (n, 3), normals (n, 3), along (n, 2), faces (m, 3), material of each face (m,)."""

    points: Array
    normals: Array
    along: Array
    faces: Array
    of: Array
    materials: list[Material]


def _together(meshes: Sequence[Mesh]) -> _Triangles:
    points = np.concatenate([m.points for m in meshes])
    starts = np.cumsum([0, *(len(m.points) for m in meshes[:-1])])
    faces = np.concatenate([m.faces + s for m, s in zip(meshes, starts, strict=True)])
    of = np.repeat(np.arange(len(meshes)), [len(m.faces) for m in meshes])
    a, b, c = (points[faces[:, k]] for k in range(3))
    face_normal = np.cross(b - a, c - a)
    normals = np.zeros_like(points)
    for k in range(3):
        for axis in range(3):
            normals[:, axis] += np.bincount(faces[:, k], face_normal[:, axis], len(points))
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
    return _Triangles(points, normals, np.concatenate([m.along for m in meshes]), faces, of, [m.material for m in meshes])


def _paint(xy: Array, depth: Array, tri: _Triangles, size: tuple[int, int]) -> Array:
    """Number of the triangle that each pixel sees (h, w), -1 for none."""
    width, height = size
    corners, deep = xy[tri.faces], depth[tri.faces]
    low, high = corners.min(1), corners.max(1)
    seen = (deep.min(1) > NEAREST_MM) & (high >= 0).all(1) & (low[:, 0] < width) & (low[:, 1] < height) & (high - low < 8000).all(1)
    order = np.argsort(-deep.mean(1))
    order = order[seen[order]]
    order = order[np.argsort(tri.of[order], kind="stable")]
    ends = np.searchsorted(tri.of[order], np.arange(len(tri.materials) + 1))
    # OpenCV's pixel (0, 0) has its middle at 0, ours at 0.5
    fixed = np.round((np.clip(corners, -1e5, 1e5) - 0.5) * (1 << SHIFT)).astype(np.int32)
    # one over the depth is linear in the picture
    near = 1.0 / np.maximum(deep - np.array([m.bias_mm for m in tri.materials])[tri.of][:, None], NEAREST_MM / 2)
    planes, least, most = _planes(corners, near), near.min(1), near.max(1)
    ids, own = np.full((height, width), -1, np.int32), np.full((height, width), -1, np.int32)
    nearest = np.zeros((height, width))
    fill = cv2.fillConvexPoly
    for k in range(len(tri.materials)):
        faces = order[ends[k] : ends[k + 1]]
        if not len(faces):
            continue
        left, top = np.clip(np.floor(low[faces].min(0)).astype(int) - 1, 0, [width - 1, height - 1])
        right, bottom = np.clip(np.ceil(high[faces].max(0)).astype(int) + 2, 1, [width, height])
        for face in faces.tolist():
            fill(own, fixed[face], face, 8, SHIFT)
        part = own[top:bottom, left:right]
        rows, columns = np.nonzero(part >= 0)
        numbers = part[rows, columns]
        part[:] = -1
        rows, columns = rows + top, columns + left
        by_x, by_y, start = planes[numbers].T
        how = np.clip(by_x * (columns + 0.5) + by_y * (rows + 0.5) + start, least[numbers], most[numbers])
        front = how > nearest[rows, columns]
        rows, columns = rows[front], columns[front]
        ids[rows, columns], nearest[rows, columns] = numbers[front], how[front]
    return ids


def _planes(corners: Array, values: Array) -> Array:
    """What is linear over triangles in a picture: ``corners`` (m, 3, 2) px, ``values`` (m, 3) there; by x, by y, at the origin (m, 3)."""
    way, grows = corners[:, 1:] - corners[:, :1], values[:, 1:] - values[:, :1]
    area = way[:, 0, 0] * way[:, 1, 1] - way[:, 0, 1] * way[:, 1, 0]
    area = np.where(np.abs(area) < 1e-6, 1e-6, area)
    by_x = (grows[:, 0] * way[:, 1, 1] - grows[:, 1] * way[:, 0, 1]) / area
    by_y = (grows[:, 1] * way[:, 0, 0] - grows[:, 0] * way[:, 1, 0]) / area
    return np.stack([by_x, by_y, values[:, 0] - by_x * corners[:, 0, 0] - by_y * corners[:, 0, 1]], 1)


def _shares(ids: Array, xy: Array, depth: Array, tri: _Triangles) -> tuple[Array, Array, Array]:
    """Rows and columns of the pixels that see something, and the shares (n, 3) of their triangle's corners there."""
    rows, columns = np.nonzero(ids >= 0)
    numbers = ids[rows, columns]
    corners = xy[tri.faces]
    first, second = (_planes(corners, np.broadcast_to(np.eye(3)[k], (len(corners), 3))) for k in range(2))
    deep = 1.0 / np.maximum(depth[tri.faces], 1e-3)
    x, y = (columns + 0.5).astype(np.float32), (rows + 0.5).astype(np.float32)
    own = np.concatenate([first, second, deep], 1).astype(np.float32)[numbers].T
    u, v = (np.clip(own[k] * x + own[k + 1] * y + own[k + 2], 0, 1) for k in (0, 3))
    share = np.stack([u, v, np.clip(1 - u - v, 0, 1)], 1) * own[6:].T
    return rows, columns, share / np.maximum(share.sum(1, keepdims=True), 1e-12)


def _between(share: Array, values: Array, faces: Array) -> Array:
    """``values`` (n, d) at the corners, carried into the triangles' insides."""
    values = values.astype(np.float32)
    return np.asarray(share[:, :1] * values[faces[:, 0]] + share[:, 1:2] * values[faces[:, 1]] + share[:, 2:] * values[faces[:, 2]])


def _unit(v: Array) -> Array:
    return np.asarray(v / np.sqrt(np.maximum(np.einsum("ij,ij->i", v, v), 1e-12))[:, None])


def _texture(tri: _Triangles, of: Array, along: Array) -> Array:
    """Colours (n, 3) of the materials ``of`` (n,) at ``along`` (n, 2) mm."""
    colour = np.array([m.colour for m in tri.materials], np.float32)[of]
    order = np.argsort(of, kind="stable")
    starts = np.searchsorted(of[order], np.arange(len(tri.materials) + 1))
    for k, material in enumerate(tri.materials):
        here = order[starts[k] : starts[k + 1]]
        if material.texture is None or not len(here):
            continue
        h, w = material.texture.shape[:2]
        spot = along[here] / np.array(material.repeat_mm) * (h, w)
        x, y = np.mod(spot[:, 1], w).astype(np.float32), np.mod(spot[:, 0], h).astype(np.float32)
        got = np.empty((len(here), 3), np.float32)
        for s in range(0, len(here), 30000):  # remap's own limit on the length of a map
            part = slice(s, s + 30000)
            got[part] = cv2.remap(
                material.texture.astype(np.float32), x[part, None], y[part, None], cv2.INTER_LINEAR, None, cv2.BORDER_WRAP
            )[:, 0]
        colour[here] *= got
    return colour


class _Shadow:
    """What the lamp sees: places that lie behind that are dark."""

    def __init__(self, tri: _Triangles, towards: Array, around: Array, reach_mm: float, px: int) -> None:
        right, down = frame_along(towards)
        self._axes, self._middle, self._scale, self._px = np.stack([right, down, -towards]), around, px / (2 * reach_mm), px
        xy, deep = self._see(tri.points)
        ids = _paint(xy, deep, tri, (px, px))
        rows, columns, share = _shares(ids, xy, np.ones(len(deep)), tri)
        self._near = np.full((px, px), np.inf)
        self._near[rows, columns] = (share * deep[tri.faces[ids[rows, columns]]]).sum(1)

    def _see(self, points: Array) -> tuple[Array, Array]:
        own = (points - self._middle) @ self._axes.T
        return own[:, :2] * self._scale + self._px / 2, own[:, 2] + 1e5

    def lit(self, points: Array, slack_mm: float = 12.0) -> Array:
        """Share of the lamp's light that reaches ``points`` (n,)."""
        xy, deep = self._see(points)
        out = np.zeros(len(points))
        for dx, dy in ((0, 0), (1, 0), (0, 1), (-1, 0), (0, -1)):
            x = np.clip(xy[:, 0].astype(int) + dx, 0, self._px - 1)
            y = np.clip(xy[:, 1].astype(int) + dy, 0, self._px - 1)
            out += self._near[y, x] > deep - slack_mm
        return out / 5


def render(
    meshes: Sequence[Mesh], phone: Phone, size: tuple[int, int], light: Light, *, finer: int = 2, behind: Array | None = None
) -> Array:  # fmt: skip
    """The picture (h, w, 3) in linear shares of white, ``size`` = (width, height); painted ``finer`` times as fine. ``behind``: what is
    seen where nothing is painted (h, w, 3)."""
    tri = _together(meshes)
    xy, depth = phone.see(tri.points) * finer, phone.depth(tri.points)
    big = (size[0] * finer, size[1] * finer)
    ids = _paint(xy, depth, tri, big)
    rows, columns, share = _shares(ids, xy, depth, tri)
    numbers = ids[rows, columns]
    faces, of = tri.faces[numbers], tri.of[numbers]
    place, normal, along = np.split(_between(share, np.hstack([tri.points, tri.normals, tri.along]), faces), [3, 6], axis=1)
    out: Array = np.zeros((big[1], big[0], 3), np.float32)
    if behind is not None:
        out = cv2.resize(behind.astype(np.float32), big, interpolation=cv2.INTER_NEAREST)
    towards, colour, around, above = (v.astype(np.float32) for v in (light.towards, light.colour, light.around, light.up))
    view, normal = _unit(phone.place.astype(np.float32) - place), _unit(normal)
    seen = np.einsum("ij,ij->i", normal, view)
    normal *= np.where(seen < 0, np.float32(-1.0), np.float32(1.0))[:, None]
    facing = np.clip(normal @ towards, 0, 1)
    if light.shadow:
        facing = facing * _Shadow(tri, light.towards, np.zeros(3), 1100.0, 512).lit(place + 4 * normal).astype(np.float32)
    base = _texture(tri, of, along)
    gloss, polish = np.array([(m.gloss, m.polish) for m in tri.materials], np.float32)[of].T
    mirrored = gloss * np.clip(np.einsum("ij,ij->i", normal, _unit(view + towards)), 0, 1) ** polish * (facing > 0)
    edge = gloss * 0.5 * (1 - np.clip(np.abs(seen), 0, 1)) ** 4
    lit = facing[:, None] * colour + (0.6 + 0.4 * (normal @ above))[:, None] * around
    out[rows, columns] = base * lit + mirrored[:, None] * colour + edge[:, None] * around
    return cv2.resize(out, size, interpolation=cv2.INTER_AREA) if finer > 1 else out
