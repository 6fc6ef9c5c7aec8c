"""What if: a stroke of a student played again by the made-up player with its own figures, and beside it the same stroke as asked, both seen
from where the phone stood."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from dolcezza.core.assignment.exercise import AskedStroke, Exercise
from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import StudioError
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.core.pipeline.cache import MeasurementCache
from dolcezza.core.pipeline.judge import asked_match
from dolcezza.core.strokes.figures import Stroke
from dolcezza.simulator.motion import PLACES
from dolcezza.simulator.script import Bow, PhoneScript, PlayerScript, Script, Three
from dolcezza.storage.packed import CACHE_FILE, read_packed
from dolcezza.storage.records import StoredAnalysis

PICTURES = 14
"""So many pictures show a stroke."""
WIDTH, HEIGHT = 640, 480
SHOWN_MM = {"violin": 1100.0, "viola": 1150.0, "cello": 1850.0}
"""So wide a piece of the room around a full-size instrument is in the picture."""
HIGHER_MM = {"violin": 95.0, "viola": 95.0, "cello": 40.0}
NEAREST_MM, FARTHEST_MM = 700.0, 6000.0
ROOM, PLAYER = 3, 1
"""Numbers that make a quiet room and plain clothes."""
LONGEST_S, SHORTEST_S = 20.0, 0.15
LITTLE = 0.3
"""Neighbouring values hang together by so little where nothing was measured."""


class Part(StrEnum):
    """What of a stroke may be put right."""

    ANGLE = "angle"
    CONTACT = "contact"
    BOW = "bow"


@dataclass(frozen=True)
class Figures:
    """A stroke to be played: ``angle_deg`` and ``contact_mm`` at frog, middle and head, ``start`` and ``end`` on the bow, ``seconds``."""

    string: str
    angle_deg: Three
    contact_mm: Three
    start: float
    end: float
    seconds: float


def own_figures(series: BowSeries, stroke: Stroke) -> Figures:
    """A stroke as it was measured; a part of the bow that it does not use is as its neighbour. Raises StudioError where nothing of it is
    known."""
    at = (series.t >= stroke.start_s) & (series.t <= stroke.end_s)
    place, angle, contact = (series[n][at] for n in ("bow_position", "bow_angle_deg", "contact_point_mm"))
    ends = (stroke.from_position, stroke.to_position)
    if not np.isfinite(ends).all() or not np.isfinite(angle).any() or not np.isfinite(contact).any():
        raise StudioError("Too little of this stroke was measured to play it again.", "Choose another stroke.")
    start, end = (float(np.clip(v, 0.0, 1.0)) for v in ends)
    if abs(end - start) < 0.02:
        end = float(np.clip(start + (0.02 if stroke.down else -0.02), 0.0, 1.0))
    seconds = float(np.clip(stroke.seconds, SHORTEST_S, LONGEST_S))
    return Figures(stroke.string.split("+")[0], _at_places(place, angle), _at_places(place, contact), start, end, seconds)


def _at_places(place: Array, values: Array) -> Three:
    """The values at frog, middle and head between which straight lines go nearest to what was measured; where the bow did not go it is as
    where it went."""
    good = np.isfinite(place) & np.isfinite(values)
    usual = float(values[np.isfinite(values)].mean())
    if good.sum() < 3:
        return (usual,) * 3
    # how much of each of the three there is at every place
    shares = np.stack([np.interp(place[good], PLACES, row) for row in np.eye(3)], axis=1)
    rows = np.concatenate([shares, LITTLE * np.array([[1.0, -1.0, 0.0], [0.0, 1.0, -1.0]])])
    found = np.linalg.lstsq(rows, np.concatenate([values[good], [0.0, 0.0]]), rcond=None)[0]
    return (float(found[0]), float(found[1]), float(found[2]))


def asked_figures(
    own: Figures, parts: Sequence[Part], spec: InstrumentSpec, profile: Profile, *, semitones: float = 0.0, asked: AskedStroke | None = None
) -> Figures:  # fmt: skip
    """The same stroke with some parts as they are asked: straight, in the middle of the profile's lane, with the bow that was asked."""
    out = own
    if Part.ANGLE in parts:
        out = replace(out, angle_deg=(0.0, 0.0, 0.0))
    if Part.CONTACT in parts:
        low, high = profile.lane.band_mm(spec, semitones=semitones)
        out = replace(out, contact_mm=(0.5 * (low + high),) * 3)
    if Part.BOW in parts and asked is not None:
        out = replace(out, start=asked.from_position, end=asked.to_position)
    return out


def asked_stroke(stored: StoredAnalysis, stroke: Stroke, wanted: Exercise | None, spec: InstrumentSpec) -> AskedStroke | None:
    """What was asked of a stroke, if anything was; ``wanted`` None = what was surely recognised."""
    matched = asked_match(stored.strokes, spec.strings, wanted)
    pair = next((p for p in matched.pairs if p.played == (stroke.number,) and p.asked is not None), None) if matched is not None else None
    return matched.exercise.strokes[pair.asked] if matched is not None and pair is not None and pair.asked is not None else None


def phone_place(stored: StoredAnalysis, t_s: float) -> Array | None:
    """Where the phone stood at a moment, in the instrument's frame (3,) mm; None where that was not kept. Raises StudioError."""
    cache = read_packed(MeasurementCache, stored.folder / CACHE_FILE)
    if cache is None or not len(cache.t_s):
        return None
    return np.asarray(cache.poses.camera(int(np.abs(cache.t_s - t_s).argmin())).place)


def script_of(figures: Figures, instrument: str, handed: str, place: Array | None) -> Script:
    """The script of one stroke, filmed from ``place`` (3,) mm in the instrument's frame, None = from where phones usually stand."""
    bow = Bow(
        figures.string, figures.seconds, figures.start, figures.end, figures.contact_mm, figures.angle_deg
    )  # fmt: skip
    plain = Script(
        instrument, handed, (bow,), 0.0, 0.0, seed=ROOM, calm=True, player=PlayerScript(seed=PLAYER),
        phone=PhoneScript(width=WIDTH, height=HEIGHT, noise=0.0),
    )  # fmt: skip
    far = 2.2 * SHOWN_MM[plain.spec.family] * plain.spec.body_scale
    side, high = plain.phone.side_deg, plain.phone.high_deg
    if place is not None:
        from dolcezza.simulator.film import Studio as MadeStudio  # the renderer, only where it draws

        side, high, far = MadeStudio(plain).seen_from(place)
    shown = SHOWN_MM[plain.spec.family] * plain.spec.body_scale
    far = float(np.clip(far, NEAREST_MM, FARTHEST_MM))
    view = 2 * np.degrees(np.arctan(0.5 * shown / far))
    rate = PICTURES / figures.seconds
    phone = replace(
        plain.phone, side_deg=side, high_deg=high, far_mm=far, view_deg=float(view), rate=rate, aim_mm=HIGHER_MM[plain.spec.family]
    )
    return replace(plain, phone=phone)


def pictures_of(script: Script) -> Work[list[Array]]:
    """The stroke's pictures (h, w, 3) RGB, evenly along its time."""
    from dolcezza.simulator.film import Studio as MadeStudio

    studio = MadeStudio(script)
    out: list[Array] = []
    for k in range(len(studio.motion.t)):
        out.append(studio.picture(k))
        yield Progress(Stage.PICTURES, k + 1, len(studio.motion.t))
    return out
