"""The edge of the top plate in the picture, at the parts of its outline that neither hand nor chin nor neck usually hides.

The plate lies far below the strings, so that its middle moves sideways under them as the instrument rolls; and how long the body looks
against its width tells how the instrument is turned. Frames from all over the take are turned back to how the marked frame saw the plate;
in their median, without bow and hand, a step runs along the outline. Of the place along an edge nothing is told. Bodies are shaped
otherwise from maker to maker, but alike on both sides.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.pose import LandmarkFit
from dolcezza.core.camera.seen import SeenOutline
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.tracking.strings_seen import Sample, clean_part

SAMPLES = 41
STEP_PX = 0.25
SIDE_MM, LEAST_SIDE_PX = 3.5, 2.0
"""An edge is a step between what lies so near to its two sides."""
REACH_SD, LEAST_REACH_PX, MOST_REACH_PX = 3.0, 2.0, 30.0
BODY_SD = 0.018
SHAPE_SD_MM = {"lower flank": 1.0, "upper flank": 1.0, "waist": 2.0, "upper shoulder": 2.0, "lower shoulder": 2.0}
"""How far the edge of a body of one size lies from the table's, alike on both sides, 4/4 violin (one sd, from memory). The flanks come
first: they are seldom hidden."""
PLACE_SD_MM = np.array([2.5, 0.7, 1.5])
"""How far the body lies from its place against bridge and strings: along them, across, in depth (one sd, from memory)."""
FLANKS = ("lower flank", "upper flank")
UNLIKE_SD_MM, EDGE_SD_PX = 0.5, 0.6
"""How far the two sides differ, and what is left of error in an edge (one sd)."""
LEAST_STEP, LEAST_ALIKE = 6.0, 0.75
"""Grey levels by which both sides must differ, and the share of places along the edge where they do to the same side."""
LEAST_SEEN = 0.6
"""Share of an edge's places that must lie in the picture."""
LEAST_PX_MM = 0.15
"""An edge that is seen along the plate (px for a mm of it) tells nothing."""
BESIDE_SD, OFTEN_HIDDEN_SD = 2.5, 1.8
"""An edge that lies so far beside where the others have it (sd) is another thing's; the second where hands, sleeves and chins are near."""
UNSURE = 0.7
"""An edge whose own sd is more than this share of how well the others know its place tells nothing."""


@dataclass(frozen=True)
class _Look:
    """One station in the picture: its middle ``xy`` (2,) px, the edge's unit ``normal`` (2,) outwards, ``px_mm`` of the plate across it;
    steps at ``offsets`` (k,) px outwards of the middle, how strong each is (k,); ``gain`` (16,): px by what is open (``_open``)."""

    station: tuple[str, int]
    xy: Array
    normal: Array
    px_mm: float
    offsets: Array
    strengths: Array
    gain: Array


@dataclass(frozen=True)
class _Edge:
    """The step of a look that is the edge: its offset and sd for itself, px."""

    look: _Look
    offset_px: float
    own_sd_px: float


def see_outline(model: InstrumentModel, fit: LandmarkFit, samples: Sequence[Sample], *, scale_px: float) -> SeenOutline | None:
    """The outline as the marked frame of ``fit`` sees it, where an edge is plain; None where there is none."""
    stations = [(name, side) for name in SHAPE_SD_MM for side in (1, -1)]
    places = [model.edge(name, side, SAMPLES) for name, side in stations]
    if not samples:
        return None
    size = abs(float(places[0][0, 2])) / 45.0
    picture, corner = clean_part(fit.camera, samples, np.concatenate(places), float(places[0][0, 2]))
    known = _open(fit, size)
    looks = [_look(fit, picture, corner, s, p, known, scale_px) for s, p in zip(stations, places, strict=True)]
    edges = _alike(_edges([look for look in looks if look is not None], known, size, scale_px), known, size)
    if not edges:
        return None
    return SeenOutline(
        tuple(e.look.station for e in edges), np.array([e.look.xy + e.offset_px * e.look.normal for e in edges]),
        np.array([e.look.normal for e in edges]), _covariance(edges, known, size),
    )  # fmt: skip


