"""A violin, viola or cello as surfaces, with its landmarks where the definitions have them, and dimensions and looks of its own."""

from __future__ import annotations

from dataclasses import dataclass, field

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.simulator.mesh import Material, Mesh, box, curve, ellipsoid, grid, tube

TEXTURE_MM = 0.6
"""Size of a pixel of the top's own picture on a violin, mm."""
UNDER_MM = -12.0
"""The top is drawn as if so much farther: everything else lies upon it."""
# Half of the outline of a 355 mm body (x along the strings from the bridge, half width), from memory: lower bout, waist, upper bout.
_LOWER = ((-160, 0), (-157.5, 30), (-150, 58), (-134, 83), (-108, 99), (-75, 104), (-46, 98), (-27, 88), (-18, 81))
_WAIST = ((-18, 81), (-12, 72), (0, 62), (20, 55.5), (42, 55.5), (60, 61), (70, 68), (76, 74))
_UPPER = ((76, 74), (86, 79), (105, 83.2), (130, 84), (152, 78), (172, 62), (186, 38), (193, 14), (195, 0))


@dataclass(frozen=True)
class Looks:
    """How one instrument differs from another in looks: varnish, wood of the fittings, what is on it. Colours are linear."""

    varnish: tuple[float, float, float] = (0.42, 0.14, 0.045)
    shaded: float = 0.45
    gloss: float = 0.35
    polish: float = 40.0
    fittings: tuple[float, float, float] = (0.018, 0.016, 0.015)
    board: tuple[float, float, float] = (0.02, 0.019, 0.018)
    board_gloss: float = 0.25
    bridge: tuple[float, float, float] = (0.62, 0.45, 0.26)
    strings: tuple[tuple[float, float, float], ...] = ((0.4, 0.4, 0.42),) * 4
    string_radius: tuple[float, ...] = (0.42, 0.38, 0.34, 0.2)
    chin_rest: float | None = 0.55
    tuners: int = 1
    scroll: str = "spiral"
    tapes: tuple[float, ...] = ()
    endpin: bool = True
    grain: float = 0.15
    seed: int = 0
    waist: float = 0.0
    soft: float = 0.0
    bridge_thick: float = 1.0
    bridge_holes: bool = True
    pale_nut: bool = False
    pegs: str = "grips"
    ball: float = 1.0


def _half_width(x: Array, looks: Looks) -> Array:
    """Half width of the body at ``x`` (shares of a violin's mm); ``waist`` deeper or not so deep, corners more or less ``soft``."""
    line = np.vstack([curve(_LOWER, 60), curve(_WAIST, 60)[1:], curve(_UPPER, 60)[1:]])
    order = np.argsort(line[:, 0], kind="stable")
    fine = np.linspace(-160, 195, 711)
    wide = np.interp(fine, line[order, 0], line[order, 1])
    wide = wide * (1 - looks.waist * np.exp(-0.5 * ((fine - 28) / 26) ** 2))
    if looks.soft > 0.5:
        n = round(looks.soft)
        kernel = np.hanning(2 * n + 3)
        smooth = np.convolve(np.pad(wide, n + 1, mode="edge"), kernel / kernel.sum(), mode="valid")
        # only around the corners, so that the bouts stay as wide as they are
        near = np.clip(1.6 - np.minimum(np.abs(fine + 18), np.abs(fine - 76)) / 22, 0, 1)
        wide = wide + near * (smooth - wide)
    return np.asarray(np.interp(x, fine, wide))


def _stations() -> Array:
    """Places along the body at which its width is taken, closer where it is round or has corners."""
    ends = 0.5 - 0.5 * np.cos(np.linspace(0, np.pi / 2, 14))
    return np.unique(np.concatenate([-160 + 85 * ends * 2, np.linspace(-75, 130, 44), 195 - 65 * ends * 2, [-18.5, -17.5, 75.5, 76.5]]))


