"""Two strokes side by side in their window."""

from __future__ import annotations

import numpy as np
import pytest
from PySide6.QtCore import Qt

from dolcezza.app.dialogs.compare_window import STEPS


@pytest.fixture
def beside(opened, qtbot):
    opened.selection.step_stroke(1)
    opened.menus.actions["beside"].trigger()
    window = opened.beside.two
    qtbot.addWidget(window)
    qtbot.waitUntil(lambda: all(p.canvas.has_image for p in window.panes), timeout=30_000)
    yield window
    window.close()


def shown_place(pane):
    stored, stroke = pane.one
    inside = stroke.start_s - 0.05 <= pane._shown_s <= stroke.end_s + 0.05
    return float(np.interp(pane._shown_s, stored.series.t, stored.series["bow_position"])) if inside else None


def test_both_pictures_stand_at_the_same_place(beside, qtbot):
    left, right = beside.panes
    assert left.one[1].string == right.one[1].string and left.one[1].down == right.one[1].down
    assert left.one[1].number != right.one[1].number
    beside.slider.setValue(120)
    qtbot.waitUntil(lambda: all((at := shown_place(p)) is not None and abs(at - beside.place) < 0.03 for p in beside.panes), timeout=30_000)
    assert "right minus left" in beside.difference.text() and "±" in left.figures.text()


def test_keys_run_and_step_along_the_bow(beside, qtbot):
    beside.slider.setValue(100)
    qtbot.keyClick(beside, Qt.Key.Key_Right)
    assert beside.slider.value() == 102
    beside.speed.setCurrentIndex(0)
    qtbot.keyClick(beside, Qt.Key.Key_Space)
    assert beside.play.text().startswith("Stop")
    qtbot.waitUntil(lambda: beside.slider.value() == STEPS and beside.play.text().startswith("Play"), timeout=30_000)
    qtbot.keyClick(beside, Qt.Key.Key_Space)
    assert beside.slider.value() < STEPS, "from the beginning again"
    qtbot.keyClick(beside, Qt.Key.Key_Escape)
    assert not beside.isVisible()


def test_another_stroke_is_chosen_and_what_does_not_fit_is_said(beside):
    left, right = beside.panes
    left.strokes.setCurrentIndex(0)
    left.changed.emit()
    assert left.one[1].number == 1
    assert right.takes.count() >= 1 and beside.slider.isEnabled()


def test_without_a_measured_take_it_says_what_to_do(window):
    window.menus.actions["beside"].trigger()
    assert window.beside.two is None and "analysed video" in window.notice.words.text()
