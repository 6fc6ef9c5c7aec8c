"""Sound at another tempo keeps its pitch; skimming; stepping back without seeking."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from dolcezza.core.base.job import finish
from dolcezza.core.media import video
from dolcezza.core.media.skim import LONGEST_PX, Skim, skim
from dolcezza.core.media.tempo import at_tempo
from dolcezza.core.media.video import FrameStore, GaveUp, read_frames
from takes_support import take_video

RATE = 44_100


@pytest.mark.parametrize("tempo", [0.125, 0.25, 0.5, 1.0, 2.0])
def test_tempo_changes_the_length_and_not_the_pitch(tempo):
    tone = np.sin(2 * np.pi * 440 * np.arange(3 * RATE) / RATE).astype(np.float32)
    out = np.concatenate(list(at_tempo(tone, rate_hz=RATE, tempo=tempo)))
    assert len(out) == pytest.approx(3 * RATE / tempo, rel=0.02)
    middle = out[len(out) // 4 : len(out) // 4 + RATE // 2]
    spectrum = np.abs(np.fft.rfft(middle * np.hanning(len(middle))))
    assert np.argmax(spectrum) * RATE / len(middle) == pytest.approx(440, abs=2.1)


def test_no_tempo_no_sound():
    with pytest.raises(ValueError, match="above 0"):
        next(at_tempo(np.zeros(10, np.float32), rate_hz=RATE, tempo=0.0))
    assert list(at_tempo(np.zeros(0, np.float32), rate_hz=RATE, tempo=1.0)) == []


def test_skimmed_pictures_are_small_and_lie_all_along(film):
    path = film(frames=60, size=(1280, 720))
    kept = Skim()
    finish(skim(path, kept, duration_s=2.0))
    assert 18 <= len(kept) <= 21
    t, jpeg = kept.nearest(1.04, within_s=0.2)
    assert abs(t - 1.04) <= 0.051
    picture = cv2.imdecode(np.frombuffer(jpeg, np.uint8), cv2.IMREAD_COLOR)
    assert max(picture.shape) == LONGEST_PX
    assert kept.nearest(9.0, within_s=0.7) is None
    assert Skim().nearest(0.0, within_s=1.0) is None


def test_frames_can_be_read_apart(film):
    times = [f.t_s for f in read_frames(film(frames=30), every_s=0.2)]
    assert times == pytest.approx([0.0, 0.2, 0.4, 0.6, 0.8], abs=0.02)


def test_stepping_back_is_answered_from_what_was_decoded(monkeypatch):
    store = FrameStore(take_video("demo-a1"))
    try:
        there = {k: store.at(k / 30).image for k in range(60, 70)}
        monkeypatch.setattr(FrameStore, "_decode", lambda *_args: pytest.fail("decoded again"))
        for k in range(68, 60, -1):
            assert store.near(k / 30)
            frame = store.at(k / 30)
            assert frame.t_s == pytest.approx(k / 30, abs=1e-3) and np.array_equal(frame.image, there[k])
    finally:
        store.close()


def test_every_frame_is_the_same_from_wherever_one_comes(film):
    store = FrameStore(film(frames=40), grey=True)
    rng = np.random.default_rng(3)
    try:
        for k in [int(v) for v in rng.integers(0, 40, 60)]:
            frame = store.at(k / 30 + 0.001)
            assert frame.t_s == pytest.approx(k / 30, abs=1e-3)
            assert abs(int(np.argmax(frame.image[20] > 128)) - 4 * k) <= 2, "the square has moved 4 px a frame"
    finally:
        store.close()


def test_a_picture_no_longer_wanted_is_given_up():
    store = FrameStore(take_video("demo-a1"))
    try:
        with pytest.raises(GaveUp):
            store.at(4.0, lambda: True)
        assert store.at(4.0).t_s == pytest.approx(4.0, abs=0.02)
    finally:
        store.close()
    assert video.NEAR_S < 1.0
