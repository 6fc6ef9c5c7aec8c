"""Long work as a generator of ``Progress``; whoever runs it may stop between two steps. No threads here."""

from __future__ import annotations

from collections.abc import Generator
from dataclasses import dataclass
from enum import StrEnum
from typing import TypeVar

T = TypeVar("T")


class Stage(StrEnum):
    """What long work is at."""

    OPENING = "opening the video"
    FOLLOWING = "following the bow"
    WHOLE_BOW = "looking for the whole bow"
    SOLVING = "solving the bow"
    PLAYER = "looking at the player"
    AGAIN = "analysing the neighbourhood"
    HANDS = "looking at hands"
    HEARING = "listening"
    SKIMMING = "skimming"
    PICTURES = "pictures"
    ARCHIVE = "archive"
    DONE = "done"


@dataclass(frozen=True)
class Progress:
    """Where long work has got to: ``done`` of ``total`` steps (frames) of one named stage; ``so_far``: what can be shown already."""

    stage: Stage
    done: int
    total: int
    so_far: object = None

    @property
    def share(self) -> float:
        """Done share of this stage, 0..1."""
        return min(1.0, self.done / self.total) if self.total > 0 else 0.0


Work = Generator[Progress, None, T]


def finish(work: Work[T]) -> T:
    """Run a job to its end on the spot and return its result."""
    while True:
        try:
            next(work)
        except StopIteration as stop:
            result: T = stop.value
            return result
