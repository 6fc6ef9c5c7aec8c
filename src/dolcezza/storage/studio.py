"""The studio: students, instruments, takes, fits, analyses, in and out as records. One method, one transaction."""

from __future__ import annotations

import json
import shutil
from collections.abc import Sequence
from datetime import date
from pathlib import Path
from typing import Any

from sqlalchemy import delete, select, update
from sqlalchemy.orm import Session

from dolcezza.core.base.errors import StudioError
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.findings.finding import Finding
from dolcezza.core.findings.rules.arm import BodyReport
from dolcezza.core.strokes.figures import Stroke
from dolcezza.core.tone.report import ToneReport
from dolcezza.storage.assignment_book import AssignmentBook
from dolcezza.storage.backups import DATABASE, back_up, check, forget
from dolcezza.storage.body_json import FILE_NAME, body_from_json
from dolcezza.storage.database import Database
from dolcezza.storage.files import disk_faults, keep_private
from dolcezza.storage.hand_book import HandBook
from dolcezza.storage.hold_book import HoldBook
from dolcezza.storage.keeping_book import KeepingBook
from dolcezza.storage.overview import pairs, statuses
from dolcezza.storage.practice_book import PracticeBook
from dolcezza.storage.records import JudgedFinding, OwnedInstrument, StoredAnalysis, Student, Take, TakeStatus, Verdict
from dolcezza.storage.schema import AnalysisRow, FindingRow, FitRow, InstrumentRow, StrokeRow, StudentRow, TakeRow
from dolcezza.storage.tables import (
    finding_from_dict,
    finding_to_dict,
    read_text,
    series_from_csv,
    stroke_from_dict,
    stroke_to_dict,
)
from dolcezza.storage.tone_json import TONE_FILE, tone_from_json
from dolcezza.storage.word_book import WordBook, put_findings


