"""Where the bridge stands along the strings: the contact point is told from there.

Whoever looks along the strings sees one face of the bridge, and beyond its arched top what lies far behind it. Bridges are left bare of
varnish, lighter than plate and tailpiece: the face ends in a step of grey, all along the top but where strings pass over it.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.pose import LandmarkFit
from dolcezza.core.camera.seen import SeenEdge
from dolcezza.core.instrument.model import BRIDGE, InstrumentModel
from dolcezza.core.tracking.steps import edge_normals, moves, seen_by, steps_across
from dolcezza.core.tracking.strings_seen import BOARD_LEVEL_MM, Sample, string_marks, turned_back

SAMPLES = 41
SIDE_MM, LEAST_SIDE_PX = 2.5, 1.5
"""The top of the bridge is a step between what lies so near to its two sides."""
STRING_MM = 1.6
"""So near to a string the string is seen, and not the bridge."""
REACH_SD, LEAST_REACH_PX, MOST_REACH_PX = 2.5, 2.0, 15.0
TOP_MM = 0.7
"""Half of the thickness of a 4/4 violin bridge's top, from memory: its far edge lies so far beyond where the strings end."""
EDGE_SD_MM, HALF_SD_MM, EDGE_SD_PX = 0.7, 0.4, 0.6
"""How far that edge lies elsewhere, all of it and each half for itself, and what is left of error in it (one sd)."""
LEAST_PX_MM = 0.32
"""The picture's own pixels to a mm along the strings, for a bridge of 4/4 size: where there are fewer its top, its feet, hair and stick run
into one another."""
GAP_SD = 0.025
"""How far the bridge may stand elsewhere because it is nearer to the fingerboard, or farther from it, than the table has it (share)."""
UNSURE = 0.7
"""An edge whose own sd is more than this share of how well its place is known tells nothing."""
OFTEN = 0.5
"""A step that fewer of the take's frames show (share) is a hand's or the bow's, though it stands in the median of all."""
LEAST_SLANT, MOST_SLANT = 0.25, 2.0
"""Seen from less far along the strings for its height, a bridge shows its feet, thicker than its top; from farther, the bow stands before
it, which is 20 to 30 mm high, stick and hair, where it bows 30 to 50 mm away, and always in one place of the picture."""


def see_bridge(model: InstrumentModel, fit: LandmarkFit, samples: Sequence[Sample], *, scale_px: float) -> SeenEdge | None:
    """The top of the bridge as the marked frame of ``fit`` sees it, each half for itself; None where it is not plain."""
    size = model.relative_size
    along, _, height = fit.camera.place
    if not samples or not LEAST_SLANT * height <= abs(along) <= MOST_SLANT * height:
        return None
    views, corner = turned_back(fit.camera, samples, string_marks(model), BOARD_LEVEL_MM)
    each = [_half(model, fit, views, corner, side, float(np.sign(along)), size, scale_px) for side in (1, -1)]
    found = [half for half in each if half is not None]
    if not found:
        return None
    px_mm = np.array([h[3] for h in found])
    own = np.array([h[4] for h in found]) ** 2 + (HALF_SD_MM * size * px_mm) ** 2
    return SeenEdge(
        tuple((BRIDGE, h[0]) for h in found), np.array([h[1] for h in found]), np.array([h[2] for h in found]),
        np.diag(own) + (EDGE_SD_MM * size) ** 2 * np.outer(px_mm, px_mm),
    )  # fmt: skip


def _half(
    model: InstrumentModel, fit: LandmarkFit, views: Array, corner: Array, side: int, towards: float, size: float, scale_px: float
) -> tuple[int, Array, Array, float, float] | None:
    """One half of the bridge: its side, place (2,) px, normal (2,) towards the nut, px to a mm along the strings, own sd px."""
    top = model.edge(BRIDGE, side, SAMPLES)
    xy = fit.camera.project(top)
    step = fit.camera.project(top + np.array([1.0, 0.0, 0.0])) - xy
    normal = edge_normals(xy, step)
    middle = SAMPLES // 2
    across, px_mm = normal[middle], float(step[middle] @ normal[middle])
    if size * px_mm < LEAST_PX_MM:
        return None
    gain = moves(fit.camera, top[middle]) @ across
    other_mm = np.hypot(EDGE_SD_MM * size, GAP_SD * model.spec.bridge_to_fingerboard)
    expected = float(np.hypot(np.sqrt(gain @ fit.covariance @ gain), other_mm * px_mm))
    free = np.abs(top[:, 1:2] - model.string_y[0][None]).min(axis=1) > STRING_MM * size
    there, way = xy[free] - corner, normal[free]
    side_px = max(SIDE_MM * size * px_mm, LEAST_SIDE_PX * scale_px)
    reach = float(np.clip(REACH_SD * expected, LEAST_REACH_PX * scale_px, MOST_REACH_PX * scale_px))
    steps = steps_across(np.median(views, axis=0).astype(np.float32), there, way, side_px=side_px, reach_px=reach)
    edges = [
        (offset, rise)
        for offset, rise in zip(steps.offsets, steps.rises, strict=True)
        if rise * towards > 0 and seen_by(views, there + offset * way, way, rise, side_px=side_px) >= OFTEN
    ]
    if not edges:
        return None
    offsets, rises = np.array(edges).T
    offsets = offsets + towards * TOP_MM * size * px_mm
    likely = rises**2 * np.exp(-0.5 * (offsets / expected) ** 2)
    likely /= likely.sum()
    offset = float(likely @ offsets)
    # what blurs an edge is no smaller in a smaller picture
    least = EDGE_SD_PX * max(scale_px, 1.0)
    own = float(np.hypot(least, np.sqrt(likely @ (offsets - offset) ** 2)))
    if own > max(UNSURE * expected, 1.01 * least):
        return None
    return side, xy[middle] + offset * across, across, px_mm, own
