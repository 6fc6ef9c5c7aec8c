"""A take whose instrument was found, of which nothing has told yet which hand bows."""

from __future__ import annotations

from dataclasses import replace
from types import SimpleNamespace

import numpy as np
import pytest

from dolcezza.core.arm.figures import share_held
from dolcezza.core.base.errors import LandmarkError, TrackingError
from dolcezza.core.base.job import finish
from dolcezza.core.base.message import Message
from dolcezza.core.body.points import BodySeen
from dolcezza.core.camera.poses import Poses
from dolcezza.core.findings.finding import LEAST_CONFIDENCE
from dolcezza.core.pipeline.cache import EITHER_HAND, of_either_hand, solve
from dolcezza.core.pipeline.fit_file import fit_from_dict, fit_to_dict
from dolcezza.core.pipeline.which_hand import as_the_other_hand, doubtful_hand
from dolcezza.reports.language import language
from dolcezza.services import analysis
from dolcezza.services.analysis import analyse, analyse_found
from dolcezza.services.calibration import CalibrationSession
from tests_support import cut_short, series_from


def taken(*, told: bool, held: float = 0.2):
    return SimpleNamespace(cache=SimpleNamespace(handed_told=told, held=held))


def test_the_same_places_belong_to_the_other_side_if_the_other_hand_bows(measured):
    fit = measured.fit("demo-a3")
    other = as_the_other_hand(fit)
    assert other.handed == "left" and other.flip
    assert other.landmarks[0].points["bridge_bass"] == fit.landmarks[0].points["bridge_treble"]
    assert other.landmarks[0].points["scroll"] == fit.landmarks[0].points["scroll"]
    assert as_the_other_hand(other) == fit


NAN = float("nan")


@pytest.mark.parametrize(("told", "held", "said"), [
    (True, NAN, ""), (True, 1.0, ""), (True, 0.4, "note.other hand"), (False, NAN, "note.either hand"), (False, 0.9, ""),
    (False, 0.5, "note.other hand"),
])  # fmt: skip
def test_a_hand_at_the_frog_tells_it_and_one_that_is_not_there_denies_it(measured, told, held, said):
    fit = replace(measured.fit("demo-a3"), handed_told=told)
    doubt = doubtful_hand(fit, held)
    assert (doubt.id if doubt else "") == said
    if doubt:
        assert "right" in language("en").sentence(doubt)


def test_a_hand_is_at_the_frog_in_so_many_looks():
    """A camera a metre off with 1000 px of focal length: a mm is a pixel. The right wrist is 80 mm from the frog, then 300."""
    t = np.arange(10) / 10
    series = series_from(t, np.full(10, 0.5))
    series.values["frog_x_px"], series.values["frog_y_px"] = np.full(10, 600.0), np.full(10, 400.0)
    points = np.zeros((10, 33, 2))
    points[:, 16] = [680.0, 400.0]
    points[7:, 16] = [900.0, 400.0]
    points[:, 15] = [100.0, 100.0]
    poses = Poses(np.tile(np.eye(3), (10, 1, 1)), np.tile([0.0, 0.0, 1000.0], (10, 1)), 1000.0, (640.0, 360.0))
    seen = BodySeen(t, points, np.ones((10, 33)))
    assert share_held(series, poses, seen) == pytest.approx(0.7)
    nobody = np.full_like(points, np.nan)
    nobody[:4] = points[:4]
    assert np.isnan(share_held(series, poses, BodySeen(t, nobody, np.ones((10, 33))))), "four looks are too few"
    series.values["frog_x_px"][:6] = np.nan
    assert np.isnan(share_held(series, poses, seen)), "while the bow is not known they do not count"


def test_a_bow_that_either_hand_may_hold_is_not_seen_plainly_enough_for_anything_sure():
    series = series_from(np.arange(5) / 30, np.linspace(0, 1, 5)).with_columns({"confidence": np.array([0.9, 0.2, 0.5, 0.0, 0.35])})
    assert of_either_hand(series)["confidence"].tolist() == [0.35, 0.2, 0.35, 0.0, 0.35]
    assert EITHER_HAND < LEAST_CONFIDENCE