class StudioStore:
    """A studio folder: ``studio.sqlite`` and, beside it, one folder an analysis with its open files."""

    def __init__(self, folder: Path) -> None:
        self.folder = Path(folder)
        keep_private(self.folder)
        check(self.folder / DATABASE)
        self.database = Database(self.folder / DATABASE)
        self.hands = HandBook(self.database)
        self.hold = HoldBook(self.database)
        self.keeping = KeepingBook(self.database)
        self.assignments = AssignmentBook(self.database)
        self.words = WordBook(self.database)
        self.practice = PracticeBook(self.database)

    def back_up(self, today: date) -> Path | None:
        """A copy of the database, once a day. Raises StudioError."""
        return back_up(self.folder / DATABASE, today)

    def close(self) -> None:
        """Let go of the database."""
        self.database.close()

    # students and their instruments

    def add_student(self, student: Student) -> Student:
        """Store a new student and return it with its id."""
        with self.database.atomic() as session:
            row = StudentRow(since=student.since.isoformat(), **_said_of(student))
            session.add(row)
            session.flush()
            return _student(row)

    def students(self) -> list[Student]:
        """All students by name."""
        with self.database.atomic() as session:
            return [_student(r) for r in session.scalars(select(StudentRow).order_by(StudentRow.name))]

    def student(self, student_id: int) -> Student:
        """One student. Raises StudioError."""
        with self.database.atomic() as session:
            return _student(_get(session, StudentRow, student_id, "student"))

    def change_student(self, student: Student) -> None:
        """Store what is said of a student anew. Raises StudioError."""
        with self.database.atomic() as session:
            row = _get(session, StudentRow, student.id, "student")
            for name, value in _said_of(student).items():
                setattr(row, name, value)

    def set_profile(self, student_id: int, profile: str) -> None:
        """Note which profile counts for a student. Raises StudioError."""
        with self.database.atomic() as session:
            _get(session, StudentRow, student_id, "student").profile = profile

    def delete_student(self, student_id: int) -> None:
        """Remove a student with all takes and everything measured. Videos stay where they are."""
        with self.database.atomic() as session:
            takes = session.scalars(select(TakeRow.id).where(TakeRow.student_id == student_id)).all()
            session.execute(delete(StudentRow).where(StudentRow.id == student_id))
        forget(self.folder, self.folder / DATABASE, date.today())
        self._remove(takes)

    def add_instrument(self, owned: OwnedInstrument) -> OwnedInstrument:
        """Store an instrument of a student."""
        with self.database.atomic() as session:
            row = InstrumentRow(student_id=owned.student_id, name=owned.name, measured=json.dumps(owned.measured))
            session.add(row)
            session.flush()
            return _instrument(row)

    def set_measured(self, instrument_id: int, measured: dict[str, float]) -> None:
        """Note what a ruler said of an instrument (mm). Raises StudioError."""
        with self.database.atomic() as session:
            _get(session, InstrumentRow, instrument_id, "instrument").measured = json.dumps(measured)

    def instruments(self, student_id: int) -> list[OwnedInstrument]:
        """Instruments of a student, newest last."""
        with self.database.atomic() as session:
            rows = session.scalars(select(InstrumentRow).where(InstrumentRow.student_id == student_id).order_by(InstrumentRow.id))
            return [_instrument(r) for r in rows]

    def instrument(self, instrument_id: int) -> OwnedInstrument:
        """One instrument. Raises StudioError."""
        with self.database.atomic() as session:
            return _instrument(_get(session, InstrumentRow, instrument_id, "instrument"))

    # takes

    def add_take(self, take: Take) -> Take:
        """Store a new take and return it with its id."""
        with self.database.atomic() as session:
            row = TakeRow(
                student_id=take.student_id, instrument_id=take.instrument_id, title=take.title, played_on=take.played_on.isoformat(),
                path=str(take.path), fingerprint=take.fingerprint, mirrored=take.mirrored, width=take.width, height=take.height,
                duration_s=take.duration_s,
            )  # fmt: skip
            session.add(row)
            session.flush()
            return _take(row)

    def take(self, take_id: int) -> Take:
        """One take. Raises StudioError."""
        with self.database.atomic() as session:
            return _take(_get(session, TakeRow, take_id, "take"))

    def take_by_fingerprint(self, fingerprint: str) -> Take | None:
        """The take that shows the same video, if there is one."""
        with self.database.atomic() as session:
            row = session.scalars(select(TakeRow).where(TakeRow.fingerprint == fingerprint)).first()
            return _take(row) if row else None

    def move_take(self, take_id: int, path: Path) -> None:
        """Note that the video now lies elsewhere."""
        with self.database.atomic() as session:
            _get(session, TakeRow, take_id, "take").path = str(path)

    def change_take(self, take_id: int, *, mirrored: bool, instrument_id: int) -> None:
        """Store the take's settings that the measuring needs."""
        with self.database.atomic() as session:
            row = _get(session, TakeRow, take_id, "take")
            row.mirrored, row.instrument_id = mirrored, instrument_id

    def takes(self, student_id: int) -> list[TakeStatus]:
        """Takes of a student, newest first, with how far each has got."""
        with self.database.atomic() as session:
            return statuses(session, _take, student_id)[student_id]

    def all_takes(self) -> dict[int, list[TakeStatus]]:
        """The same of all students, by student."""
        with self.database.atomic() as session:
            return statuses(session, _take)

    def analysed_on(self, day: date) -> list[Take]:
        """Takes that were analysed on a day, the last one first."""
        with self.database.atomic() as session:
            last: dict[int, int] = {}
            rows = session.execute(select(AnalysisRow.take_id, AnalysisRow.id).where(AnalysisRow.made_at.startswith(day.isoformat())))
            for take_id, number in rows:
                last[take_id] = max(last.get(take_id, 0), number)
            found = {row.id: _take(row) for row in session.scalars(select(TakeRow).where(TakeRow.id.in_(last)))}
        return [found[t] for t in sorted(found, key=lambda t: -last[t])]

    def all_instruments(self) -> dict[int, str]:
        """The newest instrument of every student, by student."""
        with self.database.atomic() as session:
            return pairs(session, select(InstrumentRow.student_id, InstrumentRow.name).order_by(InstrumentRow.id))

    def delete_take(self, take_id: int) -> None:
        """Remove a take and everything measured from it. The video stays where it is."""
        with self.database.atomic() as session:
            session.execute(delete(TakeRow).where(TakeRow.id == take_id))
        self._remove([take_id])

    def _remove(self, takes: Sequence[int]) -> None:
        """All files of takes that are no longer in the database; what cannot be removed now goes at the next opening. Raises
        StudioError."""
        for take_id in takes:
            folder = self.folder / "takes" / str(take_id)
            with disk_faults(folder):
                if folder.exists():
                    shutil.rmtree(folder)

    # fits

    def save_fit(self, take_id: int, data: dict[str, Any], made_at: str) -> int:
        """Keep a fit (plain JSON data); older ones stay. Returns its id."""
        with self.database.atomic() as session:
            row = FitRow(take_id=take_id, data=json.dumps(data), made_at=made_at)
            session.add(row)
            session.flush()
            return row.id

    def latest_fit(self, take_id: int) -> tuple[int, dict[str, Any]] | None:
        """The newest fit of a take with its id."""
        with self.database.atomic() as session:
            row = session.scalars(select(FitRow).where(FitRow.take_id == take_id).order_by(FitRow.id.desc())).first()
            return (row.id, json.loads(row.data)) if row else None

    # analyses

    def new_folder(self, take_id: int) -> Path:
        """An unused folder for the files of an analysis."""
        base = self.folder / "takes" / str(take_id)
        k = 1
        while (base / f"analysis-{k}").exists():
            k += 1
        return base / f"analysis-{k}"

    def save_analysis(
        self, take_id: int, fit_id: int, *, version: str, profile: str, made_at: str, folder: Path,
        summary: dict[str, Any], strokes: list[Stroke], findings: list[Finding],
    ) -> int:  # fmt: skip
        """Record an analysis whose files already lie in ``folder``. All of it or nothing."""
        with self.database.atomic() as session:
            row = AnalysisRow(
                take_id=take_id, fit_id=fit_id, version=version, profile=profile, made_at=made_at,
                folder=str(folder.relative_to(self.folder)), summary=json.dumps(summary),
            )  # fmt: skip
            session.add(row)
            session.flush()
            session.add_all(StrokeRow(analysis_id=row.id, number=s.number, data=json.dumps(stroke_to_dict(s))) for s in strokes)
            session.add_all(
                FindingRow(analysis_id=row.id, place=k, data=json.dumps(finding_to_dict(f)), verdict=Verdict.OPEN.value, reason="")
                for k, f in enumerate(findings)
            )
            return row.id

    def put_state(
        self, take_id: int, analysis_id: int, folder: Path, strokes: list[Stroke], summary: dict[str, Any],
        findings: Sequence[JudgedFinding], fit: dict[str, Any], made_at: str,
    ) -> None:  # fmt: skip
        """Another state of an analysis counts from now on: its files already lie in ``folder``, and one transaction points to them. Raises
        StudioError."""
        with self.database.atomic() as session:
            row = _get(session, AnalysisRow, analysis_id, "measurement")
            if not folder.is_dir():
                raise StudioError("What was kept of this measurement is gone.", "Analyse the video again.")
            row.summary, row.folder = json.dumps(summary), str(folder.relative_to(self.folder))
            session.execute(delete(StrokeRow).where(StrokeRow.analysis_id == analysis_id))
            session.add_all(StrokeRow(analysis_id=analysis_id, number=s.number, data=json.dumps(stroke_to_dict(s))) for s in strokes)
            put_findings(session, analysis_id, findings)
            session.add(FitRow(take_id=take_id, data=json.dumps(fit), made_at=made_at))

    def sweep(self) -> list[Path]:
        """Remove what no row of the database points to: files of takes that are gone, states that were never finished or are no longer
        wanted. For the one desk that is open. Returns what was removed."""
        with self.database.atomic() as session:
            known = {self.folder / name for name in session.scalars(select(AnalysisRow.folder))}
        gone = []
        for path in sorted((self.folder / "takes").glob("*/*")):
            if path not in known:
                gone.append(path)
                shutil.rmtree(path, ignore_errors=True) if path.is_dir() else path.unlink(missing_ok=True)
        for take in sorted((self.folder / "takes").glob("*")):
            if take.is_dir() and not any(take.iterdir()):
                take.rmdir()
        for left in self.folder.rglob(".writing-*"):
            gone.append(left)
            left.unlink(missing_ok=True)
        return gone

    def latest_analysis(self, take_id: int) -> StoredAnalysis | None:
        """The newest analysis of a take with its per-frame record. Raises StudioError if its files are gone."""
        with self.database.atomic() as session:
            row = session.scalars(select(AnalysisRow).where(AnalysisRow.take_id == take_id).order_by(AnalysisRow.id.desc())).first()
            if row is None:
                return None
            strokes = session.scalars(select(StrokeRow).where(StrokeRow.analysis_id == row.id).order_by(StrokeRow.number)).all()
            findings = session.scalars(select(FindingRow).where(FindingRow.analysis_id == row.id).order_by(FindingRow.place)).all()
            return StoredAnalysis(
                id=row.id, take_id=take_id, profile=row.profile, version=row.version, made_at=row.made_at,
                series=self._series(self.folder / row.folder), strokes=[stroke_from_dict(json.loads(s.data)) for s in strokes],
                findings=[
                    JudgedFinding(finding_from_dict(json.loads(f.data)), Verdict(f.verdict), f.reason, f.id, f.wording) for f in findings
                ],
                summary=json.loads(row.summary), folder=self.folder / row.folder, body=self._body(self.folder / row.folder),
                tone=self._tone(self.folder / row.folder),
            )  # fmt: skip

    def _series(self, folder: Path) -> BowSeries:
        return series_from_csv(read_text(folder / "frames.csv"))

    def _body(self, folder: Path) -> BodyReport | None:
        path = folder / FILE_NAME
        return body_from_json(read_text(path)) if path.exists() else None

    def _tone(self, folder: Path) -> ToneReport | None:
        path = folder / TONE_FILE
        return tone_from_json(read_text(path)) if path.exists() else None

    def judge(self, finding_id: int, verdict: str, reason: str = "") -> None:
        """Keep the teacher's word on a finding. Raises StudioError."""
        if verdict not in set(Verdict):
            raise StudioError(f"'{verdict}' is not a verdict.", f"One of: {', '.join(Verdict)}.")
        with self.database.atomic() as session:
            session.execute(update(FindingRow).where(FindingRow.id == finding_id).values(verdict=verdict, reason=reason))


def _get(session: Session, kind: type, row_id: int, what: str) -> Any:
    row = session.get(kind, row_id)
    if row is None:
        raise StudioError(f"This {what} is no longer in the studio.", "Reload the list.")
    return row


def _student(row: StudentRow) -> Student:
    since = date.fromisoformat(row.since)
    return Student(
        row.name, row.handed, row.profile, row.note, since, row.id, row.lesson_day, row.lesson_time, row.born, row.mobile_joints,
        row.had_pain,
    )  # fmt: skip


def _said_of(student: Student) -> dict[str, Any]:
    names = ("name", "handed", "profile", "note", "lesson_day", "lesson_time", "born", "mobile_joints", "had_pain")
    return {name: getattr(student, name) for name in names}


def _instrument(row: InstrumentRow) -> OwnedInstrument:
    return OwnedInstrument(row.student_id, row.name, json.loads(row.measured), row.id)


def _take(row: TakeRow) -> Take:
    return Take(
        row.student_id, row.instrument_id, row.title, date.fromisoformat(row.played_on), Path(row.path), row.fingerprint,
        row.width, row.height, row.duration_s, row.mirrored, row.id,
    )  # fmt: skip
