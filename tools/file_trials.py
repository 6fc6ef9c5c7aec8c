"""Damage files at random and open them: each is read, or refused with a sentence; nothing else may happen.

``python tools/file_trials.py [TRIALS] [SEED]``. Videos, sound, pictures, fit files, profiles, settings, exercises, scripts, notation,
archives and whole databases, each cut off, with bytes turned over, or (text) with values that nobody writes. Every kind is tried in a
process of its own, so that one that breaks down is counted too. Prints a table; 1 = a traceback, a breakdown or a wait without end.
"""

from __future__ import annotations

import io
import json
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import traceback
import zipfile
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass
from itertools import islice
from pathlib import Path

import cv2
import numpy as np

from dolcezza.core.assignment.text import read_exercise
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.base.job import finish
from dolcezza.core.findings.profiles import ready_texts
from dolcezza.core.media.audio import read_sound
from dolcezza.core.media.probe import probe
from dolcezza.core.media.still import read_still
from dolcezza.core.media.video import read_frames
from dolcezza.core.pipeline.fit_file import read_fit
from dolcezza.core.score.musicxml import to_musicxml
from dolcezza.core.score.scales import PATTERNS, keys_for, scale
from dolcezza.services import demo
from dolcezza.services.demo import demo_video
from dolcezza.services.notation import mei_of
from dolcezza.services.profiles import ProfileShelf, named_profile
from dolcezza.services.settings import SettingsFile
from dolcezza.services.studio import Studio
from dolcezza.simulator.script import read_script

MOST_SHOWN = 20
LONGEST_S = 60
"""Nothing may wait longer for one file."""
STRANGE = (
    "NaN", "Infinity", "-1", "1e300", "1e999", "9" * 400, '""', "null", "[]", "{}", "true", '"\\u0000"', '"' + "x" * 300 + '"',
    "[" * 3000 + "]" * 3000,
)  # fmt: skip
"""Values that nobody writes into a file of text."""
EXERCISE = "exercise: Long\ntempo: 60\nG D A E: 2 whole, 4 upper x2\nG: 8 lower slur 4\n"


def with_bytes_turned(data: bytes, chance: random.Random) -> bytes:
    """Cut off, or some bytes turned over, more of them near the beginning; or a stretch of nothing."""
    out = bytearray(data)
    how = chance.randrange(3)
    if how == 0 or not out:
        return bytes(out[: chance.randrange(len(out) + 1)])
    near = chance.choice((64, 4096, len(out)))
    if how == 1:
        for _ in range(chance.choice((1, 8, 200))):
            out[chance.randrange(min(near, len(out)))] = chance.randrange(256)
        return bytes(out)
    at = chance.randrange(min(near, len(out)))
    out[at : at + chance.choice((1, 100, 5000))] = b"\0" * chance.choice((0, 100, 5000))
    return bytes(out)


def with_strange_values(text: str, chance: random.Random) -> str:
    """Text in which a number or a word has become something that nobody writes."""
    places = [k for k, c in enumerate(text) if c.isalnum() and (k == 0 or not text[k - 1].isalnum())]
    for _ in range(chance.choice((1, 1, 3)) if places else 0):
        at = chance.choice(places)
        end = at
        while end < len(text) and (text[end].isalnum() or text[end] in "._-"):
            end += 1
        text = text[:at] + chance.choice(STRANGE) + text[end:]
        places = [k for k in places if k < at] or [0]
    return text


def damaged(source: bytes, chance: random.Random, *, text: bool) -> bytes:
    """A file that is not as it was written."""
    if text and chance.random() < 0.7:
        return with_strange_values(source.decode(), chance).encode()
    return with_bytes_turned(source, chance)


def watched(path: Path) -> object:
    """What opening a video reads of it."""
    probe(path)
    frames = list(islice(read_frames(path), 12))
    read_sound(path, rate_hz=22_050)
    return frames


def profile_of(path: Path) -> object:
    """The profile as the command line and as the shelf read it."""
    shelf = ProfileShelf(path.parent)
    shelf.all()
    return named_profile(str(path))


def opened_studio(path: Path) -> object:
    """A studio with such a database."""
    place = path.parent / "studio"
    shutil.rmtree(place, ignore_errors=True)
    place.mkdir()
    shutil.copy(path, place / "studio.sqlite")
    studio = Studio(place)
    try:
        return [studio.takes(s.id) for s in studio.students()]
    finally:
        studio.close()


def taken_in(path: Path) -> object:
    """An archive taken into an empty studio, which must open afterwards."""
    place = path.parent / "into"
    shutil.rmtree(place, ignore_errors=True)
    studio = Studio(place)
    try:
        return finish(studio.archiving.take_in(path))
    finally:
        studio.close()
        Studio(place).close()


SCRIPT = """[take]
instrument = "violin 4/4"
seed = 3

[[bow]]
string = "D"
seconds = 1.0
start = 0.1
end = 0.9
notes = [0.0, 2.0]
"""
SETTINGS = {"version": 1, "theme": "dark", "size": 12, "recent": {"a": [1, 2]}, "sessions": {}}


@dataclass(frozen=True)
class Kind:
    """How a good file of a kind is made in a folder, its ``name``, whether it is ``text``, and what opens it."""

    good: Callable[[Path], bytes]
    name: str
    text: bool
    opens: Callable[[Path], object]


def made_studio(folder: Path) -> Studio:
    """The demo studio, not yet measured."""
    studio = Studio(folder / "made")
    demo.fill(studio)
    return studio


