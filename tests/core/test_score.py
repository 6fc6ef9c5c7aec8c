"""Printed music read, written, engraved; and played notes laid against it."""

from __future__ import annotations

import io
import zipfile
from xml.etree import ElementTree

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dolcezza.core.assignment.plan import ways
from dolcezza.core.assignment.printed import bow_of_notes, exercise_of, rhythm_of
from dolcezza.core.assignment.text import read_exercise, write_exercise
from dolcezza.core.bowing.series import COLUMNS, BowSeries
from dolcezza.core.played.heard_notes import HeardNote, notes_by_bow
from dolcezza.core.played.lay import lay
from dolcezza.core.played.played import off_the_beat, performed
from dolcezza.core.score.engraving import engrave, to_mei
from dolcezza.core.score.mei import read_mei, staves
from dolcezza.core.score.musicxml import to_musicxml
from dolcezza.core.score.scales import KEYS, PATTERNS, keys_for, scale
from dolcezza.core.score.score import NotationError, Score, ScoreNote, on_strings, part
from dolcezza.core.score.strings_written import string_number, string_said
from dolcezza.core.sound.pitch import PitchTrack
from dolcezza.core.sound.strings import A4_HZ
from dolcezza.services.notation import mei_of
from tests_support import made_stroke

TUNE = """X:1
T:Evening at the Lock
M:3/4
L:1/4
Q:1/4=84
K:D
A|!p!(d2 f)|vA z ue|:.d .e f-|f2 !f!(^g/a/):|
"""
"""A tune of ours: a bar before the first, slurs, a tie, signs, dots, a repeat, an accidental, loudness."""


def read(text: str, **options) -> Score:
    # the engraver keeps a key from one ABC text to the next: each is read in a process of its own, as the program does
    return read_mei(mei_of(text.encode()), **options)


def test_a_tune_is_read_as_it_is_printed():
    score = read(TUNE)
    assert (score.tempo, score.meter, score.pickup) == (84.0, (3, 4), True)
    sounding = [score.notes[k] for k in score.sounding]
    # a' | d'' f#'' | a' e'' | d'' e'' f#'' (tied) | g#'' a'' and the repeat again
    first = (69, 74, 78, 69, 76, 74, 76, 78, 80, 81)
    assert [n.midi[0] for n in sounding] == [*first, *first[5:]]
    assert [n.beats for n in sounding[:10]] == [1, 2, 1, 1, 1, 1, 1, 3, 0.5, 0.5]
    assert [n.sign for n in sounding[3:5]] == ["down", "up"]
    assert [n.marks for n in sounding[5:7]] == [("stacc",), ("stacc",)]
    assert sounding[1].dynamic == "p" and sounding[8].dynamic == "f"
    assert [n.rest for n in score.notes].count(True) == 1
    assert len(sounding[7].ids) >= 2 and len(score.skips) == 1


def test_bows_take_turns_from_the_pickup_on_and_follow_their_signs():
    score = read(TUNE)
    bows = score.bows
    assert not bows[0].down, "an up-bow before the first whole bar"
    assert bows[1].down and len(bows[1].notes) == 2, "a slur is one bow"
    signed = next(b for b in bows if score.notes[b.notes[0]].sign == "down")
    assert signed.down and signed.signed
    again = [b for b in bows if len(b.notes) == 2]
    assert len(again) == 3, "a slur that is played again is another bow"


MEI_HEAD = '<mei xmlns="http://www.music-encoding.org/ns/mei"><music><body><mdiv><score>'
MEI_TAIL = "</score></mdiv></body></music></mei>"


