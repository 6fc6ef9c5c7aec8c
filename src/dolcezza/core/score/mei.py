"""Reading MEI, the engraver's own form of every format it knows: notes, ties, slurs, tuplets, repeats, bow signs, dynamics, fingers."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from xml.etree import ElementTree

from dolcezza.core.score.score import DYNAMICS, NotationError, Score, ScoreNote, checked
from dolcezza.core.score.strings_written import NUMERALS, string_said

_NS = "{http://www.music-encoding.org/ns/mei}"
_ID = "{http://www.w3.org/XML/1998/namespace}id"
_STEPS = {"c": 0, "d": 2, "e": 4, "f": 5, "g": 7, "a": 9, "b": 11}
_ACCID = {"s": 1, "f": -1, "n": 0, "ss": 2, "x": 2, "ff": -2, "ns": 1, "nf": -1}
_SHARPS, _FLATS = "fcgdaeb", "beadgcf"
_LENGTHS = {"long": 16.0, "breve": 8.0} | {str(2**k): 4.0 / 2**k for k in range(8)}
_SIGNS = {"dnbow": "down", "upbow": "up"}
MOST_MEASURES = 2000
SLURS = 100_000
"""More slurs than any piece has."""
LONGEST_PLAYED = 6000
"""Notes after repeats are written out."""


@dataclass
class _Bar:
    """One printed bar of the chosen staff and voice. ``notes`` begin at 0."""

    number: int
    notes: list[ScoreNote]
    beats: float
    repeat_from: bool = False
    repeat_to: bool = False
    ending: str = ""


@dataclass
class _Marks:
    """What stands at notes by their ids."""

    tied: dict[str, str] = field(default_factory=dict)
    slurs: list[tuple[str, str]] = field(default_factory=list)
    dynamics: dict[str, str] = field(default_factory=dict)
    fingers: dict[str, str] = field(default_factory=dict)
    strings: dict[str, str] = field(default_factory=dict)
    strings_from: dict[str, str] = field(default_factory=dict)
    strings_at: list[tuple[int, float, str]] = field(default_factory=list)
    numerals_at: list[tuple[int, float, str]] = field(default_factory=list)
    at: list[tuple[int, float, str]] = field(default_factory=list)


def staves(mei: str) -> list[str]:
    """Names of the staves, in their order. Raises NotationError."""
    root = _parsed(mei)
    out = []
    for k, staff in enumerate(root.iter(f"{_NS}staffDef"), 1):
        label = staff.find(f"{_NS}label")
        name = "".join(label.itertext()).strip() if label is not None else ""
        out.append(name or f"Staff {staff.get('n', k)}")
    return out


def read_mei(mei: str, staff: int = 1, title: str = "") -> Score:
    """One staff of an MEI text as a score, its first voice. Raises NotationError."""
    root = _parsed(mei)
    score = next(root.iter(f"{_NS}score"), None)
    if score is None:
        raise NotationError("The file holds no score.", "Save it again as MusicXML.")
    reader = _Reader(staff)
    bars = reader.bars(score)
    if not bars:
        raise NotationError("The file holds no bars.", "Save it again as MusicXML.")
    order = _order(bars)
    notes, skips = _played(bars, order)
    notes = _tied(notes, reader.marks.tied)
    found = Score(
        title=title or _title(root), notes=tuple(notes), tempo=reader.tempo, meter=reader.meter,
        pickup=bars[0].beats < 4.0 * reader.meter[0] / reader.meter[1] - 1e-6 and len(bars) > 1, skips=tuple(skips),
        skipped=tuple(sorted(reader.skipped)),
    )  # fmt: skip
    return checked(found)


def _parsed(mei: str) -> ElementTree.Element:
    if "<!DOCTYPE" in mei[:2000] or "<!ENTITY" in mei:
        raise NotationError("The file defines entities of its own.", "Save it again from the notation program.")
    try:
        return ElementTree.fromstring(mei)
    except ElementTree.ParseError as error:
        raise NotationError("The file is not notation that can be read.", "Save it again as MusicXML.") from error


def _title(root: ElementTree.Element) -> str:
    found = next(root.iter(f"{_NS}title"), None)
    return ("".join(found.itertext()).strip() if found is not None else "") or "Piece"


class _Reader:
    """Walks through the bars of one staff."""

    def __init__(self, staff: int) -> None:
        self.staff = str(staff)
        self.key: dict[str, int] = {}
        self.meter = (4, 4)
        self.tempo = 60.0
        self.skipped: set[str] = set()
        self.marks = _Marks()
        self._loud, self._string = "mf", ""
        self._repeat_next = False

    def bars(self, score: ElementTree.Element) -> list[_Bar]:
        """All printed bars."""
        out: list[_Bar] = []
        for element, ending in _walk(score):
            name = _name(element)
            if name in ("scoreDef", "staffDef"):
                self._define(element)
            elif name == "measure":
                out.append(self._bar(element, len(out) + 1, ending))
                if len(out) > MOST_MEASURES:
                    raise NotationError(f"The file has more than {MOST_MEASURES} bars.", "Choose a shorter piece.")
        return [replace(bar, notes=self._marked(bar.notes)) for bar in _slurred(out, self.marks.slurs)]

    def _define(self, element: ElementTree.Element) -> None:
        for part in element.iter():
            if _name(part) == "staffDef" and part.get("n", "1") != self.staff:
                continue
            if part.get("meter.count") or (_name(part) == "meterSig" and part.get("count")):
                count, unit = part.get("meter.count") or part.get("count"), part.get("meter.unit") or part.get("unit") or "4"
                if count and count.isdigit() and unit.isdigit():
                    self.meter = (int(count), int(unit))
            sig = part.get("key.sig") or part.get("keysig") or (part.get("sig") if _name(part) == "keySig" else None)
            if sig:
                self.key = _key(sig)

    def _bar(self, measure: ElementTree.Element, number: int, ending: str) -> _Bar:
        notes: list[ScoreNote] = []
        beats = 0.0
        for staff in measure.findall(f"{_NS}staff"):
            if staff.get("n", "1") != self.staff:
                continue
            layers = staff.findall(f"{_NS}layer")
            if len(layers) > 1:
                self.skipped.add("voices besides the first")
            if layers:
                notes, beats = self._layer(layers[0], number)
        for event in measure:
            self._event(event, number)
        left, right = measure.get("left", ""), measure.get("right", "")
        begins = self._repeat_next or left in ("rptstart", "rptboth")
        self._repeat_next = right in ("rptstart", "rptboth")
        return _Bar(number, notes, beats, begins, right in ("rptend", "rptboth"), ending)

    def _layer(self, layer: ElementTree.Element, measure: int) -> tuple[list[ScoreNote], float]:
        notes: list[ScoreNote] = []
        at, altered = 0.0, dict[str, int]()
        for element, ratio in self._leaves(layer, 1.0):
            name = _name(element)
            beats = self._beats(element) * ratio
            if element.get("grace"):
                notes.append(self._note(element, at, 0.0, measure, altered, grace=True))
                continue
            if name in ("note", "chord"):
                notes.append(self._note(element, at, beats, measure, altered))
            elif name in ("rest", "mRest", "multiRest"):
                whole = 4.0 * self.meter[0] / self.meter[1] * int(element.get("num", "1") if name == "multiRest" else 1)
                beats = beats if name == "rest" else whole
                notes.append(ScoreNote((element.get(_ID, ""),), (), at, beats, measure))
            at += beats
        return notes, at

    def _leaves(self, element: ElementTree.Element, ratio: float) -> Iterator[tuple[ElementTree.Element, float]]:
        for child in element:
            name = _name(child)
            if name in ("note", "chord", "rest", "mRest", "multiRest", "space", "mSpace"):
                yield child, ratio
            elif name == "tuplet":
                own = int(child.get("numbase", "1")) / max(1, int(child.get("num", "1")))
                yield from self._leaves(child, ratio * own)
            elif name in ("beam", "graceGrp", "bTrem", "fTrem", "layer", "ligature"):
                if name in ("bTrem", "fTrem"):
                    self.skipped.add("tremolo")
                yield from self._leaves(child, ratio)
            elif name not in ("clef", "keySig", "meterSig", "barLine"):
                self.skipped.add(name)

    def _beats(self, element: ElementTree.Element) -> float:
        length = _LENGTHS.get(element.get("dur", ""), 0.0)
        if not length:
            inner = element.find(f"{_NS}note")
            length = _LENGTHS.get(inner.get("dur", ""), 0.0) if inner is not None else 0.0
        dots = int(element.get("dots", "0") or 0) or len(element.findall(f"{_NS}dot"))
        return float(length * (2.0 - 0.5**dots))

    def _note(
        self, element: ElementTree.Element, at: float, beats: float, measure: int, altered: dict[str, int], *, grace: bool = False
    ) -> ScoreNote:  # fmt: skip
        heads = [element] if _name(element) == "note" else element.findall(f"{_NS}note")
        pitches = sorted(self._pitch(h, altered) for h in heads)
        artics = [*element.get("artic", "").split()]
        for child in element.iter(f"{_NS}artic"):
            artics += child.get("artic", "").split()
        sign = next((_SIGNS[a] for a in artics if a in _SIGNS), "")
        ids = tuple(dict.fromkeys([element.get(_ID, ""), *(h.get(_ID, "") for h in heads)]))
        for h in (element, *heads):
            if h.get("tie", "")[:1] in ("i", "m"):
                self.marks.tied[h.get(_ID, "")] = ""
        written = ["".join(f.itertext()).strip() for f in element.iter(f"{_NS}fing")]
        finger, string = (next((w for w in written if (w in NUMERALS) == numeral), "") for numeral in (False, True))
        return ScoreNote(
            ids, tuple(pitches), at, beats, measure, sign, 0, self._loud, tuple(a for a in artics if a not in _SIGNS), finger, string, grace
        )

    def _pitch(self, head: ElementTree.Element, altered: dict[str, int]) -> int:
        step, octave = head.get("pname", "c"), int(head.get("oct", "4"))
        child = head.find(f"{_NS}accid")
        written = head.get("accid") or (child.get("accid") if child is not None else None)
        sounding = head.get("accid.ges") or (child.get("accid.ges") if child is not None else None)
        place = f"{step}{octave}"
        if written in _ACCID:
            altered[place] = _ACCID[written]
        shift = _ACCID.get(sounding or "", altered.get(place, self.key.get(step, 0)))
        if written in _ACCID:
            shift = _ACCID[written]
        return 12 * (int(head.get("oct.ges", octave)) + 1) + _STEPS.get(step, 0) + shift

    def _event(self, event: ElementTree.Element, measure: int) -> None:
        """What stands over or under the staff: ties, slurs, dynamics, tempo, fingers, strings."""
        name, start = _name(event), event.get("startid", "").lstrip("#")
        if event.get("staff") and self.staff not in event.get("staff", "").split():
            return
        words = "".join(event.itertext()).strip()
        if name == "tie" and start:
            self.marks.tied[start] = event.get("endid", "").lstrip("#")
        elif name == "slur" and start:
            self.marks.slurs.append((start, event.get("endid", "").lstrip("#")))
        elif name == "dynam" and words in DYNAMICS:
            if start:
                self.marks.dynamics[start] = words
            else:
                self.marks.at.append((measure, self._beat(event), words))
        elif name == "fing" and start:
            (self.marks.strings if words in NUMERALS else self.marks.fingers)[start] = words
        elif name == "dir" and words in NUMERALS:
            # a numeral alone counts for its note, whether it is written as a finger or as words
            if start:
                self.marks.strings[start] = words
            else:
                self.marks.numerals_at.append((measure, self._beat(event), words))
        elif name == "dir" and (string := string_said(words)) is not None:
            if start:
                self.marks.strings_from[start] = string
            else:
                self.marks.strings_at.append((measure, self._beat(event), string))
        elif name == "tempo":
            self._set_tempo(event)
        elif name in ("ornam", "trill", "mordent", "turn", "arpeg", "gliss", "octave", "pedal"):
            self.skipped.add(name)

    def _beat(self, event: ElementTree.Element) -> float:
        """Where an event stands in its bar, quarter notes."""
        return (float(event.get("tstamp", "1") or 1) - 1.0) * 4.0 / self.meter[1]

    def _set_tempo(self, event: ElementTree.Element) -> None:
        try:
            if event.get("mm"):
                unit = _LENGTHS.get(event.get("mm.unit", "4"), 1.0) * (2.0 - 0.5 ** int(event.get("mm.dots", "0")))
                self.tempo = float(event.get("mm", "60")) * unit
            elif event.get("midi.bpm"):
                self.tempo = float(event.get("midi.bpm", "60"))
        except ValueError:
            pass

    def _marked(self, notes: list[ScoreNote]) -> list[ScoreNote]:
        out = []
        for note in notes:
            here = next((self.marks.dynamics[i] for i in note.ids if i in self.marks.dynamics), None)
            stamped = [w for m, b, w in self.marks.at if m == note.measure and abs(b - note.start) < 1e-3]
            self._loud = here or (stamped[-1] if stamped else self._loud)
            finger = next((self.marks.fingers[i] for i in note.ids if i in self.marks.fingers), note.finger)
            since = [w for m, b, w in self.marks.strings_at if m == note.measure and abs(b - note.start) < 1e-3]
            since += [self.marks.strings_from[i] for i in note.ids if i in self.marks.strings_from]
            self._string = since[-1] if since else self._string
            alone = [w for m, b, w in self.marks.numerals_at if m == note.measure and abs(b - note.start) < 1e-3]
            alone += [self.marks.strings[i] for i in note.ids if i in self.marks.strings]
            string = alone[-1] if alone else note.string or self._string
            out.append(replace(note, dynamic=self._loud, finger=finger, string=string))
        return out


def _name(element: ElementTree.Element) -> str:
    return element.tag.rpartition("}")[2]


def _walk(element: ElementTree.Element, ending: str = "") -> Iterator[tuple[ElementTree.Element, str]]:
    for child in element:
        name = _name(child)
        if name in ("section", "part", "score"):
            yield from _walk(child, ending)
        elif name == "ending":
            yield from _walk(child, child.get("n", "1"))
        else:
            yield child, ending


def _key(sig: str) -> dict[str, int]:
    """Steps altered by a key signature such as "2s" or "3f"."""
    count, kind = sig[:-1], sig[-1]
    if not count.isdigit() or kind not in "sf":
        return {}
    order = _SHARPS if kind == "s" else _FLATS
    return dict.fromkeys(order[: int(count)], 1 if kind == "s" else -1)


def _slurred(bars: list[_Bar], slurs: list[tuple[str, str]]) -> list[_Bar]:
    """Numbers of slurs at the notes that lie under them."""
    flat = [(b, k) for b, bar in enumerate(bars) for k in range(len(bar.notes))]
    where = {i: n for n, (b, k) in enumerate(flat) for i in bars[b].notes[k].ids}
    number = [0] * len(flat)
    for slur, (start, end) in enumerate(slurs, 1):
        if start in where and end in where:
            for n in range(where[start], where[end] + 1):
                number[n] = slur if not number[n] else number[n]
    out = []
    at = 0
    for bar in bars:
        notes = [replace(note, slur=number[at + k]) for k, note in enumerate(bar.notes)]
        at += len(bar.notes)
        out.append(replace(bar, notes=notes))
    return out


def _order(bars: list[_Bar]) -> list[int]:
    """Places of the bars as they are played: repeats once more, first and second endings."""
    out: list[int] = []
    start, k, done = 0, 0, set[int]()
    turn = 1
    while k < len(bars) and len(out) < 3 * MOST_MEASURES:
        bar = bars[k]
        if bar.repeat_from and k != start:
            start, turn = k, 1
        if bar.ending and str(turn) not in bar.ending.replace(".", " ").replace(",", " ").split():
            k += 1
            continue
        out.append(k)
        if bar.repeat_to and k not in done:
            done.add(k)
            k, turn = start, turn + 1
            continue
        if bar.repeat_to or (bar.ending and (k + 1 == len(bars) or not bars[k + 1].ending)):
            start, turn = k + 1, 1
        k += 1
    return out


def _played(bars: list[_Bar], order: list[int]) -> tuple[list[ScoreNote], list[tuple[int, int]]]:
    """Notes in playing order, and from where to where a repeat may be left out."""
    notes: list[ScoreNote] = []
    skips: list[tuple[int, int]] = []
    at = 0.0
    began: dict[int, int] = {}
    turns: dict[int, int] = {}
    back: tuple[int, int] | None = None
    for n, k in enumerate(order):
        if n and k <= order[n - 1]:
            # played again from bar k on: whoever leaves it out goes straight on to what follows the repeat
            back = (len(notes), k)
        if back is not None and k not in began and k > back[1]:
            skips.append((back[0], len(notes)))
            back = None
        began.setdefault(k, len(notes))
        turns[k] = turns.get(k, 0) + 1
        # the same slur played again is another bow
        own = SLURS * (turns[k] - 1)
        notes += [replace(note, start=note.start + at, slur=note.slur + own if note.slur else 0) for note in bars[k].notes]
        at += bars[k].beats
        if len(notes) > LONGEST_PLAYED:
            raise NotationError(f"With its repeats the piece has more than {LONGEST_PLAYED} notes.", "Choose a shorter piece.")
    if back is not None:
        skips.append((back[0], len(notes)))
    return notes, skips


def _tied(notes: list[ScoreNote], tied: dict[str, str]) -> list[ScoreNote]:
    """Tied notes as one that sounds."""
    out: list[ScoreNote] = []
    joins = False
    for note in notes:
        if joins and out and not note.rest and set(note.midi) & set(out[-1].midi):
            before = out[-1]
            out[-1] = replace(before, ids=(*before.ids, *note.ids), beats=before.beats + note.beats)
        else:
            out.append(note)
        joins = any(i in tied for i in note.ids)
    return out
