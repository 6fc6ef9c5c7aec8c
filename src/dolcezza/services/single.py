"""One desk for one studio: a second start hands its videos to the first one through the studio's inbox and ends."""

from __future__ import annotations

import json
import uuid
from collections.abc import Sequence
from pathlib import Path

from dolcezza.storage.files import write_whole

INBOX = ".inbox"
LOCK = ".desk.lock"


def hand_over(folder: Path, videos: Sequence[Path]) -> None:
    """Ask the desk that is open on a studio to come forward, and to take in videos. Raises StudioError."""
    message = json.dumps({"videos": [str(Path(v).absolute()) for v in videos]})
    write_whole(Path(folder) / INBOX / f"{uuid.uuid4().hex}.json", message + "\n")


def taken_over(folder: Path) -> list[Path] | None:
    """What second starts have asked for since the last time: the videos; None = nobody asked. Messages are removed."""
    asked, videos = False, []
    inbox = Path(folder) / INBOX
    for path in sorted(inbox.glob("*.json")) if inbox.exists() else []:
        try:
            videos += [Path(v) for v in json.loads(path.read_text(encoding="utf-8"))["videos"]]
            asked = True
        except (OSError, ValueError, KeyError, TypeError):
            pass
        path.unlink(missing_ok=True)
    return videos if asked else None
