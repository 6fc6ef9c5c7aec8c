"""Archives through the desk: the menu, the question whose, the file, and what is said."""

from __future__ import annotations

import zipfile
from datetime import date

import pytest
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication, QFileDialog

from dolcezza.app.dialogs.archive_dialog import ArchiveDialog
from dolcezza.storage.records import Consent


@pytest.fixture
def answers(monkeypatch):
    """Answers the next question whose archive, and the file dialog after it: ``answers(path, who)``."""

    def give(path, who="the whole studio", *, videos=False):
        def act():
            window = QApplication.activeModalWidget()
            assert isinstance(window, ArchiveDialog)
            window.who.setCurrentText(who)
            window.videos.setChecked(videos)
            window.write_button.click()

        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(path), ""))
        monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a, **_k: (str(path), ""))
        QTimer.singleShot(100, act)

    return give


def test_out_removed_and_in_again(opened, answers, tmp_path, qtbot):
    file, studio = tmp_path / "all.zip", opened.studio
    answers(file)
    with qtbot.waitSignal(opened.archives.jobs.done, timeout=60_000):
        opened.menus.actions["archive"].trigger()
    assert str(file) in opened.notice.words.text() and zipfile.ZipFile(file).testzip() is None
    opened.menus.actions["take_in"].trigger()
    qtbot.waitUntil(lambda: "Nobody new is in this archive" in opened.notice.words.text(), timeout=20_000)
    gone = next(s for s in studio.students() if s.id != opened.selection.take.student_id)
    takes = len(studio.takes(gone.id))
    studio.delete_student(gone.id)
    opened.students.reload()
    with qtbot.waitSignal(opened.archives.came, timeout=60_000):
        opened.menus.actions["take_in"].trigger()
    assert f"Taken in: {gone.name}." in opened.notice.words.text() and "left as they are" in opened.notice.words.text()
    back = next(s for s in studio.students() if s.name == gone.name)
    assert len(studio.takes(back.id)) == takes


def test_one_students_archive_leaves_only_as_agreed(opened, answers, tmp_path, qtbot, monkeypatch):
    student = opened.studio.store.student(opened.selection.take.student_id)
    monkeypatch.setattr(opened.archives.leaving, "agreed", lambda _s, *, picture: asked.append(picture) or not picture)
    asked: list[bool] = []
    answers(tmp_path / "with.zip", student.name, videos=True)
    opened.menus.actions["archive"].trigger()
    assert asked == [True] and not opened.archives.jobs.running and not (tmp_path / "with.zip").exists()
    opened.studio.keeping.agree(Consent(student.id, "Solveig Torvald", date.today(), True, False, True))
    answers(tmp_path / "one.zip", student.name)
    with qtbot.waitSignal(opened.archives.jobs.done, timeout=60_000):
        opened.menus.actions["archive"].trigger()
    assert asked == [True, False]
    assert [w.what for w in opened.studio.store.keeping.written(student.id)] == ["archive"]


def test_of_a_whole_studio_the_videos_of_those_who_have_not_agreed_stay_out(opened, answers, tmp_path, qtbot):
    studio = opened.studio
    agreed = next(s for s in studio.students() if studio.takes(s.id))
    studio.keeping.agree(Consent(agreed.id, "Solveig Torvald", date.today(), True, True, True))
    answers(tmp_path / "all.zip", videos=True)
    with qtbot.waitSignal(opened.archives.jobs.done, timeout=60_000):
        opened.menus.actions["archive"].trigger()
    own = {str(s.take.id) for s in studio.takes(agreed.id)}
    names = zipfile.ZipFile(tmp_path / "all.zip").namelist()
    assert {n.split("/")[2] for n in names if n.startswith("media/takes/")} == own


def test_the_dialog_names_whose_videos_stay_out(opened):
    students = opened.studio.students()
    asked = ArchiveDialog(students, None, opened, not_agreed=students[:1])
    asked.show()
    assert not asked.left_out.isVisible() and not asked.stays.isVisible()
    asked.videos.setChecked(True)
    assert asked.left_out.isVisible() and students[0].name in asked.left_out.text()
    assert asked.without_videos == {students[0].id}
    asked.stays.setChecked(True)
    assert not asked.left_out.isVisible() and asked.without_videos == set()
    asked.who.setCurrentText(students[0].name)
    assert not asked.stays.isVisible() and asked.student == students[0]
    asked.close()


def test_a_file_that_is_no_archive_is_said(opened, tmp_path, monkeypatch, qtbot):
    (tmp_path / "letter.zip").write_text("Dear parents")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a, **_k: (str(tmp_path / "letter.zip"), ""))
    opened.menus.actions["take_in"].trigger()
    qtbot.waitUntil(lambda: "letter.zip is not an archive" in opened.notice.words.text(), timeout=20_000)
