"""Bow use and bow plan in the real window: assignments are asked and undone, rows and points lead to frames, rhythms are divided."""

from __future__ import annotations

from dataclasses import replace

import pytest
from PySide6.QtCore import QEvent, QPointF, Qt
from PySide6.QtGui import QHelpEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QToolTip

from dolcezza.app.views.bow_plan import EXERCISE, RHYTHM
from dolcezza.app.views.bow_use import FIND_OUT, NOT_ASKED
from dolcezza.app.widgets.parts import Lead, Row
from dolcezza.app.windows.main_window import PLAN, STROKES, USE
from dolcezza.core.assignment.text import read_exercise
from dolcezza.core.base.message import Message
from dolcezza.core.tone.signs import Weight

ASKED = "exercise: Short bows\ntempo: 60\nD: 3 middle\nA: 3 middle"


@pytest.fixture
def at_use(opened, qtbot):
    opened.go_to_step(USE)
    qtbot.waitUntil(lambda: opened.use.canvas.has_image, timeout=30_000)
    return opened


def texts(widget) -> list[str]:
    return [row.accessibleName() for row in widget.findChildren(Row)]


def choose(combo, words: str) -> None:
    combo.setCurrentText(words)
    combo.activated.emit(combo.currentIndex())


def test_the_page_answers_first_and_the_teacher_overrules(at_use, qtbot):
    view = at_use.use
    assert view.exercise.currentText() == FIND_OUT
    assert view.sentence.text()
    assert "% ± " not in view.frog_words.text() and view.places.accessibleDescription().startswith("0 to 10 %")
    choose(view.exercise, "Lower halves")
    assert at_use.studio.store.assignments.of(at_use.selection.take.id).startswith("exercise: Lower halves")
    assert "strokes as asked" in view.sentence.text() and not view.sentence.text().startswith("Recognised")
    assert at_use.strokes.ribbon._asked, "the assignment lies behind the ribbon of the strokes too"
    choose(view.exercise, NOT_ASKED)
    assert view.sentence.text() == "Nothing was asked: free playing." and view.ribbon._asked == []
    at_use.undo()
    assert view.exercise.currentText() == "Lower halves"


def test_what_was_asked_of_another_instrument_is_shown_to_be_put_right(at_use):
    """A cello's exercise on a violinist's take: said, and the text is there to be changed."""
    text = "exercise: for a cello\nC G: 4 whole\n"
    at_use.studio.store.assignments.set(at_use.selection.take.id, text)
    at_use.assigning.reload()
    at_use.use.edit.click()
    assert "'C' is not a string of this instrument" in at_use.notice.words.text()
    assert at_use.plan.texts[EXERCISE] == text
    assert at_use.pages.currentIndex() == PLAN


def test_what_went_wrong_leads_to_its_frames_one_after_the_other(at_use, qtbot):
    at_use.assigning._ask(ASKED)
    view = at_use.use
    [row] = [r for r in view.findChildren(Row) if r.accessibleName().startswith("Too long")]
    assert "6 of the asked" in row.accessibleName()
    qtbot.mouseClick(row, Qt.MouseButton.LeftButton)
    first = at_use.selection.moment_s
    row.setFocus()
    qtbot.keyClick(row, Qt.Key.Key_Return)
    assert at_use.selection.moment_s > first
    strokes = at_use.selection.analysis.strokes
    assert first == pytest.approx(strokes[0].start_s + 0.02) and at_use.selection.stroke.number == 2


def test_the_ribbon_says_what_was_asked_where(at_use):
    at_use.assigning._ask(ASKED)
    ribbon = at_use.use.ribbon
    from dolcezza.app.widgets.asked_pattern import asked_words

    stroke = at_use.selection.analysis.strokes[0]
    assert asked_words(ribbon._asked, stroke.start_s + 0.1).startswith("Asked, stroke 1: on D, from 25 % to 75 %: too long")
    plain = ribbon.grab().toImage()
    ribbon.set_asked([])
    assert ribbon.grab().toImage() != plain


