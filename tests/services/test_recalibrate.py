"""Landmarks set or moved on a measured take: measured again where the instrument hangs on them, and only there."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from dolcezza.core.base.errors import LandmarkError
from dolcezza.core.base.job import finish
from dolcezza.core.bowing.series import BOW_COLUMNS
from dolcezza.core.instrument.model import REQUIRED_LANDMARKS, InstrumentModel
from dolcezza.core.media.probe import probe
from dolcezza.core.pipeline.cache import MeasurementCache
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.fit_file import CalibrationFrame, Fit
from dolcezza.core.pipeline.recalibrate import LANDMARK_BLEND_S, LANDMARK_REACH_S, blended
from dolcezza.services import corrections
from dolcezza.services.analysis import analyse
from dolcezza.services.calibration import CalibrationSession
from dolcezza.services.corrections import CACHE_FILE
from dolcezza.services.followed import TrackedLandmarks
from dolcezza.storage.packed import read_packed, write_packed
from tests_support import changed_at, frame_at


def followed(mend) -> TrackedLandmarks:
    stored = mend.studio.analysis(mend.take)
    context = Context.of(mend.take.path, probe(mend.take.path), mend.studio.fit(mend.take))
    return TrackedLandmarks(read_packed(MeasurementCache, stored.folder / CACHE_FILE), context)


def marked_too(fit: Fit, t_s: float, points) -> Fit:
    return replace(fit, landmarks=tuple(sorted([*fit.landmarks, CalibrationFrame(t_s, dict(points))], key=lambda m: m.t_s)))


def without(values, gone):
    out = values.copy()
    out[gone] = np.nan
    return out


def test_the_followed_instrument_lies_where_it_was_marked(mend):
    fit = mend.studio.fit(mend.take)
    there = followed(mend).state(fit.landmarks[0].t_s)
    for name, xy in fit.landmarks[0].points.items():
        assert np.hypot(*(np.array(there.points[name]) - xy)) < 4.0
    assert there.outline.shape[1] == 2 and not there.ready
    assert followed(mend).lost == []


def test_a_landmark_on_another_frame_changes_its_neighbourhood_and_nothing_else(mend):
    stored = mend.studio.analysis(mend.take)
    t = float(stored.series.t[frame_at(stored, 5.0)])
    points = dict(followed(mend).state(t).points)
    x, y = points["board_bass"]
    points["board_bass"] = (x + 5.0, y - 4.0)
    before, after = mend(lambda fit: corrections.landmarks(marked_too(fit, t, points), t, fit))
    for column in BOW_COLUMNS:
        moved = changed_at(before, after, column)
        assert not len(moved) or np.abs(moved - t).max() <= LANDMARK_REACH_S + 0.04, column
    assert len(changed_at(before, after, "bow_angle_deg")) and len(changed_at(before, after, "contact_point_mm"))
    arm = changed_at(before, after, "elbow_level_deg")
    assert not len(arm) or np.abs(arm - t).max() <= LANDMARK_REACH_S + LANDMARK_BLEND_S + 0.04
    drawn = followed(mend).state(t).points["board_bass"]
    assert np.hypot(drawn[0] - x - 5.0, drawn[1] - y + 4.0) < np.hypot(5.0, 4.0), "the instrument has gone along with the landmark"
    outside = [s for s in before.strokes if s.end_s < t - LANDMARK_REACH_S - 0.6 or s.start_s > t + LANDMARK_REACH_S + 0.6]
    assert outside and all(s in after.strokes for s in outside)
    assert len(mend.studio.fit(mend.take).landmarks) == 2
    mend.studio.undo.undo()
    back = mend.studio.analysis(mend.take)
    assert all(np.array_equal(back.series[c], before.series[c], equal_nan=True) for c in BOW_COLUMNS)
    assert back.strokes == before.strokes and len(mend.studio.fit(mend.take).landmarks) == 1


def test_a_frame_marked_where_it_was_followed_to_changes_next_to_nothing(mend):
    stored = mend.studio.analysis(mend.take)
    t = float(stored.series.t[frame_at(stored, 4.0)])
    before, after = mend(lambda fit: corrections.landmarks(marked_too(fit, t, followed(mend).state(t).points), t, fit))
    assert np.nanmedian(np.abs(after.series["bow_angle_deg"] - before.series["bow_angle_deg"])) < 0.1
    assert np.nanmax(np.abs(after.series["bow_angle_deg"] - before.series["bow_angle_deg"])) < 1.0
    assert np.nanmax(np.abs(after.series["contact_point_mm"] - before.series["contact_point_mm"])) < 2.0


def test_a_stretch_in_which_the_instrument_was_lost_is_measured_from_its_own_landmarks(mend):
    """The record of a second taken away as if the instrument had been lost there: four landmarks bring it back as it was."""
    stored = mend.studio.analysis(mend.take)
    t = float(stored.series.t[frame_at(stored, 4.0)])
    points = {n: xy for n, xy in followed(mend).state(t).points.items() if n in REQUIRED_LANDMARKS}
    cache = read_packed(MeasurementCache, stored.folder / CACHE_FILE)
    gone = np.abs(cache.t_s - t) < 0.5
    lines = replace(cache.lines, **{n: without(getattr(cache.lines, n), gone) for n in ("point", "direction", "head", "frog")})
    translation = np.where(gone[:, None], cache.poses.translation + 40.0, cache.poses.translation)
    sure = np.where(gone, 0.0, cache.instrument_confidence)
    lost = replace(cache, lines=lines, poses=replace(cache.poses, translation=translation), instrument_confidence=sure)
    write_packed(stored.folder / CACHE_FILE, lost)
    assert followed(mend).state(t) is None
    assert followed(mend).lost[0] == pytest.approx((t - 0.5, t + 0.5), abs=0.05)
    _, after = mend(lambda fit: corrections.landmarks(marked_too(fit, t, points), t, fit))
    assert followed(mend).lost == []
    for column, limit in (("bow_angle_deg", 0.6), ("contact_point_mm", 1.5), ("bow_position", 0.01)):
        off = np.abs(after.series[column][gone] - stored.series[column][gone])
        assert np.isfinite(off).mean() > 0.95 and np.nanmedian(off) < limit, column


def test_a_moved_first_landmark_gives_what_measuring_the_whole_take_gives(mend):
    fit = mend.studio.fit(mend.take)
    t, points = fit.landmarks[0].t_s, dict(fit.landmarks[0].points)
    points["bridge_bass"] = (points["bridge_bass"][0] + 3.0, points["bridge_bass"][1] + 3.0)
    moved = replace(fit, landmarks=(CalibrationFrame(t, points),))
    before, after = mend(lambda fit: corrections.landmarks(moved, t, fit))
    assert len(changed_at(before, after, "bow_angle_deg")) > 0.9 * np.isfinite(before.series["bow_angle_deg"]).sum()
    whole = finish(analyse(mend.take.path, moved)).series
    for column, limit in (("bow_angle_deg", 0.5), ("contact_point_mm", 1.0)):
        near, was = (np.nanmedian(np.abs(a.series[column] - whole[column])) for a in (after, before))
        assert near < max(limit, was), column


def test_landmarks_that_do_not_fit_are_refused_and_nothing_changes(mend):
    stored = mend.studio.analysis(mend.take)
    t = float(stored.series.t[frame_at(stored, 4.0)])
    points = dict(followed(mend).state(t).points)
    points["bridge_bass"] = points["board_treble"]
    with pytest.raises(LandmarkError):
        mend(lambda fit: corrections.landmarks(marked_too(fit, t, points), t, fit))
    with pytest.raises(LandmarkError, match="No landmark is set"):
        mend(lambda fit: corrections.landmarks(fit, t, fit))
    assert mend.studio.analysis(mend.take).strokes == stored.strokes and len(mend.studio.fit(mend.take).landmarks) == 1


def test_poses_blended_by_halves_lie_between(measured):
    cache = measured("demo-a1").cache.part(slice(0, 4))
    middle = InstrumentModel(measured.fit("demo-a1").spec).middle
    other = replace(cache.poses, translation=cache.poses.translation + np.array([10.0, -6.0, 4.0]))
    mixed = blended(cache.poses, other, middle, np.array([0.0, 0.5, 1.0, 0.25]))
    moved = mixed.translation - cache.poses.translation
    assert np.allclose(moved, np.outer([0.0, 0.5, 1.0, 0.25], [10.0, -6.0, 4.0]), atol=1e-6)
    assert np.allclose(mixed.rotation, cache.poses.rotation)


def test_a_session_begins_where_the_instrument_was_followed_to_and_forgets_what_was_not_changed(mend):
    fit = mend.studio.fit(mend.take)
    landmarks, there = CalibrationSession(fit, (1280, 720), 0.0), followed(mend).state(5.0)
    first = landmarks.t_s
    landmarks.go_to_followed(5.0, there.points)
    assert landmarks.state.ready and landmarks.moments == [first, 5.0]
    landmarks.leave_followed(5.0, first)
    assert landmarks.moments == [first] and landmarks.result().landmarks == fit.landmarks
    landmarks.go_to_followed(5.0, there.points)
    assert len(landmarks.result().landmarks) == 2
    two = landmarks.result()
    landmarks.adopt(two)
    landmarks.go_to(2.0)
    landmarks.set("bridge_bass", 600.0, 300.0)
    assert not landmarks.state.ready and landmarks.base_with_landmarks().landmarks == two.landmarks, (
        "three landmarks are missing: what was marked before counts"
    )
    landmarks.go_to(5.0)
    landmarks.adopt(fit)
    assert landmarks.result().landmarks == fit.landmarks, "taken back"
    landmarks.held = True
    landmarks.move("bridge_bass", 1.0, 1.0)
    landmarks.adopt(two)
    assert landmarks.state.points["bridge_bass"] == (1.0, 1.0), "what the hand holds stays with it"
