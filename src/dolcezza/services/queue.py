"""Takes that wait to be measured, kept in the studio's folder so that measuring goes on after a restart."""

from __future__ import annotations

import json
from collections.abc import Sequence
from pathlib import Path

from dolcezza.core.base.errors import UNREADABLE
from dolcezza.storage.files import write_whole

FILE = "waiting.json"


class WaitingList:
    """Ids of takes in the order in which they are to be measured; every change is kept at once."""

    def __init__(self, folder: Path) -> None:
        self._path = Path(folder) / FILE
        self.ids: list[int] = self._read()

    def _read(self) -> list[int]:
        try:
            data = json.loads(self._path.read_text(encoding="utf-8"))
            return [int(k) for k in data["takes"]]
        except (OSError, *UNREADABLE):
            return []

    def add(self, ids: Sequence[int]) -> None:
        """Wait at the end; who waits already keeps the place."""
        self._put([*self.ids, *(k for k in ids if k not in self.ids)])

    def remove(self, take_id: int) -> None:
        """No longer waiting: measured, failed, or given up."""
        self._put([k for k in self.ids if k != take_id])

    def clear(self) -> None:
        """Nobody waits any more."""
        self._put([])

    def _put(self, ids: list[int]) -> None:
        ids = list(dict.fromkeys(ids))
        if ids != self.ids:
            self.ids = ids
            write_whole(self._path, json.dumps({"takes": ids}) + "\n")
