"""Videos that another program has handed on at another rate: their repeated frames are noticed, and nothing is made of them."""

from __future__ import annotations

import numpy as np
import pytest

from dolcezza.core.bowing.measure import MOMENT_SD_S
from dolcezza.core.media.repeated import Changes, late_by, repeated
from dolcezza.core.strokes.figures import find_strokes
from tests_support import series_from

CLOTH = np.random.default_rng(1).integers(0, 255, (72, 256)).astype(np.uint8)


def shown(content: list[int]) -> np.ndarray:
    """Changes of a film that shows these pictures one after another: a cloth that goes on by three pixels from each to the next."""
    changes = Changes()
    for k in content:
        changes.see(np.roll(CLOTH, 3 * k, axis=1))
    return np.array(changes.each)


@pytest.mark.parametrize(("rate", "every"), [(25, 6), (24, 5), (20, 3)])
def test_frames_that_fill_up_a_rate_are_noticed(rate, every):
    content = [int(k * rate / 30 + 1e-9) for k in range(30)]
    again = np.flatnonzero(np.diff(content) == 0) + 1
    assert np.flatnonzero(repeated(shown(content))).tolist() == [k for k in again if 1 < k < 29]
    assert set(np.diff(again)) == {every}
    t = np.arange(30) / 30
    assert late_by(shown(content), t) == pytest.approx(0.5 / 30)


def test_where_nothing_moves_or_everything_does_nothing_is_repeated():
    still, moving = [0] * 12, list(range(18))
    assert not repeated(shown(still + moving)).any()
    assert not repeated(shown(moving + [17] * 12)).any()
    assert late_by(shown(still + moving), np.arange(30) / 30) == 0
    once = [0, 1, 2, 3, 3, 4, *range(5, 40)]
    assert repeated(shown(once)).sum() == 1 and late_by(shown(once), np.arange(len(once)) / 30) == 0, "one alone is a phone's hiccup"
    assert late_by(np.zeros(0), np.zeros(0)) == 0


def test_nothing_trembles_where_the_pictures_moments_are_not_known():
    """A bow of two seconds that is shown late by up to a frame, five times a second more and less."""
    t = np.arange(60) / 30
    late = (np.arange(60) % 6) / 6 / 30
    place = 0.5 - 0.4 * np.cos(np.pi * (t - late) / 2)
    known, unknown = (find_strokes(series_from(t, place).with_columns({"moment_sd_s": np.full(60, sd)})) for sd in (MOMENT_SD_S, 0.5 / 30))
    assert len(known) == len(unknown) == 1
    assert np.isfinite([known[0].shake_mm, known[0].evenness, known[0].log_jerk]).all()
    assert np.isnan([unknown[0].shake_mm, unknown[0].bounce_deg, unknown[0].evenness, unknown[0].arc_length, unknown[0].log_jerk]).all()
