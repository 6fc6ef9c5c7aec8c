"""Units, signals, jobs, instruments: the floor that everything stands on."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import sparse
from scipy.sparse.linalg import spsolve

from dolcezza.core.base.errors import InstrumentError
from dolcezza.core.base.job import Progress, finish
from dolcezza.core.base.known import Known, same
from dolcezza.core.base.shake import shaking
from dolcezza.core.base.signals import derivative, evenly, fill_gaps, runs, smoothing_weight, stays, whittaker
from dolcezza.core.base.units import clock
from dolcezza.core.instrument.catalog import instrument
from dolcezza.reports.language import language


def test_numbers_are_written_with_sign_unit_and_uncertainty():
    assert language("en").show("bow_angle", 11.24, 1.0) == "+11.2 ± 1.0°"
    assert language("en").show("bow_angle", -3.0) == "−3.0°"
    assert language("en").show("bow_angle", -0.01) == "0.0°"
    assert language("en").show("contact_point", 28.4, 1.3) == "28 ± 1 mm"
    assert language("en").show("contact_point", 28.4, 0.3) == "28 ± 0.3 mm"
    assert language("en").show("bow_position", 0.305) == "30 %"
    assert language("en").show("contact_point", float("nan")) == "not measured"
    assert language("en").show("contact_point", None) == "not measured"
    assert clock(64.278) == "1:04.28"
    assert clock(59.999) == "1:00.00"


def test_whittaker_agrees_with_a_direct_sparse_solution():
    """Outside check: the same minimum by scipy.sparse (reference library)."""
    rng = np.random.default_rng(3)
    y, w, lam = rng.normal(size=80), rng.uniform(0.1, 1, 80), 7.0
    w[10:14] = 0
    d = sparse.diags([1.0, -2.0, 1.0], [0, 1, 2], shape=(78, 80))
    direct = spsolve((sparse.diags(w + 1e-9) + lam * d.T @ d).tocsc(), w * y)
    assert np.abs(whittaker(y, w, lam) - direct).max() < 1e-6


def test_uneven_samples_are_smoothed_as_even_ones_and_what_moves_evenly_stays():
    """Outside check: the same minimum by scipy.sparse (reference library), the second differences divided by hand."""
    rng = np.random.default_rng(4)
    t = np.cumsum(rng.choice([0.04, 0.04, 0.08, 0.16], 60))
    y, w, lam = rng.normal(size=60), rng.uniform(0.1, 1, 60), 5.0
    gap = 0.5 * (t[2:] - t[:-2])
    d = np.zeros((58, 60))
    for k in range(58):
        before, after = gap[k] / (t[k + 1] - t[k]), gap[k] / (t[k + 2] - t[k + 1])
        d[k, k : k + 3] = before, -before - after, after
    direct = np.linalg.solve(np.diag(w + 1e-9) + lam * d.T @ np.diag((np.median(gap) / gap) ** 4) @ d, w * y)
    assert np.abs(whittaker(y, w, lam, t_s=t) - direct).max() < 1e-6
    assert whittaker(3.0 * t - 1, np.ones(60), 1e6, t_s=t) == pytest.approx(3.0 * t - 1, abs=1e-6)
    assert whittaker(y, w, lam, t_s=np.arange(60) / 25) == pytest.approx(whittaker(y, w, lam))


@pytest.mark.parametrize("seed", range(4))
def test_a_smooth_bow_does_not_shake_though_frames_are_missing(seed):
    """Three of ten frames missing by chance: by numbers of frames a whole bow in two seconds would shake by 3 mm and more of its 650."""
    t = np.flatnonzero(np.random.default_rng(seed).random(60) > 0.3) / 30.0
    smooth, shaken = 0.5 - 0.4 * np.cos(2 * np.pi * t / 4.0), 0.5 + 0.01 * np.sin(2 * np.pi * 6.0 * t)
    even, shaking_one = evenly(t, smooth, shaken, rate_hz=30.0)
    assert shaking(smooth, 30.0).size > 0.003 and shaking(even, 30.0).size < 0.0002
    told = shaking(shaking_one, 30.0)
    assert told.hz == pytest.approx(6.0, abs=1.0) and 0.6 < told.size * 2**0.5 / 0.01 < 1.0, "what is between frames is only partly seen"
    same = smooth[:9]
    assert evenly(np.arange(9) / 30.0, same, rate_hz=30.0)[0] is same


def test_smoothing_weight_halves_the_cutoff_and_keeps_slow_movement():
    t = np.arange(600) / 60.0
    for hz, low, high in ((4.0, 0.4, 0.6), (0.5, 0.98, 1.01), (15.0, 0.0, 0.03)):
        wave = np.sin(2 * np.pi * hz * t)
        kept = whittaker(wave, np.ones(600), smoothing_weight(4.0, 60.0))[100:-100]
        assert low < np.std(kept) / np.std(wave[100:-100]) < high


def test_whittaker_without_any_value_stays_missing():
    assert np.isnan(whittaker(np.full(10, np.nan), np.ones(10), 1.0)).all()


@given(st.lists(st.booleans(), max_size=40))
def test_runs_cover_exactly_the_true_ones(flags):
    flags = np.array(flags, bool)
    again = np.zeros(len(flags), bool)
    for a, b in runs(flags):
        assert a < b
        assert not again[a:b].any()
        again[a:b] = True
    assert (again == flags).all()


def test_gaps_are_bridged_only_up_to_the_limit():
    v = np.array([0.0, np.nan, 2.0, np.nan, np.nan, np.nan, 6.0])
    assert fill_gaps(v, longest=1)[1] == 1.0
    assert np.isnan(fill_gaps(v, longest=1)[3:6]).all()
    assert fill_gaps(v).tolist() == [0, 1, 2, 3, 4, 5, 6]


def test_stretches_in_which_nothing_changes_by_more_than_so_much():
    values = np.array([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [2.5, 1.0], [np.nan, 1.0], [2.5, 1.0], [2.5, -3.0]])
    assert stays(values, 1.0) == [(0, 3), (3, 4), (5, 6), (6, 7)]
    assert stays(values, 10.0) == [(0, 4), (5, 7)] and stays(values[4:5], 1.0) == [] and stays(np.zeros((0, 1)), 1.0) == []


def test_derivative_respects_uneven_times():
    t = np.array([0.0, 0.1, 0.3, 0.35, 0.6])
    assert np.allclose(derivative(3 * t, t), 3.0)


def test_a_job_gives_progress_and_a_result():
    def work():
        yield Progress("counting", 1, 4)
        yield Progress("counting", 4, 4)
        return "done"

    assert finish(work()) == "done"
    assert Progress("x", 1, 4).share == 0.25
    assert Progress("x", 1, 0).share == 0.0


def test_instruments_are_found_by_name_and_can_be_measured():
    spec = instrument("  Violin   4/4 ")
    assert spec.strings == "GDAE"
    own = spec.with_measured(bridge_to_fingerboard=59.5)
    assert own.bridge_to_fingerboard == 59.5
    assert own.source["bridge_to_fingerboard"] == "measured by the teacher"
    with pytest.raises(InstrumentError, match="cannot be right"):
        spec.with_measured(string_length=3280.0)
    with pytest.raises(InstrumentError, match="not a dimension"):
        spec.with_measured(colour=3.0)
    with pytest.raises(InstrumentError, match="Choose one of: violin"):
        instrument("banjo")


def test_known_dimensions_of_the_trade():
    """Common practice, no source: a full violin's string is about 328-330 mm, a cello's about 690-695 mm; a 16 inch viola's
    370-380 mm; violin bows have about 65 cm of hair, cello bows about 60; outer to outer string 33-34 mm at the bridge."""
    assert 326 <= instrument("violin 4/4").string_length <= 330
    assert 688 <= instrument("cello 4/4").string_length <= 696
    assert 368 <= instrument("viola 16").string_length <= 382
    assert 640 <= instrument("violin 4/4").hair_length <= 655
    assert 590 <= instrument("cello 4/4").hair_length <= 610
    assert 33 <= instrument("violin 4/4").spread_bridge <= 34.5


@dataclass(frozen=True, eq=False)
class Told(Known):
    name: str
    value: float
    more: tuple = ()


def test_records_are_equal_in_what_is_known_and_in_what_is_not():
    """A NaN from a file is not the same object as one that was worked out, on no version of Python."""
    here, there = Told("a", float("nan"), (1.0, float("nan"))), Told("a", math.nan * 2, (1.0, -math.nan))
    assert here == there and hash(here) == hash(there)
    assert here != Told("a", 0.0, (1.0, math.nan)) and here != Told("b", math.nan, (1.0, math.nan)) and here != "a"
    assert Told("a", 1.0, (1.0,)) != Told("a", 1.0, (1.0, math.nan))
    assert same({"a": [math.nan]}, {"a": [math.nan]}) and not same({"a": [math.nan]}, {"a": (math.nan,)})
