"""The whole job in the real window, with real mouse and key events."""

from __future__ import annotations

import numpy as np
import pytest
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent
from PySide6.QtWidgets import QMessageBox

from dolcezza.app.views.students import Row
from dolcezza.app.windows.main_window import LANDMARKS, STROKES, STUDENTS, TAKE
from dolcezza.core.instrument.model import REQUIRED_LANDMARKS
from dolcezza.services.studio import Studio
from takes_support import take_video


def click_picture(qtbot, canvas, x: float, y: float) -> None:
    """Click the canvas at picture pixel (x, y)."""
    at = canvas.to_screen().map(QPointF(x, y))
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=QPoint(round(at.x()), round(at.y())))


def drop(widget, path) -> None:
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    widget.dropEvent(QDropEvent(QPointF(50, 50), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier))


def test_from_a_new_student_and_a_dropped_video_to_findings(window, qtbot, tmp_path, measured):
    """Add a student, drop a video, click four landmarks, measure, read the finding, accept it, take it back."""
    import shutil

    view = window.students
    view.name.setText("Sunniva Oake")
    view.instrument.setCurrentText("violin 1/2")
    qtbot.keyClick(view.name, Qt.Key.Key_Return)
    assert window.selection.student.name == "Sunniva Oake"
    window.studio.delete_take(next(s.take.id for st in window.studio.students() for s in window.studio.takes(st.id) if s.analysed))
    video = tmp_path / "lesson.mp4"
    shutil.copy(take_video("demo-a1"), video)
    drop(view, video)
    assert window.pages.currentIndex() == TAKE
    assert "1280 x 720" in window.take_view.facts.text()
    qtbot.mouseClick(window.take_view.next, Qt.MouseButton.LeftButton)
    assert window.pages.currentIndex() == LANDMARKS
    qtbot.waitUntil(lambda: window.landmarks.canvas.has_image, timeout=30_000)
    window.selection.go_to(0.3)
    points = measured.fit("demo-a1").landmarks[0].points
    for k, name in enumerate([*REQUIRED_LANDMARKS, "lower_bout_bass", "upper_bout_bass", "end_button", "scroll"]):
        if k < 4:
            assert not window.landmarks.side.go.isEnabled()
            assert f"Click {k + 1} of 4" in window.landmarks.side.todo.text()
        while window.landmarks.wanted != name:
            qtbot.mouseClick(window.landmarks.side.skip, Qt.MouseButton.LeftButton)
        click_picture(qtbot, window.landmarks.canvas, *points[name])
    assert window.landmarks.side.go.isEnabled()
    assert window.landmarks.session.state.fit.rms_px < 4
    assert "±" in window.landmarks.side.figures.figures["bow_angle"].text()
    with qtbot.waitSignal(window.jobs.done, timeout=120_000):
        qtbot.mouseClick(window.landmarks.side.go, Qt.MouseButton.LeftButton)
        assert window.pages.currentIndex() == STROKES
        assert window.strokes.measuring.isVisible()
    assert not window.strokes.measuring.isVisible()
    analysis = window.selection.analysis
    assert len(analysis.strokes) == 6
    assert analysis.findings
    assert window.selection.finding == 0
    assert window.selection.moment_s == pytest.approx(analysis.findings[0].finding.evidence_s[0])
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    qtbot.keyClick(window, Qt.Key.Key_A)
    assert window.selection.analysis.findings[0].verdict == "accepted"
    assert window.menus.actions["undo"].text() == "Undo: finding accepted"
    qtbot.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.selection.analysis.findings[0].verdict == "open"


def test_every_finding_leads_to_its_frames(opened, qtbot):
    view = opened.strokes
    place, judged = 0, opened.selection.analysis.findings[0]
    seen = []
    for _ in judged.finding.evidence_s:
        qtbot.mouseClick(view._cards[place], Qt.MouseButton.LeftButton)
        seen.append(opened.selection.moment_s)
    assert seen == list(judged.finding.evidence_s)
    assert view.ribbon._bright == set(judged.finding.strokes)
    qtbot.waitUntil(lambda: abs(view._shown_s - seen[-1]) < 0.04, timeout=30_000)


