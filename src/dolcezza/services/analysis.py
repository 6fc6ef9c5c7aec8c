"""Measuring a take with the models that ship with the program."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from dolcezza.core.assignment.exercise import Exercise
from dolcezza.core.base.errors import DolcezzaError, TrackingError
from dolcezza.core.base.job import Work
from dolcezza.core.findings.profiles import Profile
from dolcezza.core.pipeline.fit_file import Fit

if TYPE_CHECKING:
    from dolcezza.core.pipeline.measure import TakeAnalysis


def analyse(
    video: Path, fit: Fit, *, profile: Profile | None = None, exercise: Exercise | None = None, first_strokes: bool = True
) -> Work[TakeAnalysis]:  # fmt: skip
    """The whole measurement, see ``measure_take``. Raises a DolcezzaError with a sentence for bad input."""
    # the whole of the measuring is loaded when it begins, not when the desk opens
    from dolcezza.core.pipeline.measure import measure_take
    from dolcezza.services.body_model import BodyModel

    return measure_take(video, fit, BodyModel(), profile=profile, exercise=exercise, first_strokes=first_strokes)


def find_and_analyse(
    video: Path, instrument: str, ready: Callable[[Fit], tuple[Fit, Profile | None]]
) -> Work[tuple[Fit, TakeAnalysis]]:  # fmt: skip
    """Find the instrument in a video that nobody has marked, and measure it; ``ready``: what else is known of the take, and its profile.

    Raises DolcezzaErrors."""
    found = yield from find_landmarks(video, instrument)
    fit, profile = ready(found)
    return (yield from analyse_found(video, fit, profile=profile))


def analyse_found(
    video: Path, fit: Fit, *, profile: Profile | None = None, exercise: Exercise | None = None
) -> Work[tuple[Fit, TakeAnalysis]]:  # fmt: skip
    """Measure a take whose instrument was found; where no hand is seen at the frog, for the other hand too, which counts if it is there.
    Raises DolcezzaErrors."""
    from dolcezza.core.pipeline.which_hand import as_the_other_hand

    own = yield from analyse(video, fit, profile=profile, exercise=exercise, first_strokes=False)
    if own.cache is None or own.cache.handed_told or math.isnan(own.cache.held):
        return fit, own
    turned = as_the_other_hand(fit)
    try:
        other = yield from analyse(video, turned, profile=profile, exercise=exercise, first_strokes=False)
    except DolcezzaError:
        return fit, own
    return (replace(turned, handed_told=True), other) if other.cache is not None and other.cache.handed_told else (fit, own)


def analyse_two(
    videos: tuple[Path, Path], fits: tuple[Fit, Fit], *, profile: Profile | None = None, exercise: Exercise | None = None
) -> Work[TakeAnalysis]:  # fmt: skip
    """One playing from two phones, see ``measure_two``. Raises a DolcezzaError with a sentence for bad input."""
    from dolcezza.core.pipeline.two_phones import measure_two
    from dolcezza.services.body_model import BodyModel

    return measure_two(videos, fits, BodyModel(), profile=profile, exercise=exercise)


def analyse_pair(
    videos: tuple[Path, Path], fits: tuple[Fit, Fit], *, profile: Profile | None = None, exercise: Exercise | None = None
) -> Work[TakeAnalysis]:  # fmt: skip
    """The same; a second video that nobody has marked is looked at first, and tells the arm alone where it does not show the instrument.
    Raises DolcezzaErrors."""
    second = replace(fits[1], instrument=fits[0].instrument)
    if not second.landmarks:
        found = yield from second_fit(videos[1], fits[0])
        second = replace(second, landmarks=found.landmarks, handed=found.handed, mirrored=found.mirrored or second.mirrored)
    return (yield from analyse_two(videos, (fits[0], second), profile=profile, exercise=exercise))


def second_fit(video: Path, first: Fit) -> Work[Fit]:
    """The instrument found in a second phone's video, by the ``first`` one's fit; without landmarks where it shows the player alone. Raises
    DolcezzaErrors."""
    try:
        return (yield from find_landmarks(video, first.instrument))
    except TrackingError:
        return Fit(first.instrument, (), first.handed, take=video.name)


def frame_to_mark(video: Path) -> Work[float]:
    """Time (s) of the frame to offer for setting landmarks, see ``offered_frame``. Raises MediaError."""
    from dolcezza.core.pipeline.offered_frame import offered_frame
    from dolcezza.services.body_model import BodyModel

    return offered_frame(video, BodyModel())


def find_landmarks(video: Path, instrument: str) -> Work[Fit]:
    """The instrument found without a click, see ``found_fit``. Raises DolcezzaErrors."""
    from dolcezza.core.pipeline.find_instrument import found_fit
    from dolcezza.services.body_model import BodyModel

    return found_fit(video, instrument, BodyModel())
