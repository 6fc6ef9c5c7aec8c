"""What is not known of a take: told from landmarks and bows together, and in the ±."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from dolcezza.core.bowing.solve import ACROSS, HEAD, BowProblem, Solved, seen_gain, solve_string, take_gain
from dolcezza.core.bowing.whole_take import fit_take
from dolcezza.core.camera.lens import Camera, LensPrior
from dolcezza.core.camera.pose import CLICK_SD_PX, click_of
from dolcezza.core.camera.poses import Poses
from dolcezza.core.camera.seen import SeenPoint, SeenString
from dolcezza.core.camera.unknowns import (
    CENTRE,
    COUNT,
    FOCAL,
    HAND,
    LENGTH_SD,
    LENGTHS,
    RADIAL,
    CalibrationFrame,
    as_doubtful_as_told,
    at,
    expected,
    from_landmarks,
    landmark_information,
    landmark_residuals,
    own_spec,
)
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import LANDMARK_NAMES, InstrumentModel
from tests_support import camera_at, seen_lines

TABLE = InstrumentModel(instrument("violin 4/4"))
VIEW = camera_at(TABLE, -20, 40)
HAIR = LENGTHS.start + list(LENGTH_SD).index("hair_length")
GAP = LENGTHS.start + list(LENGTH_SD).index("bridge_to_fingerboard")


def true_take(hair=0.0, gap=0.0, body=0.0, n=160, seed=1):
    """Bows on all four strings of an instrument that differs from the table, and its landmarks in the same view."""
    spec = TABLE.spec.with_measured(
        hair_length=(1 + hair) * TABLE.spec.hair_length, bridge_to_fingerboard=(1 + gap) * TABLE.spec.bridge_to_fingerboard,
        body_scale=(1 + body) * TABLE.spec.body_scale,
    )  # fmt: skip
    model = InstrumentModel(spec)
    string = np.repeat(np.arange(4), n // 4)
    place = 0.5 - 0.42 * np.cos(2 * np.pi * np.arange(n) / 40)
    params = np.column_stack([np.full(n, 28.0), np.zeros(n), model.string_planes[string], place])
    rng = np.random.default_rng(seed)
    landmarks = {name: tuple(VIEW.project(model.landmarks[name]) + rng.normal(0, 0.5, 2)) for name in LANDMARK_NAMES}
    return model, params, string, seen_lines(model, VIEW, params, string, rng=rng), landmarks


def solved(lines, string, n):
    poses = Poses.of([VIEW] * n)
    alone = [solve_string(TABLE, lines, poses, s, scale_px=1.0) for s in range(4)]
    return np.array([alone[s].params[k] for k, s in enumerate(string)])


def test_the_lens_alone_moves_nothing_at_the_bridge():
    """A longer lens has the instrument farther away, a shifted one has it to the side: the bridge stays where it was seen."""
    poses, origin = Poses.of([VIEW] * 3), np.zeros((3, 1, 3))
    for index, value in ((FOCAL, 0.1), (RADIAL, -0.06), (CENTRE.start, 9.0), (CENTRE.start + 1, -7.0)):
        values = np.zeros(COUNT)
        values[index] = value
        _, other = at(TABLE, poses, values)
        assert np.allclose(other.see(origin), poses.see(origin), atol=0.02), index


def test_lengths_that_nobody_doubts_stay_and_those_of_the_ruler_nearly():
    values = np.zeros(COUNT)
    assert own_spec(TABLE.spec, values) == TABLE.spec
    values[HAIR] = 0.02
    assert own_spec(TABLE.spec, values).hair_length == pytest.approx(1.02 * 645)
    _, usual = expected(TABLE.spec, scale_px=1.0, lens=LensPrior(VIEW.focal), assumed=VIEW)
    _, ruler = expected(TABLE.spec.with_measured(hair_length=650.0), scale_px=1.0, lens=LensPrior(VIEW.focal), assumed=VIEW)
    assert ruler[HAIR] < 0.4 * usual[HAIR] and ruler[GAP] == usual[GAP]


def test_a_hand_that_clicks_outside_the_edge_is_noticed():
    clean = {n: VIEW.project(TABLE.landmarks[n]) for n in LANDMARK_NAMES}
    outside = {}
    for name, place in TABLE.landmarks.items():
        away = {"end_button": [-1.0, 0, 0], "scroll": [1.0, 0, 0]}.get(name, [0, np.sign(place[1]), 0])
        way = VIEW.project(place + np.array(away)) - clean[name]
        outside[name] = tuple(clean[name] + 1.5 * way / np.linalg.norm(way))
    for landmarks, low, high in ((clean, -0.6, 0.5), (outside, 0.8, 2.2)):
        told = from_landmarks(TABLE, [CalibrationFrame(landmarks, VIEW)], scale_px=1.0, lens=LensPrior(VIEW.focal))
        assert low < told.values[HAND] < high
        assert np.linalg.eigvalsh(told.covariance).min() > 0


def test_what_is_expected_of_the_lens_counts_once():
    """A pose that began with a lens far from a phone's is drawn to a phone's all the same: what is expected stays where it was."""
    landmarks = {n: tuple(VIEW.project(TABLE.landmarks[n])) for n in ("bridge_bass", "bridge_treble", "board_bass", "board_treble")}
    short = Camera(VIEW.rvec, VIEW.tvec * [1, 1, 0.6], 0.6 * VIEW.focal, VIEW.center)
    lens = LensPrior(VIEW.focal)
    told = from_landmarks(TABLE, [CalibrationFrame(landmarks, short)], scale_px=1.0, lens=lens, rounds=8)
    assert short.focal * np.exp(told.values[FOCAL]) == pytest.approx(VIEW.focal, rel=0.12)
    same = from_landmarks(TABLE, [CalibrationFrame(landmarks, VIEW)], scale_px=1.0, lens=lens, rounds=8)
    assert abs(same.values[FOCAL]) < 0.12


@pytest.mark.parametrize("lens_off", [0.6, 0.8, 1.4])
def test_from_however_far_off_the_unknowns_are_told_where_nothing_pulls_any_more(lens_off):
    """Slopes are kept from step to step only while steps are small: with fresh ones nothing is left to move."""
    rng = np.random.default_rng(3)
    landmarks = {n: tuple(VIEW.project(TABLE.landmarks[n]) + rng.normal(0, 1.0, 2)) for n in LANDMARK_NAMES}
    assumed = Camera(VIEW.rvec, VIEW.tvec * [1, 1, lens_off], lens_off * VIEW.focal, VIEW.center)
    lens, moments = LensPrior(VIEW.focal), [CalibrationFrame(landmarks, assumed)]
    told = from_landmarks(TABLE, moments, scale_px=1.0, lens=lens)
    mean, sd = expected(TABLE.spec, scale_px=1.0, lens=lens, assumed=assumed)
    normal, pull, _ = landmark_information(TABLE, moments, told.values, scale_px=1.0)
    covariance = np.linalg.inv(normal + np.diag(sd**-2.0))
    left = covariance @ (pull + (mean - told.values) / sd**2)
    assert (np.abs(left) / np.sqrt(np.diag(covariance))).max() < 0.02


@pytest.mark.parametrize(("seed", "px", "low", "high"), [(1, 0.8, 1.0, 1.3), (2, 4.0, 1.9, 5.5), (3, 4.0, 1.9, 5.5)])
def test_a_hand_is_as_doubtful_as_it_turns_out_to_be(seed, px, low, high):
    """Variance components: a careful hand stays one, a rough one is found out, and then it counts less than the pictures."""
    rng = np.random.default_rng(seed)
    names = LANDMARK_NAMES[:8]
    set_ = {n: tuple(VIEW.project(TABLE.landmarks[n]) + rng.normal(0, px, 2)) for n in names}
    seen = [SeenPoint(n, VIEW.project(TABLE.landmarks[n]), 2.0) for n in names]
    lens = LensPrior(VIEW.focal)
    marked = [CalibrationFrame(set_, VIEW, seen=seen)]
    [told] = as_doubtful_as_told(TABLE, marked, scale_px=1.0, lens=lens)
    own = click_of(told.click_sd_px, "board_bass") / CLICK_SD_PX
    assert low <= own <= high
    if own > 1.5:
        off = [np.abs(from_landmarks(TABLE, m, scale_px=1.0, lens=lens).values[:3]).max() for m in (marked, [told])]
        assert off[1] < 0.7 * off[0]


def crooked_take(repeats: int, angle: float = 6.0, seed: int = 5):
    """Bows that are all so crooked, each filmed ``repeats`` times, with landmarks a careful hand has set."""
    n = 160
    string = np.repeat(np.arange(4), n // 4)
    place = 0.5 - 0.42 * np.cos(2 * np.pi * np.arange(n) / 40)
    params = np.column_stack([np.full(n, 28.0), np.full(n, angle), TABLE.string_planes[string], place])
    params, string = np.tile(params, (repeats, 1)), np.tile(string, repeats)
    rng = np.random.default_rng(seed)
    landmarks = {name: tuple(VIEW.project(TABLE.landmarks[name]) + rng.normal(0, 1.0, 2)) for name in LANDMARK_NAMES}
    return params, string, seen_lines(TABLE, VIEW, params, string, rng=np.random.default_rng(seed + 1)), landmarks


def test_a_crooked_player_is_not_the_straighter_the_longer_the_take():
    """What is expected of players is expected once: more bows that are all alike crooked tell it better, and never less."""
    told = {}
    for repeats in (1, 12):
        params, string, lines, landmarks = crooked_take(repeats)
        n = len(string)
        poses, t = Poses.of([VIEW] * n), np.arange(n) / 30
        moments = [CalibrationFrame(landmarks, VIEW)]
        found = fit_take(TABLE, lines, poses, string, params, t, moments, scale_px=1.0, lens=LensPrior(VIEW.focal, 0.08))
        own, there = at(TABLE, poses, found.values)
        again = [solve_string(own, lines, there, s, scale_px=1.0, lean_deg=found.lean_deg) for s in range(4)]
        told[repeats] = float(np.mean([again[s].params[k, 1] for k, s in enumerate(string)]))
    assert told[12] > told[1] - 0.1
    assert told[1] == pytest.approx(6.0, abs=0.9) and told[12] == pytest.approx(6.0, abs=0.5)


@pytest.mark.parametrize(("hair", "gap"), [(0.0, 0.0), (0.022, 0.0), (-0.022, 0.05)])
def test_bows_and_landmarks_tell_the_instrument_that_they_were_seen_on(hair, gap):
    """Drawn towards the table by no more than what is left open, and the angle is the better for it."""
    _model, truth, string, lines, landmarks = true_take(hair, gap)
    n = len(string)
    params, poses, t = solved(lines, string, n), Poses.of([VIEW] * n), np.arange(n) / 30
    told = fit_take(
        TABLE, lines, poses, string, params, t, [CalibrationFrame(landmarks, VIEW)], scale_px=1.0, lens=LensPrior(VIEW.focal, 0.08)
    )
    sd = np.sqrt(np.diag(told.covariance))
    for index, true in ((HAIR, hair), (GAP, gap)):
        assert abs(told.values[index] - true) < 2 * sd[index] + 0.003
    own, there = at(TABLE, poses, told.values)
    again = [solve_string(own, lines, there, s, scale_px=1.0, lean_deg=told.lean_deg) for s in range(4)]
    angle = np.array([again[s].params[k, 1] for k, s in enumerate(string)])
    before, after = (np.median(np.abs(a - truth[:, 1])) for a in (params[:, 1], angle))
    assert after < max(0.35, 0.75 * before)


def test_what_is_not_known_moves_the_figures_as_is_said():
    """The gain by the implicit function theorem beside solving anew with the length changed."""
    _, _truth, string, lines, _ = true_take(n=40)
    poses = Poses.of([VIEW] * 40)
    lines = replace(lines, frog=np.full(40, np.nan))  # its one-sided weights make steps of what is smooth
    here = solve_string(TABLE, lines, poses, 1, scale_px=1.0, steps=40)
    own = string == 1
    problem = BowProblem(TABLE, lines, poses, 1, 1.0)
    gain = take_gain(problem, Solved(here.params, here.cost, here.covariance, here.hidden))
    values = np.zeros(COUNT)
    values[HAIR] = 0.004
    changed, there = at(TABLE, poses, values)
    other = solve_string(changed, lines, there, 1, scale_px=1.0, steps=40)
    moved = (other.params - here.params)[own]
    assert np.allclose(moved, 0.004 * gain[own, :, HAIR], atol=2e-3)
    assert np.abs(moved[:, 3]).max() > 1e-3, "on a longer bow the string lies elsewhere"


def test_hair_seen_beside_its_middle_moves_the_figures_as_is_said():
    """The gain of the line beside solving anew with every line half a pixel farther along its normal."""
    _, _truth, string, lines, _ = true_take(n=40)
    poses = Poses.of([VIEW] * 40)
    lines = replace(lines, frog=np.full(40, np.nan))
    here = solve_string(TABLE, lines, poses, 1, scale_px=1.0, steps=40)
    problem, solution = BowProblem(TABLE, lines, poses, 1, 1.0), Solved(here.params, here.cost, here.covariance, here.hidden)
    gain = seen_gain(problem, solution, ACROSS)
    normal = np.stack([-lines.direction[:, 1], lines.direction[:, 0]], axis=-1)
    other = solve_string(TABLE, replace(lines, point=lines.point + 0.5 * normal), poses, 1, scale_px=1.0, steps=40)
    own = string == 1
    moved = (other.params - here.params)[own]
    assert np.allclose(moved, 0.5 * gain[own], atol=4e-3)
    assert np.abs(moved[:, 0]).min() > 0.3, "half a pixel is most of a millimetre here"
    shorter = solve_string(TABLE, replace(lines, head=lines.head - 2.0), poses, 1, scale_px=1.0, steps=40)
    assert np.allclose((shorter.params - here.params)[own], -2.0 * seen_gain(problem, solution, HEAD)[own], atol=8e-3)
    assert (shorter.params[own, 3] > here.params[own, 3]).all(), "with the head nearer the string lies nearer to it"


def test_each_end_of_a_seen_string_misses_its_own_place():
    """Two strings seen 1 px beside their nearer ends and 3 px beside the others, a landmark seen 2 px to the right, by hand."""
    normal, share = np.array([0.0, 1.0]), (0.1, 0.8)
    lines = []
    for string in (0, 3):
        ends = TABLE.string_point(string, np.array(share) * TABLE.spec.string_length)
        seen = VIEW.project(ends) + np.array([[0.0, -1.0], [0.0, -3.0]])
        lines.append(SeenString(string, share, seen, normal, 0.5))
    mark = VIEW.project(TABLE.landmarks["scroll"][None])[0]
    points = {n: tuple(VIEW.project(TABLE.landmarks[n][None])[0]) for n in LANDMARK_NAMES[:4]}
    moment = CalibrationFrame(points, VIEW, lines, [SeenPoint("scroll", mark - [2.0, 0.0], 1.0)])
    off = landmark_residuals(TABLE, [moment], np.zeros(COUNT), scale_px=1.0)
    assert off[:8] == pytest.approx(0.0, abs=1e-6)
    assert off[8] > 0.2 and off[9] == pytest.approx(0.0, abs=1e-6)
    assert off[10:] == pytest.approx([2.0, 6.0, 2.0, 6.0])
