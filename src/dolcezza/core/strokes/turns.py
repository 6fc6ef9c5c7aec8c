"""Where the bow turns, by its place: the extremes of its way that lie farther apart than the noise, without those that no bow makes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.signals import runs

LEAST_TIME_S = 0.08
"""No stroke is shorter."""
TURN_SD = 2.0
"""Two turns that lie no farther apart than so many sd of what their places are in doubt by are turns if the tone rises between them."""
FLICK_S, FLICK_SHARE = 0.25, 0.5
"""A bow that turns for less than the first, and again, all of it together no longer than this share of the shorter of the strokes around,
has turned if it is heard: an end of the bow that is taken for something else for some frames does the same."""
FLICK_EVERY_S = 2.0
"""Where there are more than one of them in so long, and one more, they are played: a dotted rhythm, while somebody else's tone goes on."""


@dataclass(frozen=True)
class ByEar:
    """What the tone says of turns; without sound it speaks against none. ``rises``: whether it rises between two moments (s) at which it
    dips; ``goes_on``: whether it sounds on from one to another as if the bow turned at neither; ``dips``: whether it dips at a moment."""

    rises: Callable[[float, float], bool] = lambda *_: True
    goes_on: Callable[[float, float], bool] = lambda *_: False
    dips: Callable[[float], bool] = lambda _: True


UNHEARD = ByEar()


def turns_of(p: Array, least: float) -> list[int]:
    """Indices of the ends and of the extremes that are at least ``least`` apart (zigzag with hysteresis)."""
    turns = [0]
    low = high = 0
    direction = 0
    for k in range(1, len(p)):
        low = k if p[k] < p[low] else low
        high = k if p[k] > p[high] else high
        if direction >= 0 and p[high] - p[k] >= least:
            if direction > 0 or high > 0:
                turns.append(high)
            direction, low = -1, k
            high = k
        elif direction <= 0 and p[k] - p[low] >= least:
            if direction < 0 or low > 0:
                turns.append(low)
            direction, high = 1, k
            low = k
    turns.append(high if direction > 0 else low if direction < 0 else len(p) - 1)
    return sorted(set(turns))


def real_turns(turns: list[int], p: Array, t: Array, doubt: Array, heard: ByEar) -> tuple[list[int], set[int]]:
    """The turns without those that come in pairs closer than the shortest stroke: no bow turns twice in so short a time; or no farther
    apart on the bow than one of the two places may be off by its ``doubt`` (n,), or flicks among long strokes, if the tone does not rise
    between them; nor flicks at the ends if the tone does not dip there.

    Of the turns to one side that such a pair leaves, the farther one stays. Also which seemed to be turns of flicks.
    """
    left, flicked = list(turns), set()
    seldom = _seldom(t[np.array(left)])
    while len(left) > 3:
        inner = np.array(left[1:-1])
        apart, way = np.diff(t[inner]), np.abs(np.diff(p[inner]))
        doubtful = way < TURN_SD * np.maximum(doubt[inner[1:]], doubt[inner[:-1]])
        flick = seldom & _flicks(t[np.array(left)])[1:-1]
        told = [(float(t[a]), float(t[b])) for a, b in pairwise(inner)]
        kept = np.array([not unsure or heard.rises(*pair) for pair, unsure in zip(told, doubtful, strict=True)])
        drawn_on = np.array([short and heard.goes_on(*pair) for pair, short in zip(told, flick, strict=True)])
        unreal = (apart < LEAST_TIME_S) | (doubtful & ~kept) | drawn_on
        if not unreal.any():
            break
        k = int(np.argmin(np.where(unreal, way, np.inf))) + 1
        flicked |= {left[k], left[k + 1]} if drawn_on[k - 1] else set()
        up = 1.0 if p[left[k]] > p[left[k + 1]] else -1.0
        if up * (p[left[k - 1]] - p[left[k + 1]]) >= 0:
            del left[k - 1 : k + 1]
        elif up * (p[left[k]] - p[left[k + 2]]) >= 0:
            del left[k + 1 : k + 3]
        else:
            del left[k : k + 2]
    return _without_flicks_at_ends(left, t, heard), flicked


def _flicks(turned_s: Array) -> Array:
    """Which of the ways between turns (k,) s are flicks, (k - 1,) bool: short, and so are those beside them, up to long ones."""
    seconds = np.diff(turned_s)
    out = np.zeros(len(seconds), bool)
    for a, b in runs(seconds < FLICK_S):
        around = [seconds[k] for k in (a - 1, b) if 0 <= k < len(seconds)]
        out[a:b] = bool(around) and seconds[a:b].sum() <= FLICK_SHARE * min(around)
    return out


def _seldom(turned_s: Array) -> bool:
    """Whether flicks are so few between turns (k,) s, but for the first and the last way, that nobody plays them."""
    return len(runs(_flicks(turned_s)[1:-1])) <= 1 + float(turned_s[-1] - turned_s[0]) / FLICK_EVERY_S


def _without_flicks_at_ends(turns: list[int], t: Array, heard: ByEar) -> list[int]:
    """The turns without the first and the last where what lies beyond the next is a flick and the tone goes on there."""
    left = list(turns)
    if len(left) > 2 and _flicks(t[np.array(left)])[0] and not heard.dips(float(t[left[1]])):
        del left[0]
    if len(left) > 2 and _flicks(t[np.array(left)])[-1] and not heard.dips(float(t[left[-2]])):
        del left[-1]
    return left


def one_way(p: Array, turns: list[int], flicked: set[int]) -> Array:
    """Places (n,) of a bow that goes on between two of the ``turns`` as before and after where it seems to turn at ``flicked`` ones."""
    out = p.copy()
    for i, j in pairwise(turns):
        way = p[i : j + 1] if p[j] >= p[i] else -p[i : j + 1]
        most, fewest = np.maximum.accumulate(way), np.minimum.accumulate(way[::-1])[::-1]
        for a, b in runs(most > fewest):
            if any(i + a - 1 <= k <= i + b for k in flicked):
                before, after = i + max(a - 1, 0), i + min(b, j - i)
                out[before : after + 1] = np.interp(np.arange(before, after + 1), [before, after], [p[before], p[after]])
    return out


def in_the_middle(turns: list[int], seen: Array) -> tuple[list[int], set[int]]:
    """Turns beside frames in which the bow was not ``seen`` (n,) bool, more than one, put into their middle; all, and which these are."""
    out, unseen = list(turns), set()
    for a, b in runs(~seen):
        for k in range(1, len(out) - 1):
            if b - a > 1 and a - 1 <= out[k] <= b:
                out[k] = (a - 1 + b) // 2
                unseen.add(out[k])
    return sorted(set(out)), unseen
