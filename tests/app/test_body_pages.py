"""Arm and hand in the real window: steps lead to frames, joints are dragged, answers are kept, pictures are looked at."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtWidgets import QApplication

from conftest import TRUTH
from dolcezza.app.windows.main_window import ARM, HOLD
from dolcezza.services.body_model import stop

HANDS = TRUTH / "hands"


@pytest.fixture
def at_arm(opened, qtbot):
    opened.go_to_step(ARM)
    opened.selection.go_to(2.0)
    qtbot.waitUntil(lambda: opened.arm.canvas.has_image and abs(opened.arm._shown_s - 2.0) < 0.05, timeout=30_000)
    return opened


def test_the_staircase_and_the_signs_lead_to_their_frames(at_arm, qtbot):
    view, strokes = at_arm.arm, at_arm.selection.analysis.strokes
    assert "Elbow height by string" in view.stairs_head.text()
    assert len(view.stairs._stairs.stairs) == len({s.string for s in strokes})
    step = view.stairs._step(1).center().toPoint()
    qtbot.mouseClick(view.stairs, Qt.MouseButton.LeftButton, pos=step)
    assert at_arm.selection.stroke.string == view.stairs._stairs.stairs[1].string
    first = at_arm.selection.moment_s
    qtbot.mouseClick(view.stairs, Qt.MouseButton.LeftButton, pos=step)
    assert at_arm.selection.moment_s != first, "clicked again: the next stroke on that string"
    view.stairs.setFocus()
    qtbot.keyClick(view.stairs, Qt.Key.Key_Left)
    qtbot.keyClick(view.stairs, Qt.Key.Key_Return)
    assert at_arm.selection.stroke.string == view.stairs._stairs.stairs[0].string
    assert "Signs of tension" in view.signs_head.text() and "never a diagnosis" in view.signs_note.text()


def test_who_moves_the_bow_by_third_and_by_speed(at_arm, qtbot):
    view = at_arm.arm
    assert [name for name, _ in view.shares._rows] == ["frog", "middle", "tip"]
    assert "elbow" in view.shares.accessibleDescription()
    qtbot.mouseClick(view.by_speed, Qt.MouseButton.LeftButton)
    assert [name for name, _ in view.shares._rows] == ["slow", "medium", "fast"]


def test_joint_shares_lead_to_their_frames_by_mouse_and_keys(at_arm, qtbot):
    view, series = at_arm.arm, at_arm.selection.analysis.series

    def now(column: str) -> float:
        return float(series[column][np.argmin(np.abs(series.t - at_arm.selection.moment_s))])

    qtbot.mouseClick(view.shares, Qt.MouseButton.LeftButton, pos=QPoint(150, 110))
    assert view.shares.at == 2 and now("bow_position") > 2 / 3
    view.shares.setFocus()
    qtbot.keyClick(view.shares, Qt.Key.Key_Down)
    qtbot.keyClick(view.shares, Qt.Key.Key_Return)
    assert view.shares.at == 0 and now("bow_position") < 1 / 3
    assert "a tenth of the bow" in view.shares.accessibleDescription() and "°" in view.shares.accessibleDescription()
    assert view.school_words.text().startswith("Asked for: hinge.")
    view.shares.grab()
    qtbot.mouseClick(view.by_speed, Qt.MouseButton.LeftButton)
    view.shares.setFocus()
    for _ in range(2):
        qtbot.keyClick(view.shares, Qt.Key.Key_Right)
    qtbot.keyClick(view.shares, Qt.Key.Key_Return)
    assert 20.0 <= abs(now("bow_speed_cm_s")) < 50.0


def joint_at(window, name: str) -> QPointF:
    series = window.selection.analysis.series
    k = int(np.argmin(np.abs(series.t - window.arm._shown_s)))
    return QPointF(float(series[f"{name}_x_px"][k]), float(series[f"{name}_y_px"][k]))


def test_a_joint_is_dragged_kept_undone_and_let_go(at_arm, qtbot):
    view, canvas = at_arm.arm, at_arm.arm.canvas
    start = joint_at(at_arm, "elbow")
    to_screen = canvas.to_screen()
    a, b = (to_screen.map(p).toPoint() for p in (start, start + QPointF(-40, 30)))
    qtbot.mousePress(canvas, Qt.MouseButton.LeftButton, pos=a)
    qtbot.mouseMove(canvas, b)
    canvas.dragged.emit(canvas.to_picture(QPointF(b)))
    with qtbot.waitSignal(at_arm.corrections.corrected, timeout=20_000):
        qtbot.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=b)
    [moment] = at_arm.landmarks.session.base.arm
    assert moment.elbow == pytest.approx((start.x() - 40, start.y() + 30), abs=2.0)
    assert "Set by hand here: elbow" in view.set_note.text()
    now = joint_at(at_arm, "elbow")
    assert abs(now.x() - moment.elbow[0]) + abs(now.y() - moment.elbow[1]) < 30, "the arm was measured again there"
    assert at_arm.menus.actions["undo"].text() == "Undo: joints set"
    at_arm.undo()
    assert at_arm.landmarks.session.base.arm == ()
    assert joint_at(at_arm, "elbow") == start
    at_arm.redo()
    with qtbot.waitSignal(at_arm.corrections.corrected, timeout=20_000):
        qtbot.mouseClick(view.let_go, Qt.MouseButton.LeftButton)
    assert at_arm.landmarks.session.base.arm == ()
    qtbot.mousePress(canvas, Qt.MouseButton.LeftButton, pos=QPoint(5, 5))
    qtbot.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=QPoint(60, 60))
    assert at_arm.landmarks.session.base.arm == (), "far from every joint nothing is dragged"


def test_the_moment_at_ease_is_marked_and_kept(at_arm, qtbot):
    with qtbot.waitSignal(at_arm.corrections.corrected, timeout=20_000):
        qtbot.mouseClick(at_arm.arm.ease, Qt.MouseButton.LeftButton)
    assert at_arm.landmarks.session.base.relaxed_s == pytest.approx(2.0, abs=0.05)
    assert "Relaxed reference at 2.0 s" in at_arm.arm.set_note.text()
    assert at_arm.studio.fit(at_arm.selection.take).relaxed_s == pytest.approx(2.0, abs=0.05)


def test_keys_play_and_step_on_the_arm_page(at_arm, qtbot):
    at_arm.activateWindow()
    qtbot.waitUntil(at_arm.isActiveWindow)
    before = at_arm.selection.moment_s
    qtbot.keyClick(at_arm, Qt.Key.Key_N)
    assert at_arm.selection.moment_s > before
    qtbot.keyClick(at_arm, Qt.Key.Key_6, Qt.KeyboardModifier.ControlModifier)
    assert at_arm.pages.currentIndex() == HOLD


def look(window, qtbot, role: str, name: str) -> None:
    with qtbot.waitSignal(window.body.jobs.done, timeout=60_000):
        window.body.look_at(role, HANDS / name)


def test_pictures_of_the_hand_are_told_answered_and_compared(opened, qtbot):
    opened.go_to_step(HOLD)
    view = opened.hand
    assert "No picture of the hand yet" in view.head.text()
    look(opened, qtbot, "frog", "dev-hand-04.jpg")
    assert "At the frog" in view.head.text() and view.canvas.has_image
    assert "Open a picture at the frog" in view.change_words.text()
    look(opened, qtbot, "tip", "dev-hand-03.jpg")
    assert view.change_head.text() == "From frog to tip"
    assert "→" in view.change_words.text()
    combo = view.shapes["thumb"]
    combo.setCurrentText("round")
    combo.activated.emit(combo.currentIndex())
    student = opened.selection.take.student_id
    assert opened.studio.store.hands.stills(student)[0].answered.thumb == "round"
    assert opened.menus.actions["undo"].text() == "Undo: answer"
    opened.undo()
    assert opened.studio.store.hands.stills(student)[0].answers == {}
    qtbot.mouseClick(view.forget_button, Qt.MouseButton.LeftButton)
    assert [s.role for s in opened.studio.store.hands.stills(student)] == ["frog"]


def test_the_stick_is_marked_on_the_picture(opened, qtbot):
    opened.go_to_step(HOLD)
    view = opened.hand
    look(opened, qtbot, "hold", "dev-hand-00.jpg")
    student = opened.selection.take.student_id

    def words() -> list[str]:
        return [view.figures.itemAt(k).widget().text() for k in range(view.figures.count())]

    assert "drag along the stick to mark it" in words()
    a, b = (view.canvas.to_screen().map(QPointF(x, y)).toPoint() for x, y in ((430, 560), (720, 80)))
    qtbot.mousePress(view.canvas, Qt.MouseButton.LeftButton, pos=a)
    view.canvas.dragged.emit(view.canvas.to_picture(QPointF(b)))
    qtbot.mouseRelease(view.canvas, Qt.MouseButton.LeftButton, pos=b)
    assert opened.studio.store.hands.stills(student)[0].answers["stick"].split()[0].startswith("4")
    assert "Index crosses the stick" in words()
    combo = view.shapes["little"]
    combo.setCurrentText("straight")
    combo.activated.emit(combo.currentIndex())
    assert set(opened.studio.store.hands.stills(student)[0].answers) == {"stick", "little"}
    qtbot.mouseClick(view.canvas, Qt.MouseButton.LeftButton, pos=a)
    assert len(opened.studio.store.hands.stills(student)[0].answers["stick"].split()) == 4, "a click marks no stick"


def drag(canvas, qtbot, start: QPointF, end: QPointF) -> None:
    a, b = (canvas.to_screen().map(p).toPoint() for p in (start, end))
    qtbot.mousePress(canvas, Qt.MouseButton.LeftButton, pos=a)
    canvas.dragged.emit(canvas.to_picture(QPointF(b)))
    qtbot.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=b)


def test_a_point_of_the_hand_is_dragged_told_again_and_undone(opened, qtbot):
    opened.go_to_step(HOLD)
    view = opened.hand
    look(opened, qtbot, "hold", "dev-hand-00.jpg")
    student = opened.selection.take.student_id
    [before] = opened.studio.store.hands.stills(student)
    start = QPointF(*before.points[20])
    with qtbot.waitSignal(opened.body.jobs.done, timeout=60_000):
        drag(view.canvas, qtbot, start, start + QPointF(60, -50))
    [after] = opened.studio.store.hands.stills(student)
    assert after.by_hand == [20] and after.points[:20] == before.points[:20]
    assert after.points[20] == pytest.approx([start.x() + 60, start.y() - 50], abs=2.0)
    assert after.hold.joints != before.hold.joints, "the joints are told again"
    assert "1 point set by hand" in view.notes.text()
    opened.undo()
    [back] = opened.studio.store.hands.stills(student)
    assert back.points == before.points and back.by_hand == []


def test_a_hand_that_was_not_found_is_set_by_hand(opened, qtbot, tmp_path):
    path = tmp_path / "wall.png"
    cv2.imwrite(str(path), np.full((600, 800, 3), 90, np.uint8))
    opened.go_to_step(HOLD)
    view = opened.hand
    with qtbot.waitSignal(opened.body.jobs.done, timeout=60_000):
        opened.body.look_at("hold", path)
    assert view.head.text().startswith("Bow hold") and view.lay_button.isVisibleTo(view)
    with qtbot.waitSignal(opened.body.jobs.done, timeout=60_000):
        qtbot.mouseClick(view.lay_button, Qt.MouseButton.LeftButton)
    [still] = opened.studio.store.hands.stills(opened.selection.take.student_id)
    assert len(still.points) == 21 and still.hold is not None and len(still.by_hand) == 21
    assert not view.lay_button.isVisibleTo(view)


def test_a_figure_of_the_posture_is_drawn_at_its_moment(at_arm, qtbot):
    view = at_arm.arm
    rows = [view.posture._box.itemAt(k).widget() for k in range(view.posture._box.count())]
    assert len(rows) == len(view.posture.figures) >= 3
    rows[0].setFocus()
    qtbot.keyClick(rows[0], Qt.Key.Key_Return)
    figure = view.posture.figures[view.posture.current]
    qtbot.waitUntil(lambda: abs(view._shown_s - figure.t_s) < 0.05, timeout=30_000)
    drawn = view.canvas.grab().toImage()
    view.posture.current = ""
    view.canvas.update()
    assert view.canvas.grab().toImage() != drawn


def test_a_figure_that_only_a_second_phone_tells_is_not_looked_for_in_this_picture(at_arm, qtbot):
    view = at_arm.arm
    before = view._shown_s
    figure = replace(next(iter(view.posture.figures.values())), t_s=float("nan"), lines=())
    view.posture.show_figures({figure.name: figure}, None)
    [row] = [view.posture._box.itemAt(k).widget() for k in range(view.posture._box.count())]
    assert "second phone" in row.toolTip()
    row.setFocus()
    qtbot.keyClick(row, Qt.Key.Key_Return)
    assert view.posture.current == "" and view._shown_s == before


def test_a_finding_without_a_moment_in_this_video_opens_where_it_stands(at_arm):
    view, analysis = at_arm.strokes, at_arm.selection.analysis
    first = analysis.findings[0]
    none = replace(first, finding=replace(first.finding, evidence_s=()))
    view._analysis = replace(analysis, findings=[none, *analysis.findings[1:]])
    before = at_arm.selection.moment_s
    view.open_finding(0)
    assert at_arm.selection.finding == 0 and at_arm.selection.moment_s == before


def test_a_file_that_is_no_picture_is_said(opened, qtbot, tmp_path):
    (tmp_path / "letter.jpg").write_text("dear teacher")
    opened.go_to_step(HOLD)
    with qtbot.waitSignal(opened.body.jobs.failed, timeout=60_000):
        opened.body.look_at("hold", tmp_path / "letter.jpg")
    assert "not a picture that can be read" in opened.notice.words.text()


def test_without_a_measured_arm_the_page_says_what_to_do(window, ids):
    window.open_take(ids["dev-straight"])
    window.go_to_step(ARM)
    assert window.arm.stairs_note.text() == "Analyse the video first."
    for widget in (window.arm.stairs, window.arm.shares):
        assert not widget.grab().isNull()
    QApplication.processEvents()


def teardown_module():
    stop()


def test_signs_are_a_word_and_a_gauge_and_the_figures_on_demand(at_arm):
    from dolcezza.app.widgets.sign_gauge import Gauge, SignLine

    lines, gauges = at_arm.arm.findChildren(SignLine), at_arm.arm.findChildren(Gauge)
    signs = at_arm.selection.analysis.body.tension.signs
    assert len(lines) == sum(not s.shown for s in signs) and len(gauges) == len(signs)
    for line in lines:
        assert "begins at" in line.toolTip() and ("quiet" in line.accessibleName() or "near" in line.accessibleName())
    assert all(g.share < 1.0 for line in lines for g in line.findChildren(Gauge)) or lines == []
    assert not gauges[0].grab().isNull()
