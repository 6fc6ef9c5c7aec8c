"""``dolcezza restore [DAY]``."""

from __future__ import annotations

import argparse
from datetime import date

from dolcezza.core.base.errors import StudioError
from dolcezza.services.backups import days, put_back


def run_restore(options: argparse.Namespace) -> int:
    """Put a copy of the studio back, or list the copies. Raises StudioError."""
    if options.list:
        print("\n".join(day.isoformat() for day in days(options.studio)) or "no copies")
        return 0
    try:
        day = date.fromisoformat(options.day) if options.day else None
    except ValueError as error:
        raise StudioError(f"'{options.day}' is not a day.", "Write it as 2026-11-28.") from error
    when, aside = put_back(options.studio, day)
    print(f"The copy of {when.isoformat()} was put back; what was there before is {aside}")
    return 0
