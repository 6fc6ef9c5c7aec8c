"""The reference takes, made independently of the program, and a made-up studio that holds them."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from pathlib import Path

from dolcezza.services import demo
from dolcezza.services.studio import Studio

TAKES = Path(__file__).parent / "takes"
IN_PLACE_OF = {
    "demo-swing-1": "demo-a1", "demo-swing-2": "demo-a2", "demo-swing-3": "demo-a3", "demo-viola-1": "demo-b1", "demo-viola-2": "demo-b2",
    "demo-whole": "dev-straight", "demo-in-line": "dev-crooked", "demo-halves": "dev-stickers", "demo-trembling": "dev-tense",
    "demo-cello": "dev-cello",
}  # fmt: skip
"""Which reference take stands for which take of the demo studio: the same student, instrument and playing."""


def take_video(stem: str) -> Path:
    """A reference take; where there is none of that name, one of the demo studio."""
    path = TAKES / f"{stem}.mp4"
    return path if path.exists() else demo.demo_video(stem)


def fill(studio: Studio, *, today: date | None = None) -> dict[str, int]:
    """The demo studio with reference takes; ids by their names."""
    students = [replace(s, takes=tuple(replace(t, stem=IN_PLACE_OF.get(t.stem, t.stem)) for t in s.takes)) for s in demo.STUDENTS]
    return demo.fill(studio, today=today, students=students, video=take_video)
