"""The made-up studio: invented students with takes of the practice room, marked and ready to be measured."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from importlib import resources
from pathlib import Path

import platformdirs

from dolcezza.core.findings.choices import Stage
from dolcezza.core.pipeline.fit_file import read_fit
from dolcezza.core.practice.drills import drill
from dolcezza.core.practice.plan import Task, make_plan
from dolcezza.services.practice import plan_to_dict
from dolcezza.services.studio import Studio
from dolcezza.storage.records import Bow, FeltAnswer, HoldAnswer, HoldStep, Practised, Student


@dataclass(frozen=True)
class DemoTake:
    """One rendered take: file stem, title, day."""

    stem: str
    title: str
    played_on: date


@dataclass(frozen=True)
class DemoStudent:
    """One invented student."""

    name: str
    instrument: str
    profile: str
    note: str
    since: date
    takes: tuple[DemoTake, ...]
    lesson: tuple[int, str] = (1, "15:00")
    """In how many days from today the weekly lesson is, and when."""
    handed: str = "right"


STUDENTS: tuple[DemoStudent, ...] = (
    DemoStudent(
        "Mila Torvald", "violin 1/2", "Starter, thumb outside", "Nine. Long bows on D and A; the bow swings round. Likes the ladder game.",
        date(2025, 9, 2), (
            DemoTake("demo-swing-1", "Long bows, D and A", date(2026, 9, 15)),
            DemoTake("demo-swing-2", "Long bows, D and A", date(2026, 10, 13)),
            DemoTake("demo-swing-3", "Long bows, D and A", date(2026, 11, 17)),
        ),
        (0, "16:30"),
    ),
    DemoStudent(
        "Anselm Quirke", "viola 16", "Franco-Belgian",
        "Came back to the viola after twenty years. Short bows, elbow the same on all strings.",
        date(2026, 8, 20), (
            DemoTake("demo-viola-1", "Open strings, low to high", date(2026, 9, 3)),
            DemoTake("demo-viola-2", "Open strings, low to high", date(2026, 11, 5)),
        ),
        (0, "18:00"),
    ),
    DemoStudent(
        "Oriel Vantongeren", "violin 4/4", "Franco-Belgian", "Prepares an audition. Wants to know why the tone thins out at the tip.",
        date(2024, 1, 11), (
            DemoTake("demo-whole", "Open strings, phone on the stand", date(2026, 10, 8)),
            DemoTake("demo-in-line", "A and D, phone almost in line with the strings", date(2026, 10, 22)),
            DemoTake("demo-halves", "Whole bows, lower and upper halves, stickers", date(2026, 11, 12)),
        ),
        (1, "17:15"),
    ),
    DemoStudent(
        "Pepin Aldous", "violin 3/4", "Starter, thumb outside", "Twelve. Raised shoulder, the bow trembles in the middle.",
        date(2026, 2, 3), (DemoTake("demo-trembling", "Open strings, from the front", date(2026, 11, 10)),), (2, "15:30"),
    ),
    DemoStudent(
        "Iduna Marchetti", "cello 4/4", "Cello", "Two bows a string, from low to high.",
        date(2026, 5, 19), (DemoTake("demo-cello", "Open strings", date(2026, 11, 19)),), (5, "10:00"),
    ),
    DemoStudent(
        "Runa Castellane", "violin 1/4", "Starter, thumb outside", "Six. Pencil hold, then the bow; no video yet.",
        date(2026, 10, 1), (), (0, "16:00"),
    ),
    DemoStudent(
        "Fenella Roark", "violin 4/4", "Fiddle", "Plays for dances. Short bows, two separate and two slurred.",
        date(2026, 3, 12), (DemoTake("demo-fiddle", "Short bows on A and D", date(2026, 11, 18)),), (6, "19:00"),
    ),
    DemoStudent(
        "Edda Brisk", "violin 4/4", "Franco-Belgian", "Slurs: the bow drifts to the fingerboard where it slows.",
        date(2026, 4, 7), (DemoTake("demo-slurs", "One, two and four notes to a bow", date(2026, 11, 20)),), (6, "15:00"),
    ),
    DemoStudent(
        "Joss Halloran", "violin 4/4", "Starter, thumb outside", "Holds the bow in the left hand.",
        date(2026, 9, 8), (DemoTake("demo-left", "Whole bows, D, A and E", date(2026, 11, 21)),), (6, "16:00"), "left",
    ),
    DemoStudent(
        "Wren Sandoval", "violin 3/4", "Franco-Belgian", "A lesson as it was filmed: talk, a bow taken again, two strings at once.",
        date(2026, 6, 2), (DemoTake("demo-lesson", "A quarter of a lesson", date(2026, 11, 24)),), (6, "17:00"),
    ),
)  # fmt: skip
FIRST_TAKE = "demo-swing-1"
"""The take that the demonstration opens and measures."""


def demo_folder() -> Path:
    """Where the demo studio lies; it is separate from the teacher's own."""
    return Path(platformdirs.user_data_dir("dolcezza")) / "demo-studio"