def test_dismissed_findings_no_longer_flag_their_strokes(opened, qtbot):
    view = opened.strokes
    flagged = set(view.ribbon._flagged)
    assert flagged
    while any(j.verdict == "open" for j in opened.selection.analysis.findings):
        k = next(k for k, j in enumerate(opened.selection.analysis.findings) if j.verdict == "open")
        qtbot.mouseClick(view._cards[k].buttons["dismissed"], Qt.MouseButton.LeftButton)
    assert view.ribbon._flagged == set()
    assert view.head.text() == "No findings"


def test_the_ribbon_leads_to_the_moment(opened, qtbot):
    ribbon = opened.strokes.ribbon
    stroke = opened.selection.analysis.strokes[2]
    middle = 0.5 * (stroke.start_s + stroke.end_s)
    qtbot.mouseClick(ribbon, Qt.MouseButton.LeftButton, pos=QPoint(round(ribbon.x_of(middle)), 60))
    assert opened.selection.moment_s == pytest.approx(middle, abs=0.02)
    assert opened.selection.stroke == stroke
    assert f"Stroke {stroke.number}" in opened.strokes.stroke_card.head.text()
    assert f"Stroke {stroke.number}" in ribbon._words(ribbon.stroke_at(QPointF(ribbon.x_of(middle), 60)))


def test_reviewing_by_keys_alone(opened, qtbot):
    selection, starts = opened.selection, [s.start_s for s in opened.selection.analysis.strokes]
    for k in range(3):
        qtbot.keyClick(opened, Qt.Key.Key_N)
        assert selection.moment_s == pytest.approx(starts[k])
    qtbot.keyClick(opened, Qt.Key.Key_P)
    assert selection.moment_s == pytest.approx(starts[1])
    qtbot.keyClick(opened, Qt.Key.Key_Right)
    assert selection.moment_s == pytest.approx(starts[1] + 1 / 30, abs=0.002)
    qtbot.keyClick(opened, Qt.Key.Key_Left)
    assert selection.moment_s == pytest.approx(starts[1], abs=0.002)
    qtbot.keyClick(opened, Qt.Key.Key_N, Qt.KeyboardModifier.ShiftModifier)
    assert selection.finding == 0
    qtbot.keyClick(opened, Qt.Key.Key_2)
    assert not opened.strokes.layer_buttons["angle"].isChecked()
    qtbot.keyClick(opened, Qt.Key.Key_S)
    assert opened.strokes.transport.rate == 0.5


def test_playing_moves_on_and_stops_at_the_end(opened, qtbot):
    transport = opened.strokes.transport
    opened.selection.go_to(7.2)
    qtbot.keyClick(opened, Qt.Key.Key_Space)
    assert transport.playing
    qtbot.waitUntil(lambda: not transport.playing, timeout=30_000)
    assert opened.selection.moment_s == pytest.approx(7.6 - 1 / 30, abs=0.06)


def test_the_drawn_bow_belongs_to_the_picture_shown(opened, qtbot):
    """The overlay is drawn for the frame whose picture is on the screen, and can be switched off."""
    view = opened.strokes
    opened.selection.go_to(1.5)
    qtbot.waitUntil(lambda: abs(view._shown_s - 1.5) < 0.02, timeout=30_000)
    series = opened.selection.analysis.series
    frame = int(np.argmin(np.abs(series.t - 1.5)))
    at = view.canvas.to_screen().map(QPointF(float(series["head_x_px"][frame]), float(series["head_y_px"][frame])))

    def colour():
        return view.canvas.grab().toImage().pixelColor(round(at.x()), round(at.y()))

    drawn = colour()
    assert (drawn.red() > 200, drawn.blue() < 130) == (True, True)
    for button in view.layer_buttons.values():
        button.setChecked(False)
    assert colour() != drawn