def test_keys_tuplets_chords_and_voices_of_plain_mei():
    """By the rules of common notation: a key holds for its steps, an accidental for its bar, three in the time of two, ..."""
    mei = f"""{MEI_HEAD}<scoreDef key.sig="2s" meter.count="2" meter.unit="4"><staffGrp><staffDef n="1"/></staffGrp></scoreDef><section>
      <measure n="1"><staff n="1"><layer n="1">
        <tuplet num="3" numbase="2"><note pname="f" oct="4" dur="8"/><note pname="c" oct="5" dur="8"/>
        <note pname="c" oct="5" dur="8" accid="n"/></tuplet>
        <note pname="c" oct="5" dur="4"/></layer><layer n="2"><note pname="a" oct="3" dur="2"/></layer></staff></measure>
      <measure n="2"><staff n="1"><layer n="1"><chord dur="4" dots="1"><note pname="d" oct="4"/><note pname="a" oct="4"/></chord>
        <note pname="c" oct="5" dur="8" grace="acc"/><rest dur="8"/></layer></staff></measure></section>{MEI_TAIL}"""
    score = read_mei(mei)
    assert [n.midi for n in score.notes] == [(66,), (73,), (72,), (72,), (62, 69), (73,), ()]
    assert [n.beats for n in score.notes] == pytest.approx([1 / 3, 1 / 3, 1 / 3, 1, 1.5, 0, 0.5])
    assert score.notes[5].grace and "voices besides the first" in score.skipped


def test_first_and_second_endings_are_played_in_their_turn():
    def measure(step: str, extra: str = "") -> str:
        return f'<measure {extra}><staff n="1"><layer n="1"><note pname="{step}" oct="4" dur="1"/></layer></staff></measure>'

    body = measure("c", 'left="rptstart"') + f'<ending n="1">{measure("d", chr(114) + "ight=" + chr(34) + "rptend" + chr(34))}</ending>'
    body += f'<ending n="2">{measure("e")}</ending>' + measure("f")
    head = '<scoreDef meter.count="4" meter.unit="4"><staffGrp><staffDef n="1"/></staffGrp></scoreDef>'
    score = read_mei(f"{MEI_HEAD}{head}<section>{body}</section>{MEI_TAIL}")
    assert [n.midi[0] for n in score.notes] == [60, 62, 60, 64, 65]


@pytest.mark.parametrize("family", ["violin", "viola", "cello"])
@pytest.mark.parametrize("pattern", PATTERNS, ids=lambda p: p.name)
def test_scales_written_as_musicxml_read_back_the_same(family, pattern):
    for key in keys_for(family)[:2]:
        for minor in (False, True):
            made, fifths = scale(family, key, pattern, minor=minor, tempo=72)
            back = read_mei(to_mei(to_musicxml(made, family, fifths).encode()))
            assert [(n.midi, n.beats) for n in back.notes] == [(n.midi, n.beats) for n in made.notes]
            assert [b.notes for b in back.bows] == [b.notes for b in made.bows]
            assert back.tempo == 72
            assert len(set(on_strings(back, family))) >= 2


def test_scales_are_what_the_handbooks_say():
    """Two octaves up and down: whole and half steps of the major scale, and of the melodic minor up and the natural minor down (any theory
    primer, from memory)."""
    made, fifths = scale("violin", "G", PATTERNS[0])
    steps = np.diff([n.midi[0] for n in made.notes])
    assert fifths == 1 and made.notes[0].midi == (55,) and made.notes[14].midi == (79,)
    assert steps[:14].tolist() == [2, 2, 1, 2, 2, 2, 1] * 2 and steps[14:].tolist() == [-1, -2, -2, -2, -1, -2, -2] * 2
    minor, flats = scale("violin", "G", PATTERNS[0], minor=True)
    steps = np.diff([n.midi[0] for n in minor.notes])
    assert flats == -2 and steps[:7].tolist() == [2, 1, 2, 2, 2, 2, 1] and steps[14:21].tolist() == [-2, -2, -1, -2, -2, -1, -2]
    with pytest.raises(NotationError):
        scale("violin", "H", PATTERNS[0])
    assert set(KEYS.values()) == set(range(-4, 6))


