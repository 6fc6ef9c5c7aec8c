"""What the teacher tells the measuring: bow set by hand, zero, several marked moments, own dimensions; what the file tells."""

from __future__ import annotations

import json
from dataclasses import replace

import numpy as np
import pytest

from conftest import TRUTH
from dolcezza.core.base.errors import LandmarkError
from dolcezza.core.base.job import finish
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.unknowns import COUNT, LENGTH_SD, LENGTHS, TakeUnknowns
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import REQUIRED_LANDMARKS
from dolcezza.core.media.probe import focal_from_tags, probe
from dolcezza.core.pipeline.alignment import with_own_lengths
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.fit_file import BowPoints, Fit, fit_from_dict, fit_to_dict
from dolcezza.core.pipeline.frame_pass import FramePass, moments_to_mark
from dolcezza.core.tracking.instrument import Followed
from dolcezza.reports.language import language
from dolcezza.services.analysis import analyse
from dolcezza.services.calibration import CalibrationSession
from dolcezza.services.corrections import bow_end, let_bow_go
from takes_support import take_video


def test_what_was_set_by_hand_and_the_zero_read_back(measured):
    fit = replace(
        measured.fit("demo-a1"), zero=(1.5, 4.0), by_hand=(BowPoints(2.0, (1.0, 2.0), (3.0, 4.0)), BowPoints(3.0, None, (5.0, 6.0)))
    )
    assert fit_from_dict(json.loads(json.dumps(fit_to_dict(fit)))) == fit


@pytest.mark.parametrize(("extra", "words"), [({"zero": ["soon"]}, "zero"), ({"bow": [{"frog": [1, 2]}]}, "set by hand")])
def test_garbled_zero_and_bow_get_a_sentence(measured, extra, words):
    with pytest.raises(LandmarkError, match=words):
        fit_from_dict({**fit_to_dict(measured.fit("demo-a1")), **extra})


def test_points_are_turned_and_reduced_like_the_picture(film):
    file = replace(probe(film()), width=3840, height=2160)
    fit = Fit("violin 4/4", (), "left")
    context = Context.of(file.path, file, fit)
    assert context.reduced == 0.5
    assert context.as_measured((3840.0, 100.0)).tolist() == [0.0, 50.0]
    assert context.as_measured(None) is None


@pytest.mark.accuracy
def test_a_bow_set_by_hand_wins_and_pulls_its_neighbours_along(measured):
    """Truth given by hand on one frame, 40 px away on another: the first changes nothing, the second moves its neighbourhood only."""
    truth = np.load(TRUTH / "demo-b1.truth.npz")
    plain = measured("demo-b1").series
    k = int(np.argmin(np.abs(plain.t - 3.0)))
    frog, head = truth["frog_px"][k], truth["tip_px"][k]
    along = (head - frog) / np.linalg.norm(head - frog)
    moved = replace(measured.fit("demo-b1"), by_hand=(BowPoints(float(plain.t[k]), None, tuple(head + 12.0 * along)),))
    series = finish(analyse(take_video("demo-b1"), moved)).series
    change = series["bow_position"] - plain["bow_position"]
    assert abs(change[k]) > 0.004
    assert np.nanmax(np.abs(change[np.abs(plain.t - plain.t[k]) > 1.5])) < 0.003


@pytest.mark.accuracy
def test_a_zero_at_a_known_angle_takes_the_bias_out(measured):
    """The truth at the zero is taken for straight: everything else is told against it."""
    truth = np.load(TRUTH / "demo-a1.truth.npz")
    analysis = finish(analyse(take_video("demo-a1"), replace(measured.fit("demo-a1"), zero=(2.0,))))
    t = analysis.series.t
    near = np.abs(t - 2.0) <= 0.25
    assert np.nanmedian(analysis.series["bow_angle_deg"][near]) == pytest.approx(0.0, abs=0.3)
    offset = float(np.median(truth["skew_deg"][: len(t)][near]))
    play = truth["playing"][: len(t)] > 0
    error = (analysis.series["bow_angle_deg"] + offset - truth["skew_deg"][: len(t)])[play]
    assert np.nanmedian(np.abs(error)) < 1.0
    assert any(note.id == "note.zero" for note in analysis.notes)


def test_instruments_that_differ_from_the_table_are_drawn_towards_their_landmarks_and_said():
    spec = instrument("violin 1/2")
    values, covariance = np.zeros(COUNT), np.diag(np.full(COUNT, 0.01**2))
    at = LENGTHS.start + list(LENGTH_SD).index("bridge_to_fingerboard")
    values[at] = 0.08
    own, notes = with_own_lengths(Fit(spec.name, ()), TakeUnknowns(values, covariance))
    assert own.measured["bridge_to_fingerboard"] == pytest.approx(1.08 * 49.0)
    said = language("en").sentence(notes[0])
    assert len(notes) == 1 and "ruler" in said and "53 mm" in said
    covariance[at, at] = 0.05**2
    assert with_own_lengths(Fit(spec.name, ()), TakeUnknowns(values, covariance))[1] == [], "nothing is said that is not certain"
    told = with_own_lengths(Fit(spec.name, (), measured={"bridge_to_fingerboard": 50.0}), TakeUnknowns(values, covariance))[0]
    assert told.measured["bridge_to_fingerboard"] == 50.0, "the teacher's ruler wins"


