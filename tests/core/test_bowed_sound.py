"""A bowed string in a room where people talk and the walls ring: when it sounds, which two at once, how late it comes."""

from __future__ import annotations

import numpy as np
import pytest

from dolcezza.core.sound.bowed import string_sounds
from dolcezza.core.sound.level import loudness
from dolcezza.core.sound.pairs import HEARD, NOT_HEARD, PairTrack, pair_costs, pair_sounds, track_pairs
from dolcezza.core.sound.pitch import RATE_HZ, track_pitch
from dolcezza.core.sound.strings import open_pitches
from dolcezza.core.strokes.offset import offset_by_level, shifted

G, D, A, E = open_pitches("violin")


def bowed(hz, seconds, vibrato=0.0, level=1.0):
    """A saw-tooth as a bowed string gives it, with a vibrato of so many semitones."""
    t = np.arange(int(seconds * RATE_HZ)) / RATE_HZ
    phase = 2 * np.pi * np.cumsum(hz * 2 ** (vibrato * np.sin(2 * np.pi * 5.5 * t) / 12)) / RATE_HZ
    return level * sum(np.sin(k * phase) / k for k in range(1, 9))


def talk(seconds):
    """A voice that glides as sentences do, with its own strong partials."""
    t = np.arange(int(seconds * RATE_HZ)) / RATE_HZ
    hz = 210 * 2 ** ((4 * np.sin(2 * np.pi * 1.7 * t) + 2 * np.sin(2 * np.pi * 4.1 * t + 1)) / 12)
    phase = 2 * np.pi * np.cumsum(hz) / RATE_HZ
    return 0.4 * (np.sin(2 * np.pi * 2.3 * t) > -0.4) * sum(np.sin(k * phase) / k for k in range(1, 7))


def in_a_room(sound, ring_s=0.35, strength=0.5):
    """The sound and its echo: noise that dies away (Moorer 1979, from memory)."""
    rng = np.random.default_rng(0)
    n = int(2 * ring_s * RATE_HZ)
    echo = rng.normal(size=n) * np.exp(-np.arange(n) / (0.4 * ring_s * RATE_HZ))
    echo *= strength / np.linalg.norm(echo)
    size = len(sound) + n
    return sound + np.fft.irfft(np.fft.rfft(sound, size) * np.fft.rfft(echo, size), size)[: len(sound)]


def noise(n):
    return 1e-3 * np.random.default_rng(1).normal(size=n)


def pitch_of(sound):
    return track_pitch(sound + noise(len(sound)), start_s=0.0, lowest_hz=0.9 * G, highest_hz=20 * G)


def test_talk_and_silence_are_no_bowed_string_vibrato_is():
    parts = [np.zeros(RATE_HZ), bowed(A, 2.0, vibrato=0.25), talk(3.0), bowed(D, 1.0), np.zeros(RATE_HZ)]
    t = np.arange(0.1, 7.9, 0.04)
    sounds = string_sounds(pitch_of(np.concatenate(parts)), t, lowest_hz=G)
    inside = lambda a, b: (t > a + 0.2) & (t < b - 0.2)  # noqa: E731
    assert sounds[inside(1.0, 3.0)].all() and sounds[inside(6.0, 7.0)].all()
    assert sounds[inside(3.2, 6.0)].mean() < 0.15
    assert not sounds[inside(0.0, 1.0)].any() and not sounds[inside(7.2, 8.0)].any()


def test_a_take_in_which_nobody_plays_tells_nothing_by_its_silence():
    assert string_sounds(pitch_of(talk(2.0)), np.arange(0, 2, 0.04), lowest_hz=G) is None
    assert string_sounds(pitch_of(np.zeros(4000)), np.arange(0, 1, 0.04), lowest_hz=G) is None


def test_a_ringing_room_does_not_halve_the_pitch():
    """The D before still rings while the A is bowed: no dip of the difference is deep, and the double period looks as good."""
    sound = in_a_room(np.concatenate([bowed(D, 1.0), bowed(A, 1.5), bowed(E, 1.0)]), ring_s=0.45, strength=1.0)
    track = pitch_of(sound)
    for hz, a, b in ((D, 0.1, 1.0), (A, 1.25, 2.4), (E, 2.75, 3.4)):
        heard = track.hz[(track.t_s > a) & (track.t_s < b)]
        heard = heard[np.isfinite(heard)]
        assert (np.abs(12 * np.log2(heard / hz)) < 0.5).mean() > 0.9


