"""What the studio keeps of building the hold: the teacher's answers, ticked steps, bows with marks; since when profile and stage count."""

from __future__ import annotations

import json
from datetime import date

from sqlalchemy import delete, select

from dolcezza.core.base.errors import StudioError
from dolcezza.core.hold.questions import UNCLEAR, questions
from dolcezza.storage.database import Database
from dolcezza.storage.records import Bow, Dated, HoldAnswer, HoldStep
from dolcezza.storage.schema import BowRow, DatedRow, HoldAnswerRow, HoldStepRow


class HoldBook:
    """One method, one transaction. What was kept before comes back under its own id."""

    def __init__(self, database: Database) -> None:
        self._db = database

    def say(self, said: HoldAnswer) -> HoldAnswer:
        """Keep an answer. Raises StudioError for one that the question does not have."""
        known = questions().get(said.question)
        if known is None or said.answer not in (*known.answers, UNCLEAR):
            raise StudioError(f"'{said.answer}' is no answer to '{said.question}'.", "Choose one of the answers.")
        with self._db.atomic() as session:
            row = HoldAnswerRow(
                id=said.id or None, student_id=said.student_id, question=said.question, answer=said.answer,
                said_on=said.said_on.isoformat(),
            )  # fmt: skip
            session.add(row)
            session.flush()
            return _answer(row)

    def unsay(self, answer_id: int) -> None:
        """Take an answer back."""
        with self._db.atomic() as session:
            session.execute(delete(HoldAnswerRow).where(HoldAnswerRow.id == answer_id))

    def answers(self, student_id: int) -> list[HoldAnswer]:
        """All answers of a student, oldest first."""
        with self._db.atomic() as session:
            rows = session.scalars(
                select(HoldAnswerRow).where(HoldAnswerRow.student_id == student_id).order_by(HoldAnswerRow.said_on, HoldAnswerRow.id)
            )
            return [_answer(r) for r in rows]

    def tick(self, step: HoldStep) -> HoldStep:
        """Keep that a step was done."""
        with self._db.atomic() as session:
            row = HoldStepRow(
                id=step.id or None, student_id=step.student_id, method=step.method, step=step.step, done_on=step.done_on.isoformat()
            )
            session.add(row)
            session.flush()
            return _step(row)

    def untick(self, step_id: int) -> None:
        """Take a tick back."""
        with self._db.atomic() as session:
            session.execute(delete(HoldStepRow).where(HoldStepRow.id == step_id))

    def steps(self, student_id: int) -> list[HoldStep]:
        """Ticked steps of a student, oldest first."""
        with self._db.atomic() as session:
            rows = session.scalars(
                select(HoldStepRow).where(HoldStepRow.student_id == student_id).order_by(HoldStepRow.done_on, HoldStepRow.id)
            )
            return [_step(r) for r in rows]

    def keep_bow(self, bow: Bow) -> Bow:
        """Keep a bow with its marks; one that is there already is changed."""
        with self._db.atomic() as session:
            row = session.get(BowRow, bow.id) if bow.id else None
            if row is None:
                row = BowRow(id=bow.id or None, student_id=bow.student_id)
                session.add(row)
            row.name, row.marks = bow.name, json.dumps(bow.marks)
            session.flush()
            return _bow(row)

    def drop_bow(self, bow_id: int) -> None:
        """Take a bow away."""
        with self._db.atomic() as session:
            session.execute(delete(BowRow).where(BowRow.id == bow_id))

    def bows(self, student_id: int) -> list[Bow]:
        """Bows of a student, the one that is played last."""
        with self._db.atomic() as session:
            return [_bow(r) for r in session.scalars(select(BowRow).where(BowRow.student_id == student_id).order_by(BowRow.id))]

    def note(self, dated: Dated) -> Dated:
        """Keep since when something counts."""
        with self._db.atomic() as session:
            row = DatedRow(
                id=dated.id or None, student_id=dated.student_id, what=dated.what, value=dated.value, since=dated.since.isoformat()
            )
            session.add(row)
            session.flush()
            return _dated(row)

    def unnote(self, dated_id: int) -> None:
        """Take it back."""
        with self._db.atomic() as session:
            session.execute(delete(DatedRow).where(DatedRow.id == dated_id))

    def dated(self, student_id: int, what: str) -> list[Dated]:
        """Since when which ``what`` (profile, stage) counted, oldest first."""
        with self._db.atomic() as session:
            rows = session.scalars(
                select(DatedRow).where(DatedRow.student_id == student_id, DatedRow.what == what).order_by(DatedRow.since, DatedRow.id)
            )
            return [_dated(r) for r in rows]


def _answer(row: HoldAnswerRow) -> HoldAnswer:
    return HoldAnswer(row.student_id, row.question, row.answer, date.fromisoformat(row.said_on), row.id)


def _step(row: HoldStepRow) -> HoldStep:
    return HoldStep(row.student_id, row.method, row.step, date.fromisoformat(row.done_on), row.id)


def _bow(row: BowRow) -> Bow:
    return Bow(row.student_id, row.name, {k: float(v) for k, v in json.loads(row.marks).items()}, row.id)


def _dated(row: DatedRow) -> Dated:
    return Dated(row.student_id, row.what, row.value, date.fromisoformat(row.since), row.id)
