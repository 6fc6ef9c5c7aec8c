"""How the measuring asks for body and hand points: a protocol, so that tests answer with recorded ones."""

from __future__ import annotations

from concurrent.futures import Future
from typing import Protocol

from dolcezza.core.base.arrays import Array
from dolcezza.core.models.landmarks import Guess


class Models(Protocol):
    """Finds bodies, hands and instruments in pictures; answers come as futures."""

    def warm(self, *what: str) -> None:
        """Load models ("body", "hands", "instrument") while something else is done."""
        ...

    def body(self, image: Array, *, anew: bool = False) -> Future[Array | None]:
        """Body points in an RGB picture (h, w, 3): (33, 3) of x px, y px, visibility; None = nobody. ``anew``: another scene."""
        ...

    def hands(self, image: Array) -> Future[list[tuple[Array, float]]]:
        """Hands in an RGB picture (h, w, 3): for each (21, 2) px and how sure the model is, 0..1."""
        ...

    def instrument(self, image: Array) -> Future[Guess]:
        """Landmarks of the instrument and ends of the bow in an RGB picture (h, w, 3), sides multiples of 64 px."""
        ...
