"""Correct, practise and progress in the real window: the teacher's word, paper, plans, log, ten-count, courses."""

from __future__ import annotations

import re
from dataclasses import replace

import pytest
from pypdf import PdfReader
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QPushButton

from dolcezza.app.widgets.parts import Row
from dolcezza.app.windows.main_window import CORRECT, PRACTISE, PROGRESS
from dolcezza.reports.language import language
from dolcezza.services.practice import prescriptions


@pytest.fixture
def at_correct(opened, qtbot):
    opened.go_to_step(CORRECT)
    qtbot.waitUntil(lambda: opened.correct.canvas.has_image, timeout=30_000)
    return opened


def press(view, words: str, k: int = 0) -> None:
    [b for b in view.findChildren(QPushButton) if b.text() == words][k].click()


def test_one_thing_first_and_every_finding_open_to_the_teacher(at_correct, qtbot):
    view = at_correct.correct
    chosen = at_correct.correcting.chosen
    assert chosen[0].correction.key == "arm forward"
    press(view, "Accept")
    assert at_correct.correcting.chosen[0].accepted
    row = view.findChildren(Row)[0]
    qtbot.mouseClick(row, Qt.MouseButton.LeftButton, pos=QPoint(20, 8))
    first = at_correct.selection.moment_s
    assert first == pytest.approx(at_correct.selection.analysis.findings[0].finding.evidence_s[0])
    qtbot.mouseClick(view.findChildren(Row)[0], Qt.MouseButton.LeftButton, pos=QPoint(20, 8))
    assert at_correct.selection.moment_s != first
    at_correct.undo()
    assert not at_correct.correcting.chosen[0].accepted


def test_other_words_remarks_and_not_for_this_student(at_correct):
    desk = at_correct.correcting
    desk.reword(0, "The bow looks at the ear.")
    assert at_correct.selection.analysis.findings[0].wording == "The bow looks at the ear."
    assert any("The bow looks at the ear." in r.accessibleName() for r in at_correct.correct.findChildren(Row))
    at_correct.selection.go_to(1.4)
    desk.add_remark("Left shoulder")
    assert any("Left shoulder" in r.accessibleName() for r in at_correct.correct.findChildren(Row))
    press(at_correct.correct, "Remove")
    assert not any("Left shoulder" in r.accessibleName() for r in at_correct.correct.findChildren(Row))
    press(at_correct.correct, "Not for this student")
    assert "move the limit" in at_correct.notice.words.text()
    assert at_correct.selection.analysis.findings[0].verdict == "dismissed"


def test_the_lesson_view_shows_one_thing_before_and_now(at_correct, qtbot, measured, ids):
    at_correct.correcting.show_lesson()
    lesson = at_correct.correcting.lesson
    assert lesson.isVisible() and lesson.says.text() == at_correct.correcting.chosen[0].correction.says
    assert len(lesson.canvases) == 1 and lesson.canvases[0].has_image
    qtbot.keyClick(lesson, Qt.Key.Key_Escape)
    assert not lesson.isVisible()
    take = at_correct.studio.store.take(ids["demo-a2"])
    at_correct.studio.save_analysis(take, at_correct.studio.store.latest_fit(take.id)[0], measured("demo-a2"))
    at_correct.open_take(take.id)
    at_correct.studio.review.judge(at_correct.selection.analysis.findings[0], "accepted")
    at_correct._reload_analysis()
    at_correct.menus.actions["lesson"].trigger()
    lesson = at_correct.correcting.lesson
    assert [c.accessibleName() for c in lesson.canvases] == ["before, 15 September", "now, 13 October"]
    assert all(c.has_image for c in lesson.canvases) and lesson.says.font().pixelSize() != 15
    qtbot.mouseClick(lesson.close_button, Qt.MouseButton.LeftButton)
    assert not lesson.isVisible()


def pdf_text(path) -> str:
    return " ".join(" ".join(page.extract_text().split()) for page in PdfReader(path).pages)


def test_the_sheet_is_one_page_of_pdf_with_its_picture(at_correct, tmp_path):
    """Text and pictures taken out of the PDF by another library."""
    at_correct.correcting.write_sheet(tmp_path / "sheet.pdf", 0, "child")
    text, chosen = pdf_text(tmp_path / "sheet.pdf"), at_correct.correcting.chosen[0]
    assert len(PdfReader(tmp_path / "sheet.pdf").pages) == 1 and len(PdfReader(tmp_path / "sheet.pdf").pages[0].images) == 1 + len(
        at_correct.correcting.chosen[0].drills
    ), "the still, and a drawing for each drill"
    for words in (chosen.correction.says, chosen.drills[0].name, "Thread the bow through the ring", "Pain is not"):
        assert words in text, words
    at_correct.correcting.write_sheet(tmp_path / "sheet.html", 0, "adult")
    assert chosen.drills[0].how["adult"] in (tmp_path / "sheet.html").read_text()


