"""What a teacher chooses for a student: dated, undone, judged at once; ready-made profiles stay as they are."""

from __future__ import annotations

from datetime import date, timedelta

import pytest

from dolcezza.core.base.errors import InstrumentError
from dolcezza.core.findings.choices import Stage
from dolcezza.core.findings.profiles import PROFILES
from dolcezza.core.instrument.catalog import instrument
from dolcezza.services.studio import Studio

VIOLIN, VIOLA = instrument("violin 4/4"), instrument("viola 16")


@pytest.fixture
def studio(tmp_path):
    studio = Studio(tmp_path / "studio")
    yield studio
    studio.close()


@pytest.fixture
def student(studio):
    return studio.add_student("Ottoline Brandt", "violin 4/4", since=date(2026, 9, 1))


def test_a_change_of_a_ready_made_profile_makes_the_student_a_copy(studio, student):
    name = studio.schools.choose(student.id, VIOLIN, "upper arm", "hinge")
    assert name == "Franco-Belgian, changed"
    assert studio.store.student(student.id).profile == name
    own = studio.schools.of(studio.store.student(student.id), VIOLIN)
    assert own.want("upper arm") == "hinge" and own.want("thumb place") == PROFILES["Franco-Belgian"].want("thumb place")
    assert PROFILES["Franco-Belgian"].want("upper arm") == "chain"
    other = studio.add_student("Anselm Quirke", "violin 4/4")
    assert studio.schools.of(other, VIOLIN).want("upper arm") == "chain"
    studio.undo.undo()
    assert studio.store.student(student.id).profile == "Franco-Belgian"
    assert studio.shelf.file_of(name) is None, "the copy goes with it"
    studio.undo.redo()
    assert studio.schools.of(studio.store.student(student.id), VIOLIN).want("upper arm") == "hinge"


def test_an_own_profile_changes_for_everybody_who_uses_it(studio, student):
    name = studio.schools.choose(student.id, VIOLIN, "hair", "flat")
    other = studio.add_student("Anselm Quirke", "violin 4/4", profile_name=name)
    assert studio.schools.choose(other.id, VIOLIN, "hair", "away") == name
    assert {s.name for s in studio.schools.users(name)} == {"Ottoline Brandt", "Anselm Quirke"}
    assert studio.schools.of(studio.store.student(student.id), VIOLIN).want("hair") == "away"
    studio.undo.undo()
    assert studio.schools.of(studio.store.student(student.id), VIOLIN).want("hair") == "flat"


def test_what_contradicts_another_choice_is_refused_and_nothing_is_changed(studio, student):
    with pytest.raises(InstrumentError, match="contradict each other"):
        studio.schools.choose(student.id, VIOLIN, "along the bow", "stable")
    assert studio.store.student(student.id).profile == "Franco-Belgian"
    assert not list(studio.shelf.folder.glob("*.json"))


def test_lane_order_and_limit(studio, student):
    schools = studio.schools
    schools.set_lane(student.id, VIOLIN, measure="landmarks", low=0.0, high=0.8)
    schools.set_angle_limit(student.id, VIOLIN, 7.5)
    own = schools.of(studio.store.student(student.id), VIOLIN)
    assert own.lane.band_mm(VIOLIN)[0] == pytest.approx(34.0) and own.angle_limit_deg == 7.5
    with pytest.raises(InstrumentError, match="lane"):
        schools.set_lane(student.id, VIOLIN, low=0.9)
    with pytest.raises(InstrumentError, match="limit of 0.5"):
        schools.set_angle_limit(student.id, VIOLIN, 0.5)
    with pytest.raises(InstrumentError, match="no order"):
        schools.set_order(student.id, VIOLIN, "EAD")
    violist = studio.add_student("Anselm Quirke", "viola 16")
    assert not schools.of(violist, VIOLA).order_is_set(VIOLA)
    schools.set_order(violist.id, VIOLA, "ADGC")
    own = schools.of(studio.store.student(violist.id), VIOLA)
    assert own.order_is_set(VIOLA) and own.elbow_order(VIOLA) == tuple("ADGC")
    schools.set_order(violist.id, VIOLA, "")
    assert not schools.of(studio.store.student(violist.id), VIOLA).order_is_set(VIOLA)


def test_the_stage_is_the_students_own_and_dated(studio, student):
    schools = studio.schools
    assert schools.stage_since(student.id) is None
    schools.set_stage(student.id, Stage.FIRST_HOLD, since=date(2026, 9, 2))
    assert schools.of(student, VIOLIN).stage is Stage.FIRST_HOLD
    assert schools.next_stage(student.id, VIOLIN) is Stage.FIRST_BOWS
    assert [d.value for d in schools.history(student.id)] == ["Franco-Belgian", "first hold", "first bows"]
    assert schools.stage_since(student.id).since == date.today()
    studio.undo.undo()
    assert schools.of(student, VIOLIN).stage is Stage.FIRST_HOLD
    schools.set_stage(student.id, Stage.MUSIC)
    assert schools.next_stage(student.id, VIOLIN) is None


def test_profiles_are_dated(studio, student):
    studio.schools.use(student.id, "Russian")
    rows = [(d.value, d.since) for d in studio.schools.history(student.id)]
    assert rows == [("Franco-Belgian", date(2026, 9, 1)), ("Russian", date.today())]
    studio.undo.undo()
    assert len(studio.schools.history(student.id)) == 1
    with pytest.raises(InstrumentError, match="no profile called"):
        studio.schools.use(student.id, "Martian")


def test_another_name_moves_everybody_along(studio, student):
    name = studio.schools.choose(student.id, VIOLIN, "hair", "flat")
    other = studio.add_student("Anselm Quirke", "violin 4/4", profile_name=name)
    studio.schools.rename(student.id, VIOLIN, "My way")
    assert studio.store.student(other.id).profile == "My way"
    assert name not in studio.shelf.all() and studio.shelf.get("My way").want("hair") == "flat"
    with pytest.raises(InstrumentError, match="cannot be the name"):
        studio.schools.rename(student.id, VIOLIN, "Russian")
    studio.undo.undo()
    assert studio.store.student(other.id).profile == name and name in studio.shelf.all()


def test_what_was_dismissed_for_good_stays_so_under_a_copy(studio, student):
    from dolcezza.storage.records import Dismissal

    words = studio.store.words
    words.dismiss(Dismissal(student.id, "Franco-Belgian", "crooked", "set down crooked", "", 5.0, date.today()))
    name = studio.schools.choose(student.id, VIOLIN, "hair", "flat")
    assert [d.kind for d in words.dismissals(student.id, name)] == ["crooked"]
    studio.undo.undo()
    assert words.dismissals(student.id, name) == []


def test_a_profile_for_another_family_does_not_count(studio):
    cellist = studio.add_student("Iduna Marchetti", "cello 4/4", profile_name="Russian")
    assert studio.schools.of(cellist, instrument("cello 4/4")).name == "Cello"


def test_days_before_the_student_began_and_days_to_come_are_refused(studio, student):
    from dolcezza.core.base.errors import StudioError

    with pytest.raises(StudioError, match="before this student began"):
        studio.building.say(student.id, "palm", "touches", date(2026, 8, 1))
    with pytest.raises(StudioError, match="still to come"):
        studio.building.tick(student.id, "finger ring", "ring", date.today() + timedelta(days=1))
