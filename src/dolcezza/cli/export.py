"""``dolcezza export --out DIR``."""

from __future__ import annotations

import argparse

from dolcezza.core.base.errors import StudioError
from dolcezza.services.export import export_folder, export_student
from dolcezza.services.studio import Studio
from dolcezza.storage.files import ready_folder


def run_export(options: argparse.Namespace) -> int:
    """Write all students, or one, as open files. Raises DolcezzaError."""
    ready_folder(options.out)
    studio = Studio(options.studio)
    try:
        students = [s for s in studio.students() if options.student is None or s.name == options.student]
        if not students:
            who = f"called {options.student}" if options.student else "in this studio"
            raise StudioError(f"There is no student {who}.", f"Students: {', '.join(s.name for s in studio.students()) or 'none'}.")
        for student in students:
            folder = export_folder(options.out, student)
            export_student(studio, student, folder)
            print(f"{student.name}: {folder}")
    finally:
        studio.close()
    return 0
