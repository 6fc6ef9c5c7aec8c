"""Records of figures of which some are not known."""

from __future__ import annotations

import math
from typing import Any


class Known:
    """Equal to another record of its kind where all that is known of both is equal, and of both the same is not known (NaN).

    Dataclasses leave it to the version of Python whether a NaN equals itself; they are made with ``eq=False``.
    """

    def __eq__(self, other: object) -> bool:
        if type(other) is not type(self):
            return NotImplemented
        return same(vars(self), vars(other))

    def __hash__(self) -> int:
        return hash((type(self).__name__, *(v for v in vars(self).values() if isinstance(v, str | int))))


def same(a: Any, b: Any) -> bool:
    """Whether two values are equal, what is not known of both being the same; containers by what is in them."""
    if isinstance(a, float) and isinstance(b, float):
        return a == b or (math.isnan(a) and math.isnan(b))
    if isinstance(a, dict) and isinstance(b, dict):
        return a.keys() == b.keys() and all(same(v, b[k]) for k, v in a.items())
    if isinstance(a, list | tuple) and isinstance(b, list | tuple):
        return type(a) is type(b) and len(a) == len(b) and all(same(v, w) for v, w in zip(a, b, strict=True))
    return bool(a == b)
