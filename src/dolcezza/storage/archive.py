"""Students in and out of a studio as one open file: a zip of JSON tables, the open files of each measurement and, if wished, the videos.

The tables are those of the database, whatever they are: what is added there is carried too. Coming in, every row gets a new id, so that
nothing in the studio is written over.
"""

from __future__ import annotations

import json
import os
import re
import shutil
import tempfile
import zipfile
import zlib
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import date
from pathlib import Path, PurePosixPath
from typing import Any

from sqlalchemy import Table, insert, select
from sqlalchemy.orm import Session

from dolcezza.core.base.errors import UNREADABLE, StudioError
from dolcezza.storage.database import ONCE, Database, new_id
from dolcezza.storage.files import disk_faults
from dolcezza.storage.schema import Base

FORMAT, VERSION = "dolcezza archive", 1
HEAD = "archive.json"
STAYS = ("migrations", "ids", "written")
"""Tables of this machine: what steps its database took, which ids it gave away, which files were written on it."""
SHOWN = ("takes", "hands")
"""Tables whose rows name a video or a picture in ``path``."""
MOST_TABLE = 512 * 1024**2
"""Larger tables (bytes) are no studio's."""
MARGIN = 64 * 1024**2
"""So much of the disk (bytes) stays free."""
_FAULTS = (zipfile.BadZipFile, zlib.error, NotImplementedError, RuntimeError, EOFError)
"""What a damaged, locked or foreign zip ends in."""
_DAYS = ("since", "played_on", "taken_on", "said_on", "begins", "day", "done_on", "agreed_on", "until")
_JSON = ("measured", "data", "summary", "marks", "answers")
_MEASURED = re.compile(r"takes/(\d+)/(analysis-\d+)/([^/\\]+)")
_MEDIA = re.compile(r"media/(takes|hands)/(\d+)/([^/\\]+)")

Rows = list[dict[str, Any]]


def carried() -> list[Table]:
    """Tables that an archive holds, parents before their children."""
    return [t for t in Base.metadata.sorted_tables if t.name not in STAYS]


@dataclass(frozen=True)
class Content:
    """What an archive holds. ``tables``: rows by table; ``papers``: other texts by their path in the archive; ``members``: the archive's
    other files, size in bytes by path."""

    written_on: str
    tables: dict[str, Rows]
    papers: dict[str, str] = field(default_factory=dict)
    members: dict[str, int] = field(default_factory=dict)

    def media(self, table: str, row_id: int) -> str | None:
        """Path in the archive of a take's video or a picture of the hand, if it is in there."""
        start = f"media/{table}/{row_id}/"
        return next((m for m in self.members if m.startswith(start)), None)


def rows_of(database: Database, students: Sequence[int]) -> dict[str, Rows]:
    """All rows that belong to students, by table."""
    out: dict[str, Rows] = {}
    with database.atomic() as session:
        for table in carried():
            parent = next(iter(_parents(table).items()), None)
            wanted = table.c.id.in_(students) if parent is None else table.c[parent[0]].in_([r["id"] for r in out[parent[1]]])
            out[table.name] = [dict(r) for r in session.execute(select(table).where(wanted).order_by(*table.primary_key)).mappings()]
    return out


def _parents(table: Table) -> dict[str, str]:
    """Columns that point to other tables, and those tables."""
    return {c.name: next(iter(c.foreign_keys)).column.table.name for c in table.c if c.foreign_keys}


@contextmanager
def new_archive(target: Path) -> Iterator[zipfile.ZipFile]:
    """An archive to be filled; it is there when it is whole, and not at all if something goes wrong. Raises StudioError."""
    target = Path(target)
    with disk_faults(target):
        handle, name = tempfile.mkstemp(dir=target.parent, prefix=".writing-", suffix=".zip")
        os.close(handle)
        try:
            with zipfile.ZipFile(name, "w", zipfile.ZIP_DEFLATED) as out:
                yield out
            Path(name).replace(target)
        finally:
            Path(name).unlink(missing_ok=True)


