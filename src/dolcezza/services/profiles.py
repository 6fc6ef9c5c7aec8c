"""The teacher's own profiles: copies of the ready-made ones, as files in the studio that anyone can edit."""

from __future__ import annotations

import json
from contextlib import suppress
from pathlib import Path
from typing import Any

from dolcezza.core.base.errors import InstrumentError
from dolcezza.core.findings.profiles import PROFILES, Profile, profile, profile_from_dict, ready_texts
from dolcezza.storage.file_names import own_place
from dolcezza.storage.files import write_whole


def named_profile(name: str) -> Profile:
    """A ready-made profile by name, or one from a file. Raises InstrumentError."""
    path = Path(name)
    if path.suffix != ".json":
        return profile(name)
    try:
        return profile_from_dict(json.loads(path.read_text(encoding="utf-8")))
    except (OSError, UnicodeDecodeError, json.JSONDecodeError, RecursionError) as error:
        raise InstrumentError(f"The profile {path.name} cannot be read.", "It is a JSON file; compare it with a ready-made one.") from error


class ProfileShelf:
    """Ready-made profiles and those in ``folder``; a file that cannot be read is left out and named in ``faults``."""

    def __init__(self, folder: Path) -> None:
        self.folder = Path(folder)
        self.faults: list[str] = []

    def all(self) -> dict[str, Profile]:
        """Every profile by name, the teacher's own after the ready-made ones."""
        found, self.faults = dict(PROFILES), []
        for path in sorted(self.folder.glob("*.json")) if self.folder.is_dir() else []:
            try:
                own = profile_from_dict(json.loads(path.read_text(encoding="utf-8")))
            except (OSError, UnicodeDecodeError, json.JSONDecodeError, RecursionError, InstrumentError) as error:
                self.faults.append(f"{path.name} is not used: {error}")
                continue
            if own.name in PROFILES:
                self.faults.append(f"{path.name} is not used: '{own.name}' is the name of a ready-made profile. Give it another name.")
                continue
            found[own.name] = own
        return found

    def get(self, name: str) -> Profile:
        """A profile by name. Raises InstrumentError."""
        found = self.all()
        if name not in found:
            raise InstrumentError(f"There is no profile called '{name}'.", f"Choose one of: {', '.join(found)}.")
        return found[name]

    def file_of(self, name: str) -> Path | None:
        """The file of an own profile; None for a ready-made one or none of that name."""
        for path in sorted(self.folder.glob("*.json")) if self.folder.is_dir() else []:
            with suppress(OSError, UnicodeDecodeError, json.JSONDecodeError, RecursionError, AttributeError):
                if name not in PROFILES and json.loads(path.read_text(encoding="utf-8")).get("name") == name:
                    return path
        return None

    def data(self, name: str) -> dict[str, Any]:
        """A profile as plain JSON data. Raises InstrumentError."""
        self.get(name)
        path = self.file_of(name)
        text = ready_texts()[name] if path is None else path.read_text(encoding="utf-8")
        return dict(json.loads(text))

    def keep(self, data: dict[str, Any]) -> Path:
        """Write an own profile: over the file of the same name, or as a new one. Raises InstrumentError or StudioError."""
        made = profile_from_dict(data)
        if made.name in PROFILES:
            raise InstrumentError(f"'{made.name}' is the name of a ready-made profile.", "Give yours another name.")
        path = self.file_of(made.name) or own_place(self.folder, made.name, ".json", lambda _path: False)
        write_whole(path, json.dumps(data, indent=2, ensure_ascii=False) + "\n")
        return path

    def remove(self, name: str) -> None:
        """Remove an own profile's file."""
        path = self.file_of(name)
        if path is not None:
            path.unlink()

    def free_name(self, wanted: str) -> str:
        """A name that no profile has yet, as near to ``wanted`` as can be."""
        taken = self.all()
        return next(n for n in (wanted, *(f"{wanted} {k}" for k in range(2, 10_000))) if n not in taken)

    def copy(self, name: str, new_name: str) -> Path:
        """Copy a profile under another name, to be edited. Returns the new file. Raises InstrumentError or StudioError."""
        new_name = new_name.strip()
        if not new_name or new_name in self.all():
            raise InstrumentError(f"'{new_name}' cannot be the name of a new profile.", "Choose a name that is not there yet.")
        return self.keep(self.data(name) | {"name": new_name})
