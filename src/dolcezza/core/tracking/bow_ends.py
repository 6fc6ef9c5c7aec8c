"""Where the hair ends along the bow's line, over the whole take.

Every frame has a strip of ridge contrast along its line. The hair reaches as far as there is ridge; a bright picture on
the wall or a white shirt can hide its last part for some frames, the fingers hide its beginning. The head's end is
therefore the best path through all strips, and the frog's end is told as "here at the latest".
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.precision import HEAD_SD_PX
from dolcezza.core.tracking.bow_head import ENOUGH_ROOM, Ahead, no_head_there, path_by_heads
from dolcezza.core.tracking.bow_line import RIDGE_FLOOR, Candidate
from dolcezza.core.tracking.end_path import MOST_FRAME_COST, PICTURE_EDGE_SAMPLES, SAMPLE_COST, best_path, easy_steps, near_path

HAND_GAP_COST = 0.2
"""Hair is likely to come out again beyond the fingers near the frog: a gap there costs less than elsewhere."""
GAP_COST = 0.6
HEAD_GAP_COST = 2.0
"""Towards the head nothing covers the hair: where it could be seen and is not, it has ended, though the head's pale plate shines
again beyond the dark wood."""
MOST_PLATE_SAMPLES, LEAST_PLATE_SAMPLES = 14, 2
"""What shines beyond the dark wood of the head: its plate, so long at most and at least (samples of a strip; 11 to 17 mm)."""
EASY_STEP_SHARE = 0.025
"""How far the head may move between two frames at no great cost, as a share of the hair seen (at 30 frames/s about half
a metre a second)."""
LEAST_STICK = 15.0
"""Contrast (grey levels) from which the stick can stand in for the hair."""
STICK_QUANTILE = 85
"""Of the places where hair could not be seen, so many per cent have less stick than there is where the bow is: the others lie beyond it."""
COVER_COST, COVER_SAMPLE_COST = 12.0, 0.1
"""What it costs that a hand covers the hair for a while and lets it out again: once, and for each sample of it. What comes out again is
longer than the head's plate, or it does not pay."""
SET_COST = 100.0
"""What it costs, for each sample beside it up to three, to miss a head that was set by hand."""
FROG_SEEN_SD_PX = 7.0
BY_STICK_SAMPLES = (2, 14)
"""Where hair could not have been seen just before its end (samples of a strip), the stick alone has told it."""
HEAD_SHARE, HEAD_SHARE_SD = 0.025, 0.02
"""The stick ends with the head's nose, so much beyond the hair (share of its length: 16 mm of 650), and before a wall that is blown out
it is seen to end so much earlier or later."""


def _stick_before_bright(lines: Mapping[int, Candidate]) -> float:
    """Contrast that the stick of this take has before what is as bright as hair; 0 where there is no such place."""
    seen = []
    for line in lines.values():
        ahead = np.arange(len(line.stick)) * line.step > -line.strip_start
        seen.append(line.stick[ahead & (line.room < 0.5 * ENOUGH_ROOM)])
    every = np.concatenate(seen).astype(np.float32) if seen else np.zeros(0)
    return float(np.percentile(every, STICK_QUANTILE)) if len(every) > 10 else 0.0


def _evidence(line: Candidate, gap_cost: float = GAP_COST, before_bright: float = 0.0) -> Array:
    """For and against bow at each sample of a line, -``gap_cost`` to 1.

    By the hair, measured against the contrast it could have there; the less it could have (a bright wall behind it), the
    more by the stick beside it (``before_bright``: its contrast there, all through the take).
    """
    strip, room = line.strip.astype(np.float32), line.room.astype(np.float32)
    clear = strip > max(RIDGE_FLOOR, 0.4 * float(np.percentile(strip, 97)))
    typical = float(np.median(strip[clear])) if clear.any() else RIDGE_FLOOR
    could = np.clip(room, 0.0, max(typical, 1.0))
    weak = np.minimum(max(RIDGE_FLOOR, 0.3 * typical), np.maximum(0.35 * could, 3.0))
    hair = np.clip((strip - weak) / np.minimum(max(8.0, 0.3 * typical), np.maximum(0.35 * could, 4.0)), -gap_cost, 1.0)
    trust = np.clip(could / ENOUGH_ROOM, 0.0, 1.0)
    stick = line.stick.astype(np.float32)
    sure = (strip > 0.6 * typical) & (room > ENOUGH_ROOM)
    usual = max(float(np.median(stick[sure])) if sure.sum() > 10 else 0.0, before_bright)
    if usual < LEAST_STICK:
        return np.asarray(np.where(hair < 0, hair * trust, hair))
    by_stick = np.clip((stick - 0.45 * usual) / (0.3 * usual), -GAP_COST, 0.7)
    return np.asarray(trust * hair + (1 - trust) * by_stick)


