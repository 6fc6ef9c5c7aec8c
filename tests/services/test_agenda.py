"""Who is next, what was agreed, what has changed; students changed and removed."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime

import pytest

from dolcezza.core.base.errors import InstrumentError, PracticeError, StudioError
from dolcezza.core.base.message import NOTHING
from dolcezza.core.practice.figure import Point
from dolcezza.core.practice.progress import Course
from dolcezza.reports.language import language
from dolcezza.services import agenda
from dolcezza.services.agenda import Brief, brief, lesson_of, waiting
from takes_support import fill

ENGLISH = language("en")
NOW = datetime(2026, 11, 25, 15, 10)


@pytest.fixture
def at_three(tmp_path):
    from dolcezza.services.studio import Studio

    made = Studio(tmp_path / "own")
    fill(made, today=NOW.date())
    yield made
    made.close()


def named(studio, part):
    return next(s for s in studio.students() if part in s.name)


def test_the_next_lesson_comes_first_and_those_without_last(at_three):
    order = waiting(at_three, NOW)
    names = ["Runa", "Mila", "Anselm", "Oriel", "Pepin", "Iduna", "Edda", "Joss", "Wren", "Fenella"]
    assert [w.student.name.split()[0] for w in order] == names
    assert [ENGLISH.sentence(w.when) for w in order[:4]] == ["today at 16:00", "today at 16:30", "today at 18:00", "tomorrow at 17:15"]
    at_three.change_student(replace(order[0].student, lesson_day=-1, lesson_time=""), "violin 1/4", {})
    later = waiting(at_three, datetime(2026, 11, 25, 17, 5))
    assert later[0].student.name.startswith("Anselm")
    assert later[-1].student.name.startswith("Runa") and later[-1].when == NOTHING
    assert later[-1].to_do.id == "to do.no video" and "not analysed" in ENGLISH.sentence(later[0].to_do)
    assert language("de").sentence(order[3].when) == "morgen um 17:15"


def test_what_was_agreed_practised_and_changed(studio, monkeypatch):
    mila = named(studio, "Mila")
    take = next(s.take for s in studio.takes(mila.id) if s.analysed)
    before = brief(studio, mila, date.today())
    assert "minutes a day until" in ENGLISH.sentences(before.agreed) and "Practised on" in ENGLISH.sentences(before.practised)
    assert before.changed == () and "Minuten am Tag bis" in language("de").sentences(before.agreed)
    found = studio.analysis(take)
    studio.review.judge(found.findings[0], "accepted")
    assert f"video of {take.played_on.day} {take.played_on:%B}" in ENGLISH.sentences(brief(studio, mila, date.today()).agreed)
    other = studio.add_student("Sunniva Oake", "violin 4/4")
    assert brief(studio, other, date.today()) == Brief()


def test_what_has_changed_is_said_with_figures_that_say_something(studio, monkeypatch):
    def course(name, unit, *values, lower=False):
        points = tuple(Point(k, date(2026, 9, 1 + k), v, 0.1, 8) for k, v in enumerate(values))
        return Course(name, unit, "", 0.0, points, lower)

    courses = [
        course("Smoothness", "", -7.45, -6.2),
        course("Elbow in a stroke", "°", 84.9, 68.5),
        course("Bow angle, tip", "°", 5.0, 2.1, lower=True),
    ]
    monkeypatch.setattr(agenda, "followed", lambda *_: courses)
    found = next((s.take, studio.analysis(s.take)) for s in studio.takes(named(studio, "Mila").id) if s.analysed)
    said = ENGLISH.sentences(agenda._changed(studio, [found, found]))
    assert said == "Better: smoothness, bow angle, tip 5.0 → 2.1°. Worse: opening of the elbow in a stroke 84.9 → 68.5°."


def test_pain_is_said_until_the_teacher_allows_it_again(studio):
    runa = named(studio, "Runa")
    studio.practice.log(runa.id, date.today(), "D1", minutes=2, pain=True)
    assert "It hurt: Thumb bends" in ENGLISH.sentences(brief(studio, runa, date.today()).practised)
    studio.practice.allow_again(runa.id, "D1")
    assert "hurt" not in ENGLISH.sentences(brief(studio, runa, date.today()).practised)


def test_a_student_is_changed_and_changed_back(studio):
    mila = named(studio, "Mila")
    new = studio.change_student(
        replace(mila, name=" Mila Torvald-Aske ", lesson_day=4, lesson_time="9.05", note="Ten now."), "violin 3/4", {"string_length": 301.0}
    )  # fmt: skip
    kept = studio.store.student(mila.id)
    assert kept == new and (kept.name, kept.lesson_time) == ("Mila Torvald-Aske", "9:05")
    assert lesson_of(kept).day == 4
    owned = studio.store.instruments(mila.id)[-1]
    assert (owned.name, owned.measured) == ("violin 3/4", {"string_length": 301.0})
    back = studio.change_student(new, "violin 1/2", {})
    assert studio.store.instruments(back.id)[-1].name == "violin 1/2", "the one chosen last is the one that is played"
    studio.undo.undo()
    studio.undo.undo()
    assert studio.store.student(mila.id) == mila
    assert studio.store.instruments(mila.id)[-1].measured == {}


def test_another_profile_is_judged_by_at_once(studio):
    mila = named(studio, "Mila")
    take = next(s.take for s in studio.takes(mila.id) if s.analysed)
    before = [j.finding.limit for j in studio.analysis(take).findings]
    studio.change_student(replace(mila, profile="Russian"), "violin 1/2", {})
    assert [j.finding.limit for j in studio.analysis(take).findings] != before
    studio.undo.undo()
    assert [j.finding.limit for j in studio.analysis(take).findings] == before


@pytest.mark.parametrize(
    ("change", "ruled", "fault"),
    [
        ({"name": " "}, {}, StudioError), ({"name": "anselm quirke"}, {}, StudioError),
        ({"lesson_day": 2, "lesson_time": "noon"}, {}, PracticeError), ({}, {"string_length": 3000.0}, InstrumentError),
    ],
)  # fmt: skip
def test_what_cannot_be_is_refused_and_nothing_is_changed(studio, change, ruled, fault):
    mila = named(studio, "Mila")
    with pytest.raises(fault):
        studio.change_student(replace(mila, **change), "violin 1/2", ruled)
    assert studio.store.student(mila.id) == mila


def test_a_removed_student_is_really_gone(studio):
    mila = named(studio, "Mila")
    take = next(s.take for s in studio.takes(mila.id) if s.analysed)
    folder = studio.analysis(take).folder
    assert folder.exists()
    studio.delete_student(mila.id)
    assert not folder.exists() and take.path.exists()
    assert all(s.id != mila.id for s in studio.students())
