"""An edit, an undo or a removal has happened in database and files, or in neither, wherever it was stopped; a sweep clears the rest."""

from __future__ import annotations

import pytest

from dolcezza.core.strokes.edits import EditKind
from dolcezza.services import corrections
from dolcezza.storage.studio import StudioStore


class Killed(BaseException):
    """The process ends here."""


def state(studio, take):
    """What the database and the files say of a take."""
    stored = studio.analysis(take)
    rows = (stored.folder / "strokes.csv").read_text().count("\n") - 1
    fit = studio.fit(take)
    return stored.folder.name, len(stored.strokes), rows, len(fit.strokes), [j.finding.kind for j in stored.findings]


def drop_first(fit):
    return corrections.stroke(fit, 1.0, EditKind.DELETE)


def takes_folder(studio, take):
    return studio.folder / "takes" / str(take.id)


def test_an_edit_leaves_the_old_state_as_it_was_and_undo_points_back_to_it(mend):
    before, after = mend(drop_first)
    assert after.folder != before.folder
    assert before.folder.is_dir()
    assert len(after.strokes) == len(before.strokes) - 1
    mend.studio.undo.undo()
    back = mend.studio.analysis(mend.take)
    assert back.folder == before.folder
    assert back.strokes == before.strokes
    mend.studio.undo.redo()
    again = mend.studio.analysis(mend.take)
    assert (again.folder, again.strokes) == (after.folder, after.strokes)


def test_undo_keeps_no_measurement_in_memory(mend):
    """A state is a folder and some rows: pickled, one step is far below two megabytes (36 before)."""
    import pickle

    mend(drop_first)
    step = mend.studio.undo._done[-1]

    def held(f):
        for cell in getattr(f, "__closure__", None) or ():
            yield from held(cell.cell_contents) if callable(cell.cell_contents) else [cell.cell_contents]

    kept = [c for f in (step.undo, step.redo) for c in held(f) if isinstance(c, (corrections._Kept, int, str, list, dict))]
    assert any(isinstance(c, corrections._Kept) for c in kept)
    assert len(pickle.dumps(kept)) < 2_000_000


@pytest.mark.parametrize(
    ("where", "name"), [("before the files", "write_told"), ("between the files", "write_packed"), ("before the rows", "put_state")]
)
def test_an_edit_that_is_stopped_has_not_happened(mend, monkeypatch, where, name):
    studio, take = mend.studio, mend.take
    whole = state(studio, take)

    def stop(*_args, **_kwargs):
        raise Killed(where)

    monkeypatch.setattr(*((StudioStore, name) if name == "put_state" else (corrections, name)), stop)
    with pytest.raises(Killed):
        mend(drop_first)
    monkeypatch.undo()
    assert state(studio, take) == whole
    studio.sweep()
    assert state(studio, take) == whole
    assert [p.name for p in takes_folder(studio, take).iterdir()] == [whole[0]]


def test_rows_that_fail_half_way_change_nothing(mend, monkeypatch):
    from dolcezza.storage import studio as module

    whole = state(mend.studio, mend.take)

    def stop(*_args):
        raise Killed

    monkeypatch.setattr(module, "put_findings", stop)
    with pytest.raises(Killed):
        mend(drop_first)
    monkeypatch.undo()
    assert state(mend.studio, mend.take) == whole


def test_what_is_no_longer_wanted_goes_at_the_next_opening_and_nothing_else(mend):
    studio, take = mend.studio, mend.take
    mend(drop_first)
    whole = state(studio, take)
    assert len(list(takes_folder(studio, take).iterdir())) == 2
    (studio.folder / "takes" / "999").mkdir()
    (studio.folder / "takes" / "999" / "analysis-1").mkdir()
    (studio.folder / ".writing-abc").write_text("half")
    (studio.folder / "profiles").mkdir(exist_ok=True)
    (studio.folder / "profiles" / "mine.json").write_text("{}")
    studio.sweep()
    assert state(studio, take) == whole
    assert len(list(takes_folder(studio, take).iterdir())) == 1
    assert not (studio.folder / "takes" / "999").exists()
    assert not (studio.folder / ".writing-abc").exists()
    assert (studio.folder / "profiles" / "mine.json").exists()


def test_a_removal_that_is_stopped_after_the_rows_is_finished_at_the_next_opening(mend, monkeypatch):
    studio, take = mend.studio, mend.take
    folder = takes_folder(studio, take)

    def stop(*_args):
        raise Killed

    monkeypatch.setattr(StudioStore, "_remove", stop)
    with pytest.raises(Killed):
        studio.delete_take(take.id)
    monkeypatch.undo()
    assert folder.is_dir()
    studio.sweep()
    assert not folder.exists()


def test_a_student_who_is_removed_takes_every_state_along(mend):
    studio, take = mend.studio, mend.take
    mend(drop_first)
    (takes_folder(studio, take) / "analysis-9").mkdir()  # left by something that was killed
    studio.delete_student(take.student_id)
    assert not takes_folder(studio, take).exists()