def test_each_string_has_its_own_figures(at_use):
    view = at_use.use
    before = [view.figures.itemAt(k).widget().text() for k in range(view.figures.count())]
    choose(view.scope, "A")
    after = [view.figures.itemAt(k).widget().text() for k in range(view.figures.count())]
    assert before[0] == after[0] == "Reach at the frog" and before != after


def test_places_and_figures_lead_to_their_frames_by_mouse_and_keys(at_use, qtbot):
    view, series = at_use.use, at_use.selection.analysis.series

    def place() -> float:
        return float(series["bow_position"][abs(series.t - at_use.selection.moment_s).argmin()])

    qtbot.mouseClick(view.places, Qt.MouseButton.LeftButton, pos=QPointF(view.places._x(0.25), 60).toPoint())
    first = at_use.selection.moment_s
    assert 0.2 <= place() < 0.3
    view.places.setFocus()
    qtbot.keyClick(view.places, Qt.Key.Key_Right)
    assert view.places.at == 3 and "between 30 and 40 %" in view.places.accessibleDescription()
    qtbot.keyClick(view.places, Qt.Key.Key_Return)
    assert 0.3 <= place() < 0.4
    qtbot.keyClick(view.places, Qt.Key.Key_Left)
    qtbot.keyClick(view.places, Qt.Key.Key_Return)
    assert at_use.selection.moment_s == first
    qtbot.keyClick(view.places, Qt.Key.Key_Return)
    assert at_use.selection.moment_s > first and 0.2 <= place() < 0.3, "again: the next stroke"
    leads = {w.accessibleName(): w for w in view.findChildren(Lead) if w.isVisible()}
    reach = next(w for name, w in leads.items() if name.startswith("Reach at the tip"))
    qtbot.mouseClick(reach, Qt.MouseButton.LeftButton)
    assert place() > 0.7
    speed = next(w for name, w in leads.items() if name.startswith("Bow speed"))
    speed.setFocus()
    qtbot.keyClick(speed, Qt.Key.Key_Return)
    assert at_use.selection.stroke is not None


def test_points_of_the_tone_field_lead_to_their_frames(at_use, qtbot):
    field = at_use.use.field
    assert "clean" in field.accessibleDescription()
    point = field._points[3]
    at = field._at(point.speed_cm_s, field._noise(point))
    qtbot.mouseClick(field, Qt.MouseButton.LeftButton, pos=at.toPoint())
    assert any(at_use.selection.moment_s == pytest.approx(p.t_s) for p in field._points)
    field.setFocus()
    now = field._chosen
    qtbot.keyClick(field, Qt.Key.Key_Right)
    assert at_use.selection.moment_s == pytest.approx(field._points[now + 1].t_s)
    assert "cm/s" in field.words_at(at) and field.words_at(QPointF(2, 2)) == ""
    assert field.point_at(QPointF(2, 2)) == -1


def test_crushed_and_airy_strokes_are_drawn_and_said(at_use):
    tone = at_use.selection.analysis.tone
    strokes = list(tone.strokes)
    strokes[0] = replace(strokes[0], weight=Weight.CRUSHED, reasons=(Message("tone.why.split"),))
    strokes[1] = replace(strokes[1], weight=Weight.AIRY, reasons=(Message("tone.why.hiss"),))
    strokes[2] = replace(strokes[2], weight=Weight.NOISY, reasons=(Message("tone.why.noise", {"db": 9.0}),))
    at_use.selection.set_analysis(replace(at_use.selection.analysis, tone=replace(tone, strokes=tuple(strokes))))
    at_use.assigning.reload()
    said = texts(at_use.use)
    assert any("Stroke 1: pressed, too much weight for the speed: faster or lighter" in t and "the slips split" in t for t in said)
    assert any("Stroke 2: airy" in t for t in said)
    assert not at_use.use.field.grab().isNull()


