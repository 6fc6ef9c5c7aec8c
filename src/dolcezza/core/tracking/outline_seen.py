"""The edge of the top plate in the picture, at the parts of its outline that neither hand nor chin nor neck usually hides.

The plate lies far below the strings, so that its middle moves sideways under them as the instrument rolls; and how long the body looks
against its width tells how the instrument is turned. Frames from all over the take are turned back to how the marked frame saw the plate;
in their median, without bow and hand, a step runs along the outline. Of the place along an edge nothing is told. Bodies are shaped
otherwise from maker to maker, but alike on both sides.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import product

import cv2
import numpy as np
import scipy

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.pose import LandmarkFit
from dolcezza.core.camera.seen import SeenEdge
from dolcezza.core.camera.unknowns import LENGTH_SD
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.tracking.steps import edge_normals, moves, steps_across
from dolcezza.core.tracking.strings_seen import Sample, clean_part

SAMPLES = 41
SIDE_MM, LEAST_SIDE_PX = 3.5, 2.0
"""An edge is a step between what lies so near to its two sides."""
REACH_SD, LEAST_REACH_PX, MOST_REACH_PX = 3.0, 2.0, 30.0
SHAPE_SD_MM = {"lower flank": 1.0, "upper flank": 1.0, "waist": 2.0, "upper shoulder": 2.0, "lower shoulder": 2.0}
"""How far the edge of a body of one size lies from the table's, alike on both sides, 4/4 violin (one sd, from memory). The flanks come
first: they are seldom hidden."""
PLACE_SD_MM = np.array([2.5, 0.7, 1.5, 1.5])
"""How far the body lies from its place against bridge and strings, along them, across and in depth; and how far inside its edge a step runs
all around, at the purfling (one sd, from memory)."""
FLANKS = ("lower flank", "upper flank")
UNLIKE_SD_MM, EDGE_SD_PX = 0.5, 0.6
"""How far the two sides differ, and what is left of error in an edge (one sd)."""
LEAST_PX_MM = 0.15
"""An edge that is seen along the plate (px for a mm of it) tells nothing."""
OTHER_FLANK, OTHER = 0.15, 0.4
"""How often the step that is seen is another thing's: at the flanks, and where hands, sleeves and chins are near."""
BOARD_DEEP_MM, MOST_HIDDEN = 12.0, 0.3
"""How thick fingerboard and neck are together under the strings, 4/4 violin, from memory; a station of which they hide more than this share
is not looked at."""
LEAST_HEIGHT_DEG = 12.0
"""From lower over the plate the left hand, the neck, the arched top and the ribs stand before its edges: what is seen there is theirs."""
TRIED = 4
"""So many of the plainest steps at each flank are tried with all of the other flanks'."""
STARTS = 12
"""So many of the likeliest choices at the flanks are carried on to all stations."""
RIVAL, RIVAL_SD, LEAST_SURE = 4.0, 2.0, 5
"""Another choice that is less likely by no more than this (logarithm), and by which the instrument lies so many sd elsewhere, is a rival:
only what both have alike is told, if that is so many edges."""


@dataclass(frozen=True)
class _Look:
    """One station in the picture: its middle ``xy`` (2,) px, the edge's unit ``normal`` (2,) outwards, ``px_mm`` of the plate across it;
    steps at ``offsets`` (k,) px outwards of the middle, no farther than ``reach_px``, how strong each is (k,); ``gain`` (17,): px by what
    is open (``_open``)."""

    station: tuple[str, int]
    xy: Array
    normal: Array
    px_mm: float
    offsets: Array
    strengths: Array
    reach_px: float
    gain: Array


