"""The bow's line through the whole take: the best chain of candidates, not the best of each frame.

Dynamic programming (Viterbi) over the candidates of every frame plus "not seen"; a jump of the line costs, unless it is
as quick as a change of strings can be.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, fields

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.camera.precision import HEAD_SD_PX
from dolcezza.core.tracking.bow_ends import hair_ends_along
from dolcezza.core.tracking.bow_line import SET_SD, Candidate

UNSEEN_COST = 6.0
LEAST_FULL = 1e-3
"""Where nothing found is any bow, all is alike."""
JUMP_SHARE = 0.12
"""How far the crossing may move from frame to frame, as a share of the bow's length in the picture."""
JUMP_ANGLE = np.radians(9.0)
FULL_CONTRAST = 30.0
"""Contrast (grey levels) from which a sample of hair counts whole, as in ``Candidate.score``."""
SEEN_SHARE = 0.8
"""``length_px`` is so much of the hair's length."""
LEAST_STANDING_OUT = 0.35
"""Below this the hair is as dark as what is behind it, and the line that was found may be the stick, or no bow at all."""
FAINT, FAINTLY = 0.12, 0.35
"""From the one on, where nothing shows that it is no hair, it is followed all the same; the confidence is no higher than the other."""
PLAIN_BELOW, TIMES_PLAINER = 3.0, 1.25
"""Grey levels from which a line on the side away from the stick is seen, and how many times plainer what is on the stick's side must be:
beside hair there is its stick, dark or bright; beside a stick there is its hair, beside a gap through which a wall is seen are both."""
SIDES_KNOWN = 0.2
"""In so many frames of a take it must be known on which side of its hair the stick is seen."""


@dataclass(frozen=True)
class BowLines:
    """The chosen line of every frame. Missing frames are NaN. n frames.

    ``point``, ``direction``, ``fit_sd`` (n, 2 each) and ``edges`` (n, 2, 2) as in ``Candidate``; ``head`` and ``frog`` (n,) px along
    the line from ``point`` where the hair ends (NaN: not found; the frog's may be hidden by the hand, so that only a
    later place is seen); ``beyond`` (n,) px: hair was seen up to here, and the head lies farther on (NaN: not so);
    ``frog_sd``, ``head_sd`` (n,) px at 1280; ``confidence`` (n,) 0..1; ``close`` (n, 2) as in ``Candidate``. Records of before have no
    ``head_sd`` (all heads are then as sure) and no ``close`` (NaN).
    """

    point: Array
    direction: Array
    fit_sd: Array
    edges: Array
    head: Array
    beyond: Array
    frog: Array
    frog_sd: Array
    confidence: Array
    head_sd: Array = field(default_factory=lambda: np.zeros(0))
    close: Array = field(default_factory=lambda: np.zeros((0, 2)))

    def __post_init__(self) -> None:
        if len(self.close) != len(self.head):
            object.__setattr__(self, "close", np.full((len(self.head), 2), np.nan))
        if len(self.head_sd) != len(self.head):
            object.__setattr__(self, "head_sd", np.full(len(self.head), HEAD_SD_PX))

    @property
    def set_by_hand(self) -> Array:
        """Frames (n,) bool whose line the teacher has set: it is known as well as such a line is."""
        return np.asarray(np.isclose(self.fit_sd, SET_SD, rtol=1e-3).all(axis=1))

    def rows(self, rows: Array | slice) -> BowLines:
        """Some of the frames."""
        return BowLines(**{f.name: getattr(self, f.name)[rows] for f in fields(self)})


