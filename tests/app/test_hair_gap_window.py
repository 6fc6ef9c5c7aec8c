"""A photo of the bow on the desk: opened before the first note, marked by mouse and keys, told in pencils, ticked."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtWidgets import QFileDialog

from bow_photo import inwards, photo


@pytest.fixture
def bow(tmp_path):
    """A photo and the ends of its hair."""
    image, frog, head = photo(inwards(6.5, 13.0))
    path = tmp_path / "bow.png"
    cv2.imwrite(str(path), cv2.cvtColor(image, cv2.COLOR_RGB2BGR))
    return path, frog, head


@pytest.fixture
def shown(opened, bow, monkeypatch):
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a, **_k: (str(bow[0]), ""))
    opened.building._view.ready.photo_button.click()
    window = opened.building.gap_window
    yield window, opened, bow
    window.close()


def click(qtbot, window, at) -> None:
    place = window.canvas.to_screen().map(QPointF(*at)).toPoint()
    qtbot.mouseClick(window.canvas, Qt.MouseButton.LeftButton, pos=place)


def test_marked_by_mouse_it_says_the_gap_and_is_ticked(shown, qtbot):
    window, desk, (_, frog, head) = shown
    assert "frog's end" in window.head.text() and not window.tick.isEnabled()
    click(qtbot, window, frog)
    assert "head's end" in window.head.text()
    click(qtbot, window, head)
    # the student's bow may be shorter than the drawn one: the gap goes with the length of its hair
    expected = 6.5 * window._hair_mm / 640.0
    assert window.told.middle_mm == pytest.approx(expected, abs=0.6)
    assert "pencil" in window.said.text()
    assert "pencils" in window.figures.text() and "bends towards the hair" in window.said.text()
    assert np.asarray(window.told.edges_px).shape[1:] == (2, 2)
    window.tick.click()
    student = desk.building.student
    assert "tighten" in desk.studio.building.ready_today(student.id)
    assert not window.isVisible()


def test_a_mark_is_dragged_and_taken_away(shown, qtbot):
    window, _, (_, frog, head) = shown
    click(qtbot, window, (frog[0] + 60, frog[1] + 40))
    click(qtbot, window, head)
    start, end = (window.canvas.to_screen().map(QPointF(*p)).toPoint() for p in ((frog[0] + 60, frog[1] + 40), frog))
    qtbot.mousePress(window.canvas, Qt.MouseButton.LeftButton, pos=start)
    qtbot.mouseMove(window.canvas, end)
    qtbot.mouseRelease(window.canvas, Qt.MouseButton.LeftButton, pos=end)
    assert window.told is not None and abs(window.ends[0].x() - frog[0]) < 3
    window.again.click()
    assert window.ends == [] and window.told is None and not window.again.isEnabled()


def test_it_is_marked_by_keys_and_says_what_is_wrong(shown, qtbot):
    window, _, _ = shown
    window.canvas.setFocus()
    qtbot.keyClick(window.canvas, Qt.Key.Key_Return)
    qtbot.keyClick(window.canvas, Qt.Key.Key_Return)
    assert len(window.ends) == 1
    for _ in range(2):
        qtbot.keyClick(window.canvas, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    qtbot.keyClick(window.canvas, Qt.Key.Key_Return)
    assert len(window.ends) == 2 and window.told is None
    assert "too small in this photo" in window.said.text()


def test_a_photo_that_cannot_be_read_is_said(opened, tmp_path):
    opened.building.measure_gap(tmp_path / "none.jpg")
    assert "cannot be opened" in opened.notice.words.text() and opened.building.gap_window is None
