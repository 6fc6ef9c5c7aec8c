"""A day's videos: whose each is, proposed by the name in the file's name, when it was filmed and what is played in it, with the reason."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from pathlib import Path

from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.base.message import Message
from dolcezza.core.media.probe import fingerprint, probe, recorded_at
from dolcezza.core.practice.lessons import LESSON_MIN
from dolcezza.services.agenda import lesson_of
from dolcezza.services.studio import Studio
from dolcezza.storage.records import JudgedFinding, Student, Take, Verdict

VIDEO_SUFFIXES = (".mp4", ".mov", ".m4v", ".mkv", ".webm", ".avi", ".3gp")
SHORTEST_NAME = 3
"""Shorter parts of a name are found in too many words."""
BEFORE_MIN, AFTER_MIN = 10, 15
"""A lesson begins early and ends late by so much."""
BY_NAME, IN_LESSON, ON_DAY = 3, 2, 1
PLAYS, ALONE_PLAYS, PLAYS_OTHER = 1, 2, -2
"""What speaks for a student; that he plays what is seen counts only where not everybody does."""
SURE_FROM = 2
"""What a proposal must be worth, and by one more than the next, to be made."""
MOST_VIDEOS = 200


@dataclass(frozen=True)
class Proposal:
    """One video of the day. ``student`` None = nobody can be proposed; ``why``: what speaks for it. ``recorded``: when it was filmed.
    ``fault``: it cannot be taken in, and why, "" = it can; ``double``: it is in the studio, or in this list, already."""

    path: Path
    student: Student | None
    why: tuple[Message, ...]
    recorded: datetime | None
    duration_s: float = 0.0
    fault: str = ""
    double: bool = False

    @property
    def usable(self) -> bool:
        """Whether it can be taken in."""
        return not self.fault and not self.double


def videos_in(paths: Sequence[Path]) -> list[Path]:
    """The videos among files and (one deep) in folders, in order."""
    out: list[Path] = []
    for path in paths:
        try:
            inside = sorted(path.iterdir()) if path.is_dir() else [path]
        except OSError:
            inside = []
        out += [p for p in inside if p.is_file() and p.suffix.lower() in VIDEO_SUFFIXES and not p.name.startswith(".")]
    return list(dict.fromkeys(out))[:MOST_VIDEOS]


def proposals(studio: Studio, paths: Sequence[Path]) -> list[Proposal]:
    """For each video whose take it is, by name and time of filming, the earliest first."""
    students = _players(studio)
    seen: set[str] = set()
    out = []
    for path in videos_in(paths):
        try:
            file = probe(path)
            mark = fingerprint(path)
        except DolcezzaError as error:
            out.append(Proposal(path, None, (), None, fault=str(error)))
            continue
        double = mark in seen or studio.store.take_by_fingerprint(mark) is not None
        seen.add(mark)
        out.append(_proposed(Proposal(path, None, (), recorded_at(path), file.duration_s, double=double), students))
    return sorted(out, key=lambda p: (p.recorded is None, p.recorded or datetime.max, p.path.name))


def look_at_pictures(videos: Sequence[Path]) -> Work[dict[Path, str]]:
    """What is played in each of the videos, by their pictures; those that do not tell, or cannot be read, are left out."""
    from dolcezza.core.pipeline.played_on import played_on
    from dolcezza.services.body_model import BodyModel

    out: dict[Path, str] = {}
    for k, video in enumerate(videos):
        yield Progress(Stage.SKIMMING, k, len(videos))
        try:
            told = yield from _quietly(played_on(video, BodyModel()))
        except DolcezzaError:
            continue
        if told:
            out[video] = told
    return out


def _quietly(work: Work[str]) -> Work[str]:
    """The same, whose own progress is nobody's: there is one bar for all."""
    while True:
        try:
            next(work)
        except StopIteration as stop:
            return str(stop.value)
        yield Progress(Stage.SKIMMING, 0, 0)


def worth_looking(studio: Studio, found: Sequence[Proposal]) -> list[Path]:
    """The videos whose pictures may say more: usable, where not all students play what is held alike."""
    kinds = {studio.spec_of(s.id).family == "cello" for s in studio.students()}
    return [p.path for p in found if p.usable] if len(kinds) > 1 else []


