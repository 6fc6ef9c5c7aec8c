"""The list of what came out of the day's videos, through the real window."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QApplication, QLabel

from dolcezza.app.dialogs.results_dialog import ResultsDialog


def with_list(then) -> None:
    """Do something with the list as soon as it is open."""

    def look() -> None:
        dialog = QApplication.activeModalWidget()
        if isinstance(dialog, ResultsDialog):
            then(dialog)
            dialog.reject()
        else:
            QTimer.singleShot(20, look)

    QTimer.singleShot(20, look)


def test_the_day_is_listed_and_a_video_opened_from_it(window, ids, qtbot, studio):
    seen = []

    def look(dialog):
        seen.extend(w.text() for w in dialog.findChildren(QLabel))
        qtbot.mouseClick(dialog.rows[0], Qt.MouseButton.LeftButton)

    with_list(look)
    qtbot.keyClick(window, Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    take = studio.store.take(ids["demo-a1"])
    assert take.title in seen and studio.store.student(take.student_id).name in seen
    assert window.selection.take.id == take.id and window.selection.analysis is not None


@pytest.mark.parametrize("keys", [False, True])
def test_a_day_without_videos_says_so(window, studio, ids, keys):
    for student in studio.students():
        studio.delete_student(student.id)
    seen = []
    with_list(lambda dialog: seen.extend(w.text() for w in dialog.findChildren(QLabel)))
    window.menus.actions["results"].trigger() if keys else window.days.show_results()
    assert "No video has been analysed today." in seen
