"""Pieces in notation: read from files, made as scales, kept in the studio, engraved, and laid against a take."""

from __future__ import annotations

import base64
import json
import subprocess
import sys
from collections import Counter
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.score.engraving import MOST_BYTES, Engraved
from dolcezza.core.score.mei import read_mei
from dolcezza.core.score.musicxml import to_musicxml
from dolcezza.core.score.scales import PATTERNS, scale
from dolcezza.core.score.score import NotationError, Score, part, with_tempo
from dolcezza.storage.file_names import own_place
from dolcezza.storage.files import disk_faults, write_whole

if TYPE_CHECKING:
    from dolcezza.core.assignment.exercise import Exercise
    from dolcezza.core.pipeline.measure import TakeAnalysis
    from dolcezza.core.played.played import Performance

READ_S = 30.0
"""A file that takes longer to read is given up."""
SUFFIXES = (".musicxml", ".xml", ".mxl", ".mei", ".abc")


class NotationShelf:
    """Pieces kept in ``folder`` as MEI, by name; a file that cannot be read is left out and named in ``faults``."""

    def __init__(self, folder: Path) -> None:
        self.folder = Path(folder)
        self.faults: list[str] = []

    def names(self) -> list[str]:
        """Names of the pieces, in order."""
        return sorted(p.stem for p in self.folder.glob("*.mei")) if self.folder.is_dir() else []

    def take_in(self, path: Path) -> str:
        """Read a notation file and keep it; returns the name it is kept under. Raises NotationError or StudioError."""
        mei = mei_of(read_file(path))
        read_mei(mei)
        return self.keep(path.stem, mei)

    def taken_in(self, path: Path) -> Work[str]:
        """The same as work in the background; returns the name. Raises NotationError or StudioError."""
        yield Progress(Stage.OPENING, 0, 1)
        return self.take_in(path)

    def keep(self, name: str, mei: str) -> str:
        """Keep MEI under a name that is free or its own. Raises StudioError."""
        place = own_place(self.folder, name, ".mei", lambda other: _same(other, mei))
        write_whole(place, mei)
        return place.stem

    def mei(self, name: str) -> str:
        """The MEI of a piece. Raises NotationError."""
        try:
            return (self.folder / f"{name}.mei").read_text(encoding="utf-8")
        except (OSError, UnicodeDecodeError) as error:
            raise NotationError(f"The piece '{name}' cannot be read.", "Open its file again.") from error

    def remove(self, name: str) -> None:
        """Remove a piece. Raises StudioError."""
        with disk_faults(self.folder):
            (self.folder / f"{name}.mei").unlink(missing_ok=True)


def _same(path: Path, mei: str) -> bool:
    try:
        return path.read_text(encoding="utf-8") == mei
    except (OSError, UnicodeDecodeError):
        return False


def read_file(path: Path) -> bytes:
    """The bytes of a notation file. Raises NotationError."""
    if path.suffix.lower() not in SUFFIXES:
        raise NotationError(f"{path.name} is not a notation file.", f"Files ending in {', '.join(SUFFIXES)} are read.")
    try:
        if path.stat().st_size > MOST_BYTES:
            raise NotationError(f"{path.name} is larger than {MOST_BYTES // 1_000_000} MB.", "Save the one part that is to be played.")
        return path.read_bytes()
    except OSError as error:
        raise NotationError(f"{path.name} cannot be read.", "Choose another file.") from error


def mei_of(data: bytes) -> str:
    """MEI of a notation file's bytes. Raises NotationError."""
    return str(_asked({"what": "mei", "data": base64.b64encode(data).decode()})["mei"])


def engraved(mei: str, staff: int, *, width: int, below: float) -> Engraved:
    """Engraved pages, see ``engrave``. Raises NotationError."""
    made = _asked({"what": "engrave", "mei": mei, "staff": staff, "width": width, "below": below})["engraved"]
    return Engraved(
        tuple(made["svg"]), {k: (int(v[0]), float(v[1]), float(v[2])) for k, v in made["notes"].items()},
        tuple(tuple((float(a), float(b)) for a, b in page) for page in made["systems"]),
        tuple((float(w), float(h)) for w, h in made["size"]),
    )  # fmt: skip


def _asked(what: dict[str, Any]) -> dict[str, Any]:
    try:
        done = subprocess.run(
            [sys.executable, "-m", "dolcezza.services.read_notation"], input=json.dumps(what), capture_output=True, text=True, check=False,
            timeout=READ_S,
        )  # fmt: skip
        told: dict[str, Any] = json.loads(done.stdout) if done.returncode == 0 else {}
    except (subprocess.TimeoutExpired, json.JSONDecodeError):
        told = {}
    if "sentence" in told:
        raise NotationError(told["sentence"], told["advice"])
    if not told:
        raise NotationError("The notation could not be read.", "Save it again as MusicXML from the notation program.")
    return told


