"""The teacher's word: other wordings of findings, remarks of their own, and what is dismissed for good."""

from __future__ import annotations

import json
from collections.abc import Sequence
from datetime import date

from sqlalchemy import delete, select, update
from sqlalchemy.orm import Session

from dolcezza.core.base.errors import StudioError
from dolcezza.storage.database import Database
from dolcezza.storage.records import Dismissal, JudgedFinding, Remark, Verdict
from dolcezza.storage.schema import DismissalRow, FindingRow, RemarkRow
from dolcezza.storage.tables import finding_from_dict, finding_to_dict


def put_findings(session: Session, analysis_id: int, findings: Sequence[JudgedFinding]) -> None:
    """Other findings for an analysis, within a transaction; those with an id keep it."""
    session.execute(delete(FindingRow).where(FindingRow.analysis_id == analysis_id))
    # known ids first, so that a new row cannot take one of them
    for k, j in sorted(enumerate(findings), key=lambda pair: pair[1].id == 0):
        row = FindingRow(id=j.id or None, analysis_id=analysis_id, place=k, data=json.dumps(finding_to_dict(j.finding)))
        row.verdict, row.reason, row.wording = j.verdict, j.reason, j.wording
        session.add(row)
        session.flush()


class WordBook:
    """One method, one transaction."""

    def __init__(self, database: Database) -> None:
        self._db = database

    def reword(self, finding_id: int, wording: str) -> None:
        """Keep the teacher's words for a finding; "" gives the program's own back."""
        with self._db.atomic() as session:
            session.execute(update(FindingRow).where(FindingRow.id == finding_id).values(wording=wording))

    def unchanged(self, judged: JudgedFinding) -> None:
        """Raise StudioError when somebody else has meanwhile said something about a finding, or it is gone."""
        with self._db.atomic() as session:
            row = session.get(FindingRow, judged.id)
            if row is None:
                raise StudioError("This finding is no longer there: the video was analysed or judged again.", "Look at the new findings.")
            if (row.verdict, row.wording) != (judged.verdict, judged.wording):
                said = row.verdict if row.verdict != judged.verdict else "put in other words"
                raise StudioError(f"This finding was {said} meanwhile, in another window.", "Nothing is lost: look again, then decide.")

    def replace_findings(self, analysis_id: int, findings: Sequence[JudgedFinding]) -> list[JudgedFinding]:
        """Other findings for an analysis, with what was said of them; those with an id keep it. Returns the old ones."""
        with self._db.atomic() as session:
            old = _findings(session, analysis_id)
            put_findings(session, analysis_id, findings)
            return old

    def findings(self, analysis_id: int) -> list[JudgedFinding]:
        """The findings of an analysis with what was said of them."""
        with self._db.atomic() as session:
            return _findings(session, analysis_id)

    def add_remark(self, remark: Remark) -> Remark:
        """Keep a remark; one that was kept before comes back under its own id."""
        with self._db.atomic() as session:
            row = RemarkRow(
                id=remark.id or None, take_id=remark.take_id, t_s=remark.t_s, text=remark.text, said_on=remark.said_on.isoformat()
            )
            session.add(row)
            session.flush()
            return _remark(row)

    def remarks(self, take_id: int) -> list[Remark]:
        """Remarks of a take in the order of their moments."""
        with self._db.atomic() as session:
            return [_remark(r) for r in session.scalars(select(RemarkRow).where(RemarkRow.take_id == take_id).order_by(RemarkRow.t_s))]

    def delete_remark(self, remark_id: int) -> None:
        """Forget a remark."""
        with self._db.atomic() as session:
            session.execute(delete(RemarkRow).where(RemarkRow.id == remark_id))

    def dismiss(self, said: Dismissal) -> Dismissal:
        """Remember that a kind of finding is not to be raised any more."""
        with self._db.atomic() as session:
            row = DismissalRow(
                id=said.id or None, student_id=said.student_id, profile=said.profile, kind=said.kind, cause=said.cause, reason=said.reason,
                value=said.value, said_on=said.said_on.isoformat(),
            )  # fmt: skip
            session.add(row)
            session.flush()
            return _dismissal(row)

    def dismissals(self, student_id: int, profile: str) -> list[Dismissal]:
        """What is dismissed for good for a student under a profile."""
        with self._db.atomic() as session:
            rows = session.scalars(select(DismissalRow).where(DismissalRow.student_id == student_id, DismissalRow.profile == profile))
            return [_dismissal(r) for r in rows]

    def raise_again(self, dismissal_id: int) -> None:
        """Raise it again from now on."""
        with self._db.atomic() as session:
            session.execute(delete(DismissalRow).where(DismissalRow.id == dismissal_id))


def _remark(row: RemarkRow) -> Remark:
    return Remark(row.take_id, row.t_s, row.text, date.fromisoformat(row.said_on), row.id)


def _dismissal(row: DismissalRow) -> Dismissal:
    return Dismissal(row.student_id, row.profile, row.kind, row.cause, row.reason, row.value, date.fromisoformat(row.said_on), row.id)


def _findings(session: Session, analysis_id: int) -> list[JudgedFinding]:
    rows = session.scalars(select(FindingRow).where(FindingRow.analysis_id == analysis_id).order_by(FindingRow.place)).all()
    return [JudgedFinding(finding_from_dict(json.loads(r.data)), Verdict(r.verdict), r.reason, r.id, r.wording) for r in rows]
