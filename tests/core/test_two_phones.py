"""Two phones of one playing: clocks laid together by sound and by bow, records put together by what each can tell."""

from __future__ import annotations

from types import SimpleNamespace

import numpy as np
import pytest
import scipy

from dolcezza.core.base.errors import MediaError
from dolcezza.core.bowing.parts import Parts
from dolcezza.core.bowing.same_bow import lay_bows
from dolcezza.core.bowing.series import COLUMNS, BowSeries
from dolcezza.core.bowing.two_views import SHARED, joined, on_clock
from dolcezza.core.camera.unknowns import COUNT
from dolcezza.core.pipeline.clocks import clocks
from dolcezza.core.sound.together import Together, lay_together

RATE = 16_000


def playing(seed: int, seconds: float = 14.0) -> np.ndarray:
    """Bowed tones of changing pitch and length, with their partials and a bit of noise."""
    rng = np.random.default_rng(seed)
    out = []
    while sum(map(len, out)) < seconds * RATE:
        n = int(rng.uniform(0.25, 0.9) * RATE)
        hertz = 196.0 * 2 ** (rng.integers(0, 24) / 12)
        t = np.arange(n) / RATE
        swell = np.sin(np.pi * np.minimum(t / 0.08, 0.5)) * np.minimum(1.0, (t[-1] - t) / 0.05)
        out.append(swell * sum(np.sin(2 * np.pi * k * hertz * t + k) / k for k in range(1, 9)))
    whole = np.concatenate(out)
    return 0.2 * whole + 0.01 * rng.normal(size=len(whole))


def by_other_phone(sound: np.ndarray, *, offset: float, drift: float = 0.0, noise: float = 0.2, seed: int = 0) -> np.ndarray:
    """The same through another microphone, another place of the room and another clock."""
    rng = np.random.default_rng(seed)
    t = (np.arange(int(len(sound) * 0.9)) / RATE) / (1 + drift) - offset / (1 + drift)
    heard = np.interp(t, np.arange(len(sound)) / RATE, sound, left=0, right=0)
    room = np.zeros(int(0.2 * RATE))
    room[0] = 1.0
    room[60:] = 0.02 * rng.normal(size=len(room) - 60) * np.exp(-np.arange(len(room) - 60) / (0.06 * RATE))
    heard = scipy.signal.fftconvolve(heard, room)[: len(t)]
    sos = scipy.signal.butter(1, [300, 3500], "bandpass", fs=RATE, output="sos")
    heard = scipy.signal.sosfilt(sos, heard)
    return heard + noise * heard.std() * rng.normal(size=len(heard))


@pytest.mark.parametrize("offset", [0.7321, -1.413, 0.0])
def test_two_recordings_are_laid_together_to_five_milliseconds(offset):
    sound = playing(1)
    told = lay_together(sound, by_other_phone(sound, offset=offset), rate_hz=RATE)
    assert told.sure and told.offset_s == pytest.approx(offset, abs=0.005)
    assert told.second(np.array([3.0]))[0] == pytest.approx(3.0 + offset, abs=0.005)


def test_clocks_that_drift_apart_are_told():
    sound = playing(2, 40.0)
    told = lay_together(sound, by_other_phone(sound, offset=0.5, drift=1.2e-4), rate_hz=RATE)
    assert told.sure and told.drift == pytest.approx(1.2e-4, abs=3e-5)
    assert told.second(np.array([30.0]))[0] == pytest.approx(30.0 * (1 + 1.2e-4) + 0.5, abs=0.005)


def test_the_start_of_each_file_counts():
    sound = playing(3)
    told = lay_together(sound, by_other_phone(sound, offset=0.3), rate_hz=RATE, starts_s=(0.04, 0.1))
    assert told.offset_s == pytest.approx(0.3 + 0.06, abs=0.005)


def test_another_playing_is_not_laid_together():
    told = lay_together(playing(4), by_other_phone(playing(5), offset=0.2), rate_hz=RATE)
    assert told is None or not told.sure
    assert lay_together(playing(4)[:RATE], playing(4)[:RATE], rate_hz=RATE) is None  # a second is too little


def strokes(t: np.ndarray) -> np.ndarray:
    return 0.5 + 0.4 * np.sin(1.3 * t + 0.6 * np.sin(0.9 * t))


