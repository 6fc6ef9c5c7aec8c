"""A piece assigned to a video: bows that go otherwise than printed are findings, also after everything is judged again."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dolcezza.core.assignment.exercise import Printed
from dolcezza.core.assignment.plan import ways
from dolcezza.core.assignment.printed import exercise_of, rhythm_of
from dolcezza.core.assignment.text import write_exercise
from dolcezza.core.score.musicxml import to_musicxml
from dolcezza.core.score.score import OPEN_MIDI, Score, ScoreNote
from dolcezza.services.notation import mei_of, score_of
from takes_support import fill


def piece(strings: str, played: str, slurs: dict[int, int], signs: dict[int, str]) -> Score:
    """Open strings, a half note each."""
    notes = [
        ScoreNote(ids=(), midi=(OPEN_MIDI["violin"][strings.index(s)],), start=2.0 * k, beats=2.0, measure=1 + k // 2,
                  slur=slurs.get(k, 0), sign=signs.get(k, ""))
        for k, s in enumerate(played)
    ]  # fmt: skip
    return Score("evening", tuple(notes), tempo=100.0)


@pytest.fixture
def take(studio):
    return studio.store.take(fill(studio)["demo-a1"])


def assign(studio, take, score: Score) -> dict:
    spec = studio.fit(take).spec
    name = studio.notation.keep("evening", mei_of(to_musicxml(score, "violin", 0).encode()))
    printed = score_of(studio.notation.mei(name))
    made = exercise_of(ways(rhythm_of(printed), spec.hair_length)[0], printed, "violin")
    studio.assign(take.id, write_exercise(replace(made, printed=Printed(name))))
    return {j.finding.kind: j.finding for j in studio.analysis(take).findings}


def test_bows_otherwise_than_printed_are_findings_and_stay_so(studio, take):
    strokes = studio.analysis(take).strokes
    played, strings = "".join(s.string for s in strokes), studio.fit(take).spec.strings
    assert "slur broken" not in assign(studio, take, piece(strings, played, {}, {}))
    found = assign(studio, take, piece(strings, played, {0: 1, 1: 1, 2: 2, 3: 2}, {}))
    assert found["slur broken"].sure and found["slur broken"].strokes == (1, 3)
    assert "notes in the bow" not in found, "it is said once"
    # another profile, another day: judged again with the notes
    studio.judge_again(take)
    assert "slur broken" in {j.finding.kind for j in studio.analysis(take).findings}
    # the piece removed: nothing breaks, nothing is said of it
    studio.notation.remove(studio.asked(take).printed.piece)
    studio.judge_again(take)
    assert "slur broken" not in {j.finding.kind for j in studio.analysis(take).findings}
    studio.undo.undo()
    assert studio.asked(take).printed is not None, "what was asked before is asked again"
