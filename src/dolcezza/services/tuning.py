"""Tuning by a recording of the four open strings: a sound or video file is listened to, nothing is kept."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from dolcezza.core.base.errors import MediaError
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.media.audio import read_sound
from dolcezza.core.sound.open_strings import OpenString, strings_heard
from dolcezza.core.sound.pitch import RATE_HZ, track_pitch
from dolcezza.core.sound.strings import A4_HZ, open_pitches

LONGEST_S = 90.0
"""So much of a recording is listened to."""


def listen(path: Path, family: str, a4_hz: float = A4_HZ) -> Work[list[OpenString]]:
    """The open strings of a ``family`` in a recording. Raises MediaError where nothing is heard."""
    yield Progress(Stage.HEARING, 0, 1)
    path = Path(path)
    found = read_sound(path, rate_hz=RATE_HZ)
    if found is None or not len(found[0]):
        raise MediaError(f"{path.name} has no sound.", "Record the four open strings one after the other, each for a second or two.")
    samples, start_s = found
    lowest = float(open_pitches(family, a4_hz)[0])
    samples = np.asarray(samples[: round(LONGEST_S * RATE_HZ)])
    track = track_pitch(samples, start_s=start_s, lowest_hz=0.75 * lowest, highest_hz=12 * lowest)
    heard = strings_heard(track, family, a4_hz)
    if not heard:
        raise MediaError(
            "No open string is held long enough to be told.", "Play the four strings one after the other, a second or two each."
        )
    return heard
