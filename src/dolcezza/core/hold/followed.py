"""The bow hand followed over a take: what it does on the up-bow that it does not do on the down-bow, and where it goes along the stick.

A single look at a small hand tells little; but the same hand is seen in the same way in dozens of frames, and what its view hides is the
same at the same place of the bow on the same string, whichever way it is drawn. So up-bows are compared with down-bows, and the first
strokes with the last, place and string allowed for. Errors of one stroke's looks go together: a stroke counts once.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.hold.fit import hand_size

KNUCKLES, INDEX, MIDDLE, RING, LITTLE = (5, 9, 13, 17), (6, 7, 8), (10, 11, 12), (14, 15, 16), (18, 19, 20)
ALONG = (9, 10, 13, 14)
"""Knuckles and middle joints of the two fingers that lie round the stick: where the hand is along it."""
FEWEST_STROKES = 3
"""So many of each direction are compared at least."""
FEWEST_LOOKS = 12
FEWEST_FREE = 2
"""So many more strokes than what they are explained by."""
LIFTED_SHARE = 0.06
"""From so much (share of the hand's size; some 5 mm, so that light is seen between) on a finger is off the stick; common practice, no
source."""
SLID_MM = 10.0
"""From so much on a hand has slid; a finger's width and less is how any hand settles. Common practice, no source."""
STRANGE_SHARE = 0.5
"""A look whose hand differs in size from the usual by more than this is of something else."""
SURE_SD = 2.0


@dataclass(frozen=True)
class HandLook:
    """The hand in one frame: ``points`` (21, 2) px, the hair's ends ``frog`` and ``head`` (2,) px, ``position`` on the bow (share of the
    hair), the ``stroke`` it belongs to, whether that is a ``down``-bow, and its ``string``."""

    t_s: float
    points: Array
    frog: Array
    head: Array
    position: float
    stroke: int
    down: bool
    string: str = ""


class HandMove(StrEnum):
    """What a hand may do over a take."""

    INDEX = "index leaves"
    LITTLE = "little finger leaves"
    SLIDES = "hand slides"


@dataclass(frozen=True)
class Followed:
    """One figure: ``value`` with ``sd`` and the ``limit`` from which it says something; ``strokes`` that were compared. ``value`` is the
    share of the hand's size by which a finger lies farther off the stick on the up-bow than on the down-bow, or mm from the first strokes
    to the last (+ = to the head)."""

    what: HandMove
    value: float
    sd: float
    limit: float
    strokes: int

    @property
    def shown(self) -> bool:
        """Whether it is so for certain."""
        return self._beyond > SURE_SD * self.sd

    @property
    def absent(self) -> bool:
        """Whether it is not so for certain."""
        return self._beyond < -SURE_SD * self.sd

    @property
    def _beyond(self) -> float:
        value = abs(self.value) if self.what is HandMove.SLIDES else self.value
        return value - self.limit


def follow_hand(looks: Sequence[HandLook], hair_mm: float) -> list[Followed]:
    """What the looks of a take tell together; what too few strokes show is left out. ``hair_mm``: length of the hair."""
    looks = _usual(looks)
    if len(looks) < FEWEST_LOOKS:
        return []
    figures = np.array([_figures(look, hair_mm) for look in looks])
    stroke = np.array([look.stroke for look in looks])
    count = len(np.unique(stroke))
    down = np.array([look.down for look in looks])
    each_way = min(len(np.unique(stroke[down])), len(np.unique(stroke[~down])))
    if each_way < FEWEST_STROKES:
        return []
    out = []
    for what, column, term, limit in (
        (HandMove.INDEX, 0, WAY, LIFTED_SHARE), (HandMove.LITTLE, 1, WAY, LIFTED_SHARE), (HandMove.SLIDES, 2, TIME, SLID_MM),
    ):  # fmt: skip
        got = _told(figures[:, column], looks, stroke, term)
        if got is not None:
            out.append(Followed(what, *got, limit, count))
    return out


def _usual(looks: Sequence[HandLook]) -> list[HandLook]:
    """The looks of one and the same hand."""
    if not looks:
        return []
    size = np.array([hand_size(look.points) / float(np.linalg.norm(look.head - look.frog)) for look in looks])
    usual = float(np.median(size))
    return [look for look, s in zip(looks, size, strict=True) if abs(s / usual - 1) < STRANGE_SHARE]


def _figures(look: HandLook, hair_mm: float) -> Array:
    """How far the index lies farther off the stick than the middle finger, and the little finger than the ring finger (shares of the
    hand's size); where the hand is along the stick (mm from the frog's end of the hair)."""
    along = look.head - look.frog
    length = float(np.linalg.norm(along))
    along = along / length
    across = np.array([-along[1], along[0]])
    if (look.points[[0, *KNUCKLES]].mean(axis=0) - look.frog) @ across < 0:
        across = -across
    size = hand_size(look.points)
    height = look.points @ across / size
    place = (look.points[list(ALONG)].mean(axis=0) - look.frog) @ along
    return np.array(
        [
            height[list(INDEX)].mean() - height[list(MIDDLE)].mean(), height[list(LITTLE)].mean() - height[list(RING)].mean(),
            place * hair_mm / length,
        ]
    )  # fmt: skip


WAY, TIME = 0, 1


def _design(looks: Sequence[HandLook]) -> Array:
    """What the figures go by (n, 4 + strings): the way of the bow (up = +), the time (first to last = 1), the place of the bow as the view
    changes with it, and the string, for the arm and with it the view are others on each."""
    t_s = np.array([look.t_s for look in looks])
    time = (t_s - t_s.mean()) / max(float(np.ptp(t_s)), 1e-6)
    place = np.array([look.position for look in looks]) - 0.5
    strings = sorted({look.string for look in looks})
    own = np.array([[look.string == s for s in strings] for look in looks], float)
    way = np.array([-0.5 if look.down else 0.5 for look in looks])
    return np.column_stack([way, time, place, place**2, own])


def _told(values: Array, looks: Sequence[HandLook], stroke: Array, term: int) -> tuple[float, float] | None:
    """What ``values`` (n,) go by with the way of the bow or the time, and its sd by how strokes differ; None where that stays open."""
    design = _design(looks)
    fit = _robust(design, values)
    left = values - design @ fit
    numbers = np.unique(stroke)
    # a stroke counts once: its looks err together
    whole = np.array([design[stroke == k].mean(axis=0) for k in numbers])
    off = np.array([np.median(left[stroke == k]) for k in numbers])
    free = len(numbers) - np.linalg.matrix_rank(whole)
    if free < FEWEST_FREE:
        return None
    inside = [float(np.std(left[stroke == k], ddof=1)) / np.sqrt(int((stroke == k).sum())) for k in numbers if (stroke == k).sum() > 1]
    usual = max(float(np.sqrt((off**2).sum() / free)), float(np.median(inside)) if inside else 0.0)
    spread = np.linalg.pinv(whole.T @ whole)[term, term]
    return float(fit[term]), float(usual * np.sqrt(spread))


def _robust(design: Array, values: Array, rounds: int = 8) -> Array:
    """Least squares with Huber's weights (1.5 of the usual deviation)."""
    weight = np.ones(len(values))
    fit = np.zeros(design.shape[1])
    for _ in range(rounds):
        root = np.sqrt(weight)[:, None]
        fit = np.linalg.lstsq(design * root, values * root[:, 0], rcond=None)[0]
        off = np.abs(values - design @ fit)
        usual = max(1.48 * float(np.median(off)), 1e-9)
        weight = np.minimum(1.0, 1.5 * usual / np.maximum(off, 1e-12))
    return np.asarray(fit)


def answers_of(told: Sequence[Followed]) -> dict[HandMove, list[tuple[str, str]]]:
    """Answers (question, answer) that what was told amounts to, by figure; none where nothing is certain. An index that leaves the stick on
    the up-bow leaves the bow to the little finger."""
    out: dict[HandMove, list[tuple[str, str]]] = {}
    for one in told:
        if one.what is HandMove.INDEX and one.shown:
            out[one.what] = [("index keeps", "leaves"), ("little work", "takes over")]
        elif one.what is HandMove.INDEX and one.absent and not any(o.what is HandMove.SLIDES and o.shown for o in told):
            out[one.what] = [("index keeps", "stays")]
        elif one.what is HandMove.SLIDES and one.shown and one.value < 0:
            out[one.what] = [("index keeps", "slides back")]
    return out
