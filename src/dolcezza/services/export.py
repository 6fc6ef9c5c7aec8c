"""Everything of a student in open files: JSON for what was said and planned, CSV for the log and the takes, the takes' own files."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Sequence
from dataclasses import asdict
from datetime import date
from pathlib import Path
from typing import Any

from dolcezza.core.base.errors import UNREADABLE
from dolcezza.reports.findings import sentence_of
from dolcezza.reports.language import language
from dolcezza.reports.pages import to_webvtt
from dolcezza.services.practice import plan_to_dict
from dolcezza.services.studio import Studio
from dolcezza.storage.file_names import own_place
from dolcezza.storage.files import write_whole
from dolcezza.storage.records import Student

FORMAT = 1
"""Version of the exported files."""


def export_folder(folder: Path, student: Student) -> Path:
    """Where a student's files go in ``folder``: a place of their own, the same as last time."""

    def same(path: Path) -> bool:
        try:
            written = json.loads((path / "student.json").read_text(encoding="utf-8"))["student"]
            return bool(written["id"] == student.id and written["name"] == student.name)
        except (OSError, *UNREADABLE):
            return False

    return own_place(Path(folder), student.name, "", same)


def export_student(studio: Studio, student: Student, folder: Path) -> list[Path]:
    """Write all that the studio knows of a student; videos stay where they are. Returns the files. Raises StudioError."""
    folder = Path(folder)
    folder.mkdir(parents=True, exist_ok=True)
    written = []
    takes: list[dict[str, Any]] = []
    for status in studio.takes(student.id):
        take, stored = status.take, studio.analysis(status.take)
        row: dict[str, Any] = {
            "title": take.title,
            "played_on": take.played_on,
            "video": str(take.path),
            "sha256": take.fingerprint,
            "instrument": status.instrument,
            "asked": studio.store.assignments.of(take.id),
            "remarks": [asdict(r) for r in studio.store.words.remarks(take.id)],
            "files": "",
        }
        if stored is not None:
            name = f"{take.played_on:%Y-%m-%d}-{take.id}"
            studio.copy_files(stored, folder / name)
            write_whole(folder / name / "annotations.vtt", to_webvtt(stored, studio.store.words.remarks(take.id)))
            row["files"] = name
            row["findings"] = [
                {"sentence": sentence_of(j, language("en")), "verdict": j.verdict, "reason": j.reason} for j in stored.findings
            ]
        takes.append(row)
    data = {
        "format": FORMAT,
        "student": asdict(student),
        "takes": takes,
        "plans": [plan_to_dict(k.plan) for k in studio.practice.plans(student.id)],
        "dismissed": [asdict(d) for name in studio.shelf.all() for d in studio.store.words.dismissals(student.id, name)],
        "felt": [asdict(f) for f in studio.store.hands.felt(student.id)],
    }
    files = {"student.json": json.dumps(data, indent=1, ensure_ascii=False, default=_plain) + "\n", "practice.csv": _log(studio, student)}
    for file, text in files.items():
        write_whole(folder / file, text)
        written.append(folder / file)
    return written


def _plain(value: Any) -> str:
    if isinstance(value, (date, Path)):
        return str(value)
    raise TypeError(f"{value!r} cannot be written")


def _log(studio: Studio, student: Student) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    names: Sequence[str] = ("day", "what", "minutes", "count", "pain", "note")
    writer.writerow(names)
    for e in reversed(studio.practice.entries(student.id)):
        writer.writerow([e.day.isoformat(), e.what, f"{e.minutes:g}", e.count, "yes" if e.pain else "no", e.note])
    return out.getvalue()
