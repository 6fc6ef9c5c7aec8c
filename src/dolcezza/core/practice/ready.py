"""What is made ready before the first note: a list to tick (``ready.json``; common practice, no source)."""

from __future__ import annotations

import json
from functools import cache
from importlib.resources import files

READY = "before the first note"
"""Under this name the ticks are kept."""


@cache
def _items() -> dict[str, list[dict[str, str]]]:
    data: dict[str, list[dict[str, str]]] = json.loads(files(__package__).joinpath("ready.json").read_text(encoding="utf-8"))
    return data


def ready_list(family: str) -> dict[str, str]:
    """What is ticked for an instrument family: key to words, in order."""
    player = "cello" if family == "cello" else "violin"
    return {item["key"]: item["says"] for part in ("bow", player, "start", "after") for item in _items()[part]}
