"""Exercises: which strokes were asked, on which string, with which part of the bow, how long."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

from dolcezza.core.base.errors import ExerciseError
from dolcezza.core.score.score import Score

PARTS: dict[str, tuple[float, float]] = {
    "whole": (0.0, 1.0), "lower": (0.0, 0.5), "upper": (0.5, 1.0), "middle": (0.25, 0.75), "frog": (0.0, 0.25), "tip": (0.75, 1.0),
}  # fmt: skip
"""Parts of the bow, 0 = frog, 1 = head. Common practice, no source: nobody plays the last centimetres."""
ZONES = ("bridge", "fingerboard")
"""Where on the string a stroke was asked, besides the usual lane."""
LOUD = ("soft", "loud")
"""How loud a stroke was asked, besides the usual."""
TYPES = ("on", "lifted", "landing", "slurred")
"""Stroke types: kept on the string, lifted after, landing from the air, several notes in one bow."""


@dataclass(frozen=True)
class AskedStroke:
    """One stroke that was asked. ``low`` and ``high`` places on the bow 0..1, ``beats`` long, ``notes`` in the one bow. ``zone``: near
    the bridge or over the fingerboard on purpose, ``loud``: soft or loud on purpose; "" = as usual."""

    string: str
    down: bool
    low: float
    high: float
    beats: float = 1.0
    notes: int = 1
    kind: str = "on"
    zone: str = ""
    loud: str = ""

    @property
    def from_position(self) -> float:
        """Where it begins."""
        return self.low if self.down else self.high

    @property
    def to_position(self) -> float:
        """Where it ends."""
        return self.high if self.down else self.low

    @property
    def share(self) -> float:
        """Share of the bow that it uses."""
        return self.high - self.low


@dataclass(frozen=True)
class Item:
    """So many strokes on one string after the other in one part of the bow."""

    count: int
    low: float
    high: float
    beats: float = 1.0
    notes: int = 1
    kind: str = "on"
    zone: str = ""
    loud: str = ""


@dataclass(frozen=True)
class Line:
    """Items that are played on each of ``strings`` in turn."""

    strings: tuple[str, ...]
    items: tuple[Item, ...]


@dataclass(frozen=True)
class Printed:
    """Which notes an exercise was made of: the ``piece``'s name, its ``staff``, bars ``first`` to ``last`` (0 = all of it), and the
    ``score`` once it has been read."""

    piece: str
    staff: int = 1
    first: int = 0
    last: int = 0
    score: Score | None = field(default=None, compare=False, repr=False)


@dataclass(frozen=True)
class Exercise:
    """A named exercise. ``tempo`` beats a minute; ``from_tip``: the first stroke is an up-bow; the whole is played ``repeats`` times;
    ``printed``: the notes that it is the bow plan of, if it is one.

    Down- and up-bows take turns all through, but for lifted strokes, which are all taken in one direction.
    """

    name: str
    lines: tuple[Line, ...]
    tempo: float = 60.0
    from_tip: bool = False
    repeats: int = 1
    printed: Printed | None = None

    @property
    def strokes(self) -> tuple[AskedStroke, ...]:
        """All strokes in order."""
        out: list[AskedStroke] = []
        down = not self.from_tip
        for _ in range(self.repeats):
            for line in self.lines:
                for string in line.strings:
                    for item in line.items:
                        for _ in range(item.count):
                            asked = (item.low, item.high, item.beats, item.notes, item.kind, item.zone, item.loud)
                            out.append(AskedStroke(string, down, *asked))
                            down = down if item.kind in ("lifted", "landing") else not down
        return tuple(out)

    @property
    def seconds(self) -> float:
        """How long it lasts at its tempo."""
        return sum(s.beats for s in self.strokes) * 60.0 / self.tempo

    @property
    def counts(self) -> dict[str, int]:
        """Strokes on each string, in the order in which the strings come."""
        out: dict[str, int] = {}
        for s in self.strokes:
            out[s.string] = out.get(s.string, 0) + 1
        return out


def told_by_strokes(exercise: Exercise) -> bool:
    """Whether an exercise can be recognised from strokes alone: notes in a bow, loudness and zone cannot."""
    return all(s.notes == 1 and not s.zone and not s.loud for s in exercise.strokes)


def part_name(low: float, high: float) -> str:
    """Name of a part of the bow, or its two places."""
    return next((name for name, ends in PARTS.items() if ends == (low, high)), f"{low:g}-{high:g}")


def check(exercise: Exercise, strings: Iterable[str]) -> None:
    """Refuse what cannot be played on these strings. Raises ExerciseError."""
    known = set(strings)
    wrong = [s for line in exercise.lines for s in line.strings if s not in known]
    if wrong:
        raise ExerciseError(f"'{wrong[0]}' is not a string of this instrument.", f"Its strings: {' '.join(strings)}.")
    if not exercise.strokes:
        raise ExerciseError(f"'{exercise.name}' asks for no stroke.", "Add a line such as 'G D: 8 whole'.")


def ready_made(strings: str) -> tuple[Exercise, ...]:
    """The common ones for an instrument, ``strings`` from the bass side (common practice, no source).

    Long open strings both ways, lower halves from the treble string, upper halves from the treble string and back without repeating the
    bass string; long and short mixed: 4 + 4 and 6 + 8 begin at the frog, their short ones in the lower half, 2 + 4 begins at the head, its
    short ones in the upper half; four notes to a bow, and twice as many with the bow unchanged.
    """
    up = tuple(strings)
    back = tuple(reversed(strings))

    def item(count: int, part: str, beats: float, notes: int = 1) -> Item:
        return Item(count, *PARTS[part], beats, notes, "slurred" if notes > 1 else "on")

    return (
        Exercise("Long open strings", (Line(up, (item(8, "whole", 4.0),)), Line(back, (item(8, "whole", 4.0),)))),
        Exercise("Long open strings, treble to bass and back", (Line(back, (item(8, "whole", 4.0),)), Line(up, (item(8, "whole", 4.0),)))),
        Exercise("Lower halves", (Line(back, (item(8, "lower", 2.0),)),)),
        Exercise("Upper halves, treble to bass and back", (Line(back, (item(8, "upper", 2.0),)), Line(up[1:], (item(8, "upper", 2.0),)))),
        Exercise("Two long on each string", (Line(up, (item(2, "whole", 4.0),)),)),
        Exercise("Four long, four short", (Line(up, (item(4, "whole", 4.0), item(4, "lower", 2.0))),)),
        Exercise("Two long, four short", (Line(up, (item(2, "whole", 4.0), item(4, "upper", 2.0))),), from_tip=True),
        Exercise("Six short, eight long", (Line(up, (item(6, "lower", 2.0), item(8, "whole", 4.0))),)),
        Exercise("Four notes to a bow", (Line(up, (item(4, "whole", 4.0, 4),)),)),
        Exercise("Twice as many notes, the bow unchanged", (Line(up, (item(4, "whole", 4.0, 4), item(4, "whole", 4.0, 8))),)),
    )
