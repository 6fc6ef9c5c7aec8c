"""``dolcezza export --out DIR``."""

from __future__ import annotations

import argparse

from dolcezza.core.base.errors import StudioError
from dolcezza.services.export import export_folder, export_student
from dolcezza.services.studio import Studio
from dolcezza.storage.files import ready_folder
from dolcezza.storage.records import Student


def run_export(options: argparse.Namespace) -> int:
    """Write all students, or one, as open files. Raises DolcezzaError."""
    ready_folder(options.out)
    studio = Studio(options.studio)
    try:
        students = named_students(studio, options.student)
        for student in students:
            folder = export_folder(options.out, student)
            export_student(studio, student, folder)
            print(f"{student.name}: {folder}")
    finally:
        studio.close()
    return 0


def named_students(studio: Studio, name: str | None) -> list[Student]:
    """The student of a name, or everybody for None. Raises StudioError where there is nobody."""
    students = [s for s in studio.students() if name is None or s.name == name]
    if not students:
        who = f"called {name}" if name else "in this studio"
        raise StudioError(f"There is no student {who}.", f"Students: {', '.join(s.name for s in studio.students()) or 'none'}.")
    return students