@dataclass(frozen=True)
class HairEnds:
    """Ends of the hair in every frame, px along the line from its crossing, NaN = not found; n frames.

    ``frog_sd`` (n,) px at 1280: small where hair was seen beyond the fingers or all the way, larger where the part behind
    the fingers was filled in from other frames. ``head_sd`` (n,) px at 1280: larger where the stick alone has told the end.
    ``seen_to`` (n,): how far the line could be seen towards the head (px).
    ``beyond`` (n,) px: hair was seen up to there and lost, at the picture's edge or before what hides it, and ends beyond (NaN: not so).
    """

    frog: Array
    frog_sd: Array
    head: Array
    head_sd: Array
    seen_to: Array
    beyond: Array


def _frog(evidence: Array, zero: int, gap_cost: float) -> float:
    """Sample at which the hair begins, walking from the crossing to the frog; gaps cost ``gap_cost`` a sample."""
    behind = np.cumsum(np.maximum(evidence[:zero][::-1], -gap_cost))
    return float(zero - 2 - int(behind.argmax())) if len(behind) and behind.max() > 0 else np.nan


def _reached(evidence: Array) -> Array:
    """What speaks for hair that ends at each sample, (m,): all evidence up to there, of which one stretch may be covered by a hand."""
    plain = np.cumsum(evidence)
    sample = COVER_SAMPLE_COST * np.arange(len(plain))
    # the best stretch so far that begins at i and ends at m: nothing between them counts but what the cover costs
    left = np.maximum.accumulate(np.maximum.accumulate(plain + sample) - sample - plain)
    return np.asarray(plain + np.maximum(left - COVER_COST, 0.0))


def _before_plate(evidence: Array, place: int) -> int:
    """The sample at which hair ends that seems to end at ``place``: before a dark gap, if so little shines beyond it as a plate does."""
    back = evidence[max(0, place - MOST_PLATE_SAMPLES) : place + 1][::-1]
    dark = np.flatnonzero((back[:-1] < 0) & (back[1:] < 0))
    if not len(dark) or (back[: dark[0]] > 0.5).sum() < LEAST_PLATE_SAMPLES:
        return place
    beyond = int(dark[0])
    while beyond + 1 < len(back) and back[beyond + 1] < 0:
        beyond += 1
    return place - beyond - 1


def _by_stick(line: Candidate, place: int) -> bool:
    """Whether the stick alone has told that hair ends at the sample ``place``: hair could not have been seen there."""
    near = line.room[max(0, place - BY_STICK_SAMPLES[1]) : max(1, place - BY_STICK_SAMPLES[0])]
    return bool(np.median(near) < 0.4 * ENOUGH_ROOM)


def _behind_fingers(inner: Array, outer: Array, step: float, scale_px: float) -> tuple[Array, Array]:
    """Frog's end and its sd from where hair is seen without a gap (``inner``) and beyond a gap (``outer``), both (n,) px.

    Where a good part of the frames shows hair on both sides of the fingers, the frames without such a gap have their
    beginning behind the fingers or, with another shape of the hand, free: the middle of the two is taken with a ± that
    covers both.
    """
    gap = inner - outer
    gapped = gap > 6 * scale_px
    frog, sd = outer.copy(), np.full(len(outer), FROG_SEEN_SD_PX)
    known = np.isfinite(gap)
    if known.any() and gapped[known].mean() > 0.2:
        usual = float(np.median(gap[gapped]))
        hidden = known & ~gapped
        frog[hidden] = inner[hidden] - 0.5 * usual
        sd[hidden] = 0.5 * usual / scale_px + FROG_SEEN_SD_PX
    return frog, sd


