"""An archive brings everything back, on another machine too; a bad one brings nothing, and leaves nothing behind."""

from __future__ import annotations

import json
import random
import shutil
import zipfile
from pathlib import Path

import pytest

from dolcezza.core.base.errors import StudioError
from dolcezza.core.base.job import finish
from dolcezza.core.check.kept import PhoneCheck, PhonePlace
from dolcezza.core.media.probe import fingerprint
from dolcezza.services.notation import scale_mei
from dolcezza.services.phone_checks import CheckBook
from dolcezza.services.studio import Studio
from dolcezza.storage import archive as storage_archive
from dolcezza.storage.archive import STAYS, carried, rows_of
from dolcezza.storage.schema import Base
from takes_support import take_video


@pytest.fixture
def other(tmp_path):
    """Another machine's studio, with nobody in it."""
    made = Studio(tmp_path / "elsewhere")
    yield made
    made.close()


@pytest.fixture(scope="module")
def whole(measured_studio, tmp_path_factory):
    """An archive of the demo studio; read it, do not change it."""
    folder = tmp_path_factory.mktemp("archive")
    shutil.copytree(measured_studio, folder / "studio")
    studio = Studio(folder / "studio")
    finish(studio.archiving.write(folder / "all.zip"))
    studio.close()
    return folder / "all.zip"


def told(studio, students=None):
    """All rows of a studio without ids and paths, as they are told of each student."""
    chosen = [s.id for s in studio.students()] if students is None else students
    out = {}
    for name, rows in rows_of(studio.store.database, chosen).items():
        plain = [{k: v for k, v in r.items() if k not in ("id", "path", "folder") and not k.endswith("_id")} for r in rows]
        out[name] = sorted(json.dumps(r, sort_keys=True) for r in plain)
    return out


def files_of(studio):
    """Every file under the studio's measurements, and what lies about half written."""
    return sorted(p for p in (studio.folder / "takes").rglob("*") if p.is_file()), list(studio.folder.rglob(".writing-*"))


def changed(source, target, change):
    """A copy of an archive with other content: ``change(path, bytes)`` gives the new bytes, or None to leave the file out."""
    with zipfile.ZipFile(source) as old, zipfile.ZipFile(target, "w") as new:
        for path in old.namelist():
            data = change(path, old.read(path))
            if data is not None:
                new.writestr(path, data)
    return target


def test_every_table_is_carried_or_stays_for_a_reason():
    assert {t.name for t in carried()} | set(STAYS) == set(Base.metadata.tables)


def test_out_of_one_studio_into_another_nothing_is_lost(studio, other, whole):
    came = finish(other.archiving.take_in(whole))
    assert sorted(came.came) == sorted(s.name for s in studio.students()) and came.here == ()
    theirs, mine = told(studio), told(other)
    assert mine == theirs
    assert len(mine["students"]) >= 3 and mine["strokes"] and mine["findings"] and mine["plans"] and mine["hold_answers"]


def test_a_measurement_is_the_same_on_the_other_machine(studio, other, whole):
    finish(other.archiving.take_in(whole))
    here = next(s.take for st in studio.students() for s in studio.takes(st.id) if s.analysed)
    there = next(s.take for st in other.students() for s in other.takes(st.id) if s.analysed)
    a, b = studio.analysis(here), other.analysis(there)
    assert a.strokes == b.strokes and [f.finding for f in a.findings] == [f.finding for f in b.findings] and a.summary == b.summary
    assert {p.name: p.read_bytes() for p in a.folder.iterdir()} == {p.name: p.read_bytes() for p in b.folder.iterdir()}
    other.sweep()
    assert other.analysis(there).strokes == a.strokes, "what came in is no left-over"


def test_pieces_and_checks_of_phones_go_with_the_whole_studio(studio, other, tmp_path):
    mei = scale_mei("violin", "D", "Whole bows", minor=False, tempo=60.0)[1]
    studio.notation.keep("Two octaves", mei)
    check = PhoneCheck(0.1, 0.3, -2.5, 0.4, False, True, 1.3, 1.4, "my phone", "2026-11-28", "violin 4/4", PhonePlace(0, 30, 1500), 6)
    CheckBook(studio.folder).keep(check)
    archive = finish(studio.archiving.write(tmp_path / "whole.zip"))
    finish(other.archiving.take_in(archive))
    assert other.notation.names() == studio.notation.names() and len(other.notation.names()) == 1
    assert other.notation.mei(other.notation.names()[0]) == mei
    assert CheckBook(other.folder).checks == [check]


