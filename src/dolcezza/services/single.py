"""One desk for one studio: a second start hands its videos to the first one through the studio's inbox and ends."""

from __future__ import annotations

import fcntl
import json
import os
import time
import uuid
from collections.abc import Sequence
from pathlib import Path

from dolcezza.core.base.errors import UNREADABLE, StudioError
from dolcezza.storage.files import disk_faults, write_whole

INBOX = ".inbox"
ANSWER_S = 6.0
"""A desk that is open takes a message in so soon."""


class DeskLock:
    """The one desk of a studio: a lock on the folder itself, which the system lets go of when the process ends, however it ends. There is
    no file that could be left behind, be empty or be deleted."""

    def __init__(self, folder: Path) -> None:
        with disk_faults(folder):
            self._handle: int | None = os.open(folder, os.O_RDONLY)
        try:
            fcntl.flock(self._handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
            self.first = True
        except BlockingIOError:
            self.first = False
        except OSError:
            self.first = True  # a file system without locks: better two desks than none

    def release(self) -> None:
        """Let go of the studio."""
        if self._handle is not None:
            os.close(self._handle)
            self._handle = None


def hand_over(folder: Path, videos: Sequence[Path], *, answer_s: float = ANSWER_S) -> None:
    """Ask the desk that is open on a studio to come forward, and to take in videos. Raises StudioError where it does not answer; the
    message does not stay then."""
    path = Path(folder) / INBOX / f"{uuid.uuid4().hex}.json"
    write_whole(path, json.dumps({"videos": [str(Path(v).absolute()) for v in videos]}) + "\n")
    until = time.monotonic() + answer_s
    while path.exists():
        if time.monotonic() > until:
            path.unlink(missing_ok=True)
            raise StudioError("Another desk is open on this studio and does not answer.", "Close it, or end its process, and start again.")
        time.sleep(0.05)


def taken_over(folder: Path) -> list[Path] | None:
    """What second starts have asked for since the last time: the videos; None = nobody asked. Messages are removed."""
    asked, videos = False, []
    inbox = Path(folder) / INBOX
    for path in sorted(inbox.glob("*.json")) if inbox.exists() else []:
        try:
            videos += [Path(v) for v in json.loads(path.read_text(encoding="utf-8"))["videos"]]
            asked = True
        except (OSError, *UNREADABLE):
            pass
        path.unlink(missing_ok=True)
    return videos if asked else None
