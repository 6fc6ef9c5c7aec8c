"""Exercises as text that is typed and shared.

```
exercise: Long open strings      # everything after # is a remark
tempo: 60                        # beats a minute
start: frog                      # or tip
repeat: 2
G D: 8 whole x4                  # on G, then on D: eight whole bows of four beats
A: 4 lower, 4 0.3-0.6 x0.5       # four in the lower half of one beat, four between two places of half a beat
E: 2 whole x4 slur 4 , 1 upper lifted
A: 4 whole x4 soft over fingerboard, 4 frog-marker x2
printed: Evening song, staff 1, bars 1-8
```

A line of strokes names strings, then items: how many, which part of the bow, how many beats (one if left out), ``slur`` and the
number of notes in the bow, ``lifted`` or ``landing``, ``soft`` or ``loud``, and ``near bridge`` or ``over fingerboard`` where the lane is
left on purpose. Two places may also be marks on the student's own bow: frog, winding, tape, balance, marker, tip.
``printed`` names the piece in notation that this is the bow plan of: a finding is then made of bows that go otherwise than printed.
"""

from __future__ import annotations

import re
from collections.abc import Mapping

from dolcezza.core.assignment.exercise import PARTS, TYPES, Exercise, Item, Line, Printed, part_name
from dolcezza.core.base.errors import ExerciseError

_ITEM = re.compile(
    r"(?P<count>\d+)\s+(?P<part>(?:[a-z]+|\d*\.?\d+)(?:\s*-\s*(?:[a-z]+|\d*\.?\d+))?)(?:\s+x(?P<beats>\d*\.?\d+))?"
    r"(?:\s+slur\s+(?P<notes>\d+))?(?:\s+(?P<kind>lifted|landing|on|slurred))?(?:\s+(?P<loud>soft|loud))?"
    r"(?:\s+(?P<zone>near bridge|over fingerboard))?(?P<rest>\s+\S+)?"
)
_PRINTED = re.compile(r"(?P<piece>.+?)(?:,\s*staff (?P<staff>\d{1,3}))?(?:,\s*bars (?P<first>\d{1,4})-(?P<last>\d{1,4}))?")
_MOST = 2000


PLACES: dict[str, float] = {"frog": 0.0, "marker": 0.5, "tip": 1.0}
"""Places by name where nothing is marked on the bow, share of the hair."""


def read_exercise(text: str, marks: Mapping[str, float] | None = None) -> Exercise:
    """Read an exercise; ``marks``: places on the student's own bow by name, share of the hair.

    Raises ExerciseError with the number of the line and what is wrong in it.
    """
    places = PLACES | {name.split()[0]: place for name, place in (marks or {}).items()}
    name, tempo, from_tip, repeats = "Exercise", 60.0, False, 1
    printed: Printed | None = None
    lines: list[Line] = []
    for number, raw in enumerate(text.splitlines(), 1):
        if raw.strip().lower().startswith("printed:"):
            printed = _printed(number, raw.split(":", 1)[1].strip())
            continue
        line = raw.split("#", 1)[0].strip()
        if not line:
            continue
        head, colon, rest = line.partition(":")
        if not colon:
            raise _wrong(number, "has no colon", "Write for example 'G D: 8 whole'.")
        key, rest = head.strip().lower(), rest.strip()
        if key == "exercise":
            name = rest or name
        elif key == "tempo":
            tempo = _number(number, rest, 10.0, 400.0, "tempo")
        elif key == "repeat":
            repeats = int(_number(number, rest, 1, 100, "number of repeats"))
        elif key == "start":
            if rest.lower() not in ("frog", "tip"):
                raise _wrong(number, f"starts at '{rest}'", "Start at frog or tip.")
            from_tip = rest.lower() == "tip"
        else:
            strings = tuple(head.split())
            if not strings or not all(re.fullmatch(r"[A-G]", s) for s in strings):
                raise _wrong(number, f"names '{head.strip()}' as strings", "Strings are capital letters with blanks between: G D A E.")
            lines.append(Line(strings, tuple(_item(number, part.strip(), places) for part in rest.split(","))))
    made = Exercise(name, tuple(lines), tempo, from_tip, repeats, printed)
    if not lines:
        raise ExerciseError("The exercise asks for no stroke.", "Add a line such as 'G D: 8 whole'.")
    if len(made.strokes) > _MOST:
        raise ExerciseError(f"The exercise asks for {len(made.strokes)} strokes.", f"Up to {_MOST} can be compared with a video.")
    return made