@pytest.mark.parametrize("room", [False, True])
def test_two_open_strings_are_heard_as_a_pair_and_one_alone_is_not(room):
    single = [bowed(hz, 1.2) for hz in (G, D, A, E)]
    sound = np.concatenate([*single, bowed(D, 1.5) + bowed(A, 1.5, level=0.7)])
    if room:
        sound = in_a_room(sound)
    track = track_pairs(sound + noise(len(sound)), "violin", start_s=0.0, rate_hz=RATE_HZ, a4_hz=440.0)
    both = (track.t_s > 5.2) & (track.t_s < 6.1)
    alone = track.t_s < 4.6
    assert track.both[both, 1].all() and not track.both[both][:, [0, 2]].any()
    assert track.both[alone].mean() < 0.02


def test_two_open_strings_are_no_silence_though_their_common_pitch_is_none_of_theirs():
    """A fifth's partials repeat with the octave below its lower note (3 : 2), which no string of the instrument has."""
    sound = np.concatenate([bowed(D, 1.0), bowed(G, 1.5) + bowed(D, 1.5), np.zeros(RATE_HZ // 2), talk(1.5)])
    t = np.arange(0.1, 4.4, 0.04)
    one = string_sounds(pitch_of(sound), t, lowest_hz=G)
    pairs = track_pairs(sound + noise(len(sound)), "violin", start_s=0.0, rate_hz=RATE_HZ, a4_hz=440.0)
    both = pair_sounds(pairs, t)
    inside = lambda a, b: (t > a + 0.2) & (t < b - 0.2)  # noqa: E731
    assert one[inside(1.0, 2.5)].mean() < 0.3 and both[inside(1.0, 2.5)].all()
    assert not both[inside(0.0, 1.0)].any() and not both[inside(2.6, 4.4)].any()
    assert not pair_sounds(None, t).any()


def test_a_heard_pair_costs_its_single_strings_and_an_unheard_one_costs_itself():
    single = np.array([[0.0, 5.0, 7.0, 10.0], [0.0, 5.0, 7.0, 10.0], [0.0, 0.0, 0.0, 0.0]])
    track = PairTrack(np.array([0.0, 1.0, 2.0]), np.array([[False] * 3, [True, False, False], [False] * 3]))
    cost = pair_costs(single, track, np.array([0.0, 1.0, 2.0]))
    assert cost.shape == (3, 7)
    assert cost[0, 0] == 0.0 and cost[0, 4] == NOT_HEARD
    assert cost[1, 4] == 0.0 and cost[1, 0] == HEARD
    assert (cost[2] == 0).all(), "where the sound says nothing of strings it says nothing of pairs"
    assert (pair_costs(single, None, np.zeros(3))[:, 4] == [0.0, 0.0, 0.0]).all()


def strokes_and_sound(late_s, room):
    """Six strokes of nine tenths of a second whose tone follows the bow's speed, and that sound."""
    t = np.arange(0, 8, 0.04)
    u = np.clip((t - 0.8) % 0.95 / 0.9, 0, 1)
    playing = (t > 0.8) & (t < 6.4)
    speed = np.where(playing, 80 * 4 * u * (1 - u), 0.0) * np.where((t // 0.95) % 2 < 1, 1, -1)
    fine = np.arange(int(8 * RATE_HZ)) / RATE_HZ
    gain = np.interp(fine - late_s, t, np.abs(speed) / 80) ** 0.7
    sound = gain * bowed(A, 8.0)[: len(fine)]
    return t, speed, in_a_room(sound) if room else sound


@pytest.mark.parametrize("room", [False, True])
@pytest.mark.parametrize("late", [0.0, 0.09, -0.07])
def test_how_late_the_sound_is_is_told_through_an_echo(late, room):
    t, speed, sound = strokes_and_sound(late, room)
    level = loudness(sound + noise(len(sound)), start_s=0.0, rate_hz=RATE_HZ)
    found = offset_by_level(t, speed, level)
    assert found.late_s == pytest.approx(late, abs=0.03)
    assert found.matters == (late != 0.0)
    again = offset_by_level(t, speed, shifted(level, found.late_s))
    assert abs(again.late_s) < 0.01


def test_a_sound_that_does_not_follow_the_bow_tells_no_delay():
    t, speed, _ = strokes_and_sound(0.0, False)
    sound = talk(8.0)
    assert offset_by_level(t, speed, loudness(sound, start_s=0.0, rate_hz=RATE_HZ)) is None
    assert offset_by_level(t, speed, None) is None
    assert offset_by_level(t, np.full(len(t), np.nan), loudness(sound, start_s=0.0, rate_hz=RATE_HZ)) is None