def whole_archive(folder: Path) -> bytes:
    """Everybody in one file."""
    studio = made_studio(folder)
    finish(studio.archiving.write(folder / "whole.zip"))
    studio.close()
    return (folder / "whole.zip").read_bytes()


def whole_database(folder: Path) -> bytes:
    """A studio's database, closed."""
    made_studio(folder).close()
    return (folder / "made" / "studio.sqlite").read_bytes()


def a_picture(_folder: Path) -> bytes:
    """A photo of nothing."""
    noise = np.random.default_rng(1).integers(0, 255, (480, 640, 3), np.uint8)
    return bytes(cv2.imencode(".jpg", noise)[1].tobytes())


def a_piece(_folder: Path) -> bytes:
    """A scale as MusicXML."""
    score, fifths = scale("violin", keys_for("violin")[0], PATTERNS[0])
    return to_musicxml(score, "violin", fifths).encode()


VIDEO = demo_video("demo-swing-3")
KINDS = {
    "video": Kind(lambda _: VIDEO.read_bytes(), "take.mp4", False, watched),
    "picture": Kind(a_picture, "hand.jpg", False, read_still),
    "fit": Kind(lambda _: VIDEO.with_suffix(".fit.json").read_bytes(), "take.fit.json", True, read_fit),
    "profile": Kind(lambda _: next(iter(ready_texts().values())).encode(), "own.json", True, profile_of),
    "settings": Kind(lambda _: json.dumps(SETTINGS).encode(), "settings.json", True, lambda p: SettingsFile(p).now),
    "exercise": Kind(
        lambda _: EXERCISE.encode(), "task.txt", True, lambda p: read_exercise(p.read_text(encoding="utf-8", errors="replace"))
    ),
    "script": Kind(lambda _: SCRIPT.encode(), "take.toml", True, read_script),
    "notation": Kind(a_piece, "piece.musicxml", True, lambda p: mei_of(p.read_bytes())),
    "archive": Kind(whole_archive, "whole.zip", False, taken_in),
    "archive's tables": Kind(whole_archive, "whole.zip", True, taken_in),
    "database": Kind(whole_database, "studio.sqlite", False, opened_studio),
}


def damaged_inside(archive: bytes, chance: random.Random) -> bytes:
    """An archive whose tables say something that nobody writes, zipped anew."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(archive)) as old, zipfile.ZipFile(out, "w") as new:
        texts = [n for n in old.namelist() if n.endswith((".json", ".csv"))]
        hit = chance.choice(texts)
        for name in old.namelist():
            data = old.read(name)
            new.writestr(name, damaged(data, chance, text=True) if name == hit and data else data)
    return out.getvalue()


def worked(kind: str, first: int, count: int, seed: int) -> None:
    """Trials of one kind in this process; each says on a line of its own how it ended."""

    def too_long(*_what: object) -> None:
        raise TimeoutError

    signal.signal(signal.SIGALRM, too_long)
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place)
        own = KINDS[kind]
        data = own.good(folder)
        for k in range(first, first + count):
            chance = random.Random(f"{kind} {seed} {k}")
            path = folder / f"trial-{k}" / own.name
            path.parent.mkdir()
            path.write_bytes(damaged_inside(data, chance) if kind == "archive's tables" else damaged(data, chance, text=own.text))
            signal.alarm(LONGEST_S)
            try:
                own.opens(path)
                print(f"{k} read", flush=True)
            except DolcezzaError:
                print(f"{k} said", flush=True)
            except BaseException:
                print(f"{k} fault {traceback.format_exc()!r}", flush=True)
            signal.alarm(0)
            shutil.rmtree(path.parent, ignore_errors=True)


def tried(kind: str, count: int, seed: int) -> tuple[Counter[str], list[str]]:
    """How trials of one kind ended, and what went wrong; a process that breaks down is begun again after the trial that did it."""
    ended, faults, first = Counter[str](), [], 0
    while first < count:
        asked = [sys.executable, __file__, "--one", kind, str(first), str(count - first), str(seed)]
        done = subprocess.run(asked, capture_output=True, text=True, check=False)
        lines = [line.split(" ", 2) for line in done.stdout.splitlines() if line[:1].isdigit()]
        for line in lines:
            ended[line[1]] += 1
            if line[1] == "fault":
                faults.append(f"{kind} {line[0]} (seed {seed}): {line[2]}")
        first += len(lines)
        if first < count:
            ended["fault"] += 1
            faults.append(f"{kind} {first} (seed {seed}): the process ended with {done.returncode}: {done.stderr[-500:]}")
            first += 1
    return ended, faults


def main(count: int, seed: int) -> int:
    """All kinds, about as many trials of each; a table."""
    print(f"seed {seed}\n{'':18}{'trials':>8}{'read':>8}{'refused':>9}{'faults':>8}")
    faults: list[str] = []
    for kind in KINDS:
        ended, wrong = tried(kind, -(-count // len(KINDS)), seed)
        faults += wrong
        print(f"{kind:18}{sum(ended.values()):8}{ended['read']:8}{ended['said']:9}{ended['fault']:8}", flush=True)
    for fault in faults[:MOST_SHOWN]:
        print(fault)
    return 1 if faults else 0


if __name__ == "__main__":
    if sys.argv[1:2] == ["--one"]:
        worked(sys.argv[2], *(int(a) for a in sys.argv[3:6]))
    else:
        sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 330, int(sys.argv[2]) if len(sys.argv) > 2 else random.randrange(10_000)))
