"""What the studio keeps, as plain records that carry no session."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from enum import StrEnum
from pathlib import Path
from typing import Any

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.findings.finding import Finding
from dolcezza.core.findings.rules.arm import BodyReport
from dolcezza.core.hold.figures import Hold
from dolcezza.core.strokes.figures import Stroke
from dolcezza.core.tone.report import ToneReport


@dataclass(frozen=True)
class Student:
    """One student. ``lesson_day``: weekday of the weekly lesson, 0 = Monday, -1 = none; ``lesson_time`` such as 16:30. ``id`` 0 = not
    stored yet. ``born``: year, 0 = not said; ``mobile_joints``, ``had_pain``: what changes or pauses drills."""

    name: str
    handed: str = "right"
    profile: str = "Franco-Belgian"
    note: str = ""
    since: date = date(2000, 1, 1)
    id: int = 0
    lesson_day: int = -1
    lesson_time: str = ""
    born: int = 0
    mobile_joints: bool = False
    had_pain: bool = False


@dataclass(frozen=True)
class OwnedInstrument:
    """A student's instrument: its name in the catalogue and what the teacher measured on it (mm)."""

    student_id: int
    name: str
    measured: dict[str, float] = field(default_factory=dict)
    id: int = 0


@dataclass(frozen=True)
class Take:
    """One video of a student. ``fingerprint`` is the SHA-256 of the file, which stays where it is."""

    student_id: int
    instrument_id: int
    title: str
    played_on: date
    path: Path
    fingerprint: str
    width: int
    height: int
    duration_s: float
    mirrored: bool = False
    id: int = 0


class Verdict(StrEnum):
    """The teacher's word on a finding."""

    OPEN = "open"
    ACCEPTED = "accepted"
    DISMISSED = "dismissed"


@dataclass(frozen=True)
class JudgedFinding:
    """A finding and the teacher's word on it: ``verdict`` open, accepted or dismissed; ``wording`` the teacher's own words, "" = none."""

    finding: Finding
    verdict: Verdict = Verdict.OPEN
    reason: str = ""
    id: int = 0
    wording: str = ""


@dataclass(frozen=True)
class Remark:
    """Something the teacher says about a moment of a take."""

    take_id: int
    t_s: float
    text: str
    said_on: date
    id: int = 0


@dataclass(frozen=True)
class Dismissal:
    """A kind of finding that is not to be raised any more for a student under a profile; ``value`` it had when it was dismissed."""

    student_id: int
    profile: str
    kind: str
    cause: str
    reason: str
    value: float
    said_on: date
    id: int = 0


@dataclass(frozen=True)
class Practised:
    """One entry of the practice log: ``what`` a drill's key or free words, ``count`` of settings or strokes, ``pain`` said;
    ``allowed``: from here on the teacher allows again what was paused for pain."""

    student_id: int
    day: date
    what: str
    minutes: float = 0.0
    count: int = 0
    pain: bool = False
    note: str = ""
    allowed: bool = False
    id: int = 0


@dataclass(frozen=True)
class StoredAnalysis:
    """One measurement of a take as the studio keeps it."""

    id: int
    take_id: int
    profile: str
    version: str
    made_at: str
    series: BowSeries
    strokes: list[Stroke]
    findings: list[JudgedFinding]
    summary: dict[str, Any]
    folder: Path
    body: BodyReport | None = None
    tone: ToneReport | None = None


@dataclass(frozen=True)
class TakeStatus:
    """How far a take has got: has landmarks, has an analysis, how many strokes and open findings."""

    take: Take
    instrument: str
    marked: bool
    analysed: bool
    strokes: int = 0
    findings: int = 0


LINES = ("stick", "forearm")
"""Lines that are marked on a still of the hand, kept among its answers as four numbers (px)."""


@dataclass(frozen=True)
class HandStill:
    """A still of a student's bow hand. ``role``: relaxed, upright, frog, tip or hold; ``points`` (21, 2) px of the upright picture,
    None = no hand found; ``by_hand`` those set by the teacher; ``hold`` what was told, without the teacher's ``answers``; the picture
    stays where it is."""

    student_id: int
    role: str
    taken_on: date
    path: Path
    points: list[list[float]] | None
    hold: Hold | None
    notes: list[str] = field(default_factory=list)
    answers: dict[str, str] = field(default_factory=dict)
    id: int = 0
    by_hand: list[int] = field(default_factory=list)

    def line(self, name: str) -> Array | None:
        """A marked line, ``name`` stick or forearm: (2, 2) px; None where it is not marked."""
        numbers = self.answers.get(name, "").split()
        return np.array(numbers, float).reshape(2, 2) if len(numbers) == 4 else None

    @property
    def answered(self) -> Hold | None:
        """The hold with what the teacher says put before the figures, and its wrist where stick and forearm are marked."""
        if self.hold is None:
            return None
        hold = self.hold.answered({k: v for k, v in self.answers.items() if k not in LINES})
        lines = [self.line(name) for name in LINES]
        if self.points is not None and all(line is not None for line in lines):
            hold = hold.with_lines(np.array(self.points), *(line for line in lines if line is not None))
        return hold


@dataclass(frozen=True)
class HoldAnswer:
    """What the teacher said of a student's hold on a day: ``question`` and ``answer`` by their keys."""

    student_id: int
    question: str
    answer: str
    said_on: date
    id: int = 0


@dataclass(frozen=True)
class HoldStep:
    """A step of building the hold that was ticked: ``method`` and ``step`` by their keys, on a day."""

    student_id: int
    method: str
    step: str
    done_on: date
    id: int = 0


@dataclass(frozen=True)
class Bow:
    """A student's own bow with ``marks`` on it: mm from the frog, by name."""

    student_id: int
    name: str
    marks: dict[str, float] = field(default_factory=dict)
    id: int = 0


@dataclass(frozen=True)
class Dated:
    """Since when something counts for a student: ``what`` profile or stage, its ``value``."""

    student_id: int
    what: str
    value: str
    since: date
    id: int = 0


@dataclass(frozen=True)
class Consent:
    """What a guardian (of an adult the student) agreed to on a day: ``measuring`` videos, ``pictures`` on paper and in videos, ``sharing``
    what is written; ``until`` None = no end was agreed; ``initials`` = what is written says them instead of the name."""

    student_id: int
    guardian: str
    agreed_on: date
    measuring: bool = True
    pictures: bool = False
    sharing: bool = False
    until: date | None = None
    id: int = 0
    initials: bool = False


@dataclass(frozen=True)
class Written:
    """A file that was written out of the studio for a student: ``what`` sheet, report, annotations, calendar, video."""

    student_id: int
    what: str
    path: Path
    written_on: date
    id: int = 0


@dataclass(frozen=True)
class FeltAnswer:
    """What was felt at one of the small tests, on a day."""

    student_id: int
    test: str
    answer: str
    said_on: date
    id: int = 0
