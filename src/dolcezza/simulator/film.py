"""A script filmed: pictures one after another, sound, and the truth beside them, in the form of measuring.md."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cached_property
from pathlib import Path
from typing import Any

import av
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.geometry import rotation_of
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.instrument.model import LANDMARK_NAMES, InstrumentModel
from dolcezza.simulator.bow import MadeBow
from dolcezza.simulator.camera import Phone, looking_at
from dolcezza.simulator.chance import any_bow, any_looks
from dolcezza.simulator.instrument import MadeInstrument
from dolcezza.simulator.mesh import Mesh
from dolcezza.simulator.motion import Motion, move
from dolcezza.simulator.picture import Sensor, developed
from dolcezza.simulator.player import Grip, Player, Posture
from dolcezza.simulator.render import Light, render
from dolcezza.simulator.room import Place, any_clothes, clutter, lesson_room, plain_clothes, walls
from dolcezza.simulator.script import Script
from dolcezza.simulator.sound import RATE_HZ, tone

JOINTS = ("elbow_l", "elbow_r", "head", "shoulder_l", "shoulder_r", "wrist_l", "wrist_r")
ELBOW_STEP_DEG = 11.0
"""The elbow rises by so much from string to string."""
PRESSED_MM = 2.0
"""So far a string presses the hair in at the middle of the bow: some seven tenths of a newton on hair strung with 55, from memory. A string
between two fixed ends gives by the product of its ways to both."""
DARK_HAIR = (0.03, 0.03, 0.03)
STICKERS = ((0.05, 0.25, 0.8), (0.75, 0.06, 0.45))
"""Colours of the stickers on frog and head, linear."""
LAMP = (1.28, 1.0, 0.62)
"""How a warm lamp colours red, green and blue."""
STEP_S, HUNT_S, HUNT_FOR_S = 1.7, 3.1, 0.5
"""The exposure is set anew so often; the focus is looked for so often, and for so long."""
PINS_AT_S = 0.3
FINE, MOST_INSTANTS = 8, 5
"""While a frame is taken the scene is drawn at so many instants at most, of so many to a frame."""


@dataclass(frozen=True)
class Moment:
    """One frame: the phone as the instrument sees it, the player and the grip."""

    phone: Phone
    player: Player
    grip: Grip
    contact: Array


@dataclass(frozen=True)
class Studio:
    """A script with everything that stays the same through the take."""

    script: Script

    @cached_property
    def made(self) -> MadeInstrument:
        """The instrument."""
        return MadeInstrument(InstrumentModel(self.script.spec), any_looks(np.random.default_rng(self.script.seed + 1)))

    @cached_property
    def bow(self) -> MadeBow:
        """The bow."""
        if self.script.bow_looks == "usual":
            bow = MadeBow(self.script.spec.hair_length, self.script.spec.hair_width)
        else:
            bow = any_bow(self.made, np.random.default_rng(self.script.seed + 2))
        if self.script.bow_looks == "dark":
            bow = replace(bow, hair=DARK_HAIR)
        return replace(bow, stickers=STICKERS) if self.script.stickers else bow

    @cached_property
    def motion(self) -> Motion:
        """Where the bow is at each frame."""
        return move(self.script, self.script.phone.rate)

    @cached_property
    def fine(self) -> Motion:
        """Where the bow is between the frames."""
        return move(self.script, self.script.phone.rate * FINE)

    @property
    def first(self) -> int:
        """The first frame that is filmed."""
        return round(self.script.phone.from_s * self.script.phone.rate)

    @property
    def began_s(self) -> float:
        """When the phone begins to film."""
        return self.first / self.script.phone.rate

    @cached_property
    def posture(self) -> Posture:
        """The player's posture at rest."""
        p, spec = self.script.player, self.script.spec
        cello = spec.family == "cello"
        size = p.size or float(np.clip(0.35 + 0.65 * spec.body_scale, 0.6, 1.15))
        return Posture(size, p.left_deg, 0.0 if cello else p.tilt_deg, 22.0 if cello else p.rise_deg, 30.0, 10.0, p.left_hand)

    @cached_property
    def clothes(self) -> Any:
        """The player's clothes."""
        rng = np.random.default_rng(self.script.player.seed + 3)
        clothes = any_clothes(rng)
        return replace(plain_clothes(clothes, rng) if self.script.calm else clothes, sleeves=self.script.player.sleeves)

    @cached_property
    def light(self) -> Light:
        """The room's light."""
        up, front, right = Player(self.made, self.posture, self.clothes).axes
        towards = front * 0.8 + up * 0.8 + right * 0.3
        return Light(towards / np.linalg.norm(towards), np.array([0.75, 0.72, 0.66]), np.array([0.42, 0.44, 0.48]), up)

    @property
    def _aim(self) -> Array:
        """What the phone looks at (3,), mm."""
        lm = self.made.model.landmarks
        up = Player(self.made, self.posture, self.clothes).axes[0]
        return np.asarray(0.5 * (lm["end_button"] + lm["scroll"]) - up * (60.0 if not self.made.cello else 0.0))

    def seen_from(self, place: Array) -> tuple[float, float, float]:
        """``side_deg``, ``high_deg`` and ``far_mm`` of a phone that stands at ``place`` (3,), mm in the instrument's frame."""
        up, front, right = Player(self.made, self.posture, self.clothes).axes
        way = np.asarray(place, float) - self._aim
        far = float(np.linalg.norm(way))
        way = way / max(far, 1e-6)
        high = float(np.degrees(np.arcsin(np.clip(way @ up, -1, 1))))
        return float(np.degrees(np.arctan2(-(way @ right), way @ front))), high, far

    @cached_property
    def phone(self) -> Phone:
        """The phone, before anybody moves."""
        p = self.script.phone
        up, front, right = Player(self.made, self.posture, self.clothes).axes
        middle = self._aim
        side, high = np.radians(p.side_deg), np.radians(p.high_deg)
        # the scroll of a violin points to the player's left
        way = np.cos(high) * (np.cos(side) * front - np.sin(side) * right) + np.sin(high) * up
        place = middle + p.far_mm * way
        focal = 0.5 * max(p.width, p.height) / np.tan(np.radians(p.view_deg) / 2)
        return Phone(
            place, looking_at(place, middle + (p.aim_mm - 0.02 * p.far_mm) * up, up), float(focal), (p.width / 2, p.height / 2), p.barrel
        )

    def moment(self, k: int, motion: Motion | None = None) -> Moment:
        """Frame ``k``, or that step of another ``motion``: who moves and where everything is."""
        m, model = motion or self.motion, self.made.model
        string = int(m.string[k])
        up = np.array([0.0, 0.0, 1.0])
        along = model.bow_direction(np.array(m.angle[k]), np.array(m.inclination[k]))
        stick = np.cross(np.array([1.0, 0.0, 0.0]), along)
        stick *= np.sign(stick @ up)
        stick /= np.linalg.norm(stick)
        stick = rotation_of(np.radians(self.script.player.bow_tilt_deg) * along * np.sign(np.cross(along, stick)[0])) @ stick
        contact = model.string_point(string, m.contact[k]) + (m.lift[k] + m.shake[k]) * stick
        # the string presses the hair in: both its ends lie lower than the place where it is touched
        share = float(np.clip(m.position[k], 0.0, 1.0))
        pressed = max(4 * share * (1 - share) * PRESSED_MM - float(m.lift[k]), 0.0)
        frog = contact - pressed * stick - m.position[k] * self.bow.hair_length * along
        posture = replace(
            self.posture, elbow=22.0 + ELBOW_STEP_DEG * (3 - m.lower[k] - 0.5 * (string > 3)) + m.elbow[k] / 5.0, raised=float(m.raised[k]),
            hand=float(np.clip(1 - 2 ** (-(m.stop[k]) / 12) + self.script.player.left_hand, 0.04, 0.7)),
            fingers=(m.stop[k] >= 1, m.stop[k] >= 3, m.stop[k] >= 5, m.stop[k] >= 6),
        )  # fmt: skip
        player = Player(self.made, posture, self.clothes)
        return Moment(self._moved(m.t[k]), player, Grip(frog, along, stick, self.bow.height, float(m.index[k]), float(m.slid[k])), contact)

    def _moved(self, t_s: float) -> Phone:
        """The phone as the swaying player sees it."""
        p = self.script.player
        up, front, right = Player(self.made, self.posture, self.clothes).axes
        shift = p.sway_mm * (np.sin(2 * np.pi * 0.31 * t_s) * right + 0.5 * np.sin(2 * np.pi * 0.23 * t_s + 1) * front)
        turn = np.radians(p.turn_deg * np.sin(2 * np.pi * 0.27 * t_s + 0.5))
        spin = rotation_of(turn * up)
        phone = self.phone
        shake = self.script.phone.shake_px * np.array(
            [np.sin(5.1 * t_s) + 0.4 * np.sin(17 * t_s), np.cos(4.3 * t_s) + 0.4 * np.sin(13 * t_s)]
        )
        middle = (phone.middle[0] + float(shake[0]), phone.middle[1] + float(shake[1]))
        return replace(phone, place=spin @ (phone.place + shift), axes=phone.axes @ spin.T, middle=middle)

    @cached_property
    def background(self) -> Array:
        """The room without anybody, linear light."""
        rng = np.random.default_rng(self.script.seed + 5)
        player = self.moment(0)
        up, front, right = player.player.axes
        joints = player.player.joints(player.grip)
        drop = min(float(joints[f"foot_{s}"] @ up) for s in "lr")
        place = Place(joints["hips"] + up * (drop - float(joints["hips"] @ up)), up, front, right)
        around = (
            [*walls(place, rng), *(clutter(place, rng) if self.script.clutter else [])] if not self.script.calm else lesson_room(place, rng)
        )
        p = self.script.phone
        return render(around, self.phone, (p.width, p.height), replace(self.light, shadow=False), finer=2)

    def meshes(self, moment: Moment) -> list[Mesh]:
        """Player, instrument and bow."""
        grip = moment.grip
        share = float(np.clip((moment.contact - grip.frog) @ grip.along / self.bow.hair_length, 0.02, 0.98))
        pressed = float((moment.contact - grip.frog) @ grip.up)
        bow = self.bow.meshes(grip.frog, grip.along, grip.up, pressed=pressed, at=share)
        return [*moment.player.meshes(grip), *self.made.meshes(), *bow]

    def _seen(self, moment: Moment) -> Array:
        """The light that reaches the phone at one instant (h, w, 3)."""
        p = self.script.phone
        meshes = self.meshes(moment)
        points = np.concatenate([m.points for m in meshes])
        xy = moment.phone.see(points[moment.phone.depth(points) > 100.0])
        low = np.clip(np.floor(xy.min(0)) - 2, 0, [p.width, p.height]).astype(int)
        high = np.clip(np.ceil(xy.max(0)) + 2, 0, [p.width, p.height]).astype(int)
        light = self.background.copy()
        if (high - low > 4).all():
            part = replace(moment.phone, cut=np.array([[1.0, 0, -low[0]], [0, 1, -low[1]]]))
            behind = light[low[1] : high[1], low[0] : high[0]]
            size = (int(high[0] - low[0]), int(high[1] - low[1]))
            light[low[1] : high[1], low[0] : high[0]] = render(meshes, part, size, self.light, finer=2, behind=behind)
        return light

    def _taken(self, k: int) -> Array:
        """The light of frame ``k`` as its rows were read one after the other, each while the shutter was open. The frame's time is that
        of the middle row, half way through."""
        p = self.script.phone
        half = 0.5 * FINE * (p.rolling + p.shutter)
        if half < 0.5:
            return self._seen(self.moment(k))
        count = min(MOST_INSTANTS, round(2 * half) + 1)
        steps = np.unique(np.round(np.linspace(FINE * k - half, FINE * k + half, count)).astype(int))
        rows = FINE * (k + p.rolling * (np.arange(p.height) / p.height - 0.5))
        wide = max(0.5 * FINE * p.shutter, float(np.diff(steps).max(initial=1)))
        share = np.maximum(1 - np.abs(steps[:, None] - rows) / wide, 0.0)
        share /= share.sum(axis=0)
        out = np.zeros_like(self.background)
        for step, part in zip(np.clip(steps, 0, len(self.fine.t) - 1), share, strict=True):
            out += part[:, None, None].astype(out.dtype) * self._seen(self.moment(int(step), self.fine))
        return out

    def picture(self, k: int) -> Array:
        """Frame ``k`` as the phone keeps it (h, w, 3) RGB bytes; left-handed players are the mirror's picture of right-handed ones."""
        p = self.script.phone
        light = self._taken(k)
        t_s = self.motion.t[k]
        swing = np.random.default_rng(self.script.seed * 31 + int(t_s / STEP_S)).uniform(-1, 1) * p.exposure_swing
        exposure = p.exposure * (1 + swing) / (float(self.background.mean()) + 1e-4)
        hunting = np.sin(np.pi * np.clip((t_s % HUNT_S) / HUNT_FOR_S, 0, 1))
        white = tuple(1 + p.warm * (np.array(LAMP) - 1))
        sensor = Sensor(exposure=exposure, white=white, focus_px=0.5 + p.hunt_px * hunting, noise=p.noise, sharpen=p.sharpen)
        out = developed(light, sensor, np.random.default_rng(self.script.seed * 7919 + k))
        return np.ascontiguousarray(out[:, ::-1]) if self.script.handed == "left" else out

    def truth(self) -> tuple[dict[str, Array], dict[str, Any]]:
        """What is true of every frame, and of the take, as ``NAME.truth.npz`` and ``NAME.truth.json`` hold it."""
        m, model = self.motion, self.made.model
        n = len(m.t)
        columns = {name: np.full((n, *shape), np.nan) for name, shape in (("landmarks_px", (12, 2)), ("joints_px", (len(JOINTS), 2)))}
        ends = {name: np.full((n, 2), np.nan) for name in ("C_px", "frog_px", "tip_px")}
        elevation = np.zeros(n)
        places = np.array([model.landmarks[name] for name in LANDMARK_NAMES])
        flip = self.script.handed == "left"
        for k in range(n):
            moment = self.moment(k)
            joints = moment.player.joints(moment.grip)
            see = moment.phone.see
            columns["landmarks_px"][k], columns["joints_px"][k] = see(places), see(np.array([joints[j] for j in JOINTS]))
            tip = moment.grip.frog + self.bow.hair_length * moment.grip.along
            for name, at in (("C_px", moment.contact), ("frog_px", moment.grip.frog), ("tip_px", tip)):
                ends[name][k] = see(at[None])[0]
            trunk = joints["hips"] - 0.5 * (joints["shoulder_l"] + joints["shoulder_r"])
            upper = joints["elbow_r"] - joints["shoulder_r"]
            elevation[k] = np.degrees(np.arccos(np.clip(trunk @ upper / np.linalg.norm(trunk) / np.linalg.norm(upper), -1, 1)))
        seen = {**columns, **ends}
        if flip:
            for place in seen.values():
                place[..., 0] = self.script.phone.width - place[..., 0]
        frames = {
            "t": m.t, "playing": m.playing.astype(float), "stroke": self._stroke_numbers(), "string": m.lower.astype(float),
            "skew_deg": m.angle, "contact_mm": m.contact, "bow_pos": m.position, "elbow_elev_deg": elevation,
            "inclination_deg": m.inclination, "lift_mm": m.lift, "on_string": (m.lift < 1.0).astype(float), "stop_semitones": m.stop,
            **seen,
        }  # fmt: skip
        frames = {name: column[self.first :] for name, column in frames.items()} | {"t": m.t[self.first :] - self.began_s}
        return frames, self._about(places)

    def _stroke_numbers(self) -> Array:
        numbers = np.cumsum([not b.rest for b in self.script.bows]) - 1
        return np.asarray(np.where(self.motion.bow >= 0, numbers[np.maximum(self.motion.bow, 0)], -1).astype(float))

    def _about(self, places: Array) -> dict[str, Any]:
        script, spec = self.script, self.script.spec
        at, strokes = script.lead_in_s - self.began_s, []
        for bow in script.bows:
            if not bow.rest and at >= 0:
                strokes.append({
                    "start_s": round(at, 4), "end_s": round(at + bow.seconds, 4), "direction": bow.direction,
                    "string": "+".join(bow.string),
                    "from_pos": bow.start, "to_pos": bow.end, "skew_deg": list(bow.angle_deg),
                    "contact_mm": list(bow.contact_mm or (0.5 * spec.bridge_to_fingerboard,) * 3), "elbow_offset_mm": bow.elbow_mm,
                    "shoulder_raise_deg": bow.raise_deg, "shake_bow_share": bow.shake_mm / spec.hair_length, "shake_hz": bow.shake_hz,
                    "bounce_deg": bow.bounce_deg, "bounce_hz": 5.3 if bow.bounce_deg else 0.0, "index_mm": bow.index_mm,
                    "hand_mm": bow.hand_mm,
                })  # fmt: skip
            at += bow.seconds
        height = 2 * np.degrees(np.arctan(script.phone.height / 2 / self.phone.focal))
        return {
            "instrument": script.instrument, "string_length_mm": spec.string_length, "bridge_to_fingerboard_mm": spec.bridge_to_fingerboard,
            "hair_length_mm": spec.hair_length, "bridge_radius_mm": spec.bridge_radius, "spread_bridge_mm": spec.spread_bridge,
            "spread_nut_mm": spec.spread_nut, "strings": spec.strings, "frame_size": [script.phone.width, script.phone.height],
            "vertical_fov_deg": float(height), "radial_k1": script.phone.barrel, "landmark_names": list(LANDMARK_NAMES),
            "landmarks_mm": dict(zip(LANDMARK_NAMES, places.round(3).tolist(), strict=True)), "joint_names": list(JOINTS),
            "handed": script.handed, "mirrored": False, "strokes": strokes, "sound_late_ms": script.sound.late_ms,
        }  # fmt: skip

    def fit(self, name: str) -> dict[str, Any]:
        """A fit file as a careful hand would set it."""
        k = min(self.first + round(PINS_AT_S * self.script.phone.rate), len(self.motion.t) - 1)
        moment = self.moment(k)
        rng = np.random.default_rng(self.script.seed + 11)
        points = {}
        for mark in LANDMARK_NAMES:
            x, y = moment.phone.see(self.made.model.landmarks[mark][None])[0] + self.script.phone.pins_px * rng.normal(size=2)
            x = self.script.phone.width - x if self.script.handed == "left" else x
            if 0 < x < self.script.phone.width and 0 < y < self.script.phone.height:
                points[mark] = [round(float(x), 1), round(float(y), 1)]
        pins = [{"t_s": round(float(self.motion.t[k]) - self.began_s, 3), "points": points}]
        return {"take": f"{name}.mp4", "instrument": self.script.instrument, "handed": self.script.handed, "pins": pins}


