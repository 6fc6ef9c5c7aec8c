"""Building the hold through the real window: steps, answers, checks, marks, running counters, the next stage; the profile page."""

from __future__ import annotations

import threading
import time
from datetime import date

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QInputDialog, QLabel

from dolcezza.app.presenters import hold as hold_presenter
from dolcezza.app.printing import write_pdf
from dolcezza.app.views.hold import ANSWERS, BUILD, READY
from dolcezza.app.windows.main_window import CORRECT, HOLD, PROGRESS, STUDENTS
from dolcezza.core.base.job import Progress
from dolcezza.core.base.job import Stage as JobStage
from dolcezza.core.findings.choices import Stage, choices
from dolcezza.core.hold.followed import Followed, HandMove
from dolcezza.core.hold.methods import methods
from dolcezza.services.practice import LADDER


@pytest.fixture
def beginner(window, ids):
    """The desk with a six-year-old of whom there is no video."""
    student = window.studio.add_student("Sunniva Oake", "violin 1/4", profile_name="Starter, thumb outside")
    window.students._choose(student.id)
    window.go_to_step(HOLD)
    return window


def choose(box, key) -> None:
    """Take an entry of a list as a hand would."""
    box.setCurrentIndex(box.findData(key))
    box.activated.emit(box.currentIndex())


def student_of(window):
    return window.building.student


def test_steps_are_ticked_and_unticked_and_the_next_one_stands_out(beginner, qtbot):
    build, studio, student = beginner.pages.hold.build, beginner.studio, student_of(beginner)
    choose(build.method, "finger ring")
    assert list(build.steps) == [s.key for s in methods()["finger ring"].steps]
    build.steps["ring"].click()
    assert studio.building.ticked(student.id, methods()["finger ring"]) == {"ring": date.today()}
    assert build.method_words.text().startswith("1 of 7 steps; held upright")
    bold = [w.text() for w in build.findChildren(QLabel) if w.objectName() == "heading" and w.text().startswith("2.")]
    assert bold == ["2.  Index and little finger stay up."]
    build.steps["ring"].click()
    assert studio.building.ticked(student.id, methods()["finger ring"]) == {}
    beginner.undo()
    assert build.steps["ring"].isChecked(), "what was taken back is shown again"


def test_the_method_of_a_cellist_is_a_cellos(window, ids):
    cellist = next(s for s in window.studio.students() if s.name == "Iduna Marchetti")
    window.students._choose(cellist.id)
    window.go_to_step(HOLD)
    box = window.pages.hold.build.method
    assert {box.itemData(k) for k in range(box.count())} == {"dots", "double pencil", "cello"}
    assert "along the side" in window.pages.hold.build.chosen_words.text()


def test_ten_counts_make_a_setting_and_a_hundred_open_the_next_stage(beginner, qtbot):
    build, studio, student = beginner.pages.hold.build, beginner.studio, student_of(beginner)
    before = studio.practice.record(student.id, date.today()).settings
    qtbot.mouseClick(build.ten.button, Qt.MouseButton.LeftButton)
    assert build.ten.timer.isActive() and build.ten.button.text() == "Stop"
    for _ in range(10):
        build.ten.timer.timeout.emit()
    assert not build.ten.timer.isActive()
    assert studio.practice.record(student.id, date.today()).settings == before + 1
    assert f"{before + 1} of 100 settings" in build.ten.tally_words.text()
    assert "portions of the bow opens on" in build.ten.tally_words.text()
    studio.practice.log(student.id, date.today(), "D4", count=100)
    beginner.building.reload()
    assert "portions of the bow is open" in build.ten.tally_words.text()
    qtbot.mouseClick(build.ten.button, Qt.MouseButton.LeftButton)
    qtbot.mouseClick(build.ten.button, Qt.MouseButton.LeftButton)
    assert not build.ten.timer.isActive(), "pressed again it stops"


def test_the_ladder_runs_from_the_students_balance_point_to_the_frog(beginner, qtbot):
    """Nearer to the frog every half minute (common practice, no source)."""
    build, studio, student = beginner.pages.hold.build, beginner.studio, student_of(beginner)
    build.places["balance point"].setValue(4.0)
    assert studio.building.bow(student.id).marks == {"balance point": 40.0}
    ladder = build.ladder
    assert ladder.words.text().startswith("4 places of half a minute, 2 minutes: 4 → 2.5 → 1 → 0")
    qtbot.mouseClick(ladder.button, Qt.MouseButton.LeftButton)
    assert ladder.now.text() == "4 cm: 30 s, then 2.5 cm"
    for _ in range(31):
        ladder.timer.timeout.emit()
    assert ladder.now.text() == "2.5 cm: 29 s, then 1 cm"
    for _ in range(89):
        ladder.timer.timeout.emit()
    assert not ladder.timer.isActive()
    (climbed,) = [e for e in studio.practice.entries(student.id) if e.what == LADDER]
    assert (climbed.count, climbed.minutes) == (4, 2.0)
    qtbot.mouseClick(ladder.button, Qt.MouseButton.LeftButton)
    beginner.go_to_step(STUDENTS)
    assert not ladder.timer.isActive(), "on another page nothing runs on"


