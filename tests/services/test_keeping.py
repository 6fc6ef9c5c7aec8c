"""What is kept of a student, until when it was agreed, what left the studio; and nothing of it when the student is removed."""

from __future__ import annotations

import shutil
from datetime import date, datetime, timedelta

import pytest

from dolcezza.core.base.errors import StudioError
from dolcezza.services.agenda import shown, waiting
from dolcezza.services.keeping import initials
from dolcezza.services.studio import Studio
from dolcezza.storage.records import Consent
from takes_support import take_video

TODAY = date.today()


@pytest.fixture
def made(tmp_path):
    """A studio with one student whose name nobody else has, and a video of theirs."""
    studio = Studio(tmp_path / "studio")
    student = studio.add_student("Quendolin Zarathwaite", "violin 1/2", since=TODAY - timedelta(days=500))
    video = tmp_path / "lesson.mp4"
    shutil.copy(take_video("demo-a3"), video)
    take = studio.add_take(student.id, video, title="Long bows", played_on=TODAY - timedelta(days=10))
    yield studio, student, take
    studio.close()


def agreed(student, **more):
    usual = {"guardian": "Philippa Zarathwaite", "agreed_on": TODAY, "pictures": True, "sharing": True} | more
    return Consent(student.id, **usual)


def test_nothing_may_leave_before_it_was_agreed(made):
    studio, student, _ = made
    keeping = studio.keeping
    assert not keeping.may_leave(student.id, picture=False)
    keeping.agree(agreed(student, pictures=False))
    assert keeping.may_leave(student.id, picture=False) and not keeping.may_leave(student.id, picture=True)
    keeping.agree(agreed(student))
    assert keeping.may_leave(student.id, picture=True)
    keeping.agree(agreed(student, sharing=False))
    assert not keeping.may_leave(student.id, picture=False), "what was agreed last counts"
    studio.undo.undo()
    assert keeping.may_leave(student.id, picture=True)


def test_what_leaves_says_the_initials_where_that_was_agreed(made):
    studio, student, _ = made
    assert studio.keeping.as_named(student) == student, "nothing was said"
    studio.keeping.agree(agreed(student, initials=True))
    assert studio.keeping.as_named(student).name == "Q. Z." and studio.keeping.as_named(student).id == student.id
    assert studio.students()[0].name == student.name
    assert initials("anne-sophie  van Dael") == "A. S. V. D."
    studio.keeping.agree(agreed(student))
    assert studio.keeping.as_named(student) == student


def test_what_was_agreed_runs_out(made):
    studio, student, _ = made
    studio.keeping.agree(agreed(student, until=TODAY + timedelta(days=3)))
    assert studio.keeping.may_leave(student.id, picture=True)
    later = TODAY + timedelta(days=4)
    assert not studio.keeping.may_leave(student.id, picture=True, today=later)
    assert [(s.name, why) for s, why in studio.keeping.overdue(later)] == [(student.name, "until")]
    now = datetime.combine(later, datetime.min.time())
    assert [w.student.name for w in shown(waiting(studio, now), "", "until", now, studio.store.keeping.all_until())] == [student.name]
    assert shown(waiting(studio, datetime.now()), "", "until", datetime.now()) == []


def test_who_was_not_filmed_for_a_year_is_listed(made):
    studio, student, _ = made
    assert studio.keeping.overdue(TODAY) == []
    assert studio.keeping.overdue(TODAY + timedelta(days=400)) == [(studio.store.student(student.id), "year")]
    other = studio.add_student("Ottoline Brandt", "violin 4/4", since=TODAY - timedelta(days=370))
    assert studio.keeping.overdue(TODAY) == [(studio.store.student(other.id), "year")]
    now = datetime.now()
    assert [w.student.name for w in shown(waiting(studio, now), "", "year", now)] == ["Ottoline Brandt"]


def test_agreements_that_cannot_be_are_refused(made):
    studio, student, _ = made
    with pytest.raises(StudioError, match="Nobody is named"):
        studio.keeping.agree(agreed(student, guardian=" "))
    with pytest.raises(StudioError, match="still to come"):
        studio.keeping.agree(agreed(student, agreed_on=TODAY + timedelta(days=1)))
    with pytest.raises(StudioError, match="cannot be"):
        studio.keeping.agree(agreed(student, until=TODAY - timedelta(days=1)))
    assert studio.keeping.agreed(student.id) is None


def test_everything_that_is_kept_is_named_with_its_place(made, tmp_path):
    studio, student, take = made
    studio.practice.log(student.id, TODAY, "D4", count=10)
    studio.building.say(student.id, "palm", "touches")
    folder = studio.store.new_folder(take.id)
    folder.mkdir(parents=True)
    (folder / "frames.csv").write_text("t_s\n" * 500)
    sheet = tmp_path / "sheet.pdf"
    sheet.write_bytes(b"%PDF 1234")
    studio.keeping.wrote(student.id, "sheet", sheet)
    studio.keeping.wrote(student.id, "sheet", sheet)
    found = {k.what: k for k in studio.keeping.kept(student.id)}
    assert {"takes", "log", "answers", "measurements", "video", "sheet", "copies of the database"} <= set(found)
    assert found["video"].where == take.path and found["video"].size == take.path.stat().st_size
    assert found["measurements"].size == 2000 and found["sheet"].size == 9 and found["sheet"].count == 1


@pytest.mark.parametrize("videos", [False, True])
def test_removed_means_removed(made, tmp_path, videos):
    """A byte search of the studio, its copies and what was written for the student finds nothing."""
    studio, student, take = made
    studio.keeping.agree(agreed(student))
    studio.building.say(student.id, "palm", "touches")
    studio.practice.log(student.id, TODAY, "D4", count=10, note="Quendolin was tired")
    studio.schools.choose(student.id, studio.spec_of(student.id), "hair", "flat")
    sheet = tmp_path / "written" / "sheet.html"
    sheet.parent.mkdir()
    sheet.write_text("Quendolin Zarathwaite")
    studio.keeping.wrote(student.id, "sheet", sheet)
    left = studio.keeping.remove_files(student.id, videos=videos)
    studio.delete_student(student.id)
    assert left == [] and not sheet.exists() and take.path.exists() is not videos
    places = [p for p in (studio.folder).rglob("*") if p.is_file()]
    assert places
    for path in places:
        data = path.read_bytes()
        for word in (b"Zarathwaite", b"Quendolin", b"Philippa"):
            assert word not in data, path
        assert "quendolin" not in path.name.lower(), path


def test_a_file_that_cannot_be_removed_is_named(made, tmp_path, monkeypatch):
    from pathlib import Path

    studio, student, _ = made
    sheet = tmp_path / "sheet.pdf"
    sheet.write_bytes(b"%PDF")
    studio.keeping.wrote(student.id, "sheet", sheet)
    monkeypatch.setattr(Path, "unlink", lambda *_a, **_k: (_ for _ in ()).throw(PermissionError(13, "Permission denied")))
    assert studio.keeping.remove_files(student.id, videos=False) == [sheet]
