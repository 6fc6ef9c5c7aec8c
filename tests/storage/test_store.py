"""The studio on disk: atomic, migrated, honest about faults, and really deleted when deleted."""

from __future__ import annotations

import errno
import json
import sqlite3
from dataclasses import replace
from datetime import date
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from sqlalchemy import create_engine, inspect, text

from dolcezza.core.base.errors import StudioError
from dolcezza.core.base.message import NOTHING, Message
from dolcezza.core.bowing.series import COLUMNS, BowSeries
from dolcezza.core.findings.finding import Finding
from dolcezza.reports.language import language
from dolcezza.storage.database import Database
from dolcezza.storage.files import write_whole
from dolcezza.storage.migrations import MIGRATIONS, Migration, migrate
from dolcezza.storage.practice_book import PracticeBook
from dolcezza.storage.records import OwnedInstrument, Student, Take
from dolcezza.storage.schema import Base
from dolcezza.storage.studio import StudioStore
from dolcezza.storage.tables import (
    finding_from_dict,
    finding_to_dict,
    series_from_csv,
    series_to_csv,
    stroke_from_dict,
    stroke_to_dict,
    strokes_to_csv,
)


@pytest.fixture
def store(tmp_path):
    made = StudioStore(tmp_path / "studio")
    yield made
    made.close()


def a_take(store: StudioStore, tmp_path: Path) -> Take:
    student = store.add_student(Student("Petra Ymker", since=date(2026, 1, 2)))
    owned = store.add_instrument(OwnedInstrument(student.id, "violin 4/4", {"hair_length": 640.0}))
    return store.add_take(Take(student.id, owned.id, "First", date(2026, 2, 3), tmp_path / "v.mp4", "abc", 1280, 720, 9.5))


def test_tables_are_what_the_migrations_make(tmp_path):
    database = Database(tmp_path / "studio.sqlite")
    engine = create_engine(f"sqlite:///{tmp_path / 'studio.sqlite'}")
    made = inspect(engine)
    assert set(made.get_table_names()) == set(Base.metadata.tables)
    for name, table in Base.metadata.tables.items():
        assert {c["name"] for c in made.get_columns(name)} == set(table.columns.keys()), name
        assert {i["name"] for i in made.get_indexes(name)} == {i.name for i in table.indexes}, name
    assert database.version == MIGRATIONS[-1].number
    database.close()
    engine.dispose()


def test_a_failing_migration_leaves_nothing(tmp_path):
    path = tmp_path / "studio.sqlite"
    Database(path).close()
    newest = MIGRATIONS[-1].number
    bad = Migration(newest + 1, "half", ("CREATE TABLE half (id INTEGER)", "CREATE TABLE half (id INTEGER)"))
    database = Database(path)
    with pytest.raises(Exception, match="half"):
        migrate(database._engine, path, (*MIGRATIONS, bad))
    with database.atomic() as session:
        assert not session.execute(text("SELECT name FROM sqlite_master WHERE name = 'half'")).all()
        assert session.execute(text("SELECT MAX(number) FROM migrations")).scalar_one() == newest
    database.close()
    assert (tmp_path / f"studio.before-{newest + 1}.sqlite").exists()


def test_a_studio_from_a_newer_version_is_left_alone(tmp_path):
    path = tmp_path / "studio.sqlite"
    Database(path).close()
    with sqlite3.connect(path) as raw:
        raw.execute("INSERT INTO migrations VALUES (99, 'from the future')")
    raw.close()
    before = path.read_bytes()
    with pytest.raises(StudioError, match="newer version"):
        Database(path)
    assert path.read_bytes() == before


def test_a_damaged_database_gets_a_sentence(tmp_path):
    (tmp_path / "studio.sqlite").write_bytes(b"this is not a database at all, it is a shopping list" * 40)
    with pytest.raises(StudioError, match="damaged"):
        Database(tmp_path / "studio.sqlite")


def test_a_transaction_that_fails_changes_nothing(store, tmp_path):
    take = a_take(store, tmp_path)
    with pytest.raises(StudioError), store.database.atomic() as session:
        session.execute(text("UPDATE takes SET title = 'Changed'"))
        session.execute(text("INSERT INTO fits (take_id, data, made_at) VALUES (999, '{}', 'x')"))
    assert store.take(take.id).title == "First"


