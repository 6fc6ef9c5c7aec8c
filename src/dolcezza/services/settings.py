"""The teacher's preferences and the last session, one small JSON file in the XDG configuration place."""

from __future__ import annotations

import json
from dataclasses import asdict, dataclass, field, fields, replace
from pathlib import Path
from typing import Any

import platformdirs

from dolcezza.core.base.errors import UNREADABLE
from dolcezza.storage.files import write_whole

VERSION = 1
THEMES = ("light", "dark")
LANGUAGES = ("en", "de")
SIZES = (100, 125, 150, 175, 200)
MOST_RECENT = 8
LAST_STEP, LONGEST_S = 10, 1e5


@dataclass(frozen=True)
class Session:
    """Where one was when a studio was closed: student, take, step of the job, moment (s); 0 = none."""

    student: int = 0
    take: int = 0
    step: int = 0
    moment_s: float = 0.0


@dataclass(frozen=True)
class Settings:
    """``theme`` light or dark; ``language`` as in ``LANGUAGES``; ``size`` of letters and controls in per cent, from the next start on;
    ``quiet``: sound off; ``window``: place and size as the window system gives them; by studio folder: takes opened lately, newest
    first, and the last session."""

    theme: str = "light"
    language: str = "en"
    size: int = 100
    quiet: bool = False
    window: str = ""
    recent: dict[str, list[int]] = field(default_factory=dict)
    sessions: dict[str, Session] = field(default_factory=dict)

    def opened(self, studio: Path, take_id: int) -> Settings:
        """With a take at the head of those opened lately."""
        key = str(studio)
        ids = [take_id, *(k for k in self.recent.get(key, []) if k != take_id)][:MOST_RECENT]
        return replace(self, recent={**self.recent, key: ids})

    def left(self, studio: Path, session: Session) -> Settings:
        """With the session of a studio that is closed."""
        return replace(self, sessions={**self.sessions, str(studio): session})

    def session(self, studio: Path) -> Session:
        """The last session of a studio."""
        return self.sessions.get(str(studio), Session())


def settings_path() -> Path:
    """Where the settings lie."""
    return Path(platformdirs.user_config_dir("dolcezza")) / "settings.json"


class SettingsFile:
    """The settings and their file; every change is written at once. What cannot be read counts as not set."""

    def __init__(self, path: Path | None = None) -> None:
        self.path = path or settings_path()
        self.now = self._read()

    def change(self, new: Settings) -> None:
        """Other settings from now on. Raises StudioError when they cannot be written."""
        if new != self.now:
            self.now = new
            write_whole(self.path, json.dumps({"version": VERSION, **asdict(new)}, indent=1) + "\n")

    def _read(self) -> Settings:
        try:
            data = json.loads(self.path.read_text(encoding="utf-8"))
        except (OSError, ValueError, RecursionError):
            return Settings()
        return settings_from(data if isinstance(data, dict) else {})


def settings_from(data: dict[str, Any]) -> Settings:
    """Settings from JSON data; each field that is missing or cannot be is as at first."""
    usual = Settings()
    kept: dict[str, Any] = {}
    allowed = {"theme": THEMES, "language": LANGUAGES, "size": SIZES}
    for f in fields(Settings):
        value = data.get(f.name)
        if f.name in allowed:
            kept[f.name] = value if value in allowed[f.name] else getattr(usual, f.name)
        elif f.name in ("quiet", "window"):
            kept[f.name] = value if isinstance(value, type(getattr(usual, f.name))) else getattr(usual, f.name)
    recent = data.get("recent")
    if isinstance(recent, dict):
        kept["recent"] = {str(k): [i for i in v if isinstance(i, int)][:MOST_RECENT] for k, v in recent.items() if isinstance(v, list)}
    sessions = data.get("sessions")
    if isinstance(sessions, dict):
        kept["sessions"] = {str(k): s for k, v in sessions.items() if (s := _session(v)) is not None}
    return Settings(**kept)


def _session(data: Any) -> Session | None:
    try:
        session = Session(int(data["student"]), int(data["take"]), int(data["step"]), float(data["moment_s"]))
    except UNREADABLE:
        return None
    return session if 0 <= session.step <= LAST_STEP and 0 <= session.moment_s < LONGEST_S else None