def hair_ends_along(
    chosen: list[Candidate | None], *, scale_px: float, heads: Mapping[int, float] | None = None, t_s: Array | None = None,
    dark_heads: bool = True,
) -> HairEnds:  # fmt: skip
    """Frog end and head end of every frame. An end at the edge of the picture was not seen.

    ``heads``: frames whose head is known, px along their line; the path to them pulls their neighbours along. ``t_s`` (n,) s: when each
    frame was taken (None: thirty a second); ``dark_heads``: the lines are of bright hair, of which a dark head stands out.
    """
    n = len(chosen)
    inner, outer, head = np.full(n, np.nan), np.full(n, np.nan), np.full(n, np.nan)
    seen_to, beyond, head_sd = np.full(n, np.nan), np.full(n, np.nan), np.full(n, HEAD_SD_PX)
    lines = {k: c for k, c in enumerate(chosen) if c is not None and len(c.strip) > 20}
    if not lines:
        return HairEnds(outer, np.full(n, FROG_SEEN_SD_PX), head, head_sd, seen_to, beyond)
    step = next(iter(lines.values())).step
    reach = max(int((c.strip_start / step) + len(c.strip)) for c in lines.values()) + 1
    evidences: dict[int, Array] = {}
    bright = _stick_before_bright(lines)
    costs, limits, zeros, spans = np.zeros((n, reach)), np.zeros(n, int), np.zeros(n, int), []
    for k, line in lines.items():
        evidence = _evidence(line)
        zero = int(np.clip(round(-line.strip_start / step), 1, len(evidence) - 1))
        near, far = _frog(evidence, zero, GAP_COST), _frog(evidence, zero, HAND_GAP_COST)
        if far > PICTURE_EDGE_SAMPLES:
            inner[k], outer[k] = line.strip_start + step * near, line.strip_start + step * far
        evidences[k] = _evidence(line, HEAD_GAP_COST, bright)
        ahead = _reached(evidences[k][zero:])
        limits[k], zeros[k] = min(len(ahead), reach), zero
        costs[k] = MOST_FRAME_COST
        costs[k, : limits[k]] = np.minimum(SAMPLE_COST * (ahead.max() - ahead[: limits[k]]), MOST_FRAME_COST)
        if heads and k in heads:
            column = int(np.clip(round((heads[k] - line.strip_start) / step) - zero - 1, 0, reach - 1))
            costs[k] = SET_COST * np.minimum(np.abs(np.arange(reach) - column), 3.0)
            limits[k] = reach
        seen_to[k] = line.strip_start + step * len(line.strip)
        spans.append(ahead.argmax() + zero - (far if np.isfinite(far) else zero))
    easy = easy_steps(t_s, n, max(3.0, EASY_STEP_SHARE * float(np.median(spans))))
    path = best_path(costs, easy)
    ahead_of = {k: Ahead(line) for k, line in lines.items()}
    depth, hair_px = 0.0, step * float(np.median(spans))
    if dark_heads:
        path, costs, depth = path_by_heads(
            ahead_of, evidences, costs, path, zeros, limits, easy, heads or {}, length=float(np.median(spans)), t_s=t_s
        )
    for k, line in lines.items():
        place = near_path(costs[k], int(path[k]), int(limits[k]))
        if depth > 0 and not (heads and k in heads) and no_head_there(ahead_of[k], zeros[k] + place, depth):
            beyond[k] = line.strip_start + step * (zeros[k] + place)
        elif place < limits[k] - PICTURE_EDGE_SAMPLES:
            head[k] = line.strip_start + step * (_before_plate(evidences[k], zeros[k] + place) + 1)
            if depth == 0 and dark_heads and _by_stick(line, zeros[k] + place):
                head[k] -= HEAD_SHARE * hair_px
                head_sd[k] = HEAD_SHARE_SD * hair_px / scale_px
        elif limits[k] > PICTURE_EDGE_SAMPLES and costs[k, limits[k] - PICTURE_EDGE_SAMPLES] < 0.5 * MOST_FRAME_COST:
            beyond[k] = line.strip_start + step * (zeros[k] + limits[k] - PICTURE_EDGE_SAMPLES)
    for k, along in (heads or {}).items():
        head[k], head_sd[k] = along, HEAD_SD_PX
    frog, sd = _behind_fingers(inner, outer, step, scale_px)
    return HairEnds(frog, sd, head, head_sd, seen_to, beyond)
