"""A bow that crosses to another string turns about the strings, and its line in the picture with it.

Seen along the strings, a bow on the next string at another angle looks much the same, and a note that may be stopped or open says little.
What is taken for a crossing while the line goes on as it went would be a bow that turned in its angle by as much, at once, and turned back
as suddenly: it has stayed on its string.
"""

from __future__ import annotations

from dataclasses import dataclass

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


@dataclass(frozen=True)
class Hypotheses:
    """What each of m states of a bow is: ``string`` (m,) it is on, ``angle`` (m, n) deg there; ``picture`` and ``heard`` (n, m): what
    picture and sound have against it. From ``strings`` on a string is a pair of neighbours."""

    string: Array
    angle: Array
    picture: Array
    heard: Array
    strings: int

    def on(self, string: int, state: Array, a: int, b: int) -> Array:
        """The states (n,) with those from ``a`` to ``b`` on that ``string``, as the picture has it likeliest."""
        there = np.flatnonzero(self.string == string)
        out = state.copy()
        out[a:b] = there[self.picture[a:b, there].sum(axis=0).argmin()]
        return out

    def against(self, state: Array, a: int, b: int) -> float:
        """What picture and sound have against the states from ``a`` to ``b``."""
        at, frames = (np.arange(a, b), state[a:b]), b - a
        return min(frames, LOOKS) * float(self.picture[at].mean()) + min(frames, NOTES) * float(self.heard[at].mean())

    def turn(self, state: Array, a: int, b: int, c: int, around: int) -> float:
        """What the turn of the angle at ``b``, between the stretches from ``a`` and to ``c``, speaks against a crossing there."""
        before, after = (np.arange(max(a, b - around), b), np.arange(b, min(c, b + around)))
        off = np.median(self.angle[state[after], after]) - np.median(self.angle[state[before], before])
        return min(MOST_TURN, float(off / TURNS_DEG) ** 2)


def settle_crossings(state: Array, of: Hypotheses, seen: Array, rate_hz: float) -> Array:
    """The chosen ``state`` (n,) of every frame, without crossings that the line does not show; ``seen`` (n,) bool.

    A pair of strings, half-way between two, is never what a bow has stayed on.
    """
    state = state.copy()
    around, far, longest = max(2, round(AROUND_S * rate_hz)), round(FAR_S * rate_hz), LONGEST_S * rate_hz
    for start, end in runs(seen):
        for k in range(1, len(_edges(of.string[state[start:end]])) - 1):
            a, b, c = (start + e for e in _edges(of.string[state[start:end]])[k - 1 : k + 2])
            state = _crossed_then(state, a, b, c, of, around, far)
        found: Array | None = state
        while found is not None:
            state, found = found, None
            edges = [start + e for e in _edges(of.string[state[start:end]])]
            # a short one is wrong sooner than those beside it
            for k in sorted(range(len(edges) - 1), key=lambda k: edges[k + 1] - edges[k]):
                if found is None and edges[k + 1] - edges[k] <= longest:
                    found = _elsewhere(state, edges, k, of, around)
    return state


def _elsewhere(state: Array, edges: list[int], k: int, of: Hypotheses, around: int) -> Array | None:
    """The states (n,) with stretch ``k`` between the ``edges`` on the string of one of those beside it, if that is likelier; else None."""
    a, b = edges[k : k + 2]

    def turns(state: Array) -> float:
        left = of.turn(state, edges[k - 1], a, b, around) if k else 0.0
        return left + (of.turn(state, a, b, edges[k + 2], around) if k + 2 < len(edges) else 0.0)

    beside = {int(of.string[state[x]]) for x in (*edges[max(0, k - 1) : k], *edges[k + 1 : -1][:1])}
    turned = turns(state)
    best, least = None, of.against(state, a, b) + turned
    for string in sorted(s for s in beside if s < of.strings):
        tried = of.on(string, state, a, b)
        then = turns(tried)
        cost = of.against(tried, a, b) + then
        if cost < least and turned - then > PLAIN:
            best, least = tried, cost
    return best


def _crossed_then(state: Array, a: int, b: int, c: int, of: Hypotheses, around: int, far: int) -> Array:
    """The states (n,) with the crossing at ``b``, between the stretches from ``a`` and to ``c``, where the line turns with it."""
    now, best, least = of.turn(state, a, b, c, around), state, 0.0
    if now <= PLAIN:
        return state
    for at in range(max(a + 2, b - far), min(c - 2, b + far) + 1):
        if at == b:
            continue
        low, high, string = (at, b, of.string[state[b]]) if at < b else (b, at, of.string[state[b - 1]])
        tried = of.on(string, state, low, high)
        then = of.turn(tried, a, at, c, around)
        cost = of.against(tried, low, high) - of.against(state, low, high) + then - now
        if cost < least and now - then > PLAIN:
            best, least = tried, cost
    return best


def _edges(string: Array) -> list[int]:
    """Where stretches of one string each begin, and the end."""
    return [0, *(np.flatnonzero(np.diff(string)) + 1).tolist(), len(string)]