def choose(candidates: list[list[Candidate]], *, length_px: float) -> list[Candidate | None]:
    """Pick at most one candidate a frame so that the chain is likeliest over the take.

    ``length_px``: about how long the hair is in the picture; scores and jumps are measured against it.
    """
    if not candidates:
        return []
    strong = [c[0].score for c in candidates if c]
    full = max(float(np.percentile(strong, 75)), LEAST_FULL) if strong else 1.0
    cost: list[Array] = []
    back: list[Array] = []
    for k, found in enumerate(candidates):
        own = np.array([4.0 * (1 - min(1.0, c.score / full)) ** 2 + (8.0 if c.score < 0.12 * full else 0.0) for c in found] + [UNSEEN_COST])
        if k == 0:
            cost.append(own)
            back.append(np.zeros(len(own), int))
            continue
        step = np.full((len(candidates[k - 1]) + 1, len(own)), 1.0)
        for i, a in enumerate(candidates[k - 1]):
            for j, b in enumerate(found):
                moved = float(np.hypot(*(a.point - b.point))) / (JUMP_SHARE * length_px)
                turned = float(np.arctan2(a.direction[0] * b.direction[1] - a.direction[1] * b.direction[0], a.direction @ b.direction))
                step[i, j] = min(8.0, moved**2 + (turned / JUMP_ANGLE) ** 2)
        total = cost[-1][:, None] + step
        back.append(total.argmin(axis=0))
        cost.append(total.min(axis=0) + own)
    chosen: list[Candidate | None] = [None] * len(candidates)
    j = int(cost[-1].argmin())
    for k in range(len(candidates) - 1, -1, -1):
        chosen[k] = candidates[k][j] if j < len(candidates[k]) else None
        j = int(back[k][j])
    return chosen


def stands_out(chosen: list[Candidate | None], *, length_px: float, scale_px: float) -> float:
    """How plainly the hair is seen in a take: contrast along the line over what bright hair of its length has, about 0 to 1."""
    scores = [c.score for c in chosen if c is not None]
    return float(np.percentile(scores, 75)) * scale_px / (FULL_CONTRAST * length_px / SEEN_SHARE) if scores else 0.0


def is_hair(chosen: list[Candidate | None]) -> bool:
    """Whether the bright line of a take is hair, and not a bright stick, or what is seen between a stick and dark hair."""
    sides = np.array([c.beside for c in chosen if c is not None]).reshape(-1, 2)
    known = sides[np.isfinite(sides).all(axis=1)]
    if len(known) < SIDES_KNOWN * max(1, len(sides)):
        return True
    stick, below = (float(v) for v in np.median(known, axis=0))
    return not (below > PLAIN_BELOW and stick < TIMES_PLAINER * below)


def lines_of(
    chosen: list[Candidate | None], *, length_px: float, scale_px: float, heads: Mapping[int, float] | None = None,
    t_s: Array | None = None, dark_heads: bool = True,
) -> BowLines:  # fmt: skip
    """Collect the chosen candidates into arrays and find the ends of the hair on each.

    A frame's confidence falls with the contrast of its line against the take's usual one and with how little of the bow
    is seen. ``heads``, ``t_s`` and ``dark_heads`` as in ``hair_ends_along``.
    """
    n = len(chosen)
    point, direction, sd = np.full((n, 2), np.nan), np.full((n, 2), np.nan), np.full((n, 2), np.nan)
    edges, close = np.full((n, 2, 2), np.nan), np.full((n, 2), np.nan)
    confidence = np.zeros(n)
    full = float(np.percentile([c.score for c in chosen if c is not None] or [1.0], 75))
    ends = hair_ends_along(chosen, scale_px=scale_px, heads=heads, t_s=t_s, dark_heads=dark_heads)
    until = np.where(np.isfinite(ends.head), ends.head, ends.seen_to)
    for k, c in enumerate(chosen):
        if c is None:
            continue
        point[k], direction[k], sd[k], edges[k], close[k] = c.point, c.direction, c.fit_sd, c.edges, c.close
        span = until[k] - (ends.frog[k] if np.isfinite(ends.frog[k]) else 0.0)
        confidence[k] = min(1.0, c.score / full) * float(np.clip(span / (0.5 * length_px), 0.0, 1.0))
    confidence = np.nan_to_num(confidence)
    plain = stands_out(chosen, length_px=length_px, scale_px=scale_px)
    if plain < LEAST_STANDING_OUT:
        confidence = np.minimum(confidence, FAINTLY) if plain >= FAINT and is_hair(chosen) else 0.1 * confidence
    return BowLines(point, direction, sd, edges, ends.head, ends.beyond, ends.frog, ends.frog_sd, confidence, ends.head_sd, close)