def test_a_piece_or_check_that_cannot_be_read_keeps_nobody_out(studio, other, tmp_path):
    archive = finish(studio.archiving.write(tmp_path / "whole.zip"))
    with zipfile.ZipFile(archive, "a") as out:
        out.writestr("checks/1.json", '{"name": 3}')
        out.writestr("checks/2.json", "[]")
        out.writestr("notation/odd.mei", "<not music")
    assert finish(other.archiving.take_in(archive)).came
    assert other.notation.names() == [] and CheckBook(other.folder).checks == []


def test_two_phones_of_one_playing_stay_together(studio, other, tmp_path):
    first, second = (s.take.id for s in studio.takes(next(s.id for s in studio.students() if len(studio.takes(s.id)) > 1))[:2])
    studio.pairs.set(first, second)
    marks = [studio.store.take(t).fingerprint for t in (first, second)]
    try:
        archive = finish(studio.archiving.write(tmp_path / "whole.zip"))
    finally:
        studio.pairs.set(first, 0)
    # ids of the other studio are others
    someone = other.add_student("Ilva Marrendo", "violin 3/4")
    other.delete_student(someone.id)
    finish(other.archiving.take_in(archive))
    came = [other.store.take_by_fingerprint(m).id for m in marks]
    assert other.pairs.of(came[0]) == came[1] and other.pairs.of(came[1]) == 0
    with zipfile.ZipFile(archive) as held:
        assert json.loads(held.read("pairs/pairs.json")) == [[first, second]]


@pytest.mark.parametrize("text", ['{"one": 5', "[[1, Infinity]]", "[[1, 2, 3]]", "7"])
def test_pairs_that_cannot_be_read_keep_nobody_out(studio, other, tmp_path, text):
    archive = finish(studio.archiving.write(tmp_path / "whole.zip"))
    with zipfile.ZipFile(archive, "a") as out:
        out.writestr("pairs/pairs.json", text)
    assert finish(other.archiving.take_in(archive)).came


def test_pairs_that_cannot_be_kept_take_nobody_back(studio, other, tmp_path, monkeypatch):
    first, second = (s.take.id for s in studio.takes(next(s.id for s in studio.students() if len(studio.takes(s.id)) > 1))[:2])
    studio.pairs.set(first, second)
    archive = finish(studio.archiving.write(tmp_path / "whole.zip"))

    def full(*_):
        raise StudioError("The disk is full; nothing was changed.")

    monkeypatch.setattr(other.pairs, "set", full)
    came = finish(other.archiving.take_in(archive)).came
    assert sorted(s.name for s in other.students()) == sorted(came) and len(came) == len(studio.students())


def test_videos_of_those_who_have_not_agreed_stay_out_where_it_is_wished(tmp_path):
    mine = Studio(tmp_path / "mine")
    people = [mine.add_student(n, "violin 3/4") for n in ("Ilva Marrendo", "Oda Brekke")]
    for person, stem in zip(people, ("demo-a2", "demo-a3"), strict=True):
        video = tmp_path / f"{person.name}.mp4"
        shutil.copy(take_video(stem), video)
        mine.add_take(person.id, video)
    finish(mine.archiving.write(tmp_path / "some.zip", videos=True, without_videos={people[1].id}))
    finish(mine.archiving.write(tmp_path / "all.zip", videos=True))
    mine.close()
    held = {n: [m for m in zipfile.ZipFile(tmp_path / n).namelist() if m.startswith("media/")] for n in ("some.zip", "all.zip")}
    assert [Path(m).name for m in held["some.zip"]] == ["Ilva Marrendo.mp4"] and len(held["all.zip"]) == 2


def test_with_the_videos_it_needs_nothing_else(tmp_path, other):
    mine = Studio(tmp_path / "mine")
    student = mine.add_student("Ilva Marrendo", "violin 3/4")
    video = tmp_path / "long bows.mp4"
    shutil.copy(take_video("demo-a3"), video)
    take = mine.add_take(student.id, video)
    finish(mine.archiving.write(tmp_path / "ilva.zip", student.id, videos=True))
    finish(mine.archiving.write(tmp_path / "without.zip", student.id))
    mine.close()
    video.unlink()
    finish(other.archiving.take_in(tmp_path / "ilva.zip", tmp_path / "videos"))
    came = other.takes(other.students()[0].id)[0].take
    assert came.path == tmp_path / "videos" / "long bows.mp4" and fingerprint(came.path) == take.fingerprint
    other.delete_student(other.students()[0].id)
    finish(other.archiving.take_in(tmp_path / "without.zip"))
    away = other.takes(other.students()[0].id)[0].take
    assert not away.path.exists()
    assert other.find_video(away, tmp_path / "videos" / "long bows.mp4").fingerprint == take.fingerprint


