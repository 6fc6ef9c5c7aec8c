"""Copies of the studio: one a day, a week of them, put back whole; nobody who was removed is in any of them."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from datetime import date, timedelta

import pytest
from PySide6.QtWidgets import QMessageBox

from dolcezza.app import main as desk
from dolcezza.cli.main import parser, run
from dolcezza.core.base.errors import StudioDamaged, StudioError
from dolcezza.services.backups import days, put_back
from dolcezza.services.studio import Studio
from dolcezza.storage.backups import KEPT, back_up, check, copies, whole

TODAY = date.today()


@pytest.fixture
def place(tmp_path):
    """A studio with a student, closed; its copy of today was made when it was opened the second time."""
    studio = Studio(tmp_path / "studio")
    studio.add_student("Ottoline Brandt", "violin 4/4")
    studio.close()
    for _, path in copies(tmp_path / "studio"):
        path.unlink()
    Studio(tmp_path / "studio").close()
    return tmp_path / "studio"


def names(place) -> list[str]:
    studio = Studio(place)
    try:
        return [s.name for s in studio.students()]
    finally:
        studio.close()


def damage(place) -> None:
    data = bytearray((place / "studio.sqlite").read_bytes())
    data[200:] = b"\x5a" * (len(data) - 200)
    (place / "studio.sqlite").write_bytes(data)


def test_one_copy_a_day_and_a_week_of_them(place):
    assert days(place) == [TODAY]
    assert back_up(place / "studio.sqlite", TODAY) is None
    for k in range(1, 12):
        back_up(place / "studio.sqlite", TODAY + timedelta(days=k))
    assert days(place) == [TODAY + timedelta(days=k) for k in range(11, 11 - KEPT, -1)]
    assert all(whole(path) for _, path in copies(place))


def test_a_damaged_database_is_said_and_the_copy_put_back(place):
    damage(place)
    with pytest.raises(StudioDamaged, match="damaged"):
        Studio(place)
    day, aside = put_back(place)
    assert day == TODAY
    assert aside.name == "studio.damaged-1.sqlite"
    assert names(place) == ["Ottoline Brandt"]


def test_an_empty_database_beside_a_full_studio_is_not_taken_for_a_new_one(place):
    (place / "studio.sqlite").write_bytes(b"")
    with pytest.raises(StudioDamaged, match="is empty"):
        Studio(place)
    (place / "studio.sqlite").unlink()
    with pytest.raises(StudioDamaged, match="is empty"):
        Studio(place)
    put_back(place)
    assert names(place) == ["Ottoline Brandt"]


def test_a_new_studio_is_no_fault(tmp_path):
    check(tmp_path / "studio.sqlite")
    assert names(tmp_path / "studio") == []


def test_whoever_is_removed_is_in_no_copy(place):
    (place / "studio.before-3.sqlite").write_bytes((place / "studio.sqlite").read_bytes())
    back_up(place / "studio.sqlite", TODAY - timedelta(days=3))
    studio = Studio(place)
    [student] = studio.students()
    studio.delete_student(student.id)
    studio.close()
    assert len(copies(place)) == 1
    for path in place.rglob("*"):
        if path.is_file():
            assert b"Ottoline" not in path.read_bytes(), path


def test_a_copy_that_is_damaged_too_gives_way_to_an_older_one(place):
    old = back_up(place / "studio.sqlite", TODAY - timedelta(days=2))
    copies(place)[0][1].write_bytes(b"SQLite format 3 and nothing more")
    assert put_back(place)[0] == TODAY - timedelta(days=2)
    old.write_bytes(b"")
    with pytest.raises(StudioError, match="damaged too"):
        put_back(place)
    with pytest.raises(StudioError, match="no copy of"):
        put_back(place, date(2001, 1, 1))


def test_damage_that_cannot_even_be_told_in_words_is_damage(tmp_path):
    """SQLite names what is wrong; where the name itself is damaged, it is no text."""
    database = tmp_path / "studio.sqlite"
    with closing(sqlite3.connect(database)) as connection:
        connection.execute("CREATE TABLE students (aaaa TEXT)")
        connection.execute("INSERT INTO students VALUES (NULL)")
        connection.execute("PRAGMA writable_schema = ON")
        connection.execute("UPDATE sqlite_master SET sql = 'CREATE TABLE students (aaaa TEXT NOT NULL)'")
        connection.commit()
    database.write_bytes(database.read_bytes().replace(b"aaaa", b"a\xeaaa"))
    assert not whole(database)


def test_other_peoples_files_among_the_copies_are_left_alone(place):
    (place / "backups" / "studio-of-mine.sqlite").write_text("mine")
    (place / "backups" / "studio-2026-99-99.sqlite").write_text("no day")
    assert days(place) == [TODAY]


def test_a_copy_is_whole_while_the_studio_is_written(place):
    with closing(sqlite3.connect(place / "studio.sqlite")) as other:
        other.execute("BEGIN IMMEDIATE")
        other.execute("UPDATE students SET name = 'Half written'")
        path = back_up(place / "studio.sqlite", TODAY + timedelta(days=1))
        other.rollback()
    with closing(sqlite3.connect(path)) as copy:
        assert copy.execute("SELECT name FROM students").fetchall() == [("Ottoline Brandt",)]


def test_the_command_lists_and_puts_back(place, capsys):
    def command(*arguments) -> int:
        return run(parser().parse_args(["--studio", str(place), "restore", *arguments]))

    assert command("--list") == 0
    assert capsys.readouterr().out.strip() == TODAY.isoformat()
    damage(place)
    assert command(TODAY.isoformat()) == 0
    assert names(place) == ["Ottoline Brandt"]
    assert command("someday") == 2
    assert "is not a day" in capsys.readouterr().err


@pytest.mark.parametrize("answer", [QMessageBox.StandardButton.Yes, QMessageBox.StandardButton.No])
def test_the_desk_offers_the_copy(place, monkeypatch, answer):
    damage(place)
    asked = []
    monkeypatch.setattr(desk, "has_display", lambda: True)
    monkeypatch.setattr(desk.QMessageBox, "question", lambda *words: asked.append(words[2]) or answer)
    if answer == QMessageBox.StandardButton.No:
        with pytest.raises(StudioDamaged):
            desk._opened(place)
    else:
        studio = desk._opened(place)
        assert [s.name for s in studio.students()] == ["Ottoline Brandt"]
        studio.close()
    assert f"{TODAY:%B}" in asked[0]


def left_half_written(place, target) -> None:
    """What a kill in the middle of a change leaves: a database that is half written, and its journal."""
    target.mkdir()
    with closing(sqlite3.connect(place / "studio.sqlite")) as connection:
        connection.execute("PRAGMA cache_size = 1")
        connection.execute("PRAGMA cache_spill = 1")
        connection.execute("BEGIN IMMEDIATE")
        connection.execute("CREATE TABLE filling (words TEXT)")
        for _ in range(200):
            connection.execute("INSERT INTO filling VALUES (?)", ("x" * 3000,))
        connection.execute("UPDATE students SET name = 'Half written'")
        for file in place.glob("studio.sqlite*"):
            (target / file.name).write_bytes(file.read_bytes())
        connection.rollback()


def test_what_a_kill_left_half_written_is_rolled_back_and_is_no_damage(place, tmp_path):
    """A journal that has to be rolled back was once taken for damage: put back a copy, it said, and the day's work would have been lost."""
    crashed = tmp_path / "crashed"
    left_half_written(place, crashed)
    assert (crashed / "studio.sqlite-journal").stat().st_size > 1000
    assert (crashed / "studio.sqlite").read_bytes() != (place / "studio.sqlite").read_bytes()
    check(crashed / "studio.sqlite")
    assert whole(crashed / "studio.sqlite")
    assert names(crashed) == ["Ottoline Brandt"]


def test_a_database_that_is_being_written_is_not_damaged(place, monkeypatch):
    connect = sqlite3.connect
    monkeypatch.setattr(sqlite3, "connect", lambda *a, **k: connect(*a, **{"timeout": 0.05, **k}))
    with closing(connect(place / "studio.sqlite")) as writing:
        writing.execute("BEGIN EXCLUSIVE")
        assert whole(place / "studio.sqlite")
        writing.rollback()


def test_a_database_that_may_only_be_read_is_looked_at_all_the_same(place):
    database = place / "studio.sqlite"
    database.chmod(0o400)
    assert whole(database)
    assert not whole(place / "none.sqlite") and not (place / "none.sqlite").exists()
