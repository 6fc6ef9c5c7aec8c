"""What the studio keeps of hands: stills with what was told and answered, and what was felt."""

from __future__ import annotations

import json
import math
from dataclasses import replace
from datetime import date
from pathlib import Path

from sqlalchemy import delete, select

from dolcezza.core.base.errors import StudioError
from dolcezza.core.hold.felt import ANSWERS, FELT_TESTS
from dolcezza.core.hold.figures import Hold
from dolcezza.storage.database import Database
from dolcezza.storage.plain import from_plain, to_plain
from dolcezza.storage.records import FeltAnswer, HandStill
from dolcezza.storage.schema import FeltRow, HandRow

ROLES = ("relaxed", "upright", "frog", "tip", "hold")


class HandBook:
    """One method, one transaction."""

    def __init__(self, database: Database) -> None:
        self._db = database

    def add_still(self, still: HandStill) -> HandStill:
        """Keep a still; one that was kept before comes back under its own id. Raises StudioError."""
        if still.role not in ROLES:
            raise StudioError(f"'{still.role}' is not what a picture of a hand can be for.", f"One of: {', '.join(ROLES)}.")
        with self._db.atomic() as session:
            row = HandRow(
                id=still.id or None, student_id=still.student_id, role=still.role, taken_on=still.taken_on.isoformat(),
                path=str(still.path),
                data=_data(still), answers=json.dumps(still.answers),
            )  # fmt: skip
            session.add(row)
            session.flush()
            return _still(row)

    def replace_still(self, still: HandStill) -> None:
        """Keep other points and figures of a still. Raises StudioError."""
        with self._db.atomic() as session:
            row = session.get(HandRow, still.id)
            if row is None:
                raise StudioError("This picture is no longer in the studio.", "Reload the list.")
            row.data = _data(still)

    def stills(self, student_id: int) -> list[HandStill]:
        """Stills of a student, newest first."""
        with self._db.atomic() as session:
            rows = session.scalars(
                select(HandRow).where(HandRow.student_id == student_id).order_by(HandRow.taken_on.desc(), HandRow.id.desc())
            )
            return [_still(r) for r in rows]

    def answer(self, still_id: int, answers: dict[str, str]) -> None:
        """Keep what the teacher says about a still; an empty dictionary takes it back. Raises StudioError."""
        with self._db.atomic() as session:
            row = session.get(HandRow, still_id)
            if row is None:
                raise StudioError("This picture is no longer in the studio.", "Reload the list.")
            row.answers = json.dumps(answers)

    def delete_still(self, still_id: int) -> None:
        """Forget a still; the picture stays where it is."""
        with self._db.atomic() as session:
            session.execute(delete(HandRow).where(HandRow.id == still_id))

    def say_felt(self, said: FeltAnswer) -> FeltAnswer:
        """Keep what was felt. Raises StudioError."""
        if said.answer not in ANSWERS or said.test not in {t.key for t in FELT_TESTS}:
            raise StudioError(f"'{said.answer}' to '{said.test}' cannot be kept.", f"Answers: {', '.join(ANSWERS)}.")
        with self._db.atomic() as session:
            row = FeltRow(student_id=said.student_id, test=said.test, answer=said.answer, said_on=said.said_on.isoformat())
            session.add(row)
            session.flush()
            return FeltAnswer(row.student_id, row.test, row.answer, said.said_on, row.id)

    def unsay_felt(self, felt_id: int) -> None:
        """Take back what was felt."""
        with self._db.atomic() as session:
            session.execute(delete(FeltRow).where(FeltRow.id == felt_id))

    def felt(self, student_id: int) -> list[FeltAnswer]:
        """What was felt, newest first."""
        with self._db.atomic() as session:
            rows = session.scalars(
                select(FeltRow).where(FeltRow.student_id == student_id).order_by(FeltRow.said_on.desc(), FeltRow.id.desc())
            )
            return [FeltAnswer(r.student_id, r.test, r.answer, date.fromisoformat(r.said_on), r.id) for r in rows]


def _data(still: HandStill) -> str:
    return json.dumps({"points": still.points, "notes": still.notes, "hold": to_plain(still.hold), "by_hand": still.by_hand})


def _still(row: HandRow) -> HandStill:
    data = json.loads(row.data)
    # the wrist against the knuckles is told anew from the points, the stick and the forearm
    hold = None if data["hold"] is None else replace(from_plain(Hold, data["hold"]), wrist_over_knuckles=math.nan)
    return HandStill(
        row.student_id, row.role, date.fromisoformat(row.taken_on), Path(row.path), data["points"], hold, data["notes"],
        json.loads(row.answers), row.id, data.get("by_hand", []),
    )  # fmt: skip