POSE, SIZE, PLACE, SHAPE = slice(0, 7), 7, slice(8, 11), slice(11, 16)


def _open(fit: LandmarkFit, size: float) -> Array:
    """What is open before the edges are seen, (16, 16): pose and logarithm of the focal length, that of the body's size, its place against
    the strings (mm), its shape at each kind of station (mm)."""
    out = np.zeros((16, 16))
    out[POSE, POSE] = fit.covariance
    out[SIZE, SIZE] = BODY_SD**2
    sd = size * np.concatenate([PLACE_SD_MM, list(SHAPE_SD_MM.values())])
    out[PLACE.start :, PLACE.start :] = np.diag(sd**2)
    return out


def _own_variance(look: _Look, own_sd_px: float, size: float) -> float:
    return float(own_sd_px**2 + (UNLIKE_SD_MM * size * look.px_mm) ** 2)


def _covariance(edges: Sequence[_Edge], known: Array, size: float) -> Array:
    """Of the edges' offsets (m, m) px^2, whatever pose and size: each for itself, and what the body's place and shape do to all."""
    gain = np.array([e.look.gain for e in edges])[:, PLACE.start :]
    own = [_own_variance(e.look, e.own_sd_px, size) for e in edges]
    return np.asarray(np.diag(own) + gain @ known[PLACE.start :, PLACE.start :] @ gain.T)


def _edges(looks: Sequence[_Look], known: Array, size: float, scale_px: float) -> list[_Edge]:
    """Which step is the edge, station by station: each is looked for where the ones before it have it."""
    values, covariance, out = np.zeros(len(known)), known, []
    for look in looks:
        there, sd = float(look.gain @ values), float(np.sqrt(look.gain @ covariance @ look.gain))
        beside = BESIDE_SD if look.station[0] in FLANKS else OFTEN_HIDDEN_SD
        near = np.abs(look.offsets - there) < beside * np.hypot(sd, EDGE_SD_PX * scale_px)
        if not near.any():
            continue
        likely = look.strengths[near] ** 2 * np.exp(-0.5 * ((look.offsets[near] - there) / sd) ** 2)
        likely /= likely.sum()
        offset = float(likely @ look.offsets[near])
        own = float(np.hypot(EDGE_SD_PX * scale_px, np.sqrt(likely @ (look.offsets[near] - offset) ** 2)))
        if own > max(UNSURE * sd, 1.01 * EDGE_SD_PX * scale_px):
            continue
        out.append(_Edge(look, offset, own))
        pull = covariance @ look.gain / (sd**2 + _own_variance(look, own, size))
        values, covariance = values + pull * (offset - there), covariance - np.outer(pull, look.gain @ covariance)
    return out


def _alike(edges: list[_Edge], known: Array, size: float) -> list[_Edge]:
    """The edges without those that the others contradict, the worst first."""
    while edges:
        gain = np.array([e.look.gain for e in edges])
        own = [_own_variance(e.look, e.own_sd_px, size) for e in edges]
        inverse = np.linalg.inv(gain @ known @ gain.T + np.diag(own))
        beside = np.abs(inverse @ [e.offset_px for e in edges]) / np.sqrt(inverse.diagonal())
        if beside.max() <= BESIDE_SD:
            break
        edges = [e for k, e in enumerate(edges) if k != int(beside.argmax())]
    return edges


