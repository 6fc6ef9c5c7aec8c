"""What was agreed about keeping a student's videos and pictures, and what the program has written out of the studio."""

from __future__ import annotations

from datetime import date
from pathlib import Path

from sqlalchemy import delete, select

from dolcezza.storage.database import Database
from dolcezza.storage.records import Consent, Written
from dolcezza.storage.schema import ConsentRow, WrittenRow


class KeepingBook:
    """One method, one transaction."""

    def __init__(self, database: Database) -> None:
        self._db = database

    def agree(self, consent: Consent) -> Consent:
        """Keep what was agreed; the newest counts, earlier ones stay to be read."""
        with self._db.atomic() as session:
            row = ConsentRow(
                id=consent.id or None, student_id=consent.student_id, guardian=consent.guardian, agreed_on=consent.agreed_on.isoformat(),
                measuring=consent.measuring, pictures=consent.pictures, sharing=consent.sharing,
                until=consent.until.isoformat() if consent.until is not None else "", initials=consent.initials,
            )  # fmt: skip
            session.add(row)
            session.flush()
            return _consent(row)

    def unagree(self, consent_id: int) -> None:
        """Take it back."""
        with self._db.atomic() as session:
            session.execute(delete(ConsentRow).where(ConsentRow.id == consent_id))

    def consents(self, student_id: int) -> list[Consent]:
        """What was agreed for a student, oldest first."""
        with self._db.atomic() as session:
            rows = session.scalars(
                select(ConsentRow).where(ConsentRow.student_id == student_id).order_by(ConsentRow.agreed_on, ConsentRow.id)
            )
            return [_consent(r) for r in rows]

    def all_until(self) -> dict[int, date]:
        """Until when things may be kept, by student, only where a day was agreed."""
        with self._db.atomic() as session:
            rows = session.scalars(select(ConsentRow).order_by(ConsentRow.agreed_on, ConsentRow.id))
            newest = {r.student_id: r.until for r in rows}
        return {student: date.fromisoformat(until) for student, until in newest.items() if until}

    def wrote(self, written: Written) -> Written:
        """Note a file that was written for a student; the same path once."""
        with self._db.atomic() as session:
            session.execute(delete(WrittenRow).where(WrittenRow.student_id == written.student_id, WrittenRow.path == str(written.path)))
            row = WrittenRow(
                student_id=written.student_id, what=written.what, path=str(written.path), written_on=written.written_on.isoformat()
            )
            session.add(row)
            session.flush()
            return _written(row)

    def written(self, student_id: int) -> list[Written]:
        """Files that the program wrote for a student, newest first."""
        with self._db.atomic() as session:
            rows = session.scalars(
                select(WrittenRow).where(WrittenRow.student_id == student_id).order_by(WrittenRow.written_on.desc(), WrittenRow.id.desc())
            )
            return [_written(r) for r in rows]


def _consent(row: ConsentRow) -> Consent:
    until = date.fromisoformat(row.until) if row.until else None
    return Consent(
        row.student_id,
        row.guardian,
        date.fromisoformat(row.agreed_on),
        row.measuring,
        row.pictures,
        row.sharing,
        until,
        row.id,
        row.initials,
    )


def _written(row: WrittenRow) -> Written:
    return Written(row.student_id, row.what, Path(row.path), date.fromisoformat(row.written_on), row.id)
