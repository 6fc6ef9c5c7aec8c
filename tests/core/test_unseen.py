"""A bow that was lost before it turned may have gone on: nothing is made of how short it seems."""

from __future__ import annotations

import numpy as np
import pytest

from dolcezza.core.assignment.match import match
from dolcezza.core.assignment.text import read_exercise
from dolcezza.core.assignment.use import bow_use
from dolcezza.core.findings.profiles import PROFILES
from dolcezza.core.findings.rules.use import use_findings
from dolcezza.core.strokes.figures import find_strokes
from dolcezza.core.strokes.segment import Span
from dolcezza.core.strokes.unseen import unseen_way
from tests_support import series_from

RATE = 60
USUAL = PROFILES["Franco-Belgian"]


def steady(seconds: float = 4.0):
    """A bow from 0.1 to 0.9 and back at 0.8 a second, each way in one second."""
    t = np.arange(int(seconds * RATE)) / RATE
    return t, 0.1 + 0.8 * np.abs((t + 1) % 2 - 1)


def test_a_bow_that_was_lost_in_motion_may_have_gone_on():
    """Lost at 0.8 s (0.74 of the hair) and seen again at 1.2 s: half of 0.4 s at 0.8 a second is 0.16."""
    t, place = steady()
    place[(t > 0.8) & (t < 1.2)] = np.nan
    series = series_from(t, place)
    assert unseen_way(series, Span(0.0, 1.0, True)) == pytest.approx(0.16, abs=0.02)
    assert unseen_way(series, Span(1.0, 2.0, False)) == pytest.approx(0.16, abs=0.02), "nor is it known where the next began"
    assert unseen_way(series, Span(2.0, 3.0, True)) == 0.0, "both of its turns were seen"


def test_a_bow_that_is_told_elsewhere_the_next_moment_was_lost():
    """At 0.5 s (half of the hair) it leaps to the frog within a frame: it may have gone on to its end, and set off from anywhere."""
    t, place = steady()
    leaping = np.where((t > 0.5) & (t < 0.9), 0.05, place)
    series = series_from(t, leaping)
    assert unseen_way(series, Span(0.0, 0.5, True)) == pytest.approx(0.5, abs=0.02)
    back = np.where((t > 1.5) & (t < 1.9), 0.95, place)
    assert unseen_way(series_from(t, back), Span(1.0, 1.5, False)) == pytest.approx(0.5, abs=0.02)
    taken = np.where((t > 0.5) & (t < 0.6), np.nan, leaping)
    off = series_from(t, taken)
    off["lifted"][(t > 0.5) & (t < 0.6)] = 1.0
    assert unseen_way(off, Span(0.0, 0.5, True)) == 0.0, "a bow that was seen to be taken off and set down again was not lost"


def test_no_farther_than_there_is_hair():
    t, place = steady()
    place += 0.08
    place[(t > 0.95) & (t < 1.6)] = np.nan
    last = float(place[np.isfinite(place) & (t < 1.0)][-1])
    assert unseen_way(series_from(t, place), Span(0.0, 1.0, True)) == pytest.approx(1.0 - last, abs=1e-6)


def test_a_bow_that_rests_or_was_seen_to_leave_the_string_has_gone_nowhere():
    t, place = steady()
    rests = np.where(t > 0.7, 0.66, place)
    rests[(t > 0.9) & (t < 1.4)] = np.nan
    assert unseen_way(series_from(t, rests), Span(0.0, 0.9, True)) == pytest.approx(0.0, abs=1e-9)
    place[(t > 0.8) & (t < 1.2)] = np.nan
    series = series_from(t, place)
    series["lifted"][(t > 0.8) & (t < 1.2)] = 1.0
    assert unseen_way(series, Span(0.0, 0.8, True)) == 0.0


def test_short_bows_are_not_sure_where_the_turns_were_not_seen():
    t, place = steady(8.0)
    low = np.where((place > 0.6), np.nan, place)

    def found(values):
        series = series_from(t, values)
        strokes = find_strokes(series)
        matched = match(read_exercise("D: 8 0.1-0.9"), strokes)
        use = bow_use(series, strokes, matched=matched, hair_mm=645.0)["all"]
        return {f.kind: f for f in use_findings(strokes, use, matched, USUAL)}

    assert "short bows" not in found(place)
    hidden = found(low).get("short bows")
    assert hidden is None or not hidden.sure
    seen = found(0.1 + 0.5 * (place - 0.1) / 0.8)["short bows"]
    assert seen.sure, "as short, and seen to turn"


def test_a_frog_is_not_surely_avoided_where_the_turns_at_it_were_not_seen():
    t, place = steady(8.0)
    away = 0.3 + 0.6 * (place - 0.1) / 0.8

    def found(values):
        series = series_from(t, values)
        strokes = find_strokes(series)
        use = bow_use(series, strokes, hair_mm=645.0)["all"]
        return {f.kind: f for f in use_findings(strokes, use, None, USUAL)}.get("avoids the frog")

    assert found(away).sure and found(away).value == pytest.approx(30, abs=2)
    # the last tenth of every bow before the frog is not seen: it may have gone there
    lost = np.where(place < 0.3, np.nan, place)
    assert found(lost) is None or not found(lost).sure


def test_how_short_bows_are_is_known_as_well_as_their_places():
    """Places known to 0.06 of the hair: the share of eight bows of 0.8 to 0.06 * sqrt(2 / 8) / 0.8."""
    t, place = steady(8.0)
    series = series_from(t, place)
    series["bow_position_sd"][:] = 0.06
    strokes = find_strokes(series)
    use = bow_use(series, strokes, matched=match(read_exercise("D: 8 0.1-0.9"), strokes), hair_mm=645.0)["all"]
    assert use.figures["share_to_plan"].sd == pytest.approx(0.06 * np.sqrt(2 / 8) / 0.8, rel=0.1)