def test_marks_stand_on_the_drawing_and_a_second_bow_has_its_own(beginner, monkeypatch):
    build, studio, student = beginner.pages.hold.build, beginner.studio, student_of(beginner)
    build.places["marker"].setValue(20.5)
    assert "mid-bow marker 20.5 cm" in build.drawing.accessibleDescription()
    monkeypatch.setattr(QInputDialog, "getText", lambda *_a, **_k: ("half-size bow", True))
    build.bow_button.click()
    assert studio.building.bow(student.id).name == "half-size bow" and build.places["marker"].text() == "not marked"
    choose(build.bow, studio.building.bows(student.id)[0].id)
    assert build.places["marker"].value() == 20.5
    assert not build.drawing.grab().isNull()


def test_the_next_stage_is_the_students_and_opens_drills(beginner):
    build, studio, student = beginner.pages.hold.build, beginner.studio, student_of(beginner)
    studio.schools.set_stage(student.id, Stage.FIRST_HOLD)
    beginner.building.reload()
    assert "first hold" in build.stage_words.text() and "Falling arm" in build.stage_opens.text()
    assert build.stage_button.text() == "Next stage: first bows"
    build.stage_button.click()
    assert studio.schools.of(studio.store.student(student.id), studio.spec_of(student.id)).stage is Stage.FIRST_BOWS
    assert "Led hand" in build.stage_opens.text() and "first bows" in beginner.notice.words.text()
    beginner.undo()
    assert "first hold" in build.stage_words.text()


def test_what_was_felt_is_kept_with_its_date(beginner):
    build, studio, student = beginner.pages.hold.build, beginner.studio, student_of(beginner)
    choose(build.method, "carried bow")
    assert list(build.felt_boxes)[:3] == ["lift_thumb", "thumb_tug", "wave"], "the checks of the method come first"
    choose(build.felt_boxes["wave"], "no")
    assert [(a.test, a.answer) for a in studio.store.hands.felt(student.id)] == [("wave", "no")]
    assert "Last said on" in build.felt_note.text()
    told = " ".join(w.text() for w in beginner.pages.hold.answers.findChildren(QLabel))
    assert "The fingers do not swing along when the hand waves: said by the teacher" in told
    assert "Hold the bow as you hold a hand" in told, "a hand that holds on gets its correction"
    beginner.undo()
    assert build.felt_boxes["wave"].currentData() != "no" and studio.store.hands.felt(student.id) == []


def test_the_list_and_the_steps_of_the_hold_are_printed(beginner, tmp_path, monkeypatch):
    beginner.go_to_step(HOLD)
    page, path = beginner.pages.hold, tmp_path / "list.pdf"
    choose(page.build.method, "finger ring")
    page.buttons[READY].click()
    written = {}
    monkeypatch.setattr(
        hold_presenter, "write_pdf", lambda html, path, **rest: written.update(html=html, done=write_pdf(html, path, **rest))
    )
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(path), ""))
    page.ready.print_button.click()
    assert path.read_bytes().startswith(b"%PDF") and "Written" in beginner.notice.words.text()
    for words in ("two pencils", "A sticker at the middle of the bow.", "Building the hold: Finger ring", "a few breaths", "Pain is not"):
        assert words in written["html"], words
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(tmp_path / "gone" / "list.pdf"), ""))
    page.ready.print_button.click()
    assert "is not there" in beginner.notice.words.text()


def test_an_answer_is_a_finding_with_its_day_and_goes_to_the_corrections(opened, qtbot):
    opened.go_to_step(HOLD)
    page = opened.pages.hold
    page.buttons[ANSWERS].click()
    choose(page.answers.boxes["palm"], "touches")
    told = " ".join(w.text() for w in page.answers.findChildren(QLabel))
    assert "The palm touches the stick: said by the teacher" in told and "Take the stick out of the palm" in told
    opened.go_to_step(CORRECT)
    assert any("The palm touches the stick" in w.text() for w in opened.correct.findChildren(QLabel))
    assert any("hold with the fingers" in p.correction.key for p in opened.correcting.chosen)
    opened.go_to_step(HOLD)
    choose(page.answers.boxes["palm"], "unclear")
    told = " ".join(w.text() for w in page.answers.findChildren(QLabel))
    assert "Nothing in the pictures and answers is against" in told
    opened.undo()
    assert page.answers.boxes["palm"].currentData() == "touches"
    page.buttons[BUILD].click()