def test_the_report_as_pdf_and_annotations(at_correct, tmp_path):
    at_correct.correcting.write_report(tmp_path / "report.pdf")
    text = pdf_text(tmp_path / "report.pdf")
    for finding in at_correct.selection.analysis.findings:
        assert language("en").sentence(finding.finding.message) in text
    assert "How it was measured" in text and re.search(r"3[0-3] ± [12]\b", text)
    at_correct.correcting.write_annotations(tmp_path / "take.vtt")
    assert (tmp_path / "take.vtt").read_text().startswith("WEBVTT")
    at_correct.correcting.write_report(tmp_path / "nowhere" / "report.pdf")
    assert "is not there" in at_correct.notice.words.text()


def test_a_plan_is_made_from_what_is_prescribed_and_fits_the_minutes(opened, qtbot, tmp_path, unpractised):
    opened.go_to_step(PRACTISE)
    view = opened.practise
    assert view.drills.chosen == [d.key for d in prescriptions(opened.selection.analysis.findings)[0].drills]
    view.pieces.setText("Scale in D 4, Little march 9")
    view.minutes.setValue(12)
    qtbot.mouseClick(view.make_button, Qt.MouseButton.LeftButton)
    student = opened.selection.take.student_id
    [kept] = opened.studio.practice.plans(student)
    assert len(kept.plan.days) == 7 and all(d.minutes <= 12 for d in kept.plan.days)
    assert "Left out: Little march" in view.plan_words.text()
    opened.practising.write_calendar(tmp_path / "plan.ics")
    assert (tmp_path / "plan.ics").read_text().startswith("BEGIN:VCALENDAR")
    opened.undo()
    assert opened.studio.practice.plans(student) == [] and "No plan yet" in view.plan_words.text()
    view.pieces.setText("Little march")
    qtbot.mouseClick(view.make_button, Qt.MouseButton.LeftButton)
    assert "'Little march' has no minutes" in opened.notice.words.text()
    view.pieces.setText("")
    view.minutes.setValue(0)
    qtbot.mouseClick(view.make_button, Qt.MouseButton.LeftButton)
    assert "no room for anything" in opened.notice.words.text()


def test_every_drill_can_be_chosen_by_words_stage_and_finding(opened, unpractised):
    opened.go_to_step(PRACTISE)
    picker = opened.practise.drills
    first = picker.chosen
    picker.which.setCurrentIndex(picker.which.findData("all"))
    picker.which.activated.emit(2)
    assert len(picker.checks) == 24
    picker.search.setText("falling")
    assert [c.text() for c in picker.checks.values()] == ["Falling arm, 1 min"]
    picker.checks["D3"].click()
    picker.search.setText("")
    assert picker.chosen == [*first, "D3"]
    picker.search.setText("no such words")
    assert picker.checks == {}
    picker.search.setText("")
    picker.which.setCurrentIndex(picker.which.findData("found"))
    picker.which.activated.emit(0)
    assert list(picker.checks) == ["D3", *first] or set(picker.checks) == {*first, "D3"}, "what is chosen stays in sight"


def test_a_week_from_paper_and_a_sheet_without_a_video(window, ids, unpractised, tmp_path):
    from dolcezza.app.dialogs.week_sheet import WeekSheet

    student = window.studio.add_student("Sunniva Oake", "violin 1/4", profile_name="Starter, thumb outside")
    window.students._choose(student.id)
    window.go_to_step(PRACTISE)
    view, practice = window.practise, window.studio.practice
    view.make_button.click()
    assert "nothing to practise in it" in window.notice.words.text() and practice.plans(student.id) == []
    view.drills.checks["D4"].click()
    view.make_button.click()
    (kept,) = practice.plans(student.id)
    today = kept.plan.days[0].day
    sheet = WeekSheet(kept.plan.days, set(), today)
    assert {day for day, _ in sheet.boxes} == {today}, "days to come cannot be ticked"
    next(iter(sheet.boxes.values()))[0].setChecked(True)
    window.practising.log_week(sheet.ticks)
    assert len(practice.entries(student.id)) == 1 and "1 entries" in window.notice.words.text()
    again = WeekSheet(kept.plan.days, {(e.day, e.what) for e in practice.entries(student.id)}, today)
    box = next(iter(again.boxes.values()))[0]
    assert box.isChecked() and not box.isEnabled() and again.ticks == []
    window.practising.write_sheet(tmp_path / "sheet.html", "parent")
    page = (tmp_path / "sheet.html").read_text()
    assert "Sunniva" in page and "☐" in page
    window.practising.write_sheet(tmp_path / "sheet.pdf", "child")
    assert (tmp_path / "sheet.pdf").read_bytes().startswith(b"%PDF")
    window.practising.write_sheet(tmp_path, "child")
    assert "Written" not in window.notice.words.text()


