"""Dated copies of the studio's database: one a day, a week of them, put back where the database is damaged.

A copy is made by SQLite's own backup, so that it is whole whatever is being written. Whoever is removed goes from the copies too.
"""

from __future__ import annotations

import os
import re
import sqlite3
import tempfile
from contextlib import closing
from datetime import date
from pathlib import Path

from dolcezza.core.base.errors import StudioDamaged, StudioError
from dolcezza.storage.files import disk_faults, keep_private

DATABASE, FOLDER, KEPT = "studio.sqlite", "backups", 7
_NAME = re.compile(r"studio-(\d{4}-\d\d-\d\d)\.sqlite")


def copies(studio: Path) -> list[tuple[date, Path]]:
    """Days and files of the copies, newest first."""
    out = []
    for path in (Path(studio) / FOLDER).glob("studio-*.sqlite"):
        found = _NAME.fullmatch(path.name)
        if found is not None:
            try:
                out.append((date.fromisoformat(found[1]), path))
            except ValueError:
                continue
    return sorted(out, reverse=True)


def whole(database: Path) -> bool:
    """Whether a file is a database that holds together (SQLite's own quick check) and has the studio's tables.

    It is opened for writing: what a killed program left half written is rolled back by its journal first, which is no damage. One that
    another program is writing just now is none either.
    """
    try:
        with closing(sqlite3.connect(f"file:{database}?mode=rw", uri=True)) as connection:
            good = connection.execute("PRAGMA quick_check(1)").fetchone() == ("ok",)
            return good and bool(connection.execute("SELECT count(*) FROM sqlite_master WHERE name = 'students'").fetchone()[0])
    except sqlite3.OperationalError as error:
        return "locked" in str(error)
    except (sqlite3.Error, UnicodeDecodeError):
        # what SQLite says is wrong may be told in the damaged text's own bytes
        return False


def back_up(database: Path, today: date) -> Path | None:
    """Copy the database, once a day; copies beyond a week of them go. None where today's is there already. Raises StudioError."""
    folder = Path(database).parent / FOLDER
    target = folder / f"studio-{today.isoformat()}.sqlite"
    if target.exists():
        return None
    keep_private(folder)
    with disk_faults(target):
        handle, name = tempfile.mkstemp(dir=folder, prefix=".writing-")
        os.close(handle)
        try:
            with closing(sqlite3.connect(database)) as source, closing(sqlite3.connect(name)) as copy:
                source.backup(copy)
            Path(name).replace(target)
        except sqlite3.Error as error:
            Path(name).unlink(missing_ok=True)
            raise StudioError(f"The studio could not be copied ({error}).", "Make room, or check the folder.") from error
        for _, old in copies(folder.parent)[KEPT:]:
            old.unlink(missing_ok=True)
    return target


def forget(studio: Path, database: Path, today: date) -> None:
    """Somebody was removed: no copy may hold them any more (nor what a migration or a damage left), so there is only one, of now. Raises
    StudioError."""
    with disk_faults(studio):
        for path in [*(path for _, path in copies(studio)), *Path(studio).glob("studio.*.sqlite")]:
            path.unlink(missing_ok=True)
    back_up(database, today)


def check(database: Path) -> None:
    """Refuse a database that is damaged, or empty beside a studio that is not. Raises StudioDamaged; a new studio is no fault."""
    database = Path(database)
    kept = copies(database.parent)
    there = database.exists() and database.stat().st_size > 0
    if not there and not kept:
        return
    if there and (whole(database) or not _looks_like_one(database)):
        return
    words = "is damaged" if there else "is empty, though this studio had one"
    newest = f"the one of {kept[0][0]:%d %B %Y}" if kept else "none is there"
    raise StudioDamaged(f"The studio's database {words}.", f"Put back a copy ({newest}), or choose another studio folder.")


def _looks_like_one(database: Path) -> bool:
    """Whether it may be trusted to SQLite at all; what is no database is said when it is opened."""
    with database.open("rb") as handle:
        return handle.read(15) == b"SQLite format 3"


def put_back(studio: Path, copy: Path) -> Path:
    """Put a copy in the database's place; the damaged one stays beside it under another name. Returns that name. Raises StudioError."""
    database = Path(studio) / DATABASE
    if not whole(copy):
        raise StudioError(f"The copy {copy.name} is damaged too.", "Choose an older one.")
    number = 1
    while (aside := database.with_name(f"studio.damaged-{number}.sqlite")).exists():
        number += 1
    with disk_faults(database):
        handle, name = tempfile.mkstemp(dir=studio, prefix=".writing-")
        os.close(handle)
        try:
            with closing(sqlite3.connect(copy)) as source, closing(sqlite3.connect(name)) as target:
                source.backup(target)
        except sqlite3.Error as error:
            Path(name).unlink(missing_ok=True)
            raise StudioError(f"The copy {copy.name} could not be put back ({error}).", "Choose an older one.") from error
        if database.exists():
            database.replace(aside)
        for rest in ("-journal", "-wal", "-shm"):
            database.with_name(database.name + rest).unlink(missing_ok=True)
        Path(name).replace(database)
    return aside