@given(st.lists(st.tuples(st.integers(55, 88), st.sampled_from([0.5, 1.0, 1.5, 2.0, 3.0, 5.0]), st.booleans()), min_size=1, max_size=12))
def test_whatever_is_written_is_read_back(notes):
    at, made = 0.0, []
    for midi, beats, rest in notes:
        made.append(ScoreNote((), () if rest else (midi,), at, beats, 1 + int(at // 4)))
        at += beats
    if all(n.rest for n in made):
        return
    back = read_mei(to_mei(to_musicxml(Score("Study", tuple(made)), "violin").encode()))
    told = [(n.midi, n.beats) for n in back.notes if not n.rest]
    assert told == [(n.midi, n.beats) for n in made if not n.rest]
    assert sum(n.beats for n in back.notes) == pytest.approx(at)


def compressed(text: str, name: str = "score.xml") -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("META-INF/container.xml", "<container/>")
        archive.writestr(name, text)
    return out.getvalue()


def test_compressed_files_are_read():
    made, fifths = scale("violin", "D", PATTERNS[0])
    assert len(read_mei(to_mei(compressed(to_musicxml(made, "violin", fifths)))).notes) == len(made.notes)


GOOD = to_musicxml(scale("violin", "G", PATTERNS[0])[0], "violin", 1)


@pytest.mark.parametrize(("data", "says"), [
    (b"", "not notation"), (b"\0\1\2", "not notation"), (b"\xff" * 50, "UTF-8"), (b"<score-partwise><part", "breaks off"),
    (b"x" * 5_000_000, "larger than"), (compressed("<a/>", "readme.txt"), "no score"), (compressed(GOOD)[:200], "damaged"),
    (compressed("<a>" + " " * 13_000_000 + "</a>"), "too large"), (GOOD[: len(GOOD) // 2].encode(), "breaks off"),
    (b'<?xml version="1.0"?><!DOCTYPE a [<!ENTITY b "c">]><a>&b;</a>', "entities"), (b"<html><body>notes</body></html>", "not notation"),
], ids=range(11))  # fmt: skip
def test_files_that_are_no_notation_are_refused_with_a_sentence(data, says):
    with pytest.raises(NotationError) as caught:
        read_mei(to_mei(data))
    assert says in str(caught.value) and caught.value.advice


def test_below_the_lowest_string_nothing_is_played():
    with pytest.raises(NotationError, match="lowest string"):
        on_strings(read("X:1\nK:C\nL:1/4\nC,,4|"), "violin")
    assert on_strings(read("X:1\nK:C\nL:1/4\nG,DAe|"), "violin") == ["G", "D", "A", "E"]


def test_engraved_notes_have_places_and_systems():
    made, fifths = scale("violin", "G", PATTERNS[5])
    mei = to_mei(to_musicxml(made, "violin", fifths).encode())
    score = read_mei(mei)
    shown = engrave(mei, 1, width=800, below=110.0)
    places = [next(shown.notes[i] for i in n.ids if i in shown.notes) for n in score.notes]
    rows = shown.systems[0]
    assert len(rows) >= 2 and rows[1][0] - rows[0][1] > 100.0, "there is room for the bow under every system"
    first = [x for _, x, y in places if y < rows[0][1] + 20]
    assert first == sorted(first) and len(set(first)) == len(first)
    assert "<svg" in shown.svg[0] and shown.svg[0].count("<svg") == 1, "plain readers leave out a picture within a picture"
    heights = {n.midi[0]: y for n, (_, _, y) in zip(score.notes[:8], places, strict=False)}
    assert heights[55] > heights[57] > heights[59], "higher notes stand higher"


def test_one_staff_of_two():
    def staff(number: int, octave: int) -> str:
        notes = "".join(f'<note xml:id="n{number}{s}" pname="{s}" oct="{octave}" dur="4"/>' for s in "cdef")
        return f'<staff n="{number}"><layer n="1">{notes}</layer></staff>'

    names = "".join(
        f'<staffDef n="{k}" lines="5" clef.shape="G" clef.line="2"><label>{w}</label></staffDef>' for k, w in ((1, "I"), (2, "II"))
    )
    mei = f'{MEI_HEAD}<scoreDef meter.count="4" meter.unit="4"><staffGrp>{names}</staffGrp></scoreDef>'
    mei += f'<section><measure n="1">{staff(1, 5)}{staff(2, 4)}</measure></section>{MEI_TAIL}'
    assert staves(mei) == ["I", "II"]
    assert [n.midi[0] for n in read_mei(mei, staff=2).notes] == [60, 62, 64, 65]
    assert sorted(engrave(mei, 2, width=600, below=50.0).notes) == ["n2c", "n2d", "n2e", "n2f"]


def test_bars_can_be_chosen():
    whole, _ = scale("violin", "G", PATTERNS[1])
    some = part(whole, 2, 3)
    assert [n.midi for n in some.notes] == [n.midi for n in whole.notes if n.measure in (2, 3)] and some.notes[0].start == 0
    with pytest.raises(NotationError):
        part(whole, 90, 99)


# the bow under the notes


def test_the_bow_is_divided_under_the_notes_and_becomes_an_exercise():
    made, _ = scale("violin", "G", PATTERNS[6])  # two tied, two separate
    rhythm = rhythm_of(made)
    assert [len(b.notes) for b in rhythm.bows[:4]] == [2, 1, 1, 2]
    plans = ways(rhythm, 645.0)
    for plan in plans:
        assert [k for own in bow_of_notes(plan, made) for k in own] == list(range(len(made.notes)))
    asked = exercise_of(plans[0], made, "violin")
    assert read_exercise(write_exercise(asked)) == asked
    assert [s.string for s in asked.strokes[:4]] == ["G", "G", "G", "D"] or asked.strokes[0].string == "G"
    assert [s.notes for s in asked.strokes[:3]] == [2, 1, 1]


def test_a_bow_that_was_given_more_gets_it():
    made, _ = scale("violin", "G", PATTERNS[4])
    plain, more = (ways(rhythm_of(made, shares=s), 645.0) for s in (None, {1: 0.3}))
    assert any(abs(p.bows[1].share - 0.3) < 1e-6 for p in more)
    assert not any(abs(p.bows[1].share - 0.3) < 1e-6 for p in plain)


# played against it


def heard_of(score: Score, *, beat_s: float = 0.6, bows: bool = True, at: float = 1.0) -> list[HeardNote]:
    number = {k: n for n, bow in enumerate(score.bows, 1) for k in bow.notes}
    return [
        HeardNote(at + n.start * beat_s, at + n.end * beat_s - 0.02, n.midi[0], number[k] if bows else 0)
        for k, n in enumerate(score.notes) if not n.rest
    ]  # fmt: skip


def bows_of(score: Score, heard: list[HeardNote]):
    """The strokes in which the notes were heard, from frog to head and back in turn."""
    out = []
    for number in sorted({h.stroke for h in heard}):
        own = [h for h in heard if h.stroke == number]
        down = number % 2 == 1
        out.append(made_stroke(number, own[0].start_s, own[-1].end_s, down=down, start=0.1 if down else 0.9, end=0.9 if down else 0.1))
    return out


def series_of(strokes, end_s: float) -> BowSeries:
    t = np.arange(0, end_s + 1, 1 / 30)
    values = {name: np.full(len(t), np.nan) for name in COLUMNS if name != "string"}
    values["t_s"] = t
    for s in strokes:
        inside = (t >= s.start_s) & (t <= s.end_s)
        values["bow_position"][inside] = np.interp(t[inside], [s.start_s, s.end_s], [s.from_position, s.to_position])
    return BowSeries(values, [""] * len(t))


def told(score: Score, heard: list[HeardNote]):
    strokes = bows_of(score, heard)
    return performed(score, heard, lay(score, heard), series_of(strokes, heard[-1].end_s), strokes)


def test_a_scale_played_as_printed():
    score, _ = scale("violin", "G", PATTERNS[3])
    got = told(score, heard_of(score))
    assert got.sure and len(got.notes) == 29 and not got.missed and not got.extra
    assert got.tempo == pytest.approx(100.0, rel=0.02), "0.6 s a quarter note"
    assert all(not b.faults for b in got.bows)
    assert got.notes[0].start_place == pytest.approx(0.1, abs=0.03) and got.notes[1].end_place == pytest.approx(0.9, abs=0.03)


def test_a_note_left_out_one_too_many_and_a_wrong_one():
    score, _ = scale("violin", "G", PATTERNS[0])
    heard = heard_of(score)
    wrong = heard[9]
    heard[9] = HeardNote(wrong.start_s, wrong.end_s, wrong.midi + 3, wrong.stroke)
    heard.insert(16, HeardNote(heard[15].end_s - 0.2, heard[15].end_s, 90, heard[15].stroke))
    del heard[4]
    got = told(score, heard)
    assert got.sure and got.missed == (4,) and len(got.extra) == 1 and got.extra[0].midi == 90
    assert [k for k, n in got.notes.items() if n.wrong] == [9]


def test_beginning_in_the_middle_and_stopping_early():
    score, _ = scale("violin", "G", PATTERNS[0])
    got = told(score, heard_of(score)[8:20])
    assert got.sure and sorted(got.notes) == list(range(8, 20)) and not got.missed


def test_a_repeat_that_is_left_out_is_no_fault():
    score = read(TUNE)
    once = [k for k in score.sounding if k < score.skips[0][0]]
    rest = [k for k in score.sounding if k >= score.skips[0][1]]
    heard = [h for k, h in zip(score.sounding, heard_of(score), strict=True) if k in {*once, *rest}]
    got = told(score, heard)
    assert not got.missed and len(got.notes) == len(heard)


def test_notes_of_one_pitch_that_sound_as_one():
    score = read("X:1\nK:C\nL:1/4\nccdd|eeff|")
    merged = [HeardNote(1 + 1.2 * k, 1 + 1.2 * k + 1.15, m, k + 1) for k, m in enumerate((72, 74, 76, 77))]
    got = told(score, merged)
    assert len(got.notes) == 8 and not got.missed
    assert got.notes[1].start_s == pytest.approx(1.575, abs=0.02), "it is shared by their values"


def test_a_broken_slur_and_a_bow_the_other_way_round():
    score, _ = scale("violin", "G", PATTERNS[3])
    heard = heard_of(score)
    # the second slur is played with two bows; from there on all bows go the other way, which is said once
    shifted = [h if k < 3 else HeardNote(h.start_s, h.end_s, h.midi, h.stroke + 1) for k, h in enumerate(heard)]
    got = told(score, shifted)
    assert got.bows[1].faults == ("broken slur",)
    assert [n for n, b in enumerate(got.bows) if "other way" in b.faults] == [2]


def test_two_printed_bows_in_one_are_said():
    score, _ = scale("violin", "G", PATTERNS[0])
    heard = [HeardNote(h.start_s, h.end_s, h.midi, 3 if h.stroke == 4 else h.stroke - (h.stroke > 4)) for h in heard_of(score)]
    got = told(score, heard)
    assert [n for n, b in enumerate(got.bows) if "not separate" in b.faults] == [3]


def test_a_loud_bow_with_little_bow():
    score = read("X:1\nM:4/4\nK:C\nL:1/1\nc|d|e|f|!f!g|a|")
    heard = heard_of(score)
    strokes = bows_of(score, heard)
    short = made_stroke(5, strokes[4].start_s, strokes[4].end_s, down=True, start=0.1, end=0.35)
    strokes[4] = short
    got = performed(score, heard, lay(score, heard), series_of(strokes, heard[-1].end_s), strokes)
    assert [n for n, b in enumerate(got.bows) if "little bow" in b.faults] == [4]


def test_early_and_late_are_told_against_the_neighbours():
    score, _ = scale("violin", "G", PATTERNS[0])
    heard = heard_of(score, beat_s=0.25)
    late = heard[10]
    heard[10] = HeardNote(late.start_s + 0.15, late.end_s, late.midi, late.stroke)
    got = told(score, heard)
    beats = {k: off_the_beat(n, 0.25) for k, n in got.notes.items()}
    assert beats[10] == "late" and sum(bool(b) for b in beats.values()) == 1


def test_another_piece_is_not_taken_for_this_one():
    score, _ = scale("violin", "G", PATTERNS[0])
    other, _ = scale("violin", "B flat", PATTERNS[0])
    rng = np.random.default_rng(3)
    heard = heard_of(other)
    mixed = [HeardNote(h.start_s, h.end_s, int(m), h.stroke) for h, m in zip(heard, rng.permutation([h.midi for h in heard]), strict=True)]
    assert not told(score, mixed).sure


def test_heard_notes_are_cut_where_the_bow_turns():
    t = np.arange(0, 3.0, 0.016)
    hz = np.where(t < 2.0, A4_HZ, 2 * A4_HZ)
    track = PitchTrack(t, hz, np.ones(len(t)), np.ones(len(t)))
    strokes = [made_stroke(1, 0.0, 1.0, down=True), made_stroke(2, 1.0, 3.0, down=False)]
    notes = notes_by_bow(track, strokes)
    assert [(n.midi, n.stroke) for n in notes] == [(69, 1), (69, 2), (81, 2)]
    assert notes[0].end_s == pytest.approx(1.0, abs=0.01)


PART = """<?xml version="1.0" encoding="UTF-8"?>
<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Part</part-name></score-part></part-list><part id="P1">
<measure number="1"><attributes><divisions>1</divisions><key><fifths>0</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time>
<clef><sign>G</sign><line>2</line></clef></attributes>{first}</measure><measure number="2">{second}</measure></part></score-partwise>"""


def quarter(step: str, octave: int, technical: str = "") -> str:
    own = f"<notations><technical>{technical}</technical></notations>" if technical else ""
    return f"<note><pitch><step>{step}</step><octave>{octave}</octave></pitch><duration>1</duration><type>quarter</type>{own}</note>"


def words(text: str) -> str:
    return f"<direction placement='above'><direction-type><words>{text}</words></direction-type></direction>"


def test_strings_are_read_as_they_are_printed():
    """A number (1 = the highest, as MusicXML has it) or a Roman numeral at one note, "sul G" over all until "loco"."""
    first = quarter("D", 5, "<fingering>4</fingering><string>3</string>") + quarter("D", 5) + words("sul G") + quarter("E", 4) * 2
    second = quarter("A", 4) + quarter("E", 5, "<string>1</string>") + words("loco") + quarter("A", 4) + quarter("G", 3)
    score = read(PART.format(first=first, second=second))
    assert on_strings(score, "violin") == ["D", "A", "G", "G", "G", "E", "A", "G"]
    assert score.notes[0].finger == "4" and score.notes[0].string == "III"
    assert score.skipped == ()
    written = read_mei(mei_of(to_musicxml(score, "violin").encode()))
    assert on_strings(written, "violin") == on_strings(score, "violin") and written.notes[0].finger == "4"
    # a numeral in words is of its note alone, with "corda" it goes on
    spoken = read(PART.format(first=words("III") + quarter("D", 5) + quarter("D", 5) * 3, second=words("IV corda") + quarter("B", 4) * 4))
    assert on_strings(spoken, "violin") == ["D", "A", "A", "A", "G", "G", "G", "G"]
    # the same numerals on a cello: III is its G
    low = read(PART.format(first=quarter("A", 2, "<string>3</string>") * 4, second=quarter("C", 2) * 4))
    assert on_strings(low, "cello") == ["G"] * 4 + ["C"] * 4


def test_a_string_that_does_not_have_the_note_is_not_believed():
    score = read(PART.format(first=quarter("A", 3, "<string>1</string>") * 4, second=words("sul A") + quarter("D", 4) * 4))
    assert on_strings(score, "violin") == ["G"] * 4 + ["D"] * 4


@pytest.mark.parametrize(
    ("said", "string"),
    [("sul G", "G"), ("Sul D", "D"), ("sulla  A", "A"), ("IV corda", "IV"), ("III", "III"), ("iv. saite", "IV"), ("loco", ""), ("nat.", "")]
    + [(w, None) for w in ("sul ponticello", "sul tasto", "dolce", "V", "I say", "")],
)
def test_words_over_the_staff(said, string):
    assert string_said(said) == string
    assert string_number("II", "CGDA") == 2 and string_number("C", "CGDA") == 4 and string_number("E", "CGDA") == 0


def test_words_on_an_engraved_page_are_for_plain_readers():
    """Bar numbers, tempo and the part's name: no span within a span, and the note of "= 60" drawn where its sign's font would be needed."""
    score, _ = scale("violin", "G", PATTERNS[3])
    page = engrave(to_mei(to_musicxml(score, "violin").encode()), 1, width=900, below=100).svg[0]
    root = ElementTree.fromstring(page)
    texts = list(root.iter("{http://www.w3.org/2000/svg}text"))
    assert not any(len(span) for text in texts for span in text), "spans hold words alone"
    said = ["".join(text.itertext()).strip() for text in texts]
    assert {"1", "2", "15", "Violin"} <= set(said) and any("= 60" in s for s in said)
    assert not any("\ue000" <= c <= "\uf8ff" for c in "".join(said))
    assert all(float(text.get("font-size").removesuffix("px")) > 100 for text in texts)
    [tempo] = [t for t in texts if "= 60" in "".join(t.itertext())]
    [parent] = [p for p in root.iter() if tempo in list(p)]
    [note] = [e for e in parent if e.tag.endswith("path")]
    place = float(note.get("transform").partition("(")[2].partition(",")[0])
    assert 100 < float(tempo.get("x")) - place < 500, "the words begin after the note"
