"""A lesson by chance: some instrument, player, room, light and phone, for pictures to learn from and to test with."""

from __future__ import annotations

from dataclasses import dataclass, replace

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.instrument.catalog import CATALOG
from dolcezza.core.instrument.model import LANDMARK_NAMES, InstrumentModel
from dolcezza.simulator.bow import MadeBow
from dolcezza.simulator.camera import Phone, looking_at
from dolcezza.simulator.instrument import Looks, MadeInstrument
from dolcezza.simulator.mesh import Mesh
from dolcezza.simulator.picture import Sensor, developed
from dolcezza.simulator.player import Grip, Player, Posture
from dolcezza.simulator.render import Light, render
from dolcezza.simulator.room import Place, any_clothes, clutter, walls

PLACES = (*LANDMARK_NAMES, "bow_frog", "bow_head")
"""What is asked of a picture: the instrument's landmarks, where the hair begins at the frog, where it ends at the head."""
DIFFERS = {
    "string_length": 0.012, "bridge_to_fingerboard": 0.035, "spread_bridge": 0.023, "spread_nut": 0.023, "bridge_radius": 0.06,
    "hair_length": 0.015, "body_scale": 0.018,
}  # fmt: skip


@dataclass(frozen=True)
class Scene:
    """Everything that is to be filmed at one moment: player, instrument and bow, and the room around. ``marks`` (14, 3) mm: the places of
    ``PLACES``."""

    meshes: list[Mesh]
    room: list[Mesh]
    light: Light
    made: MadeInstrument
    marks: Array
    up: Array
    front: Array


def any_looks(rng: np.random.Generator) -> Looks:
    """How some instrument looks."""
    warm = np.array([0.42, 0.14, 0.045]) * rng.uniform(0.25, 1.9)
    varnish = warm * [1.0, rng.uniform(0.6, 1.9), rng.uniform(0.4, 2.5)]
    if rng.random() < 0.05:
        varnish = rng.uniform(0.02, 0.7, 3)
    dark = np.array([0.018, 0.016, 0.015]) * rng.uniform(0.3, 3)
    fittings = dark if rng.random() < 0.75 else np.array([0.2, 0.07, 0.03]) * rng.uniform(0.4, 1.6)
    string = rng.uniform(0.15, 0.8) * np.array([1.0, 1.0, 1.02])
    each = [string * rng.uniform(0.6, 1.3) if rng.random() < 0.8 else np.array([0.6, 0.45, 0.2]) for _ in range(4)]
    return Looks(
        varnish=tuple(varnish.tolist()), shaded=float(rng.uniform(0, 0.7)), gloss=float(rng.uniform(0.05, 0.9)),
        polish=float(rng.uniform(8, 90)),
        fittings=tuple(fittings.tolist()), board=tuple((dark * rng.uniform(0.5, 4)).tolist()), board_gloss=float(rng.uniform(0.05, 0.6)),
        bridge=tuple((np.array([0.62, 0.45, 0.26]) * rng.uniform(0.4, 1.3)).tolist()), strings=tuple(tuple(c.tolist()) for c in each),
        string_radius=tuple((np.array([0.42, 0.38, 0.34, 0.2]) * rng.uniform(0.8, 1.6)).tolist()),
        chin_rest=None if rng.random() < 0.15 else float(rng.choice([0.1, 0.5, 0.6])), tuners=int(rng.choice([0, 1, 1, 4])),
        scroll=str(rng.choice(["spiral", "spiral", "ball"])), tapes=tuple(rng.uniform(0.5, 0.95, int(rng.choice([0, 0, 0, 3])))),
        endpin=bool(rng.random() < 0.9), grain=float(rng.uniform(0, 0.3)), seed=int(rng.integers(1 << 30)),
        waist=float(rng.normal() * 0.07), soft=float(max(0.0, rng.uniform(-10, 30))), bridge_thick=float(np.exp(rng.normal() * 0.4)),
        bridge_holes=bool(rng.random() < 0.6), pale_nut=bool(rng.random() < 0.4), pegs=str(rng.choice(["grips", "grips", "rods"])),
        ball=float(rng.uniform(0.8, 1.35)),
    )  # fmt: skip


def any_bow(made: MadeInstrument, rng: np.random.Generator) -> MadeBow:
    """Some bow for the instrument."""
    stick = np.array([0.2, 0.07, 0.03]) * rng.uniform(0.2, 3)
    if rng.random() < 0.2:
        stick = rng.uniform(0.01, 0.8, 3)
    hair = np.array([0.8, 0.78, 0.7]) * rng.uniform(0.25, 1.2) if rng.random() < 0.85 else np.full(3, rng.uniform(0.01, 0.25))
    metal = np.array([0.6, 0.58, 0.55]) * rng.uniform(0.3, 1.3)
    plate = np.array([0.8, 0.78, 0.72]) * rng.uniform(0.2, 1.2)
    dark = np.array([0.015, 0.014, 0.014]) * rng.uniform(0.5, 8)
    return MadeBow(
        made.spec.hair_length, made.spec.hair_width * float(rng.uniform(0.8, 1.25)), tuple(stick.tolist()), tuple(hair.tolist()),
        tuple(dark.tolist()), tuple(metal.tolist()), tuple((metal * rng.uniform(0.5, 1.2)).tolist()), tuple(plate.tolist()),
        float(rng.uniform(16, 23)), float(rng.uniform(0.3, 0.7)), float(rng.uniform(0.85, 1.2)),
    )  # fmt: skip


