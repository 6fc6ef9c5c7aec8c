"""Which hand bows, where the first looks at a video have not told it."""

from __future__ import annotations

from dataclasses import replace

from dolcezza.core.base.message import Message
from dolcezza.core.camera.pose import swapped
from dolcezza.core.pipeline.fit_file import Fit

HELD = 0.65
"""In at least such a share of the looks at the player the hand that bows is where the frog is: 0.8 and more where takes were measured for
the right hand, half at most where they were measured for the wrong one."""


def as_the_other_hand(fit: Fit) -> Fit:
    """The same landmarks in the same picture, if the other hand bows."""
    marked = tuple(replace(m, points=swapped(m.points), found=tuple(swapped({n: m.points[n] for n in m.found}))) for m in fit.landmarks)
    return replace(fit, landmarks=marked, handed="right" if fit.handed == "left" else "left")


def doubtful_hand(fit: Fit, held: float) -> Message | None:
    """What is to be said of the hand that bows, ``held`` being the share of looks in which it is where the frog is (NaN: nobody was seen);
    None where it is known."""
    if held >= HELD or (fit.handed_told and not held < HELD):
        return None
    return Message("note.other hand" if held < HELD else "note.either hand", {"hand": Message(f"bow hand.{fit.handed}")})
