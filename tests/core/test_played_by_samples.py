"""Printed notes against sampled violin, viola and cello, the sound alone: notes of a General MIDI sound font, pitches and times known
(tests/takes/sounds, origin in its notes.json)."""

from __future__ import annotations

import json

import numpy as np
import pytest

from conftest import TRUTH
from dolcezza.core.media.audio import read_sound
from dolcezza.core.played.heard_notes import HeardNote, notes_by_bow
from dolcezza.core.played.lay import Alignment, lay
from dolcezza.core.score.score import Score, ScoreNote
from dolcezza.core.sound.pitch import RATE_HZ, track_pitch
from dolcezza.core.sound.strings import open_pitches

SOUNDS = TRUTH / "sounds"
NOTES = json.loads((SOUNDS / "notes.json").read_text())["notes"]
NEAR_S = 0.09
"""A low string speaks slowly: the pitch of 65 Hz is told some five periods after the bow has begun."""


@pytest.fixture(scope="module", params=list(NOTES))
def heard(request):
    """The notes that are heard of a sampled instrument, and its true ones."""
    samples, start = read_sound(SOUNDS / f"{request.param}.flac", rate_hz=RATE_HZ)
    lowest = 0.9 * float(open_pitches(request.param)[0])
    return notes_by_bow(track_pitch(samples, start_s=start, lowest_hz=lowest, highest_hz=22 * lowest), []), NOTES[request.param]


def printed(pitches: list[int]) -> Score:
    """Quarter notes at the samples' own pace."""
    return Score("", tuple(ScoreNote((f"n{k}",), (m,), float(k), 1.0, 1 + k // 4) for k, m in enumerate(pitches)), tempo=60 / 1.1)


def begins(found: Alignment, heard_notes: list[HeardNote]) -> dict[int, float]:
    """When each printed note that was laid begins, s."""
    return {x.note: heard_notes[x.heard[0]].start_s for x in found.laid if x.heard and not x.wrong}


def test_every_sampled_note_is_laid_to_its_printed_one(heard):
    sounds, true = heard
    score = printed([n["midi"] for n in true])
    found = lay(score, sounds)
    told = begins(found, sounds)
    assert list(told) == list(range(len(true)))
    np.testing.assert_allclose(list(told.values()), [n["start_s"] for n in true], atol=NEAR_S)
    assert found.beat_s == pytest.approx(1.1, abs=0.02)


def test_beginning_in_the_middle_of_what_is_printed(heard):
    sounds, true = heard
    before = [true[0]["midi"] + 3, true[0]["midi"] + 5, true[0]["midi"] + 3]
    told = begins(lay(printed(before + [n["midi"] for n in true]), sounds), sounds)
    assert [told.get(k + len(before)) for k in range(len(true))] == pytest.approx([n["start_s"] for n in true], abs=NEAR_S)


def test_a_wrong_note_and_one_left_out_spoil_no_other(heard):
    sounds, true = heard
    pitches = [n["midi"] for n in true]
    asked = [*pitches[:3], pitches[3] - 3, *pitches[4:6], pitches[5] - 5, *pitches[6:]]
    found = lay(printed(asked), sounds)
    assert [x.note for x in found.laid if x.wrong] == [3], "another pitch than the printed one sounds"
    assert [x.note for x in found.laid if not x.heard] == [6], "it does not sound at all"
    told = begins(found, sounds)
    right = {0: 0, 1: 1, 2: 2, 4: 4, 5: 5, 7: 6, 8: 7}
    assert {k: told[k] for k in right} == pytest.approx({k: true[v]["start_s"] for k, v in right.items()}, abs=NEAR_S)
