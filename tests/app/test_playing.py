"""Picture and sound together, without a sound device in the room; pictures while scrubbing."""

from __future__ import annotations

import miniaudio
import numpy as np
import pytest
from PySide6.QtCore import Qt

from dolcezza.app.presenters.playing import Playing
from dolcezza.app.widgets.transport import Transport
from dolcezza.app.windows.main_window import ARM
from dolcezza.app.workers.frame_feeder import FrameFeeder
from dolcezza.app.workers.sound_player import RATE_HZ, SoundPlayer, fed
from takes_support import take_video


@pytest.fixture
def player(qtbot):
    """Plays into nothing, but at the pace of a device."""
    made = SoundPlayer(backends=[miniaudio.Backend.NULL])
    with qtbot.waitSignal(made.loaded, timeout=30_000):
        made.open(take_video("demo-a1"))
    yield made
    made.close()


def test_sound_runs_with_the_picture_and_stops_with_it(qtbot, player):
    transport = Transport()
    qtbot.addWidget(transport)
    transport.set_take(5.0, 30.0)
    playing = Playing([transport], transport, player)
    transport.moment.connect(transport.show_moment)
    assert player.has_sound
    transport.toggle()
    assert player.playing
    qtbot.wait(60)
    transport.pause()
    assert not player.playing
    playing.be_quiet(True)
    transport.toggle()
    assert not player.playing and transport.quiet.isChecked()
    playing.be_quiet(False)
    assert player.playing, "on again in the middle"
    transport.pause()


def test_without_a_device_the_picture_plays_alone(qtbot, monkeypatch):
    monkeypatch.setattr("dolcezza.app.workers.sound_player.usable_backends", list)
    silent = SoundPlayer()
    with qtbot.waitSignal(silent.loaded, timeout=30_000):
        silent.open(take_video("demo-a1"))
    silent.play(0.0, 1.0)
    assert silent.has_sound and not silent.playing
    silent.close()


def test_a_take_without_sound_plays_too(qtbot, film):
    player = SoundPlayer(backends=[miniaudio.Backend.NULL])
    with qtbot.waitSignal(player.loaded, timeout=30_000):
        player.open(film(sound=False))
    player.play(0.0, 0.5)
    assert not player.playing and not player.has_sound
    player.close()


def test_the_device_gets_as_much_as_it_asks_for_then_silence():
    feed = fed(np.zeros(100, np.float32), np.ones(1000, np.float32), 1.0)
    next(feed)
    got = np.concatenate([feed.send(n) for n in (1, 333, 500, 400)])
    assert got.shape == (1234, 1)
    assert got[:100].sum() == 0 and (got[100:1100] == 1).all() and got[1100:].sum() == 0


def test_slow_sound_is_as_long_as_the_slow_picture():
    feed = fed(np.zeros(0, np.float32), np.sin(np.arange(RATE_HZ) / 20).astype(np.float32), 0.25)
    next(feed)
    got = feed.send(5 * RATE_HZ)[:, 0]
    assert np.flatnonzero(np.abs(got) > 0.05).max() == pytest.approx(4 * RATE_HZ, rel=0.03)


def test_a_stroke_is_repeated(qtbot):
    transport = Transport()
    qtbot.addWidget(transport)
    transport.set_take(5.0, 30.0)
    transport.span = lambda: (1.0, 1.12)
    seen, begun = [], []
    transport.moment.connect(seen.append)
    transport.moment.connect(transport.show_moment)
    transport.started.connect(lambda at, tempo: begun.append((at, tempo)))
    transport.loop.setChecked(True)
    transport.toggle()
    qtbot.waitUntil(lambda: len(begun) >= 3, timeout=30_000)
    transport.pause()
    assert all(at == 1.0 and tempo == 1.0 for at, tempo in begun)
    assert min(seen) >= 1.0 and max(seen) < 1.12 + 0.04


def test_repeat_and_sound_by_key(opened, qtbot):
    opened.activateWindow()
    opened.selection.step_stroke(1)
    qtbot.keyClick(opened, Qt.Key.Key_R)
    qtbot.keyClick(opened, Qt.Key.Key_M)
    assert opened.strokes.transport.loop.isChecked()
    assert opened.arm.transport.quiet.isChecked(), "sound is off everywhere"
    stroke = opened.selection.stroke
    assert opened.strokes.transport.span() == (stroke.start_s, stroke.end_s)
    opened.go_to_step(ARM)
    qtbot.keyClick(opened, Qt.Key.Key_M)
    assert not opened.strokes.transport.quiet.isChecked()


def test_a_far_moment_shows_something_near_at_once_and_then_the_frame(qtbot):
    feeder, seen = FrameFeeder(take_video("demo-a1")), []
    feeder.ready.connect(lambda t, image: seen.append((t, image.width(), image.height())))
    feeder.begin()
    qtbot.waitUntil(lambda: len(feeder.skim) > 60, timeout=20_000)
    feeder.request(0.0)
    qtbot.waitUntil(lambda: len(seen) == 2, timeout=30_000)
    seen.clear()
    feeder.request(5.04)
    qtbot.waitUntil(lambda: bool(seen) and abs(seen[-1][0] - 5.033) < 0.001, timeout=30_000)
    assert len(seen) == 2 and abs(seen[0][0] - 5.04) <= 0.11
    assert {s[1:] for s in seen} == {(1280, 720)}, "the small one fills the same place"
    feeder.finish()