def test_a_video_that_is_where_it_was_is_not_asked_for(studio, other, whole):
    finish(other.archiving.take_in(whole))
    paths = {s.take.fingerprint: s.take.path for st in studio.students() for s in studio.takes(st.id)}
    assert all(s.take.path == paths[s.take.fingerprint] for st in other.students() for s in other.takes(st.id))


def test_those_who_are_here_stay_as_they_are(studio, whole):
    before, files = told(studio), files_of(studio)
    with pytest.raises(StudioError, match="Nobody new"):
        finish(studio.archiving.take_in(whole))
    assert told(studio) == before and files_of(studio) == files
    gone = studio.students()[0]
    lost = told(studio, [gone.id])
    studio.delete_student(gone.id)
    came = finish(studio.archiving.take_in(whole))
    assert came.came == (gone.name,) and len(came.here) == len(studio.students()) - 1
    back = next(s for s in studio.students() if s.name == gone.name)
    assert told(studio, [back.id]) == lost


def test_somebody_else_of_the_same_name_gets_a_second_one(studio, other, whole):
    name = studio.students()[0].name
    mine = other.add_student(name, "cello 4/4", note="another person")
    finish(other.archiving.take_in(whole))
    assert {name, f"{name} 2"} <= {s.name for s in other.students()}
    assert other.store.student(mine.id).note == "another person"


def test_an_own_profile_comes_with_its_students_and_replaces_none(tmp_path, other):
    mine = Studio(tmp_path / "mine")
    usual = mine.add_student("Teo Barvick", "viola 16").profile
    for studio, wish in ((mine, "elbow, as I teach it"), (other, "elbow, as she teaches it")):
        studio.shelf.copy(usual, "Our school")
        studio.shelf.keep(studio.shelf.data("Our school") | {"description": wish})
    teo = mine.students()[0]
    mine.change_student(teo.__class__(**{**teo.__dict__, "profile": "Our school"}), "viola 16", {})
    finish(mine.archiving.write(tmp_path / "teo.zip", teo.id))
    mine.close()
    finish(other.archiving.take_in(tmp_path / "teo.zip"))
    came = other.students()[0]
    assert came.profile == "Our school 2"
    assert other.shelf.data("Our school 2")["description"] == "elbow, as I teach it"
    assert other.shelf.data("Our school")["description"] == "elbow, as she teaches it"
    assert "Our school 2" in [d.value for d in other.store.hold.dated(came.id, "profile")]


def test_a_damaged_archive_brings_nothing_and_leaves_nothing(tmp_path, other, whole):
    data, chance = whole.read_bytes(), random.Random(20261128)
    refused = 0
    for k in range(60):
        bad = tmp_path / f"bad{k}.zip"
        if k % 3 == 0:
            bad.write_bytes(data[: chance.randrange(len(data))])
        else:
            at = chance.randrange(len(data) - 64)
            bad.write_bytes(data[:at] + bytes(b ^ 0x5A for b in data[at : at + 64]) + data[at + 64 :])
        try:
            finish(other.archiving.take_in(bad))
        except StudioError:
            refused += 1
            assert other.students() == [] and files_of(other) == ([], []) and other.shelf.file_of("Our school") is None
        else:
            # what was hit is not in use (a date of the zip's own); everybody is here then
            for one in other.students():
                other.delete_student(one.id)
        bad.unlink()
    assert refused > 50


@pytest.mark.parametrize(
    ("path", "change", "words"),
    [
        ("archive.json", lambda d: d | {"version": 99}, "newer version"),
        ("archive.json", lambda d: d | {"format": "something else"}, "not an archive"),
        ("tables/takes.json", lambda d: [r | {"student_id": 12345} for r in d], "belongs to nobody"),
        ("tables/students.json", lambda d: [r | {"since": "last spring"} for r in d], "damaged"),
        ("tables/students.json", lambda d: [r | {"name": 7} for r in d], "damaged"),
        ("tables/students.json", lambda d: [r | {"favourite": "blue"} for r in d], "damaged"),
        ("tables/students.json", lambda d: [{k: v for k, v in r.items() if k != "handed"} for r in d], "damaged"),
        ("tables/fits.json", lambda d: [r | {"data": "{"} for r in d], "damaged"),
    ],
)  # fmt: skip
def test_what_does_not_fit_is_said_and_nothing_comes_in(tmp_path, other, whole, path, change, words):
    bad = changed(whole, tmp_path / "bad.zip", lambda p, b: json.dumps(change(json.loads(b))).encode() if p == path else b)
    with pytest.raises(StudioError, match=words):
        finish(other.archiving.take_in(bad))
    assert other.students() == [] and files_of(other) == ([], [])


