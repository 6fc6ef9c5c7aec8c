"""The instrument as geometry in its own frame (mm): strings as lines, landmarks, outline, the bow's line.

Frame: origin at the top of the bridge midway between the outer strings, x along the strings to the nut, y along the
bridge to the bass side, z away from the top plate. Right-handed. Left-handed players and mirrored pictures are
flipped before anything is measured, so this is the only handedness here.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cache, cached_property
from itertools import pairwise
from typing import Any

import numpy as np
import scipy

from dolcezza.core.base.arrays import Array
from dolcezza.core.instrument.catalog import InstrumentSpec

REQUIRED_LANDMARKS = ("bridge_bass", "bridge_treble", "board_bass", "board_treble")
OPTIONAL_LANDMARKS = (
    "nut_bass", "nut_treble", "lower_bout_bass", "lower_bout_treble",
    "upper_bout_bass", "upper_bout_treble", "end_button", "scroll",
)  # fmt: skip
LANDMARK_NAMES = REQUIRED_LANDMARKS + OPTIONAL_LANDMARKS
LANDMARK_WORDS = {
    "bridge_bass": "bridge, low-string end",
    "bridge_treble": "bridge, high-string end",
    "board_bass": "fingerboard corner, low-string side",
    "board_treble": "fingerboard corner, high-string side",
    "nut_bass": "nut, low-string side",
    "nut_treble": "nut, high-string side",
    "lower_bout_bass": "lower bout, low-string side",
    "lower_bout_treble": "lower bout, high-string side",
    "upper_bout_bass": "upper bout, low-string side",
    "upper_bout_treble": "upper bout, high-string side",
    "end_button": "end button",
    "scroll": "middle of the scroll",
}

# Landmarks of the 4/4 instruments (mm), from memory; the edge of the top plate lies well below the bridge top.
_VIOLIN_LANDMARKS = {
    "lower_bout": (-75.0, 104.0, -45.0), "upper_bout": (130.0, 84.0, -45.0), "end_button": (-160.0, 0.0, -45.0),
}  # fmt: skip
_CELLO_LANDMARKS = {
    "lower_bout": (-159.5, 221.2, -95.7), "upper_bout": (276.5, 178.7, -95.7), "end_button": (-340.3, 0.0, -95.7),
}  # fmt: skip
HALF_OUTLINE = np.array([
    (-160, 0), (-156, 40), (-138, 78), (-110, 99), (-75, 104), (-45, 96), (-22, 74), (0, 62), (30, 56), (55, 60), (80, 74), (105, 83),
    (130, 84), (158, 74), (180, 50), (191, 27), (195, 0),
], float)  # fmt: skip
"""One half of a 4/4 violin's outline (x, y), mm, from memory; its upper end lies at the stop of 195 mm (common practice, no source)."""
STATIONS = {
    "lower shoulder": (-136.0, -112.0), "lower flank": (-98.0, -52.0), "waist": (0.0, 34.0), "upper flank": (110.0, 150.0),
    "upper shoulder": (158.0, 182.0),
}  # fmt: skip
"""Parts of the outline (first and last x of a 4/4 violin, mm) where neither chin nor neck nor corners are in the way."""
BRIDGE = "bridge"


@cache
def _half_edge() -> Callable[[Array], Any]:
    """The outline's y over x, made when it is first asked for."""
    edge: Callable[[Array], Any] = scipy.interpolate.PchipInterpolator(*HALF_OUTLINE.T)
    return edge


def _landmarks(spec: InstrumentSpec) -> dict[str, Array]:
    cello = spec.family == "cello"
    k = spec.body_scale
    half_bridge = 30.0 * k if cello else 20.5 * k
    half_board = 31.0 * k if cello else 21.0 * k
    half_nut = 15.5 * k if cello else 12.0 * k
    drop = (-7.5, -12.0, -3.0) if cello else (-4.5, -7.0, -2.0)
    scroll = (spec.string_length + 160.0 * k, -70.0) if cello else (spec.string_length + 107.0 * k, -32.0)
    out = {}
    for side, s in (("bass", 1.0), ("treble", -1.0)):
        out[f"bridge_{side}"] = np.array([0.0, s * half_bridge, drop[0]])
        out[f"board_{side}"] = np.array([spec.bridge_to_fingerboard, s * half_board, drop[1]])
        out[f"nut_{side}"] = np.array([spec.string_length, s * half_nut, drop[2]])
        for bout in ("lower_bout", "upper_bout"):
            x, y, z = (_CELLO_LANDMARKS if cello else _VIOLIN_LANDMARKS)[bout]
            out[f"{bout}_{side}"] = np.array([x * k, s * y * k, z * k])
    out["end_button"] = np.array((_CELLO_LANDMARKS if cello else _VIOLIN_LANDMARKS)["end_button"]) * k
    out["scroll"] = np.array([scroll[0], 0.0, scroll[1]])
    return out


