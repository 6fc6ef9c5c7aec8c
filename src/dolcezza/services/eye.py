"""Training a teacher's eye: short made-up takes with one hidden fault or none, what was said of them, and the smallest fault seen.

The record is the teacher's own; no student is in it.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import UNREADABLE, DolcezzaError, StudioError
from dolcezza.core.base.job import Work
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.pipeline.fit_file import read_fit
from dolcezza.simulator.script import Bow, PhoneScript, PlayerScript, Script, Three
from dolcezza.storage.files import write_whole
from dolcezza.storage.plain import from_plain, to_plain

if TYPE_CHECKING:
    from dolcezza.core.pipeline.measure import TakeAnalysis

FILE_NAME = "eye.json"
LADDER: dict[str, tuple[float, ...]] = {"deg": (2.0, 3.0, 4.0, 6.0, 8.0, 12.0, 16.0), "mm": (3.0, 4.0, 6.0, 8.0, 11.0, 15.0)}
"""Sizes that are shown, degrees and millimetres."""
BEGIN_AT = 4
LEAST_ANSWERS, SEEN_SHARE = 3, 0.75
"""A size counts as seen from so many answers on, of which so many name the fault."""
NOTHING_SHARE = 0.25
"""So many takes have no fault."""
SECONDS, RATE, WIDTH, HEIGHT = 1.3, 15.0, 640, 544


class Fault(StrEnum):
    """What may be hidden in a take."""

    NONE = "none"
    TO_SCROLL = "tip to the scroll"
    TO_PLAYER = "tip to the player"
    SWINGS = "swings round"
    TO_BOARD = "runs to the fingerboard"
    TO_BRIDGE = "runs to the bridge"

    @property
    def unit(self) -> str:
        """deg | mm, "" where there is nothing."""
        return {Fault.NONE: "", Fault.TO_BOARD: "mm", Fault.TO_BRIDGE: "mm"}.get(self, "deg")


@dataclass(frozen=True)
class EyeTask:
    """One take to look at: what is hidden in it (``size`` in its unit, 0 for none), on which string, and the number that makes it."""

    fault: Fault
    size: float
    string: str
    seed: int
    instrument: str = "violin 4/4"

    @property
    def angle_deg(self) -> Three:
        """The bow angle at frog, middle and head."""
        s = self.size
        by = {Fault.TO_SCROLL: (s, s, s), Fault.TO_PLAYER: (-s, -s, -s), Fault.SWINGS: (s, 0.0, -s)}
        return by.get(self.fault, (0.0, 0.0, 0.0))

    @property
    def contact_mm(self) -> Three:
        """The contact point at frog, middle and head."""
        usual = 0.5 * instrument(self.instrument).bridge_to_fingerboard
        way = {Fault.TO_BOARD: self.size, Fault.TO_BRIDGE: -self.size}.get(self.fault, 0.0)
        return (usual - 0.5 * way, usual, usual + 0.5 * way)

    def script(self) -> Script:
        """What is played and how it is filmed."""
        rng = np.random.default_rng(self.seed)
        down = Bow(self.string, SECONDS, angle_deg=self.angle_deg, contact_mm=self.contact_mm)
        phone = PhoneScript(
            side_deg=float(rng.uniform(-5, 30)), high_deg=float(rng.uniform(12, 32)), far_mm=float(rng.uniform(1500, 1900)),
            width=WIDTH, height=HEIGHT, rate=RATE, noise=0.004,
        )  # fmt: skip
        player = PlayerScript(left_deg=float(rng.uniform(35, 50)), tilt_deg=float(rng.uniform(18, 34)), seed=self.seed)
        bows = (down, replace(down, start=down.end, end=down.start))
        return Script(self.instrument, "right", bows, 0.4, 0.3, self.seed, calm=True, player=player, phone=phone)


@dataclass(frozen=True)
class EyeAnswer:
    """What was said of one take, on which day."""

    day: date
    fault: Fault
    size: float
    said: Fault
    said_size: float

    @property
    def right(self) -> bool:
        """Whether the fault was named, or rightly none."""
        return self.fault == self.said


@dataclass(frozen=True)
class EyeTake:
    """A take that was filmed and measured: its video and, of each third of the bow, angle (deg) and contact (mm) with their ± (3, 2)."""

    task: EyeTask
    video: Path
    angle: Array
    contact: Array


@dataclass(frozen=True)
class EyeRow:
    """How the eye does on one fault: the smallest size seen (None = not told yet), answers, right ones."""

    fault: Fault
    smallest: float | None
    answers: int
    right: int


def next_task(answers: Sequence[EyeAnswer], rng: np.random.Generator, *, name: str = "violin 4/4") -> EyeTask:
    """A take about as hard as the eye can tell: of each fault one step smaller after two right answers, one larger after a wrong one."""
    string = str(rng.choice(list(instrument(name).strings)))
    seed = int(rng.integers(1 << 30))
    if rng.random() < NOTHING_SHARE:
        return EyeTask(Fault.NONE, 0.0, string, seed, name)
    faults = [f for f in Fault if f is not Fault.NONE]
    asked = {f: sum(a.fault == f for a in answers) for f in faults}
    fewest = [f for f in faults if asked[f] == min(asked.values())]
    fault = fewest[int(rng.integers(len(fewest)))]
    return EyeTask(fault, LADDER[fault.unit][_step(answers, fault)], string, seed, name)


def _step(answers: Sequence[EyeAnswer], fault: Fault) -> int:
    """Where on the ladder a fault has got to."""
    most = len(LADDER[fault.unit]) - 1
    at, in_a_row = min(BEGIN_AT, most), 0
    for answer in answers:
        if answer.fault != fault:
            continue
        in_a_row = in_a_row + 1 if answer.right else 0
        if not answer.right:
            at = min(at + 1, most)
        elif in_a_row == 2:
            at, in_a_row = max(at - 1, 0), 0
    return at


def told(answers: Sequence[EyeAnswer]) -> list[EyeRow]:
    """Each fault with the smallest size from which on it is seen, and last how often nothing was taken for nothing."""
    rows = []
    for fault in Fault:
        mine = [a for a in answers if a.fault == fault]
        rows.append(EyeRow(fault, _smallest(mine, fault), len(mine), sum(a.right for a in mine)))
    return [*rows[1:], rows[0]]


def _smallest(mine: Sequence[EyeAnswer], fault: Fault) -> float | None:
    best = None
    for size in reversed(LADDER.get(fault.unit, ())):
        here = [a for a in mine if a.size == size]
        if len(here) < LEAST_ANSWERS:
            continue
        if sum(a.right for a in here) < SEEN_SHARE * len(here):
            break
        best = size
    return best


def play(task: EyeTask, folder: Path) -> Work[EyeTake]:
    """Film the take and measure it, as any video is measured. Raises DolcezzaErrors."""
    from dolcezza.services.analysis import analyse

    name = f"eye-{task.seed}"
    from dolcezza.simulator.film import film  # the renderer, only where it draws

    video = yield from film(task.script(), folder, name)
    try:
        done: TakeAnalysis = yield from analyse(video, read_fit(video.with_suffix(".fit.json")), first_strokes=False)
    except DolcezzaError:
        nothing = np.full((3, 2), np.nan)
        return EyeTake(task, video, nothing, nothing)
    series = done.series
    place, played = series["bow_position"], np.isfinite(series["bow_angle_deg"])
    thirds = [played & (place >= low) & (place < low + 1 / 3 + 1e-9) for low in (0.0, 1 / 3, 2 / 3)]

    def figure(value: str, sd: str) -> Array:
        rows = [(np.nanmean(series[value][t]), np.nanmean(series[sd][t])) if t.any() else (np.nan, np.nan) for t in thirds]
        return np.array(rows)

    return EyeTake(
        task, video, figure("bow_angle_deg", "bow_angle_sd_deg"), figure("contact_point_mm", "contact_point_sd_mm")
    )  # fmt: skip


class EyeRecord:
    """The answers so far, in the studio's folder."""

    def __init__(self, folder: Path) -> None:
        self.path = Path(folder) / FILE_NAME
        self.answers: list[EyeAnswer] = _read(self.path)

    def add(self, answer: EyeAnswer) -> None:
        """Keep an answer. Raises StudioError."""
        self.answers.append(answer)
        rows = [to_plain(a) for a in self.answers]
        write_whole(self.path, json.dumps({"answers": rows}, indent=1))

    def forget(self) -> None:
        """Begin anew. Raises StudioError."""
        self.answers = []
        try:
            self.path.unlink(missing_ok=True)
        except OSError as error:
            raise StudioError(f"{self.path} could not be removed.", "Check the studio's folder.") from error


def _read(path: Path) -> list[EyeAnswer]:
    """Answers of the file; rows that cannot be read are left out."""
    try:
        rows: Any = json.loads(path.read_text(encoding="utf-8"))["answers"]
    except (OSError, *UNREADABLE):
        return []
    out = []
    for row in rows if isinstance(rows, list) else []:
        try:
            out.append(from_plain(EyeAnswer, row))
        except UNREADABLE:
            continue
    return out
