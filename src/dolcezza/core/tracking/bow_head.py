"""The bow's head as a second witness of where the hair ends.

Before what is as bright as hair its end is not seen; but there the head's dark wood is, which goes on in the hair's line. Before what is
dark the head is not seen; but there the hair is. How dark the heads of a take are against its hair is learnt from the take; and it is
believed if the ends then move more like a bow's.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.tracking.bow_line import RIDGE_FLOOR, Candidate
from dolcezza.core.tracking.end_path import MOST_FRAME_COST, PICTURE_EDGE_SAMPLES, SAMPLE_COST, best_path, near_path, roughness

ENOUGH_ROOM = 20.0
"""Grey levels of possible contrast from which the hair alone decides."""
HEAD_SAMPLES, USUAL_HEAD_SAMPLES, MOST_HEAD_SAMPLES = 3, 8, 14
"""The head's dark wood goes on where the hair ends, for so many samples at least, usually, and at most."""
PLAINLY = 0.78
"""Hair would be seen for certain where so much of its usual contrast (share) is possible."""
LEAST_DARK, LEAST_DARK_PLAIN = 20.0, 12.0
"""A take whose heads stand out darker than their surroundings by less (grey levels) has none that helps: where they show most, and where
hair ends plainly, before what is dark itself."""
MOST_DARK = 70.0
"""A head is hardly seen darker than this (grey levels): what is compared with it beside it is head, too."""
MAY_END, USUAL_PERCENT = 0.7, 75.0
"""Where the hair speaks against its end with less than this share of what a frame may weigh, it may end; of the darkest places there, this
per cent of the frames have a lighter one."""
FEWEST_FRAMES, BESIDE_SAMPLES = 10, 3
HEAD_SHOWN, NO_HEAD = 0.5, 3.0
"""What it costs at most to end where a dark head shows, whatever hides the hair before it; and what it costs to end where none shows before
a bright wall, on which it would show."""
SMOOTHER, LEAST_SMOOTHER = 0.75, 0.1
"""By heads the ends must move so much more like a bow's (share, and roughness)."""
ALWAYS, LITTLE_AGAINST, HARDLY_ROUGHER = 0.85, 1.0, 0.03
"""Or heads must show in so many of the frames in which they would (share), while a frame's hair has no more than this against them and the
ends move hardly less like a bow's."""


@dataclass(frozen=True, eq=False)
class Ahead:
    """A ``line`` and what follows each of its m samples, worked out when it is first asked for."""

    line: Candidate

    @cached_property
    def dark(self) -> Array:
        """How much darker than its surroundings (grey levels) is what begins after each sample (m,)."""
        return _darkness(self.line.strip)

    @cached_property
    def room(self) -> Array:
        """Mean room (m,) where a head would follow each sample."""
        return np.asarray(_after(self.line.room, HEAD_SAMPLES).mean(axis=1))

    @cached_property
    def least_room(self) -> Array:
        """Least room (m,) where a usual head would follow each sample."""
        return np.asarray(_after(self.line.room, USUAL_HEAD_SAMPLES).min(axis=1))

    @cached_property
    def plainly(self) -> float:
        """Room (grey levels) from which hair would be seen for certain."""
        strip = self.line.strip.astype(np.float32)
        clear = strip[strip > RIDGE_FLOOR]
        return max(PLAINLY * float(np.percentile(clear, 60)) if len(clear) else 0.0, ENOUGH_ROOM)


def _darkness(strip: Array) -> Array:
    """How much darker than its surroundings (grey levels) is what begins after each sample (m,), where it is as long as a head and no
    longer."""
    dark = -strip.astype(np.float32)
    m = len(dark)
    sums = np.concatenate([[0.0], np.cumsum(dark)])
    ends = np.minimum(np.arange(1, m + 1) + HEAD_SAMPLES, m)
    mean = (sums[ends] - sums[np.minimum(np.arange(1, m + 1), m)]) / HEAD_SAMPLES
    far = np.minimum(np.arange(1, m + 1) + MOST_HEAD_SAMPLES, m)
    after = np.minimum(far + HEAD_SAMPLES, m)
    beyond = (sums[after] - sums[far]) / HEAD_SAMPLES
    begins = mean - np.maximum(0.5 * (dark + np.concatenate([dark[:1], dark[:-1]])), 0.0)
    return np.asarray(np.where(beyond < 0.4 * mean, np.maximum(begins, 0.0), 0.0))


def _after(room: Array, samples: int) -> Array:
    """The room (m, samples) that follows each sample."""
    padded = np.concatenate([room.astype(np.float32), np.full(samples, float(room[-1]), np.float32)])
    return np.lib.stride_tricks.sliding_window_view(padded, samples)[1:]


def _head_depths(lines: Mapping[int, Ahead], costs: Array, zeros: Array, limits: Array) -> list[float]:
    """By how much the heads of a take may be darker than its hair (grey levels): where hair ends plainly, and where it may end."""
    plain, may = [], []
    for k, ahead in lines.items():
        line = ahead.line
        size = min(int(limits[k]), len(line.strip) - int(zeros[k]))
        if size <= MOST_HEAD_SAMPLES:
            continue
        part = slice(zeros[k], zeros[k] + size)
        dark, after, room = ahead.dark[part], ahead.room[part], line.room[part].astype(np.float32)
        end = int(costs[k, :size].argmin())
        beyond = room[end + 1 : end + 1 + MOST_HEAD_SAMPLES]
        if len(beyond) == MOST_HEAD_SAMPLES and beyond.min() > ahead.plainly:
            at = max(0, end - 1) + int(dark[max(0, end - 1) : end + 2].argmax())
            plain.append((dark[at], after[at] + dark[at]))
        at = int(np.where(costs[k, :size] < MAY_END * MOST_FRAME_COST, dark, 0.0).argmax())
        may.append((dark[at], after[at] + dark[at]))
    out = []
    for seen, percent, least in ((plain, 50.0, LEAST_DARK_PLAIN), (may, USUAL_PERCENT, LEAST_DARK)):
        if len(seen) >= FEWEST_FRAMES:
            dark, depth = np.percentile(np.array(seen), percent, axis=0)
            out += [float(depth)] if dark >= least else []
    return out


