"""Single terms and signs on which figures hang and which nothing else would notice."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np
import pytest

from dolcezza.core.assignment.plan import same_speed
from dolcezza.core.assignment.rhythm import read_rhythm
from dolcezza.core.bowing import hair, measure
from dolcezza.core.bowing.measure import measure_bow
from dolcezza.core.camera import precision
from dolcezza.core.camera.pose import SHARED_LOG_SD, fit_landmarks, fit_moments
from dolcezza.core.camera.poses import Poses
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import LANDMARK_NAMES, InstrumentModel
from dolcezza.core.practice.figure import Point
from dolcezza.core.practice.progress import Change, change_of
from dolcezza.core.sound.notes import find_notes
from dolcezza.core.sound.pitch import PitchTrack
from dolcezza.core.tension.signs import REFERENCES, _judge
from tests_support import camera_at, seen_lines, take_covariance

MODEL = InstrumentModel(instrument("violin 4/4"))
SIZE = (1280, 720)


def landmarks(azimuth: float, height: float, seed: int) -> dict[str, tuple[float, float]]:
    view, rng = camera_at(MODEL, azimuth, height), np.random.default_rng(seed)
    return {name: tuple(view.project(MODEL.landmarks[name]) + rng.normal(0, 0.5, 2)) for name in LANDMARK_NAMES}


def test_a_shared_lens_is_known_as_well_as_its_moments_know_it_together():
    """Held to one number while fitting, it is told by both moments: by hand 1 / sqrt(sum of 1 / variance)."""
    points = [landmarks(-15, 40, 1), landmarks(5, 50, 2)]
    alone = [fit_landmarks(MODEL, p, size=SIZE) for p in points]
    together = fit_moments(MODEL, points, size=SIZE)
    both = 1 / np.sqrt(sum(1 / f.covariance[6, 6] for f in alone))
    assert both > 5 * SHARED_LOG_SD
    for fit in together:
        assert np.sqrt(fit.covariance[6, 6]) == pytest.approx(both, rel=0.3)
        # and through it the distance: a longer lens is farther away
        held = np.linalg.inv(np.linalg.inv(fit.covariance) + np.diag([0] * 6 + [1 / SHARED_LOG_SD**2]))
        assert fit.covariance[5, 5] > 2 * held[5, 5]


def test_the_bridge_itself_is_in_the_predicted_uncertainty(monkeypatch):
    fit = fit_landmarks(MODEL, landmarks(-15, 40, 1), size=SIZE)
    with_bridge = precision.predict(MODEL, fit, scale_px=1.0).bow_angle_deg
    monkeypatch.setattr(precision, "BRIDGE_SD_DEG", 0.0)
    without = precision.predict(MODEL, fit, scale_px=1.0).bow_angle_deg
    assert with_bridge**2 - without**2 == pytest.approx(0.3**2, rel=1e-6)


def test_hair_seen_beside_its_middle_and_its_end_are_in_both_uncertainties(monkeypatch):
    """In the ± shown while calibrating and in that of the record: half a millimetre across, a pixel and a half at the head."""
    fit = fit_landmarks(MODEL, landmarks(-15, 40, 1), size=SIZE)
    view = camera_at(MODEL, -15, 40)
    params = np.tile([28.0, 0.0, float(MODEL.string_planes[1]), 0.5], (30, 1))

    def record():
        lines = seen_lines(MODEL, view, params, 1)
        return measure_bow(
            MODEL, lines, Poses.of([view] * 30), np.arange(30) / 30, take_covariance(), scale_px=1.0, instrument_confidence=np.ones(30)
        ).series  # fmt: skip

    told, predicted = record(), precision.predict(MODEL, fit, scale_px=1.0)
    monkeypatch.setattr(precision, "RIBBON_SD_MM", 0.0)
    monkeypatch.setattr(hair, "RIBBON_SD_MM", 0.0)
    assert precision.predict(MODEL, fit, scale_px=1.0).contact_point_mm < 0.95 * predicted.contact_point_mm
    assert np.median(record()["contact_point_sd_mm"]) < 0.95 * np.median(told["contact_point_sd_mm"])
    monkeypatch.setattr(precision, "HEAD_TAKE_SD_PX", 0.0)
    monkeypatch.setattr(measure, "HEAD_TAKE_SD_PX", 0.0)
    assert precision.predict(MODEL, fit, scale_px=1.0).bow_position < predicted.bow_position
    assert np.median(record()["bow_position_sd"]) < np.median(told["bow_position_sd"])


@pytest.mark.parametrize("offset", [-80.0, 0.0, 35.0])
def test_strings_tuned_higher_make_the_same_notes(offset):
    """An A sounded on strings that are tuned higher or lower by so many cents is that A, in tune."""
    t = np.arange(100) * 0.01
    hz = np.full(100, 440.0 * 2 ** (offset / 1200))
    [note] = find_notes(PitchTrack(t, hz, np.ones(100), np.ones(100)), offset_cents=offset)
    assert note.midi == 69 and note.cents == pytest.approx(0.0, abs=1e-6)
    [sharp] = find_notes(PitchTrack(t, hz * 2 ** (10 / 1200), np.ones(100), np.ones(100)), offset_cents=offset)
    assert sharp.cents == pytest.approx(10.0, abs=1e-6)


def test_a_retake_takes_its_time_from_the_note_before():
    """By hand: a whole bow of 64 cm in two seconds of which lifting takes a quarter: 64 / 1.75 cm/s."""
    plan = same_speed(read_rhythm("tempo: 60\nbow: 0-1\nrhythm: 2 ^2 ^2"), 640.0)
    lifted = [a for a, b in zip(plan.bows, plan.bows[1:], strict=False) if b.retake]
    assert lifted
    for bow in lifted:
        share = abs(bow.end - bow.start)
        assert bow.speed_cm_s == pytest.approx(share * 64.0 / 1.75, rel=1e-6)
    last = plan.bows[-1]
    assert last.speed_cm_s == pytest.approx(abs(last.end - last.start) * 32.0, rel=1e-6), "nothing is lifted after the last"


def test_the_quiet_quarter_is_the_quietest():
    """Nine values: a quarter of the way from the smallest lies the third; for smoothness, of which more is better, the third largest."""
    values = {k: 0.1 * (k + 1) for k in range(9)}
    assert _judge(REFERENCES["shaking bow"], values, [], set()).own == pytest.approx(0.3)
    assert _judge(REFERENCES["jerky speed (jerk)"], {k: -v for k, v in values.items()}, [], set()).own == pytest.approx(-0.3)


def test_what_the_earlier_take_did_not_know_counts_in_progress():
    day = date(2026, 11, 2)
    after = Point(2, day + timedelta(days=7), 4.0, 0.5, 6)
    assert change_of(Point(1, day, 9.0, 0.5, 6), after, True, 4.0) is Change.BETTER
    assert change_of(Point(1, day, 9.0, 3.0, 6), after, True, 4.0) is Change.UNKNOWN
    assert change_of(after, Point(1, day, 9.0, 3.0, 6), True, 4.0) is Change.UNKNOWN
