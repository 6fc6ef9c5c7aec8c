"""``dolcezza archive FILE`` and ``dolcezza take-in FILE``."""

from __future__ import annotations

import argparse

from dolcezza.cli.export import named_students
from dolcezza.cli.progress import with_progress
from dolcezza.services.studio import Studio


def run_archive(options: argparse.Namespace) -> int:
    """Write an archive of one student or of everybody. Raises DolcezzaError."""
    studio = Studio(options.studio)
    try:
        students = named_students(studio, options.student)
        one = students[0].id if options.student is not None else None
        path = with_progress(studio.archiving.write(options.file, one, videos=options.videos), not options.quiet)
        print(f"{', '.join(s.name for s in students)}: {path}")
        if not_agreed := [s.name for s in students if not studio.keeping.may_leave(s.id, picture=options.videos)]:
            print(f"keep this file with you: handing it on was not agreed for {', '.join(not_agreed)}")
    finally:
        studio.close()
    return 0


def run_take_in(options: argparse.Namespace) -> int:
    """Take in the students of an archive. Raises DolcezzaError."""
    studio = Studio(options.studio)
    try:
        came = with_progress(studio.archiving.take_in(options.file, options.videos_to), not options.quiet)
    finally:
        studio.close()
    print(f"taken in: {', '.join(came.came)}")
    if came.here:
        print(f"here already, left as they are: {', '.join(came.here)}")
    return 0
