"""A second phone's video joined to a take on the desk, and both measured together."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from dolcezza.core.pipeline.fit_file import read_fit
from dolcezza.services.pairs import PairBook
from dolcezza.services.studio import Studio

PAIR = Path(__file__).parents[1] / "takes" / "two"


@pytest.fixture
def studio(tmp_path) -> Studio:
    """One student with both phones' videos, the first one marked."""
    made = Studio(tmp_path / "studio")
    student = made.add_student("Wilma Ostrander", "violin 4/4")
    first, _ = (made.add_take(student.id, PAIR / name) for name in ("pair.mp4", "pair-2.mp4"))
    made.save_fit(first, read_fit(PAIR / "pair.fit.json"))
    return made


def test_two_videos_are_joined_with_undo_and_measured_together(window, studio, qtbot):
    first, second = sorted((s.take for s in studio.takes(studio.students()[0].id)), key=lambda t: t.title)
    studio.save_fit(second, read_fit(PAIR / "pair-2.fit.json"))
    window.open_take(first.id)
    choices = window.take_view.second
    assert choices.itemText(0) == "no" and choices.itemData(1) == second.id
    choices.setCurrentIndex(1)
    choices.activated.emit(1)
    assert studio.pairs.of(first.id) == second.id and "measured together" in window.notice.words.text()
    window.undo()
    assert studio.pairs.of(first.id) == 0
    studio.join_phones(first, second.id)
    window.open_take(first.id)
    assert choices.currentData() == second.id
    with qtbot.waitSignal(window.measuring.measured, timeout=240_000):
        window.measure()
    stored = studio.analysis(studio.store.take(first.id))
    assert stored.summary["second"]["take"] == "pair-2.mp4"
    assert any(m["id"] == "note.two phones" for m in stored.summary["messages"])
    assert len(stored.strokes) == 4
    both_pictures(window, qtbot)


def both_pictures(window, qtbot) -> None:
    """The two pictures stand at the same moment, and run together."""
    window.open_take(window.selection.take.id)
    assert window.take_view.both.isEnabled()
    window.take_view.both.click()
    phones = window.opened.phones
    qtbot.waitUntil(lambda: all(c.has_image for c in phones.canvases), timeout=20_000)
    phones.slider.setValue(2000)
    assert phones.moments == (2.0, pytest.approx(2.0 - 0.36, abs=0.02))
    QTest.keyClick(phones, Qt.Key.Key_Right)
    assert phones.slider.value() == 2040
    phones.toggle()
    qtbot.waitUntil(lambda: phones.slider.value() > 2200, timeout=5000)
    QTest.keyClick(phones, Qt.Key.Key_Space)
    assert phones.play.text().startswith("Play")
    phones.close()


def test_a_take_that_goes_is_no_longer_joined(studio):
    first, second = sorted((s.take for s in studio.takes(studio.students()[0].id)), key=lambda t: t.title)
    studio.join_phones(first, second.id)
    assert studio.second_phone(first)[0] == second.path
    assert Studio(studio.folder).pairs.of(first.id) == second.id, "it is kept"
    studio.delete_take(second.id)
    assert studio.pairs.of(first.id) == 0 and studio.second_phone(first) is None


def test_a_damaged_book_of_pairs_keeps_nobody_out(tmp_path):
    (tmp_path / "pairs.json").write_text('{"pairs": [[1')
    book = PairBook(tmp_path)
    assert book.of(1) == 0
    book.set(3, 4)
    book.set(3, 3)
    assert PairBook(tmp_path).of(3) == 0, "a take is not its own second phone"