def test_a_take_without_sound_says_so(at_use):
    analysis = at_use.selection.analysis
    silent = replace(analysis, tone=None, summary={**analysis.summary, "messages": [{"id": "note.no sound"}]})
    at_use.selection.set_analysis(silent)
    at_use.assigning.reload()
    assert at_use.use.tone_words.text().startswith("The video has no sound")
    assert not at_use.use.field.grab().isNull()


@pytest.fixture
def at_plan(opened):
    opened.go_to_step(PLAN)
    return opened


def write(view, qtbot, text: str) -> None:
    view.text.setFocus()
    view.text.selectAll()
    qtbot.keyClick(view.text, Qt.Key.Key_Delete)
    view.text.insertPlainText(text)
    qtbot.waitUntil(lambda: not view._clock.isActive(), timeout=30_000)


def test_a_rhythm_is_divided_while_it_is_written(at_plan, qtbot):
    view = at_plan.plan
    write(view, qtbot, "plan: Mine\nrepeat: 2\nrhythm: 1.5 0.5 1.5 0.5")
    assert view.head.text() == "Mine: short note hooked on"
    rows = view._ways_area.findChildren(Row)
    assert len(rows) == 5
    qtbot.mouseClick(rows[-1], Qt.MouseButton.LeftButton)
    assert view.head.text() == "Mine: one speed" and "wants 90 %" in view.summary.text()
    write(view, qtbot, "rhythm: 1@2")
    assert "Line 1 of the plan asks for 2 bows in one" in view.fault.text()
    assert view.plot._bows, "the picture keeps what it showed last"
    write(view, qtbot, "string: C\nrhythm: 1")
    assert "'C' is not a string" in view.fault.text()


def test_bows_of_a_plan_by_mouse_and_keys(at_plan, qtbot):
    view = at_plan.plan
    write(view, qtbot, "plan: Mine\nrhythm: (1 1) 1 1")
    at = view.plot._point(0.5, 0.2)
    qtbot.mouseClick(view.plot, Qt.MouseButton.LeftButton, pos=at.toPoint())
    assert view.bow_words.text().startswith("Bow 1, down, 2 beats, 2 notes")
    view.plot.setFocus()
    qtbot.keyClick(view.plot, Qt.Key.Key_Right)
    assert view.bow_words.text().startswith("Bow 2, up")
    view.plot.event(QHelpEvent(QEvent.Type.ToolTip, at.toPoint(), view.plot.mapToGlobal(at.toPoint())))
    assert QToolTip.text() == view.plot.words_at(at) != ""
    assert view.plot.words_at(QPointF(-5, -5)) == "", "beside the bows nothing is said"


def test_a_plan_becomes_an_exercise_is_kept_asked_and_removed(at_plan, qtbot):
    view = at_plan.plan
    write(view, qtbot, "plan: Mine\nstring: D\nrhythm: 2 2 2 2")
    qtbot.mouseClick(view.to_exercise, Qt.MouseButton.LeftButton)
    assert view.mode == EXERCISE and read_exercise(view.text.toPlainText()).counts == {"D": 4}
    assert "4 strokes in 0 min 8 s" in view.advice.text()
    qtbot.mouseClick(view.save_button, Qt.MouseButton.LeftButton)
    assert (at_plan.studio.folder / "exercises" / "mine_one_speed.txt").exists()
    qtbot.mouseClick(view.ask_button, Qt.MouseButton.LeftButton)
    assert at_plan.studio.store.assignments.of(at_plan.selection.take.id).startswith("exercise: Mine: one speed")
    at_plan.go_to_step(STROKES)
    assert at_plan.strokes.ribbon._asked
    at_plan.go_to_step(USE)
    assert at_plan.use.exercise.currentText() == "Mine: one speed"
    qtbot.mouseClick(at_plan.use.edit, Qt.MouseButton.LeftButton)
    assert at_plan.pages.currentIndex() == PLAN and "Mine: one speed" in view.text.toPlainText()
    qtbot.mouseClick(view.remove_button, Qt.MouseButton.LeftButton)
    assert "Mine: one speed" not in at_plan.studio.exercises.own()
    at_plan.go_to_step(USE)
    assert at_plan.use.exercise.currentText() == "Mine: one speed", "what was asked of a take stays with it"


