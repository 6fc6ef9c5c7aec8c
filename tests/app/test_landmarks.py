"""The lens before the click, and the drawing on which the landmark that is asked for blinks."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest

from dolcezza.app.presenters import calibration as presenter
from dolcezza.app.theme.words import spoken
from dolcezza.app.views.calibration import ADVICE_AFTER_MS, CalibrationView
from dolcezza.app.widgets.landmark_map import BLINK_MS
from dolcezza.core.base.errors import TrackingError
from dolcezza.core.base.job import Progress, Stage
from dolcezza.services.calibration import CalibrationSession


@pytest.fixture
def asking(window, ids, qtbot) -> CalibrationView:
    """The page of a video on which nothing is marked yet."""
    window.open_take(ids["demo-b1"])
    window.go_to_step(2)
    qtbot.waitUntil(lambda: window.landmarks.canvas.has_image, timeout=30_000)
    view = window.landmarks
    while view.session.state.points:
        view._clear()
    return view


def over(view, x: float, y: float) -> QPoint:
    return view.canvas.to_screen().map(QPointF(x, y)).toPoint()


def test_the_lens_is_there_before_the_click(asking, qtbot):
    view = asking
    place = over(view, 640, 360)
    QTest.mouseMove(view.canvas, place)
    qtbot.waitUntil(lambda: view.canvas.lens_at is not None)
    assert (view.canvas.lens_at - QPointF(640, 360)).manhattanLength() < 3
    qtbot.mouseClick(view.canvas, Qt.MouseButton.LeftButton, pos=place)
    assert view.session.state.points["bridge_bass"] == pytest.approx((640, 360), abs=1.5) and view.canvas.lens_at is None
    QTest.mouseMove(view.canvas, place + QPoint(1, 1))
    qtbot.wait(20)
    assert view.canvas.lens_at is None, "over a landmark that can be dragged there is no lens for the next one"
    view.canvas.hovered.emit(QPointF(100, 100))
    assert view.canvas.lens_at == QPointF(100, 100)
    view.canvas.hovered.emit(None)
    assert view.canvas.lens_at is None, "the mouse has left the picture"


def test_the_drawing_shows_what_is_asked_for_and_blinks(asking, qtbot):
    view = asking
    drawing = view.map
    assert drawing.isVisible() and drawing.wanted == "bridge_bass" and "low-string end" in drawing.accessibleName()
    assert drawing.place_of("bridge_bass").x() < drawing.place_of("bridge_treble").x(), "seen from the front the low strings lie left"
    assert drawing.place_of("scroll").y() < drawing.place_of("end_button").y()
    was = drawing.lit
    qtbot.waitUntil(lambda: drawing.lit is not was, timeout=5 * BLINK_MS)
    for name, (x, y) in {"bridge_bass": (600, 300), "bridge_treble": (640, 310)}.items():
        view.session.set(name, float(x), float(y))
    assert drawing.wanted == "board_bass"
    assert drawing.geometry().bottom() <= view.canvas.height() and drawing.geometry().left() >= 0
    assert not drawing.grab().isNull()


def test_a_left_handers_instrument_is_drawn_mirrored(asking):
    from dataclasses import replace

    view = asking
    view.session.base = replace(view.session.base, handed="left")
    view._refresh_todo()
    assert view.map.place_of("bridge_bass").x() > view.map.place_of("bridge_treble").x()


def test_on_another_frame_and_when_all_is_set_nothing_is_asked(asking):
    view = asking
    view.session.set("bridge_bass", 600.0, 300.0)
    assert view.map.isVisible()
    view._selection.go_to(view.session.t_s + 1.0)
    assert not view.map.isVisible(), "a click there would go back, not set"
    view._selection.go_to(view.session.t_s)
    assert view.map.isVisible()


def test_where_the_instrument_is_not_found_the_page_opens_on_a_frame_that_can_be_marked(window, ids, qtbot, monkeypatch):
    """Looked for in the background; a teacher who has gone elsewhere meanwhile stays there."""

    def not_found(_path, _instrument):
        yield Progress(Stage.SKIMMING, 1, 2)
        raise TrackingError("The instrument was not found in this video.", "Set it by hand.")

    monkeypatch.setattr(presenter, "find_landmarks", not_found)
    window.open_take(ids["demo-b1"])
    view, offer = window.landmarks, window.calibrating
    assert not offer.jobs.running, "where there are landmarks nothing is looked for"
    while view.session.state.points:
        view._clear()
    window.selection.go_to(0.0)
    with qtbot.waitSignal(offer.frames.done, timeout=60_000):
        offer.opened()
    assert window.selection.moment_s > 0.2
    window.selection.go_to(0.0)
    with qtbot.waitSignal(offer.frames.done, timeout=60_000):
        with qtbot.waitSignal(offer.jobs.failed, timeout=60_000):
            offer.opened()
        window.selection.go_to(1.0)
    assert window.selection.moment_s == 1.0
    with qtbot.waitSignal(offer.jobs.failed, timeout=60_000):
        offer.opened()
        window.selection.go_to(0.5)
    assert not offer.frames.running, "nor is a frame looked for then"


def test_where_the_phone_would_better_stand_is_worked_out_once_the_page_is_looked_at(window, ids, qtbot, monkeypatch):
    """It takes a third of a second: whoever opens a take to look at its strokes does not wait for it."""
    asked = []
    whole = CalibrationSession.place_advice
    monkeypatch.setattr(CalibrationSession, "place_advice", lambda self: asked.append(1) or whole(self))
    window.open_take(ids["demo-a1"])
    qtbot.waitUntil(lambda: window.strokes.canvas.has_image, timeout=30_000)
    qtbot.wait(ADVICE_AFTER_MS + 200)
    assert not window.landmarks.isVisible() and asked == []
    window.go_to_step(2)
    qtbot.waitUntil(lambda: bool(asked), timeout=5_000)
    assert window.landmarks.side.advice.text() == spoken().sentences(window.landmarks.session.place_advice()) != ""