def put_head(out: zipfile.ZipFile, content: Content) -> None:
    """Write the head, the tables and the papers."""
    head = {
        "format": FORMAT,
        "version": VERSION,
        "written_on": content.written_on,
        "students": [r["name"] for r in content.tables["students"]],
    }
    out.writestr(HEAD, json.dumps(head, indent=1, ensure_ascii=False))
    for name, rows in content.tables.items():
        out.writestr(f"tables/{name}.json", json.dumps(rows, indent=0, ensure_ascii=False))
    for path, text in content.papers.items():
        out.writestr(path, text)


def read_content(archive: zipfile.ZipFile) -> Content:
    """What an archive holds, looked through before anything is done with it. Raises StudioError."""
    try:
        head = json.loads(_small(archive, HEAD))
        if head["format"] != FORMAT:
            raise StudioError("This is not an archive of a studio.", "Choose a file that was written as one.")
        if head["version"] > VERSION:
            raise StudioError("This archive was written by a newer version of Dolcezza.", "Update Dolcezza, then take it in.")
        names = set(archive.namelist())
        tables = {t.name: _checked(t, json.loads(_small(archive, path))) for t in carried() if (path := f"tables/{t.name}.json") in names}
        if extra := {n for n in names if n.startswith("tables/")} - {f"tables/{n}.json" for n in tables}:
            raise StudioError(f"This archive holds what this version does not know ({', '.join(sorted(extra))}).", "Update Dolcezza.")
        full = {t.name: tables.get(t.name, []) for t in carried()}
        _belongs(full)
        papers = {n: _small(archive, n) for n in names if re.fullmatch(r"(profiles|exercises|notation|checks|pairs)/[^/\\]+", n)}
        members = {i.filename: i.file_size for i in archive.infolist() if _MEASURED.fullmatch(i.filename) or _MEDIA.fullmatch(i.filename)}
        return Content(str(head["written_on"]), full, papers, members)
    except (OSError, *_FAULTS, *UNREADABLE) as error:
        raise StudioError("This archive is damaged.", "Choose another copy of it.") from error


def _small(archive: zipfile.ZipFile, path: str) -> str:
    if archive.getinfo(path).file_size > MOST_TABLE:
        raise StudioError(f"{path} in this archive is too large to be a table.", "Choose another copy of it.")
    return archive.read(path).decode("utf-8")


def _checked(table: Table, rows: Any) -> Rows:
    """Rows whose columns are those of the table, each of its kind, days that are days and JSON that is JSON."""
    for row in rows:
        for name, value in row.items():
            kind = table.c[name].type.python_type
            if not isinstance(value, (int, float) if kind is float else kind) or (kind is int and isinstance(value, bool)):
                raise ValueError(f"{table.name}.{name} is {value!r}")
            if name in _DAYS and (value or name != "until"):
                date.fromisoformat(str(value))
            if name in _JSON and value:
                json.loads(str(value))
        if missing := [c.name for c in table.c if c.name not in row and c.server_default is None]:
            raise ValueError(f"{table.name} without {missing}")
    return list(rows)


def _belongs(tables: dict[str, Rows]) -> None:
    """Refuse rows that point nowhere: what they say would be lost without a word. Raises StudioError."""
    there = {name: {r["id"] for r in rows if "id" in r} for name, rows in tables.items()}
    for table in carried():
        for column, parent in _parents(table).items():
            if any(r[column] not in there[parent] for r in tables[table.name]):
                raise StudioError("This archive is damaged: something in it belongs to nobody.", "Choose another copy of it.")


def disk_of(folder: Path) -> int:
    """The number of the disk that a folder lies on. Raises StudioError."""
    with disk_faults(folder):
        return folder.stat().st_dev


