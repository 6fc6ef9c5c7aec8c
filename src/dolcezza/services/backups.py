"""Copies of a studio, and putting one back."""

from __future__ import annotations

from datetime import date
from pathlib import Path

from dolcezza.core.base.errors import StudioError
from dolcezza.services.studio import default_folder
from dolcezza.storage import backups


def days(folder: Path | None = None) -> list[date]:
    """Days of which there is a copy, newest first."""
    return [day for day, _ in backups.copies(folder or default_folder())]


def put_back(folder: Path | None = None, day: date | None = None) -> tuple[date, Path]:
    """Put back the copy of ``day`` (None = the newest that is whole). Returns its day, and where the damaged database lies now.

    Raises StudioError where there is none.
    """
    place = folder or default_folder()
    found = [(when, path) for when, path in backups.copies(place) if day is None or when == day]
    if not found:
        which = f"of {day:%d %B %Y}" if day else "of this studio"
        there = ", ".join(f"{d:%d %B %Y}" for d in days(place)) or "none"
        raise StudioError(f"There is no copy {which}.", f"Copies: {there}.")
    good = next(((when, path) for when, path in found if backups.whole(path)), found[0])
    return good[0], backups.put_back(place, good[1])
