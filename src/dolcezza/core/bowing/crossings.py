"""A bow that crosses to another string turns about the strings, and its line in the picture with it.

Seen along the strings, a bow on the next string at another angle looks much the same, and a note that may be stopped or open says little.
What is taken for a crossing while the line goes on as it went would be a bow that turned in its angle by as much, at once, and turned back
as suddenly: it has stayed on its string.
"""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.signals import runs

TURNS_DEG = 5.0
"""By how much (one sd) the angle differs between two strings of one bow: players draw them differently, and an instrument's turn that
is not quite known adds to one more than to the other."""
MOST_TURN = 16.0
"""The cost of any turn: the bow was taken off and set down again."""
PLAIN = 4.0
"""A crossing is not believed if its turns are so much (chi square: two sd) less likely than none."""
AROUND_S = 0.2
"""How long before and after a crossing the angle is looked at."""
LOOKS, NOTES = 6.0, 2.0
"""So many frames of the picture count, however long a bow is on the string, since they err alike; and so many of the sound, which is one
note."""
FAR_S = 0.8
"""A crossing is looked for so long before and after the moment from which picture and sound have the bow on the other string."""
LONGEST_S = 3.0
"""A bow that is longer on a string is known there by more than a note."""


def settle_crossings(
    state: Array, states_string: Array, angles: Array, picture: Array, heard: Array, seen: Array, rate_hz: float, *, strings: int = 4
) -> Array:  # fmt: skip
    """The chosen ``state`` (n,) of every frame, without crossings that the line does not show.

    ``states_string`` (m,): each state's string, ``angles`` (m, n) deg: the bow's angle there, ``picture`` and ``heard`` (n, m): what
    picture and sound have against it; ``seen`` (n,) bool. From ``strings`` on a state's string is a pair of neighbours: half-way between
    two strings, it is never what a bow has stayed on.
    """
    state = state.copy()
    around = max(2, round(AROUND_S * rate_hz))
    for start, end in runs(seen):
        for k in range(len(_stretches(states_string[state[start:end]], start)) - 1):
            (a, b), (_, c) = _stretches(states_string[state[start:end]], start)[k : k + 2]
            state = _crossed_then(state, a, b, c, states_string, angles, picture, heard, around, round(FAR_S * rate_hz))
        found: Array | None = state
        while found is not None:
            state, found = found, None
            stretches = _stretches(states_string[state[start:end]], start)
            # a short one is wrong sooner than those beside it
            for k in sorted(range(len(stretches)), key=lambda k: stretches[k][1] - stretches[k][0]):
                a, b = stretches[k]
                beside = [stretches[i] for i in (k - 1, k + 1) if 0 <= i < len(stretches)]
                others = sorted({int(s) for s in (states_string[state[x]] for x, _ in beside) if s < strings})
                if b - a <= LONGEST_S * rate_hz:
                    found = _elsewhere(state, a, b, beside, others, states_string, angles, picture, heard, around)
                if found is not None:
                    break
    return state


def _elsewhere(
    state: Array, a: int, b: int, beside: list[tuple[int, int]], others: list[int], states_string: Array, angles: Array, picture: Array,
    heard: Array, around: int,
) -> Array | None:  # fmt: skip
    """The states (n,) with the stretch ``a`` to ``b`` on one of the ``others``, the strings of those ``beside`` it, if that is likelier."""
    turned = _turns(state, a, b, beside, angles, around)
    best, least = None, _against(state, a, b, picture, heard) + turned
    for string in others:
        there = np.flatnonzero(states_string == string)
        tried = state.copy()
        tried[a:b] = there[picture[a:b, there].sum(axis=0).argmin()]
        turns = _turns(tried, a, b, beside, angles, around)
        cost = _against(tried, a, b, picture, heard) + turns
        if cost < least and turned - turns > PLAIN:
            best, least = tried, cost
    return best


def _crossed_then(
    state: Array, a: int, b: int, c: int, states_string: Array, angles: Array, picture: Array, heard: Array, around: int, far: int
) -> Array:  # fmt: skip
    """The states (n,) with the crossing at ``b``, between the stretches from ``a`` and to ``c``, where the line turns with it."""

    def turn(state: Array, at: int) -> float:
        return _turns(state, a, at, [(at, c)], angles, around)

    now, best, least = turn(state, b), state, 0.0
    if now <= PLAIN:
        return state
    for at in range(max(a + 2, b - far), min(c - 2, b + far) + 1):
        if at == b:
            continue
        low, high, string = (at, b, states_string[state[b]]) if at < b else (b, at, states_string[state[b - 1]])
        there = np.flatnonzero(states_string == string)
        tried = state.copy()
        tried[low:high] = there[picture[low:high, there].sum(axis=0).argmin()]
        then = turn(tried, at)
        cost = _against(tried, low, high, picture, heard) - _against(state, low, high, picture, heard) + then - now
        if cost < least and now - then > PLAIN:
            best, least = tried, cost
    return best


def _stretches(string: Array, start: int) -> list[tuple[int, int]]:
    """Stretches (from, to) of one string each."""
    edges = [0, *(np.flatnonzero(np.diff(string)) + 1).tolist(), len(string)]
    return [(start + a, start + b) for a, b in pairwise(edges)]


def _against(state: Array, a: int, b: int, picture: Array, heard: Array) -> float:
    """What picture and sound have against the states of the stretch ``a`` to ``b``."""
    rows, frames = np.arange(a, b), b - a
    return min(frames, LOOKS) * float(picture[rows, state[a:b]].mean()) + min(frames, NOTES) * float(heard[rows, state[a:b]].mean())


def _turns(state: Array, a: int, b: int, beside: list[tuple[int, int]], angles: Array, around: int) -> float:
    """What the turns of the angle between the stretch and those ``beside`` it speak against the crossings."""
    cost = 0.0
    for x, y in beside:
        before = y <= a
        inner = slice(a, min(b, a + around)) if before else slice(max(a, b - around), b)
        outer = slice(max(x, y - around), y) if before else slice(x, min(y, x + around))
        cost += min(MOST_TURN, ((_angle(state, angles, inner) - _angle(state, angles, outer)) / TURNS_DEG) ** 2)
    return cost


def _angle(state: Array, angles: Array, part: slice) -> float:
    rows = np.arange(part.start, part.stop)
    return float(np.median(angles[state[rows], rows]))
