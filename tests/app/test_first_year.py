"""A student taken from the first hold to music over invented dates, through the real windows; no video is needed for it."""

from __future__ import annotations

from datetime import date, timedelta

from PySide6.QtCore import QDate
from PySide6.QtWidgets import QLabel

from dolcezza.app.views.hold import ANSWERS, BUILD
from dolcezza.app.windows.main_window import HOLD, PRACTISE, PROGRESS, STUDENTS
from dolcezza.core.findings.choices import Stage
from dolcezza.core.practice.stages import OPENS
from dolcezza.services.practice import LADDER

START = date.today() - timedelta(days=200)


def choose(box, key) -> None:
    box.setCurrentIndex(box.findData(key))
    box.activated.emit(box.currentIndex())


def answer(page, question: str, said: str, day: date) -> None:
    page.answers.day.setDate(QDate(day.year, day.month, day.day))
    choose(page.answers.boxes[question], said)


def test_from_the_first_hold_to_music(window, ids, qtbot, tmp_path):
    studio = window.studio
    student = studio.add_student("Sunniva Oake", "violin 1/4", profile_name="Starter, thumb outside", since=START)
    studio.schools.set_stage(student.id, Stage.FIRST_HOLD, since=START)
    window.go_to_step(STUDENTS)
    window.students._choose(student.id)

    # the hold: steps, what the teacher sees, a hundred settings
    window.go_to_step(HOLD)
    page, build = window.pages.hold, window.pages.hold.build
    choose(build.method, "finger ring")
    for key in list(build.steps):
        build.steps[key].click()
    assert build.method_words.text().startswith("7 of 7 steps")
    page.buttons[ANSWERS].click()
    answer(page, "thumb place", "through", START + timedelta(days=3))
    answer(page, "palm", "touches", START + timedelta(days=3))
    told = " ".join(w.text() for w in page.answers.findChildren(QLabel))
    assert "pushed through the gap" in told and "The palm touches the stick" in told
    for k in range(10):
        studio.practice.log(student.id, START + timedelta(days=4 + k), "D4", count=10)
    page.buttons[BUILD].click()
    window.go_to_step(HOLD)
    assert "100 settings: first bows is open." in build.ten.tally_words.text()

    # a plan without a video, from what the teacher said
    window.go_to_step(PRACTISE)
    assert window.practise.drills.chosen[:2] == ["D4", "D6"]
    window.practise.make_button.click()
    window.practising.write_sheet(tmp_path / "sheet.html", "parent")
    assert "thumb in its own place" in (tmp_path / "sheet.html").read_text()

    # stage by stage, each opening its drills; the ladder on the way
    window.go_to_step(HOLD)
    build.places["balance point"].setValue(6.0)
    for stage in list(Stage)[1:]:
        build.stage_button.click()
        assert studio.schools.of(studio.store.student(student.id), studio.spec_of(student.id)).stage is stage
        window.go_to_step(PRACTISE)
        window.practise.drills.which.setCurrentIndex(window.practise.drills.which.findData("stage"))
        window.practise.drills.which.activated.emit(1)
        assert set(OPENS[stage].drills) <= set(window.practise.drills.checks)
        window.go_to_step(HOLD)
    assert not build.stage_button.isVisibleTo(build), "after music there is no other stage"
    for k, places in enumerate((2, 4, 5)):
        studio.practice.log(student.id, START + timedelta(days=60 + 10 * k), LADDER, count=places, minutes=places / 2)

    # answers again: what was prescribed has helped
    page.buttons[ANSWERS].click()
    answer(page, "thumb place", "outside", START + timedelta(days=90))
    answer(page, "palm", "free", START + timedelta(days=90))
    window.go_to_step(PROGRESS)
    rows = {c.name: [p.value for p in c.points] for c in window.progress._courses}
    assert rows["Answers about the hold"] == [2.0, 0.0]
    assert rows["Settings of the hand"][-1] == 100.0 and rows["Ladder places"] == [2.0, 4.0, 5.0]
    dated = [(d.what, d.value) for d in studio.schools.history(student.id)]
    assert dated[0] == ("profile", "Starter, thumb outside") and [v for w, v in dated if w == "stage"] == [str(s) for s in Stage]