def propose_again(studio: Studio, found: Sequence[Proposal], played: Mapping[Path, str]) -> list[Proposal]:
    """The same videos in the same order, by what is seen to be played in them (``look_at_pictures``) too."""
    students = _players(studio)
    return [_proposed(p, students, played.get(p.path, "")) if not p.fault else p for p in found]


@dataclass(frozen=True)
class _Plays:
    """A student, and whether he plays something under the chin (violin) or between the knees (cello)."""

    student: Student
    on: str


def _players(studio: Studio) -> list[_Plays]:
    return [_Plays(s, "cello" if studio.spec_of(s.id).family == "cello" else "violin") for s in studio.students()]


def _proposed(one: Proposal, students: Sequence[_Plays], played: str = "") -> Proposal:
    """A video with whose it is by its name, by when it was filmed and by what is ``played`` in it ("" = not known)."""
    when = one.recorded
    worth = []
    alike = [p for p in students if p.on == played]
    tells = 0 < len(alike) < len(students)
    for plays in students:
        student = plays.student
        why: list[Message] = []
        points = 0
        if tells and plays.on != played:
            points = PLAYS_OTHER
        elif tells:
            points, why = (ALONE_PLAYS if len(alike) == 1 else PLAYS), [Message(f"day.plays.{played}")]
        if part := name_in(one.path.stem, student.name):
            points, why = points + BY_NAME, [*why, Message("day.name", {"part": part})]
        lesson = lesson_of(student)
        if lesson is not None and when is not None and when.weekday() == lesson.day:
            begins = datetime.combine(when.date(), lesson.at)
            inside = begins - timedelta(minutes=BEFORE_MIN) <= when <= begins + timedelta(minutes=LESSON_MIN + AFTER_MIN)
            points += IN_LESSON if inside else ON_DAY
            clock = f"{lesson.at.hour}:{lesson.at.minute:02d}"
            why.append(Message("day.lesson" if inside else "day.day", {"clock": clock}))
        worth.append((points, student, tuple(why)))
    worth.sort(key=lambda w: -w[0])
    best = worth[0] if worth else None
    second = worth[1][0] if len(worth) > 1 else 0
    if best is None or best[0] < SURE_FROM or best[0] <= second:
        return replace(one, student=None, why=())
    return replace(one, student=best[1], why=best[2])


def name_in(stem: str, name: str) -> str:
    """The part of a person's name that a file's name has, "" = none: whole words, whatever their case."""
    words = {w.lower() for w in re.findall(r"[^\W\d_]+", stem)}
    words |= {w.lower() for w in re.findall(r"[A-ZÀ-Þ][a-zß-ÿ]+", stem)}
    return next((part for part in re.findall(r"[^\W\d_]+", name) if len(part) >= SHORTEST_NAME and part.lower() in words), "")


def take_in(studio: Studio, chosen: Sequence[tuple[Proposal, int]]) -> tuple[list[int], list[str]]:
    """Take in videos for students (their ids); returns the takes whose lesson is next first, and what went wrong in sentences."""
    now = datetime.now()
    ids: list[tuple[datetime, int, int]] = []
    faults = []
    for order, (proposal, student_id) in enumerate(chosen):
        try:
            day = proposal.recorded.date() if proposal.recorded is not None else None
            take = studio.add_take(student_id, proposal.path, played_on=day)
        except DolcezzaError as error:
            faults.append(f"{proposal.path.name}: {error}")
            continue
        lesson = lesson_of(studio.store.student(student_id))
        ids.append((lesson.next(now) if lesson is not None else datetime.max, order, take.id))
    return [take_id for _, _, take_id in sorted(ids)], faults


@dataclass(frozen=True)
class Result:
    """What came out of one video: whose it is, how many strokes, and what stands first (None = nothing that is sure)."""

    take: Take
    student: str
    strokes: int
    first: JudgedFinding | None


def results(studio: Studio, day: date) -> list[Result]:
    """All videos that were analysed on a day, the last one first. What the teacher dismissed does not count."""
    names = {s.id: s.name for s in studio.students()}
    out = []
    for take in studio.store.analysed_on(day):
        stored = studio.analysis(take)
        if stored is None:
            continue
        told = [j for j in stored.findings if j.verdict is not Verdict.DISMISSED and (j.finding.sure or j.verdict is Verdict.ACCEPTED)]
        out.append(Result(take, names.get(take.student_id, ""), len(stored.strokes), told[0] if told else None))
    return out