def test_an_archive_that_points_before_its_own_beginning_is_damaged(tmp_path, other, whole):
    """The end of a zip says where its list of files begins: a little more than is true, and every file lies before the first byte."""
    data = bytearray(whole.read_bytes())
    end = data.rindex(b"PK\x05\x06")
    began = int.from_bytes(data[end + 16 : end + 20], "little")
    data[end + 16 : end + 20] = (began + 1000).to_bytes(4, "little")
    wrong = tmp_path / "moved.zip"
    wrong.write_bytes(bytes(data))
    with pytest.raises(StudioError, match="damaged|not an archive"):
        finish(other.archiving.take_in(wrong))
    assert other.students() == []


def test_an_archive_cannot_write_outside_its_places(tmp_path, other, whole):
    bad = changed(whole, tmp_path / "bad.zip", lambda _p, b: b)
    with zipfile.ZipFile(bad, "a") as out:
        for path in ("../outside.txt", "takes/1/analysis-1/../../../outside.txt", "/tmp/outside.txt", "takes/1/analysis-1/.."):
            out.writestr(path, "no")
        out.writestr("tables/secrets.json", "[]")
    with pytest.raises(StudioError, match="does not know"):
        finish(other.archiving.take_in(bad))
    good = changed(bad, tmp_path / "good.zip", lambda p, b: None if "secrets" in p else b)
    finish(other.archiving.take_in(good))
    assert not list(tmp_path.rglob("outside.txt"))


def test_stopped_in_the_middle_nothing_is_there(tmp_path, studio, other, whole):
    for work in (other.archiving.take_in(whole), studio.archiving.write(tmp_path / "half.zip")):
        for _ in range(3):
            next(work)
        work.close()
    assert other.students() == [] and files_of(other) == ([], []) and list(tmp_path.glob("*.zip")) == []
    assert not [p for p in tmp_path.iterdir() if p.name.startswith(".writing-")]


def test_a_fault_at_the_last_step_takes_everything_back(other, whole, monkeypatch):
    real = storage_archive._put_rows

    def fails(session, tables):
        real(session, tables)
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(storage_archive, "_put_rows", fails)
    with pytest.raises(StudioError, match="disk is full"):
        finish(other.archiving.take_in(whole))
    assert other.students() == [] and files_of(other) == ([], [])


def test_no_room_is_said_before_it_is_begun(other, whole, monkeypatch):
    monkeypatch.setattr(storage_archive.shutil, "disk_usage", lambda _p: shutil._ntuple_diskusage(1, 1, 0))
    with pytest.raises(StudioError, match="no room"):
        finish(other.archiving.take_in(whole))
    assert other.students() == []


def test_room_is_asked_of_the_disk_that_each_part_goes_to(tmp_path, monkeypatch):
    """The videos of an archive may go to another disk than the studio's."""
    small, large = tmp_path / "small", tmp_path / "large"
    small.mkdir()
    large.mkdir()
    free = {small: 100 * 1024**2, large: 10_000 * 1024**2}
    monkeypatch.setattr(storage_archive, "disk_of", lambda path: 7 if path == small else 8)
    monkeypatch.setattr(storage_archive.shutil, "disk_usage", lambda p: shutil._ntuple_diskusage(10**12, 0, free[Path(p)]))
    room = 2**20
    storage_archive.room_for([(small, 20 * room), (large / "videos" / "new", 5_000 * room)])
    with pytest.raises(StudioError, match="room for 5000 MB"):
        storage_archive.room_for([(large, 20 * room), (small / "videos", 5_000 * room)])
    # two parts on one disk count together
    storage_archive.room_for([(small, 30 * room)])
    with pytest.raises(StudioError, match="room for 60 MB"):
        storage_archive.room_for([(small, 30 * room), (small / "videos", 30 * room)])
    monkeypatch.undo()
    assert storage_archive.disk_of(small) == storage_archive.disk_of(large)


def test_an_archive_of_one_goes_with_them_one_of_all_stays_and_is_named(tmp_path, studio):
    one, two = studio.students()[:2]
    finish(studio.archiving.write(tmp_path / "one.zip", one.id))
    finish(studio.archiving.write(tmp_path / "all.zip"))
    with zipfile.ZipFile(tmp_path / "one.zip") as own:
        assert two.name not in "".join(own.read(n).decode(errors="replace") for n in own.namelist() if n.startswith("tables/"))
    left = studio.keeping.remove_files(one.id, videos=False)
    assert left == [tmp_path / "all.zip"] and (tmp_path / "all.zip").exists() and not (tmp_path / "one.zip").exists()
