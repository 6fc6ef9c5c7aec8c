"""What is kept, shown to a parent; nothing is written before it was agreed; removed with the videos or without."""

from __future__ import annotations

from datetime import date

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication, QFileDialog, QInputDialog, QLabel

from dolcezza.app.dialogs.kept_window import KeptWindow
from dolcezza.app.windows.main_window import CORRECT, PRACTISE
from dolcezza.storage.records import Consent


def with_window(do):
    """Do something to the window that opens next."""

    def act():
        window = QApplication.activeModalWidget()
        assert isinstance(window, KeptWindow)
        do(window)

    QTimer.singleShot(100, act)


def texts(widget) -> str:
    return " ".join(w.text() for w in widget.findChildren(QLabel))


def test_nothing_is_written_before_it_was_agreed(opened, tmp_path, monkeypatch, unpractised):
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(tmp_path / "sheet.html"), ""))
    student = opened.selection.take.student_id
    opened.go_to_step(CORRECT)
    with_window(lambda window: window.close_button.click())
    opened.correct.sheet_button.click()
    assert not (tmp_path / "sheet.html").exists() and "was not agreed" in opened.notice.words.text()

    def agree(window):
        assert "Nothing leaves the studio before it was agreed" in texts(window)
        window.guardian.setText("")
        window.keep_button.click()
        assert "Nobody is named" in window.problem.text() and window.isVisible()
        window.guardian.setText("Solveig Torvald")
        window.pictures.setChecked(True)
        window.sharing.setChecked(True)
        window.keep_button.click()

    with_window(agree)
    opened.correct.sheet_button.click()
    assert (tmp_path / "sheet.html").exists()
    assert [w.what for w in opened.studio.store.keeping.written(student)] == ["sheet"]
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(tmp_path / "again.html"), ""))
    opened.go_to_step(PRACTISE)
    opened.practise.sheet_button.click()
    assert (tmp_path / "again.html").exists(), "agreed once, it is not asked again"


def test_nothing_that_is_written_says_the_name_where_initials_were_agreed(opened, tmp_path):
    student = opened.studio.store.student(opened.selection.take.student_id)
    first, last = student.name.split()
    opened.go_to_step(CORRECT)
    opened.studio.keeping.agree(Consent(student.id, "Solveig", date.today(), True, True, True, initials=True))
    opened.correcting.write_sheet(tmp_path / "sheet.html", 0, "child")
    opened.correcting.write_report(tmp_path / "report.html")
    opened.practising.write_sheet(tmp_path / "practice.html", "child")
    opened.practising.write_calendar(tmp_path / "practice.ics")
    opened.correcting.write_annotations(tmp_path / "annotations.vtt")
    for name in ("sheet.html", "report.html", "practice.html", "practice.ics", "annotations.vtt"):
        text = (tmp_path / name).read_text(encoding="utf-8")
        assert first not in text and last not in text, name
        assert f"{first[0]}. {last[0]}." in text or name == "annotations.vtt", name


def test_a_video_for_the_student_is_written_and_noted(opened, tmp_path, qtbot, monkeypatch):
    student = opened.selection.take.student_id
    opened.studio.keeping.agree(Consent(student, "Solveig Torvald", date.today(), True, True, True))
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(tmp_path / "stroke.mp4"), ""))
    monkeypatch.setattr(QInputDialog, "getItem", lambda *_a, **_k: ("this stroke, half as fast", True))
    opened.go_to_step(CORRECT)
    with qtbot.waitSignal(opened.video_out.jobs.done, timeout=60_000):
        opened.correct.video_button.click()
    assert (tmp_path / "stroke.mp4").stat().st_size > 10_000
    assert "video for the student" in {w.what for w in opened.studio.store.keeping.written(student)}


def test_what_is_kept_is_shown_and_can_all_be_removed(opened, qtbot):
    student = opened.studio.store.student(opened.selection.take.student_id)
    window = KeptWindow(opened.studio, student, opened)
    qtbot.addWidget(window)
    window.show()
    told = texts(window)
    assert "videos noted" in told and "1 × video" in told and "measurements" in told and "demo-a1.mp4" in told
    window.videos.setChecked(True)
    window.remove_button.click()
    assert window.removed and window.with_videos
