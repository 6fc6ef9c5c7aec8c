"""Coming back to where one was; preferences; takes opened lately; videos from outside; a second start."""

from __future__ import annotations

import subprocess
import sys
import time
from pathlib import Path

import pytest
from PySide6.QtCore import QMimeData, QPointF, Qt, QTimer, QUrl
from PySide6.QtGui import QDropEvent
from PySide6.QtWidgets import QApplication

from dolcezza.app.dialogs.preferences import Preferences
from dolcezza.app.main import make_app
from dolcezza.app.theme.palette import DARK
from dolcezza.app.windows.main_window import ARM, STUDENTS, TAKE, MainWindow
from dolcezza.app.windows.single_instance import SingleInstance
from dolcezza.cli.main import with_open
from dolcezza.services.settings import SettingsFile
from dolcezza.services.studio import Studio
from takes_support import take_video


@pytest.fixture
def settings(tmp_path):
    return SettingsFile(tmp_path / "settings.json")


def reopened(qtbot, folder, settings):
    made = MainWindow(Studio(folder), SettingsFile(settings.path))
    qtbot.addWidget(made)
    made.session.come_back()
    made.show()
    return made


def test_the_last_session_comes_back(qtbot, studio, settings):
    window = MainWindow(studio, settings)
    qtbot.addWidget(window)
    window.show()
    take = next(s.take for st in studio.students() for s in studio.takes(st.id) if s.analysed)
    window.open_take(take.id)
    window.go_to_step(ARM)
    window.selection.go_to(2.5)
    window.close()
    again = reopened(qtbot, studio.folder, settings)
    assert again.selection.take.id == take.id and again.pages.currentIndex() == ARM
    assert again.selection.moment_s == 2.5 and again.session.settings.now.window
    again.go_to_step(STUDENTS)
    again.studio.delete_take(take.id)
    again.session.leave()
    again.close()
    third = reopened(qtbot, studio.folder, settings)
    assert third.selection.take is None and third.pages.currentIndex() == STUDENTS, "what is gone is not brought back"
    third.close()


def test_preferences_are_taken_over_and_kept(window, qtbot):
    def set_dark():
        dialog = QApplication.activeModalWidget()
        assert isinstance(dialog, Preferences)
        dialog.theme.setCurrentText("dark")
        dialog.quiet.setChecked(True)
        qtbot.mouseClick(dialog.keep, Qt.MouseButton.LeftButton)

    QTimer.singleShot(50, set_dark)
    window.menus.actions["preferences"].trigger()
    assert QApplication.instance().property("theme") == "dark"
    assert window.strip.palette_ is DARK
    assert window.playing.player.muted and window.strokes.transport.quiet.isChecked()
    assert SettingsFile(window.session.settings.path).now.theme == "dark"
    window.other_theme()
    assert QApplication.instance().property("theme") == "light"


def test_the_size_of_everything_is_set_before_the_window_system_starts(monkeypatch):
    from dataclasses import replace

    monkeypatch.delenv("QT_SCALE_FACTOR", raising=False)
    import os

    make_app(["x"], replace(SettingsFile(Path("/none")).now, size=150))
    assert os.environ["QT_SCALE_FACTOR"] == "1.5"
    monkeypatch.delenv("QT_SCALE_FACTOR", raising=False)


def test_takes_opened_lately_are_in_the_menu(opened, ids):
    opened.open_take(ids["demo-a2"])
    opened.menus.recent.aboutToShow.emit()
    words = [a.text() for a in opened.menus.recent.actions()]
    assert words[0].startswith("Mila Torvald: Long bows") and len(words) == 2
    opened.menus.recent.actions()[1].trigger()
    assert opened.selection.take.id == ids["demo-a1"]


def test_a_video_dropped_anywhere_is_asked_for_its_student(opened, tmp_path):
    import shutil

    video = tmp_path / "new lesson.mp4"
    shutil.copy(take_video("demo-b1"), video)
    with video.open("ab") as out:
        out.write(b"another take")
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(video))])
    event = QDropEvent(QPointF(500, 300), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
    opened.dropEvent(event)
    assert opened.pages.currentIndex() == STUDENTS and "Whose video is new lesson.mp4?" in opened.notice.words.text()
    runa = next(s for s in opened.studio.students() if "Runa" in s.name)
    opened.students._choose(runa.id)
    opened.notice.action.click()
    assert opened.pages.currentIndex() == TAKE and opened.selection.take.student_id == runa.id


def test_a_second_start_hands_its_video_to_the_first(qtbot, tmp_path):
    """A real second process, as the file manager would start it."""
    folder = tmp_path / "one"
    first = SingleInstance(folder)
    assert first.first
    with qtbot.waitSignal(first.asked, timeout=30_000) as asked:
        second = subprocess.Popen(
            [sys.executable, "-m", "dolcezza", "--studio", str(folder), "open", str(take_video("demo-a1"))],
            stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True,
        )  # fmt: skip
    _, said = second.communicate(timeout=60)
    assert second.returncode == 0, said
    assert asked.args[0] == [take_video("demo-a1")]
    first.release()
    begin = time.monotonic()
    again = SingleInstance(folder)
    assert again.first and time.monotonic() - begin < 5
    again.release()


def test_a_file_alone_opens_the_desk():
    assert with_open([str(take_video("demo-a1"))]) == ["open", str(take_video("demo-a1"))]
    assert with_open(["analyse", "x.mp4"]) == ["analyse", "x.mp4"] and with_open([]) == []