def scale_mei(family: str, key: str, pattern: str, *, minor: bool, tempo: float) -> tuple[str, str]:
    """A scale's title and its MEI. Raises NotationError."""
    chosen = next((p for p in PATTERNS if p.name == pattern), PATTERNS[0])
    made, fifths = scale(family, key, chosen, minor=minor, tempo=tempo)
    return made.title, mei_of(to_musicxml(made, family, fifths).encode())


def score_of(mei: str, staff: int = 1, *, tempo: float | None = None, title: str = "") -> Score:
    """The score of one staff. Raises NotationError."""
    found = read_mei(mei, staff)
    if title:
        found = replace(found, title=title)
    return found if tempo is None else with_tempo(found, tempo)


def with_notes(exercise: Exercise, shelf: NotationShelf) -> Exercise:
    """An exercise with the printed notes that it names, where they can still be read."""
    own = exercise.printed
    if own is None:
        return exercise
    try:
        whole = score_of(shelf.mei(own.piece), own.staff, tempo=exercise.tempo, title=own.piece)
        return replace(exercise, printed=replace(own, score=part(whole, own.first, own.last) if own.last else whole))
    except NotationError:
        return exercise


def write_score(score: Score, family: str, path: Path, fifths: int = 0) -> None:
    """Write a score as MusicXML. Raises StudioError."""
    write_whole(path, to_musicxml(score, family, fifths))


def against_notes(analysis: TakeAnalysis, score: Score) -> tuple[TakeAnalysis, Performance]:
    """A measured take laid against a score, and the analysis with what was found by it. Raises NotationError where there is no sound."""
    from dolcezza.core.findings.rank import GROUPS, in_order
    from dolcezza.core.findings.rules.printed import printed_findings
    from dolcezza.core.played.of_take import performance

    heard = analysis.cache.heard if analysis.cache is not None else None
    told = performance(score, analysis.series, analysis.strokes, heard.pitch if heard else None, heard.cents if heard else 0.0)
    found = [*analysis.findings, *printed_findings(told, analysis.strokes)]
    return replace(analysis, findings=in_order(found, analysis.profile.order_of_work or GROUPS)), told


def performance_words(told: Performance) -> str:
    """How it was played, in a sentence."""
    if not told.sure:
        found = sum(not n.wrong for n in told.notes.values())
        return f"The video does not seem to be of '{told.score.title}' ({found} of {len(told.score.sounding)} notes found in it)."
    faults = Counter(f for b in told.bows for f in b.faults)
    said = [f"{len(told.notes)} of {len(told.score.sounding)} notes of '{told.score.title}' played"]
    said += [f"{len(told.missed)} left out"] if told.missed else []
    said += [f"{wrong} with another pitch"] if (wrong := sum(n.wrong for n in told.notes.values())) else []
    said += [f"{fault}: {count}" for fault, count in faults.items()]
    return f"{', '.join(said)}; at {told.tempo:.0f} quarter notes a minute."


def played_to_dict(told: Performance) -> dict[str, Any]:
    """Plain JSON data of a performance: every printed note with how it was played, every printed bow with what went otherwise."""
    notes = []
    for k, own in sorted(told.notes.items()):
        printed = told.score.notes[k]
        notes.append({
            "note": k + 1, "bar": printed.measure, "beat": round(printed.start, 4), "midi": list(printed.midi),
            "start_s": round(own.start_s, 3), "end_s": round(own.end_s, 3), "strokes": list(own.strokes), "string": own.string,
            "from_position": _plain(own.start_place, 3), "to_position": _plain(own.end_place, 3), "bow_angle_deg": _plain(own.angle_deg, 2),
            "contact_point_mm": _plain(own.contact_mm, 1), "late_s": _plain(own.late_s, 3), "other_pitch": own.wrong,
        })  # fmt: skip
    bows = [
        {
            "notes": [k + 1 for k in b.printed.notes], "printed": "down" if b.printed.down else "up", "signed": b.printed.signed,
            "played": None if b.down is None else "down" if b.down else "up", "strokes": list(b.strokes), "share": _plain(b.share, 3),
            "faults": list(b.faults),
        }
        for b in told.bows
    ]  # fmt: skip
    return {
        "title": told.score.title, "sure": told.sure, "tempo": round(told.tempo, 1), "notes": notes, "bows": bows,
        "left_out": [k + 1 for k in told.missed],
        "extra": [{"start_s": round(h.start_s, 3), "end_s": round(h.end_s, 3), "midi": h.midi} for h in told.extra],
    }  # fmt: skip


def _plain(value: float, digits: int) -> float | None:
    return round(float(value), digits) if value == value else None


def write_played(told: Performance, folder: Path) -> Path:
    """Write played.json and return its path. Raises StudioError."""
    path = Path(folder) / "played.json"
    write_whole(path, json.dumps(played_to_dict(told), indent=1) + "\n")
    return path
