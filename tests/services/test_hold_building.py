"""Building a hold: steps, answers, the bow's marks; each kept with its day and taken back."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from pathlib import Path

import pytest

from dolcezza.core.base.errors import StudioError
from dolcezza.core.findings.profiles import PROFILES, Wish
from dolcezza.core.findings.rank import why
from dolcezza.core.findings.rules.hold import BY_FEEL, answer_findings, felt_findings
from dolcezza.core.hold.felt import FELT_TESTS
from dolcezza.core.hold.figures import Hold, Shape
from dolcezza.core.hold.methods import methods, methods_for
from dolcezza.core.hold.questions import UNCLEAR, Said, questions
from dolcezza.core.practice.drills import drills
from dolcezza.core.practice.ready import ready_list
from dolcezza.core.practice.stages import OPENS, opened
from dolcezza.reports.choices import choice_in, felt_in, method_in, question_in, ready_in
from dolcezza.reports.language import language
from dolcezza.services.studio import Studio
from dolcezza.storage.records import HandStill

NAN = float("nan")


@pytest.fixture
def studio(tmp_path):
    studio = Studio(tmp_path / "studio")
    yield studio
    studio.close()


@pytest.fixture
def student(studio):
    return studio.add_student("Runa Castellane", "violin 1/4", since=date(2026, 9, 1), profile_name="Starter, thumb outside")


def test_steps_are_ticked_in_their_order_and_taken_back(studio, student):
    building, method = studio.building, methods()["finger ring"]
    assert method.next_step(building.ticked(student.id, method)).key == "ring"
    building.tick(student.id, "finger ring", "ring", date(2026, 9, 3))
    building.tick(student.id, "finger ring", "up")
    assert building.ticked(student.id, method) == {"ring": date(2026, 9, 3), "up": date.today()}
    assert method.next_step(building.ticked(student.id, method)).key == "middle"
    assert building.method_of(student.id) == "finger ring"
    building.untick(student.id, "finger ring", "up")
    assert set(building.ticked(student.id, method)) == {"ring"}
    studio.undo.undo()
    assert set(building.ticked(student.id, method)) == {"ring", "up"}
    studio.undo.undo()
    assert set(building.ticked(student.id, method)) == {"ring"}
    with pytest.raises(StudioError, match="no step"):
        building.tick(student.id, "finger ring", "somersault")


def test_the_newest_answer_counts_and_what_cannot_be_told_takes_it_away(studio, student):
    building = studio.building
    profile = studio.schools.of(student, studio.spec_of(student.id))
    building.say(student.id, "thumb place", "through", date(2026, 9, 3))
    building.say(student.id, "little work", "presses")
    assert [f.kind for f in building.findings(student.id, profile)] == ["thumb through the gap", "little finger presses"]
    building.say(student.id, "thumb place", "outside")
    assert [f.kind for f in building.findings(student.id, profile)] == ["little finger presses"]
    building.say(student.id, "little work", UNCLEAR)
    assert building.findings(student.id, profile) == []
    studio.undo.undo()
    assert [f.kind for f in building.findings(student.id, profile)] == ["little finger presses"]
    with pytest.raises(StudioError, match="no answer"):
        building.say(student.id, "thumb place", "on the moon")


def test_a_test_by_feel_that_came_out_stiff_is_a_finding_until_it_comes_out_free(studio, student):
    building, profile = studio.building, studio.schools.of(student, studio.spec_of(student.id))
    building.say_felt(student.id, "arm_drop", "no", date(2026, 9, 3))
    building.say_felt(student.id, "breaths", "no")
    (found,) = building.findings(student.id, profile)
    assert (found.kind, found.cause) == ("held tight", "arm does not let go"), "a hold that does not stay yet is no fault"
    building.say_felt(student.id, "thumb_tug", "no")
    assert {f.cause for f in building.findings(student.id, profile)} == {"arm does not let go", "grip too firm"}
    building.say(student.id, "palm", "touches")
    first = building.findings(student.id, profile)[0]
    assert first.kind == "held tight", "a hand that holds tight comes before its shape"
    assert language("en").sentence(why(first, 0)) == "First, because a hand that holds tight learns nothing well."
    drills = [d.key for p in building.prescriptions(student.id, profile) for d in p.drills]
    assert "D3" in drills, "the falling arm"
    building.say_felt(student.id, "thumb_tug", "yes")
    building.say_felt(student.id, "arm_drop", "not tried")
    assert [f.kind for f in building.findings(student.id, profile)] == ["palm on the stick"]
    studio.undo.undo()
    assert [f.cause for f in building.findings(student.id, profile)] == ["arm does not let go", "hand too deep"]


@pytest.mark.parametrize("test", [t for t in FELT_TESTS if t.key in BY_FEEL], ids=lambda t: t.key)
def test_every_test_by_feel_says_what_did_not_come_out(test):
    stiff = "no" if test.free == "yes" else "yes"
    (found,) = felt_findings({test.key: Said(test.key, stiff, date(2026, 11, 3))})
    assert found.sure and language("en").sentence(found.message).endswith("said by the teacher, 3 November 2026.")
    assert felt_findings({test.key: Said(test.key, test.free, date(2026, 11, 3))}) == []


def test_the_teachers_word_stands_before_a_picture_until_a_newer_one(studio, student):
    building = studio.building
    profile = replace(PROFILES["Franco-Belgian"], chosen=PROFILES["Franco-Belgian"].chosen | {"gap": Wish("one finger", "")})

    def picture(day):
        hold = Hold({}, Shape.UNCLEAR, Shape.UNCLEAR, {"index-middle": 3.0}, NAN, NAN, 0.8)
        studio.store.hands.add_still(HandStill(student.id, "frog", day, Path("hand.jpg"), None, hold))

    picture(date(2026, 10, 1))
    assert [f.kind for f in building.findings(student.id, profile)] == ["gap of the index"]
    building.say(student.id, "gap", "one", date(2026, 10, 2))
    assert building.findings(student.id, profile) == []
    picture(date(2026, 10, 9))
    assert [f.kind for f in building.findings(student.id, profile)] == ["gap of the index"]


def test_a_thumb_that_touches_the_middle_finger_is_a_fault_on_the_cello_alone():
    """Common practice, no source: the finger ring of children lays the middle pair over the thumb's nail."""
    said = {"thumb opposite": Said("thumb opposite", "touches", date(2026, 11, 3))}
    assert answer_findings(said, PROFILES["Franco-Belgian"]) == []
    assert [f.kind for f in answer_findings(said, PROFILES["Cello"])] == ["thumb cupped"]


