"""The bow as the teacher set it on a few frames: those frames win, and the search starts again from them to both sides."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np

from dolcezza.core.camera.precision import HEAD_BIAS_PX
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.media.probe import TakeFile
from dolcezza.core.media.video import FrameStore
from dolcezza.core.tracking.bow_find import BowFinder, Candidate
from dolcezza.core.tracking.bow_path import BowLines, choose, lines_of
from dolcezza.services.fitfile import BowPoints, Fit
from dolcezza.services.watching import Watched, measured_scale

Array = np.ndarray

REACH_S = 1.0
"""How far from a frame set by hand the bow is looked for again."""
SAME_PX, SAME_RAD = 2.0, 0.009
"""From this on what is found anew is what had been found before, and the search ends."""
HAND_FROG_SD_PX = 1.5


def as_measured(points: BowPoints, fit: Fit, file: TakeFile) -> tuple[Array | None, Array | None]:
    """Frog and head (2,) px in the picture as it is measured; None where not set."""
    return _turned(points.frog, fit, file), _turned(points.head, fit, file)


def _turned(xy: tuple[float, float] | None, fit: Fit, file: TakeFile) -> Array | None:
    if xy is None:
        return None
    return measured_scale(file) * np.array([file.width - xy[0] if fit.flip else xy[0], xy[1]])


def joints_by_hand(fit: Fit, file: TakeFile) -> list[tuple[float, dict[str, Array]]]:
    """The bow arm's joints set by hand, by time, (2,) px in the picture as it is measured."""
    out = []
    for moment in fit.arm:
        places = {n: _turned(getattr(moment, n), fit, file) for n in ("shoulder", "elbow", "wrist")}
        out.append((moment.t_s, {n: xy for n, xy in places.items() if xy is not None}))
    return out


def mend_candidates(video: Path, file: TakeFile, fit: Fit, model: InstrumentModel, seen: Watched, *, spread: bool = True) -> Watched:
    """The candidates with the lines set by hand in their frames, and with ``spread`` those found from there in the frames around."""
    if not fit.by_hand:
        return seen
    store = FrameStore(video, grey=True, flip=fit.flip, scale=measured_scale(file))
    candidates = list(seen.candidates)
    times = np.array(seen.times)
    usual = float(np.percentile([c[0].score for c in candidates if c] or [1.0], 75))
    try:
        finder = BowFinder(model, store.at(0.0).image.shape[:2])
        for points in fit.by_hand:
            k = int(np.abs(times - points.t_s).argmin())
            frog, head = as_measured(points, fit, file)
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


def _line_by_hand(finder: BowFinder, store: FrameStore, seen: Watched, k: int, frog: Array | None, head: Array | None) -> Candidate | None:
    camera, grey = seen.followed[k].camera, store.at(seen.times[k]).image
    if frog is not None and head is not None:
        return finder.along(grey, camera, frog, head)
    end = frog if frog is not None else head
    if end is None or not seen.candidates[k]:
        return None
    # one end alone: the line found, turned about its crossing with the strings until it runs through that end
    old = seen.candidates[k][0]
    return finder.along(grey, camera, old.point, head) if head is not None else finder.along(grey, camera, end, old.point)


def _spread(finder: BowFinder, store: FrameStore, seen: Watched, candidates: list[list[Candidate]], k: int, step: int) -> None:
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


def lines_with_hand(
    video: Path, file: TakeFile, fit: Fit, model: InstrumentModel, seen: Watched, *, length_px: float, scale_px: float
) -> BowLines:  # fmt: skip
    """The bow's line and ends in every frame that was seen, what the teacher set there by hand among them."""
    here = replace(fit, by_hand=tuple(p for p in fit.by_hand if seen.times[0] <= p.t_s <= seen.times[-1]))
    seen = mend_candidates(video, file, here, model, seen)
    chosen = choose(seen.candidates, length_px=length_px)
    heads = heads_by_hand(here, file, seen, chosen, scale_px=scale_px)
    return frogs_by_hand(lines_of(chosen, length_px=length_px, scale_px=scale_px, heads=heads), here, file, seen)


def heads_by_hand(fit: Fit, file: TakeFile, seen: Watched, chosen: list[Candidate | None], *, scale_px: float) -> dict[int, float]:
    """Frame number to the place of the head along its line, px, where it was set by hand."""
    out = {}
    for points in fit.by_hand:
        k = int(np.abs(np.array(seen.times) - points.t_s).argmin())
        head, line = as_measured(points, fit, file)[1], chosen[k]
        if head is not None and line is not None:
            # the picture's ridge fades before the hair ends; a hand sets the end itself
            out[k] = float((head - line.point) @ line.direction) - HEAD_BIAS_PX * scale_px
    return out


def frogs_by_hand(lines: BowLines, fit: Fit, file: TakeFile, seen: Watched) -> BowLines:
    """The lines with the frog where it was set by hand; a line with both ends set is certain."""
    frog, sd, confidence = lines.frog.copy(), lines.frog_sd.copy(), lines.confidence.copy()
    for points in fit.by_hand:
        k = int(np.abs(np.array(seen.times) - points.t_s).argmin())
        place = as_measured(points, fit, file)[0]
        if place is not None and np.isfinite(lines.point[k]).all():
            frog[k], sd[k] = float((place - lines.point[k]) @ lines.direction[k]), HAND_FROG_SD_PX
            confidence[k] = 1.0 if points.head is not None else confidence[k]
    return replace(lines, frog=frog, frog_sd=sd, confidence=confidence)
