"""A room around the player: walls, floor, what stands and hangs there, somebody else."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.simulator.mesh import Material, Mesh, box, ellipsoid, plane, tube
from dolcezza.simulator.player import Clothes, bystander
from dolcezza.simulator.textures import any_pattern, clouds, pattern, planks


@dataclass(frozen=True)
class Place:
    """Where the room is: ``floor`` (3,) a point of it below the player; ``up``, ``front``, ``right`` of the player."""

    floor: Array
    up: Array
    front: Array
    right: Array

    def at(self, front: float, right: float, up: float = 0.0) -> Array:
        """A place so many mm from the point on the floor."""
        return np.asarray(self.floor + front * self.front + right * self.right + up * self.up)


def _material(rng: np.random.Generator, kind: str | None = None, repeat_mm: float = 900.0) -> Material:
    texture = pattern(kind, rng) if kind else any_pattern(rng)
    return Material((1.0, 1.0, 1.0), texture, (repeat_mm, repeat_mm), gloss=float(rng.uniform(0, 0.15)), polish=20)


def walls(place: Place, rng: np.random.Generator) -> list[Mesh]:
    """Floor, the wall behind the player and one beside."""
    behind, beside = -float(rng.uniform(700, 2600)), float(rng.choice([-1, 1]) * rng.uniform(1200, 3000))
    wall = _material(
        rng,
        str(rng.choice(["clouds", "clouds", "bricks", "stripes", "folds", "blinds", "dots", "checks", "planks"])),
        rng.uniform(500, 2500),
    )
    floor = _material(rng, str(rng.choice(["clouds", "planks", "checks", "weave"])), rng.uniform(500, 2000))
    wide = 9000.0
    out = [
        plane(place.at(behind, -wide / 2), place.front * 7000, place.right * wide, floor),
        plane(place.at(behind, -wide / 2), place.up * 3200, place.right * wide, wall),
    ]
    if rng.random() < 0.6:
        out.append(plane(place.at(behind, beside), place.up * 3200, place.front * 7000, wall))
    return out


def clutter(place: Place, rng: np.random.Generator) -> list[Mesh]:
    """Furniture and pictures behind the player; sometimes a stand beside, sometimes somebody who watches."""
    out: list[Mesh] = []
    for _ in range(int(rng.integers(0, 9))):
        middle = place.at(-rng.uniform(300, 2200), rng.uniform(-2200, 2200), rng.uniform(100, 2100))
        turn = rng.normal(size=3) * 0.15
        axes = np.stack([place.right * rng.uniform(40, 450), place.up * rng.uniform(40, 500), place.front * rng.uniform(8, 150)]) + turn
        out.append(box(middle, axes, _material(rng, None if rng.random() < 0.6 else "plain", rng.uniform(200, 900))))
    for _ in range(int(rng.integers(0, 4))):
        foot = place.at(-rng.uniform(200, 1800), rng.uniform(-1800, 1800), rng.uniform(0, 900))
        end = foot + place.up * rng.uniform(300, 1600) + place.right * rng.normal() * 300
        n = np.linspace(0, 1, 8)[:, None]
        out.append(tube(foot + (end - foot) * n, rng.uniform(6, 45), _material(rng, "plain")))
    if rng.random() < 0.3:
        spot = place.at(rng.uniform(100, 700), rng.choice([-1, 1]) * rng.uniform(350, 900), rng.uniform(750, 1250))
        out += _stand(place, spot, Material((0.85, 0.85, 0.82), pattern("weave", rng) * 0 + 1.0))
    if rng.random() < 0.25:
        stand = place.at(-rng.uniform(350, 1500), rng.choice([-1, 1]) * rng.uniform(150, 1100))
        out += bystander(stand, place.up, place.right, any_clothes(rng), size=float(rng.uniform(0.85, 1.15)))
    if rng.random() < 0.15:
        out.append(ellipsoid(place.at(-900, rng.uniform(-900, 900), 1700), np.eye(3) * 150, Material((2.5, 2.3, 1.9))))
    return out


def _stand(place: Place, spot: Array, paper: Material) -> list[Mesh]:
    """A music stand whose paper is at ``spot``."""
    lean = place.up * 0.9 - place.front * 0.3
    sheet = box(spot, np.stack([place.right * 220, lean * 150, place.front * 4]), paper)
    return [sheet, tube(np.array([spot, spot - place.up * 900]), 9.0, Material((0.03, 0.03, 0.03)))]


PAINTS = ((0.25, 0.32, 0.24), (0.20, 0.27, 0.34), (0.38, 0.26, 0.19), (0.30, 0.28, 0.26), (0.17, 0.25, 0.27), (0.34, 0.31, 0.20))
"""What lesson rooms are painted with, linear."""


def lesson_room(place: Place, rng: np.random.Generator) -> list[Mesh]:
    """A quiet room: one painted wall, boards, a bookcase, a picture or two, a music stand."""
    behind, side = -float(rng.uniform(1000, 1700)), float(rng.choice([-1, 1]))
    painted = Material(PAINTS[int(rng.integers(len(PAINTS)))], clouds(rng, 0.02), (3000.0, 3000.0))
    boards = Material(
        (1.0, 1.0, 1.0), planks(rng, 8, np.array([0.30, 0.17, 0.085]) * rng.uniform(0.5, 1.3), unlike=0.12), (1400.0, 1400.0), gloss=0.1
    )
    pale, dark = Material((0.55, 0.54, 0.5)), Material((0.09, 0.05, 0.03))

    def block(front: float, right: float, up: float, wide: float, high: float, deep: float, what: Material) -> Mesh:
        axes = np.stack([place.right * wide, place.up * high, place.front * deep]) / 2
        return box(place.at(behind + front, right, up), axes, what)

    def front(front: float, right: float, up: float, wide: float, high: float, what: Material) -> Mesh:
        corner = place.at(behind + front, right - wide / 2, up - high / 2)
        return plane(corner, place.up * high, place.right * wide, replace(what, bias_mm=300.0 + front))

    out = [
        plane(place.at(behind, -3200.0), place.front * 7000, place.right * 6400.0, boards),
        plane(place.at(behind, -3200.0), place.up * 3200, place.right * 6400.0, painted),
        *(plane(place.at(behind, beside), place.up * 3200, place.front * 7000, painted) for beside in (-3200.0, 3200.0)),
        front(8.0, 0.0, 45.0, 6400.0, 90.0, pale),
    ]
    shelf = side * float(rng.uniform(1050, 1500))
    out.append(block(150.0, shelf, 900.0, 900.0, 1800.0, 280.0, dark))
    for k in range(5):
        out.append(front(295.0, shelf, 220.0 + 350.0 * k, 830.0, 290.0, Material((0.5, 0.5, 0.5), pattern("books", rng), (300.0, 830.0))))
    for _ in range(int(rng.integers(1, 3))):
        right, up, wide = -side * float(rng.uniform(500, 1500)), float(rng.uniform(1350, 1750)), float(rng.uniform(250, 450))
        out.append(front(10.0, right, up, wide, 0.75 * wide, dark))
        out.append(front(20.0, right, up, 0.85 * wide, 0.6 * wide, Material((0.8, 0.8, 0.8), pattern("clouds", rng), (600.0, 600.0))))
    return out + _stand(
        place, place.at(-500.0, -side * float(rng.uniform(700, 1100)), float(rng.uniform(950, 1150))), Material((0.8, 0.8, 0.77))
    )


SKINS = ((0.62, 0.40, 0.30), (0.50, 0.29, 0.20), (0.36, 0.19, 0.12), (0.22, 0.11, 0.065), (0.75, 0.60, 0.53), (0.12, 0.06, 0.04))


CLOTHS = ((0.06, 0.09, 0.16), (0.30, 0.07, 0.06), (0.10, 0.17, 0.11), (0.35, 0.33, 0.30), (0.22, 0.12, 0.22), (0.05, 0.16, 0.18))
"""What people wear for a lesson, linear."""


def plain_clothes(clothes: Clothes, rng: np.random.Generator) -> Clothes:
    """The same somebody in cloth without a pattern."""
    shirt, below = rng.choice(len(CLOTHS), 2, replace=False)
    red, green, blue = CLOTHS[int(below)]
    trousers = Material((0.4 * red, 0.4 * green, 0.4 * blue))
    return replace(clothes, shirt=Material(CLOTHS[int(shirt)], clouds(rng, 0.03)), trousers=trousers)


def any_clothes(rng: np.random.Generator) -> Clothes:
    """Skin, hair and clothes of somebody."""
    skin = np.array(SKINS[int(rng.integers(len(SKINS)))]) * rng.uniform(0.8, 1.2) * (1 + 0.05 * rng.normal(size=3))
    hair = np.array([0.05, 0.03, 0.02]) * rng.uniform(0.2, 6) * [1, rng.uniform(0.7, 1.1), rng.uniform(0.5, 1.1)]
    repeat = float(rng.uniform(60, 500))
    kind = None if rng.random() < 0.6 else "clouds"
    return Clothes(
        Material(tuple(skin.tolist()), gloss=float(rng.uniform(0, 0.12)), polish=10), Material(tuple(hair.tolist()), gloss=0.1),
        _material(rng, kind, repeat), _material(rng, None if rng.random() < 0.3 else "plain", repeat),
        float(rng.choice([0.3, 0.6, 2.0, 2.0, 1.4])), float(rng.uniform(0, 1)),
    )  # fmt: skip