def test_bows_tell_the_moment_without_sound():
    one, two = np.arange(0, 8, 1 / 30), np.arange(0, 7, 1 / 25)
    rng = np.random.default_rng(0)
    told = lay_bows(one, strokes(one) + 0.01 * rng.normal(size=len(one)), two, strokes(two + 0.42) + 0.03, near_s=0.0, reach_s=1.0)
    assert told.same and told.offset_s == pytest.approx(-0.42, abs=0.012)
    assert abs(told.offset_s + 0.42) < 3 * told.sd_s
    other = lay_bows(one, strokes(one), two, 0.5 + 0.4 * np.cos(4.1 * two), near_s=0.0, reach_s=0.3)
    assert other is None or not other.same
    assert lay_bows(one, np.full(len(one), 0.5), two, np.full(len(two), 0.5), near_s=0.0, reach_s=0.3) is None  # a bow that rests


def filmed(position, rate: float, seconds: float):
    """An analysis of which only the bow's place is known."""
    t = np.arange(0, seconds, 1 / rate)
    values = {name: np.full(len(t), np.nan) for name in COLUMNS if name != "string"}
    values |= {"t_s": t, "bow_position": position(t)}
    return SimpleNamespace(series=BowSeries(values, [""] * len(t)))


def test_sound_says_about_when_and_the_bow_says_exactly():
    first, second = filmed(strokes, 30, 8.0), filmed(lambda t: strokes(t + 0.42), 25, 7.0)
    sound = Together(-0.44, 0.0, 0.001, 20.0, True)
    told = clocks(first, second, sound, 0.0)
    assert told.offset_s == pytest.approx(-0.42, abs=0.01) and told.sd_s < 0.02
    # the first phone keeps its sound 60 ms late: by the sound alone the second would seem to be so much earlier
    late = clocks(first, second, Together(-0.48, 0.0, 0.001, 20.0, True), 0.06)
    assert late.offset_s == pytest.approx(-0.42, abs=0.01)
    assert told.first(told.second(np.array([2.0])))[0] == pytest.approx(2.0)
    silent = clocks(first, second, None, 0.0)
    assert silent.offset_s == pytest.approx(-0.42, abs=0.012)


def test_a_clock_that_drifts_is_not_taken_for_one_that_is_off():
    """Two minutes at 2e-4: in the middle the second clock is 12 ms farther off than at the beginning."""
    first, second = filmed(strokes, 30, 120.0), filmed(lambda s: strokes((s - 0.3) / (1 + 2e-4)), 25, 120.0)
    told = clocks(first, second, Together(0.3, 2e-4, 0.001, 20.0, True), 0.0)
    assert told.second(np.array([0.0, 115.0])) == pytest.approx([0.3, 115.0 * (1 + 2e-4) + 0.3], abs=0.004)


def test_without_sound_the_whole_of_a_long_take_is_gone_through():
    long = np.arange(0, 60, 1 / 10)
    told = lay_bows(long, strokes(long), np.arange(0, 15, 1 / 10), strokes(np.arange(0, 15, 1 / 10) + 31.37), near_s=0.0, reach_s=59.0)
    assert told.same and told.offset_s == pytest.approx(-31.37, abs=0.02)


def test_videos_of_another_playing_are_refused_whatever_they_sound_like():
    first, other = filmed(strokes, 30, 8.0), filmed(lambda t: 0.5 + 0.4 * np.cos(4.1 * t), 25, 7.0)
    for sound in (None, Together(0.3, 0.0, 0.001, 5.0, False), Together(0.3, 0.0, 0.001, 12.0, True)):
        with pytest.raises(MediaError, match="same playing"):
            clocks(first, other, sound, 0.0)


TRUE = np.array([28.0, 3.0, 8.0, 0.5])
SHARED_SD = np.full(len(SHARED), 0.02)


def record(noise_sd: list[float], *, n: int = 60, string: int = 1, seed: int = 0, off: float = 1.0, gain: float = 0.0) -> Parts:
    """One phone's record of a bow at ``TRUE``, each of the four numbers with its own noise."""
    rng, sd = np.random.default_rng(seed), np.array(noise_sd)
    gains = np.zeros((n, 4, COUNT))
    gains[:, 1, SHARED[0]] = gain
    return Parts(
        np.arange(n) / 30.0, TRUE + off * sd * rng.normal(size=(n, 4)), np.tile(np.diag(sd**2), (n, 1, 1)), gains, 1e-4 * np.eye(COUNT),
        np.full(n, string), np.ones(n, bool), np.full((n, 4), 1e3), np.zeros(n),
    )  # fmt: skip