def demo_video(stem: str) -> Path:
    """Path of a rendered take that ships with the program."""
    return Path(str(resources.files("dolcezza") / "demo_data" / f"{stem}.mp4"))


def fill(
    studio: Studio, *, today: date | None = None, students: Sequence[DemoStudent] = STUDENTS, video: Callable[[str], Path] = demo_video
) -> dict[str, int]:
    """Put the invented students and their marked takes into an empty studio; returns take ids by file stem. ``video``: where the take
    of a stem lies.

    A studio that already has students is left as it is.
    """
    if studio.students():
        return {status.take.path.stem: status.take.id for takes in studio.store.all_takes().values() for status in takes}
    ids, now = {}, today or date.today()
    for student in students:
        kept = studio.add_student(student.name, student.instrument, profile_name=student.profile, note=student.note, since=student.since)
        ahead, at = student.lesson
        kept = replace(kept, lesson_day=(now.weekday() + ahead) % 7, lesson_time=at, handed=student.handed)
        studio.store.change_student(kept)
        for take in student.takes:
            path = video(take.stem)
            stored = studio.add_take(kept.id, path, title=take.title, played_on=take.played_on)
            studio.save_fit(stored, read_fit(path.with_suffix(".fit.json")))
            ids[take.stem] = stored.id
        _practise(studio, kept, now)
        _hold(studio, kept, now)
    studio.undo.clear()
    return ids


def _hold(studio: Studio, student: Student, today: date) -> None:
    """Profile, stage, hold and bow of an invented student (``demo_data/hold.json``): one of them has a mixed profile of their own."""
    text = (resources.files("dolcezza") / "demo_data" / "hold.json").read_text(encoding="utf-8")
    own = json.loads(text).get(student.name, {})
    studio.store.change_student(replace(student, born=own.get("born", 0), mobile_joints=own.get("mobile", False)))
    spec, book = studio.spec_of(student.id), studio.store.hold

    def day(ago: int) -> date:
        return max(student.since, today - timedelta(days=ago))

    for key, option in own.get("choices", {}).items():
        studio.schools.choose(student.id, spec, key, option)
    if "order" in own:
        studio.schools.set_order(student.id, spec, own["order"])
    if "stage" in own:
        studio.schools.set_stage(student.id, Stage(own["stage"]), since=student.since)
    for method, step, ago in own.get("steps", []):
        book.tick(HoldStep(student.id, method, step, day(ago)))
    for question, answer, ago in own.get("answers", []):
        book.say(HoldAnswer(student.id, question, answer, day(ago)))
    for test, answer, ago in own.get("felt", []):
        studio.store.hands.say_felt(FeltAnswer(student.id, test, answer, day(ago)))
    if "marks" in own:
        book.keep_bow(Bow(student.id, "", {name: float(mm) for name, mm in own["marks"].items()}))


def _practise(studio: Studio, student: Student, today: date) -> None:
    """Log and plan of an invented student (``demo_data/practice.json``), with gaps; in one of them it hurt."""
    text = (resources.files("dolcezza") / "demo_data" / "practice.json").read_text(encoding="utf-8")
    own = json.loads(text).get(student.name, {"log": []})
    for e in own["log"]:
        day = today - timedelta(days=e["ago"])
        studio.store.practice.log(Practised(student.id, day, e["what"], e["minutes"], e["count"], e["pain"], e["note"]))
    if "plan" in own:
        begins = today - timedelta(days=2)
        plan = make_plan(
            [Task(drill(k).name, drill(k).minutes, k) for k in own["plan"]["drills"]], first_day=begins,
            next_lesson=begins + timedelta(days=7), today=begins, minutes_a_day=own["plan"]["minutes"],
            pain=studio.practice.record(student.id, today).paused,
        )  # fmt: skip
        studio.store.practice.save_plan(student.id, begins, plan_to_dict(plan), f"{begins.isoformat()}T18:00:00")
