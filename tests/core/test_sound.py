"""Pitch and what it says about the string, on tones whose pitch is known."""

from __future__ import annotations

from dataclasses import replace

import av
import numpy as np
import pytest

from dolcezza.core.pipeline.sound_pass import listen
from dolcezza.core.sound.pitch import RATE_HZ, track_pitch
from dolcezza.core.sound.strings import open_pitches, string_costs


def bowed(hz: float, seconds: float = 0.6, noise: float = 0.0) -> np.ndarray:
    """A sawtooth, which is what a bowed string does (Helmholtz motion), built of its partials below half the rate."""
    t = np.arange(int(seconds * RATE_HZ)) / RATE_HZ
    tone = sum(np.sin(2 * np.pi * k * hz * t) / k for k in range(1, int(RATE_HZ / 2 / hz)))
    return tone + noise * np.random.default_rng(0).normal(size=len(t))


def follow(samples, start_s=0.0):
    return track_pitch(samples, start_s=start_s, lowest_hz=58.0, highest_hz=1400.0)


@pytest.mark.parametrize("family", ["violin", "viola", "cello"])
@pytest.mark.parametrize("seconds", [0.0001, 0.02, 0.05, 0.1, 0.24, 0.26])
def test_a_scrap_of_sound_under_a_good_picture_is_no_sound(tmp_path, family, seconds):
    """Phones leave such scraps; each used to end the measurement with an error of its own."""
    path = tmp_path / "scrap.mkv"
    wave = (8000 * np.sin(2 * np.pi * 440 * np.arange(max(1, round(22050 * seconds))) / 22050)).astype(np.int16)
    with av.open(str(path), "w") as out:
        video, sound = out.add_stream("libx264", rate=30), out.add_stream("pcm_s16le", rate=22050, layout="mono")
        video.width, video.height, video.pix_fmt = 320, 240, "yuv420p"
        for k in range(10):
            out.mux(video.encode(av.VideoFrame.from_ndarray(np.full((240, 320, 3), 9 * k, np.uint8), format="rgb24")))
        out.mux(video.encode(None))
        part = av.AudioFrame.from_ndarray(wave[None], format="s16", layout="mono")
        part.sample_rate = 22050
        out.mux(sound.encode(part))
        out.mux(sound.encode(None))
    heard, said = listen(path, family)
    assert (heard is None) == (seconds < 0.25)
    if heard is None:
        assert [m.id for m in said] == ["note.no sound"]


@pytest.mark.parametrize("hz", [65.4, 98.0, 196.0, 293.7, 440.0, 659.3, 1046.5])
def test_the_pitch_of_a_bowed_tone(hz):
    track = follow(bowed(hz, noise=0.1))
    assert np.nanmedian(track.hz) == pytest.approx(hz, rel=0.005)
    assert np.isfinite(track.hz).mean() > 0.95


def test_silence_and_noise_have_no_pitch():
    assert np.isnan(follow(np.zeros(8000)).hz).all()
    assert np.isnan(follow(np.random.default_rng(1).normal(size=16_000)).hz).mean() > 0.95
    assert len(follow(np.zeros(10)).hz) == 0


def test_the_clock_is_the_videos():
    track = follow(np.concatenate([np.zeros(RATE_HZ), bowed(220.0)]), start_s=0.25)
    begins = track.t_s[np.isfinite(track.hz)][0]
    assert begins == pytest.approx(1.25, abs=0.06)


def test_open_strings_are_those_of_the_standard():
    """ISO 16: A4 = 440 Hz. Equal-tempered G3 D4 A4 E5 = 196.00, 293.66, 440.00, 659.26 Hz; C2 of the cello 65.41 (handbook
    values, from memory). Pure fifths differ by less than 0.3 %."""
    assert open_pitches("violin") == pytest.approx([196.00, 293.66, 440.0, 659.26], abs=0.01)
    assert open_pitches("cello")[0] == pytest.approx(65.41, abs=0.01)
    assert open_pitches("viola") == pytest.approx(2 * open_pitches("cello"), rel=1e-9)
    pure = 440.0 * np.array([(2 / 3) ** 2, 2 / 3, 1, 3 / 2])
    assert open_pitches("violin") == pytest.approx(pure, rel=0.003)


def test_an_open_note_points_to_its_string_and_lower_notes_exclude_higher_strings():
    for k, hz in enumerate(open_pitches("violin")):
        track = follow(bowed(float(hz)))
        cost = string_costs(track, np.array([0.3]), "violin")[0]
        assert cost.argmin() == k
        assert (cost[k + 1 :] >= 10).all()
        assert (np.delete(cost, k) > 2).all()


def test_a_stopped_note_leaves_the_choice_to_the_picture():
    track = follow(bowed(493.9))  # B4: first finger on A, or high up on D
    cost = string_costs(track, np.array([0.3]), "violin")[0]
    assert cost[3] >= 10
    assert cost[2] < 1
    assert 0 < cost[1] - cost[2] < 3


def test_an_open_strings_pitch_is_the_fourth_fingers_too_where_notes_are_stopped():
    """A4: open A, or the fourth finger on D. A hand that stops no other note hardly stops this one."""
    only_open = follow(np.concatenate([bowed(440.0), bowed(293.7)]))
    with_stops = follow(np.concatenate([bowed(440.0), bowed(392.0)]))
    early = np.array([0.3])
    d, a = (1, 2)
    cost = {name: string_costs(track, early, "violin")[0] for name, track in (("open", only_open), ("stops", with_stops))}
    assert cost["open"][a] == cost["stops"][a] == 0.0
    assert 2.0 < cost["stops"][d] < 4.0 < cost["open"][d] < 7.0
    # a few slips of hearing stop nothing
    slips = replace(only_open, hz=np.where(np.arange(len(only_open.hz)) % 40 == 7, 350.0, only_open.hz))
    assert string_costs(slips, early, "violin")[0][d] == cost["open"][d]


def test_the_sound_is_silent_about_other_times():
    track = follow(bowed(440.0))
    assert (string_costs(track, np.array([5.0]), "violin") == 0).all()
    assert (string_costs(follow(np.zeros(10)), np.array([0.1]), "violin") == 0).all()
