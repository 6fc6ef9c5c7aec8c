"""What no camera can tell: small tests between teacher and student, answered yes, no or not tried, with the date.

Common practice, no source. Each is done gently; at any pain it stops.
"""

from __future__ import annotations

from dataclasses import dataclass

ANSWERS = ("yes", "no", "not tried")


@dataclass(frozen=True)
class FeltTest:
    """``key`` in the record, ``name``, ``how`` it is done, ``question`` that is answered; ``free`` = the answer of a hand at ease."""

    key: str
    name: str
    how: str
    question: str
    free: str


FELT_TESTS: tuple[FeltTest, ...] = (
    FeltTest("arm_drop", "Arm drop", "Lift the student's forearm from below and take your hand away.", "Does the arm fall at once?", "yes"),
    FeltTest("thumb_tug", "Thumb tug", "With the hold set, tug lightly at the thumb.", "Does the thumb give?", "yes"),
    FeltTest("tap", "Finger tap", "Let each finger tap on the stick in turn.", "Do the others stay still and soft?", "yes"),
    FeltTest(
        "little_off", "Little finger off", "Let the little finger leave the stick for a moment.", "Does the head of the bow sink?", "yes"
    ),
    FeltTest("wave", "Wave", "Hold the bow and wave with the whole hand.", "Do the fingers swing along?", "yes"),
    FeltTest("ring", "Look through the ring", "Look from above through the ring of thumb and fingers.", "Is it round and open?", "yes"),
)
