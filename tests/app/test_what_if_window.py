"""A stroke as it was and as asked, in its window."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt

from dolcezza.services import what_if
from dolcezza.services.what_if import Part


@pytest.fixture
def drawn(opened, qtbot, monkeypatch):
    monkeypatch.setattr(what_if, "WIDTH", 96)
    monkeypatch.setattr(what_if, "HEIGHT", 72)
    qtbot.keyClick(opened, Qt.Key.Key_W)
    window = opened.beside.what_if
    qtbot.addWidget(window)
    qtbot.waitUntil(lambda: all(window._pictures), timeout=120_000)
    yield window
    window.close()


def test_both_are_drawn_and_run_together(drawn, qtbot):
    assert "at the frog" in drawn.words[0].text() and drawn.words[1].text().startswith("Straight; ")
    assert all(c.has_image for c in drawn.canvases)
    first = [c._image.copy() for c in drawn.canvases]
    drawn.slider.setValue(drawn.slider.maximum())
    assert all(c._image != f for c, f in zip(drawn.canvases, first, strict=True))
    qtbot.keyClick(drawn, Qt.Key.Key_Left)
    assert drawn.slider.value() < drawn.slider.maximum()


def test_what_is_not_put_right_stays_as_it_was(drawn, qtbot):
    before = drawn._pictures[1]
    for part in (Part.ANGLE, Part.CONTACT):
        drawn.boxes[part].setChecked(False)
    assert not drawn._pictures[1], "the old pictures do not stand beside new words"
    qtbot.waitUntil(lambda: bool(drawn._pictures[1]) and not drawn.jobs.running, timeout=120_000)
    assert drawn.words[1].text() == drawn.words[0].text()
    assert drawn._pictures[1][3] == drawn._pictures[0][3] and drawn._pictures[1] is not before


def test_it_may_be_closed_while_it_is_drawn(opened, qtbot):
    opened.menus.actions["what_if"].trigger()
    window = opened.beside.what_if
    qtbot.addWidget(window)
    window.close()
    assert not window.jobs.running and not window.isVisible()


def test_without_an_analysed_video_it_says_what_to_do(window):
    window.menus.actions["what_if"].trigger()
    assert window.beside.what_if is None and "analysed video" in window.notice.words.text()