def test_landmarks_can_be_dragged_nudged_and_undone(window, ids, qtbot):
    window.open_take(ids["dev-straight"])
    assert window.pages.currentIndex() == LANDMARKS
    canvas, session = window.landmarks.canvas, window.landmarks.session
    qtbot.waitUntil(lambda: canvas.has_image and window.landmarks.at_marked_moment, timeout=30_000)
    x, y = session.state.points["end_button"]
    start = canvas.to_screen().map(QPointF(x, y)).toPoint()
    qtbot.mousePress(canvas, Qt.MouseButton.LeftButton, pos=start)
    assert canvas.lens_at is not None
    qtbot.mouseMove(canvas, start + QPoint(6, 0))
    qtbot.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=start + QPoint(6, 0))
    assert canvas.lens_at is None
    moved = session.state.points["end_button"]
    assert moved[0] > x + 3
    canvas.setFocus()
    qtbot.keyClick(canvas, Qt.Key.Key_Up)
    assert session.state.points["end_button"][1] == pytest.approx(moved[1] - 0.5)
    for _ in range(2):
        qtbot.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert session.state.points["end_button"] == (x, y)
    qtbot.mouseClick(window.landmarks.side.clear, Qt.MouseButton.LeftButton)
    assert not window.landmarks.side.go.isEnabled()
    qtbot.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.landmarks.side.go.isEnabled()


def test_exchanged_landmarks_are_said_and_swapped_by_a_button(window, ids, qtbot):
    window.open_take(ids["dev-straight"])
    window.landmarks.session.swap_sides()
    assert "exchanged" in window.landmarks.side.problem.text()
    assert window.landmarks.side.swap.isVisible()
    qtbot.mouseClick(window.landmarks.side.swap, Qt.MouseButton.LeftButton)
    assert window.landmarks.side.go.isEnabled()
    assert not window.landmarks.side.swap.isVisible()


def test_measuring_can_be_stopped_and_keeps_the_landmarks(window, ids, qtbot):
    window.open_take(ids["demo-a2"])
    with qtbot.waitSignal(window.jobs.cancelled, timeout=30_000):
        window.measure()
        qtbot.waitUntil(lambda: "frames" in window.strokes.measuring.words.text(), timeout=20_000)
        qtbot.mouseClick(window.strokes.measuring.stop, Qt.MouseButton.LeftButton)
    assert "landmarks are kept" in window.notice.words.text()
    assert window.selection.analysis is None
    assert window.studio.fit(window.selection.take).landmarks


def test_bad_videos_are_said_in_the_window_and_nothing_is_lost(window, tmp_path):
    before = [s.take.id for s in window.studio.takes(window.selection.student.id)]
    bad = tmp_path / "holiday.mp4"
    bad.write_bytes(b"not a film")
    drop(window.students, bad)
    assert window.notice.isVisible()
    assert "damaged, cut off, or not a video" in window.notice.words.text()
    assert [s.take.id for s in window.studio.takes(window.selection.student.id)] == before
    drop(window.students, take_video("dev-cello"))
    assert "already in the studio" in window.notice.words.text()
    assert window.notice.action.text() == "Open that video"


def test_a_video_that_moved_can_be_found_again(window, ids, tmp_path):
    import shutil

    elsewhere = tmp_path / "elsewhere.mp4"
    shutil.copy(take_video("demo-b1"), elsewhere)
    window.studio.store.move_take(ids["demo-b1"], tmp_path / "gone.mp4")
    window.open_take(ids["demo-b1"])
    assert "no longer where it was" in window.notice.words.text()
    assert window.notice.action.text() == "Find the video…"
    window.takes.relocate(ids["demo-b1"], str(elsewhere))
    assert window.selection.take.path == elsewhere


def test_a_take_is_removed_only_after_asking(window, ids, monkeypatch):
    answers = [QMessageBox.StandardButton.No, QMessageBox.StandardButton.Yes]
    monkeypatch.setattr(QMessageBox, "question", lambda *a: answers.pop(0))
    window.open_take(ids["demo-a1"])
    window.takes.delete_take(ids["demo-a1"])
    assert window.selection.take is not None
    window.takes.delete_take(ids["demo-a1"])
    assert window.selection.take is None
    assert window.pages.currentIndex() == STUDENTS


