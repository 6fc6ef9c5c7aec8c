"""The studio's database: open, migrate, atomic blocks; faults of SQLite in plain sentences."""

from __future__ import annotations

import weakref
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from sqlalchemy import Engine, create_engine, event, text
from sqlalchemy.exc import DatabaseError, IntegrityError, OperationalError
from sqlalchemy.orm import Session

from dolcezza.core.base.errors import StudioError
from dolcezza.storage.files import disk_faults
from dolcezza.storage.migrations import migrate

ONCE = ("students", "takes")
"""Tables whose ids are never used again: folders, undo and open windows go by them."""


class IdSession(Session):
    """A session whose new students and takes get ids that nobody had before."""


def new_id(session: Session, table: str) -> int:
    """An id of one of the ``ONCE`` tables that was never given away, not even to a row that is gone."""
    given = session.connection()
    known = f"SELECT MAX(COALESCE((SELECT last FROM ids WHERE name = :t), 0), COALESCE((SELECT MAX(id) FROM {table}), 0))"
    own = int(given.execute(text(known), {"t": table}).scalar_one()) + 1
    keep = "INSERT INTO ids (name, last) VALUES (:t, :own) ON CONFLICT (name) DO UPDATE SET last = :own"
    given.execute(text(keep), {"t": table, "own": own})
    return own


@event.listens_for(IdSession, "before_flush")
def _number(session: Session, _context: Any, _instances: Any) -> None:
    for row in session.new:
        table = getattr(row, "__tablename__", "")
        if table in ONCE and row.id is None:
            row.id = new_id(session, table)


def _fault(error: DatabaseError) -> StudioError:
    words = str(error.orig).lower()
    if "full" in words:
        return StudioError("The disk is full; nothing was changed.", "Make room and try again.")
    if "readonly" in words or "unable to open" in words:
        return StudioError("The studio folder may not be written.", "Choose another folder, or change its permissions.")
    if "locked" in words:
        return StudioError("The studio is in use by another window.", "Close the other one, then try again.")
    if "not a database" in words or "malformed" in words:
        return StudioError("The studio's database is damaged.", "Put back a copy, or choose another studio folder.")
    return StudioError(f"The studio could not be changed ({error.orig}).", "Try again.")


class Database:
    """One SQLite file. ``atomic`` is the only way to read or write it."""

    def __init__(self, path: Path) -> None:
        self.path = Path(path)
        with disk_faults(self.path):
            self.path.parent.mkdir(parents=True, exist_ok=True)
        self._engine: Engine = create_engine(f"sqlite:///{self.path}")
        # one that is only let go of, not closed, leaves no connection behind
        weakref.finalize(self, self._engine.dispose)

        @event.listens_for(self._engine, "connect")
        def _pragmas(connection: Any, _record: Any) -> None:
            # SQLAlchemy sends BEGIN itself, so that a migration's CREATE statements are inside its transaction
            connection.isolation_level = None
            connection.execute("PRAGMA foreign_keys = ON")
            connection.execute("PRAGMA busy_timeout = 5000")
            connection.execute("PRAGMA secure_delete = ON")

        @event.listens_for(self._engine, "begin")
        def _begin(connection: Any) -> None:
            connection.exec_driver_sql("BEGIN")

        try:
            self.version = migrate(self._engine, self.path)
        except DatabaseError as error:
            self.close()
            raise _fault(error) from error
        except StudioError:
            self.close()
            raise

    @contextmanager
    def atomic(self) -> Iterator[Session]:
        """A transaction: all of it happens, or nothing. Raises StudioError."""
        try:
            with IdSession(self._engine) as session, session.begin():
                yield session
        except IntegrityError as error:
            raise StudioError("This no longer fits what is in the studio.", "Reload and try again.") from error
        except (OperationalError, DatabaseError) as error:
            raise _fault(error) from error

    def close(self) -> None:
        """Let go of the file."""
        self._engine.dispose()