def test_the_fit_file_says_so_and_the_teacher_ends_it(measured):
    fit = replace(measured.fit("demo-a3"), handed_told=False)
    assert fit_to_dict(fit)["handed_told"] is False and fit_from_dict(fit_to_dict(fit)) == fit
    told = fit_to_dict(measured.fit("demo-a3"))
    assert "handed_told" not in told and fit_from_dict(told).handed_told
    session = CalibrationSession(replace(fit, landmarks=(), handed_told=True), (1280, 720), 0.3)
    session.offer(fit)
    assert not session.base.handed_told
    session.settings(instrument="violin 1/2", handed="right", mirrored=False)
    assert not session.base.handed_told, "another size says nothing of the hand"
    session.settings(handed="right", mirrored=False)
    assert session.base.handed_told, "said once more, and on purpose"
    assert session.result().landmarks == fit.landmarks


def test_what_was_found_belongs_to_the_other_side_once_the_other_hand_bows(measured):
    """Of landmarks that a hand has set it is asked: it has seen which side is which."""
    told = measured.fit("demo-a3")
    frame = told.landmarks[0]
    found = replace(told, landmarks=(replace(frame, found=tuple(frame.points)),))
    session = CalibrationSession(replace(told, landmarks=()), (1280, 720), 0.3)
    session.offer(found)
    session.settings(handed="left", mirrored=False)
    assert session.found and session.state.ready
    assert session.result().landmarks[0].points == as_the_other_hand(told).landmarks[0].points
    session.settings(handed="left", mirrored=True)
    assert session.result().landmarks[0].points == frame.points, "mirrored besides: as it was seen first"
    by_hand = CalibrationSession(told, (1280, 720), 0.3)
    by_hand.settings(handed="left", mirrored=False)
    with pytest.raises(LandmarkError, match="exchanged"):
        by_hand.result()


def test_nothing_is_sure_where_the_hand_is_not_at_the_frog(measured, tmp_path):
    """A right-handed player's landmarks, read as a left-handed one's."""
    video = cut_short("demo-a1", 4.2, tmp_path)
    got = finish(analyse(video, as_the_other_hand(measured.fit("demo-a1"))))
    assert Message("note.other hand", {"hand": Message("bow hand.left")}) in got.notes
    assert got.cache.held < 0.5 and not got.cache.handed_told
    assert got.strokes and all(s.confidence < LEAST_CONFIDENCE for s in got.strokes)
    assert not any(f.sure for f in got.findings)
    assert measured("demo-a1").cache.held == 1.0 and measured("demo-a1").cache.handed_told
    again = solve(got.cache, got.model, got.fit.spec)
    assert np.nanmax(again.series["confidence"]) <= EITHER_HAND, "nor when it is worked out anew"


def test_the_hand_is_told_by_the_other_way_round(measured, tmp_path):
    """Found as a left-handed player's, with nothing that told it: measured for either hand, the right one is at the frog."""
    video = cut_short("demo-a1", 4.2, tmp_path)
    fit = measured.fit("demo-a1")
    told, got = finish(analyse_found(video, replace(as_the_other_hand(fit), handed_told=False)))
    assert told == fit and got.cache.handed_told
    assert got.strokes and all(s.confidence > LEAST_CONFIDENCE for s in got.strokes)


def test_the_other_hand_is_tried_where_it_may_tell(monkeypatch, measured):
    asked = []

    def as_it_is(held, refused):
        def work(video, fit, **_):
            asked.append(fit.handed)
            if fit.handed == "left" and refused:
                raise TrackingError("No bow.", "Film again.")
            return taken(told=fit.handed_told and held >= 0.65, held=held)
            yield

        return work

    fit = replace(measured.fit("demo-a3"), handed_told=False)
    for held, refused, ways in ((0.2, False, ["right", "left"]), (0.2, True, ["right", "left"]), (NAN, False, ["right"])):
        monkeypatch.setattr(analysis, "analyse", as_it_is(held, refused))
        assert finish(analyse_found("video", fit))[0] == fit
        assert asked == ways, "nobody is seen: the other way would tell no more" if np.isnan(held) else ways
        asked.clear()
