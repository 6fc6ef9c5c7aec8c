"""Tables of the studio as SQLAlchemy sees them. How they come to be is in ``migrations``; a test compares the two."""

from __future__ import annotations

from sqlalchemy import ForeignKey, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    """All tables of the studio."""


class MigrationRow(Base):
    __tablename__ = "migrations"
    number: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str]


class IdRow(Base):
    __tablename__ = "ids"
    name: Mapped[str] = mapped_column(primary_key=True)
    last: Mapped[int]


class StudentRow(Base):
    __tablename__ = "students"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str]
    handed: Mapped[str]
    profile: Mapped[str]
    note: Mapped[str]
    since: Mapped[str]
    lesson_day: Mapped[int]
    lesson_time: Mapped[str]
    born: Mapped[int] = mapped_column(server_default="0")
    mobile_joints: Mapped[bool] = mapped_column(server_default="0")
    had_pain: Mapped[bool] = mapped_column(server_default="0")


class InstrumentRow(Base):
    __tablename__ = "instruments"
    id: Mapped[int] = mapped_column(primary_key=True)
    student_id: Mapped[int] = mapped_column(ForeignKey("students.id", ondelete="CASCADE"), index=True)
    name: Mapped[str]
    measured: Mapped[str]


class TakeRow(Base):
    __tablename__ = "takes"
    id: Mapped[int] = mapped_column(primary_key=True)
    student_id: Mapped[int] = mapped_column(ForeignKey("students.id", ondelete="CASCADE"), index=True)
    instrument_id: Mapped[int] = mapped_column(ForeignKey("instruments.id", ondelete="CASCADE"))
    title: Mapped[str]
    played_on: Mapped[str]
    path: Mapped[str]
    fingerprint: Mapped[str] = mapped_column(index=True)
    mirrored: Mapped[bool]
    width: Mapped[int]
    height: Mapped[int]
    duration_s: Mapped[float]


class FitRow(Base):
    __tablename__ = "fits"
    id: Mapped[int] = mapped_column(primary_key=True)
    take_id: Mapped[int] = mapped_column(ForeignKey("takes.id", ondelete="CASCADE"), index=True)
    data: Mapped[str]
    made_at: Mapped[str]


class AnalysisRow(Base):
    __tablename__ = "analyses"
    id: Mapped[int] = mapped_column(primary_key=True)
    take_id: Mapped[int] = mapped_column(ForeignKey("takes.id", ondelete="CASCADE"), index=True)
    fit_id: Mapped[int] = mapped_column(ForeignKey("fits.id", ondelete="CASCADE"))
    version: Mapped[str]
    profile: Mapped[str]
    made_at: Mapped[str]
    folder: Mapped[str]
    summary: Mapped[str]


