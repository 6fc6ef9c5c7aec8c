"""A player: trunk, head, arms and hands that hold the instrument and the bow; joints where the picture's truth has them.

Everything is in the instrument's frame. The body stands (violin, viola) or sits (cello) where the instrument asks it to; arms are two
bones of fixed length each, and the elbow hangs as the posture says.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.geometry import rotation_of
from dolcezza.simulator.instrument import MadeInstrument
from dolcezza.simulator.mesh import Material, Mesh, box, curve, ellipsoid, grid, tube


@dataclass(frozen=True)
class Clothes:
    """Materials of a player, and how far the sleeves reach down the arm (0 = none, 1 = elbow, 2 = wrist)."""

    skin: Material = field(default_factory=lambda: Material((0.55, 0.33, 0.24)))
    hair: Material = field(default_factory=lambda: Material((0.04, 0.025, 0.02)))
    shirt: Material = field(default_factory=lambda: Material((0.08, 0.15, 0.45)))
    trousers: Material = field(default_factory=lambda: Material((0.03, 0.03, 0.06)))
    sleeves: float = 2.0
    hair_length: float = 0.3


@dataclass(frozen=True)
class Posture:
    """How the body stands to the instrument. ``size`` 1 = adult. Degrees: ``left`` the instrument points so far left of straight ahead;
    ``tilt`` the top leans towards the treble side, ``rise`` the scroll above level (cello: its lean back), ``elbow`` of the bow arm raised
    from hanging; ``raised``: the right shoulder drawn up. ``hand``: where the left hand is (share of string length from the nut);
    ``fingers``: which left fingers are down."""

    size: float = 1.0
    left: float = 45.0
    tilt: float = 28.0
    rise: float = 0.0
    elbow: float = 30.0
    left_elbow: float = 10.0
    hand: float = 0.12
    fingers: tuple[bool, ...] = (True, True, False, False)
    head_turn: float = 0.0
    raised: float = 0.0


@dataclass(frozen=True)
class Grip:
    """Where the bow hand holds: ``frog`` (3,) start of the hair, ``along`` and ``up`` (3,) of the bow, ``height`` of the stick over it;
    the ``index`` finger is lifted off the stick by so much, the hand has ``slid`` so far from the frog's end (- = to the screw), mm."""

    frog: Array
    along: Array
    up: Array
    height: float = 19.0
    index: float = 0.0
    slid: float = 0.0


def _turned(vector: Array, about: Array, degrees: float) -> Array:
    """``vector`` turned about the unit vector ``about``."""
    return np.asarray(rotation_of(np.radians(degrees) * about) @ vector)


def _unit(v: Array) -> Array:
    return np.asarray(v / max(float(np.linalg.norm(v)), 1e-9))


def elbow_between(shoulder: Array, wrist: Array, upper: float, fore: float, pole: Array) -> tuple[Array, Array]:
    """The elbow of two bones that reach from shoulder to wrist, on the side of ``pole``; and the wrist, nearer if it is out of reach."""
    way = wrist - shoulder
    far = float(np.linalg.norm(way))
    reach = float(np.clip(far, abs(upper - fore) + 5, 0.995 * (upper + fore)))
    way = _unit(way)
    along = (upper**2 - fore**2 + reach**2) / (2 * reach)
    out = np.sqrt(max(upper**2 - along**2, 0.0))
    side = _unit(pole - way * (way @ pole))
    return shoulder + way * along + side * out, shoulder + way * reach


