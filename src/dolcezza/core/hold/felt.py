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
    FeltTest(
        "little_press", "Little finger presses", "Let the little finger press on the stick for a moment.", "Does the head of the bow rise?",
        "yes",
    ),
    FeltTest("wave", "Wave", "Hold the bow and wave with the whole hand.", "Do the fingers swing along?", "yes"),
    FeltTest("ring", "Look through the ring", "Look from above through the ring of thumb and fingers.", "Is it round and open?", "yes"),
    FeltTest("curved", "From above", "Look at the hand from above.", "Is every finger curved?", "yes"),
    FeltTest(
        "lift_thumb", "Thumb off", "Let the thumb leave the stick for a moment, while the other hand carries the bow.",
        "Can it be lifted without the fingers squeezing?", "yes",
    ),
    FeltTest("peep", "Thumb peeps", "Let the thumb peep out beside the stick and go back.", "Does it come and go easily?", "yes"),
    FeltTest("breaths", "A few breaths", "The other hand lets go of the bow for a few breaths.", "Does the hold stay as it was?", "yes"),
    FeltTest("flop", "Limp hand", "Let the hand on the bow go limp, while the other hand holds it.", "Does it go limp at once?", "yes"),
    FeltTest("hidden", "Dots hidden", "Look for the dots that were drawn.", "Are they all hidden by the stick?", "yes"),
    FeltTest(
        "little_lifts", "Little finger on the string", "With the bow on the string let the little finger lift.",
        "Does the hold stay as it was?", "yes",
    ),
)  # fmt: skip
