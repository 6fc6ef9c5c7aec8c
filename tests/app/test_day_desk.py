"""Many videos at once through the real window: proposed, confirmed in one list, found and measured without a click."""

from __future__ import annotations

import shutil

import pytest
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication

from dolcezza.app.dialogs.day_dialog import DayDialog
from dolcezza.services.studio import Studio
from takes_support import take_video


@pytest.fixture
def studio(tmp_path) -> Studio:
    """An empty one."""
    return Studio(tmp_path / "studio")


@pytest.fixture
def day(tmp_path):
    """A folder with two videos, one of them twice, and one that is none."""
    folder = tmp_path / "day"
    folder.mkdir()
    shutil.copy(take_video("demo-a3"), folder / "Wilma 1.mp4")
    shutil.copy(take_video("demo-a3"), folder / "again.mp4")
    shutil.copy(take_video("dev-straight"), folder / "clip.mp4")
    (folder / "torn.mov").write_bytes(b"nothing")
    return folder


def answered(then) -> None:
    """Do something with the list as soon as it is open."""

    def look() -> None:
        dialog = QApplication.activeModalWidget()
        if isinstance(dialog, DayDialog):
            then(dialog)
        else:
            QTimer.singleShot(50, look)

    QTimer.singleShot(50, look)


def test_without_students_or_videos_it_says_what_to_do(window, tmp_path):
    window.days.offer([tmp_path])
    assert "Add a student first" in window.notice.words.text()
    window.studio.add_student("Wilma Ostrander", "violin 1/2")
    window.days.offer([tmp_path])
    assert "no video" in window.notice.words.text()


def test_a_day_is_confirmed_in_one_list_and_measured_behind(window, day, qtbot):
    wilma = window.studio.add_student("Wilma Ostrander", "violin 1/2")
    other = window.studio.add_student("Ede Quill", "violin 4/4")
    seen = {}

    def confirm(dialog: DayDialog) -> None:
        names = [p.path.name for p in dialog._found]
        seen["whose"] = {n: b.currentText() for n, b in zip(names, dialog.whose, strict=True)}
        seen["open"] = {n: b.isEnabled() for n, b in zip(names, dialog.whose, strict=True)}
        box = dialog.whose[names.index("clip.mp4")]
        box.setCurrentIndex(box.findData(other.id))
        seen["count"] = len(dialog.chosen)
        dialog.grab()
        dialog.take_button.click()

    answered(confirm)
    done: list[int] = []
    window.measuring.one_more.connect(done.append)
    window.days.offer([day])
    assert seen["whose"]["Wilma 1.mp4"] == "Wilma Ostrander" and seen["whose"]["clip.mp4"] == "leave it"
    assert seen["open"] == {"Wilma 1.mp4": True, "clip.mp4": True, "again.mp4": False, "torn.mov": False}
    assert seen["count"] == 2
    takes = [t.take for s in (wilma, other) for t in window.studio.takes(s.id)]
    assert [t.title for t in takes] == ["Wilma 1", "clip"] and len(window.measuring.waiting.ids) == 2
    window.measuring.waiting.remove(takes[1].id)  # one is enough to see it measured
    # the instrument is found by itself; the list says what was found first
    qtbot.waitUntil(lambda: len(done) == 1, timeout=240_000)
    assert done == [takes[0].id] and len(window.studio.analysis(takes[0]).strokes) == 6
    assert "strokes;" in window.notice.words.text()
    assert window.studio.store.latest_fit(takes[0].id) is not None


def test_leaving_all_takes_in_nothing(window, day):
    window.studio.add_student("Ede Quill", "violin 4/4")
    answered(lambda dialog: dialog.reject())
    window.days.offer([day])
    assert not any(window.studio.takes(s.id) for s in window.studio.students())


def test_the_pictures_say_what_is_played_while_the_list_is_open(window, tmp_path, qtbot):
    """Two videos whose names say nothing: one cellist, one fiddler. What the teacher has chosen before stays."""
    fiddler = window.studio.add_student("Ede Quill", "violin 4/4")
    cellist = window.studio.add_student("Tove Marchetti", "cello 4/4")
    folder = tmp_path / "day"
    folder.mkdir()
    for name, source in (("a.mp4", "demo-a1"), ("b.mp4", "dev-cello"), ("c.mp4", "demo-a2")):
        shutil.copy(take_video(source), folder / name)
    seen = {}

    def look(dialog: DayDialog) -> None:
        names = [p.path.name for p in dialog._found]
        box = dialog.whose[names.index("c.mp4")]
        # as a hand does it
        box.setCurrentIndex(box.findData(cellist.id))
        box.activated.emit(box.currentIndex())
        seen["before"] = {n: b.currentText() for n, b in zip(names, dialog.whose, strict=True)}
        seen["says"] = dialog.looking.text() if dialog.looking.isVisible() else ""
        qtbot.waitUntil(lambda: not dialog.looking.isVisible(), timeout=120_000)
        seen["after"] = {n: b.currentText() for n, b in zip(names, dialog.whose, strict=True)}
        seen["why"] = [w.text() for w in dialog._why]
        dialog.reject()

    answered(look)
    window.days.offer([folder])
    assert seen["before"] == {"a.mp4": "leave it", "b.mp4": "leave it", "c.mp4": "Tove Marchetti"}
    assert "Looking at the pictures" in seen["says"]
    assert seen["after"] == {"a.mp4": "Ede Quill", "b.mp4": "Tove Marchetti", "c.mp4": "Tove Marchetti"}
    assert seen["why"] == ["played under the chin", "a cello is played", "played under the chin"]
    assert not window.studio.takes(fiddler.id)


def test_a_list_that_is_left_stops_looking(window, day):
    window.studio.add_student("Ede Quill", "violin 4/4")
    window.studio.add_student("Tove Marchetti", "cello 4/4")
    answered(lambda dialog: dialog.reject())
    window.days.offer([day])
    assert window.days.does and QApplication.activeModalWidget() is None