@dataclass(frozen=True)
class Player:
    """One player with one instrument."""

    instrument: MadeInstrument
    posture: Posture
    clothes: Clothes

    @property
    def axes(self) -> tuple[Array, Array, Array]:
        """Up, front and right of the body (3,) each, in the instrument's frame."""
        p = self.posture
        if self.instrument.cello:
            a = np.radians(p.rise)
            up, front = np.array([np.cos(a), 0.0, np.sin(a)]), np.array([-np.sin(a), 0.0, np.cos(a)])
            up = _turned(up, front, p.tilt)
            return up, front, np.cross(front, up)
        # the instrument's x rises by ``rise``; its top leans to the treble side by ``tilt``
        up = np.array([np.sin(np.radians(p.rise)), np.sin(np.radians(p.tilt)) * np.cos(np.radians(p.rise)), 0.0])
        up[2] = np.sqrt(max(1 - up @ up, 0.0))
        ahead = np.array([1.0, 0.0, 0.0])
        ahead = _unit(ahead - up * (up @ ahead))
        front = _turned(ahead, up, -p.left)
        return up, front, np.cross(front, up)

    def joints(self, grip: Grip) -> dict[str, Array]:
        """Places (3,) of the body's joints, mm."""
        up, front, right = self.axes
        p, made = self.posture, self.instrument
        s = p.size
        if made.cello:
            sternum = np.array([190.0 * made.k * 0.98, 0.0, made.edge_z - made.ribs_mm - 45.0 * s])
            neck = sternum + 130 * s * up - 75 * s * front + 10 * s * right
            hips = neck - 500 * s * up - 60 * s * front
        else:
            chin = np.array([-112.0 * made.k, 15.0 * made.k, made.edge_z + 34.0 * made.spec.body_scale])
            neck = chin - 75 * s * up - 85 * s * front
            hips = neck - 500 * s * up
        aside = 55 * s * right if made.cello else 0 * right
        out = {"neck": neck, "hips": hips, "head": neck + 175 * s * up + 45 * s * front + aside}
        for side, sign in (("r", 1.0), ("l", -1.0)):
            up_by = np.sin(np.radians(p.raised)) * 172 * s if side == "r" else 0.0
            out[f"shoulder_{side}"] = neck + sign * 172 * s * right + (up_by - 45 * s) * up
            out[f"hip_{side}"] = hips + sign * 85 * s * right
            if made.cello:
                out[f"knee_{side}"] = hips + front * 390 * s + sign * right * (245 * s) - up * 40 * s
                out[f"foot_{side}"] = out[f"knee_{side}"] - up * 420 * s + front * 30 * s
            else:
                out[f"knee_{side}"] = out[f"hip_{side}"] - up * 400 * s + front * 15 * s
                out[f"foot_{side}"] = out[f"knee_{side}"] - up * 400 * s
        hand = self._bow_wrist(grip, out["shoulder_r"])
        pole = _unit(-up + 0.8 * right - 0.3 * front + np.tan(np.radians(p.elbow - 20)) * right)
        out["elbow_r"], out["wrist_r"] = elbow_between(out["shoulder_r"], hand, 285 * s, 245 * s, pole)
        wrist = self._left_wrist()
        pole = _unit(-up + np.tan(np.radians(p.left_elbow)) * right) if not made.cello else _unit(-right - 0.5 * up)
        out["elbow_l"], out["wrist_l"] = elbow_between(out["shoulder_l"], wrist, 285 * s, 245 * s, pole)
        return out

    def _bow_wrist(self, grip: Grip, shoulder: Array) -> Array:
        s = self.posture.size
        hold = grip.frog + (grip.slid - 22) * grip.along + grip.height * grip.up
        back = _unit(shoulder - hold + 60 * grip.up)
        back = _unit(back - 0.5 * grip.along * (back @ grip.along))
        return np.asarray(hold + 85 * s * back + 25 * s * grip.up)

    def _left_wrist(self) -> Array:
        made, s = self.instrument, self.posture.size
        x = made.spec.string_length * (1 - self.posture.hand)
        if made.cello:
            return np.array([x - 20 * s, -105 * s, -75 * s])
        return np.array([x - 35 * s, -30 * s, -95 * s])

    def meshes(self, grip: Grip) -> list[Mesh]:
        """All surfaces of the player."""
        j = self.joints(grip)
        return [*self._trunk(j), *self._head(j), *self._arm(j, "r"), *self._arm(j, "l"), *self._bow_hand(j, grip), *self._left_hand(j)]

    # ------------------------------------------------------------------ parts

    def _trunk(self, j: dict[str, Array]) -> list[Mesh]:
        _, front, right = self.axes
        s, wear = self.posture.size, self.clothes
        path = [j["hips"] + (j["neck"] - j["hips"]) * t for t in np.linspace(-0.12, 1.02, 14)]
        wide = np.interp(np.linspace(-0.12, 1.02, 14), [-0.12, 0.0, 0.3, 0.7, 0.9, 0.98, 1.02], [150, 158, 135, 165, 160, 90, 55]) * s
        turn = np.linspace(0, 2 * np.pi, 20, endpoint=False)
        rings = [
            p + np.cos(turn)[:, None] * right * w + np.sin(turn)[:, None] * front * min(w * 0.72, 112 * s)
            for p, w in zip(path, wide, strict=True)
        ]
        out = [grid(np.array(rings), wear.shirt, closed=True)]
        out.append(tube(np.array([j["neck"] - 30 * s * self.axes[0], j["head"]]), 52 * s, wear.skin))
        for side in ("r", "l"):
            n = np.linspace(0, 1, 8)[:, None]
            thigh = j[f"hip_{side}"] + (j[f"knee_{side}"] - j[f"hip_{side}"]) * n
            shin = j[f"knee_{side}"] + (j[f"foot_{side}"] - j[f"knee_{side}"]) * n
            out += [tube(thigh, np.linspace(92, 66, 8) * s, wear.trousers), tube(shin, np.linspace(66, 44, 8) * s, wear.trousers)]
        if self.instrument.cello:
            seat = j["hips"] - 95 * s * self.axes[0]
            out.append(box(seat, np.stack([right * 210, front * 200, self.axes[0] * 18]), Material((0.12, 0.05, 0.025))))
        return out

    def _head(self, j: dict[str, Array]) -> list[Mesh]:
        up, front, _ = self.axes
        s, wear = self.posture.size, self.clothes
        look = _turned(front, up, self.posture.head_turn)
        if not self.instrument.cello:
            look = _turned(look, up, 0.55 * self.posture.left)
        side = np.cross(look, up)
        k = 0.55 + 0.45 * s
        head = j["head"]
        out = [ellipsoid(head, np.stack([up * 118, look * 98, side * 78]) * k, wear.skin, rows=22, columns=32)]
        scalp = np.stack([up * 112, look * 96, side * 86]) * k
        out.append(ellipsoid(head + (20 * up - 18 * look) * k, scalp, wear.hair, rows=22, columns=32))
        if wear.hair_length > 0.35:
            low = head + (-70 * wear.hair_length * up - 45 * look) * k
            out.append(ellipsoid(low, np.stack([up * 150 * wear.hair_length, look * 55, side * 84]) * k, wear.hair))
        out.append(
            ellipsoid(head + (-12 * up + 98 * look) * k, np.stack([up * 24, look * 20, side * 14]) * k, wear.skin, rows=6, columns=8)
        )
        for sign in (1, -1):
            eye = head + (10 * up + 88 * look + sign * 32 * side) * k
            out.append(
                ellipsoid(eye, np.stack([up * 6, look * 5, side * 12]) * k, Material((0.03, 0.02, 0.02), bias_mm=8.0), rows=5, columns=6)
            )
        return out

    def _arm(self, j: dict[str, Array], side: str) -> list[Mesh]:
        s, wear = self.posture.size, self.clothes
        n = np.linspace(0, 1, 9)[:, None]
        upper = j[f"shoulder_{side}"] + (j[f"elbow_{side}"] - j[f"shoulder_{side}"]) * n
        fore = j[f"elbow_{side}"] + (j[f"wrist_{side}"] - j[f"elbow_{side}"]) * n
        out = []
        for line, thick, reach in ((upper, np.linspace(60, 44, 9) * s, wear.sleeves), (fore, np.linspace(44, 29, 9) * s, wear.sleeves - 1)):
            out.append(tube(line, thick, wear.skin, sides=12))
            cut = round(np.clip(reach, 0, 1) * 8)
            if cut >= 1:
                out.append(tube(line[: cut + 1], thick[: cut + 1] + 6 * s, wear.shirt, sides=12, ends=False))
        out.append(
            ellipsoid(j[f"elbow_{side}"], np.eye(3) * (44 if wear.sleeves < 1 else 50) * s, wear.skin if wear.sleeves < 1 else wear.shirt)
        )
        out.append(ellipsoid(j[f"shoulder_{side}"], np.eye(3) * 66 * s, wear.shirt))
        return out

    def _bow_hand(self, j: dict[str, Array], grip: Grip) -> list[Mesh]:
        s, skin = 0.35 + 0.65 * self.posture.size, self.clothes.skin
        hold = grip.frog + (grip.slid - 20) * grip.along + grip.height * grip.up
        ahead = _unit(hold - j["wrist_r"])
        ahead = _unit(ahead - grip.along * (ahead @ grip.along))
        ahead = _unit(ahead - 0.35 * grip.up)
        out = []
        knuckles = []
        for k, off in enumerate((30.0, 10.0, -10.0, -30.0)):
            length = (1.0, 1.08, 1.0, 0.8)[k]
            knuckle = hold + off * s * grip.along - 26 * s * ahead + (30 - 3 * abs(k - 1)) * s * grip.up
            bend = hold + off * 0.95 * s * grip.along + 10 * s * ahead * length + 22 * s * grip.up
            tip = hold + off * 0.85 * s * grip.along + 15 * s * ahead * length - 24 * s * length * grip.up
            if k == 0 and grip.index:
                # off the stick it is straighter: its tip goes farther out and up than its middle joint
                bend, tip = bend + 0.5 * grip.index * grip.up, tip + grip.index * (1.6 * grip.up + 0.6 * ahead)
            knuckles.append(knuckle)
            out.append(
                tube(curve([knuckle, bend, 0.4 * bend + 0.6 * tip + 5 * s * ahead, tip], 9), np.linspace(9.5, 6.5, 9) * s, skin, sides=8)
            )
        middle = 0.5 * (knuckles[1] + knuckles[2])
        palm = 0.5 * (middle + j["wrist_r"])
        way = 0.5 * (middle - j["wrist_r"]) * 1.25
        flat = _unit(np.cross(way, grip.along))
        out.append(ellipsoid(palm, np.stack([way, 40 * s * grip.along, 17 * s * flat]), skin))
        thumb = [
            j["wrist_r"] * 0.6 + palm * 0.4 + 18 * s * grip.along,
            hold + 14 * s * grip.along - 22 * s * ahead - 12 * s * grip.up,
            hold - 6 * s * grip.up,
        ]
        out.append(tube(curve(thumb, 8), np.linspace(12, 8, 8) * s, skin, sides=8))
        return out

    def _left_hand(self, j: dict[str, Array]) -> list[Mesh]:
        made, p, skin = self.instrument, self.posture, self.clothes.skin
        s = 0.35 + 0.65 * p.size
        length = made.spec.string_length
        wide = 24.0 if made.cello else 17.0
        x = length * (1 - p.hand)
        neck_y = -(12.0 + (4 if made.cello else 0)) * made.spec.body_scale - 8
        deep = -14.0 * made.spec.body_scale * (1.5 if made.cello else 1.0)
        out, roots = [], []
        for k in range(4):
            root = np.array([x + (1.5 - k) * wide * s, neck_y - 16 * s, deep])
            roots.append(root)
            string = (k * 7 + int(p.hand * 40)) % 4
            place = made.model.string_point(string, length - min(0.97 * length, max(length - x, 12.0) + (k - 1.5) * wide * s)) + [0, 0, 3.0]
            up = 26.0 * s
            if not (k < len(p.fingers) and p.fingers[k]):
                place = place + [0, -6 * s, 26.0 * s]
                up = 38.0 * s
            top = np.array([0.5 * (root[0] + place[0]), 0.5 * (root[1] + place[1]) - 6 * s, max(root[2], place[2]) + up])
            out.append(tube(curve([root, top, place], 9), np.linspace(9.0, 6.0, 9) * s, skin, sides=8))
        middle = 0.5 * (roots[1] + roots[2])
        way = 0.5 * (middle - j["wrist_l"]) * 1.25
        out.append(
            ellipsoid(0.5 * (middle + j["wrist_l"]), np.stack([way, [42 * s, 0, 0], 17 * s * _unit(np.cross(way, [1.0, 0, 0]))]), skin)
        )
        over = np.array([x + 10 * s, -neck_y + 8, -4.0 if not made.cello else deep - 12])
        thumb = [middle * 0.5 + j["wrist_l"] * 0.5, np.array([x + 5 * s, 0.0, deep - 26 * s]), over]
        out.append(tube(curve(thumb, 8), np.linspace(12, 8, 8) * s, skin, sides=8))
        return out


def bystander(place: Array, up: Array, right: Array, clothes: Clothes, *, size: float = 1.0) -> list[Mesh]:
    """Somebody who stands in the room with hanging arms; ``place`` between the feet."""
    s = size
    hips, neck = place + 850 * s * up, place + 1420 * s * up
    n = np.linspace(0, 1, 8)[:, None]
    out = [tube(hips + (neck - hips) * n, np.array([150, 145, 135, 140, 150, 150, 110, 55]) * s, clothes.shirt, sides=14)]
    out.append(ellipsoid(neck + 160 * s * up, np.eye(3) * 100 * s, clothes.skin))
    out.append(ellipsoid(neck + 190 * s * up, np.eye(3) * 98 * s, clothes.hair))
    for side in (1, -1):
        shoulder = neck + side * 190 * s * right - 40 * s * up
        out.append(tube(shoulder + n * (-620 * s * up + side * 50 * s * right), np.linspace(56, 30, 8) * s, clothes.shirt))
        out.append(ellipsoid(shoulder - 660 * s * up + side * 52 * s * right, np.eye(3) * 42 * s, clothes.skin))
        out.append(tube(hips + side * 80 * s * right + n * (-840 * s * up), np.linspace(85, 45, 8) * s, clothes.trousers))
    return out