def room_for(wanted: Sequence[tuple[Path, int]]) -> None:
    """Refuse what the disks cannot hold, before it is begun; ``wanted``: folders, which need not be there yet, and how much (bytes) goes
    into each. Raises StudioError."""
    disks: dict[int, tuple[Path, int]] = {}
    for folder, size in wanted:
        there = next(p for p in (folder.absolute(), *folder.absolute().parents) if p.is_dir())
        disk = disk_of(there)
        disks[disk] = (there, disks.get(disk, (there, 0))[1] + size)
    for folder, size in disks.values():
        with disk_faults(folder):
            if shutil.disk_usage(folder).free < size + MARGIN:
                raise StudioError(f"The disk has no room for {size / 1024**2:.0f} MB more.", "Make room and try again.")


def unpack(archive: zipfile.ZipFile, member: str, target: Path) -> None:
    """One file out of an archive, whole or not at all. Raises StudioError."""
    with disk_faults(target):
        target.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        handle, name = tempfile.mkstemp(dir=target.parent, prefix=".writing-")
        try:
            with os.fdopen(handle, "wb") as out, archive.open(member) as source:
                shutil.copyfileobj(source, out, 1 << 20)
            Path(name).replace(target)
        except _FAULTS as error:
            raise StudioError(f"{member} in this archive is damaged.", "Choose another copy of it.") from error
        finally:
            Path(name).unlink(missing_ok=True)


def place_of(member: str, base: Path) -> Path | None:
    """Where a measurement's file of the archive lies under ``base`` (as take/analysis/file); None for other files."""
    found = _MEASURED.fullmatch(member)
    return base / found[1] / found[2] / PurePosixPath(found[3]).name if found and found[3] not in (".", "..") else None


def newest_only(tables: dict[str, Rows]) -> None:
    """Leave out, in place, every measurement of a take but the one that counts: the others' files are not carried."""
    newest: dict[int, int] = {}
    for row in tables["analyses"]:
        newest[row["take_id"]] = max(row["id"], newest.get(row["take_id"], 0))
    kept = set(newest.values())
    tables["analyses"] = [r for r in tables["analyses"] if r["id"] in kept]
    for name in ("strokes", "findings"):
        tables[name] = [r for r in tables[name] if r["analysis_id"] in kept]


def bring_in(database: Database, tables: dict[str, Rows], base: Path) -> dict[int, int]:
    """One transaction: rows in under new ids, and the takes' folders from ``base`` (by old id) beside it under their new ones; or neither.

    Returns the takes' new ids by their old ones. Raises StudioError.
    """
    newest_only(tables)
    moved: list[Path] = []
    try:
        with disk_faults(base), database.atomic() as session:
            takes = _put_rows(session, tables)["takes"]
            for old, take in takes.items():
                target = base.parent / str(take)
                if target.exists():
                    shutil.rmtree(target)
                if (base / str(old)).is_dir():
                    (base / str(old)).rename(target)
                    moved.append(target)
    except BaseException:
        for path in moved:
            shutil.rmtree(path, ignore_errors=True)
        raise
    return takes


def _put_rows(session: Session, tables: dict[str, Rows]) -> dict[str, dict[int, int]]:
    """Put rows into the database with ids of their own. Returns the new ids by table and old id."""
    ids: dict[str, dict[int, int]] = {}
    for table in carried():
        ids[table.name] = {}
        for old in tables[table.name]:
            row = {k: v for k, v in old.items() if k != "id"}
            row |= {column: ids[parent][old[column]] for column, parent in _parents(table).items()}
            if table.name == "analyses":
                row["folder"] = f"takes/{row['take_id']}/{PurePosixPath(old['folder']).name}"
            if table.name in ONCE:
                row["id"] = new_id(session, table.name)
            if "id" in old:
                ids[table.name][old["id"]] = session.execute(insert(table).values(row).returning(table.c.id)).scalar_one()
            else:
                session.execute(insert(table).values(row))
    return ids
