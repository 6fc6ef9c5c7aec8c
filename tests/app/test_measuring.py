"""Measuring in the window: paused and gone on with, first strokes, one take after another, after a restart."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt

from dolcezza.app.windows.main_window import STROKES, MainWindow
from dolcezza.app.workers.job_runner import JobRunner
from dolcezza.core.base.job import Progress, Stage
from dolcezza.core.pipeline.preview import FirstStrokes
from dolcezza.services.studio import Studio


def counting(n: int, seen: list[int]):
    def work():
        for k in range(n):
            seen.append(k)
            yield Progress("counting", k + 1, n)
        return "done"

    return work


def test_a_paused_job_goes_on_where_it_was(qtbot):
    runner, seen = JobRunner(), []
    with qtbot.waitSignal(runner.paused, timeout=30_000):
        runner.start(counting(200_000, seen))
        qtbot.wait(20)
        runner.pause()
    assert runner.held and not runner.running and 0 < len(seen) < 200_000
    with qtbot.waitSignal(runner.done, timeout=30_000) as end:
        runner.go_on()
    assert seen == list(range(200_000)) and end.args == ["done"]


def test_a_paused_job_is_given_up_at_once(qtbot):
    runner, seen = JobRunner(), []
    with qtbot.waitSignal(runner.paused, timeout=30_000):
        runner.start(counting(10**9, seen))
        qtbot.wait(10)
        runner.pause()
    with qtbot.waitSignal(runner.cancelled, timeout=1000):
        runner.cancel()
    assert not runner.held


def test_measuring_is_paused_and_gone_on_with(window, brief, qtbot):
    window.open_take(brief["demo-a2"])
    window.measure()
    card = window.strokes.measuring
    qtbot.waitUntil(lambda: "frames" in card.words.text(), timeout=20_000)
    with qtbot.waitSignal(window.jobs.paused, timeout=20_000):
        qtbot.mouseClick(card.hold, Qt.MouseButton.LeftButton)
    assert card.isVisible() and card.words.text().startswith("Paused") and card.hold.text() == "Go on"
    window.open_take(brief["demo-a3"])
    assert not card.isVisible(), "another take is not the one that is held"
    window.open_take(brief["demo-a2"])
    window.go_to_step(STROKES)
    assert card.isVisible() and card.words.text().startswith("Paused")
    window.corrections.mend_stroke("cut", "")
    assert "being analysed" in window.notice.words.text() and window.landmarks.session.base.strokes == ()
    with qtbot.waitSignal(window.jobs.done, timeout=120_000):
        qtbot.mouseClick(card.hold, Qt.MouseButton.LeftButton)
    assert not card.isVisible() and len(window.selection.analysis.strokes) == 4


def test_what_was_interrupted_goes_on_after_a_restart(window, brief, qtbot, studio):
    window.open_take(brief["demo-a2"])
    window.measure()
    qtbot.waitUntil(lambda: "frames" in window.strokes.measuring.words.text(), timeout=20_000)
    folder = studio.folder
    window.close()
    again = MainWindow(Studio(folder))
    qtbot.addWidget(again)
    again.show()
    assert again.measuring.waiting.ids == [brief["demo-a2"]]
    with qtbot.waitSignal(again.measuring.one_more, timeout=120_000):
        again.measuring.go_on_waiting()
    assert again.measuring.waiting.ids == []
    assert again.studio.analysis(again.studio.store.take(brief["demo-a2"])) is not None
    again.close()


def test_a_second_take_waits_its_turn(window, brief, qtbot):
    window.open_take(brief["demo-a2"])
    window.measure()
    window.open_take(brief["demo-a3"])
    window.measure()
    assert "comes next" in window.notice.words.text()
    assert not window.strokes.measuring.isVisible(), "the other take's progress is not this one's"
    done = set()
    window.measuring.one_more.connect(done.add)
    window.jobs.done.connect(lambda _: done.add(brief["demo-a2"]))
    qtbot.waitUntil(lambda: done == {brief["demo-a2"], brief["demo-a3"]}, timeout=240_000)
    assert window.selection.take.id == brief["demo-a3"] and window.selection.analysis is not None


def test_first_strokes_are_shown_while_the_rest_is_measured(window, ids, qtbot, measured):
    window.open_take(ids["demo-a2"])
    window.go_to_step(STROKES)
    record = measured("demo-a1")
    early = FirstStrokes(record.series, record.strokes[:2])
    window.strokes.show_progress(Progress(Stage.FOLLOWING, 90, 900, early), 12.0)
    assert window.strokes.head.text() == "2 strokes so far"
    assert "12 s left" in window.strokes.measuring.words.text()
    assert window.strokes.ribbon._strokes == early.strokes
    assert window.strokes.ribbon._length == pytest.approx(max(window.opened.file.duration_s, record.series.t[-1]))
    window.strokes.show_progress(None)
    assert not window.strokes.measuring.isVisible()