def test_every_choice_stands_on_the_profile_page(beginner):
    beginner.show_profile()
    page = beginner.pages.profile
    assert set(page.boxes) == set(choices()) and all(box.isVisibleTo(page) for box in page.boxes.values())
    cellist = beginner.studio.add_student("Odile Brandt", "cello 4/4")
    beginner.students._choose(cellist.id)
    beginner.show_profile()
    assert not page.boxes["palm turn"].isVisibleTo(page) and page.boxes["thumb place"].isVisibleTo(page), "no choice, nothing asked"


def test_the_profile_page_changes_what_is_found_and_undo_brings_it_back(opened, qtbot):
    opened.go_to_step(PROGRESS)
    opened.show_profile()
    page, studio = opened.pages.profile, opened.studio
    take = opened.selection.take
    assert opened.pages.currentWidget() is page and "Profile of Mila Torvald" in page.head.text()
    assert "ready-made" in page.note.text()
    assert "crooked" in {f.finding.kind for f in studio.analysis(take).findings}
    page.angle.setValue(30.0)
    assert studio.store.student(take.student_id).profile == "Starter, thumb outside, changed"
    assert "crooked" not in {f.finding.kind for f in studio.analysis(take).findings}
    assert "for Mila Torvald alone" in page.note.text()
    choose(page.boxes["thumb place"], "notch")
    assert studio.profile_of(take, studio.fit(take)).want("thumb place") == "notch"
    opened.undo()
    opened.undo()
    assert studio.store.student(take.student_id).profile == "Starter, thumb outside"
    assert "crooked" in {f.finding.kind for f in studio.analysis(take).findings}
    assert page.angle.value() == 6.0
    page.back.click()
    assert opened.pages.currentIndex() == PROGRESS, "back to where it was asked for"


def test_the_lane_and_the_elbows_are_set_on_the_page(opened):
    opened.show_profile()
    page, studio, take = opened.pages.profile, opened.studio, opened.selection.take

    def own():
        return studio.profile_of(take, studio.fit(take))

    choose(page.measure, "landmarks")
    assert own().lane.measure == "landmarks" and (page.low.value(), page.high.value()) == (0.0, 100.0)
    page.high.setValue(80.0)
    assert own().lane.high == pytest.approx(0.8) and "mm from the bridge" in page.lane_words.text()
    page.moves.click()
    assert own().lane.moves
    page.low.setValue(90.0)
    assert "lane of profile" in opened.notice.words.text() and own().lane.low == 0.0 and page.low.value() == 0.0
    page.orders[0].setCurrentText("–")
    page.orders[0].activated.emit(0)
    assert not own().order_is_set(studio.fit(take).spec) and "Not agreed" in page.order_words.text()
    for box, string in zip(page.orders, "EADG", strict=True):
        box.setCurrentText(string)
    page.orders[0].activated.emit(1)
    assert own().elbow_order(studio.fit(take).spec) == tuple("EADG")


def test_what_contradicts_itself_is_said_and_nothing_changes(opened):
    opened.show_profile()
    page = opened.pages.profile
    choose(page.boxes["thumb shape"], "bent at the frog")
    words = opened.notice.words.text()
    assert "contradict each other" in words and "one shape for now" in words and "bent near the frog" in words
    assert page.boxes["thumb shape"].currentData() == "bent"


def test_another_name_and_another_profile(opened, monkeypatch):
    opened.show_profile()
    page, studio, take = opened.pages.profile, opened.studio, opened.selection.take
    monkeypatch.setattr(QInputDialog, "getText", lambda *_a, **_k: ("My beginners", True))
    page.rename.click()
    assert studio.store.student(take.student_id).profile == "My beginners"
    page.profile.setCurrentText("Russian")
    page.profile.activated.emit(page.profile.currentIndex())
    assert studio.store.student(take.student_id).profile == "Russian"
    opened.studio.undo.undo()
    opened.studio.undo.undo()


def test_without_a_student_there_is_no_profile_to_show(qtbot, tmp_path):
    from dolcezza.app.windows.main_window import MainWindow
    from dolcezza.services.studio import Studio

    window = MainWindow(Studio(tmp_path / "empty"))
    qtbot.addWidget(window)
    window.show_profile()
    assert window.pages.currentIndex() == STUDENTS and "Choose a student first" in window.notice.words.text()
    window.close()


