"""The steps of the job in their order, and what each of them needs and offers."""

from __future__ import annotations

from dolcezza.app.theme.words import mark

STEPS = [
    mark("Students"),
    mark("Video"),
    mark("Landmarks"),
    mark("Strokes"),
    mark("Arm"),
    mark("Hold"),
    mark("Distribution"),
    mark("Bow plan"),
    mark("Notes"),
    mark("Correct"),
    mark("Practise"),
    mark("Progress"),
]
STUDENTS, TAKE, LANDMARKS, STROKES, ARM, HOLD, USE, PLAN, NOTES, CORRECT, PRACTISE, PROGRESS = range(12)
STILL_STEPS = (STUDENTS, HOLD, PLAN, NOTES, PRACTISE, PROGRESS)
"""Steps that do not show the take's moment."""
PLAYING_STEPS = (TAKE, STROKES, ARM, USE, CORRECT)
"""Steps on which the take can be played."""
PLAYING_KEYS = ("toggle_play", "frame_on", "frame_back", "slower", "repeat", "mute")
STROKE_KEYS = ("stroke_cut", "stroke_join", "stroke_drop", "ends_go")
"""Actions that need strokes on the screen."""
WITHOUT_A_TAKE = (HOLD, PRACTISE, PROGRESS)
"""Steps for which a student is enough."""


def may_enter(*, take: bool, student: bool) -> list[bool]:
    """Which steps are open, with or without a take that is open and a student that is chosen."""
    return [k in (STUDENTS, PLAN, NOTES) or take or (student and k in WITHOUT_A_TAKE) for k in range(len(STEPS))]
