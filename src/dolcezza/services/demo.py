"""The made-up studio: invented students with rendered takes, pinned and ready to be measured."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from importlib import resources
from pathlib import Path

import platformdirs

from dolcezza.services.fitfile import read_fit
from dolcezza.services.studio import Studio


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


STUDENTS: tuple[DemoStudent, ...] = (
    DemoStudent(
        "Mila Torvald", "violin 1/2", "Starter, thumb outside", "Nine. Long bows on D and A; the bow swings round. Likes the ladder game.",
        date(2025, 9, 2), (
            DemoTake("demo-a1", "Long bows, D and A", date(2026, 9, 15)),
            DemoTake("demo-a2", "Long bows, D and A", date(2026, 10, 13)),
            DemoTake("demo-a3", "Long bows, D and A", date(2026, 11, 17)),
        ),
    ),
    DemoStudent(
        "Anselm Quirke", "viola 16", "Franco-Belgian",
        "Came back to the viola after twenty years. Short bows, elbow the same on all strings.",
        date(2026, 8, 20), (
            DemoTake("demo-b1", "Open strings, low to high", date(2026, 9, 3)),
            DemoTake("demo-b2", "Open strings, low to high", date(2026, 11, 5)),
        ),
    ),
    DemoStudent(
        "Oriel Vantongeren", "violin 4/4", "Franco-Belgian", "Prepares an audition. Wants to know why the tone thins out at the tip.",
        date(2024, 1, 11), (
            DemoTake("dev-straight", "Open strings, phone on the stand", date(2026, 10, 8)),
            DemoTake("dev-crooked", "A and D, phone almost in line with the strings", date(2026, 10, 22)),
            DemoTake("dev-stickers", "Whole bows, lower and upper halves, stickers", date(2026, 11, 12)),
        ),
    ),
    DemoStudent(
        "Pepin Aldous", "violin 3/4", "Starter, thumb outside", "Twelve. Raised shoulder, the bow trembles in the middle.",
        date(2026, 2, 3), (DemoTake("dev-tense", "Open strings, from the front", date(2026, 11, 10)),),
    ),
    DemoStudent(
        "Iduna Marchetti", "cello 4/4", "Cello", "Two bows a string, from low to high.",
        date(2026, 5, 19), (DemoTake("dev-cello", "Open strings", date(2026, 11, 19)),),
    ),
)  # fmt: skip
FIRST_TAKE = "demo-a1"
"""The take that the demonstration opens and measures."""


def demo_folder() -> Path:
    """Where the demo studio lies; it is separate from the teacher's own."""
    return Path(platformdirs.user_data_dir("dolcezza")) / "demo-studio"


def demo_video(stem: str) -> Path:
    """Path of a rendered take that ships with the program."""
    return Path(str(resources.files("dolcezza") / "demo_data" / f"{stem}.mp4"))


def fill(studio: Studio) -> dict[str, int]:
    """Put the invented students and their pinned takes into an empty studio; returns take ids by file stem.

    A studio that already has students is left as it is.
    """
    if studio.students():
        return {status.take.path.stem: status.take.id for s in studio.students() for status in studio.takes(s.id)}
    ids = {}
    for student in STUDENTS:
        kept = studio.add_student(student.name, student.instrument, profile_name=student.profile, note=student.note, since=student.since)
        for take in student.takes:
            video = demo_video(take.stem)
            stored = studio.add_take(kept.id, video, title=take.title, played_on=take.played_on)
            studio.save_fit(stored, read_fit(video.with_suffix(".fit.json")))
            ids[take.stem] = stored.id
    return ids
