"""Which takes are of one playing, filmed by two phones: kept in the studio's folder."""

from __future__ import annotations

import json
from pathlib import Path

from dolcezza.core.base.errors import UNREADABLE
from dolcezza.storage.files import write_whole

FILE = "pairs.json"


class PairBook:
    """The second phone's take by the first one's; every change is kept at once. A file that cannot be read says nothing."""

    def __init__(self, folder: Path) -> None:
        self._path = Path(folder) / FILE
        self._pairs = self._read()

    def _read(self) -> dict[int, int]:
        try:
            data = json.loads(self._path.read_text(encoding="utf-8"))
            return {int(first): int(second) for first, second in data["pairs"]}
        except (OSError, *UNREADABLE):
            return {}

    def of(self, take_id: int) -> int:
        """The take that the second phone made, 0 = none."""
        return self._pairs.get(take_id, 0)

    def set(self, take_id: int, second: int) -> int:
        """Join a take with the second phone's (0 = with none); returns what it was joined with. Raises StudioError."""
        before = self.of(take_id)
        pairs = {k: v for k, v in self._pairs.items() if k != take_id}
        self._put(pairs | {take_id: second} if second and second != take_id else pairs)
        return before

    def forget(self, take_id: int) -> None:
        """A take goes, as the first of two or as the second. Raises StudioError."""
        self._put({k: v for k, v in self._pairs.items() if take_id not in (k, v)})

    def _put(self, pairs: dict[int, int]) -> None:
        if pairs != self._pairs:
            self._pairs = pairs
            write_whole(self._path, json.dumps({"pairs": sorted(pairs.items())}) + "\n")