def test_students_and_takes_come_back_as_they_went_in(store, tmp_path):
    take = a_take(store, tmp_path)
    assert store.take(take.id) == take
    assert store.student(take.student_id).since == date(2026, 1, 2)
    assert store.instruments(take.student_id)[0].measured == {"hair_length": 640.0}
    (status,) = store.takes(take.student_id)
    assert (status.marked, status.analysed) == (False, False)
    store.save_fit(take.id, {"a": 1}, "t")
    store.save_fit(take.id, {"a": 2}, "t")
    assert store.latest_fit(take.id)[1] == {"a": 2}
    assert store.takes(take.student_id)[0].marked


def test_ids_of_students_and_takes_are_never_used_again(store, tmp_path):
    given = set()
    for _ in range(3):
        take = a_take(store, tmp_path)
        assert take.id not in given
        given.add(take.id)
        store.delete_take(take.id)
    last = max(s.id for s in store.students())
    for student in store.students():
        store.delete_student(student.id)
    assert a_take(store, tmp_path).student_id == last + 1


def test_deletion_really_deletes(store, tmp_path, measured):
    take = a_take(store, tmp_path)
    fit_id = store.save_fit(take.id, {"secret": "pins"}, "t")
    analysis = measured("demo-a1")
    folder = store.new_folder(take.id)
    write_whole(folder / "frames.csv", series_to_csv(analysis.series))
    store.save_analysis(
        take.id, fit_id, version="1", profile="Fiddle", made_at="t", folder=folder, summary={}, strokes=analysis.strokes,
        findings=analysis.findings,
    )  # fmt: skip
    assert store.latest_analysis(take.id).strokes == analysis.strokes
    store.delete_student(take.student_id)
    assert store.students() == []
    assert not folder.exists()
    store.close()
    left = (store.folder / "studio.sqlite").read_bytes()
    assert b"secret" not in left
    assert b"Petra" not in left


def test_a_gone_row_gets_a_sentence(store):
    with pytest.raises(StudioError, match="no longer in the studio"):
        store.take(77)
    with pytest.raises(StudioError, match="not a verdict"):
        store.judge(1, "perhaps")


def test_a_full_disk_changes_nothing(tmp_path, monkeypatch):
    path = tmp_path / "frames.csv"
    write_whole(path, "old")

    def full(fd):
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr("dolcezza.storage.files.os.fsync", full)
    with pytest.raises(StudioError, match="disk is full"):
        write_whole(path, "new and much longer")
    assert path.read_text() == "old"
    assert [p.name for p in tmp_path.iterdir()] == ["frames.csv"]


def test_the_record_reads_back(measured):
    analysis = measured("demo-a1")
    again = series_from_csv(series_to_csv(analysis.series))
    assert again.strings == analysis.series.strings
    for name, decimals in COLUMNS.items():
        if name != "string":
            assert np.allclose(again[name], analysis.series[name], atol=0.51 * 10.0**-decimals, equal_nan=True), name
    # as plain data: what is not known does not equal itself
    assert [stroke_to_dict(stroke_from_dict(stroke_to_dict(s))) for s in analysis.strokes] == [stroke_to_dict(s) for s in analysis.strokes]
    head = strokes_to_csv(analysis.strokes).splitlines()[0]
    assert head.startswith("start_s,end_s,direction,string,from_position,to_position,")


@settings(max_examples=30, deadline=None)
@given(st.lists(st.tuples(st.floats(-90, 90), st.sampled_from(["", "G", "D"])), max_size=12))
def test_any_record_reads_back(rows):
    n = len(rows)
    values = {name: np.full(n, np.nan) for name in COLUMNS if name != "string"}
    values["t_s"] = np.arange(n) / 30.0
    values["bow_angle_deg"] = np.array([r[0] for r in rows])
    again = series_from_csv(series_to_csv(BowSeries(values, [r[1] for r in rows])))
    assert again.strings == [r[1] for r in rows]
    assert np.allclose(again["bow_angle_deg"], values["bow_angle_deg"], atol=0.006)


