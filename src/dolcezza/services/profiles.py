"""The teacher's own profiles: copies of the ready-made ones, as files in the studio that anyone can edit."""

from __future__ import annotations

import json
from pathlib import Path

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
    except (OSError, UnicodeDecodeError, json.JSONDecodeError) as error:
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
            except (OSError, UnicodeDecodeError, json.JSONDecodeError, InstrumentError) as error:
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

    def copy(self, name: str, new_name: str) -> Path:
        """Copy a profile under another name, to be edited. Returns the new file. Raises InstrumentError or StudioError."""
        new_name = new_name.strip()
        if not new_name or new_name in self.all():
            raise InstrumentError(f"'{new_name}' cannot be the name of a new profile.", "Choose a name that is not there yet.")
        source = self.get(name)
        text = ready_texts().get(name)
        if text is None:
            text = next(
                p.read_text(encoding="utf-8")
                for p in sorted(self.folder.glob("*.json"))
                if json.loads(p.read_text(encoding="utf-8")).get("name") == source.name
            )
        data = json.loads(text) | {"name": new_name}
        path = own_place(self.folder, new_name, ".json", lambda _path: False)
        write_whole(path, json.dumps(data, indent=2, ensure_ascii=False) + "\n")
        return path