def _head_shows(ahead: Ahead, part: slice, depth: float, most: float = np.inf) -> tuple[Array, Array]:
    """Whether a head that is ``depth`` darker than hair follows each sample, and whether it would show there; 0 to 1 each."""
    would = np.minimum(depth - ahead.room[part], most)
    shown = np.clip((ahead.dark[part] / np.maximum(would, LEAST_DARK) - 0.3) / 0.4, 0.0, 1.0)
    brightest = depth - ahead.least_room[part]
    return shown, np.clip(brightest / LEAST_DARK - 1.0, 0.0, 1.0)


def _with_head(costs: Array, ahead: Ahead, evidence: Array, zero: int, depth: float) -> Array:
    """Costs (m,) of ending at each sample from ``zero`` on, by whether a head that is ``depth`` darker than hair shows there too."""
    part = slice(zero, zero + len(costs))
    shown, certain = _head_shows(ahead, part, depth)
    # hair that could be seen there and is not has ended before, head or no head
    gone = np.cumsum(np.where(ahead.line.room[part] > ahead.plainly, np.maximum(-evidence[part], 0.0), 0.0))
    lost = np.minimum(SAMPLE_COST * np.abs(gone - gone[int(costs.argmin())]), MOST_FRAME_COST)
    costs = (1.0 - shown) * costs + shown * np.minimum(costs, HEAD_SHOWN + lost)
    return np.asarray(np.minimum(costs + NO_HEAD * (1.0 - shown) * certain, MOST_FRAME_COST))


def no_head_there(ahead: Ahead, at: int, depth: float) -> bool:
    """Whether a head would show for certain if the hair ended at sample ``at``, and does not: the hair was lost there.

    Not before what is brighter than hair: there the hair itself is dark, and a head hardly darker.
    """
    shown, certain = (v.max() for v in _head_shows(ahead, slice(max(0, at - MOST_HEAD_SAMPLES), at + BESIDE_SAMPLES + 1), depth, MOST_DARK))
    before = ahead.line.strip[max(0, at - USUAL_HEAD_SAMPLES) : at].astype(np.float32)
    return bool(certain > 0.7 and shown < 0.2 and len(before) and before.mean() > -0.5 * LEAST_DARK)


def _shown(lines: Mapping[int, Ahead], costs: Array, path: Array, zeros: Array, limits: Array, depth: float) -> tuple[float, float]:
    """In how many of the frames in which a head would show (share) it does show at the end of a path, 0 where that can't be told; and how
    much darker than hair heads are there, where they show."""
    told, depths = [], []
    for k, ahead in lines.items():
        if path[k] < limits[k] - PICTURE_EDGE_SAMPLES:
            at = int(zeros[k]) + near_path(costs[k], int(path[k]), int(limits[k]))
            near = slice(max(0, at - 1), at + 2)
            shown, certain = (v.max() for v in _head_shows(ahead, near, depth))
            if certain > 0.5:
                told.append(shown)
                dark = ahead.dark[near]
                depths += [float(dark.max() + ahead.room[near][dark.argmax()])] if shown > 0.5 else []
    share = float(np.mean(told)) if len(told) >= FEWEST_FRAMES else 0.0
    return share, float(np.median(depths)) if len(depths) >= FEWEST_FRAMES else depth


def believed(rough: float, smooth: float, against: float, share: float) -> bool:
    """Whether heads are what they seem: the ends then move more like a bow's (``smooth`` for ``rough``), by so much that it outweighs what
    a frame's hair has ``against`` them; or they show in nearly every frame in which they would (``share``), and the hair has little
    against them."""
    smoother = smooth < SMOOTHER * rough and rough - smooth > LEAST_SMOOTHER + against / MOST_FRAME_COST
    return smoother or (against < LITTLE_AGAINST and share >= ALWAYS)


def path_by_heads(
    lines: Mapping[int, Ahead], evidences: Mapping[int, Array], plain: Array, path: Array, zeros: Array, limits: Array,
    easy: Array | float, heads: Mapping[int, float], *, length: float, t_s: Array | None,
) -> tuple[Array, Array, float]:  # fmt: skip
    """The path (n,), the costs (n, m) and by how much heads are darker than hair, with the bow's dark head as a second witness; as they
    are, and 0, where no head is ``believed``.
    """
    every = np.arange(len(path))
    rough = roughness(sorted(lines), plain, path, limits, length=length, t_s=t_s)
    best, out = rough + HARDLY_ROUGHER, (path, plain, 0.0)
    for depth in _head_depths(lines, plain, zeros, limits):
        told = plain.copy()
        for k, ahead in lines.items():
            if k not in heads:
                told[k, : limits[k]] = _with_head(plain[k, : limits[k]], ahead, evidences[k], zeros[k], depth)
        other = best_path(told, easy)
        smooth = roughness(sorted(lines), told, other, limits, length=length, t_s=t_s)
        against = float(np.mean(plain[every, other] - plain[every, path]))
        share, own_depth = _shown(lines, told, other, zeros, limits, depth)
        if smooth < best and believed(rough, smooth, against, share):
            best, out = smooth, (other, told, own_depth)
    return out
