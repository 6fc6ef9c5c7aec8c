"""Surfaces of triangles, and the few shapes that everything here is made of."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from dolcezza.core.base.arrays import Array


@dataclass(frozen=True)
class Material:
    """How a surface takes light: ``colour`` (3,) linear; ``texture`` (h, w, 3) linear, repeated every ``repeat_mm``; ``gloss`` share of
    light that is mirrored, ``polish`` how sharply; ``bias_mm``: drawn as if so much nearer, for what lies upon something else."""

    colour: tuple[float, float, float] = (0.5, 0.5, 0.5)
    texture: Array | None = None
    repeat_mm: tuple[float, float] = (300.0, 300.0)
    gloss: float = 0.05
    polish: float = 12.0
    bias_mm: float = 0.0


@dataclass(frozen=True)
class Mesh:
    """``points`` (n, 3) mm, ``faces`` (m, 3) numbers of points, ``along`` (n, 2) mm on the surface (where a texture lies)."""

    points: Array
    faces: Array
    along: Array
    material: Material = field(default_factory=Material)

    def moved(self, turn: Array, shift: Array) -> Mesh:
        """The mesh turned by ``turn`` (3, 3) and then shifted by ``shift`` (3,)."""
        return replace(self, points=self.points @ np.asarray(turn).T + shift)


def _cells(rows: int, columns: int, *, closed: bool = False) -> Array:
    """Triangles of a grid of points, row by row; ``closed``: the last column meets the first."""
    k = np.arange(rows * columns).reshape(rows, columns)
    if closed:
        k = np.hstack([k, k[:, :1]])
    a, b, c, d = k[:-1, :-1], k[:-1, 1:], k[1:, :-1], k[1:, 1:]
    return np.concatenate([np.stack([a, b, c], -1).reshape(-1, 3), np.stack([b, d, c], -1).reshape(-1, 3)])


def grid(points: Array, material: Material, along: Array | None = None, *, closed: bool = False) -> Mesh:
    """A surface through ``points`` (rows, columns, 3); ``along`` (rows, columns, 2), else lengths measured on it."""
    rows, columns = points.shape[:2]
    if along is None:
        down = np.zeros(rows)
        down[1:] = np.cumsum(np.linalg.norm(np.diff(points.mean(1), axis=0), axis=1))
        across = np.zeros((rows, columns))
        across[:, 1:] = np.cumsum(np.linalg.norm(np.diff(points, axis=1), axis=2), axis=1)
        along = np.stack([np.broadcast_to(down[:, None], (rows, columns)), across], -1)
    return Mesh(points.reshape(-1, 3).astype(float), _cells(rows, columns, closed=closed), along.reshape(-1, 2).astype(float), material)


def frame_along(way: Array) -> tuple[Array, Array]:
    """Two unit vectors square to ``way`` (3,) and to each other."""
    way = way / max(float(np.linalg.norm(way)), 1e-9)
    other = np.array([0.0, 0.0, 1.0]) if abs(way[2]) < 0.9 else np.array([1.0, 0.0, 0.0])
    a = np.cross(way, other)
    a /= np.linalg.norm(a)
    return a, np.cross(way, a)


def tube(path: Array, radius: Array | float, material: Material, *, sides: int = 10, ends: bool = True) -> Mesh:
    """A tube along ``path`` (n, 3) with ``radius`` at each point; ``ends``: closed."""
    path = np.asarray(path, float)
    r = np.broadcast_to(np.asarray(radius, float), (len(path),))
    ways = np.gradient(path, axis=0)
    turn = np.linspace(0, 2 * np.pi, sides, endpoint=False)
    a, _ = frame_along(path[-1] - path[0])
    rings = []
    for point, way, size in zip(path, ways, r, strict=True):
        way = way / max(float(np.linalg.norm(way)), 1e-9)
        u = a - way * (a @ way)
        u /= max(float(np.linalg.norm(u)), 1e-9)
        v = np.cross(way, u)
        ring = np.cos(turn)[:, None] * u + np.sin(turn)[:, None] * v
        rings.append(point + size * ring)
    if ends:
        rings = [np.repeat(path[:1], sides, 0), *rings, np.repeat(path[-1:], sides, 0)]
    return grid(np.array(rings), material, closed=True)


def ellipsoid(middle: Array, axes: Array, material: Material, *, rows: int = 10, columns: int = 14) -> Mesh:
    """An ellipsoid; ``axes`` (3, 3): its three half axes as rows, the first is its pole."""
    polar, round_ = np.linspace(0, np.pi, rows), np.linspace(0, 2 * np.pi, columns, endpoint=False)
    p, q = np.meshgrid(polar, round_, indexing="ij")
    unit = np.stack([np.cos(p), np.sin(p) * np.cos(q), np.sin(p) * np.sin(q)], -1)
    return grid(np.asarray(middle) + unit @ np.asarray(axes, float), material, closed=True)


def box(middle: Array, axes: Array, material: Material) -> Mesh:
    """A box; ``axes`` (3, 3): half lengths as rows."""
    corners = np.array([[x, y, z] for x in (-1, 1) for y in (-1, 1) for z in (-1, 1)], float)
    sides = [(0, 1, 3, 2), (4, 6, 7, 5), (0, 4, 5, 1), (2, 3, 7, 6), (0, 2, 6, 4), (1, 5, 7, 3)]
    axes = np.asarray(axes, float)
    points: list[Array] = []
    faces: list[list[int]] = []
    along: list[list[list[float]]] = []
    for n, side in enumerate(sides):
        four = corners[list(side)] @ axes
        e1, e2 = four[1] - four[0], four[3] - four[0]
        l1, l2 = float(np.linalg.norm(e1)), float(np.linalg.norm(e2))
        points.append(np.asarray(middle) + four)
        faces += [[4 * n, 4 * n + 1, 4 * n + 2], [4 * n, 4 * n + 2, 4 * n + 3]]
        along.append([[0, 0], [l1, 0], [l1, l2], [0, l2]])
    return Mesh(np.concatenate(points), np.array(faces), np.array(along, float).reshape(-1, 2), material)


def plane(corner: Array, first: Array, second: Array, material: Material, *, cell_mm: float = 400.0) -> Mesh:
    """A rectangle from ``corner`` along two edges, cut into cells so that what lies beside the camera can be left out."""
    n, m = (max(2, round(float(np.linalg.norm(e)) / cell_mm) + 1) for e in (first, second))
    s, t = np.meshgrid(np.linspace(0, 1, n), np.linspace(0, 1, m), indexing="ij")
    points = corner + s[..., None] * first + t[..., None] * second
    along = np.stack([s * np.linalg.norm(first), t * np.linalg.norm(second)], -1)
    return grid(points, material, along)


def curve(points: Sequence[Sequence[float]] | Sequence[Array], n: int) -> Array:
    """A smooth line through ``points``, at ``n`` places evenly by number (Catmull-Rom)."""
    p = np.asarray(points, float)
    p = np.vstack([2 * p[0] - p[1], p, 2 * p[-1] - p[-2]])
    s = np.linspace(0, len(p) - 3 - 1e-9, n)
    k = s.astype(int)
    t = (s - k)[:, None]
    a, b, c, d = p[k], p[k + 1], p[k + 2], p[k + 3]
    return np.asarray(0.5 * (2 * b + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t**2 + (3 * b - a - 3 * c + d) * t**3))
