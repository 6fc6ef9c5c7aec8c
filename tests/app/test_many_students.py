"""A studio of two hundred: a dozen queries however many there are, a field to look for one, filters; the list stays while one is chosen."""

from __future__ import annotations

from datetime import date, datetime, timedelta

import pytest
from sqlalchemy import event

from dolcezza.app.models.selection import Selection
from dolcezza.app.views.students import StudentsView
from dolcezza.services.agenda import shown, waiting
from dolcezza.services.studio import Studio
from dolcezza.storage.records import OwnedInstrument, Student, Take

NOW = datetime(2026, 11, 28, 9, 0)  # a Saturday
MANY, TAKES = 200, 10


@pytest.fixture(scope="module")
def full(tmp_path_factory):
    folder = tmp_path_factory.mktemp("many")
    studio = Studio(folder)
    store = studio.store
    for k in range(MANY):
        name = f"{['Oda', 'Bram', 'Ines', 'Ludo'][k % 4]} {k:03d}"
        student = store.add_student(
            Student(name, since=date(2026, 1, 1), lesson_day=k % 7 if k % 3 else -1, lesson_time="15:00", note=f"row {k}")
        )
        owned = store.add_instrument(OwnedInstrument(student.id, "cello 4/4" if k % 5 == 0 else "violin 3/4"))
        for j in range(TAKES):
            day = NOW.date() - timedelta(days=7 * j + (0 if k % 2 else 45))
            take = store.add_take(Take(student.id, owned.id, f"take {j}", day, folder / f"{k}-{j}.mp4", f"{k}-{j}", 1280, 720, 12.0))
            if j % 2:
                store.save_fit(take.id, {"pins": []}, "x")
    yield studio
    studio.close()


def queries(studio, do) -> int:
    count = []

    def note(*_args):
        count.append(1)

    event.listen(studio.store.database._engine, "before_cursor_execute", note)
    try:
        do()
    finally:
        event.remove(studio.store.database._engine, "before_cursor_execute", note)
    return len(count)


def test_a_dozen_queries_for_the_whole_list(full):
    assert queries(full, lambda: waiting(full, NOW)) <= 12


def test_the_list_says_the_same_as_each_student_alone(full):
    listed = waiting(full, NOW)
    assert len(listed) == MANY
    for one in listed[::37]:
        assert list(one.takes) == full.takes(one.student.id)
        assert one.instrument == full.store.instruments(one.student.id)[-1].name
        assert [t.marked for t in one.takes[:4]] == [False, True, False, True]


def test_search_and_filters(full):
    listed = waiting(full, NOW)
    assert {w.student.name.split()[0] for w in shown(listed, "ines", "all", NOW)} == {"Ines"}
    assert all(w.instrument.startswith("cello") for w in shown(listed, "CELLO oda", "all", NOW))
    assert {w.student.note for w in shown(listed, "ines row 17", "all", NOW)} == {"row 170", "row 174", "row 178"}
    soon = shown(listed, "", "soon", NOW)
    assert {w.student.lesson_day for w in soon} == {5, 6}  # Saturday and Sunday
    away = shown(listed, "", "away", NOW)
    assert {int(w.student.note.split()[1]) % 2 for w in away} == {0}
    assert len(away) == MANY // 2


def test_choosing_one_leaves_the_rows_and_asks_little(full, qtbot):
    view = StudentsView(full, Selection())
    qtbot.addWidget(view)
    view.clock = lambda: NOW
    view.reload()
    view.show()
    rows = dict(view.students.rows)
    assert len(rows) == MANY
    chosen = list(rows)[50]
    assert queries(full, lambda: rows[chosen].chosen.emit(chosen)) < 40
    assert view.students.rows == rows
    assert view.heading.text() == full.store.student(chosen).name
    assert [k for k, row in rows.items() if row.property("chosen")] == [chosen]
    view.students.search.setText("bram 001")
    assert len(view.students.rows) == 1
    view.students.search.setText("nobody at all")
    assert not view.students.rows
    view.students.search.clear()
    view.students.filter.setCurrentIndex(2)
    assert len(view.students.rows) == MANY // 2


def test_few_students_need_no_search(tmp_path, qtbot):
    studio = Studio(tmp_path / "few")
    studio.add_student("Ottoline Brandt", "violin 4/4")
    view = StudentsView(studio, Selection())
    qtbot.addWidget(view)
    view.show()
    assert not view.students.search.isVisible()
    assert len(view.students.rows) == 1
    view._choose(99)
    assert view._selection.student is not None
    studio.close()
