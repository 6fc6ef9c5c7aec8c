"""The bow as the teacher set it on a few frames: those frames win, and the search starts again from them to both sides."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.precision import HEAD_BIAS_PX
from dolcezza.core.media.video import FrameStore
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.frame_pass import FramePass
from dolcezza.core.tracking.bow_find import BowFinder
from dolcezza.core.tracking.bow_line import Candidate
from dolcezza.core.tracking.bow_path import BowLines, choose, lines_of

REACH_S = 1.0
"""How far from a frame set by hand the bow is looked for again."""
SAME_PX, SAME_RAD = 2.0, 0.009
"""From this on what is found anew is what had been found before, and the search ends."""
HAND_FROG_SD_PX = 1.5


def joints_by_hand(context: Context) -> list[tuple[float, dict[str, Array]]]:
    """The bow arm's joints set by hand, by time, (2,) px in the picture as it is measured."""
    out = []
    for moment in context.fit.arm:
        places = {n: context.as_measured(getattr(moment, n)) for n in ("shoulder", "elbow", "wrist")}
        out.append((moment.t_s, {n: xy for n, xy in places.items() if xy is not None}))
    return out


def with_lines_by_hand(context: Context, seen: FramePass, *, spread: bool = True) -> FramePass:
    """The candidates with the lines set by hand in their frames, and with ``spread`` those found from there in the frames around."""
    if not context.fit.by_hand:
        return seen
    store = context.store()
    candidates = list(seen.candidates)
    times = np.array(seen.times)
    usual = float(np.percentile([c[0].score for c in candidates if c] or [1.0], 75))
    try:
        finder = BowFinder(context.model, store.at(0.0).image.shape[:2])
        for points in context.fit.by_hand:
            k = int(np.abs(times - points.t_s).argmin())
            frog, head = (context.as_measured(xy) for xy in (points.frog, points.head))
            line = _line_by_hand(finder, store, seen, k, frog, head)
            if line is None:
                continue
            # nothing that the picture shows weighs against the hand
            candidates[k] = [replace(line, score=max(line.score, usual))]
            for step in (-1, 1) if spread else ():
                _spread(finder, store, seen, candidates, k, step)
    finally:
        store.close()
    return replace(seen, candidates=candidates)


def _line_by_hand(
    finder: BowFinder, store: FrameStore, seen: FramePass, k: int, frog: Array | None, head: Array | None
) -> Candidate | None:
    camera, grey = seen.followed[k].camera, store.at(seen.times[k]).image
    if frog is not None and head is not None:
        return finder.along(grey, camera, frog, head)
    end = frog if frog is not None else head
    if end is None or not seen.candidates[k]:
        return None
    # one end alone: the line found, turned about its crossing with the strings until it runs through that end
    old = seen.candidates[k][0]
    return finder.along(grey, camera, old.point, head) if head is not None else finder.along(grey, camera, end, old.point)


def _spread(finder: BowFinder, store: FrameStore, seen: FramePass, candidates: list[list[Candidate]], k: int, step: int) -> None:
    line, j = candidates[k][0], k + step
    while 0 <= j < len(candidates) and abs(seen.times[j] - seen.times[k]) <= REACH_S:
        found = finder.near(store.at(seen.times[j]).image, seen.followed[j].camera, line) if seen.followed[j].confidence > 0 else None
        if found is None or (candidates[j] and _same(found, candidates[j][0])):
            return
        candidates[j] = [found, *candidates[j]]
        line, j = found, j + step


def _same(a: Candidate, b: Candidate) -> bool:
    turned = abs(a.direction[0] * b.direction[1] - a.direction[1] * b.direction[0])
    return float(np.hypot(*(a.point - b.point))) < SAME_PX and turned < SAME_RAD


def lines_with_hand(context: Context, seen: FramePass) -> BowLines:
    """The bow's line and ends in every frame that was seen, what the teacher set there by hand among them."""
    here = context.within(seen.times[0], seen.times[-1])
    seen = with_lines_by_hand(here, seen)
    chosen = choose(seen.candidates, length_px=context.length_px)
    return frogs_by_hand(here, lines_between_ends(here, seen, chosen), seen)


def lines_between_ends(context: Context, seen: FramePass, chosen: list[Candidate | None], *, dark_heads: bool = True) -> BowLines:
    """The chosen lines with their ends; heads where the hand has set them. ``dark_heads``: they are of hair, not of whole bows."""
    heads = heads_by_hand(context, seen, chosen)
    times = np.asarray(seen.times)
    return lines_of(chosen, length_px=context.length_px, scale_px=context.scale_px, heads=heads, t_s=times, dark_heads=dark_heads)


def heads_set(context: Context, t_s: Array) -> Array:
    """Frames (n,) bool at ``t_s`` (n,) s in which the teacher has set the head."""
    half = 0.5 * float(np.median(np.diff(t_s))) if len(t_s) > 1 else np.inf
    moments = np.array([p.t_s for p in context.fit.by_hand if p.head is not None])
    if not len(moments):
        return np.zeros(len(t_s), bool)
    return np.asarray(np.abs(t_s[:, None] - moments).min(axis=1) < half)


def heads_by_hand(context: Context, seen: FramePass, chosen: list[Candidate | None]) -> dict[int, float]:
    """Frame number to the place of the head along its line, px, where it was set by hand."""
    out = {}
    for points in context.fit.by_hand:
        k = int(np.abs(np.array(seen.times) - points.t_s).argmin())
        head, line = context.as_measured(points.head), chosen[k]
        if head is not None and line is not None:
            # the picture's ridge fades before the hair ends; a hand sets the end itself
            out[k] = float((head - line.point) @ line.direction) - HEAD_BIAS_PX * context.scale_px
    return out


def frogs_by_hand(context: Context, lines: BowLines, seen: FramePass) -> BowLines:
    """The lines with the frog where it was set by hand; a line with both ends set is certain."""
    frog, sd, confidence = lines.frog.copy(), lines.frog_sd.copy(), lines.confidence.copy()
    for points in context.fit.by_hand:
        k = int(np.abs(np.array(seen.times) - points.t_s).argmin())
        place = context.as_measured(points.frog)
        if place is not None and np.isfinite(lines.point[k]).all():
            frog[k], sd[k] = float((place - lines.point[k]) @ lines.direction[k]), HAND_FROG_SD_PX
            confidence[k] = 1.0 if points.head is not None else confidence[k]
    return replace(lines, frog=frog, frog_sd=sd, confidence=confidence)
