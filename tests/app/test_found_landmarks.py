"""An instrument that is found without a click: offered, looked at, taken or moved, and what comes where it is not found."""

from __future__ import annotations

from dataclasses import replace

import pytest
from PySide6.QtCore import QPointF, Qt

from dolcezza.app.presenters import calibration as presenter
from dolcezza.app.windows.main_window import MainWindow
from dolcezza.core.base.errors import TrackingError
from dolcezza.core.base.job import Progress, Stage
from dolcezza.core.pipeline.fit_file import CalibrationFrame, Fit, read_fit
from dolcezza.services.calibration import CalibrationSession
from dolcezza.services.studio import Studio
from takes_support import take_video

VIDEO = take_video("demo-a3")
SET = read_fit(VIDEO.with_suffix(".fit.json"))


def found(handed="right") -> Fit:
    """What a search would give: the landmarks of two frames, all the program's."""
    points = SET.landmarks[0].points
    later = {n: (x + 1.0, y) for n, (x, y) in points.items()}
    return Fit("violin 1/2", tuple(CalibrationFrame(t, p, tuple(p)) for t, p in ((0.3, points), (2.0, later))), handed)


@pytest.fixture
def window(qtbot, tmp_path, monkeypatch):
    """A desk with a student and a video that nobody has marked; the search ends when it is told."""
    answer = {}

    def find(path, instrument):
        answer["asked"] = (path, instrument)
        yield Progress(Stage.SKIMMING, 1, 2)
        if answer["fit"] is None:
            raise TrackingError("The instrument was not found in this video.", "Set it by hand.")
        return answer["fit"]

    def frame(path):
        yield Progress(Stage.SKIMMING, 1, 2)
        return 1.5

    monkeypatch.setattr(presenter, "find_landmarks", find)
    monkeypatch.setattr(presenter, "frame_to_mark", frame)
    answer["fit"] = found()
    studio = Studio(tmp_path / "studio")
    window = MainWindow(studio)
    window.answer = answer
    student = studio.add_student("Ottoline Brandt", "violin 1/2")
    window.take = studio.add_take(student.id, VIDEO)
    qtbot.addWidget(window)
    window.resize(1280, 800)
    window.show()
    yield window
    window.close()
    studio.close()


def opened(window, qtbot):
    window.open_take(window.take.id)
    window.go_to_step(2)
    qtbot.waitUntil(lambda: not window.calibrating.jobs.running and not window.calibrating.frames.running, timeout=15000)
    return window.landmarks


def test_the_outline_appears_without_a_click_and_enter_analyses(window, qtbot):
    view = opened(window, qtbot)
    assert window.answer["asked"] == (window.take.path, "violin 1/2")
    assert view.session.found
    assert view.session.state.ready
    assert window.selection.moment_s == pytest.approx(0.3)
    assert "Found by itself" in view.side.todo.text() and "which hand" not in view.side.todo.text()
    view.session.base = replace(view.session.base, handed_told=False)
    view._refresh_todo()
    assert "which hand bows is not clear: “bow in the right hand”" in view.side.todo.text()
    view.session.settings(handed="right", mirrored=False)
    assert "which hand" not in view.side.todo.text(), "the teacher has said it"
    assert view.side.go.text().startswith("Looks right")
    with qtbot.waitSignal(view.measure, timeout=2000):
        qtbot.keyClick(view.canvas, Qt.Key.Key_Return)
    window.jobs.cancel()


def test_what_is_dragged_is_the_teachers_and_undo_gives_it_back(window, qtbot):
    view = opened(window, qtbot)
    session = view.session
    x, y = session.state.points["scroll"]
    view._press(QPointF(x, y))
    view._drag(QPointF(x + 6, y + 3))
    view._release(QPointF(x + 6, y + 3))
    assert not session.found
    assert view.side.go.text() == "Analyse this video"
    kept = session.result().landmarks
    assert "scroll" not in kept[0].found
    assert "bridge_bass" in kept[0].found
    assert set(kept[1].found) == set(kept[1].points)
    session.undo.undo()
    assert session.found
    assert session.result().landmarks == found().landmarks


def test_a_left_handed_player_who_was_found_is_left_handed(window, qtbot):
    window.answer["fit"] = found("left")
    view = opened(window, qtbot)
    assert view.session.base.handed == "left"


def test_where_it_is_not_found_four_clicks_are_asked_on_a_good_frame(window, qtbot):
    window.answer["fit"] = None
    view = opened(window, qtbot)
    assert not view.session.state.points
    assert window.selection.moment_s == pytest.approx(1.5)
    assert "Click 1 of 4" in view.side.todo.text()
    assert "Looking" not in view.side.todo.text()


def test_a_teacher_who_has_begun_is_not_disturbed(window, qtbot):
    window.open_take(window.take.id)
    window.go_to_step(2)
    view = window.landmarks
    view.session.t_s = window.selection.moment_s
    view.session.set("bridge_bass", 600.0, 300.0)
    qtbot.waitUntil(lambda: not window.calibrating.jobs.running, timeout=15000)
    assert set(view.session.state.points) == {"bridge_bass"}


def test_a_session_keeps_what_was_found_through_the_fit_file():
    session = CalibrationSession(Fit("violin 1/2", ()), (1280, 720), 0.0)
    session.offer(found())
    assert session.moments == [0.3, 2.0]
    again = CalibrationSession(session.result(), (1280, 720), 0.0)
    assert again.found
    assert again.result() == session.result()
    wide, narrow = session.state.precision, CalibrationSession(SET, (1280, 720), 0.0).state.precision
    assert wide.bow_angle_deg > narrow.bow_angle_deg  # nobody has looked at it yet
    session.offer(SET)
    assert session.result().landmarks == found().landmarks  # an offer never replaces what is there