class StrokeRow(Base):
    __tablename__ = "strokes"
    __table_args__ = (UniqueConstraint("analysis_id", "number"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    analysis_id: Mapped[int] = mapped_column(ForeignKey("analyses.id", ondelete="CASCADE"), index=True)
    number: Mapped[int]
    data: Mapped[str]


class FindingRow(Base):
    __tablename__ = "findings"
    id: Mapped[int] = mapped_column(primary_key=True)
    analysis_id: Mapped[int] = mapped_column(ForeignKey("analyses.id", ondelete="CASCADE"), index=True)
    place: Mapped[int]
    data: Mapped[str]
    verdict: Mapped[str]
    reason: Mapped[str]
    wording: Mapped[str] = mapped_column(server_default="")


class HandRow(Base):
    __tablename__ = "hands"
    id: Mapped[int] = mapped_column(primary_key=True)
    student_id: Mapped[int] = mapped_column(ForeignKey("students.id", ondelete="CASCADE"), index=True)
    role: Mapped[str]
    taken_on: Mapped[str]
    path: Mapped[str]
    data: Mapped[str]
    answers: Mapped[str]


class FeltRow(Base):
    __tablename__ = "felt"
    id: Mapped[int] = mapped_column(primary_key=True)
    student_id: Mapped[int] = mapped_column(ForeignKey("students.id", ondelete="CASCADE"), index=True)
    test: Mapped[str]
    answer: Mapped[str]
    said_on: Mapped[str]


class AssignmentRow(Base):
    __tablename__ = "assignments"
    take_id: Mapped[int] = mapped_column(ForeignKey("takes.id", ondelete="CASCADE"), primary_key=True)
    exercise: Mapped[str]


class RemarkRow(Base):
    __tablename__ = "remarks"
    id: Mapped[int] = mapped_column(primary_key=True)
    take_id: Mapped[int] = mapped_column(ForeignKey("takes.id", ondelete="CASCADE"), index=True)
    t_s: Mapped[float]
    text: Mapped[str]
    said_on: Mapped[str]


class DismissalRow(Base):
    __tablename__ = "dismissals"
    id: Mapped[int] = mapped_column(primary_key=True)
    student_id: Mapped[int] = mapped_column(ForeignKey("students.id", ondelete="CASCADE"), index=True)
    profile: Mapped[str]
    kind: Mapped[str]
    cause: Mapped[str]
    reason: Mapped[str]
    value: Mapped[float]
    said_on: Mapped[str]


class PlanRow(Base):
    __tablename__ = "plans"
    id: Mapped[int] = mapped_column(primary_key=True)
    student_id: Mapped[int] = mapped_column(ForeignKey("students.id", ondelete="CASCADE"), index=True)
    begins: Mapped[str]
    data: Mapped[str]
    made_at: Mapped[str]


class PractisedRow(Base):
    __tablename__ = "practised"
    id: Mapped[int] = mapped_column(primary_key=True)
    student_id: Mapped[int] = mapped_column(ForeignKey("students.id", ondelete="CASCADE"), index=True)
    day: Mapped[str]
    what: Mapped[str]
    minutes: Mapped[float]
    count: Mapped[int]
    pain: Mapped[bool]
    note: Mapped[str]
    allowed: Mapped[bool] = mapped_column(server_default="0")


class HoldAnswerRow(Base):
    __tablename__ = "hold_answers"
    id: Mapped[int] = mapped_column(primary_key=True)
    student_id: Mapped[int] = mapped_column(ForeignKey("students.id", ondelete="CASCADE"), index=True)
    question: Mapped[str]
    answer: Mapped[str]
    said_on: Mapped[str]


class HoldStepRow(Base):
    __tablename__ = "hold_steps"
    id: Mapped[int] = mapped_column(primary_key=True)
    student_id: Mapped[int] = mapped_column(ForeignKey("students.id", ondelete="CASCADE"), index=True)
    method: Mapped[str]
    step: Mapped[str]
    done_on: Mapped[str]


class BowRow(Base):
    __tablename__ = "bows"
    id: Mapped[int] = mapped_column(primary_key=True)
    student_id: Mapped[int] = mapped_column(ForeignKey("students.id", ondelete="CASCADE"), index=True)
    name: Mapped[str]
    marks: Mapped[str]


class DatedRow(Base):
    __tablename__ = "dated"
    id: Mapped[int] = mapped_column(primary_key=True)
    student_id: Mapped[int] = mapped_column(ForeignKey("students.id", ondelete="CASCADE"), index=True)
    what: Mapped[str]
    value: Mapped[str]
    since: Mapped[str]


class ConsentRow(Base):
    __tablename__ = "consents"
    id: Mapped[int] = mapped_column(primary_key=True)
    student_id: Mapped[int] = mapped_column(ForeignKey("students.id", ondelete="CASCADE"), index=True)
    guardian: Mapped[str]
    agreed_on: Mapped[str]
    measuring: Mapped[bool]
    pictures: Mapped[bool]
    sharing: Mapped[bool]
    until: Mapped[str]
    initials: Mapped[bool] = mapped_column(server_default="0")


class WrittenRow(Base):
    __tablename__ = "written"
    id: Mapped[int] = mapped_column(primary_key=True)
    student_id: Mapped[int] = mapped_column(ForeignKey("students.id", ondelete="CASCADE"), index=True)
    what: Mapped[str]
    path: Mapped[str]
    written_on: Mapped[str]