def test_the_log_the_streak_and_pain(opened, qtbot, unpractised):
    opened.go_to_step(PRACTISE)
    view, student = opened.practise, opened.selection.take.student_id
    view.what.setCurrentText("Bow through a ring")
    view.done_minutes.setValue(3)
    view.pain.setChecked(True)
    view.note.setText("wrist")
    qtbot.mouseClick(view.log_button, Qt.MouseButton.LeftButton)
    [entry] = opened.studio.practice.entries(student)
    assert (entry.what, entry.minutes, entry.pain, entry.note) == ("D11", 3.0, True, "wrist")
    assert "doctor or physiotherapist" in opened.notice.words.text() and "Paused for pain: Bow through a ring" in view.streak_words.text()
    qtbot.mouseClick(view.make_button, Qt.MouseButton.LeftButton)
    assert "Paused: Bow through a ring" in view.plan_words.text()
    press(view, "Allow again: Bow through a ring")
    assert opened.studio.practice.record(student, entry.day).paused == () and "Paused" not in view.streak_words.text()
    for _ in range(2):
        press(view, "Remove")
    assert opened.studio.practice.entries(student) == []


def test_progress_over_takes_with_before_and_after(opened, qtbot, measured, ids):
    for stem in ("demo-a2", "demo-a3"):
        take = opened.studio.store.take(ids[stem])
        opened.studio.save_analysis(take, opened.studio.store.latest_fit(take.id)[0], measured(stem))
    opened.go_to_step(PROGRESS)
    qtbot.waitUntil(lambda: opened.progress.before.has_image and opened.progress.after.has_image, timeout=20_000)
    view = opened.progress
    names = [c.name for c in view._courses]
    view.choose(names.index("Bow angle, tip"))
    assert "better from first to last" in view.words.text()
    assert [row.key for row in view.findChildren(Row) if row.property("chosen")] == [view._chosen]
    assert "15 September 2026" in view.before_words.text() and "17 November 2026" in view.after_words.text()
    view.plot.setFocus()
    qtbot.keyClick(view.plot, Qt.Key.Key_Right)
    qtbot.keyClick(view.plot, Qt.Key.Key_Right)
    with qtbot.waitSignal(view.plot.take_chosen):
        qtbot.keyClick(view.plot, Qt.Key.Key_Return)
    assert opened.selection.take.id == ids["demo-a2"]


def test_the_last_wished_pair_of_pictures_is_shown_and_only_of_the_student_on_the_page(opened, qtbot, measured, ids):
    for stem in ("demo-a2", "demo-a3"):
        take = opened.studio.store.take(ids[stem])
        opened.studio.save_analysis(take, opened.studio.store.latest_fit(take.id)[0], measured(stem))
    opened.go_to_step(PROGRESS)
    view, desk = opened.progress, opened.practising
    for place in ("frog", "middle", "frog"):
        view.place.setCurrentIndex(view.place.findData(place))
        view.place.activated.emit(view.place.currentIndex())
    qtbot.waitUntil(lambda: not desk.jobs.running and view.before.has_image, timeout=30_000)
    place = int(re.search(r"(\d+) % of the bow", view.before_words.text())[1])
    assert place < 33, "the last wish, not the first"
    view.place.activated.emit(view.place.currentIndex())
    view.before.show_image(None)
    opened.open_take(ids["dev-straight"])
    qtbot.waitUntil(lambda: not desk.jobs.running, timeout=30_000)
    assert not view.before.has_image


def test_one_take_alone_says_what_is_missing(opened):
    opened.go_to_step(PROGRESS)
    assert "Two analysed videos of the same task" in opened.progress.words.text()
    view = opened.progress
    shown = view.plot._course
    assert f"{view._name(shown)}: from" in view.words.text(), "what the points are of that are shown meanwhile"
    view.show_student("Anselm", [replace(shown, points=shown.points[:1])], None)
    assert f"So far: {view._name(shown)}, {shown.points[0].value:.0f}" in view.words.text()
    scale = view.plot.scale_words()
    assert len(set(scale)) == 3, "no two marks of the scale read the same"
    assert not opened.progress.string.isVisible() and not opened.progress.place.isVisible(), "there is nothing to compare yet"


def test_without_a_measured_take_the_pages_say_what_to_do(window, ids, unpractised):
    window.open_take(ids["dev-straight"])
    window.go_to_step(CORRECT)
    assert not window.correct.sheet_button.isEnabled()
    window.go_to_step(PRACTISE)
    assert window.practise.make_button.isEnabled() and "No plan yet" in window.practise.plan_words.text()
