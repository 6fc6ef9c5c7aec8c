"""A score written as MusicXML 4.0 (partwise), as other programs read it."""

from __future__ import annotations

from fractions import Fraction
from xml.etree import ElementTree as ET

from dolcezza.core.score.score import Score, ScoreNote, string_names
from dolcezza.core.score.strings_written import string_number

DIVISIONS = 24
"""Parts of a quarter note: eighth triplets and thirty-seconds are whole numbers of it."""
_TYPES = {4.0: "whole", 2.0: "half", 1.0: "quarter", 0.5: "eighth", 0.25: "16th", 0.125: "32nd"}
_SHARP = ("C", "C#", "D", "D#", "E", "F", "F#", "G", "G#", "A", "A#", "B")
_FLAT = ("C", "Db", "D", "Eb", "E", "F", "Gb", "G", "Ab", "A", "Bb", "B")
_MARKS = {"stacc": "staccato", "ten": "tenuto", "acc": "accent"}
_CLEFS = {"violin": ("G", 2), "viola": ("C", 3), "cello": ("F", 4)}


def to_musicxml(score: Score, family: str, fifths: int = 0) -> str:
    """The score in bars of its meter; ``fifths``: sharps (+) or flats (-) of the key. What does not fit a bar is tied over."""
    root = ET.Element("score-partwise", version="4.0")
    ET.SubElement(ET.SubElement(root, "work"), "work-title").text = score.title
    part = ET.SubElement(ET.SubElement(root, "part-list"), "score-part", id="P1")
    ET.SubElement(part, "part-name").text = family.capitalize()
    body = ET.SubElement(root, "part", id="P1")
    loud, open_slur = "mf", 0
    for number, bar in enumerate(_bars(score), 1):
        measure = ET.SubElement(body, "measure", number=str(number))
        if number == 1:
            _attributes(measure, score, family, fifths)
        for piece in bar:
            note = piece.note
            if note.dynamic != loud and not note.rest:
                loud = note.dynamic
                direction = ET.SubElement(measure, "direction", placement="below")
                ET.SubElement(ET.SubElement(ET.SubElement(direction, "direction-type"), "dynamics"), loud)
            following = piece.next_slur
            open_slur = _note(measure, piece, (fifths, family), open_slur, following)
    ET.indent(root, " ")
    # without a document type: a reader that looks for the definition would go out for it
    return '<?xml version="1.0" encoding="UTF-8"?>\n' + ET.tostring(root, encoding="unicode") + "\n"


class _Piece:
    """A note, or the part of it that fits into a bar."""

    def __init__(self, note: ScoreNote, beats: float, *, ties_on: bool, tied: bool, next_slur: int) -> None:
        self.note, self.beats, self.ties_on, self.tied, self.next_slur = note, beats, ties_on, tied, next_slur


def _bars(score: Score) -> list[list[_Piece]]:
    whole = 4.0 * score.meter[0] / score.meter[1]
    out: list[list[_Piece]] = [[]]
    room = whole
    notes = [n for n in score.notes if not n.grace]
    for k, note in enumerate(notes):
        left, first = note.beats, True
        following = notes[k + 1].slur if k + 1 < len(notes) else 0
        while left > 1e-9:
            for size in _written(min(left, room)):
                rest = left - size
                out[-1].append(
                    _Piece(
                        note,
                        size,
                        ties_on=rest > 1e-9 and not note.rest,
                        tied=not first,
                        next_slur=following if rest <= 1e-9 else note.slur,
                    )
                )
                left, room, first = rest, room - size, False
            if room < 1e-9:
                out.append([])
                room = whole
    return out if out[-1] else out[:-1]


def _written(beats: float) -> list[float]:
    """Lengths that a note can be written with, together so long: plain, dotted, tuplets as they are."""
    for size in _TYPES:
        for dotted in (1.0, 1.5, 1.75):
            if abs(beats - size * dotted) < 1e-9:
                return [beats]
    if abs(beats * 3 / 2 - round(beats * 3 / 2 * 8) / 8) < 1e-6 and any(abs(beats * 1.5 - s) < 1e-6 for s in _TYPES):
        return [beats]
    out, left = [], beats
    for size in _TYPES:
        while left >= size - 1e-9:
            out.append(size)
            left -= size
    return out or [beats]