@dataclass(frozen=True)
class MadeInstrument:
    """One instrument that was made up; ``model`` has its true dimensions (strings, landmarks)."""

    model: InstrumentModel
    looks: Looks = field(default_factory=Looks)

    @property
    def spec(self) -> InstrumentSpec:
        """Its true dimensions."""
        return self.model.spec

    @property
    def cello(self) -> bool:
        """Whether it stands on the floor."""
        return self.spec.family == "cello"

    @property
    def k(self) -> float:
        """Size of the body over a violin's of 355 mm."""
        return self.spec.body_scale * (2.127 if self.cello else 1.0)

    @property
    def edge_z(self) -> float:
        """Height of the top plate's edge, mm (negative: below the bridge's top)."""
        return float(self.model.landmarks["end_button"][2])

    def top_z(self, x: Array, share: Array) -> Array:
        """Height of the arched top at ``x`` mm, ``share`` of the half width from the middle."""
        arch = (15.0 if not self.cello else 26.0) * self.spec.body_scale
        long = np.clip(1 - np.abs((x / self.k - 17.5) / 177.5) ** 3.0, 0, 1)
        return np.asarray(self.edge_z + arch * long * (1 - np.abs(share) ** 2.2))

    @property
    def ribs_mm(self) -> float:
        """Height of the ribs."""
        return (31.0 if not self.cello else 118.0) * self.spec.body_scale

    def meshes(self) -> list[Mesh]:
        """All its surfaces, in its own frame."""
        return [*self._body(), *self._bridge(), *self._neck(), *self._fittings(), *self._strings()]

    # ------------------------------------------------------------------ parts

    def _fitting(self, *, bias: float = 0.0) -> Material:
        return Material(self.looks.fittings, gloss=0.12, polish=25, bias_mm=bias - 4.0)

    def _top_picture(self) -> Array:
        """Varnish, grain, purfling and sound-holes of the top as a picture; rows along x, columns along y."""
        mm = TEXTURE_MM
        n, m = round(380 / mm), round(230 / mm)
        rng = np.random.default_rng(self.looks.seed)
        x = (np.arange(n) + 0.5) * mm - 170.0
        y = (np.arange(m) + 0.5) * mm - 115.0
        lines = cv2.GaussianBlur(rng.normal(size=(1, m)).astype(np.float32), (0, 0), 0.8)
        slow = cv2.resize(rng.normal(size=(9, 6)).astype(np.float32), (m, n), interpolation=cv2.INTER_CUBIC)
        far = np.clip(np.abs(y)[None, :] / np.maximum(_half_width(x, self.looks), 1.0)[:, None], 0, 1)
        value = (1 + self.looks.grain * lines + 0.5 * self.looks.grain * slow) * (1 - self.looks.shaded * far**3)
        picture = np.clip(value, 0.05, 2)[..., None].astype(np.float32) * np.ones(3, np.float32)

        def px(line: Array) -> Array:
            return np.asarray(np.round(np.stack([(line[:, 1] + 115) / mm, (line[:, 0] + 170) / mm], 1) * 16).astype(np.int32))

        along = _stations()
        inner = np.stack([along, _half_width(along, self.looks)], 1)
        middle = np.array([17.5, 0.0])
        edge = inner + (middle - inner) / np.linalg.norm(middle - inner, axis=1, keepdims=True) * 4.5
        for side in (1, -1):
            cv2.polylines(picture, [px(edge * [1, side])], False, (0.12,) * 3, 2, cv2.LINE_AA, 4)
            hole = curve([(34, 22), (29, 27.5), (18, 29), (0, 34), (-18, 40), (-29, 46), (-36, 49), (-39, 44)], 40) * [1, side]
            width = round((4.6 if not self.cello else 3.6) / mm)
            cv2.polylines(picture, [px(hole)], False, (0.03,) * 3, width, cv2.LINE_AA, 4)
            for spot, size in (((33, 22.5), 3.6), ((-37, 45.5), 4.6)):
                at = px(np.array([spot]) * [1, side])[0]
                cv2.circle(picture, (int(at[0]), int(at[1])), round(size / mm * 16), (0.03,) * 3, -1, cv2.LINE_AA, 4)
        return np.asarray(picture)

    def _body(self) -> list[Mesh]:
        k, looks = self.k, self.looks
        x = _stations()
        w = np.maximum(_half_width(x, looks), 0.05)
        share = np.sin(np.linspace(-np.pi / 2, np.pi / 2, 15))
        xs, ts = np.meshgrid(x * k, share, indexing="ij")
        ys = ts * w[:, None] * k
        top = np.stack([xs, ys, self.top_z(xs, ts)], -1)
        along = np.stack([xs / k + 170, ys / k + 115], -1)
        varnish = Material(looks.varnish, self._top_picture(), (380.0, 230.0), looks.gloss, looks.polish, UNDER_MM)
        plain = Material(tuple(0.8 * np.array(looks.varnish)), None, gloss=looks.gloss, polish=looks.polish)
        out = [grid(top, varnish, along)]
        low = self.edge_z - 4.0
        deep = low - self.ribs_mm
        for side in (1, -1):
            lip = np.stack([x * k, side * w * k, np.full(len(x), self.edge_z)], -1)
            under = lip - [0, 0, 4.0]
            inset = np.stack([x * k, side * np.maximum(w - 2.5, 0) * k, np.full(len(x), low)], -1)
            foot = inset * [1, 1, 0] + [0, 0, deep]
            out += [grid(np.stack([lip, under, inset]), plain), grid(np.stack([inset, foot]), plain)]
        back = np.stack([xs, ys, deep + 0 * xs - 0.3 * (self.top_z(xs, ts) - self.edge_z)], -1)
        return [*out, grid(back, plain)]

    def _bridge(self) -> list[Mesh]:
        lm = self.model.landmarks
        half, drop = float(lm["bridge_bass"][1]), float(lm["bridge_bass"][2])
        y = np.linspace(-half, half, 15)
        r = self.spec.bridge_radius
        top = np.minimum(np.sqrt(np.maximum(r**2 - np.minimum(np.abs(y), 0.98 * r) ** 2, 0)) - r - 0.2, 0)
        top = np.where(
            np.abs(y) > self.spec.spread_bridge / 2, np.interp(np.abs(y), [self.spec.spread_bridge / 2, half], [top[3], drop]), top
        )
        floor = float(self.top_z(np.zeros(1), np.zeros(1))[0]) - 1.0
        thick = 2.2 * self.spec.body_scale * (2.0 if self.cello else 1.0) * self.looks.bridge_thick
        wood = Material(self.looks.bridge, gloss=0.05, bias_mm=-2.0)
        arch = floor + np.where(np.abs(y) < 0.45 * half, 0.25 * (top - floor), 0)
        front = [np.stack([np.full(15, s * t), y * 1.0, z], -1) for s, t, z in ((1, 0.6, top), (1, thick, arch))]
        rear = [p * [-1, 1, 1] for p in front]
        out = [grid(np.stack(front), wood), grid(np.stack(rear), wood), grid(np.stack([front[0], rear[0]]), wood)]
        for side in (1, -1):
            out.append(grid(np.stack([np.stack([p[7 + 7 * side] for p in front]), np.stack([p[7 + 7 * side] for p in rear])]), wood))
        if not self.looks.bridge_holes:
            return out
        hole = 0.35 * (0.55 * top[7] + 0.45 * floor) + 0.65 * floor
        dark = Material((0.08, 0.05, 0.03), bias_mm=4.0)
        for side in (1, -1):
            spot = np.array([0.0, side * 0.55 * half, hole])
            out.append(ellipsoid(spot, np.diag([thick, 0.16 * half, 0.12 * abs(floor)]), dark, rows=6, columns=8))
        return out

    def _neck(self) -> list[Mesh]:
        lm, spec = self.model.landmarks, self.spec
        gap, length = spec.bridge_to_fingerboard, spec.string_length
        s = np.linspace(0, 1, 26)[:, None]
        across = np.linspace(-1, 1, 9)[None, :]
        half = lm["board_bass"][1] + (lm["nut_bass"][1] - lm["board_bass"][1]) * s
        edge = lm["board_bass"][2] + (lm["nut_bass"][2] - lm["board_bass"][2]) * s
        rise = (0.5 * half**2 / spec.bridge_radius) * (1 - across**2) * 0.95
        x = gap + (length - gap) * s + 0 * across
        board = np.stack([x, half * across, edge + rise], -1)
        black = Material(self.looks.board, gloss=self.looks.board_gloss, polish=30, bias_mm=-8.0)
        side_mm = 5.0 * spec.body_scale * (1.6 if self.cello else 1.0)
        out = [grid(board, black), grid(np.stack([board[0], board[0] - [0, 0, side_mm]]), black)]
        for c in (0, -1):
            out.append(grid(np.stack([board[:, c], board[:, c] - [0, 0, side_mm]]), black))
        under = board[:, [0, -1]] - [0, 0, side_mm]
        out.append(grid(under, black))
        for tape in self.looks.tapes:
            k = int(np.clip(tape, 0.05, 0.95) * 25)
            out.append(grid(board[k : k + 1] + np.array([[[0]], [[3.0]]]) * [1, 0, 0], Material((0.7, 0.7, 0.65), bias_mm=-4.0)))
        joint = 193.0 * self.k
        wood = Material(tuple(0.9 * np.array(self.looks.varnish)), gloss=self.looks.gloss, polish=self.looks.polish)
        round_mm = 9.5 * spec.body_scale * (1.5 if self.cello else 1.0)
        n = np.linspace(0, 1, 12)[:, None]
        size = np.linspace(1.3, 1.0, 12) * round_mm
        start, end = (float(lm[f"{name}_bass"][2]) - side_mm - 1.0 for name in ("board", "nut"))
        path = np.array([joint - 6, 0, start]) + n * np.array([length - joint + 4, 0, end - start]) - size[:, None] * [0, 0, 1.0]
        out.append(tube(path, size, wood, sides=12))
        heel = np.array([[joint - 3, 0, -12.0 * spec.body_scale], [joint + 4, 0, self.edge_z - 0.8 * self.ribs_mm]])
        out.append(tube(heel, np.array([round_mm * 1.3, round_mm * 0.8]), wood))
        nut = Material((0.7, 0.66, 0.55) if self.looks.pale_nut else (0.05, 0.04, 0.035), gloss=0.1)
        wide = float(lm["nut_bass"][1])
        out.append(box(np.array([length + 2, 0, -2.5]), np.diag([2.5 * spec.body_scale, wide, 3.0]), nut))
        return [*out, *self._head(wood)]

    def _head(self, wood: Material) -> list[Mesh]:
        spec, k = self.spec, self.spec.body_scale * (2.0 if self.cello else 1.0)
        start = np.array([spec.string_length + 3, 0, -7.0 * k])
        scroll = self.model.landmarks["scroll"]
        n = np.linspace(0, 1, 9)[:, None]
        path = start + n * (scroll - start) * [0.88, 0, 1.0] - np.sin(np.pi * n) * [0, 0, 3.0 * k]
        out = [tube(path, np.linspace(11.5, 8.0, 9) * k, wood, sides=8)]
        for j in range(4):
            at = path[1 + j] + (path[2 + j] - path[1 + j]) * 0.5
            side = 1 if j in (0, 2) else -1
            if self.looks.pegs == "rods":
                rod = np.array([at - [0, 30 * k, 0], at + [0, 30 * k, 0]])
                out.append(tube(rod, 4.5 * k, self._fitting(), sides=8))
                continue
            peg = np.array([at - [0, side * 12 * k, 0], at + [0, side * 22 * k, 0]])
            out.append(tube(peg, 3.6 * k, self._fitting(), sides=7))
            grip = at + np.array([0, side * 29 * k, 0])
            out.append(
                ellipsoid(grip, np.diag([8.5, 9.5, 3.5]) * k if j % 2 else np.diag([3.5, 9.5, 8.5]) * k, self._fitting(), rows=6, columns=8)
            )
        if self.looks.scroll == "ball":
            return [*out, ellipsoid(scroll, np.eye(3) * 16.0 * self.looks.ball * k, wood)]
        turn = np.linspace(0, 4.2 * np.pi, 42)
        r = np.linspace(17.0, 4.0, 42) * k
        spiral = scroll + np.stack([-np.cos(turn) * r, 0 * turn, np.sin(turn) * r], 1)
        out.append(tube(spiral, np.linspace(7.0, 3.0, 42) * k, wood, sides=7))
        return [*out, tube(np.array([scroll - [0, 15 * k, 0], scroll + [0, 15 * k, 0]]), 8.0 * k, wood, sides=9)]

    def _fittings(self) -> list[Mesh]:
        k, spec = self.k, self.spec
        high = float(self.top_z(np.array([-60.0 * k]), np.zeros(1))[0])
        z = high + 11.0 * spec.body_scale
        s = np.linspace(0, 1, 12)[:, None]
        across = np.linspace(-1, 1, 7)[None, :]
        half = (21.0 - 11.0 * s**0.8) * k * (0.85 if self.cello else 1.0)
        x = (-52.0 - 100.0 * s) * k * (1.0 if not self.cello else 0.98) + 0 * across
        plate = np.stack([x, half * across, z - 4 * spec.body_scale * s + 4.0 * spec.body_scale * (1 - across**2)], -1)
        out = [grid(plate, self._fitting()), grid(np.stack([plate[:, 0], plate[:, 0] - [0, 0, 4.0]]), self._fitting())]
        out.append(grid(np.stack([plate[:, -1], plate[:, -1] - [0, 0, 4.0]]), self._fitting()))
        metal = Material((0.5, 0.5, 0.52), gloss=0.5, polish=30, bias_mm=3.0)
        for j in range(self.looks.tuners):
            y = (-1 + 2 * j / 3) * 13.0 * k
            out.append(box(np.array([-62.0 * k, y, z + 4.0]), np.diag([8.0, 1.8, 3.0]) * spec.body_scale, metal))
        button = self.model.landmarks["end_button"]
        gut = np.array([[-152.0 * k, 0, z - 4.0], [-161.0 * k, 0, self.edge_z + 1.0]])
        out.append(tube(gut, 1.8 * spec.body_scale, self._fitting(bias=4.0), sides=6))
        out.append(ellipsoid(button + [-3 * spec.body_scale, 0, 0], np.eye(3) * 6.5 * spec.body_scale, self._fitting(), rows=7, columns=9))
        if self.cello and self.looks.endpin:
            out.append(tube(np.array([button + [0, 0, -55.0], button + [-330.0 * spec.body_scale, 0, -55.0 - 60]]), 4.5, metal, sides=7))
        if not self.cello and self.looks.chin_rest is not None:
            spot = np.array([-118.0 * k, 80.0 * self.looks.chin_rest * k, self.edge_z + 20.0 * spec.body_scale])
            out.append(ellipsoid(spot, np.diag([27.0, 44.0, 7.0]) * spec.body_scale, self._fitting(bias=6.0)))
        return out

    def _strings(self) -> list[Mesh]:
        out = []
        yb, yn = self.model.string_y
        thick = self.spec.body_scale * (1.6 if self.cello else 1.0)
        high = float(self.top_z(np.array([-60.0 * self.k]), np.zeros(1))[0]) + 12.0 * self.spec.body_scale
        x = np.linspace(0, self.spec.string_length, 22)
        for j in range(4):
            metal = Material(self.looks.strings[j], gloss=0.6, polish=20)
            line = np.array([self.model.string_point(j, v) for v in x])
            behind = np.array([-58.0 * self.k, yb[j] * 0.75, high])
            after = np.linspace(0, 1, 6)[1:, None] * (behind - line[0]) + line[0]
            out.append(tube(np.vstack([after[::-1], line]), self.looks.string_radius[j] * thick, metal, sides=5, ends=False))
            pegs = np.array([line[-1], [self.spec.string_length + 28 * self.spec.body_scale, yn[j] * 0.5, -14.0]])
            out.append(tube(pegs, self.looks.string_radius[j] * thick, metal, sides=5, ends=False))
        return out