def _bow_pose(made: MadeInstrument, rng: np.random.Generator) -> tuple[Array, Array, Array]:
    """Frog end of the hair, direction to the head, direction to the stick, of a bow somewhere on or over the strings."""
    model, spec = made.model, made.spec
    stop = int(rng.integers(4))
    contact = float(rng.uniform(0.15, 1.15)) * spec.bridge_to_fingerboard
    angle = float(rng.normal() * 9)
    lean = float(model.string_planes[stop] + rng.normal() * 4)
    at = float(rng.uniform(0.02, 0.98))
    along = model.bow_direction(np.array(angle), np.array(lean))
    up = np.cross(np.array([1.0, 0.0, 0.0]), along)
    up *= np.sign(up[2])
    up /= np.linalg.norm(up)
    tilt = np.radians(rng.uniform(-10, 35))
    up = np.cos(tilt) * up + np.sin(tilt) * np.cross(along, up) * (1 if np.cross(along, up)[0] > 0 else -1)
    spot = model.string_point(stop, contact)
    if rng.random() < 0.12:
        spot = spot + [rng.uniform(-60, 60), rng.uniform(-60, 60), rng.uniform(10, 200)]
    return spot - at * spec.hair_length * along, along, up


def any_scene(rng: np.random.Generator, *, family: str | None = None) -> Scene:
    """One moment of a lesson that never was."""
    names = [n for n in CATALOG if family is None or n.startswith(family)]
    weights = np.array([0.36 if n.startswith("cello") else 0.64 for n in names]) / [
        sum(m.split()[0] == n.split()[0] for m in names) for n in names
    ]
    spec = CATALOG[str(rng.choice(names, p=weights / weights.sum()))]
    spec = replace(spec, **{k: getattr(spec, k) * (1 + sd * float(rng.normal())) for k, sd in DIFFERS.items()})
    made = MadeInstrument(InstrumentModel(spec), any_looks(rng))
    frog, along, up_bow = _bow_pose(made, rng)
    bow = any_bow(made, rng)
    cello = made.cello
    size = float(np.clip(0.35 + 0.65 * spec.body_scale + rng.normal() * 0.05, 0.6, 1.15))
    posture = Posture(
        size, float(rng.normal() * 12 + 42), float(rng.normal() * 3) if cello else float(np.clip(rng.normal() * 10 + 25, -5, 55)),
        float(np.clip(rng.normal() * 7 + 24, 5, 45)) if cello else float(rng.normal() * 8), float(rng.uniform(5, 75)),
        float(rng.uniform(-20, 50)),
        float(rng.uniform(0.05, 0.65 if cello else 0.4)), tuple(bool(rng.random() < 0.5) for _ in range(4)), float(rng.normal() * 12),
    )  # fmt: skip
    player = Player(made, posture, any_clothes(rng))
    up, front, right = player.axes
    grip = Grip(frog, along, up_bow, bow.height)
    joints = player.joints(grip)
    drop = min(float(joints[f"foot_{s}"] @ up) for s in "lr")
    floor = joints["hips"] + up * (drop - float(joints["hips"] @ up))
    place = Place(floor, up, front, right)
    meshes = [*player.meshes(grip), *made.meshes()]
    if rng.random() < 0.92:
        meshes += bow.meshes(frog, along, up_bow, pressed=float(rng.uniform(0, 5)), at=0.5)
    towards = front * rng.uniform(-0.2, 1.2) + right * rng.normal() * 0.7 + up * rng.uniform(0.2, 1.5)
    towards /= np.linalg.norm(towards)
    bright = float(rng.uniform(0.1, 1.1))
    warm = np.array([1.0, 1 - 0.25 * rng.random(), 1 - 0.5 * rng.random()])
    light = Light(towards, bright * warm, rng.uniform(0.15, 0.7) * (1 + 0.1 * rng.normal(size=3)), up, bool(rng.random() < 0.6))
    marks = np.vstack([[made.model.landmarks[n] for n in LANDMARK_NAMES], frog, frog + spec.hair_length * along])
    return Scene(meshes, [*walls(place, rng), *clutter(place, rng)], light, made, marks, up, front)


