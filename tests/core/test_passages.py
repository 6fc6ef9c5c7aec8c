"""A long lesson video becomes passages, and what lies between them is left out."""

from __future__ import annotations

import numpy as np

from dolcezza.core.base.message import NOTHING
from dolcezza.core.strokes.figures import find_strokes
from dolcezza.core.strokes.passages import passages, said_of
from dolcezza.reports.language import language
from tests_support import minimum_jerk, series_from


def played(*parts):
    """A record of strokes (seconds, from, to, string) and rests (seconds,)."""
    place, strings, here = [], [], 0.1
    for part in parts:
        if len(part) == 1:
            n = round(60 * part[0])
            place += [here] * n
            strings += [strings[-1] if strings else "D"] * n
            continue
        seconds, start, end, string = part
        path = minimum_jerk(start, end, seconds)
        place += list(path)
        strings += [string] * len(path)
        here = end
    return series_from(np.arange(len(place)) / 60, np.array(place), string=strings)


def test_a_long_rest_parts_two_passages_a_breath_does_not():
    strokes = find_strokes(
        played(
            (0.5,), (1.0, 0.1, 0.9, "D"), (1.0, 0.9, 0.1, "D"), (1.0,), (1.0, 0.1, 0.9, "A"), (1.0, 0.9, 0.1, "A"), (5.0,),
            (1.0, 0.1, 0.9, "E"), (0.5,),
        )
    )  # fmt: skip
    found = passages(strokes)
    assert [(p.first, p.last, p.strings) for p in found] == [(1, 4, ("D", "A")), (5, 5, ("E",))]
    assert [p.strokes for p in found] == [4, 1]
    assert found[1].start_s - found[0].end_s > 4.5
    said = language("en").sentence(said_of(found))
    assert said.startswith("2 passages were played: 0:0") and "(4 strokes, D A)" in said and "(1 stroke, E)" in said


def test_a_take_played_through_is_one_passage_and_nothing_is_said():
    strokes = find_strokes(played((0.5,), (1.0, 0.1, 0.9, "D"), (1.0, 0.9, 0.1, "D")))
    assert len(passages(strokes)) == 1 and said_of(passages(strokes)) == NOTHING
    assert passages([]) == [] and said_of([]) == NOTHING