def frames_of(studio: Studio) -> Iterator[Array]:
    """All pictures in order, from where the phone begins to film."""
    for k in range(studio.first, len(studio.motion.t)):
        yield studio.picture(k)


def film_all(script: Script, folder: Path, name: str) -> Work[list[Path]]:
    """Film a script with all its phones: ``NAME``, and ``NAME-2`` of the second; returns the videos' paths."""
    paths = [(yield from film(script, folder, name))]
    if script.second_phone is not None:
        paths.append((yield from film(replace(script, phone=script.second_phone), folder, f"{name}-2")))
    return paths


def film(script: Script, folder: Path, name: str) -> Work[Path]:
    """Film a script: ``NAME.mp4``, ``NAME.fit.json``, ``NAME.truth.npz``, ``NAME.truth.json`` in ``folder``; returns the video's path."""
    folder.mkdir(parents=True, exist_ok=True)
    studio, path = Studio(script), folder / f"{name}.mp4"
    total = len(studio.motion.t) - studio.first
    with av.open(str(path), "w") as out:
        rate = Fraction(script.phone.rate).limit_denominator(1001)
        video = out.add_stream("libx264", rate=rate, options={"preset": "medium"})
        video.width, video.height, video.pix_fmt = script.phone.width, script.phone.height, "yuv420p"
        video.bit_rate = script.phone.kbit * 1000
        sound = out.add_stream("aac", rate=RATE_HZ, layout="mono")
        for k, picture in enumerate(frames_of(studio)):
            frame = av.VideoFrame.from_ndarray(picture, format="rgb24")
            frame.pts, frame.time_base = k, 1 / rate
            out.mux(video.encode(frame))
            yield Progress(Stage.PICTURES, k + 1, total)
        out.mux(video.encode(None))
        samples = tone(script, studio.motion).astype(np.float32)[round(studio.first / script.phone.rate * RATE_HZ) :]
        for start in range(0, len(samples), 1024):
            part = av.AudioFrame.from_ndarray(samples[None, start : start + 1024], format="fltp", layout="mono")
            part.sample_rate, part.pts, part.time_base = RATE_HZ, start, Fraction(1, RATE_HZ)
            out.mux(sound.encode(part))
        out.mux(sound.encode(None))
    columns, about = studio.truth()
    np.savez_compressed(folder / f"{name}.truth.npz", allow_pickle=False, **columns)
    (folder / f"{name}.truth.json").write_text(json.dumps(about, indent=1), encoding="utf-8")
    (folder / f"{name}.fit.json").write_text(json.dumps(studio.fit(name), indent=1), encoding="utf-8")
    return path
