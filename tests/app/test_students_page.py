"""The first page: who is next, the brief, a student's own sheet."""

from __future__ import annotations

from datetime import datetime

import pytest
from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QApplication, QMessageBox

from dolcezza.app.dialogs.student_dialog import StudentDialog
from dolcezza.app.widgets.parts import Row


@pytest.fixture
def page(window, ids):
    window.students.clock = lambda: datetime.now().replace(hour=15, minute=10)
    window.students.reload()
    return window.students


def names(page):
    return [row.accessibleName().split(".")[0] for row in page.students.findChildren(Row) if row.isVisibleTo(page)]


def with_sheet(do):
    """Do something to the sheet that opens next."""

    def act():
        sheet = QApplication.activeModalWidget()
        assert isinstance(sheet, StudentDialog)
        do(sheet)

    QTimer.singleShot(50, act)


def test_the_next_lesson_leads_the_page(page):
    assert page.next.text() == "Next: Runa Castellane, today at 16:00"
    assert names(page)[:3] == ["Runa Castellane", "Mila Torvald", "Anselm Quirke"]


def test_the_brief_of_the_chosen_student(page, qtbot, window):
    row = next(r for r in page.students.findChildren(Row) if "Mila" in r.accessibleName())
    row.setFocus()
    qtbot.keyClick(row, Qt.Key.Key_Return)
    assert window.selection.student.name == "Mila Torvald"
    assert "minutes a day" in page.answers["agreed"].text()
    assert page.answers["changed"].text().startswith("Two analysed videos")


def test_a_student_s_sheet_changes_the_lesson(page, qtbot, window):
    def later(sheet):
        sheet.day.setCurrentText("Sunday")
        sheet.time.setText("half past")
        qtbot.mouseClick(sheet.keep, Qt.MouseButton.LeftButton)
        assert "not a time of day" in sheet.problem.text() and sheet.isVisible()
        sheet.time.setText("11:45")
        sheet.ruled["string_length"].setText("253,5")
        qtbot.mouseClick(sheet.keep, Qt.MouseButton.LeftButton)

    student = window.selection.student
    with_sheet(later)
    qtbot.mouseClick(page.edit_button, Qt.MouseButton.LeftButton)
    kept = window.studio.store.student(student.id)
    assert (kept.lesson_day, kept.lesson_time) == (6, "11:45")
    assert window.studio.store.instruments(student.id)[-1].measured == {"string_length": 253.5}
    assert window.selection.student == kept
    window.menus.actions["undo"].trigger()
    assert window.studio.store.student(student.id) == student


def test_a_student_is_removed_after_asking(page, qtbot, window, monkeypatch):
    student = window.selection.student
    asked = []
    for answer in (QMessageBox.StandardButton.No, QMessageBox.StandardButton.Yes):
        monkeypatch.setattr(QMessageBox, "question", lambda *a, say=answer: asked.append(a[2]) or say)
        assert window.studio.store.student(student.id) == student
        with_sheet(lambda sheet: qtbot.mouseClick(sheet.remove, Qt.MouseButton.LeftButton))
        qtbot.mouseClick(page.edit_button, Qt.MouseButton.LeftButton)
    assert student.name in asked[0]
    assert student.name not in names(page)
    assert window.selection.student is not None and window.selection.student.id != student.id


def test_what_another_window_has_removed_is_said_and_leaves_the_list(page, window, ids, monkeypatch):
    """Two hours of use at random opened a take that was gone."""
    studio = window.studio
    gone = ids["demo-a2"]
    studio.delete_take(gone)
    listed = window.students.findChildren(Row)
    window.open_take(gone)
    assert window.students.findChildren(Row) != listed, "the list is made anew"
    assert "no longer in the studio" in window.notice.words.text()
    window.notice.say("", calm=True)
    monkeypatch.setattr(QMessageBox, "question", lambda *_a, **_k: pytest.fail("nothing is asked about what is gone"))
    window.takes.delete_take(gone)
    assert "no longer in the studio" in window.notice.words.text()
    student = studio.add_student("Somebody Gone", "violin 4/4").id
    studio.delete_student(student)
    window.takes.edit_student(student)
    assert "no longer in the studio" in window.notice.words.text()
