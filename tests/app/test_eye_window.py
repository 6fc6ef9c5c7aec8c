"""Train the eye, driven as a teacher does: look, choose, say, be told, go on."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from PySide6.QtCore import Qt

from dolcezza.app.dialogs import eye_window
from dolcezza.app.dialogs.eye_window import EyeWindow
from dolcezza.core.base.errors import MediaError
from dolcezza.core.base.job import Progress, Stage
from dolcezza.services.eye import EyeRecord, EyeTake, Fault
from takes_support import take_video


@pytest.fixture
def made(monkeypatch, tmp_path):
    """A window whose takes are a demo video that was "measured" already."""
    asked = []

    def play(task, folder):
        asked.append(task)
        video = Path(folder) / "take.mp4"
        video.write_bytes(take_video("demo-a3").read_bytes())
        yield Progress(Stage.PICTURES, 1, 2)
        figures = np.array([[8.0, 1.5], [0.4, 1.5], [-7.0, 1.5]])
        return EyeTake(task, video, figures, np.full((3, 2), np.nan) if len(asked) > 1 else np.abs(figures) + 20)

    monkeypatch.setattr(eye_window, "play", play)
    return asked


@pytest.fixture
def window(qtbot, tmp_path, made):
    window = EyeWindow(tmp_path, seed=4)
    window.show()
    qtbot.waitUntil(lambda: window.take is not None, timeout=20000)
    yield window
    window.close()


def test_look_choose_say_and_be_told(qtbot, tmp_path, made, window):
    assert window.canvas.has_image
    assert not window.say.isEnabled()
    assert not window.amount.isVisible()
    qtbot.keyClick(window, Qt.Key.Key_4)
    assert window.said is Fault.SWINGS
    assert window.amount.isVisible()
    qtbot.keyClick(window, Qt.Key.Key_Up)
    assert "7 degrees" in window.amount_words.text()
    qtbot.keyClick(window, Qt.Key.Key_5)
    assert "mm" in window.amount_words.text()
    qtbot.keyClick(window, Qt.Key.Key_Return)
    task = made[0]
    assert window.truth.text().startswith("Yes" if task.fault is Fault.TO_BOARD else "No")
    assert "frog +8 ± 2" in window.measured.text()
    assert not any(b.isEnabled() for b in window.choices.buttons())
    [kept] = EyeRecord(tmp_path).answers
    assert (kept.fault, kept.said, kept.said_size) == (task.fault, Fault.TO_BOARD, 6.0)


def test_enter_goes_on_to_another_take_and_nothing_of_the_last_is_left(qtbot, tmp_path, made, window):
    qtbot.keyClick(window, Qt.Key.Key_1)
    assert not window.amount.isVisible()
    window.answer()
    assert list(Path(window._place.name).iterdir()) == []
    qtbot.keyClick(window, Qt.Key.Key_Return)
    assert window.said is None
    qtbot.waitUntil(lambda: window.take is not None, timeout=20000)
    assert len(made) == 2
    assert window.truth.text() == ""
    place = Path(window._place.name)
    window.close()
    assert not place.exists()


def test_the_smallest_seen_is_listed_and_can_be_forgotten(qtbot, tmp_path, made, window):

    def words():
        return [window.rows.itemAtPosition(k, 1).widget().text() for k in range(len(Fault))]

    assert words()[0] == "not told yet (0 of 0)"
    assert words()[-1] == "0 of 0 rightly left alone"
    qtbot.keyClick(window, Qt.Key.Key_1)
    window.answer()
    assert any("1" in w for w in words())
    qtbot.mouseClick(window.anew, Qt.MouseButton.LeftButton)
    assert all("(0 of 0)" in w for w in words()[:-1])
    assert EyeRecord(tmp_path).answers == []


def test_a_take_that_cannot_be_made_is_said(qtbot, tmp_path, monkeypatch):
    def play(task, folder):
        raise MediaError("The disk is full.", "Make room.")
        yield

    monkeypatch.setattr(eye_window, "play", play)
    window = EyeWindow(tmp_path, seed=1)
    qtbot.waitUntil(lambda: "disk is full" in window.canvas.empty_text, timeout=10000)
    assert not window.say.isEnabled()
    window.close()
