"""A stroke played again by the made-up player: with its own figures, and as asked, seen from where the phone stood."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dolcezza.core.assignment.exercise import AskedStroke
from dolcezza.core.assignment.text import read_exercise
from dolcezza.core.base.errors import StudioError
from dolcezza.core.base.job import finish
from dolcezza.core.findings.profiles import default_profile
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.strokes.figures import find_strokes
from dolcezza.services import what_if
from dolcezza.services.what_if import Figures, Part, asked_figures, asked_stroke, own_figures, phone_place, pictures_of, script_of
from dolcezza.simulator.film import Studio as MadeStudio
from takes_support import fill
from tests_support import series_from

VIOLIN = instrument("violin 4/4")
OWN = Figures("D", (4.0, 0.0, -8.0), (20.0, 24.0, 33.0), 0.1, 0.7, 1.4)


def test_a_stroke_is_played_with_its_own_figures(measured):
    analysis = measured("demo-a1")
    stroke = analysis.strokes[2]
    own = own_figures(analysis.series, stroke)
    assert own.seconds == pytest.approx(stroke.seconds) and own.string == stroke.string
    assert own.angle_deg[1] == pytest.approx(stroke.angle_middle, abs=0.3)
    motion = MadeStudio(script_of(own, "violin 4/4", "right", None)).motion
    assert motion.position[0] == pytest.approx(stroke.from_position, abs=0.02)
    assert motion.position[-1] == pytest.approx(stroke.to_position, abs=0.05)
    for low, high in ((0.05, 0.33), (0.33, 0.66), (0.66, 0.95)):

        def mean(place, values, low=low, high=high):
            return float(np.nanmean(values[(place >= low) & (place < high)]))

        at = (analysis.series.t >= stroke.start_s) & (analysis.series.t <= stroke.end_s)
        seen = mean(analysis.series["bow_position"][at], analysis.series["bow_angle_deg"][at])
        assert mean(motion.position, motion.angle) == pytest.approx(seen, abs=0.8)


def test_a_part_of_the_bow_that_was_not_played_is_as_its_neighbour():
    t = np.arange(0, 1.5, 1 / 60)
    series = series_from(t, np.interp(t, [0, 1.5], [0.7, 0.95]), angle=np.full(len(t), 5.0))
    own = own_figures(series, find_strokes(series)[0])
    assert own.angle_deg == pytest.approx((5.0, 5.0, 5.0))


def test_a_stroke_of_which_nothing_is_known_is_said(measured):
    analysis = measured("demo-a1")
    with pytest.raises(StudioError, match="Too little of this stroke"):
        own_figures(analysis.series, replace(analysis.strokes[0], from_position=float("nan")))


def test_only_what_is_chosen_is_put_right():
    profile = default_profile(VIOLIN)
    low, high = profile.lane.band_mm(VIOLIN)
    asked = AskedStroke("D", True, 0.0, 0.5)
    assert asked_figures(OWN, [], VIOLIN, profile, asked=asked) == OWN
    straight = asked_figures(OWN, [Part.ANGLE], VIOLIN, profile)
    assert straight == replace(OWN, angle_deg=(0.0, 0.0, 0.0))
    lane = asked_figures(OWN, [Part.CONTACT], VIOLIN, profile)
    assert lane.contact_mm == (0.5 * (low + high),) * 3 and lane.angle_deg == OWN.angle_deg
    bow = asked_figures(OWN, [Part.BOW], VIOLIN, profile, asked=asked)
    assert (bow.start, bow.end) == (0.0, 0.5)


def test_what_was_asked_of_a_stroke(measured):
    analysis = measured("demo-a1")
    played = "".join(s.string for s in analysis.strokes)
    wanted = read_exercise("\n".join(f"{s}: 1 whole" for s in played))
    found = asked_stroke(analysis, analysis.strokes[1], wanted, VIOLIN)
    assert found.string == played[1] and found.share == 1.0
    assert asked_stroke(analysis, replace(analysis.strokes[1], number=99), wanted, VIOLIN) is None


@given(st.floats(-60, 60), st.floats(-10, 60), st.floats(800, 5000), st.sampled_from(["violin 4/4", "cello 4/4"]))
def test_a_phone_is_seen_from_where_it_stands(side, high, far, name):
    script = script_of(OWN, name, "right", None)
    stands = MadeStudio(replace(script, phone=replace(script.phone, side_deg=side, high_deg=high, far_mm=far)))
    assert stands.seen_from(stands.phone.place) == pytest.approx((side, high, far), abs=1e-3)


def test_the_pictures_are_taken_from_where_the_phone_stood(studio, monkeypatch):
    take = studio.store.take(fill(studio)["demo-a1"])
    stored = studio.analysis(take)
    stroke = stored.strokes[0]
    place = phone_place(stored, stroke.start_s)
    assert place is not None
    monkeypatch.setattr(what_if, "WIDTH", 96)
    monkeypatch.setattr(what_if, "HEIGHT", 72)
    script = script_of(own_figures(stored.series, stroke), take_instrument := studio.fit(take).instrument, "right", place)
    assert take_instrument.startswith("violin")
    assert MadeStudio(script).phone.place == pytest.approx(place, abs=1.0)
    pictures = finish(pictures_of(script))
    assert len(pictures) == what_if.PICTURES and pictures[0].shape == (72, 96, 3)
    assert np.abs(pictures[0].astype(int) - pictures[-1]).max() > 60, "the bow has gone on"
