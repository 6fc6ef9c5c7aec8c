"""What is kept of a student, where, and until when it was agreed; what was written out of the studio; all of it removed on demand."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from datetime import date, timedelta
from pathlib import Path

from dolcezza.core.base.errors import StudioError
from dolcezza.services.archive import WHOLE
from dolcezza.services.undo import UndoStack
from dolcezza.storage.backups import copies
from dolcezza.storage.files import disk_faults
from dolcezza.storage.records import Consent, Student, Written
from dolcezza.storage.studio import StudioStore

YEAR_DAYS = 365
"""Who was not filmed for so long is asked about."""


@dataclass(frozen=True)
class Kept:
    """One kind of thing: its name as an id, how many, where, and how large (bytes; 0 = a row of the database)."""

    what: str
    count: int
    where: Path
    size: int = 0


class Keeping:
    """``wrote`` is called for each file that leaves the studio."""

    def __init__(self, store: StudioStore, undo: UndoStack) -> None:
        self._store, self._undo = store, undo

    # what was agreed

    def agree(self, consent: Consent, *, today: date | None = None) -> Consent:
        """Keep what was agreed. Raises StudioError for dates that cannot be."""
        now, since = today or date.today(), self._store.student(consent.student_id).since
        if consent.agreed_on > now:
            raise StudioError(f"{consent.agreed_on:%d %B %Y} is still to come.", "Write down what was agreed already.")
        if consent.until is not None and consent.until < max(consent.agreed_on, since):
            raise StudioError("What is kept until a day before it was agreed cannot be.", "Choose a later day, or none.")
        if not consent.guardian.strip():
            raise StudioError("Nobody is named who agreed.", "Write the guardian's name; of an adult the student's own.")
        book = self._store.keeping
        kept = book.agree(consent)
        self._undo.did("consent", lambda: book.unagree(kept.id), lambda: book.agree(kept))
        return kept

    def agreed(self, student_id: int) -> Consent | None:
        """What counts now; None where nothing was agreed."""
        rows = self._store.keeping.consents(student_id)
        return rows[-1] if rows else None

    def may_leave(self, student_id: int, *, picture: bool, today: date | None = None) -> bool:
        """Whether something of a student may leave the studio: agreed, for pictures too where one is in it, and not run out."""
        own, now = self.agreed(student_id), today or date.today()
        if own is None or (own.until is not None and own.until < now):
            return False
        return own.sharing and (own.pictures or not picture)

    def as_named(self, student: Student) -> Student:
        """A student as what leaves the studio names them: by their initials where that was agreed."""
        own = self.agreed(student.id)
        return replace(student, name=initials(student.name)) if own is not None and own.initials else student

    def overdue(self, today: date | None = None) -> list[tuple[Student, str]]:
        """Students who were not filmed for a year ("year"), or whose things are kept longer than agreed ("until")."""
        now, until = today or date.today(), self._store.keeping.all_until()
        takes = self._store.all_takes()
        out = []
        for student in self._store.students():
            newest = max((t.take.played_on for t in takes.get(student.id, ())), default=student.since)
            if student.id in until and until[student.id] < now:
                out.append((student, "until"))
            elif newest < now - timedelta(days=YEAR_DAYS):
                out.append((student, "year"))
        return out

    # what is kept

    def wrote(self, student_id: int, what: str, path: Path) -> None:
        """Note a file that was written out of the studio for a student."""
        self._store.keeping.wrote(Written(student_id, what, Path(path).absolute(), date.today()))

    def kept(self, student_id: int) -> list[Kept]:
        """Everything of a student and where it is."""
        store, folder = self._store, self._store.folder
        takes = store.takes(student_id)
        database = folder / "studio.sqlite"
        rows: tuple[tuple[str, int], ...] = (
            ("takes", len(takes)), ("plans", len(store.practice.plans(student_id))), ("log", len(store.practice.practised(student_id))),
            ("answers", len(store.hold.answers(student_id)) + len(store.hands.felt(student_id))),
            ("pictures of the hand", len(store.hands.stills(student_id))), ("consents", len(store.keeping.consents(student_id))),
        )  # fmt: skip
        out = [Kept(what, count, database) for what, count in rows if count]
        folders = [f for s in takes for f in sorted((folder / "takes" / str(s.take.id)).glob("*")) if f.is_dir()]
        size = sum(p.stat().st_size for f in folders for p in f.rglob("*") if p.is_file())
        if folders:
            out.append(Kept("measurements", len(folders), folder / "takes", size))
        held = [path for _, path in copies(folder)]
        if held:
            out.append(Kept("copies of the database", len(held), held[0].parent, sum(p.stat().st_size for p in held)))
        out += [Kept("video", 1, s.take.path, s.take.path.stat().st_size) for s in takes if s.take.path.exists()]
        out += [Kept(w.what, 1, w.path, w.path.stat().st_size) for w in store.keeping.written(student_id) if w.path.exists()]
        return out

    def remove_files(self, student_id: int, *, videos: bool) -> list[Path]:
        """Remove what was written out of the studio for a student, and with ``videos`` the videos themselves. Returns what is left: what
        could not be removed, and archives that hold others too. For the files alone; the rows go with the student."""
        written = self._store.keeping.written(student_id)
        left = [w.path for w in written if w.what == WHOLE and w.path.exists()]
        wanted = [w.path for w in written if w.what != WHOLE]
        wanted += [s.take.path for s in self._store.takes(student_id)] if videos else []
        for path in wanted:
            if not path.exists():
                continue
            try:
                with disk_faults(path):
                    path.unlink()
            except StudioError:
                left.append(path)
        return left


def initials(name: str) -> str:
    """The first letters of a name: "Mila Torvald" is "M. T."."""
    return " ".join(f"{part[0].upper()}." for part in re.split(r"[\s-]+", name) if part)
