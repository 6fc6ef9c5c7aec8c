"""The hair's ends are known as well as they keep from leaping about."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from dolcezza.core.bowing.noisy_ends import FOR_LONGER, USUAL_PX, as_noisy_as_seen
from dolcezza.core.tracking.bow_line import SET_SD
from dolcezza.core.tracking.bow_path import BowLines

N, RATE, HAIR_PX = 400, 25.0, 400.0


def lines(place: np.ndarray, *, head_px: float = 0.5, frog_px: float = 0.5, seed: int = 3) -> BowLines:
    """A bow at these places (n,), whose ends are seen with so much noise."""
    rng, n = np.random.default_rng(seed), len(place)
    head = (1 - place) * HAIR_PX + rng.normal(0, head_px, n)
    frog = -place * HAIR_PX + rng.normal(0, frog_px, n)
    return BowLines(
        np.tile([600.0, 300.0], (n, 1)), np.tile([0.8, 0.6], (n, 1)), np.full((n, 2), 0.1), np.full((n, 2, 2), np.nan), head,
        np.full(n, np.nan), frog, np.full(n, 7.0), np.ones(n), head_sd=np.full(n, 1.5),
    )  # fmt: skip


def drawn(strokes_a_second: float = 0.5) -> np.ndarray:
    return 0.5 - 0.4 * np.cos(np.pi * strokes_a_second * np.arange(N) / RATE)


def test_ends_that_are_seen_as_well_as_usual_stay_as_sure_as_they_are():
    got = as_noisy_as_seen(lines(drawn(), head_px=1.1, frog_px=1.1), scale_px=1.0)
    assert got.head_sd == pytest.approx(np.full(N, 1.5)) and got.frog_sd == pytest.approx(np.full(N, 7.0))
    little = as_noisy_as_seen(lines(drawn(), frog_px=3.0), scale_px=1.0)
    assert little.frog_sd == pytest.approx(np.full(N, 7.0)), "an end under fingers is that unsure already"


@pytest.mark.parametrize("scale_px", [1.0, 0.5])
def test_an_end_that_leaps_about_is_less_sure_by_as_much(scale_px):
    seen = lines(drawn(), head_px=8.0 * scale_px)
    got = as_noisy_as_seen(seen, scale_px=scale_px)
    expected = FOR_LONGER * np.sqrt(8.0**2 - USUAL_PX**2)
    assert got.head_sd == pytest.approx(np.full(N, expected), rel=0.15)
    assert got.frog_sd == pytest.approx(seen.frog_sd), "the other end is seen well"


def test_quick_bows_are_no_noise():
    """Eight strokes a second, at 25 pictures: from picture to picture both ends go far, and alike."""
    quick = 0.5 - 0.05 * np.cos(np.pi * 8.0 * np.arange(N) / RATE)
    got = as_noisy_as_seen(lines(quick), scale_px=1.0)
    assert got.head_sd == pytest.approx(np.full(N, 1.5)) and got.frog_sd == pytest.approx(np.full(N, 7.0))


def test_bows_that_are_hardly_seen_or_set_by_hand_are_left():
    seen = lines(drawn(), head_px=8.0)
    few = replace(seen, head=np.where(np.arange(N) < 10, seen.head, np.nan))
    assert as_noisy_as_seen(few, scale_px=1.0).head_sd == pytest.approx(seen.head_sd)
    own = np.arange(N) == 200
    set_there = replace(seen, fit_sd=np.where(own[:, None], SET_SD, seen.fit_sd))
    got = as_noisy_as_seen(set_there, scale_px=1.0)
    assert got.head_sd[200] == 1.5 and (got.head_sd[~own] > 10).all()
