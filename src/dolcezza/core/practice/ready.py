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


PARTS = ("materials", "bow", "player", "start", "after")
"""Parts of the list, in order."""


def ready_parts(family: str) -> dict[str, dict[str, str]]:
    """What is ticked for an instrument family, by part of the list: key to words, in order."""
    player = "cello" if family == "cello" else "violin"
    return {part: {item["key"]: item["says"] for item in _items()[player if part == "player" else part]} for part in PARTS}


def ready_list(family: str) -> dict[str, str]:
    """The same in one row."""
    return {key: says for part in ready_parts(family).values() for key, says in part.items()}
