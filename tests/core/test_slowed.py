"""Slow motion whose file does not tell of it: bowed tones, slowed down as a phone does it, against hums and talk."""

from __future__ import annotations

import numpy as np
import pytest

from dolcezza.core.sound.pitch import RATE_HZ, track_pitch
from dolcezza.core.sound.slowed import slowed
from dolcezza.core.sound.strings import open_pitches


def playing(pitches: list[float], *, each_s: float = 0.8, seed: int = 0) -> np.ndarray:
    rng = np.random.default_rng(seed)
    t = np.arange(int(each_s * RATE_HZ)) / RATE_HZ
    swell = np.minimum(1.0, np.minimum(t, each_s - t) / 0.05)
    tones = [swell * sum(np.sin(2 * np.pi * k * hz * t + k) / k for k in range(1, 12)) for hz in pitches]
    whole = np.concatenate(tones)
    return 0.2 * whole + 0.002 * rng.normal(size=len(whole))


def stretched(samples: np.ndarray, times: float) -> np.ndarray:
    """As a phone saves slow motion: the same waves, so many times longer."""
    at = np.arange(int(len(samples) * times)) / times
    return np.interp(at, np.arange(len(samples)), samples)


def told(samples: np.ndarray, family: str) -> int:
    lowest = float(open_pitches(family)[0])
    track = track_pitch(samples, start_s=0.0, lowest_hz=0.9 * lowest, highest_hz=20 * lowest)
    return slowed(samples, track, lowest_hz=lowest)


@pytest.mark.parametrize("family", ["violin", "viola", "cello"])
@pytest.mark.parametrize("times", [4, 8])
def test_all_strings_slowed_down_are_told_with_how_many_times(family, times):
    assert told(stretched(playing(list(open_pitches(family))), times), family) == times


@pytest.mark.parametrize("family", ["violin", "viola", "cello"])
def test_what_is_played_as_it_is_saved_is_not_slow(family):
    strings = list(open_pitches(family))
    assert told(playing(strings), family) == 1
    assert told(playing([strings[0], strings[0] * 2 ** (2 / 12), strings[0]]), family) == 1, "low notes of the lowest string"


def test_a_hum_talk_and_noise_are_no_slow_motion():
    rng = np.random.default_rng(1)
    t = np.arange(6 * RATE_HZ) / RATE_HZ
    hum = 0.1 * sum(np.sin(2 * np.pi * 50 * k * t) / k for k in range(1, 6))
    assert told(hum, "violin") == 1
    assert told(0.05 * rng.normal(size=len(t)), "violin") == 1
    # a voice glides all the time: from 90 to 160 Hz and back in half a second
    glide = 125 + 35 * np.sin(2 * np.pi * 2.0 * t) + 8 * np.sin(2 * np.pi * 5.3 * t)
    voice = sum(np.sin(2 * np.pi * k * np.cumsum(glide) / RATE_HZ) / k for k in range(1, 10))
    assert told(0.1 * voice, "violin") == 1
    assert told(np.zeros(RATE_HZ), "cello") == 1


def test_the_lowest_note_says_how_many_times_and_nothing_lower_is_guessed():
    """Only the E string of a violin, slowed four times, lies where the lowest string slowed once would: twice is all that is sure."""
    e = float(open_pitches("violin")[3])
    assert told(stretched(playing([e, e * 2 ** (2 / 12), e]), 4), "violin") == 2