def see_outline(model: InstrumentModel, fit: LandmarkFit, samples: Sequence[Sample], *, scale_px: float) -> SeenEdge | None:
    """The outline as the marked frame of ``fit`` sees it, where an edge is plain; None where there is none."""
    stations = [(name, side) for name in SHAPE_SD_MM for side in (1, -1)]
    places = [model.edge(name, side, SAMPLES) for name, side in stations]
    if not samples or _height_deg(fit.camera, np.concatenate(places)) < LEAST_HEIGHT_DEG:
        return None
    size = model.relative_size
    picture, corner = clean_part(fit.camera, samples, np.concatenate(places), float(places[0][0, 2]))
    known = _open(fit, size)
    board = _board(model, fit.camera)
    free = [(s, p) for s, p in zip(stations, places, strict=True) if not _behind(board, fit.camera.project(p))]
    each = [_look(fit, picture, corner, s, p, known, size, scale_px) for s, p in free]
    looks = [look for look in each if look is not None]
    if not looks:
        return None
    chosen = _chosen(looks, known, size, scale_px)
    if not chosen:
        return None
    seen = [looks[k] for k in chosen]
    points = np.array([look.xy + look.offsets[at] * look.normal for look, at in zip(seen, chosen.values(), strict=True)])
    gain = np.array([look.gain for look in seen])[:, BODY]
    covariance = _own(seen, size, scale_px) + gain @ known[BODY, BODY] @ gain.T
    return SeenEdge(tuple(look.station for look in seen), points, np.array([look.normal for look in seen]), covariance)


def _height_deg(camera: Camera, places: Array) -> float:
    """How high over the plate of places (n, 3) mm the camera stands, seen from its middle."""
    way = camera.place - places.mean(axis=0)
    return float(np.degrees(np.arcsin(way[2] / np.linalg.norm(way))))


def _board(model: InstrumentModel, camera: Camera) -> Array:
    """What the fingerboard with the strings hides in the picture: corners (n, 2) px."""
    under = model.board - np.array([0.0, 0.0, BOARD_DEEP_MM * model.relative_size])
    return np.asarray(cv2.convexHull(camera.project(np.vstack([model.board, under])).astype(np.float32))[:, 0])


def _behind(hull: Array, xy: Array) -> bool:
    """Whether more of places (n, 2) px than is left out lies within a hull (m, 2) px."""
    return float(np.mean([cv2.pointPolygonTest(hull, (float(x), float(y)), False) >= 0 for x, y in xy])) > MOST_HIDDEN


POSE, SIZE, BODY = slice(0, 7), 7, slice(8, 17)


def _open(fit: LandmarkFit, size: float) -> Array:
    """What is open before the edges are seen, (17, 17): pose and logarithm of the focal length, that of the body's size, its place against
    the strings and how far inside its edge the step runs (mm), its shape at each kind of station (mm)."""
    out = np.zeros((17, 17))
    out[POSE, POSE] = fit.covariance
    out[SIZE, SIZE] = LENGTH_SD["body_scale"] ** 2
    sd = size * np.concatenate([PLACE_SD_MM, list(SHAPE_SD_MM.values())])
    out[BODY, BODY] = np.diag(sd**2)
    return out


def _own(looks: Sequence[_Look], size: float, scale_px: float) -> Array:
    """What each edge has of error for itself, (m, m) px^2."""
    return np.diag([(EDGE_SD_PX * scale_px) ** 2 + (UNLIKE_SD_MM * size * look.px_mm) ** 2 for look in looks])


def _chosen(looks: Sequence[_Look], known: Array, size: float, scale_px: float) -> dict[int, int]:
    """Which step of which look is the plate's edge, so that all of them are likely together; the other looks show something else. From the
    likeliest of all choices at the flanks, one after the other is added, exchanged or left out while that makes it likelier."""
    gain = np.array([look.gain for look in looks])
    spread = gain @ known @ gain.T + _own(looks, size, scale_px)
    other = [np.log(OTHER_FLANK if look.station[0] in FLANKS else OTHER) - np.log(2 * look.reach_px) for look in looks]
    weight = [np.log(look.strengths**2 / (look.strengths**2).sum()) for look in looks]

    def likely(choice: dict[int, int]) -> float:
        rows = sorted(choice)
        off = np.array([looks[k].offsets[choice[k]] for k in rows])
        own = np.linalg.cholesky(spread[np.ix_(rows, rows)])
        white = scipy.linalg.solve_triangular(own, off, lower=True) if rows else off
        told = -0.5 * white @ white - np.log(own.diagonal()).sum() - 0.5 * len(rows) * np.log(2 * np.pi)
        return float(told + sum(weight[k][choice[k]] for k in rows) + sum(w for k, w in enumerate(other) if k not in choice))

    flanks = [k for k, look in enumerate(looks) if look.station[0] in FLANKS]
    plainest = [[None, *np.argsort(-weight[k])[:TRIED].tolist()] for k in flanks]
    starts = [{k: at for k, at in zip(flanks, each, strict=True) if at is not None} for each in product(*plainest)]
    starts.sort(key=likely, reverse=True)
    found: list[tuple[float, dict[int, int]]] = []
    for start in starts[:STARTS]:
        best, score = start, likely(start)
        while True:
            others = [{k: v for k, v in best.items() if k != out} for out in best]
            others += [{**best, k: at} for k, look in enumerate(looks) for at in range(len(look.offsets)) if best.get(k) != at]
            scores = [likely(choice) for choice in others]
            if not scores or max(scores) <= score + 1e-9:
                break
            best, score = others[int(np.argmax(scores))], max(scores)
        found.append((score, dict(sorted(best.items()))))
    return _without_rival(found, looks, known, spread)