def test_what_is_ready_is_ticked_for_today(beginner):
    ready, studio, student = beginner.pages.hold.ready, beginner.studio, student_of(beginner)
    beginner.pages.hold.show_page(3)
    ready.checks["rosin"].click()
    assert studio.building.ready_today(student.id) == ["rosin"] and "1 of" in ready.head.text()
    ready.checks["rosin"].click()
    assert studio.building.ready_today(student.id) == []
    studio.building.make_ready(student.id, "tuned", on=True)
    assert studio.building.method_of(student.id) == "", "the list is no method of building the hold"
    assert not ready.take_button.isEnabled(), "there is no video to listen to"


def test_the_open_strings_of_a_take_are_named(opened, qtbot):
    opened.go_to_step(HOLD)
    ready = opened.pages.hold.ready
    with qtbot.waitSignal(opened.building.jobs.done, timeout=60_000):
        ready.take_button.click()
    told = " ".join(w.text() for w in ready.findChildren(QLabel))
    assert "D: " in told and "A: " in told and "cents" in told and "Not heard: G, E." in told


def test_the_hand_out_of_the_open_video(opened, qtbot):
    opened.go_to_step(HOLD)
    page = opened.pages.hold
    before = len(opened.studio.store.hands.stills(opened.selection.take.student_id))
    with qtbot.waitSignal(opened.body.jobs.done, timeout=90_000, raising=False) as waited:
        page.pictures.take_button.click()
    stills = opened.studio.store.hands.stills(opened.selection.take.student_id)
    if waited.signal_triggered:
        assert len(stills) > before and {s.role for s in stills} <= {"frog", "tip", "relaxed", "hold"}
        assert page.pictures.canvas.has_image, "the part of the frame is shown"
        opened.undo()
    else:
        assert "too small in this video" in opened.notice.words.text()


def test_a_hand_is_followed_through_the_video_and_what_is_told_may_be_kept(opened, qtbot, monkeypatch):
    opened.go_to_step(HOLD)
    page, studio, student = opened.pages.hold, opened.studio, student_of(opened)
    page.buttons[ANSWERS].click()
    panel = page.answers.over_take
    told = [
        Followed(HandMove.INDEX, 0.31, 0.05, 0.12, 16), Followed(HandMove.LITTLE, 0.1, 0.06, 0.12, 16),
        Followed(HandMove.SLIDES, -3.0, 2.0, 10.0, 16),
    ]  # fmt: skip

    def follows(*_asked):
        yield Progress(JobStage.HANDS, 0, 1)
        return told

    monkeypatch.setattr("dolcezza.app.presenters.hold.hand_over_take", follows)
    with qtbot.waitSignal(opened.building.follow_jobs.done, timeout=10_000):
        panel.button.click()
        assert not panel.button.isEnabled()
    assert panel.button.isEnabled()
    words = " ".join(w.text() for w in panel.findChildren(QLabel))
    assert "● The index finger leaves the stick on the up-bow" in words and "31 ± 5 % of the hand" in words
    assert "Whether the little finger leaves the stick cannot be told" in words and "The hand keeps its place" in words
    assert list(panel.keep_buttons) == [("index keeps", "leaves")]
    panel.keep_buttons["index keeps", "leaves"].click()
    day = opened.selection.take.played_on
    said = studio.building.said(student.id)
    assert (said["index keeps"].answer, said["index keeps"].day) == ("leaves", day) and "little work" in said
    assert any(
        f.kind == "index slides" for f in studio.building.findings(student.id, studio.schools.of(student, studio.spec_of(student.id)))
    )
    assert "leaves the stick" in page.answers.boxes["index keeps"].currentText()
    assert panel.keep_buttons, "what was told is still shown"
    opened.undo()
    opened.undo()
    assert "index keeps" not in studio.building.said(student.id)


def test_without_a_video_nobody_can_be_followed(beginner):
    beginner.pages.hold.answers.over_take.button.click()
    assert "Open an analysed video first" in beginner.notice.words.text()


def test_a_window_that_closes_stops_following_the_hand(opened, qtbot, monkeypatch):
    """A thread that outlives its window ends the program."""
    begun, ended = threading.Event(), threading.Event()

    def follows(*_asked):
        try:
            while True:
                begun.set()
                time.sleep(0.01)
                yield Progress(JobStage.HANDS, 0, 1)
        finally:
            ended.set()

    monkeypatch.setattr("dolcezza.app.presenters.hold.hand_over_take", follows)
    opened.building.follow_hand()
    assert begun.wait(5)
    opened.close()
    assert ended.is_set() and not opened.building.follow_jobs.running