def test_the_lens_is_read_from_the_file_where_it_tells():
    """A 26 mm equivalent lens sees 67 degrees along the longer side of a 4:3 photograph (2 atan(0.8 * 43.27 / 2 / 26))."""
    for key in ("com.apple.quicktime.camera.focal_length.35mm_equivalent", "FocalLengthIn35mmFilm"):
        focal = focal_from_tags({key: "26"}, 1920)
        photo = 0.5 * 1920 / np.tan(np.arctan(0.8 * 43.27 / 2 / 26.0))
        assert focal == pytest.approx(1.1 * photo, rel=1e-6)
    assert focal_from_tags({"focal_length.35mm": "nothing"}, 1920) is None
    assert focal_from_tags({"focal_length.35mm": "2"}, 1920) is None
    assert focal_from_tags({"encoder": "35mm"}, 1920) is None


def test_one_more_marked_frame_is_asked_for_where_the_instrument_is_lost_for_long():
    camera = Camera(np.zeros(3), np.array([0, 0, 1000.0]), 1000.0, (640.0, 360.0))
    times = [k / 30 for k in range(150)]
    followed = [Followed(camera, 0.0 if 60 <= k < 100 or k in (10, 11) else 0.8, 0.3) for k in range(150)]
    assert moments_to_mark(FramePass(times, followed)) == [pytest.approx(80 / 30)]


# several moments in one session


def test_a_second_moment_is_marked_kept_and_removed(measured):
    fit = measured.fit("demo-a1")
    session = CalibrationSession(fit, (1280, 720), 0.3)
    first = dict(session.state.points)
    session.go_to(4.0)
    assert session.state.points == {}
    assert session.moments == [0.3, 4.0]
    assert session.at == 1
    for name in REQUIRED_LANDMARKS:
        session.set(name, *first[name])
    assert [m.t_s for m in session.result().landmarks] == [0.3, 4.0]
    session.go_to(0.3)
    assert session.state.points == first
    session.go_to(4.0)
    session.forget_moment()
    assert session.moments == [0.3]
    assert session.state.points == first
    session.undo.undo()
    assert session.t_s == 4.0
    assert set(session.state.points) == set(REQUIRED_LANDMARKS)


def test_undo_goes_back_to_the_moment_where_the_landmark_was(measured):
    session = CalibrationSession(measured.fit("demo-a1"), (1280, 720), 0.3)
    x, y = session.state.points["bridge_bass"]
    session.set("bridge_bass", x + 5, y)
    session.go_to(4.0)
    session.undo.undo()
    assert session.t_s == 0.3
    assert session.state.points["bridge_bass"] == (x, y)


def test_a_moment_with_fewer_than_four_landmarks_is_not_kept(measured):
    session = CalibrationSession(measured.fit("demo-a1"), (1280, 720), 0.3)
    session.go_to(4.0)
    session.set("bridge_bass", 500.0, 300.0)
    session.go_to(0.3)
    assert [m.t_s for m in session.result().landmarks] == [0.3]


def test_a_zero_is_set_and_taken_away_with_undo(measured):
    session = CalibrationSession(measured.fit("demo-a1"), (1280, 720), 0.3)
    session.toggle_zero(2.0)
    session.toggle_zero(5.0)
    assert session.result().zero == (2.0, 5.0)
    session.toggle_zero(2.1)
    assert session.result().zero == (5.0,)
    session.undo.undo()
    assert session.result().zero == (2.0, 5.0)


def test_what_is_set_on_the_next_frame_of_a_fast_video_does_not_replace_the_frame_before():
    """120 frames/s lie 8.3 ms apart: each has its own places. Times of one frame that differ by rounding are one frame."""
    fit = Fit("violin 4/4", ())
    first = bow_end(fit, 1.0, "head", (10.0, 20.0), rate_hz=120.0).fit
    both = bow_end(first, 1.0 + 1 / 120, "head", (11.0, 20.0), rate_hz=120.0).fit
    assert [p.head for p in both.by_hand] == [(10.0, 20.0), (11.0, 20.0)]
    again = bow_end(both, 1.0 + 1 / 120 + 0.0004, "head", (12.0, 20.0), rate_hz=120.0).fit
    assert [p.head for p in again.by_hand] == [(10.0, 20.0), (12.0, 20.0)]
    assert let_bow_go(again, 1.0, rate_hz=120.0).fit.by_hand == again.by_hand[1:]
    session = CalibrationSession(fit, (1280, 720), 1.0, 120.0)
    session.set("bridge_bass", 5.0, 5.0)
    session.go_to(1.0 + 1 / 120)
    assert session.state.points == {} and len(session.moments) == 2
