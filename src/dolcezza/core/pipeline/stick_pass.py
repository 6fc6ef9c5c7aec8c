"""A second look at a take whose hair is not plainly seen: the stick is a dark line that is seen in all light, and the hair goes with it at
the distance that bows have, bright or dark, or lies behind it where the phone looks on the stick.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import Enum

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.base.message import Message
from dolcezza.core.bowing.hair import TURNED, TURNED_SD, stands
from dolcezza.core.bowing.whole_bow import BAND_SD_PX
from dolcezza.core.camera.poses import Poses
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.frame_pass import LOST_SHARE, PROGRESS_EVERY, FramePass
from dolcezza.core.pipeline.whole_bow_pass import frames_again
from dolcezza.core.tracking.bow_ends import hair_ends_along
from dolcezza.core.tracking.bow_find import BowFinder
from dolcezza.core.tracking.bow_line import Candidate
from dolcezza.core.tracking.bow_path import FULL_CONTRAST, LEAST_STANDING_OUT, SEEN_SHARE, choose, stands_out

BY_STICK = Message("note.by the stick")
APART_MM, APART_SD_MM = 8.0, 2.0
"""The dark line of a stick lies so far from the middle of its hair, as a line along the whole of it shows (one sd); from memory: a pencil
fits between the two at the middle of a strung bow, and an inch nearly at its ends."""
OVER_MM = 6.5
"""Nearer than this, half the hair and half the stick, the one covers the other."""
DRAWN = 0.08
"""So much of the hair, at least, a bow that is drawn goes to and fro."""
LEAST_SCORE = 0.01
ALONE, ALONE_OVER = 0.12, 0.35
"""How plain (share of bright hair) a line beside the stick must be at its usual distance to be taken for the hair, and where the stick
covers the hair."""
SAME_MM = 2.0
"""What was followed first and the hair beside the stick are the same if they are usually no farther apart."""


class Hair(Enum):
    """How the hair of a take is seen beside its stick; what is darker than its stick is found itself."""

    BRIGHT = "bright"
    DARK = "dark"
    BEHIND = "behind"
    ITSELF = "itself"


@dataclass(frozen=True)
class BesideStick:
    """The hair's ``lines`` in every frame by the stick, how it is ``seen``, and how far beside what was followed first it lies (mm, the
    usual distance; NaN where nothing was followed)."""

    lines: FramePass
    seen: Hair
    off_mm: float


@dataclass(frozen=True)
class _Stick:
    """A dark line in one frame, with the lines beside it: ``bright`` and ``dark`` where the hair is if it is a stick, and ``over``, a dark
    one where the stick is if it is the hair."""

    line: Candidate
    bright: Candidate | None
    dark: Candidate | None
    over: Candidate | None


def look_beside_stick(context: Context, seen: FramePass, followed: list[Candidate | None]) -> Work[BesideStick | None]:
    """The hair by the stick in the frames of ``seen``; None where no stick stands out either, or what does stands still."""
    sticks: list[list[_Stick]] = []
    finder: BowFinder | None = None
    bright = dark = finder
    for k, frame in frames_again(context, seen):
        shape = frame.image.shape[:2]
        finder = finder or BowFinder(context.model, shape, dark=True)
        bright, dark = bright or BowFinder(context.model, shape), dark or BowFinder(context.model, shape, dark=True)
        at = seen.followed[k]
        found = finder.find(frame.image, at.camera) if at.confidence > 0 else []
        sticks.append([
            _Stick(
                line, bright.away_from_stick(frame.image, at.camera, line), dark.away_from_stick(frame.image, at.camera, line),
                dark.away_from_stick(frame.image, at.camera, line, other_side=True),
            )
            for line in found
        ])  # fmt: skip
        if k % PROGRESS_EVERY == 0:
            yield Progress(Stage.WHOLE_BOW, k + 1, len(seen.times))
    sticks += [[] for _ in range(len(seen.times) - len(sticks))]
    path = choose([[s.line for s in some] for some in sticks], length_px=context.length_px)
    seldom = sum(line is not None for line in path) < (1 - LOST_SHARE) * len(path)
    plain = stands_out(path, length_px=context.length_px, scale_px=context.scale_px)
    if seldom or plain < LEAST_STANDING_OUT or not _drawn(context, path):
        return None
    chosen = [next((s for s in some if s.line is line), None) for some, line in zip(sticks, path, strict=True)]
    away = _away(context, seen, chosen)
    kind = _which(context, chosen, away)
    if kind is Hair.ITSELF:
        chosen, kind = [replace(s, dark=s.line) if s is not None else None for s in chosen], Hair.DARK
    hair = [_hair(context, s, kind, row) for s, row in zip(chosen, away, strict=True)]
    off = [
        abs(_across(old, new.point)) / row[0]
        for old, new, row in zip(followed, hair, away, strict=True) if old is not None and new is not None
    ]  # fmt: skip
    lines = replace(seen, candidates=[[h] if h is not None else [] for h in hair], colours=[None] * len(seen.times))
    return BesideStick(lines, kind, float(np.median(off)) if off else np.nan)


def _drawn(context: Context, path: list[Candidate | None]) -> bool:
    """Whether one end of the dark line goes to and fro along it: an edge in the room stands."""
    ends = hair_ends_along(path, scale_px=context.scale_px, dark_heads=False)
    for end in (ends.head, ends.frog):
        known = end[np.isfinite(end)]
        if len(known) and np.ptp(np.percentile(known, [10, 90])) > DRAWN * context.length_px / SEEN_SHARE:
            return True
    return False


def _away(context: Context, seen: FramePass, chosen: list[_Stick | None]) -> Array:
    """Of every frame (n, 4): pixels a mm across the bow, on which side of the stick's normal the hair is (+1 or -1), how far from it the
    hair is to be expected (mm), and how well that is known (one sd); NaN without a stick."""
    out = np.full((len(chosen), 4), np.nan)
    rows = [k for k, s in enumerate(chosen) if s is not None]
    if not rows:
        return out
    model = context.model
    middle = len(model.spec.strings) // 2 - 1
    direction = np.array([s.line.direction for s in chosen if s is not None])
    usual = [0.5 * model.spec.bridge_to_fingerboard, 0.0, float(model.string_planes[1:3].mean()), 0.5]
    params, string = np.tile(usual, (len(rows), 1)), np.full(len(rows), middle)
    px_mm, turn, side, slant = stands(model, direction, Poses.of([seen.followed[k].camera for k in rows]), params, string)
    apart = APART_MM * (np.sin(turn) * np.cos(TURNED) + side * slant * np.sin(TURNED))
    sd = np.hypot(APART_SD_MM, APART_MM * np.abs(slant) * np.tan(TURNED_SD))
    out[rows] = np.stack([px_mm, -side, apart, sd], axis=1)
    return out


def _across(line: Candidate, point: Array) -> float:
    """How far (px) a point lies beside a line, along its normal."""
    return float((point[1] - line.point[1]) * line.direction[0] - (point[0] - line.point[0]) * line.direction[1])


def _which(context: Context, chosen: list[_Stick | None], away: Array) -> Hair:
    """How the hair is seen beside the stick, over the take: which line is as plain and as far away as hair would be."""
    full = FULL_CONTRAST * context.length_px / SEEN_SHARE / context.scale_px
    frames = [(s, row) for s, row in zip(chosen, away, strict=True) if s is not None]

    def speaks(line: Candidate | None, stick: _Stick, row: Array) -> float:
        if line is None:
            return float(np.log(LEAST_SCORE))
        apart = abs(_across(stick.line, line.point)) / row[0]
        return float(-0.5 * ((apart - row[2]) / row[3]) ** 2 + np.log(max(line.score / full, LEAST_SCORE)))

    usual = float(np.median([row[2] for _, row in frames]))
    found = {
        Hair.BRIGHT: float(np.median([speaks(s.bright, s, row) for s, row in frames])),
        Hair.DARK: float(np.median([speaks(s.dark, s, row) for s, row in frames])),
        Hair.ITSELF: float(np.median([speaks(s.over, s, row) for s, row in frames])),
        Hair.BEHIND: float(np.log(ALONE_OVER if usual < OVER_MM else ALONE)),
    }
    return max(found, key=lambda kind: found[kind])


def _hair(context: Context, stick: _Stick | None, kind: Hair, row: Array) -> Candidate | None:
    """The hair's line in one frame."""
    if stick is None or kind is Hair.BRIGHT:
        return stick.bright if stick is not None else None
    sd = np.array([BAND_SD_PX * context.scale_px, 0.0])
    if kind is Hair.DARK:
        return replace(stick.dark, fit_sd=np.hypot(stick.dark.fit_sd, sd)) if stick.dark is not None else None
    line = stick.line
    normal = np.array([-line.direction[1], line.direction[0]])
    nowhere = np.zeros_like(line.stick)
    return replace(
        line,
        point=line.point + row[0] * row[1] * row[2] * normal,
        fit_sd=np.hypot(line.fit_sd, sd),
        edges=np.full((2, 2), np.nan),
        stick=nowhere,
    )