def _attributes(measure: ET.Element, score: Score, family: str, fifths: int) -> None:
    attributes = ET.SubElement(measure, "attributes")
    ET.SubElement(attributes, "divisions").text = str(DIVISIONS)
    ET.SubElement(ET.SubElement(attributes, "key"), "fifths").text = str(fifths)
    time = ET.SubElement(attributes, "time")
    ET.SubElement(time, "beats").text, ET.SubElement(time, "beat-type").text = map(str, score.meter)
    clef = ET.SubElement(attributes, "clef")
    sign, line = _CLEFS[family]
    ET.SubElement(clef, "sign").text, ET.SubElement(clef, "line").text = sign, str(line)
    direction = ET.SubElement(measure, "direction", placement="above")
    metronome = ET.SubElement(ET.SubElement(direction, "direction-type"), "metronome")
    ET.SubElement(metronome, "beat-unit").text = "quarter"
    ET.SubElement(metronome, "per-minute").text = f"{score.tempo:g}"
    ET.SubElement(direction, "sound", tempo=f"{score.tempo:g}")


def _note(measure: ET.Element, piece: _Piece, within: tuple[int, str], open_slur: int, next_slur: int) -> int:
    """Write a note ``within`` a key (fifths) and for a family; returns the slur that is open after it."""
    note, (fifths, family) = piece.note, within
    names = _FLAT if fifths < 0 else _SHARP
    slur_ends = bool(open_slur) and next_slur != open_slur
    slur_begins = bool(note.slur) and note.slur != open_slur and next_slur == note.slur
    for which, midi in enumerate(note.midi or (None,)):
        element = ET.SubElement(measure, "note")
        if which:
            ET.SubElement(element, "chord")
        if midi is None:
            ET.SubElement(element, "rest")
        else:
            pitch, name = ET.SubElement(element, "pitch"), names[midi % 12]
            ET.SubElement(pitch, "step").text = name[0]
            if len(name) > 1:
                ET.SubElement(pitch, "alter").text = "1" if name[1] == "#" else "-1"
            ET.SubElement(pitch, "octave").text = str(midi // 12 - 1)
        ET.SubElement(element, "duration").text = str(round(Fraction(piece.beats).limit_denominator(96) * DIVISIONS))
        for on, kind in ((piece.tied, "stop"), (piece.ties_on, "start")):
            if on:
                ET.SubElement(element, "tie", type=kind)
        ET.SubElement(element, "voice").text = "1"
        _length(element, piece.beats)
        if which:
            continue
        notations = ET.Element("notations")
        for on, kind in ((piece.tied, "stop"), (piece.ties_on, "start")):
            if on:
                ET.SubElement(notations, "tied", type=kind)
        if slur_ends and note.slur == open_slur:
            ET.SubElement(notations, "slur", type="stop", number="1")
        if slur_begins:
            ET.SubElement(notations, "slur", type="start", number="1")
        technical = ET.Element("technical")
        if note.sign and not piece.tied:
            ET.SubElement(technical, "down-bow" if note.sign == "down" else "up-bow")
        if note.finger and not piece.tied:
            ET.SubElement(technical, "fingering").text = note.finger
        if not piece.tied and (number := string_number(note.string, string_names(family))):
            ET.SubElement(technical, "string").text = str(number)
        if len(technical):
            notations.append(technical)
        if note.marks and not piece.tied:
            articulations = ET.SubElement(notations, "articulations")
            for mark in note.marks:
                if mark in _MARKS:
                    ET.SubElement(articulations, _MARKS[mark])
        if len(notations):
            element.append(notations)
    if slur_begins:
        return note.slur
    return 0 if slur_ends or not note.slur else open_slur


def _length(element: ET.Element, beats: float) -> None:
    """The written value with its dots, or as a triplet."""
    for size, name in _TYPES.items():
        for dots, times in enumerate((1.0, 1.5, 1.75)):
            if abs(beats - size * times) < 1e-9:
                ET.SubElement(element, "type").text = name
                for _ in range(dots):
                    ET.SubElement(element, "dot")
                return
    for size, name in _TYPES.items():
        if abs(beats * 1.5 - size) < 1e-6:
            ET.SubElement(element, "type").text = name
            change = ET.SubElement(element, "time-modification")
            ET.SubElement(change, "actual-notes").text, ET.SubElement(change, "normal-notes").text = "3", "2"
            return
    ET.SubElement(element, "type").text = "quarter"
