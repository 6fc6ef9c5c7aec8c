"""Names of people and things as names of files: readable, and never one for two."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path

LONGEST = 80
NAMELESS = "unnamed"


def file_stem(name: str) -> str:
    """A name in letters that every file system takes: "Ana B." becomes "ana_b"."""
    return re.sub(r"[^\w-]+", "_", name).strip("_").lower()[:LONGEST] or NAMELESS


def own_place(folder: Path, name: str, suffix: str, belongs: Callable[[Path], bool]) -> Path:
    """Where the thing called ``name`` lies or may lie in ``folder``: the first place that is free or ``belongs`` to it already. "Ana B" and
    "Ana.B" come to lie beside each other, never upon each other."""
    stem, number = file_stem(name), 1
    while True:
        path = folder / f"{stem}{'' if number == 1 else f'-{number}'}{suffix}"
        if not path.exists() or belongs(path):
            return path
        number += 1