def any_place(scene: Scene, rng: np.random.Generator) -> Array:
    """Where a teacher may hold the phone (3,), mm: from the front, the top of the instrument in view."""
    middle = 0.5 * (scene.marks[10] + scene.marks[11])
    right = np.cross(scene.front, scene.up)
    while True:
        side, high = np.radians(np.clip(rng.normal() * 32 - (0 if scene.made.cello else 12), -80, 80)), np.radians(rng.normal() * 13 + 14)
        way = np.cos(high) * (np.cos(side) * scene.front + np.sin(side) * right) + np.sin(high) * scene.up
        if way[2] > 0.13:
            break
    far = rng.uniform(1300, 3600) * (1.0 if not scene.made.cello else 1.15)
    return np.asarray(middle + far * way)


def any_phone(scene: Scene, rng: np.random.Generator, px: int, *, detail: bool = False) -> tuple[Phone, Array]:
    """A phone, and the part of its picture (square, ``px``) that holds the instrument, whole or in part, small or large, upright or turned
    so that the neck points to the right; ``detail``: only what is around bridge and fingerboard's end. Also the places (14, 2) of
    ``PLACES`` in it, px."""
    place = any_place(scene, rng)
    middle = 0.5 * (scene.marks[10] + scene.marks[11])
    axes = looking_at(place, middle + rng.normal(size=3) * 150, scene.up, roll_deg=float(rng.normal() * 4))
    phone = Phone(place, axes, 1.0, (0.0, 0.0), float(rng.normal() * 0.03))
    flat = phone.see(scene.marks[:12])
    low, high = flat.min(0), flat.max(0)
    neck = flat[11] - flat[10]
    small = rng.random() < 0.5
    length = float(np.exp(rng.uniform(np.log(0.22), np.log(0.5)) if small else rng.uniform(np.log(0.5), np.log(1.05)))) * px
    if detail:
        length = float(rng.uniform(1.5, 3.2)) * px
    scale = length / max(float(np.linalg.norm(neck)), 0.8 * float(np.linalg.norm(flat[4] - flat[5])), 1e-6)
    turn = 0.0 if (small and not detail) or rng.random() < 0.4 else -np.arctan2(neck[1], neck[0]) + rng.normal() * 0.35
    rot = scale * np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])
    aim = 0.5 * (low + high) if rng.random() < 0.5 else 0.5 * (flat[0] + flat[8])
    if detail:
        aim, small = flat[:4].mean(axis=0), False
    slack = max(px - length, 0.25 * px) * (0.42 if small else 0.25)
    shift = px / 2 + rng.uniform(-1, 1, 2) * slack - rot @ aim
    phone = replace(phone, cut=np.column_stack([rot, shift]))
    return phone, phone.see(scene.marks)


def any_sensor(rng: np.random.Generator, light: Array) -> Sensor:
    """A phone that exposes for ``light`` (h, w, 3), more or less well."""
    usual = float(np.mean(light)) + 1e-4
    exposure = rng.uniform(0.10, 0.42) / usual
    soft = rng.random()
    move = rng.normal(size=2) * (0 if soft < 0.6 else 1.5)
    return Sensor(
        float(exposure), tuple((1 + 0.1 * rng.normal(size=3)).tolist()), float(max(0, rng.normal() * 0.6)),
        (float(move[0]), float(move[1])), float(abs(rng.normal()) * 0.02), float(max(0, rng.normal() * 0.8)),
        int(rng.choice([0, 25, 40, 60, 80])), float(rng.uniform(0, 0.4)), float(rng.normal() * 0.4), bool(rng.random() < 0.04),
    )  # fmt: skip


def _not_between(meshes: list[Mesh], place: Array, middle: Array) -> list[Mesh]:
    """What does not stand between the phone and the instrument."""
    way = middle - place
    out = []
    for mesh in meshes:
        share = np.clip((mesh.points - place) @ way / (way @ way), 0, 1)
        apart = np.linalg.norm(mesh.points - place - share[:, None] * way, axis=1)
        if apart.min() > 260 or float(share[apart.argmin()]) >= 1:
            out.append(mesh)
    return out


def any_pictures(seed: int, px: int = 256, views: int = 3, *, detail: bool = False) -> list[tuple[Array, Array]]:
    """Pictures (px, px, 3) RGB bytes of one made-up lesson from several places (of its bridge alone: ``detail``), each with the places
    (14, 2) of ``PLACES`` in px; the same for the same seed."""
    rng = np.random.default_rng(seed)
    scene = any_scene(rng)
    out = []
    for _ in range(views):
        # a detail is cut out of a picture that is no finer than it is
        own = int(rng.choice([px // 2, px * 5 // 8, px * 3 // 4, px])) if detail else px
        phone, places = any_phone(scene, rng, own, detail=detail)
        room = _not_between(scene.room, phone.place, scene.marks[[0, 11]].mean(0))
        light = render([*room, *scene.meshes], phone, (own, own), scene.light, finer=2)
        picture = developed(light, any_sensor(rng, light), rng)
        if own != px:
            picture = cv2.resize(picture, (px, px), interpolation=cv2.INTER_LINEAR)
        out.append((picture, places * (px / own)))
    return out
