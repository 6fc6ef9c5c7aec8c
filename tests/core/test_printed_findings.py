"""What went otherwise than printed becomes a finding, sure only where it is no slip."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from dolcezza.core.bowing.series import COLUMNS, BowSeries
from dolcezza.core.findings.rules.printed import printed_findings
from dolcezza.core.played.heard_notes import HeardNote
from dolcezza.core.played.lay import lay
from dolcezza.core.played.played import performed
from dolcezza.core.score.engraving import to_mei
from dolcezza.core.score.mei import read_mei
from dolcezza.core.score.scales import PATTERNS, scale
from dolcezza.core.score.score import Score
from tests_support import english, made_stroke


def heard_of(score: Score, bow_of: list[int] | None = None) -> list[HeardNote]:
    number = {k: n for n, bow in enumerate(score.bows, 1) for k in bow.notes}
    sounding = [(k, n) for k, n in enumerate(score.notes) if not n.rest]
    return [
        HeardNote(1 + 0.6 * n.start, 0.98 + 0.6 * n.end, n.midi[0], bow_of[j] if bow_of else number[k])
        for j, (k, n) in enumerate(sounding)
    ]  # fmt: skip


def found(score: Score, heard: list[HeardNote], **changed):
    """``changed``: other values of bow 5."""
    strokes = []
    for number in sorted({h.stroke for h in heard}):
        own, down = [h for h in heard if h.stroke == number], number % 2 == 1
        ends = {"start": 0.1, "end": 0.9} if down else {"start": 0.9, "end": 0.1}
        made = made_stroke(number, own[0].start_s, own[-1].end_s, down=down, **{**ends, **(changed if number == 5 else {})})
        strokes.append(replace(made, share_seen=1.0))
    t = np.arange(0, heard[-1].end_s + 1, 1 / 30)
    series = BowSeries({n: np.full(len(t), np.nan) for n in COLUMNS if n != "string"} | {"t_s": t}, [""] * len(t))
    return {f.kind: f for f in printed_findings(performed(score, heard, lay(score, heard), series, strokes), strokes)}


def read(text: str) -> Score:
    return read_mei(to_mei(text.encode()))


FOURS = scale("violin", "G", PATTERNS[3])[0]


def test_what_is_played_as_printed_makes_no_finding():
    assert found(FOURS, heard_of(FOURS)) == {}


def test_one_broken_slur_is_not_sure_and_two_are():
    number = [h.stroke for h in heard_of(FOURS)]
    once = found(FOURS, heard_of(FOURS, [n + (j >= 3) for j, n in enumerate(number)]))
    slur = once["slur broken"]
    assert not slur.sure and slur.value == 1 and slur.strokes == (2,) and "bar 2" in english(slur)
    assert not once["bow the other way"].sure, "no sign stands there: the way follows from the first bow"
    twice = found(FOURS, heard_of(FOURS, [n + (j >= 3) + (j >= 11) for j, n in enumerate(number)]))["slur broken"]
    assert twice.sure and twice.value == 2 and twice.cause == "bow turns within the slur"


def test_a_bow_against_a_printed_sign_is_sure_at_once():
    score = read("X:1\nM:4/4\nK:C\nL:1/2\nc d|e f|g a|ub vc'|")
    # bows are drawn in turn, as if the sign did not stand there
    turned = found(score, heard_of(score))["bow the other way"]
    assert turned.sure and turned.evidence_s[0] == pytest.approx(1 + 0.6 * score.notes[6].start, abs=0.05)
    assert "bar 4" in english(turned)


def test_a_bow_that_was_hardly_seen_proves_nothing():
    score = read("X:1\nM:4/4\nK:C\nL:1/2\nc d|ve f|g a|b c'|")
    heard = heard_of(score, [1, 2, 4, 5, 6, 7, 8, 9])
    strokes = [
        replace(made_stroke(h.stroke, h.start_s, h.end_s, down=h.stroke % 2 == 1, start=0.1, end=0.9), share_seen=0.4) for h in heard
    ]
    t = np.arange(0, 9, 1 / 30)
    series = BowSeries({n: np.full(len(t), np.nan) for n in COLUMNS if n != "string"} | {"t_s": t}, [""] * len(t))
    told = performed(score, heard, lay(score, heard), series, strokes)
    assert told.sure and [f.sure for f in printed_findings(told, strokes)] == [False]


def test_printed_apart_and_played_in_one_bow():
    score = scale("violin", "G", PATTERNS[0])[0]
    number = [3 if h.stroke == 4 else h.stroke - (h.stroke > 4) for h in heard_of(score)]
    joined = found(score, heard_of(score, number))["notes in one bow"]
    assert joined.cause == "bow does not turn" and joined.strokes == (3,) and not joined.sure


def test_a_loud_bow_with_little_bow_is_told_by_its_share():
    score = read("X:1\nM:4/4\nK:C\nL:1/1\nc|d|e|f|!f!g|!mf!a|b|c'|")
    little = found(score, heard_of(score), start=0.1, end=0.35)["little bow"]
    # the others use 0.8 of the bow for what asks less: it got a quarter of the bow
    assert little.unit == "%" and little.value < 35 < little.limit == 60 and not little.sure
    assert found(score, heard_of(score), start=0.05, end=0.95) == {}


def test_another_piece_makes_no_finding():
    score = read("X:1\nM:4/4\nK:C\nL:1/2\nc d|e f|g a|b c'|")
    other = [HeardNote(h.start_s, h.end_s, 30 + 5 * (k % 3), 1) for k, h in enumerate(heard_of(score))]
    assert found(score, other) == {}
