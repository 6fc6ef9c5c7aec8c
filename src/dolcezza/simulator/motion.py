"""From a script to where the bow is at every moment: position, string, angle, contact, lift, what sounds."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.simulator.script import SET_DOWN_S, Bow, Script, stops_of

REACH_S = 0.10
"""A change of string takes so long to both sides of the change of bow."""
AIR_MM, SLOW_ENDS = 70.0, 0.22
STRINGS = 4
PLACES = (0.06, 0.49, 0.92)
"""Where on the bow its three values hold: at the frog, in the middle, at the head."""


@dataclass(frozen=True)
class Motion:
    """The bow at times ``t`` (n,) s. ``bow``: number of the bow or -1; ``string``: index, bass side first, then the pairs of
    neighbours; ``position`` 0..1; ``speed`` mm/s; ``angle``, ``inclination`` deg; ``contact``, ``lift`` mm; ``stop`` semitones;
    ``raised`` deg; ``elbow`` mm; ``shake`` mm; ``index`` and ``slid`` (n, each) mm as ``Bow.index_mm`` and ``Bow.hand_mm``."""

    t: Array
    bow: Array
    string: Array
    position: Array
    speed: Array
    angle: Array
    inclination: Array
    contact: Array
    lift: Array
    stop: Array
    raised: Array
    elbow: Array
    shake: Array
    index: Array
    slid: Array

    @property
    def playing(self) -> Array:
        """Where a bow is drawn (n,)."""
        return self.bow >= 0

    @property
    def lower(self) -> Array:
        """The string, of two the lower (n,)."""
        return np.where(self.string < STRINGS, self.string, self.string - STRINGS)


def eased(share: Array) -> Array:
    """Way along a bow, 0 to 1, with slow ends: even in the middle, as a hand draws it."""
    a = SLOW_ENDS
    top = 1 / (1 - a)
    s = np.clip(share, 0, 1)
    start = top * (s / 2 - a / (2 * np.pi) * np.sin(np.pi * s / a))
    middle = top * (s - a / 2)
    end = 1 - top * ((1 - s) / 2 - a / (2 * np.pi) * np.sin(np.pi * (1 - s) / a))
    return np.asarray(np.clip(np.where(s < a, start, np.where(s > 1 - a, end, middle)), 0, 1))


def usual_contact(script: Script) -> float:
    """Half-way between bridge and fingerboard, mm."""
    return 0.5 * script.spec.bridge_to_fingerboard


def move(script: Script, rate_hz: float) -> Motion:
    """The motion at ``rate_hz`` a second."""
    model = InstrumentModel(script.spec)
    n = round(script.seconds * rate_hz)
    t = np.arange(n) / rate_hz
    columns = {
        name: np.zeros(n) for name in ("position", "angle", "contact", "lift", "stop", "raised", "elbow", "shake", "lean", "index", "slid")
    }
    number, string = np.full(n, -1), np.zeros(n, int)
    first = next((b for b in script.bows if b.rest in ("", "laid")), Bow())
    at_s, held = script.lead_in_s, first
    before = t < at_s
    _hold(columns, string, before, script, first, first.start)
    last = first.start
    for k, bow in enumerate(script.bows):
        here = (t >= at_s) & (t < at_s + bow.seconds) if k < len(script.bows) - 1 else t >= at_s
        share = np.clip((t[here] - at_s) / bow.seconds, 0, 1)
        if bow.rest == "laid":
            _hold(columns, string, here, script, bow, bow.start)
            if bow.lift:
                _lifted(columns, t, at_s, bow, last)
            held, last = bow, bow.start
        elif bow.rest:
            _hold(columns, string, here, script, held, last)
            columns["lift"][here] = {"string": 0.0, "air": AIR_MM, "hang": 600.0}[bow.rest] * np.sin(np.pi * np.clip(share, 0, 1)) ** 0.5
        else:
            position = bow.start + (bow.end - bow.start) * eased(share)
            drawn = here & (t < at_s + bow.seconds)
            number[drawn] = k
            _fill(columns, string, here, script, bow, position)
            notes = np.array(bow.notes)
            columns["stop"][here] = notes[np.minimum((share * len(notes)).astype(int), len(notes) - 1)]
            tremble = np.sin(2 * np.pi * bow.shake_hz * t[here]) * np.sin(np.pi * np.clip(share, 0, 1))
            columns["shake"][here] = bow.shake_mm * tremble
            columns["lean"][here] = bow.bounce_deg * np.sin(2 * np.pi * 5.3 * t[here]) * np.sin(np.pi * np.clip(share, 0, 1))
            if bow.lift:
                _lifted(columns, t, at_s, bow, last)
            held, last = bow, bow.end
        at_s += bow.seconds
    plane = model.stop_planes[string] + script.player.lean_deg
    width = max(1, round(REACH_S * rate_hz))
    kernel = np.hanning(2 * width + 1)
    plane = np.convolve(np.pad(plane, width, mode="edge"), kernel / kernel.sum(), mode="valid")
    speed = np.gradient(columns["position"], t) * script.spec.hair_length if n > 2 else np.zeros(n)
    return Motion(
        t, number, string, columns["position"], speed, columns["angle"], plane + columns["lean"], columns["contact"], columns["lift"],
        columns["stop"], columns["raised"], columns["elbow"], columns["shake"], columns["index"], columns["slid"],
    )  # fmt: skip


def _along(three: tuple[float, float, float], position: Array) -> Array:
    return np.asarray(np.interp(position, PLACES, three))


def _fill(columns: dict[str, Array], string: Array, here: Array, script: Script, bow: Bow, position: Array) -> None:
    usual = usual_contact(script)
    columns["position"][here] = position
    columns["angle"][here] = _along(bow.angle_deg, position)
    columns["contact"][here] = _along(bow.contact_mm or (usual, usual, usual), position)
    columns["raised"][here] = bow.raise_deg
    columns["elbow"][here] = bow.elbow_mm
    columns["index"][here], columns["slid"][here] = bow.index_mm, bow.hand_mm
    string[here] = stops_of(script.table.strings).index(bow.string) if bow.string else 0


def _hold(columns: dict[str, Array], string: Array, here: Array, script: Script, bow: Bow, position: float) -> None:
    _fill(columns, string, here, script, bow, np.full(int(here.sum()), position))


def _lifted(columns: dict[str, Array], t: Array, at_s: float, bow: Bow, last: float) -> None:
    """The bow leaves the string before ``at_s`` and comes down where this bow begins; the last of the rest before is used."""
    way = (t >= at_s - SET_DOWN_S) & (t < at_s)
    share = (t[way] - at_s + SET_DOWN_S) / SET_DOWN_S
    eased_share = 0.5 * (1 - np.cos(np.pi * share))
    columns["position"][way] = last + (bow.start - last) * eased_share
    after = np.flatnonzero(t >= at_s)[:1]
    for name in ("angle", "contact"):  # on its way through the air it turns to what comes
        columns[name][way] += (columns[name][after] - columns[name][way]) * eased_share if len(after) else 0.0
    columns["lift"][way] = AIR_MM * np.sin(np.pi * share)
