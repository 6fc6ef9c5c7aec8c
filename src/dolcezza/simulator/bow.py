"""A bow as surfaces: stick with its camber, hair that bends at the string, frog, ferrule, head with its plate."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.simulator.mesh import Material, Mesh, box, ellipsoid, grid, tube

STICKER_MM = 10.0
"""Radius of a sticker; it is wrapped about what it sticks to."""


@dataclass(frozen=True)
class MadeBow:
    """One bow; lengths mm. ``camber``: how near the stick comes to the hair over its height at the ends; colours linear. ``stickers``: on
    frog and head, where there are any."""

    hair_length: float
    hair_width: float
    stick: tuple[float, float, float] = (0.2, 0.07, 0.03)
    hair: tuple[float, float, float] = (0.8, 0.78, 0.7)
    frog: tuple[float, float, float] = (0.015, 0.014, 0.014)
    metal: tuple[float, float, float] = (0.6, 0.58, 0.55)
    winding: tuple[float, float, float] = (0.5, 0.5, 0.5)
    plate: tuple[float, float, float] = (0.8, 0.78, 0.72)
    height: float = 19.0
    camber: float = 0.5
    thick: float = 1.0
    stickers: tuple[tuple[float, float, float], tuple[float, float, float]] | None = None

    def meshes(self, frog: Array, along: Array, up: Array, *, pressed: float = 0.0, at: float = 0.5) -> list[Mesh]:
        """The bow with the hair's frog end at ``frog`` (3,), running ``along`` (3,), the stick on the side of ``up`` (3,) (unit vectors,
        square to each other); the hair gives by ``pressed`` mm at the share ``at`` of its length."""
        side = np.cross(along, up)
        length = self.hair_length
        s = np.linspace(0, 1, 30)

        def place(x: Array | float, y: Array | float, z: Array | float) -> Array:
            x, y, z = np.broadcast_arrays(np.asarray(x, float), y, z)
            return np.asarray(frog + x[..., None] * along + y[..., None] * side + z[..., None] * up)

        bend = pressed * np.minimum(s / max(at, 1e-3), (1 - s) / max(1 - at, 1e-3))
        half = np.linspace(self.hair_width, self.hair_width * 0.8, len(s)) / 2
        ribbon = np.stack([place(s * length, -half, bend), place(s * length, half, bend)], 1)
        hair = Material(self.hair, gloss=0.15, polish=6, bias_mm=5.0)
        t = np.linspace(-0.09, 1.02, 40)
        gap = self.height * (1 - self.camber * np.clip(1 - (2 * t - 1) ** 2, 0, 1))
        wood = Material(self.stick, gloss=0.35, polish=35, bias_mm=5.0)
        stick = tube(place(t * length, 0.0, gap), np.linspace(4.1, 2.7, 40) * self.thick, wood, sides=8)
        out = [grid(ribbon, hair), stick]
        dark, metal = Material(self.frog, gloss=0.2, polish=30), Material(self.metal, gloss=0.7, polish=30)
        axes = np.stack([along, side, up])
        out.append(box(place(-24.0, 0.0, self.height / 2 - 1), np.diag([23.0, 5.5, self.height / 2 - 2.5]) @ axes, dark))
        out.append(box(place(-7.0, 0.0, 0.4), np.diag([7.0, self.hair_width / 2 + 0.8, 2.4]) @ axes, metal))
        screw = place(np.array([-0.105, -0.09]) * length, 0.0, self.height)
        out.append(tube(screw, 4.0 * self.thick, metal, sides=8))
        wrap = place(np.array([0.035, 0.10]) * length, 0.0, np.interp([0.035, 0.10], t, gap))
        out.append(tube(wrap, 4.5 * self.thick, Material(self.winding, gloss=0.3), sides=8))
        head = np.stack([place(np.array([1.0, 1.025]) * length, 0.0, z) for z in (0.6, 0.5 * self.height, self.height + 2)])
        w = np.array([[5.0, 5.0], [3.2, 2.6], [2.4, 2.0]])
        left, right = head - w[..., None] * side, head + w[..., None] * side
        out += [grid(left, wood), grid(right, wood), grid(np.stack([left[:, 1], right[:, 1]]), wood)]
        out.append(grid(np.stack([left[:, 0], right[:, 0]]), wood))
        pale = Material(self.plate, gloss=0.1, bias_mm=0.8)
        face = np.stack([place(np.array([1.0, 1.028]) * length, -5.0, 0.2), place(np.array([1.0, 1.028]) * length, 5.0, 0.2)])
        out.append(grid(face, pale))
        for colour, x in zip(self.stickers or (), (-14.0, 1.013 * length), strict=False):
            out.append(ellipsoid(place(x, 0.0, self.height / 2), STICKER_MM * np.eye(3), Material(colour, gloss=0.05, bias_mm=12.0)))
        return out