def test_each_number_comes_from_the_phone_that_tells_it():
    """One is good for the contact point, the other for the angle: together both are good, and the ± says so (inverse variances)."""
    one, two = record([0.5, 6.0, 1.0, 0.01], seed=1), record([5.0, 0.6, 1.0, 0.02], seed=2)
    told = joined(one, two, SHARED_SD, clock_sd_s=1e-4)
    sd = np.sqrt(np.einsum("naa->na", told.covariance))
    expected = 1 / np.sqrt(np.array([0.5, 6.0, 1.0, 0.01]) ** -2.0 + np.array([5.0, 0.6, 1.0, 0.02]) ** -2.0)
    assert np.median(sd, axis=0) == pytest.approx(expected, rel=0.25)
    within = (np.abs(told.params - TRUE) < 2 * sd).mean(axis=0)
    assert told.both.all() and (within > 0.85).all()
    assert np.abs(told.params - TRUE)[:, 0].mean() < 0.7 and np.abs(told.params - TRUE)[:, 1].mean() < 0.8


def test_what_both_err_alike_does_not_get_better_by_being_told_twice():
    alone = record([1.0, 0.05, 1.0, 0.01], gain=100.0)  # the angle hangs on a length that nobody knows
    other = record([1.0, 0.05, 1.0, 0.01], gain=100.0, seed=3)
    told = joined(alone, other, np.full(len(SHARED), 0.01), clock_sd_s=1e-4)
    one, both = np.sqrt(alone.covariance[0, 1, 1]), np.sqrt(np.median(told.covariance[:, 1, 1]))
    independent = one / np.sqrt(2)
    assert both > 1.15 * independent


def test_where_the_two_contradict_each_other_the_plus_minus_is_wider():
    one, two = record([1.0, 1.0, 1.0, 0.01], seed=1), record([1.0, 1.0, 1.0, 0.01], seed=2)
    shifted = Parts(**{**vars(two), "params": two.params + np.array([0.0, 4.0, 0.0, 0.0])})
    calm, torn = (joined(one, p, SHARED_SD, clock_sd_s=1e-4) for p in (two, shifted))
    assert torn.apart > 1.5 * calm.apart
    assert np.median(torn.covariance[:, 1, 1]) > 1.5 * np.median(calm.covariance[:, 1, 1])


def test_a_lost_end_of_the_bow_is_left_to_the_phone_that_sees_it():
    one, two = record([1.0, 1.0, 1.0, 0.01], seed=1), record([1.0, 1.0, 1.0, 0.01], seed=2)
    lost, cost = two.params.copy(), two.cost.copy()
    lost[20:30, 3] += 0.5
    cost[20:30] = 9.0
    told = joined(one, Parts(**{**vars(two), "params": lost, "cost": cost}), SHARED_SD, clock_sd_s=1e-4)
    assert not told.both[20:30].any() and told.both[:20].all()
    assert np.abs(told.params[20:30, 3] - TRUE[3]).max() < 0.05


def test_what_one_has_not_seen_the_other_tells_and_strings_are_not_mixed():
    one, two = record([1.0, 1.0, 1.0, 0.01]), record([1.0, 1.0, 0.5, 0.01], string=2, seed=4)
    blind = Parts(**{**vars(one), "measured": np.arange(60) < 20})
    told = joined(blind, two, SHARED_SD, clock_sd_s=1e-4)
    assert told.measured.all() and not told.both.any()
    assert (told.string[20:] == 2).all() and told.params[20:] == pytest.approx(two.params[20:])


def test_between_frames_a_bow_goes_on_and_over_a_gap_it_is_not_known():
    one = record([1.0, 1.0, 1.0, 0.01], off=0.0)
    moving = Parts(**{**vars(one), "params": TRUE + np.arange(60)[:, None] * [0.0, 0.0, 0.0, 0.01]})
    there = on_clock(moving, np.array([0.05, 0.51, 5.0]))
    assert there.params[:2, 3] == pytest.approx([0.5 + 0.3 * 0.05, 0.5 + 0.3 * 0.51])
    assert there.measured.tolist() == [True, True, False]
    gap = moving.rows(np.r_[0:10, 40:60])
    assert not on_clock(gap, np.array([0.8])).measured[0]
