"""A rhythm for which the bow is to be divided, and its text.

```
plan: Dotted pairs            # everything after # is a remark
string: A
tempo: 60                     # beats a minute
bow: 0.05-0.95                # the part of the bow that may be used
start: frog                   # frog, tip or a place
repeat: 2
rhythm: 1.5 0.5p (1 1)f r1 ^2 1@0.5
```

Numbers are beats; brackets hold notes slurred in one bow; ``pp p mp mf f ff`` say how loud; ``r`` is a rest; ``^`` takes the bow
again from where it began; ``@`` gives the share of the bow that is wanted.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from dolcezza.core.base.errors import ExerciseError

DYNAMICS: dict[str, float] = {"pp": 0.5, "p": 0.7, "mp": 0.85, "mf": 1.0, "f": 1.2, "ff": 1.4}
"""Bow speed by how loud, mf = 1: louder is at first more bow (common practice, no source); the teacher overrules with @."""
_TOKEN = re.compile(r"\(|\)|\^|r?\d*\.?\d+|[pmf]+|@\s*\d*\.?\d+|\S")
_NUMBER = re.compile(r"\d*\.?\d+")
MOST_BOWS = 400


@dataclass(frozen=True)
class Note:
    """``beats`` long, ``weight``: bow speed against mezzo forte."""

    beats: float
    dynamic: str = "mf"

    @property
    def weight(self) -> float:
        """How much bow a beat of it asks against mezzo forte."""
        return DYNAMICS[self.dynamic]


@dataclass(frozen=True)
class Bow:
    """Notes in one bow. ``rest`` beats of silence before it; ``retake``: set again where the bow began; ``share`` of the bow that
    was asked for, None = by length; ``hooked``: its notes are stopped apart."""

    notes: tuple[Note, ...]
    rest: float = 0.0
    retake: bool = False
    share: float | None = None
    hooked: bool = False

    @property
    def beats(self) -> float:
        """How long it sounds."""
        return sum(n.beats for n in self.notes)

    @property
    def need(self) -> float:
        """Beats weighted by how loud: what it asks of the bow."""
        return sum(n.beats * n.weight for n in self.notes)


@dataclass(frozen=True)
class Rhythm:
    """``low`` and ``high``: the part of the bow that may be used; ``start`` place 0..1; the bows are played ``repeats`` times."""

    name: str
    bows: tuple[Bow, ...]
    string: str = "A"
    tempo: float = 60.0
    low: float = 0.05
    high: float = 0.95
    start: float = 0.05
    repeats: int = 1

    @property
    def beat_s(self) -> float:
        """Seconds a beat."""
        return 60.0 / self.tempo

    @property
    def from_tip(self) -> bool:
        """Whether the first bow is an up-bow."""
        return self.start > 0.5 * (self.low + self.high)


def read_rhythm(text: str) -> Rhythm:
    """Read a rhythm. Raises ExerciseError with the number of the line and what is wrong in it."""
    said: dict[str, tuple[int, str]] = {}
    bows: list[Bow] = []
    for number, raw in enumerate(text.splitlines(), 1):
        line = raw.split("#", 1)[0].strip()
        if not line:
            continue
        head, colon, rest = line.partition(":")
        key = head.strip().lower()
        if not colon or key not in ("plan", "string", "tempo", "bow", "start", "repeat", "rhythm"):
            raise _wrong(number, f"says '{line}'", "Lines begin with plan, string, tempo, bow, start, repeat or rhythm and a colon.")
        if key == "rhythm":
            bows += _bows(number, rest.strip())
        else:
            said[key] = (number, rest.strip())
    if not bows:
        raise ExerciseError("The plan has no notes.", "Add a line such as 'rhythm: 1.5 0.5 (1 1)'.")
    low, high = _places(*said.get("bow", (0, "0.05-0.95")))
    made = Rhythm(
        name=said.get("plan", (0, "Plan"))[1] or "Plan", bows=tuple(bows), string=_string(*said.get("string", (0, "A"))),
        tempo=_number(*said.get("tempo", (0, "60")), 10.0, 400.0, "tempo"), low=low, high=high,
        start=_start(*said.get("start", (0, "frog")), low, high),
        repeats=int(_number(*said.get("repeat", (0, "1")), 1, 100, "number of repeats")),
    )  # fmt: skip
    if len(bows) * made.repeats > MOST_BOWS:
        raise ExerciseError(f"The plan has {len(bows) * made.repeats} bows.", f"Up to {MOST_BOWS} can be planned at once.")
    return made


def _wrong(number: int, what: str, advice: str) -> ExerciseError:
    return ExerciseError(f"Line {number} of the plan {what}.", advice)


def _number(number: int, text: str, low: float, high: float, what: str) -> float:
    if not _NUMBER.fullmatch(text) or not low <= float(text) <= high:
        raise _wrong(number, f"has '{text}' as {what}", f"It is a number from {low:g} to {high:g}.")
    return float(text)


def _string(number: int, text: str) -> str:
    if not re.fullmatch(r"[A-G]", text):
        raise _wrong(number, f"names '{text}' as string", "A string is one capital letter: A.")
    return text


def _places(number: int, text: str) -> tuple[float, float]:
    found = re.fullmatch(r"(\d*\.?\d+)\s*-\s*(\d*\.?\d+)", text)
    low, high = (float(found[1]), float(found[2])) if found else (1.0, 0.0)
    if not 0.0 <= low < high <= 1.0:
        raise _wrong(number, f"has '{text}' as part of the bow", "Two places from 0 at the frog to 1 at the head: 0.05-0.95.")
    return low, high


def _start(number: int, text: str, low: float, high: float) -> float:
    if text in ("frog", "tip"):
        return low if text == "frog" else high
    if not _NUMBER.fullmatch(text) or not low <= float(text) <= high:
        raise _wrong(number, f"starts at '{text}'", f"Start at frog, at tip, or at a place from {low:g} to {high:g}.")
    return float(text)


class _Reader:
    """Builds bows from the tokens of one line."""

    def __init__(self, number: int) -> None:
        self.number = number
        self.bows: list[Bow] = []
        self.slur: list[Note] | None = None
        self.rest, self.retake = 0.0, False

    def take(self, token: str) -> None:
        if token == "(":
            if self.slur is not None:
                raise _wrong(self.number, "opens a bracket inside a bracket", "One bracket is one bow.")
            self.slur = []
        elif token == ")":
            if not self.slur:
                raise _wrong(self.number, "closes a bracket that holds no notes", "Write for example (1 1).")
            notes, self.slur = self.slur, None
            self.add(tuple(notes))
        elif token == "^":
            self.retake = True
        elif token.startswith("@"):
            self.ask(float(token[1:]))
        elif token in DYNAMICS:
            self.loud(token)
        elif token.startswith("r") and _NUMBER.fullmatch(token[1:]):
            self.rest += float(token[1:])
        elif _NUMBER.fullmatch(token):
            self.note(float(token))
        else:
            raise _wrong(self.number, f"has '{token}' in the rhythm", "Beats as numbers, brackets, p or f, r for a rest, ^ and @.")

    def note(self, beats: float) -> None:
        if not 0.0625 <= beats <= 64:
            raise _wrong(self.number, f"has a note of {beats:g} beats", "From a sixteenth of a beat to 64 beats.")
        if self.slur is not None:
            self.slur.append(Note(beats))
        else:
            self.add((Note(beats),))

    def add(self, notes: tuple[Note, ...]) -> None:
        self.bows.append(Bow(notes, self.rest, self.retake))
        self.rest, self.retake = 0.0, False

    def loud(self, dynamic: str) -> None:
        if self.slur:
            self.slur[-1] = Note(self.slur[-1].beats, dynamic)
        elif self.bows and self.slur is None:
            last = self.bows[-1]
            self.bows[-1] = Bow(tuple(Note(n.beats, dynamic) for n in last.notes), last.rest, last.retake, last.share)
        else:
            raise _wrong(self.number, f"has '{dynamic}' before any note", "Write it behind the note: 2p.")

    def ask(self, share: float) -> None:
        if not self.bows or self.slur is not None:
            raise _wrong(self.number, "asks for a share of the bow before any bow", "Write it behind the note or the bracket: 2@0.5.")
        if not 0.0 < share <= 1.0:
            raise _wrong(self.number, f"asks for {share:g} bows in one", "A stroke has at most one bow: @0.1 to @1.")
        last = self.bows[-1]
        self.bows[-1] = Bow(last.notes, last.rest, last.retake, share)


def _bows(number: int, text: str) -> list[Bow]:
    reader = _Reader(number)
    for token in _TOKEN.findall(text):
        reader.take(token)
    if reader.slur is not None:
        raise _wrong(number, "does not close its bracket", "Write for example (1 1).")
    return reader.bows


def write_rhythm(rhythm: Rhythm) -> str:
    """The rhythm as text; reads back to an equal one."""
    words = []
    for bow in rhythm.bows:
        same = len({n.dynamic for n in bow.notes}) == 1
        notes = [f"{n.beats:g}{'' if same or n.dynamic == 'mf' else n.dynamic}" for n in bow.notes]
        loud = bow.notes[0].dynamic if same and bow.notes[0].dynamic != "mf" else ""
        body = f"({' '.join(notes)})" if len(notes) > 1 else notes[0]
        asked = "" if bow.share is None else f"@{bow.share:g}"
        words += [*([f"r{bow.rest:g}"] if bow.rest else []), f"{'^' if bow.retake else ''}{body}{loud}{asked}"]
    start = {rhythm.low: "frog", rhythm.high: "tip"}.get(rhythm.start, f"{rhythm.start:g}")
    out = [f"plan: {rhythm.name}", f"string: {rhythm.string}", f"tempo: {rhythm.tempo:g}", f"bow: {rhythm.low:g}-{rhythm.high:g}"]
    out += [f"start: {start}", *([f"repeat: {rhythm.repeats}"] if rhythm.repeats != 1 else []), f"rhythm: {' '.join(words)}"]
    return "\n".join(out) + "\n"
