"""Courses of a student that come from no video: joints on pictures of the hand, answers, settings, ladder; and what drills did."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from itertools import groupby

from dolcezza.core.findings.profiles import Profile
from dolcezza.core.findings.rules.hold import answer_findings, felt_findings
from dolcezza.core.hold.figures import ROUND_FROM
from dolcezza.core.hold.questions import Said, newest
from dolcezza.core.practice.figure import Point
from dolcezza.core.practice.helped import ANSWERS, PLACES, SETTINGS, Helped, helped
from dolcezza.core.practice.plan import SETTINGS_TO_UNLOCK, PracticePlan, ladder
from dolcezza.core.practice.progress import Course
from dolcezza.services.practice import LADDER
from dolcezza.storage.records import FeltAnswer, HandStill, HoldAnswer, Practised

JOINT_COURSES = {"thumb_mcp": "Thumb at the frog", "little_pip": "Little finger at the frog"}
BALANCE_CM = 19.0
"""The balance point of a full-size bow where none is marked, cm from the frog (from memory)."""


def hold_courses(
    stills: Sequence[HandStill], answers: Sequence[HoldAnswer], felt: Sequence[FeltAnswer], entries: Sequence[Practised],
    profile: Profile, balance_cm: float | None,
) -> list[Course]:  # fmt: skip
    """Joints at the frog from pictures, answers and tests by feel that are faults, settings so far, ladder places; over their days."""
    out = []
    for joint, name in JOINT_COURSES.items():
        rows = [(s.taken_on, s.hold.joints[joint]) for s in reversed(stills) if s.role == "frog" and s.hold and joint in s.hold.joints]
        if rows:
            points = tuple(Point(0, day, value, sd, 1) for day, (value, sd) in sorted(rows))
            out.append(Course(name, "°", "", ROUND_FROM[joint], points, False))
    told = [Said(a.question, a.answer, a.said_on) for a in answers]
    tried = [Said(f.test, f.answer, f.said_on) for f in sorted(felt, key=lambda f: (f.said_on, f.id))]
    days = sorted({s.day for s in (*told, *tried)})
    if days:
        faults = [(day, len(answer_findings(_until(told, day), profile)) + len(felt_findings(_until(tried, day)))) for day in days]
        out.append(Course(ANSWERS, "", "", 0.0, tuple(Point(0, day, float(n), 0.0, 1) for day, n in faults), True))
    out += _counted(SETTINGS, [e for e in entries if e.what == "D4" and e.count], float(SETTINGS_TO_UNLOCK), summed=True)
    places = float(len(ladder(balance_cm or BALANCE_CM)))
    out += _counted(PLACES, [e for e in entries if e.what == LADDER and e.count], places, summed=False)
    return out


def _until(said: Sequence[Said], day: date) -> dict[str, Said]:
    """The newest answers as they stood on a day."""
    return newest(s for s in said if s.day <= day)


def _counted(name: str, entries: Sequence[Practised], target: float, *, summed: bool) -> list[Course]:
    """A count over its days: summed up so far, or the best of each day."""
    points, so_far = [], 0
    for day, group in groupby(sorted(entries, key=lambda e: e.day), key=lambda e: e.day):
        counts = [e.count for e in group]
        so_far += sum(counts)
        points.append(Point(0, day, float(so_far if summed else max(counts)), 0.0, 1))
    return [Course(name, "", "", target, tuple(points), False)] if points else []


def what_helped(plan: PracticePlan, found: Sequence[Course], kinds: Sequence[str]) -> tuple[date, list[Helped]]:
    """The first day of a plan, and what became of each of its drills since; ``kinds``: what was found before it."""
    since = plan.days[0].day
    drills = [s.drill for day in plan.days for s in day.slots if s.drill]
    return since, helped(drills, found, since, kinds)
