"""Mending in the real window: the bow's ends by mouse and by keys, strokes by keys, strings, undo, marks."""

from __future__ import annotations

import numpy as np
import pytest
from PySide6.QtCore import QPointF, Qt

from dolcezza.app.windows.main_window import ARM, STROKES
from dolcezza.app.windows.steps import PINS
from dolcezza.services.mending import BENCH_FILE


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
    with qtbot.waitSignal(paused.mending.mended, timeout=30_000):
        drag(qtbot, view.canvas, start, QPointF(18, 6))
    assert "Ctrl+Z" in paused.notice.words.text()
    assert view._set_here() == {"head"} and view.ribbon._by_hand == [pytest.approx(2.0, abs=0.02)]
    assert paused.pins.session.base.by_hand[0].head == pytest.approx((start.x() + 18, start.y() + 6), abs=2.0)
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
    with qtbot.waitSignal(paused.mending.mended, timeout=30_000):
        qtbot.keyClick(view.canvas, Qt.Key.Key_Return)
    assert paused.pins.session.base.by_hand[0].frog == pytest.approx((start.x() - 20, start.y()), abs=0.1)
    qtbot.keyClick(view.canvas, Qt.Key.Key_BracketRight)
    qtbot.keyClick(view.canvas, Qt.Key.Key_Up)
    qtbot.keyClick(view.canvas, Qt.Key.Key_Escape)
    assert view.handles.held is None and paused.pins.session.base.by_hand[0].head is None
    with qtbot.waitSignal(paused.mending.mended, timeout=30_000):
        qtbot.keyClick(paused, Qt.Key.Key_Backspace)
    assert paused.pins.session.base.by_hand == ()


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
        (Qt.Key.Key_C, strokes + 1, "cut"),
        (Qt.Key.Key_J, strokes, "joined"),
        (Qt.Key.Key_Delete, strokes - 1, "out"),
    ):
        with qtbot.waitSignal(paused.mending.mended, timeout=20_000):
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
    with qtbot.waitSignal(paused.mending.mended, timeout=20_000):
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
    (paused.selection.analysis.folder / BENCH_FILE).unlink()
    with qtbot.waitSignal(paused.mending.mended, timeout=20_000):
        paused.mending.mend_stroke("cut", "")
    assert "Measure it again" in paused.notice.words.text()
    assert len(paused.studio.fit(paused.selection.take).strokes) == 1


@pytest.fixture
def pinning(paused, qtbot):
    """The measured take on the pins page at four seconds, which is not a pinned frame."""
    paused.go_to_step(PINS)
    paused.selection.go_to(4.0)
    qtbot.waitUntil(lambda: abs(paused.selection.moment_s - 4.0) < 0.02 and paused.pins.canvas.has_image, timeout=30_000)
    return paused


