"""What only an exercise makes a finding: notes in a bow by the sound, a bow that changes with the notes, what was asked on purpose."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from dolcezza.core.assignment.exercise import ready_made, told_by_strokes
from dolcezza.core.assignment.match import match
from dolcezza.core.assignment.text import read_exercise, write_exercise
from dolcezza.core.base.errors import ExerciseError
from dolcezza.core.findings.profiles import PROFILES
from dolcezza.core.findings.rules.asked import asked_findings, asked_zones, not_asked_for
from dolcezza.core.findings.rules.bow import find
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.pipeline.judge import asked_match, judge
from dolcezza.core.strokes.figures import find_strokes
from dolcezza.core.tone.notes_in_bow import notes_in_bows
from tests_support import english, minimum_jerk, series_from

VIOLIN, USUAL = instrument("violin 4/4"), PROFILES["Franco-Belgian"]


def bows(*notes: int, seconds=2.0, reach=0.9, contact=28.0, mute=()):
    """Whole bows on D with so many notes of a scale in each; ``reach``: share of the bow that each uses (one number, or one a bow)."""
    reaches = [reach] * len(notes) if isinstance(reach, float) else list(reach)
    place, hz = [], []
    for k, (n, r) in enumerate(zip(notes, reaches, strict=True)):
        low, high = 0.5 - r / 2, 0.5 + r / 2
        part = minimum_jerk(low, high, seconds) if k % 2 == 0 else minimum_jerk(high, low, seconds)
        place.append(part)
        which = np.minimum((np.arange(len(part)) * n / len(part)).astype(int), n - 1)
        tone = 293.66 * 2 ** (2 * (which % 5) / 12)
        hz.append(np.full(len(part), np.nan) if k in mute else tone)
    p = np.concatenate(place)
    series = series_from(np.arange(len(p)) / 60.0, p, contact=contact)
    series.values["pitch_hz"][:] = np.concatenate(hz)
    return series, find_strokes(series)


def test_notes_in_a_bow_are_counted_from_the_pitch():
    series, strokes = bows(4, 1, 3, 8, mute=(2,))
    assert notes_in_bows(series, strokes) == {1: 4, 2: 1, 4: 8}, "what is not heard is not counted"


def test_four_notes_in_a_bow_and_four_bows_differ():
    wanted = read_exercise("D: 4 whole x4 slur 4")
    slurred = bows(4, 4, 4, 4)
    single = bows(1, 1, 1, 1)
    assert asked_findings(slurred[1], match(wanted, slurred[1]), notes_in_bows(*slurred)) == []
    (found,) = asked_findings(single[1], match(wanted, single[1]), notes_in_bows(*single))
    assert found.kind == "notes in the bow" and found.sure and (found.value, found.limit) == (1.0, 4.0)
    assert "Asked were 4 notes in a bow, 1 were heard, on 4 of 4 strokes" in english(found)
    faint = [replace(s, confidence=0.35) for s in single[1]]
    assert not asked_findings(faint, match(wanted, faint), notes_in_bows(single[0], faint))[0].sure, "where a faint bow turned is not sure"
    (many,) = asked_findings(*[f(bows(8, 8, 8, 8)) for f in (lambda b: b[1], lambda b: match(wanted, b[1]), lambda b: notes_in_bows(*b))])
    assert many.message.id == "slur.many"
    silent = bows(1, 1, 1, 1, mute=(0, 1, 2, 3))
    assert asked_findings(silent[1], match(wanted, silent[1]), notes_in_bows(*silent)) == [], "without sound nothing is said"


def test_a_bow_that_lies_on_the_next_string_too_is_worth_a_look():
    """Common practice, no source: where the elbow keeps one height, neighbouring strings sound."""
    wanted, (_, strokes) = read_exercise("D: 4 whole x4"), bows(1, 1, 1, 1)
    both = [replace(s, string="D+A") if s.number > 1 else s for s in strokes]
    (found,) = [f for f in asked_findings(both, match(wanted, both), {}) if f.kind == "neighbour string sounds"]
    assert not found.sure and found.strokes == (2, 3, 4) and "sounds too, on 3 of 4 strokes" in english(found)
    once = [replace(s, string="D+A") if s.number == 1 else s for s in strokes]
    far = [replace(s, string="G+D") if s.number > 1 else replace(s, string="A+E") for s in strokes]
    assert not [f for f in asked_findings(once, match(wanted, once), {}) if f.kind == "neighbour string sounds"]
    assert [f.strokes for f in asked_findings(far, match(wanted, far), {}) if f.kind == "neighbour string sounds"] == [(2, 3, 4)]


def test_the_bow_must_not_change_when_the_notes_double():
    """Twice as many notes with the bow unchanged (common practice, no source)."""
    wanted = read_exercise("D: 3 whole x4 slur 2, 3 whole x4 slur 4")
    kept, grown = bows(2, 2, 2, 4, 4, 4, reach=0.8), bows(2, 2, 2, 4, 4, 4, reach=(0.6, 0.61, 0.6, 0.9, 0.91, 0.9))
    assert asked_findings(kept[1], match(wanted, kept[1]), {}) == []
    (found,) = asked_findings(grown[1], match(wanted, grown[1]), {})
    assert found.kind == "bow changes with the notes" and found.sure and found.value == pytest.approx(50.0, abs=6.0)
    assert "With 4 notes to a bow instead of 2" in english(found)
    for faint in ((1, 2, 3), (4, 5, 6)):
        strokes = [replace(s, confidence=0.35 if s.number in faint else 0.9) for s in grown[1]]
        assert not asked_findings(strokes, match(wanted, strokes), {})[0].sure, "one side of it was seen too faintly"
    assert {f.kind for f in judge(*grown, None, None, VIOLIN, USUAL, match(wanted, grown[1]))} >= {"bow changes with the notes"}


def test_slurs_are_not_laid_to_somebody_who_was_not_asked_for_them():
    """Recognised from strokes alone: an exercise with slurs is not among those that are guessed."""
    series, strokes = bows(1, 1, 1, 1)
    guessed = asked_match(strokes, "GDAE", None)
    assert guessed is None or told_by_strokes(guessed.exercise)
    assert not all(told_by_strokes(e) for e in ready_made("GDAE"))
    assert "notes in the bow" not in {f.kind for f in judge(series, strokes, None, None, VIOLIN, USUAL, guessed)}


@pytest.mark.parametrize(("words", "contact"), [("near bridge", 6.0), ("over fingerboard", 52.0)])
def test_a_zone_that_was_asked_is_no_fault(words, contact):
    """Near the bridge and over the fingerboard are wanted as colours, unwanted as drift (common practice, no source)."""
    _, strokes = bows(1, 1, 1, 1, contact=contact)
    (outside,) = [f for f in find(strokes, VIOLIN, USUAL) if f.kind == "out of the lane"]
    assert not_asked_for(outside, asked_zones(match(read_exercise("D: 4 whole x4"), strokes)))
    assert not not_asked_for(outside, asked_zones(match(read_exercise(f"D: 4 whole x4 {words}"), strokes)))
    other = {"near bridge": "over fingerboard", "over fingerboard": "near bridge"}[words]
    assert not_asked_for(outside, asked_zones(match(read_exercise(f"D: 4 whole x4 {other}"), strokes)))


def test_marks_on_the_bow_are_places_in_an_exercise():
    marks = {"marker": 0.47, "balance point": 0.2}
    made = read_exercise("D: 4 frog-marker x2, 4 marker-tip x2, 2 balance-0.6 loud near bridge", marks)
    assert {(s.low, s.high) for s in made.strokes} == {(0.0, 0.47), (0.47, 1.0), (0.2, 0.6)}
    assert (made.strokes[-1].loud, made.strokes[-1].zone) == ("loud", "bridge")
    assert read_exercise(write_exercise(made)) == made, "written down it no longer needs the marks"
    assert read_exercise("D: 4 frog-marker").strokes[0].high == 0.5, "without a mark the marker is at mid-bow"
    with pytest.raises(ExerciseError, match="has the place 'winding'"):
        read_exercise("D: 4 frog-winding")
    with pytest.raises(ExerciseError, match="has 'backwards' as stroke"):
        read_exercise("D: 4 whole x2 backwards")