def test_an_answer_makes_a_plan_without_a_video(studio, student):
    """A beginner of whom there is no video yet has a correction, its drills and a plan."""
    studio.building.say(student.id, "palm", "touches")
    profile = studio.schools.of(student, studio.spec_of(student.id))
    (correction, *_) = studio.building.prescriptions(student.id, profile)
    assert correction.correction.key == "hold with the fingers" and [d.key for d in correction.drills] == ["D6", "D4"]


def test_marks_on_a_bow_are_kept_per_bow(studio, student):
    building = studio.building
    assert building.bow(student.id).marks == {}
    building.mark(student.id, "balance point", 118.0)
    building.mark(student.id, "marker", 205.0)
    assert building.bow(student.id).marks == {"balance point": 118.0, "marker": 205.0}
    building.new_bow(student.id, "half-size bow")
    assert building.bow(student.id).name == "half-size bow" and building.bow(student.id).marks == {}
    building.mark(student.id, "marker", 240.0)
    first = building.bows(student.id)[0]
    building.play(student.id, first.id)
    assert building.bow(student.id).marks["marker"] == 205.0
    studio.undo.undo()
    assert building.bow(student.id).marks == {"marker": 240.0}
    building.mark(student.id, "marker", None)
    assert building.bow(student.id).marks == {}
    for wrong in (("marker", -5.0), ("marker", 5000.0), ("hat", 50.0)):
        with pytest.raises(StudioError, match="cannot be"):
            building.mark(student.id, *wrong)
    with pytest.raises(StudioError, match="name of another bow"):
        building.new_bow(student.id, "half-size bow")


def test_every_family_has_a_method_and_every_method_ends_with_checks():
    """Palm up, hanging hand, carried bow, finger ring, dots, double pencil, fiddle, cello (common practice, no source)."""
    assert len(methods()) == 8
    assert all(methods_for(family) for family in ("violin", "viola", "cello"))
    known = {t.key for t in FELT_TESTS}
    for method in methods().values():
        assert len(method.steps) >= 5 and method.checks and set(method.checks) <= known
        assert len({s.key for s in method.steps}) == len(method.steps)
    assert "double pencil" not in {m.key for m in methods_for("violin")}


def test_each_stage_opens_drills_that_exist_and_none_is_opened_twice():
    keys = [k for o in OPENS.values() for k in o.drills]
    assert set(keys) <= set(drills()) and len(keys) == len(set(keys)) == len(drills())
    order = list(OPENS)
    assert set(opened(order[1]).drills) == set(OPENS[order[0]].drills) | set(OPENS[order[1]].drills)


def test_the_hold_is_whole_in_german():
    from dolcezza.core.findings.choices import choices

    german = language("de")
    for choice in choices().values():
        own = choice_in(choice, german)
        assert own.name != choice.name and all(o.says != e.says for o, e in zip(own.options, choice.options, strict=True))
    for question in questions().values():
        own = question_in(question, german)
        assert own.asks != question.asks and set(own.answers) == set(question.answers)
    for test in FELT_TESTS:
        assert felt_in(test, german).question != test.question and felt_in(test, german).how != test.how
    for family in ("violin", "cello"):
        items = ready_list(family)
        assert all(ready_in(items, german)[key] != said for key, said in items.items())
    for method in methods().values():
        own = method_in(method, german)
        assert all(a.says != b.says for a, b in zip(own.steps, method.steps, strict=True))


def test_what_a_student_was_asked_goes_with_the_student(studio, student):
    studio.building.say(student.id, "palm", "touches")
    studio.building.tick(student.id, "finger ring", "ring")
    studio.building.mark(student.id, "marker", 200.0)
    studio.delete_student(student.id)
    book = studio.store.hold
    assert book.answers(student.id) == [] == book.steps(student.id) == book.bows(student.id)
    assert book.dated(student.id, "profile") == []