def test_a_pin_is_dragged_on_any_frame_of_a_measured_take_and_taken_back(pinning, qtbot):
    view, session = pinning.pins, pinning.pins.session
    assert not view.at_pinned_moment and "Followed here" in view.todo.text()
    first, before = session.t_s, pinning.selection.analysis
    place = view._followed_here.points["board_bass"]
    with qtbot.waitSignal(pinning.mending.mended, timeout=30_000):
        drag(qtbot, view.canvas, QPointF(*place), QPointF(6, -5))
    assert pinning.pages.currentIndex() == PINS and pinning.selection.moment_s == pytest.approx(4.0, abs=0.02)
    assert session.moments == pytest.approx([first, 4.0], abs=0.02) and view.at_pinned_moment
    assert session.state.points["board_bass"] == pytest.approx((place[0] + 6, place[1] - 5), abs=2.0)
    after = pinning.selection.analysis
    moved = before.series.t[~np.isclose(before.series["bow_angle_deg"], after.series["bow_angle_deg"], equal_nan=True)]
    assert len(moved) and np.abs(moved - 4.0).max() < 1.6
    assert pinning.menus.actions["undo"].text() == "Undo: pins set"
    qtbot.keyClick(pinning, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert session.moments == pytest.approx([first]) and pinning.studio.fit(pinning.selection.take).pins[0].t_s == pytest.approx(first)
    assert "Followed here" in view.todo.text()
    assert np.array_equal(pinning.selection.analysis.series["bow_angle_deg"], before.series["bow_angle_deg"], equal_nan=True)


def test_a_pin_touched_and_not_moved_pins_nothing(pinning, qtbot):
    view, session = pinning.pins, pinning.pins.session
    drag(qtbot, view.canvas, QPointF(*view._followed_here.points["bridge_bass"]), QPointF(0, 0))
    assert len(session.moments) == 1 and not view.at_pinned_moment
    assert not pinning.mending.jobs.running


def test_a_followed_pin_is_chosen_and_moved_by_keys(pinning, qtbot):
    view, session = pinning.pins, pinning.pins.session
    view.canvas.setFocus()
    view._chosen = None
    qtbot.keyClick(view.canvas, Qt.Key.Key_BracketRight)
    assert view._chosen == "bridge_bass"
    qtbot.keyClick(view.canvas, Qt.Key.Key_BracketLeft)
    chosen, places = view._chosen, dict(view._followed_here.points)
    assert chosen == list(places)[-1]
    with qtbot.waitSignal(pinning.mending.mended, timeout=30_000):
        qtbot.keyClick(view.canvas, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    assert session.state.points[chosen] == pytest.approx((places[chosen][0] - 4.0, places[chosen][1]), abs=0.01)


def test_a_followed_pin_cannot_be_removed_where_it_was_not_set(pinning, qtbot):
    view, session = pinning.pins, pinning.pins.session
    view.canvas.setFocus()
    qtbot.keyClick(view.canvas, Qt.Key.Key_BracketRight)
    before = dict(session.state.points)
    qtbot.keyClick(view.canvas, Qt.Key.Key_Delete)
    qtbot.mouseClick(view.remove, Qt.MouseButton.LeftButton)
    assert session.state.points == before


def test_pins_on_two_frames_set_at_once_are_both_measured(pinning, qtbot):
    """The second, from which the take was followed, waits behind the first; each is measured against what was before it."""
    view, session, before = pinning.pins, pinning.pins.session, pinning.selection.analysis
    first = session.t_s
    done = []
    pinning.mending.mended.connect(lambda: done.append(1))
    drag(qtbot, view.canvas, QPointF(*view._followed_here.points["board_bass"]), QPointF(6, -5))
    pinning.selection.go_to(first)
    view._go_to_moment(first)
    drag(qtbot, view.canvas, QPointF(*session.state.points["bridge_bass"]), QPointF(6, 6))
    qtbot.waitUntil(lambda: len(done) == 2 and not pinning.mending.jobs.running, timeout=60_000)
    after = pinning.selection.analysis.series["bow_angle_deg"]
    moved = ~np.isclose(before.series["bow_angle_deg"], after, equal_nan=True)
    assert moved[before.series.t < 1.5].any() and moved[np.abs(before.series.t - 4.0) < 1.0].any()
    assert len(pinning.studio.fit(pinning.selection.take).pins) == 2
    for _ in range(2):
        pinning.undo()
    assert np.array_equal(pinning.selection.analysis.series["bow_angle_deg"], before.series["bow_angle_deg"], equal_nan=True)
    assert len(session.moments) == 1


def test_pins_that_fit_nothing_go_back_to_where_they_were(pinning, qtbot):
    view, session = pinning.pins, pinning.pins.session
    there = view._followed_here.points
    a, b = QPointF(*there["bridge_bass"]), QPointF(*there["board_treble"])
    drag(qtbot, view.canvas, a, b - a)
    qtbot.wait(50)
    qtbot.waitUntil(lambda: not pinning.mending.jobs.running, timeout=20_000)
    stored = pinning.studio.fit(pinning.selection.take)
    assert len(stored.pins) == 1, "what fits nothing is not kept"
    assert session.state.problem or len(session.moments) == 1


def test_what_was_done_last_is_taken_back_first_on_the_pins_page(pinning, qtbot):
    session = pinning.pins.session
    session.toggle_zero(2.0)
    with qtbot.waitSignal(pinning.mending.mended, timeout=30_000):
        drag(qtbot, pinning.pins.canvas, QPointF(*pinning.pins._followed_here.points["board_bass"]), QPointF(5, 4))
    pinning.undo()
    assert len(session.moments) == 1 and session.zero == (2.0,)
    pinning.undo()
    assert session.zero == ()
    pinning.redo()
    assert session.zero == (2.0,) and len(session.moments) == 1