def test_findings_read_back():
    count = Message("on strokes", {"n": 2, "of": 4})
    finding = Finding(
        "crooked", (1, 2), 4, (0.5, 1.25), 7.5, 1.0, 4.0, "deg", True, "why", Message("crooked.tip", {"count": count}), film=Message("film")
    )
    assert finding_from_dict(json.loads(json.dumps(finding_to_dict(finding)))) == finding
    nested = replace(finding, message=Message("tension", {"reasons": (count, count), "amount": "few"}))
    assert finding_from_dict(json.loads(json.dumps(finding_to_dict(nested)))) == nested


def test_findings_of_earlier_versions_keep_their_sentences():
    """Until version 0.1 a finding was kept with its English sentences."""
    old = {
        "kind": "crooked", "strokes": [1, 2], "of": 4, "evidence_s": [0.5], "value": 7.5, "sd": 1.0, "limit": 4.0, "unit": "deg",
        "sure": True, "cause": "arm does not open", "sentence": "The tip wanders.", "cause_text": "Probably the arm.",
        "against": "A lifted bow.", "film": "",
    }  # fmt: skip
    read, words = finding_from_dict(old), language("de")
    assert words.sentence(read.message) == "The tip wanders." and words.sentence(read.against) == "A lifted bow."
    assert read.film == NOTHING and words.cause(read.cause).startswith("Wahrscheinlich öffnet sich der Arm")


def test_a_pause_that_was_lifted_by_a_note_is_lifted_by_a_state(tmp_path):
    """A studio of format 5, in which the teacher's word after pain was a note: opened, the note has become a state and nothing is lost."""
    path = tmp_path / "studio.sqlite"
    engine = create_engine(f"sqlite:///{path}")
    migrate(engine, path, MIGRATIONS[:5])
    with engine.begin() as connection:
        connection.execute(text("INSERT INTO students (id, name, handed, profile, note, since, lesson_day, lesson_time) "
                                "VALUES (1, 'Runa', 'right', 'Franco-Belgian', '', '2026-01-01', -1, '')"))  # fmt: skip
        for what, pain, note in (("D1", 1, "sore"), ("D1", 0, "allowed again by the teacher"), ("D3", 1, "")):
            connection.execute(
                text(
                    "INSERT INTO practised (student_id, day, what, minutes, count, pain, note) VALUES (1, '2026-11-20', :w, 2, 0, :p, :n)"
                ),
                {"w": what, "p": pain, "n": note},
            )
    engine.dispose()
    database = Database(path)
    entries = PracticeBook(database).practised(1)
    assert [(e.what, e.pain, e.allowed, e.note) for e in reversed(entries)] == [
        ("D1", True, False, "sore"), ("D1", False, True, ""), ("D3", True, False, ""),
    ]  # fmt: skip
    database.close()
    assert (tmp_path / f"studio.before-{MIGRATIONS[-1].number}.sqlite").exists()


def test_a_profile_has_its_day_after_the_studio_was_opened_by_this_version(tmp_path):
    """A studio of format 6: since when a profile counts was not kept; the day on which the student began is as near as can be told."""
    path = tmp_path / "studio.sqlite"
    engine = create_engine(f"sqlite:///{path}")
    migrate(engine, path, MIGRATIONS[:6])
    with engine.begin() as connection:
        connection.execute(text("INSERT INTO students (id, name, handed, profile, note, since, lesson_day, lesson_time) "
                                "VALUES (1, 'Runa', 'right', 'Cello', 'Six.', '2026-01-05', 2, '16:30')"))  # fmt: skip
    engine.dispose()
    store = StudioStore(tmp_path)
    student = store.student(1)
    assert (student.profile, student.note, student.lesson_time) == ("Cello", "Six.", "16:30")
    assert (student.born, student.mobile_joints, student.had_pain) == (0, False, False)
    assert [(d.value, d.since) for d in store.hold.dated(1, "profile")] == [("Cello", date(2026, 1, 5))]
    store.close()


def test_plans_of_earlier_versions_keep_their_sentences():
    from dolcezza.services.practice import plan_from_dict, plan_to_dict

    old = {"days": [], "minutes_a_day": 10, "gave_way": ["Slow bows: no room"], "paused": ["Falling arm"], "notes": ["A step less."]}
    plan = plan_from_dict(old)
    assert language("de").sentences(plan.left_out) == "Slow bows: no room" and language("de").sentences(plan.notes) == "A step less."
    assert plan_from_dict(json.loads(json.dumps(plan_to_dict(plan)))) == plan
