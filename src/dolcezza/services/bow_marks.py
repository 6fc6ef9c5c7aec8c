"""Places that are marked on a student's own bow, as shares of its hair."""

from __future__ import annotations

from dolcezza.storage.studio import StudioStore


def marks_of(store: StudioStore, student_id: int, hair_mm: float) -> dict[str, float]:
    """Marks of the bow that is played by name, share of the hair (0 = frog); those beyond the head are left out."""
    bows = store.hold.bows(student_id)
    marks = bows[-1].marks if bows else {}
    return {name: mm / hair_mm for name, mm in marks.items() if mm < hair_mm}
