"""Ends of strokes in a room that rings: against bows whose speed is known, their sound passed through an echo of known length."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest

from dolcezza.core.sound.level import STEP_S, Loudness
from dolcezza.core.strokes import sounded
from dolcezza.core.strokes.offset import SoundOffset
from dolcezza.core.strokes.segment import Span
from dolcezza.core.strokes.sounded import crossed, refine, seen_to_stand, starts_in_doubt, turns_in_doubt

BEGIN = 1.0


def room(seconds: list[float], *, rt60: float, rest: float = 0.03) -> tuple[Loudness, list[Span]]:
    """Bows of least jerk one after the other, with so short a rest between them, their sound through a room whose echo falls by 60 dB in
    ``rt60`` s; and when each begins and ends."""
    t = np.arange(0.0, BEGIN + sum(seconds) + rest * len(seconds) + 2.0, STEP_S)
    power, spans, at = np.zeros(len(t)), [], BEGIN
    for k, long in enumerate(seconds):
        tau = np.clip((t - at) / long, 0, 1)
        power += (30 * (tau**2 - 2 * tau**3 + tau**4) / 1.875) ** 2
        spans.append(Span(at, at + long, k % 2 == 0))
        at += long + rest
    if rt60 > 0:
        tail = np.exp(-np.arange(0, 2 * rt60, STEP_S) * 6 * np.log(10) / rt60)
        power = power + 1.0 * np.convolve(power, tail / tail.sum())[: len(t)]
    return Loudness(t, np.sqrt(power + 1e-6), rt60 > 0), spans


def moved(spans: list[Span], **by: tuple[float, float]) -> list[Span]:
    """The same as the picture told them: ``s1`` = (start, end) of the second off by so much."""
    out = list(spans)
    for key, (start, end) in by.items():
        k = int(key[1:])
        out[k] = Span(out[k].start_s + start, out[k].end_s + end, out[k].down)
    return out


def met(spans: list[Span]) -> list[Span]:
    """Bows that meet in the middle of the rest between them, as the picture tells them."""
    out = list(spans)
    for k in range(len(out) - 1):
        middle = 0.5 * (out[k].end_s + out[k + 1].start_s)
        out[k], out[k + 1] = Span(out[k].start_s, middle, out[k].down), Span(middle, out[k + 1].end_s, out[k + 1].down)
    return out


@pytest.mark.parametrize("rt60", [0.5, 0.8, 1.2])
def test_a_turn_that_is_hard_to_see_is_heard_through_the_echo(rt60):
    """The echo delays all dips by about as much: one turn that the picture has 0.12 s late is put where the others say."""
    loud, true = room([0.9] * 6, rt60=rt60)
    told = moved(met(true), s1=(0.0, 0.12), s2=(0.12, 0.0))
    found = refine(told, loud)
    for k in range(5):
        turn = 0.5 * (true[k].end_s + true[k + 1].start_s)
        assert found[k].end_s == found[k + 1].start_s == pytest.approx(turn, abs=0.05), k
    seen = refine(met(true), loud)
    assert all(abs(a.end_s - b.end_s) < 0.02 for a, b in zip(seen[:5], met(true)[:5], strict=True)), "what was seen well stays"


@pytest.mark.parametrize("rt60", [0.5, 0.8, 1.2])
@pytest.mark.parametrize("late", [0.0, 0.12, 0.24])
def test_the_end_of_a_last_bow_is_told_from_its_dying_away(rt60, late):
    loud, true = room([0.9] * 4, rt60=rt60)
    found = refine(moved(met(true), s3=(0.0, late)), loud)
    assert found[3].end_s == pytest.approx(true[3].end_s, abs=0.08)


def test_a_slow_bow_that_creeps_is_heard_before_it_is_seen():
    loud, true = room([8.0], rt60=0.8)
    (found,) = refine(moved(true, s0=(0.35, -0.1)), loud)
    assert found.start_s == pytest.approx(true[0].start_s, abs=0.12)
    assert found.end_s > true[0].end_s - 0.11


def test_the_end_of_a_slow_bow_is_heard_beside_what_hums_in_the_room():
    """After it something hums at a twentieth of its tone; before the player has come the room was stiller by far."""
    t = np.arange(0.0, 11.0, STEP_S)
    tone = np.clip(np.minimum(t - 1.0, 9.0 - t), 0.0, 1.0)
    for hum, end in ((0.05, 8.9), (0.14, 8.78)):
        level = np.maximum(tone, np.where(t > 0.9, hum, 0.001))
        (found,) = refine([Span(1.0, 8.78, True)], Loudness(t, level, True))
        assert found.end_s == pytest.approx(end, abs=0.05), "where a seventh of its tone is lost nothing tells"


def test_a_slow_bow_ends_with_its_tone_though_the_room_murmurs_on():
    """What is left in the room rises and falls by a half: its rises are no bow, whichever way the last of them goes."""
    t = np.arange(0.0, 11.0, STEP_S)
    tone = np.clip(np.minimum(t - 1.0, 9.0 - t), 0.0, 1.0)
    for turn in (0.0, np.pi):
        level = np.maximum(tone, 0.03 + 0.015 * np.sin(2 * np.pi * 7 * t + turn))
        (found,) = refine([Span(1.0, 8.95, True)], Loudness(t, level, True))
        assert found.end_s == pytest.approx(8.95, abs=0.03)


def test_a_dry_room_has_its_dips_at_the_turns():
    loud, true = room([0.9] * 6, rt60=0.0)
    found = refine(moved(met(true), s1=(0.0, 0.06), s2=(0.06, 0.0)), loud)
    assert found[1].end_s == pytest.approx(0.5 * (true[1].end_s + true[2].start_s), abs=0.01)


@pytest.mark.parametrize("rt60", [0.0, 0.3, 0.5])
def test_a_stop_between_two_bows_is_heard_where_the_place_on_the_bow_drifts_through_it(rt60):
    """Bows of 0.45 s with 0.3 s between them, which the picture has as one turn in the middle, or a tenth of a second beside it."""
    loud, true = room([0.45] * 6, rt60=rt60, rest=0.3)
    found = refine(moved(met(true), s1=(0.0, 0.1), s2=(0.1, 0.0)), loud)
    for got, real in zip(found[1:-1], true[1:-1], strict=True):
        assert got.start_s == pytest.approx(real.start_s, abs=0.08) and got.end_s == pytest.approx(real.end_s, abs=0.08)


@pytest.mark.parametrize("seconds", [0.25, 0.4, 0.55, 0.7, 1.0, 2.0, 4.0])
@pytest.mark.parametrize("rt60", [0.0, 0.5])
def test_bows_that_only_turn_do_not_stop(seconds, rt60):
    loud, true = room([seconds] * 4, rt60=rt60)
    found = refine(met(true), loud)
    assert all(a.end_s == b.start_s for a, b in pairwise(found))


@pytest.mark.parametrize("rt60", [0.4, 0.8, 1.2])
@pytest.mark.parametrize(("early", "late"), [(0.08, 0.12), (0.16, 0.18)])
def test_a_slow_turn_in_a_room_that_rings_is_no_stop(rt60, early, late):
    """The place on the bow stands for a fifth of a second, or a third, where its end was lost; the tone has risen again before it seems to
    set off."""
    loud, true = room([1.1] * 4, rt60=rt60)
    found = refine(moved(met(true), s1=(0.0, -early), s2=(late, 0.0)), loud)
    assert found[1].end_s == found[2].start_s == pytest.approx(0.5 * (true[1].end_s + true[2].start_s), abs=0.06)


def test_talk_between_two_bows_is_no_turn():
    """More than a second between them: the first one's tone falls, and what then rises, twice, is somebody's voice."""
    t = np.arange(0.0, 5.0, STEP_S)
    at = [0.4, 0.5, 1.5, 1.72, 1.85, 2.05, 2.15, 2.25, 2.6, 2.75, 2.85, 3.8, 4.0]
    level = np.interp(t, at, [0, 1, 1, 0.01, 0.6, 0.6, 0.1, 0.6, 0.6, 0.1, 1, 1, 0])
    first, second = refine([Span(0.5, 1.5, True), Span(2.8, 3.8, False)], Loudness(t, level, True))
    assert first.end_s == pytest.approx(1.5, abs=0.1) and second.start_s == pytest.approx(2.8, abs=0.1)


@pytest.mark.parametrize("rings", [True, False])
def test_a_bow_that_scratches_as_it_turns_turns_between_two_dips(rings):
    """The tone dips, a scratch of a tenth of a second sounds as loud as it, and it dips again; farther apart these are two moments."""
    t = np.arange(0.0, 4.0, STEP_S)
    for apart, told in ((0.16, 2.0), (0.4, 2.05)):
        dips = [np.clip(np.abs(t - 2.0 - side * apart / 2) / 0.04, 0.1, 1) for side in (-1, 1)]
        ends = np.clip(np.minimum(t - 1.0, 3.0 - t) / 0.1, 0.01, 1)
        first, second = refine([Span(1.0, 2.05, True), Span(2.05, 3.0, False)], Loudness(t, ends * dips[0] * dips[1], rings))
        assert first.end_s == second.start_s == pytest.approx(told, abs=0.031)


@pytest.mark.parametrize("rises_s", [0.06, 0.15, 0.24, 0.6])
def test_a_bow_that_comes_slowly_out_of_silence_has_begun_with_what_is_heard_first(rises_s):
    """The picture has its start a quarter of a second late, or where it is."""
    t = np.arange(0.0, 4.0, STEP_S)
    level = np.clip((t - 1.0) / rises_s, 0.01, 1) * np.clip((3.0 - t) / 0.1, 0.01, 1)
    for told in (1.0, 1.25):
        [only] = refine([Span(told, 3.0, True)], Loudness(t, level, True))
        assert only.start_s == pytest.approx(1.0 if rises_s < 0.5 else told, abs=0.025)


@pytest.mark.parametrize("rt60", [0.8, 1.0])
def test_a_bow_that_sounds_on_is_bowed_though_its_place_stands(rt60):
    """Nearly half a second without way at the frog, where neither end was seen; the tone goes on for a part of it."""
    loud, true = room([1.0] * 4, rt60=rt60)
    turn = 0.5 * (true[1].end_s + true[2].start_s)
    found = refine(moved(met(true), s1=(0.0, -0.33), s2=(0.13, 0.0)), loud)
    assert found[1].end_s == found[2].start_s == pytest.approx(turn, abs=0.16)


@pytest.mark.parametrize("rt60", [0.4, 0.8, 1.2])
@pytest.mark.parametrize("rest", [0.16, 0.2, 0.24, 0.28])
def test_a_stop_in_a_room_that_rings_stays_a_stop(rt60, rest):
    """Behind a bow that stands the echo only falls until it sets off."""
    loud, true = room([0.9] * 4, rt60=rt60, rest=rest)
    found = refine(true, loud)
    for k in range(3):
        assert found[k].end_s == pytest.approx(true[k].end_s, abs=0.08)
        assert found[k + 1].start_s == pytest.approx(true[k + 1].start_s, abs=0.03)


def test_without_sound_nothing_moves():
    loud, true = room([0.9] * 3, rt60=0.8)
    assert refine(true, None) == true
    assert refine(true, Loudness(loud.t_s, np.full(len(loud.level), 0.3), True)) == true


@pytest.mark.parametrize(("told", "put"), [(2.0, 2.0), (2.12, 2.06), (1.88, 1.92), (1.97, 1.97)])
def test_a_turn_to_another_string_is_where_its_tone_can_have_begun(told, put):
    """The G is heard from 2.05 s on: its bow has begun by then, and not long before, whatever the picture says."""
    t = np.arange(0.0, 4.0, 0.01)
    hz, strings = np.where(t < 2.05, 293.66, 196.0), ["D" if k < told else "G" for k in t]
    first, second = crossed([Span(1.0, told, True), Span(told, 3.0, False)], t, hz, strings)
    assert first.end_s == second.start_s == pytest.approx(put, abs=0.011)
    silent = crossed([Span(1.0, told, True), Span(told, 3.0, False)], t, np.full(len(t), np.nan), strings)
    assert silent[0].end_s == told, "without a pitch nothing moves"


def test_a_left_finger_that_is_early_does_not_move_the_turn():
    """On one string the note may change before the bow does (common practice, no source)."""
    t = np.arange(0.0, 4.0, 0.01)
    hz = np.where(t < 1.9, 293.66, 329.63)
    spans = [Span(1.0, 2.0, True), Span(2.0, 3.0, False)]
    assert crossed(spans, t, hz, ["D"] * len(t)) == spans
    apart = [Span(1.0, 1.8, True), Span(2.2, 3.0, False)]
    assert crossed(apart, t, hz, ["D" if k < 2.0 else "A" for k in t]) == apart, "a rest between them is no turn"


def test_how_late_an_echo_makes_dips_is_told_the_better_the_more_turns_there_are():
    """By hand: 0.04 s ± 0.03 is expected, a turn tells it to 0.04. One turn says 0.07: (0.04 / 0.0009 + 0.07 / 0.0016) / (1 / 0.0009 + 1 /
    0.0016) = 0.0508."""
    assert sounded._late([]) == pytest.approx(0.04)
    assert sounded._late([0.07]) == pytest.approx(0.0508, abs=1e-4)
    assert sounded._late([0.07] * 40) == pytest.approx(0.07, abs=0.002)
    assert sounded._late([0.3] * 5) == 0.08 and sounded._late([-0.2] * 9) == 0.0


@pytest.mark.parametrize(("pause", "meet"), [(0.03, True), (0.2, False)])
def test_a_bow_that_seems_to_stand_has_turned_slowly_if_the_tone_only_dips(pause, meet):
    """The picture has both bows still for 0.2 s, in a dry room: the tone says whether they met there or rested."""
    loud, true = room([0.9, 0.9], rt60=0.0, rest=pause)
    told = moved(true, s0=(0.0, -0.1), s1=(0.1, 0.0)) if meet else true
    first, second = refine(told, loud)
    if meet:
        assert first.end_s == second.start_s == pytest.approx(0.5 * (true[0].end_s + true[1].start_s), abs=0.03)
    else:
        assert second.start_s - first.end_s >= pause, "they creep before and after it without a tone"


@pytest.mark.parametrize(("late", "rings", "used"), [
    (0.035, False, True), (-0.035, False, True), (0.015, False, False),
    (0.035, True, False), (0.1, True, True), (-0.07, True, False), (-0.2, True, True),
])  # fmt: skip
def test_what_is_told_of_late_sound_is_used_where_it_is_told_well(late, rings, used):
    """A dry room tells it to 10 ms; in one that rings echo and delay can hardly be told apart, and sound seldom comes first."""
    assert SoundOffset(late, 0.03 if rings else 0.01, rings).matters is used


def test_a_turn_whose_place_is_hardly_known_is_looked_for_as_far_as_it_may_lie():
    """The bow seems to go on for 0.4 s, by less than what is known of its place; the sound dips where it turned."""
    t = np.arange(0.0, 4.0, 1 / 30)
    place = np.interp(t, [0.0, 2.0, 2.4, 4.0], [0.1, 0.85, 0.87, 0.1])
    told = [Span(0.0, 2.4, True), Span(2.4, 4.0, False)]
    heard = Loudness(np.arange(0.0, 4.0, STEP_S), np.abs(np.sin(np.pi * np.arange(0.0, 4.0, STEP_S) / 2.0)), False)
    (vague,) = turns_in_doubt(told, place, np.full(len(t), 0.05), t)
    (plain,) = turns_in_doubt(told, place, np.full(len(t), 0.004), t)
    assert 0.38 < vague < 0.5 and plain < 0.1
    assert refine(told, heard, [vague])[0].end_s == pytest.approx(2.0, abs=0.03)
    assert refine(told, heard, [plain])[0].end_s == 2.4, "a turn that is seen plainly is where it is seen"
    (short,) = turns_in_doubt([Span(2.1, 2.4, True), Span(2.4, 2.7, False)], place, np.full(len(t), 0.5), t)
    assert short <= 0.3 * 0.3 + 1 / 30, "no farther than a part of the shorter bow"


def test_a_bow_that_is_seen_to_stand_has_stopped_whatever_sounds():
    """Somebody at the piano plays on, softer for a moment: two bows do not meet in that dip."""
    t = np.arange(0.0, 4.0, 1 / 30)
    place = np.interp(t, [1.0, 1.8, 2.25, 3.0], [0.1, 0.8, 0.81, 0.15])
    told = [Span(1.0, 1.8, True), Span(2.25, 3.0, False)]
    sure = np.full(len(t), 0.01)
    assert seen_to_stand(told, place, sure, t) == [True]
    assert seen_to_stand(told, place, np.full(len(t), 0.05), t) == [False], "a place that is hardly known may have moved"
    assert seen_to_stand(told, np.where((t > 1.9) & (t < 2.15), np.nan, place), sure, t) == [False], "nobody saw it"
    assert seen_to_stand(told, np.where((t > 1.9) & (t < 2.15), 0.86, place), sure, t) == [False], "it moved"
    assert seen_to_stand([Span(1.0, 1.95, True), Span(2.25, 3.0, False)], place, sure, t) == [False], "a turn may look so"
    at = np.arange(0.0, 4.0, STEP_S)
    level = np.where(np.abs(at - 2.05) < 0.03, 0.3, 1.0)
    heard = Loudness(at, level, rings=True)
    assert refine(told, heard)[0].end_s == refine(told, heard)[1].start_s, "by the sound alone they meet"
    stopped = refine(told, heard, stood=[True])
    assert stopped[0].end_s == pytest.approx(1.8, abs=0.06) and stopped[1].start_s == pytest.approx(2.25, abs=0.06)


def test_where_the_bow_has_hardly_moved_a_stroke_begins_with_its_tone():
    """It seems to creep for a tenth of a second before it sounds: by less than its place is known to, or by more."""
    t = np.arange(0.0, 3.0, 1 / 30)
    place = 0.1 + np.clip(t - 0.5, 0.0, None) * 0.05 + np.clip(t - 0.6, 0.0, None) * 0.5
    span = [Span(0.5, 2.0, True)]
    (vague,) = starts_in_doubt(span, place, np.full(len(t), 0.03), t)
    (plain,) = starts_in_doubt(span, place, np.full(len(t), 0.003), t)
    assert vague == pytest.approx(0.15, abs=0.04) and plain < 0.08
    assert starts_in_doubt(span, np.full(len(t), np.nan), np.full(len(t), 0.03), t) == [0.0]
    assert starts_in_doubt(span, place, np.full(len(t), 0.5), t) == [0.0], "a place that is hardly known tells nothing of the start"
    heard_s = np.arange(0.0, 3.0, STEP_S)
    loud = Loudness(heard_s, np.where(heard_s < 0.6, 0.001, np.where(heard_s < 2.0, 1.0, 0.001)), True)
    assert refine(span, loud, starts_s=[vague])[0].start_s == pytest.approx(0.6, abs=0.01)
    assert refine(span, loud, starts_s=[plain])[0].start_s == 0.5, "a bow may creep before it sounds"
    swells = Loudness(heard_s, np.interp(heard_s, [0, 0.6, 0.72, 2.0, 2.01], [0.001, 0.001, 1.0, 1.0, 0.001]), True)
    assert refine(span, swells, starts_s=[vague])[0].start_s == pytest.approx(0.6, abs=0.02), "it sounds later than it may begin"
