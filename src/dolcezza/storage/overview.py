"""How far every take has got, told in a handful of queries however many there are."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable
from typing import Any

from sqlalchemy import Select, func, select
from sqlalchemy.orm import Session

from dolcezza.storage.records import Take, TakeStatus, Verdict
from dolcezza.storage.schema import AnalysisRow, FindingRow, FitRow, InstrumentRow, StrokeRow, TakeRow


def pairs(session: Session, query: Select[Any, Any]) -> dict[int, Any]:
    """What a query for two columns gives: the first to the second."""
    return {int(row[0]): row[1] for row in session.execute(query)}


def statuses(session: Session, read: Callable[[TakeRow], Take], student_id: int | None = None) -> dict[int, list[TakeStatus]]:
    """By student the takes, newest first, of one student or of all; ``read`` makes a take of its row."""
    wanted, ids = select(TakeRow).order_by(TakeRow.played_on.desc(), TakeRow.id.desc()), select(TakeRow.id)
    if student_id is not None:
        wanted, ids = wanted.where(TakeRow.student_id == student_id), ids.where(TakeRow.student_id == student_id)
    marked = set(session.scalars(select(FitRow.take_id).where(FitRow.take_id.in_(ids)).distinct()))
    newest = select(AnalysisRow.take_id, func.max(AnalysisRow.id).label("id")).group_by(AnalysisRow.take_id)
    newest = newest.where(AnalysisRow.take_id.in_(ids))
    latest, last = pairs(session, newest), select(newest.subquery().c.id)
    counted = select(StrokeRow.analysis_id, func.count()).where(StrokeRow.analysis_id.in_(last)).group_by(StrokeRow.analysis_id)
    strokes = pairs(session, counted)
    open_ones = select(FindingRow.analysis_id, func.count()).where(FindingRow.analysis_id.in_(last)).group_by(FindingRow.analysis_id)
    findings = pairs(session, open_ones.where(FindingRow.verdict != Verdict.DISMISSED.value))
    names = pairs(session, select(InstrumentRow.id, InstrumentRow.name))
    out: dict[int, list[TakeStatus]] = defaultdict(list)
    for row in session.scalars(wanted):
        key, instrument = latest.get(row.id, -1), names.get(row.instrument_id, "")
        far = (row.id in marked, row.id in latest, strokes.get(key, 0), findings.get(key, 0))
        out[row.student_id].append(TakeStatus(read(row), instrument, *far))
    return out