def _without_rival(found: Sequence[tuple[float, dict[int, int]]], looks: Sequence[_Look], known: Array, spread: Array) -> dict[int, int]:
    """The likeliest choice, without what another one, nearly as likely, has otherwise, if by that the instrument lies elsewhere."""
    score, best = max(found, key=lambda f: f[0])
    at, sd = _pose(best, looks, known, spread)
    sure = best
    for other, choice in found:
        beside = np.abs(_pose(choice, looks, known, spread)[0] - at)[POSE] / np.maximum(sd[POSE], 1e-12)
        if other > score - RIVAL and beside.max() > RIVAL_SD:
            sure = {k: v for k, v in sure.items() if choice.get(k) == v}
    return sure if len(sure) == len(best) or len(sure) >= LEAST_SURE else {}


def _pose(choice: Mapping[int, int], looks: Sequence[_Look], known: Array, spread: Array) -> tuple[Array, Array]:
    """What a choice tells of all that is open (17,), and how well (one sd)."""
    rows = list(choice)
    if not rows:
        return np.zeros(len(known)), np.sqrt(known.diagonal())
    gain = np.array([looks[k].gain for k in rows])
    pull = known @ gain.T @ np.linalg.inv(spread[np.ix_(rows, rows)])
    left = (known - pull @ gain @ known).diagonal()
    return pull @ np.array([looks[k].offsets[choice[k]] for k in rows]), np.sqrt(np.maximum(left, 0.0))


def _look(
    fit: LandmarkFit, picture: Array, corner: Array, station: tuple[str, int], edge: Array, known: Array, size: float, scale_px: float
) -> _Look | None:  # fmt: skip
    """The steps across one station of the plate's ``edge`` (SAMPLES, 3) mm near where the pose has it; None where none is plain."""
    xy = fit.camera.project(edge)
    normal, px_mm = _outwards(fit.camera, edge, xy, station[1])
    if px_mm < LEAST_PX_MM * scale_px:
        return None
    place, middle, across = edge[SAMPLES // 2], xy[SAMPLES // 2], normal[SAMPLES // 2]
    by_place = (fit.camera.project(place + np.eye(3)) - middle) @ across
    by_shape = np.where(np.array(list(SHAPE_SD_MM)) == station[0], px_mm, 0.0)
    by_size = (fit.camera.project(place * 1.001) - middle) @ across / 0.001
    gain = np.concatenate([moves(fit.camera, place) @ across, [by_size], by_place, [px_mm], by_shape])
    reach = float(np.clip(REACH_SD * np.sqrt(gain @ known @ gain), LEAST_REACH_PX * scale_px, MOST_REACH_PX * scale_px))
    side = max(SIDE_MM * size * px_mm, LEAST_SIDE_PX * scale_px)
    steps = steps_across(picture, xy - corner, normal, reach_px=reach, side_px=side)
    return _Look(station, middle, across, px_mm, steps.offsets, np.abs(steps.rises), reach, gain) if len(steps.offsets) else None


def _outwards(camera: Camera, edge: Array, xy: Array, side: int) -> tuple[Array, float]:
    """Unit normals (SAMPLES, 2) of an edge in the picture, away from the plate, and how many px across it a mm of the plate is."""
    run = edge[-1] - edge[0]
    outer = side * np.array([-run[1], run[0], 0.0]) / np.linalg.norm(run)
    moved = camera.project(edge[SAMPLES // 2] + outer) - xy[SAMPLES // 2]
    normal = edge_normals(xy, moved)
    return normal, float(moved @ normal[SAMPLES // 2])
