"""Corrections in the real window: the bow's ends by mouse and by keys, strokes by keys, strings, undo, marks."""

from __future__ import annotations

import numpy as np
import pytest
from PySide6.QtCore import QPointF, Qt

from dolcezza.app.windows.main_window import ARM, STROKES
from dolcezza.app.windows.steps import LANDMARKS
from dolcezza.services.corrections import CACHE_FILE


@pytest.fixture
def paused(opened, qtbot):
    """The measured take on the strokes page at two seconds, its picture shown."""
    opened.activateWindow()
    opened.selection.go_to(2.0)
    qtbot.waitUntil(lambda: abs(opened.strokes._shown_s - 2.0) < 0.02, timeout=30_000)
    return opened


def drag(qtbot, canvas, start: QPointF, by: QPointF) -> None:
    to_screen = canvas.to_screen()
    a, b = (to_screen.map(p).toPoint() for p in (start, start + by))
    qtbot.mousePress(canvas, Qt.MouseButton.LeftButton, pos=a)
    qtbot.mouseMove(canvas, b)
    canvas.dragged.emit(canvas.to_picture(QPointF(b)))
    qtbot.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=b)


def test_the_head_is_dragged_measured_again_marked_and_taken_back(paused, qtbot):
    view = paused.strokes
    start = view._ends()["head"]
    with qtbot.waitSignal(paused.corrections.corrected, timeout=30_000):
        drag(qtbot, view.canvas, start, QPointF(18, 6))
    assert "Ctrl+Z" in paused.notice.words.text()
    assert view._set_here() == {"head"} and view.ribbon._by_hand == [pytest.approx(2.0, abs=0.02)]
    assert paused.landmarks.session.base.by_hand[0].head == pytest.approx((start.x() + 18, start.y() + 6), abs=2.0)
    moved = view._ends()["head"]
    assert abs(moved.x() - start.x()) + abs(moved.y() - start.y()) > 2.0
    assert paused.selection.moment_s == pytest.approx(2.0)
    assert paused.menus.actions["undo"].text() == "Undo: head of the bow set"
    qtbot.keyClick(paused, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert view._ends()["head"] == start and view._set_here() == set()


def test_an_end_is_moved_by_keys_alone_and_left_to_the_program_again(paused, qtbot):
    view = paused.strokes
    view.canvas.setFocus()
    start = view._ends()["frog"]
    qtbot.keyClick(view.canvas, Qt.Key.Key_BracketLeft)
    assert view.handles.held == "frog"
    for _ in range(2):
        qtbot.keyClick(view.canvas, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    assert paused.selection.moment_s == 2.0, "the arrows move the end, not the picture"
    with qtbot.waitSignal(paused.corrections.corrected, timeout=30_000):
        qtbot.keyClick(view.canvas, Qt.Key.Key_Return)
    assert paused.landmarks.session.base.by_hand[0].frog == pytest.approx((start.x() - 20, start.y()), abs=0.1)
    qtbot.keyClick(view.canvas, Qt.Key.Key_BracketRight)
    qtbot.keyClick(view.canvas, Qt.Key.Key_Up)
    qtbot.keyClick(view.canvas, Qt.Key.Key_Escape)
    assert view.handles.held is None and paused.landmarks.session.base.by_hand[0].head is None
    with qtbot.waitSignal(paused.corrections.corrected, timeout=30_000):
        qtbot.keyClick(paused, Qt.Key.Key_Backspace)
    assert paused.landmarks.session.base.by_hand == ()


def test_no_handles_while_it_plays_or_the_bow_is_not_drawn(paused, qtbot):
    view = paused.strokes
    assert set(view._ends()) == {"frog", "head"}
    view.layer_buttons["lines"].setChecked(False)
    assert view._ends() == {}
    view.layer_buttons["lines"].setChecked(True)
    view.transport.toggle()
    assert view._ends() == {}
    view.transport.pause()


def test_strokes_are_cut_joined_and_struck_out_by_keys(paused, qtbot):
    strokes = len(paused.selection.analysis.strokes)
    for key, count, words in (
        (Qt.Key.Key_C, strokes + 1, "split"),
        (Qt.Key.Key_J, strokes, "merged"),
        (Qt.Key.Key_Delete, strokes - 1, "deleted"),
    ):
        with qtbot.waitSignal(paused.corrections.corrected, timeout=20_000):
            qtbot.keyClick(paused, key)
        assert len(paused.selection.analysis.strokes) == count
        assert words in paused.notice.words.text()
    assert "Between strokes" in paused.strokes.stroke_card.head.text()
    for _ in range(3):
        qtbot.keyClick(paused, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert len(paused.selection.analysis.strokes) == strokes
    paused.go_to_step(ARM)
    assert not paused.menus.actions["stroke_cut"].isEnabled(), "only where strokes are shown"


def test_a_string_is_said_and_marked(paused, qtbot):
    card = paused.strokes.stroke_card
    was = paused.selection.stroke.string
    other = "A" if was != "A" else "D"
    card.string.setCurrentText(other)
    with qtbot.waitSignal(paused.corrections.corrected, timeout=20_000):
        card.string.activated.emit(card.string.currentIndex())
    assert f"on {other}" in card.head.text() and "string said by hand" in card.head.text()
    assert paused.pages.currentIndex() == STROKES


def test_every_figure_of_the_stroke_leads_to_its_frame(paused, qtbot):
    card, series = paused.strokes.stroke_card, paused.selection.analysis.series
    stroke = paused.selection.stroke
    for what in ("frog", "tip", "middle", "angle", "contact", "elbow", "used", "speed"):
        assert f'href="{what}"' in card.words.text()
        card.words.linkActivated.emit(what)
        assert paused.selection.stroke.number == stroke.number, "still that stroke"
        k = np.argmin(np.abs(series.t - paused.selection.moment_s))
        if what == "tip":
            assert series["bow_position"][k] > 2 / 3
    card.words.setFocus()
    assert card.words.hasFocus(), "Tab leads to the figures"


def test_what_cannot_be_mended_is_kept_for_the_next_measuring(paused, qtbot):
    (paused.selection.analysis.folder / CACHE_FILE).unlink()
    with qtbot.waitSignal(paused.corrections.corrected, timeout=20_000):
        paused.corrections.mend_stroke("cut", "")
    assert "Analyse it again" in paused.notice.words.text()
    assert len(paused.studio.fit(paused.selection.take).strokes) == 1


@pytest.fixture
def calibrating(paused, qtbot):
    """The measured take on the landmarks page at four seconds, which is not a marked frame."""
    paused.go_to_step(LANDMARKS)
    paused.selection.go_to(4.0)
    qtbot.waitUntil(lambda: abs(paused.selection.moment_s - 4.0) < 0.02 and paused.landmarks.canvas.has_image, timeout=30_000)
    return paused


def test_a_landmark_is_dragged_on_any_frame_of_a_measured_take_and_taken_back(calibrating, qtbot):
    view, session = calibrating.landmarks, calibrating.landmarks.session
    assert not view.at_marked_moment and "Tracked here" in view.side.todo.text()
    first, before = session.t_s, calibrating.selection.analysis
    place = view._followed_here.points["board_bass"]
    with qtbot.waitSignal(calibrating.corrections.corrected, timeout=30_000):
        drag(qtbot, view.canvas, QPointF(*place), QPointF(6, -5))
    assert calibrating.pages.currentIndex() == LANDMARKS and calibrating.selection.moment_s == pytest.approx(4.0, abs=0.02)
    assert session.moments == pytest.approx([first, 4.0], abs=0.02) and view.at_marked_moment
    assert session.state.points["board_bass"] == pytest.approx((place[0] + 6, place[1] - 5), abs=2.0)
    after = calibrating.selection.analysis
    moved = before.series.t[~np.isclose(before.series["bow_angle_deg"], after.series["bow_angle_deg"], equal_nan=True)]
    assert len(moved) and np.abs(moved - 4.0).max() < 1.6
    assert calibrating.menus.actions["undo"].text() == "Undo: landmarks set"
    qtbot.keyClick(calibrating, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert session.moments == pytest.approx([first]) and calibrating.studio.fit(calibrating.selection.take).landmarks[
        0
    ].t_s == pytest.approx(first)
    assert "Tracked here" in view.side.todo.text()
    assert np.array_equal(calibrating.selection.analysis.series["bow_angle_deg"], before.series["bow_angle_deg"], equal_nan=True)


def test_a_landmark_touched_and_not_moved_landmarks_nothing(calibrating, qtbot):
    view, session = calibrating.landmarks, calibrating.landmarks.session
    drag(qtbot, view.canvas, QPointF(*view._followed_here.points["bridge_bass"]), QPointF(0, 0))
    assert len(session.moments) == 1 and not view.at_marked_moment
    assert not calibrating.corrections.jobs.running


def test_a_followed_landmark_is_chosen_and_moved_by_keys(calibrating, qtbot):
    view, session = calibrating.landmarks, calibrating.landmarks.session
    view.canvas.setFocus()
    view._chosen = None
    qtbot.keyClick(view.canvas, Qt.Key.Key_BracketRight)
    assert view._chosen == "bridge_bass"
    qtbot.keyClick(view.canvas, Qt.Key.Key_BracketLeft)
    chosen, places = view._chosen, dict(view._followed_here.points)
    assert chosen == list(places)[-1]
    with qtbot.waitSignal(calibrating.corrections.corrected, timeout=30_000):
        qtbot.keyClick(view.canvas, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    assert session.state.points[chosen] == pytest.approx((places[chosen][0] - 4.0, places[chosen][1]), abs=0.01)


def test_a_followed_landmark_cannot_be_removed_where_it_was_not_set(calibrating, qtbot):
    view, session = calibrating.landmarks, calibrating.landmarks.session
    view.canvas.setFocus()
    qtbot.keyClick(view.canvas, Qt.Key.Key_BracketRight)
    before = dict(session.state.points)
    qtbot.keyClick(view.canvas, Qt.Key.Key_Delete)
    qtbot.mouseClick(view.side.remove, Qt.MouseButton.LeftButton)
    assert session.state.points == before


def test_landmarks_on_two_frames_set_at_once_are_both_measured(calibrating, qtbot):
    """The second, from which the take was followed, waits behind the first; each is measured against what was before it."""
    view, session, before = calibrating.landmarks, calibrating.landmarks.session, calibrating.selection.analysis
    first = session.t_s
    done = []
    calibrating.corrections.corrected.connect(lambda: done.append(1))
    drag(qtbot, view.canvas, QPointF(*view._followed_here.points["board_bass"]), QPointF(6, -5))
    calibrating.selection.go_to(first)
    view._go_to_moment(first)
    drag(qtbot, view.canvas, QPointF(*session.state.points["bridge_bass"]), QPointF(6, 6))
    qtbot.waitUntil(lambda: len(done) == 2 and not calibrating.corrections.jobs.running, timeout=60_000)
    after = calibrating.selection.analysis.series["bow_angle_deg"]
    moved = ~np.isclose(before.series["bow_angle_deg"], after, equal_nan=True)
    assert moved[before.series.t < 1.5].any() and moved[np.abs(before.series.t - 4.0) < 1.0].any()
    assert len(calibrating.studio.fit(calibrating.selection.take).landmarks) == 2
    for _ in range(2):
        calibrating.undo()
    assert np.array_equal(calibrating.selection.analysis.series["bow_angle_deg"], before.series["bow_angle_deg"], equal_nan=True)
    assert len(session.moments) == 1


def test_landmarks_that_fit_nothing_go_back_to_where_they_were(calibrating, qtbot):
    view, session = calibrating.landmarks, calibrating.landmarks.session
    there = view._followed_here.points
    a, b = QPointF(*there["bridge_bass"]), QPointF(*there["board_treble"])
    drag(qtbot, view.canvas, a, b - a)
    qtbot.wait(50)
    qtbot.waitUntil(lambda: not calibrating.corrections.jobs.running, timeout=20_000)
    stored = calibrating.studio.fit(calibrating.selection.take)
    assert len(stored.landmarks) == 1, "what fits nothing is not kept"
    assert session.state.problem or len(session.moments) == 1


def test_what_was_done_last_is_taken_back_first_on_the_landmarks_page(calibrating, qtbot):
    session = calibrating.landmarks.session
    session.toggle_zero(2.0)
    with qtbot.waitSignal(calibrating.corrections.corrected, timeout=30_000):
        drag(qtbot, calibrating.landmarks.canvas, QPointF(*calibrating.landmarks._followed_here.points["board_bass"]), QPointF(5, 4))
    calibrating.undo()
    assert len(session.moments) == 1 and session.zero == (2.0,)
    calibrating.undo()
    assert session.zero == ()
    calibrating.redo()
    assert session.zero == (2.0,) and len(session.moments) == 1