def _look(
    fit: LandmarkFit, picture: Array, corner: Array, station: tuple[str, int], edge: Array, known: Array, scale_px: float
) -> _Look | None:
    """The steps across one station of the plate's ``edge`` (SAMPLES, 3) mm near where the pose has it; None where none is plain."""
    size = abs(float(edge[0, 2])) / 45.0
    xy = fit.camera.project(edge)
    normal, px_mm = _outwards(fit.camera, edge, xy, station[1])
    if px_mm < LEAST_PX_MM * scale_px:
        return None
    place, middle, across = edge[SAMPLES // 2], xy[SAMPLES // 2], normal[SAMPLES // 2]
    by_place = (fit.camera.project(place + np.eye(3)) - middle) @ across
    by_shape = np.where(np.array(list(SHAPE_SD_MM)) == station[0], px_mm, 0.0)
    gain = np.concatenate([_gain(fit.camera, place) @ across, by_place, by_shape])
    reach = float(np.clip(REACH_SD * np.sqrt(gain @ known @ gain), LEAST_REACH_PX * scale_px, MOST_REACH_PX * scale_px))
    width = round(max(SIDE_MM * size * px_mm, LEAST_SIDE_PX * scale_px) / STEP_PX)
    shift = STEP_PX * np.arange(-round(reach / STEP_PX), round(reach / STEP_PX) + 1)
    wide = shift[0] + STEP_PX * (np.arange(len(shift) + 2 * width - 1) - width + 0.5)
    at = (xy[:, None] - corner + normal[:, None] * wide[None, :, None] - 0.5).astype(np.float32)
    there = ((at >= 0) & (at <= np.array(picture.shape[::-1]) - 1)).all(axis=(1, 2))
    if there.mean() < LEAST_SEEN:
        return None
    step = _steps(cv2.remap(picture, at[there, :, 0], at[there, :, 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE), width)
    usual = np.median(step, axis=0)
    strength, alike = np.abs(usual), (np.sign(step) == np.sign(usual)).mean(axis=0)
    inner = strength[1:-1]
    peak = (inner >= strength[:-2]) & (inner > strength[2:]) & (inner >= LEAST_STEP) & (alike[1:-1] >= LEAST_ALIKE)
    at_peak = np.flatnonzero(peak) + 1
    return _Look(station, middle, across, px_mm, shift[at_peak], strength[at_peak], gain) if len(at_peak) else None


def _outwards(camera: Camera, edge: Array, xy: Array, side: int) -> tuple[Array, float]:
    """Unit normals (SAMPLES, 2) of an edge in the picture, away from the plate, and how many px across it a mm of the plate is."""
    way = np.gradient(xy, axis=0)
    normal = np.column_stack([-way[:, 1], way[:, 0]]) / np.linalg.norm(way, axis=1, keepdims=True)
    run = edge[-1] - edge[0]
    outer = side * np.array([-run[1], run[0], 0.0]) / np.linalg.norm(run)
    moved = camera.project(edge[SAMPLES // 2] + outer) - xy[SAMPLES // 2]
    normal = normal if moved @ normal[SAMPLES // 2] >= 0 else -normal
    return normal, float(moved @ normal[SAMPLES // 2])


def _steps(profile: Array, width: int) -> Array:
    """By how much brighter the outer than the inner ``width`` samples are about each place of profiles (m, n + 2 width - 1): (m, n)."""
    total = np.cumsum(np.pad(profile.astype(float), ((0, 0), (1, 0))), axis=1)
    sums = (total[:, width:] - total[:, :-width]) / width
    return np.asarray(sums[:, width:] - sums[:, :-width])


def _gain(camera: Camera, place: Array) -> Array:
    """How a place (3,) mm of the plate moves in the picture with pose, logarithm of the focal length and of the body's size: (8, 2) px."""
    base, rows = camera.project(place), []
    for k, step in enumerate([1e-4] * 3 + [0.05] * 3 + [1e-4]):
        by = step * np.eye(7)[k]
        moved = Camera(camera.rvec + by[:3], camera.tvec + by[3:6], camera.focal * float(np.exp(by[6])), camera.center)
        rows.append((moved.project(place) - base) / step)
    return np.array([*rows, (camera.project(place * 1.001) - base) / 0.001])
