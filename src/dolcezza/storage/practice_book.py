"""Practice plans and the practice log."""

from __future__ import annotations

import json
from datetime import date
from typing import Any

from sqlalchemy import delete, select

from dolcezza.storage.database import Database
from dolcezza.storage.records import Practised
from dolcezza.storage.schema import PlanRow, PractisedRow


class PracticeBook:
    """One method, one transaction."""

    def __init__(self, database: Database) -> None:
        self._db = database

    def save_plan(self, student_id: int, begins: date, data: dict[str, Any], made_at: str) -> int:
        """Keep a plan as plain JSON data; older ones stay. Returns its id."""
        with self._db.atomic() as session:
            row = PlanRow(student_id=student_id, begins=begins.isoformat(), data=json.dumps(data), made_at=made_at)
            session.add(row)
            session.flush()
            return row.id

    def plans(self, student_id: int) -> list[tuple[int, date, dict[str, Any]]]:
        """Plans of a student with ids and first days, newest first."""
        with self._db.atomic() as session:
            rows = session.scalars(
                select(PlanRow).where(PlanRow.student_id == student_id).order_by(PlanRow.begins.desc(), PlanRow.id.desc())
            )
            return [(r.id, date.fromisoformat(r.begins), json.loads(r.data)) for r in rows]

    def delete_plan(self, plan_id: int) -> None:
        """Forget a plan."""
        with self._db.atomic() as session:
            session.execute(delete(PlanRow).where(PlanRow.id == plan_id))

    def log(self, entry: Practised) -> Practised:
        """Keep what was practised; an entry that was kept before comes back under its own id."""
        with self._db.atomic() as session:
            row = PractisedRow(
                id=entry.id or None, student_id=entry.student_id, day=entry.day.isoformat(), what=entry.what, minutes=entry.minutes,
                count=entry.count, pain=entry.pain, note=entry.note, allowed=entry.allowed,
            )  # fmt: skip
            session.add(row)
            session.flush()
            return _practised(row)

    def practised(self, student_id: int) -> list[Practised]:
        """The log of a student, newest day first."""
        with self._db.atomic() as session:
            rows = session.scalars(
                select(PractisedRow).where(PractisedRow.student_id == student_id).order_by(PractisedRow.day.desc(), PractisedRow.id.desc())
            )
            return [_practised(r) for r in rows]

    def unlog(self, entry_id: int) -> None:
        """Take an entry back."""
        with self._db.atomic() as session:
            session.execute(delete(PractisedRow).where(PractisedRow.id == entry_id))


def _practised(row: PractisedRow) -> Practised:
    return Practised(row.student_id, date.fromisoformat(row.day), row.what, row.minutes, row.count, row.pain, row.note, row.allowed, row.id)