@dataclass(frozen=True)
class InstrumentModel:
    """Geometry of one instrument; built from its spec, computed once."""

    spec: InstrumentSpec

    @cached_property
    def landmarks(self) -> dict[str, Array]:
        """Landmark name to its place (3,), mm."""
        return _landmarks(self.spec)

    @property
    def relative_size(self) -> float:
        """How much larger the instrument is than a 4/4 violin, by how deep the edge of its top plate lies."""
        return abs(float(self.landmarks["end_button"][2])) / abs(_VIOLIN_LANDMARKS["end_button"][2])

    @property
    def middle(self) -> Array:
        """Middle of the strings (3,), mm."""
        return np.array([0.5 * self.spec.string_length, 0.0, 0.0])

    @cached_property
    def string_y(self) -> tuple[Array, Array]:
        """y of each string at the bridge and at the nut, (4,) each, mm, bass side first."""
        share = np.array([0.5, 1 / 6, -1 / 6, -0.5])
        return self.spec.spread_bridge * share, self.spec.spread_nut * share

    @cached_property
    def string_planes(self) -> Array:
        """Inclination of the bow on each string, (4,), degrees, bass side first: the tangent of the bridge's arch."""
        return np.degrees(np.arcsin(-self.string_y[0] / self.spec.bridge_radius))

    @cached_property
    def stops(self) -> tuple[str, ...]:
        """What a bow can sound: the strings, then the pairs of neighbours ("G+D"), bass side first."""
        names = tuple(self.spec.strings)
        return names + tuple(f"{a}+{b}" for a, b in pairwise(names))

    @cached_property
    def stop_planes(self) -> Array:
        """Inclination of the bow on each of ``stops``, degrees; on a pair it lies along the chord between the two strings."""
        y, _ = self.string_y
        z = np.sqrt(self.spec.bridge_radius**2 - y**2) - self.spec.bridge_radius
        chords = np.degrees(np.arctan2(-np.diff(z), -np.diff(y)))
        return np.concatenate([self.string_planes, chords])

    def string_point(self, string: Array | int, contact: Array | float) -> Array:
        """Place on one of ``stops`` (index) at ``contact`` mm from the bridge: (..., 3), mm; on a pair, midway between the two.

        The arch of the bridge flattens towards the nut; strings are straight between the two.
        """
        yb, yn = self.string_y
        string = np.asarray(string)
        share = np.asarray(contact, float) / self.spec.string_length
        r = self.spec.bridge_radius
        zb = np.sqrt(r**2 - yb**2) - r
        zn = -(yn**2) / (2 * 1.15 * r)
        yb, yn, zb, zn = (np.concatenate([v, 0.5 * (v[1:] + v[:-1])]) for v in (yb, yn, zb, zn))
        y = yb[string] + (yn[string] - yb[string]) * share
        z = zb[string] + (zn[string] - zb[string]) * share
        return np.stack(np.broadcast_arrays(np.asarray(contact, float), y, z), axis=-1)

    def bow_direction(self, angle: Array, inclination: Array) -> Array:
        """Unit vector from frog to head, (..., 3), for ``bow_angle`` and ``inclination`` in degrees.

        Positive angle = tip towards the scroll (+x). The frog is on the treble side for violin and viola, on the bass
        side for the cello.
        """
        a, th = np.radians(angle), np.radians(inclination)
        side = -float(self.spec.frog_side)
        return np.stack(np.broadcast_arrays(np.sin(a), side * np.cos(a) * np.cos(th), side * np.cos(a) * np.sin(th)), axis=-1)

    def bow_direction_slopes(self, angle: Array, inclination: Array) -> Array:
        """How ``bow_direction`` moves with angle and inclination: (..., 3, 2) per degree."""
        a, th = np.radians(angle), np.radians(inclination)
        side = -float(self.spec.frog_side)
        by_angle = np.stack([np.cos(a), -side * np.sin(a) * np.cos(th), -side * np.sin(a) * np.sin(th)], axis=-1)
        by_lean = np.stack([0 * a, -side * np.cos(a) * np.sin(th), side * np.cos(a) * np.cos(th)], axis=-1)
        return np.asarray(np.radians(np.stack([by_angle, by_lean], axis=-1)))

    @property
    def _body(self) -> float:
        """How much larger the body is than a 4/4 violin's."""
        return self.spec.body_scale * (2.127 if self.spec.family == "cello" else 1.0)

    @cached_property
    def outline(self) -> Array:
        """Edge of the top plate as a closed polygon (n, 3), mm: enough for the eye and for a mask."""
        both = np.vstack([HALF_OUTLINE, HALF_OUTLINE[-2:0:-1] * [1, -1]]) * self._body
        z = self.landmarks["end_button"][2]
        return np.column_stack([both, np.full(len(both), z)])

    def bridge_top(self, y: Array) -> Array:
        """Places (n, 3) mm along the arched top of the bridge, at ``y`` (n,) mm."""
        r = self.spec.bridge_radius
        return np.column_stack([np.zeros(len(y)), y, np.sqrt(r**2 - np.square(y)) - r])

    def edge(self, station: str, side: int, count: int = 1) -> Array:
        """``count`` places (count, 3) mm along an edge, or its middle: one of ``STATIONS`` of the plate, or half of the bridge's top
        (``BRIDGE``); ``side``: 1 bass, -1 treble."""
        if station == BRIDGE:
            half = float(self.landmarks["bridge_bass"][1])
            return self.bridge_top(side * (np.linspace(0.05, 0.95, count) if count > 1 else np.array([0.5])) * half)
        first, last = STATIONS[station]
        x = np.linspace(first, last, count) if count > 1 else np.array([0.5 * (first + last)])
        y = side * _half_edge()(x)
        return np.column_stack([x * self._body, y * self._body, np.full(count, self.landmarks["end_button"][2])])

    @cached_property
    def board(self) -> Array:
        """Fingerboard as a polygon (4, 3), mm: end corners, then nut corners."""
        lm = self.landmarks
        return np.array([lm["board_bass"], lm["nut_bass"], lm["nut_treble"], lm["board_treble"]])
