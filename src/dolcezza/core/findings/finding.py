"""What a finding is: something worth looking at, with its evidence."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from dolcezza.core.base.message import NOTHING, Message
from dolcezza.core.strokes.figures import Stroke

SURE_SD = 2.0
"""A finding is sure if it would still be one with its value so many sd nearer to the limit."""
LEAST_SEEN = 0.7
"""A stroke of which less was measured proves nothing."""
LEAST_CONFIDENCE = 0.4
"""Nor does one whose bow was seen so much more faintly than the take's bow is elsewhere: it may be something else that was followed."""
FEWEST_SURE = 3
"""What one stroke or two show of tone or arm is a slip, and nothing to be sure of."""
HABIT = 0.25
"""What shows on fewer strokes than this share is a slip, of the player or of the measuring."""


@dataclass(frozen=True)
class Finding:
    """Something worth looking at. The teacher decides whether it matters.

    ``strokes``: numbers of those that show it, out of ``of``; ``evidence_s``: one moment each (s). ``value`` with its
    ``sd`` (one standard deviation) against ``limit`` in ``unit``. ``sure`` is true only if it would still be a finding
    with the value two sd nearer to the limit, and what was followed for it is sound. ``cause`` is a key;
    ``message`` what it says, ``against`` what speaks against it, ``film`` what to film to be
    sure (the last two may be ``NOTHING``). The words are in ``reports``.
    """

    kind: str
    strokes: tuple[int, ...]
    of: int
    evidence_s: tuple[float, ...]
    value: float
    sd: float
    limit: float
    unit: str
    sure: bool
    cause: str
    message: Message
    against: Message = NOTHING
    film: Message = NOTHING


STRING_TOLD = 4.0
"""A stroke's string is plain when every other explains the picture worse by so much (chi square: two sd): on another one the bow would have
another angle and place."""


def surely_above(value: float, limit: float, sd: float) -> bool:
    """Whether a value is above a limit for certain."""
    return bool(value - limit > SURE_SD * sd)


def surely_below(value: float, limit: float, sd: float) -> bool:
    """Whether a value is below a limit for certain."""
    return surely_above(limit, value, sd)


def surely_beyond(value: float, limit: float, sd: float) -> bool:
    """Whether a value that is known to lie on the wrong side of a limit, whichever that is, does so for certain."""
    return surely_above(value, limit, sd) or surely_below(value, limit, sd)


def plainly_seen(stroke: Stroke) -> bool:
    """Whether enough of a stroke was measured, on a bow that was seen about as plainly as a bow is."""
    return stroke.share_seen >= LEAST_SEEN and not stroke.confidence < LEAST_CONFIDENCE


def well_seen(members: Sequence[Stroke], of: int) -> bool:
    """Whether the strokes that show something are enough, seen well enough, and on strings told plainly enough, to be sure of it."""
    seen = [s for s in members if plainly_seen(s) and not s.string_margin < STRING_TOLD]
    return len(seen) >= min(2, of) and len(seen) > HABIT * of