def test_exercises_are_mixed_picked_and_faults_named(at_plan, qtbot):
    view = at_plan.plan
    qtbot.mouseClick(view.modes[EXERCISE], Qt.MouseButton.LeftButton)
    choose(view.mix, "Mix by chance")
    first = view.text.toPlainText()
    choose(view.mix, "Mix by chance")
    assert view.text.toPlainText() != first and "On each string:" in view.summary.text()
    choose(view.mix, "Every string after every other")
    assert "24 strokes" not in view.advice.text() and "G 12" in view.summary.text()
    choose(view.ready, "Lower halves")
    assert view.head.text() == "Lower halves"
    write(view, qtbot, "G: many")
    assert "Line 1 of the exercise" in view.fault.text()
    qtbot.mouseClick(view.save_button, Qt.MouseButton.LeftButton)
    assert "Line 1" in at_plan.notice.words.text()
    qtbot.mouseClick(view.modes[RHYTHM], Qt.MouseButton.LeftButton)
    assert view.fault.text() == "" and view.text.toPlainText().startswith("plan:")


def test_a_line_is_put_together_by_choosing(at_plan, qtbot):
    view = at_plan.plan
    qtbot.mouseClick(view.modes[EXERCISE], Qt.MouseButton.LeftButton)
    write(view, qtbot, "exercise: Mine\ntempo: 72\nG: 2 whole x4")
    choose(view.builder.strings, "D A")
    choose(view.builder.part, "upper half")
    choose(view.builder.how, "lifted after")
    view.builder.count.setValue(4)
    view.builder.beats.setValue(1.5)
    view.builder.notes.setValue(3)
    qtbot.mouseClick(view.builder.add, Qt.MouseButton.LeftButton)
    made = read_exercise(view.text.toPlainText())
    assert made.counts == {"G": 2, "D": 4, "A": 4} and made.strokes[-1].notes == 3 and made.strokes[-1].kind == "lifted"
    assert {made.strokes[-1].from_position, made.strokes[-1].to_position} == {0.5, 1.0}, "the upper half"
    assert view.summary.text() == "On each string: G 2, D 4, A 4."


def test_the_plan_page_works_without_any_take(window):
    window.go_to_step(PLAN)
    assert window.pages.currentIndex() == PLAN and window.plan.head.text() == "Equal notes: one speed"
    assert not window.plan.ask_button.isEnabled()
    window.assigning._ask("D: 2 whole")
    assert "Analyse a video first" in window.notice.words.text()


def test_a_rhythm_by_clicks_and_keys(window):
    plan = window.plan
    window.go_to_step(PLAN)
    plan.set_text("rhythm", "plan: Clicked\nstring: A\ntempo: 60\nrhythm:\n")
    for word in ("1/2", "1/4", "dot", "1/8"):
        plan.entry.buttons[word].click()
    assert plan.text.toPlainText().splitlines()[-1] == "rhythm: 2 1.5 0.5"
    plan.entry.setFocus()
    for key in (getattr(Qt.Key, f"Key_{k}") for k in ["S", "3", "3", "S", "F", "R", "4", "T", "2"]):
        QTest.keyClick(plan.entry, key)
    assert plan.text.toPlainText().splitlines()[-1] == "rhythm: 2 1.5 0.5 (1 1)f r0.5 ^2"
    QTest.keyClick(plan.entry, Qt.Key.Key_Backspace)
    assert plan.text.toPlainText().splitlines()[-1].endswith("r0.5")
    assert not plan.fault.text() and plan.head.text().startswith("Clicked"), "what is clicked is divided at once"
