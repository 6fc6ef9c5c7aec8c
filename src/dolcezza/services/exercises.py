"""Exercises to choose from: the ready-made ones of an instrument and the teacher's own, text files in the studio."""

from __future__ import annotations

from pathlib import Path

from dolcezza.core.assignment.exercise import Exercise, check, ready_made
from dolcezza.core.assignment.text import read_exercise, write_exercise
from dolcezza.core.base.errors import ExerciseError
from dolcezza.storage.file_names import own_place
from dolcezza.storage.files import disk_faults, write_whole


class ExerciseShelf:
    """Ready-made exercises and those in ``folder``; a file that cannot be read is left out and named in ``faults``."""

    def __init__(self, folder: Path) -> None:
        self.folder = Path(folder)
        self.faults: list[str] = []

    def own(self) -> dict[str, Exercise]:
        """The teacher's own by name."""
        found: dict[str, Exercise] = {}
        self.faults = []
        for path in sorted(self.folder.glob("*.txt")) if self.folder.is_dir() else []:
            try:
                made = read_exercise(path.read_text(encoding="utf-8"))
            except (OSError, UnicodeDecodeError, ExerciseError) as error:
                self.faults.append(f"{path.name} is not used: {error}")
                continue
            found[made.name] = made
        return found

    def all(self, strings: str) -> dict[str, Exercise]:
        """Every exercise that an instrument with these ``strings`` can play, by name, the teacher's own last."""
        playable = {}
        for name, made in self.own().items():
            try:
                check(made, strings)
            except ExerciseError:
                continue
            playable[name] = made
        return {e.name: e for e in ready_made(strings)} | playable

    def save(self, exercise: Exercise) -> Path:
        """Keep an exercise under its name; an older one of that name is replaced. Raises ExerciseError or StudioError."""
        name = exercise.name.strip()
        if not name or any(name == e.name for strings in ("GDAE", "CGDA") for e in ready_made(strings)):
            raise ExerciseError(f"'{name}' cannot be the name of an own exercise.", "Give it another name in the line 'exercise:'.")
        path = self._path(name)
        write_whole(path, write_exercise(exercise))
        return path

    def remove(self, name: str) -> None:
        """Remove one of the teacher's own. Raises StudioError."""
        with disk_faults(self.folder):
            self._path(name).unlink(missing_ok=True)

    def _path(self, name: str) -> Path:
        def same(path: Path) -> bool:
            try:
                return read_exercise(path.read_text(encoding="utf-8")).name == name
            except (OSError, UnicodeDecodeError, ExerciseError):
                return False

        return own_place(self.folder, name, ".txt", same)