def _wrong(number: int, what: str, advice: str) -> ExerciseError:
    return ExerciseError(f"Line {number} of the exercise {what}.", advice)


def _number(number: int, text: str, low: float, high: float, what: str) -> float:
    try:
        value = float(text)
    except ValueError:
        raise _wrong(number, f"has '{text}' as {what}", f"It is a number from {low:g} to {high:g}.") from None
    if not low <= value <= high:
        raise _wrong(number, f"has {value:g} as {what}", f"It is a number from {low:g} to {high:g}.")
    return value


def _printed(number: int, text: str) -> Printed:
    found = _PRINTED.fullmatch(text)
    if found is None:
        raise _wrong(number, "names no piece", "Write for example 'printed: Evening song, staff 1, bars 1-8'.")
    return Printed(found["piece"], int(found["staff"] or 1), int(found["first"] or 0), int(found["last"] or 0))


def _place(number: int, word: str, places: Mapping[str, float]) -> float:
    if word in places:
        return round(places[word], 4)
    try:
        return float(word)
    except ValueError:
        raise _wrong(number, f"has the place '{word}'", f"Places: a number from 0 to 1, or one of {', '.join(places)}.") from None


def _item(number: int, text: str, places: Mapping[str, float]) -> Item:
    found = _ITEM.fullmatch(text)
    if found is not None and found["rest"]:
        ways = f"Strokes: {', '.join(TYPES)}; soft, loud; near bridge, over fingerboard."
        raise _wrong(number, f"has '{found['rest'].strip()}' as stroke", ways)
    if found is None:
        raise _wrong(number, f"has '{text}'", "An item is for example '8 whole x4', '4 0.2-0.6' or '2 upper x2 slur 4'.")
    part = found["part"]
    if part in PARTS:
        low, high = PARTS[part]
    elif "-" in part:
        low, high = (_place(number, word.strip(), places) for word in part.split("-"))
    else:
        raise _wrong(number, f"has '{part}' as part of the bow", f"Parts: {', '.join(PARTS)}, or two places such as 0.2-0.6.")
    if not 0.0 <= low < high <= 1.0:
        raise _wrong(number, f"has the places {part}", "Places go from 0 at the frog to 1 at the head, the smaller first.")
    count, notes = int(found["count"]), int(found["notes"] or 1)
    if not 1 <= count <= 200 or not 1 <= notes <= 64:
        raise _wrong(number, f"has '{text}'", "From 1 to 200 strokes, from 1 to 64 notes in a bow.")
    kind = found["kind"] or ("slurred" if notes > 1 else "on")
    beats = float(found["beats"] or 1.0)
    if not 0.05 <= beats <= 64:
        raise _wrong(number, f"has strokes of {beats:g} beats", "From a twentieth of a beat to 64 beats.")
    zone = {"near bridge": "bridge", "over fingerboard": "fingerboard"}.get(found["zone"] or "", "")
    return Item(count, low, high, beats, notes, kind, zone, found["loud"] or "")


def write_exercise(exercise: Exercise) -> str:
    """The exercise as text; reads back to an equal one."""
    out = [f"exercise: {exercise.name}", f"tempo: {exercise.tempo:g}", f"start: {'tip' if exercise.from_tip else 'frog'}"]
    if exercise.repeats != 1:
        out.append(f"repeat: {exercise.repeats}")
    if (own := exercise.printed) is not None:
        bars = f", bars {own.first}-{own.last}" if own.last else ""
        out.append(f"printed: {' '.join(own.piece.split())}, staff {own.staff}{bars}")
    for line in exercise.lines:
        items = []
        for i in line.items:
            words = [str(i.count), part_name(i.low, i.high)]
            words += [f"x{i.beats:g}"] if i.beats != 1.0 else []
            words += [f"slur {i.notes}"] if i.notes > 1 else []
            words += [i.kind] if i.kind not in ("on", "slurred") else []
            words += [i.loud] if i.loud else []
            words += [{"bridge": "near bridge", "fingerboard": "over fingerboard"}[i.zone]] if i.zone else []
            items.append(" ".join(words))
        out.append(f"{' '.join(line.strings)}: {', '.join(items)}")
    return "\n".join(out) + "\n"
