"""What was to be played in each take, as the exercise's own text."""

from __future__ import annotations

from sqlalchemy import delete

from dolcezza.storage.database import Database
from dolcezza.storage.schema import AssignmentRow


class AssignmentBook:
    """One method, one transaction."""

    def __init__(self, database: Database) -> None:
        self._db = database

    def set(self, take_id: int, text: str) -> None:
        """Keep what was to be played; "" takes it back."""
        with self._db.atomic() as session:
            session.execute(delete(AssignmentRow).where(AssignmentRow.take_id == take_id))
            if text:
                session.add(AssignmentRow(take_id=take_id, exercise=text))

    def of(self, take_id: int) -> str:
        """What was to be played in a take, "" = nothing was said."""
        with self._db.atomic() as session:
            row = session.get(AssignmentRow, take_id)
            return row.exercise if row is not None else ""