def test_another_hand_or_size_is_worked_out_at_once(window, ids, qtbot):
    window.open_take(ids["dev-straight"])
    window.go_to_step(TAKE)
    assert window.landmarks.session.state.ready
    qtbot.mouseClick(window.take_view.mirrored, Qt.MouseButton.LeftButton, pos=QPoint(8, 8))
    assert not window.landmarks.session.state.ready
    qtbot.mouseClick(window.take_view.mirrored, Qt.MouseButton.LeftButton, pos=QPoint(8, 8))
    assert window.landmarks.session.state.ready


def test_the_students_page_lists_takes_with_their_state(window, qtbot):
    rows = window.students.findChildren(Row)
    names = " ".join(r.accessibleName() for r in rows)
    assert "Mila Torvald" in names
    mila = next(r for r in rows if r.accessibleName().startswith("Mila"))
    qtbot.mouseClick(mila, Qt.MouseButton.LeftButton)
    takes = " ".join(r.accessibleName() for r in window.students.findChildren(Row))
    assert "analysed: 6 strokes" in takes
    assert "calibrated, ready to analyse" in takes


def test_landmarks_that_were_set_survive_closing_the_window(window, ids, qtbot):
    window.open_take(ids["dev-straight"])
    session = window.landmarks.session
    session.set("end_button", session.state.points["end_button"][0] + 1.5, session.state.points["end_button"][1])
    set_now = session.result()
    folder = window.studio.folder
    window.close()
    again = Studio(folder)
    assert again.fit(again.store.take(ids["dev-straight"])).landmarks == set_now.landmarks
    again.close()


def test_a_second_moment_and_the_zero_are_set_with_the_mouse(window, ids, qtbot):
    window.open_take(ids["dev-straight"])
    landmarks, session = window.landmarks, window.landmarks.session
    qtbot.waitUntil(lambda: landmarks.canvas.has_image and landmarks.at_marked_moment, timeout=30_000)
    assert not landmarks.side.add_moment.isEnabled()
    first = dict(session.state.points)
    window.selection.go_to(3.0)
    qtbot.mouseClick(landmarks.side.zero, Qt.MouseButton.LeftButton)
    assert session.zero == (3.0,)
    qtbot.mouseClick(landmarks.side.add_moment, Qt.MouseButton.LeftButton)
    assert session.state.points == {}
    for name in REQUIRED_LANDMARKS:
        click_picture(qtbot, landmarks.canvas, *first[name])
    assert session.moments == [0.3, pytest.approx(3.0, abs=0.02)]
    buttons = landmarks.side.moments.chips
    texts = [b.text() for b in buttons]
    assert texts[:3] == ["0:00.30", "0:03.00", "zero 0:03.00"]
    qtbot.mouseClick(buttons[0], Qt.MouseButton.LeftButton)
    assert window.selection.moment_s == pytest.approx(0.3)
    assert session.state.points == first
    window.selection.go_to(3.0)
    assert landmarks.side.zero.isChecked()
    assert len(session.result().landmarks) == 2


def test_a_far_tuning_is_asked_about_and_the_answer_measures_again(opened, monkeypatch):
    started = []
    monkeypatch.setattr(opened.measuring, "measure", lambda: started.append(opened.landmarks.session.base.tuning_cents))
    opened.measuring._tuned(-80.0)
    assert started == [-80.0]
    opened.undo() if opened.pages.currentIndex() == 2 else opened.landmarks.session.undo.undo()
    assert opened.landmarks.session.base.tuning_cents is None


def test_takes_are_measured_one_after_another_behind(window, brief, qtbot):
    done = []
    window.measuring.one_more.connect(done.append)
    window.measuring.measure_later([brief["demo-a1"], brief["demo-a2"], brief["demo-a3"]])
    qtbot.waitUntil(lambda: len(done) == 2, timeout=120_000)
    assert done == [brief["demo-a2"], brief["demo-a3"]], "a take that is measured already is passed over"
    assert window.studio.analysis(window.studio.store.take(brief["demo-a3"])) is not None
    window.measuring.wait()
