"""The edge of the top plate found in the picture: what it puts right, and what is left out."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest

from dolcezza.core.camera.lens import Camera, LensPrior
from dolcezza.core.camera.pose import LandmarkFit, fit_landmarks
from dolcezza.core.camera.seen import SeenEdge, SeenPoint, SeenString
from dolcezza.core.camera.unknowns import (
    COUNT,
    LENGTH_SD,
    LENGTHS,
    CalibrationFrame,
    as_doubtful_as_told,
    from_landmarks,
    landmark_residuals,
)
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import HALF_OUTLINE, LANDMARK_NAMES, REQUIRED_LANDMARKS, STATIONS, InstrumentModel
from dolcezza.core.pipeline import alignment
from dolcezza.core.pipeline.fit_file import CalibrationFrame as MarkedFrame
from dolcezza.core.tracking import outline_seen
from dolcezza.core.tracking.outline_seen import FLANKS, see_outline
from dolcezza.core.tracking.strings_seen import Sample
from tests_support import camera_at

MODEL = InstrumentModel(instrument("violin 4/4"))
VIEW = camera_at(MODEL, -15, 38, focal=1250.0)
SIZE = (1280, 720)
LARGE = 4


def plate(model: InstrumentModel) -> np.ndarray:
    """The edge all around, closely, (n, 3) mm: the stations as the model has them, straight lines between."""
    half = [model.edge(name, 1, 40) for name in sorted(STATIONS, key=lambda n: STATIONS[n])]
    ends = model.outline[[0, len(HALF_OUTLINE) - 1]]
    one = np.vstack([ends[:1], *half, ends[1:]])
    return np.vstack([one, one[-2:0:-1] * [1, -1, 1]])


def test_a_violin_has_a_violins_measures():
    """A 4/4 violin's body is 355 to 357 mm long, its stop (bridge to the upper edge) 195 mm, neck to body as 2 to 3, its bouts about 168,
    110 and 208 mm wide (common practice, no source)."""
    outline = MODEL.outline
    assert np.ptp(outline[:, 0]) == pytest.approx(356, abs=1.5)
    assert outline[:, 0].max() == pytest.approx(195, abs=1)
    upper, waist, lower = (np.ptp(outline[(outline[:, 0] > a) & (outline[:, 0] < b), 1]) for a, b in ((100, 150), (20, 40), (-100, -50)))
    assert (upper, waist, lower) == pytest.approx((168, 110, 208), abs=3)
    neck = MODEL.spec.string_length - outline[:, 0].max()
    assert neck == pytest.approx(outline[:, 0].max() * 2 / 3, abs=4)
    # and its edge runs evenly: round at the shoulders, no corner there
    upper_edge = MODEL.edge("upper shoulder", 1, 12)
    turns = np.diff(np.degrees(np.arctan2(np.diff(upper_edge[:, 1]), np.diff(upper_edge[:, 0]))))
    assert (turns < 0).all() and (turns > -8).all()


def drawn(camera: Camera, model: InstrumentModel = MODEL, *, inside: int = 130, outside: int = 70, over=()) -> np.ndarray:
    """A plate before a wall; ``over``: (polygon (n, 3) mm, grey) that lie on it."""
    big = np.full((SIZE[1] * LARGE, SIZE[0] * LARGE), outside, np.uint8)
    for shape, grey in [(plate(model), inside), *over]:
        cv2.fillPoly(big, [np.round(camera.project(np.asarray(shape, float)) * LARGE - 0.5).astype(np.int32)], grey)
    return cv2.resize(big, SIZE, interpolation=cv2.INTER_AREA)


def roughly(seed: int) -> dict[str, tuple[float, float]]:
    rng = np.random.default_rng(seed)
    known = (*REQUIRED_LANDMARKS, "nut_bass", "nut_treble", "end_button")
    return {n: tuple(VIEW.project(MODEL.landmarks[n]) + rng.normal(0, 1.5, 2)) for n in known}


def fitted(seed: int, lines=()):
    return fit_landmarks(MODEL, roughly(seed), size=SIZE, lines=lines, click_sd_px=1.5)


def seen(picture: np.ndarray, seed: int = 0) -> SeenEdge:
    """What is seen from a pose that is off, and then from the better one."""
    fit = fitted(seed)
    first = see_outline(MODEL, fit, [Sample(picture, fit.camera)], scale_px=1.0)
    again = replace(fitted(seed, [first]), covariance=fit.covariance)
    return see_outline(MODEL, again, [Sample(picture, again.camera)], scale_px=1.0)


def turned(camera: Camera) -> float:
    """How far a pose is turned from the true one, deg."""
    return float(np.degrees(np.linalg.norm(cv2.Rodrigues(camera.rotation.T @ VIEW.rotation)[0])))


def off(outline: SeenEdge, model: InstrumentModel = MODEL) -> np.ndarray:
    """How far outside its true place each edge was found, px."""
    return np.einsum("ni,ni->n", outline.points - VIEW.project(outline.places(model)), outline.normals)


def test_edges_are_found_to_a_fraction_of_a_pixel_from_poses_that_are_off():
    picture = drawn(VIEW)
    for seed in range(4):
        outline = seen(picture, seed)
        assert {name for name, _ in outline.stations} == set(STATIONS)
        assert np.abs(off(outline)).max() < 0.5


@pytest.mark.parametrize(("inside", "outside"), [(60, 150), (150, 60)])
def test_a_dark_and_a_light_plate_are_found_alike(inside, outside):
    outline = seen(drawn(VIEW, inside=inside, outside=outside))
    assert len(outline.stations) >= 8
    assert np.abs(off(outline)).max() < 0.5


def test_the_outline_puts_right_how_the_instrument_is_turned():
    picture, before, after = drawn(VIEW), [], []
    for seed in range(6):
        fit = fitted(seed)
        better = fitted(seed, [seen(picture, seed)])
        before.append(turned(fit.camera))
        after.append(turned(better.camera))
        assert np.trace(better.covariance[:3, :3]) < np.trace(fit.covariance[:3, :3])
    assert np.mean(after) < 0.4 * np.mean(before)


def test_nothing_is_told_of_a_plate_that_cannot_be_seen():
    fit = fitted(0)
    assert see_outline(MODEL, fit, [Sample(drawn(VIEW, inside=100, outside=99), fit.camera)], scale_px=1.0) is None
    assert see_outline(MODEL, fit, [], scale_px=1.0) is None


def test_the_bow_passes_before_the_edge():
    """It lies over each place in some frames only."""
    fit, z = fitted(0), float(MODEL.outline[0, 2])
    pictures = [
        drawn(VIEW, over=[([(x, -300, z), (x + 30, -300, z), (x + 30, 300, z), (x, 300, z)], 240)]) for x in np.linspace(-150, 150, 9)
    ]
    outline = see_outline(MODEL, fit, [Sample(p, fit.camera) for p in pictures], scale_px=1.0)
    assert len(outline.stations) >= 8
    assert np.abs(off(outline)).max() < 0.6


@pytest.mark.parametrize("inwards", [14.0, -18.0])
def test_what_lies_along_the_edge_is_not_taken_for_it(inwards):
    """A sleeve over one lower shoulder, its seam along the plate's edge, well inside it or outside: left out, or seen past."""
    edge = MODEL.edge("lower shoulder", 1, 40)
    middle = np.array([0.0, 0.0, edge[0, 2]])
    seam = edge + (middle - edge) / np.linalg.norm(middle - edge, axis=1, keepdims=True) * inwards
    beyond = edge + (edge - middle) * 0.8
    outline = seen(drawn(VIEW, over=[(np.vstack([seam, beyond[::-1]]), 200)]))
    assert np.abs(off(outline)).max() < 1.0


def test_a_flank_hidden_all_through_is_left_out_and_the_others_tell():
    x, y, z = MODEL.landmarks["upper_bout_treble"]
    hand = [(x - 40, y + 30, z), (x + 40, y + 30, z), (x + 40, y - 60, z), (x - 40, y - 60, z)]
    outline = seen(drawn(VIEW, over=[(hand, 215)]))
    assert ("upper flank", -1) not in outline.stations
    assert ("upper flank", 1) in outline.stations
    assert np.abs(off(outline)).max() < 0.6


def test_edges_of_a_plate_that_is_seen_along_itself_are_not_looked_for():
    flat = camera_at(MODEL, -90, 5, focal=1250.0)
    fit = LandmarkFit(flat, np.diag([1e-4] * 3 + [1.0] * 3 + [1e-4]), {}, 1.0, 1.0)
    outline = see_outline(MODEL, fit, [Sample(drawn(flat), fit.camera)], scale_px=1.0)
    assert outline is None or not {name for name, _ in outline.stations} & set(FLANKS)


@pytest.mark.parametrize(("height_deg", "told"), [(9.0, False), (15.0, True)])
def test_from_low_over_the_scroll_hand_neck_and_ribs_stand_before_the_edges(height_deg, told):
    """A plate alone in the picture: its edges are plain from either height, and are asked from the higher one only."""
    low = camera_at(MODEL, -12, height_deg, focal=1250.0)
    fit = LandmarkFit(low, np.diag([1e-4] * 3 + [1.0] * 3 + [1e-4]), {}, 1.0, 1.0)
    assert (see_outline(MODEL, fit, [Sample(drawn(low), fit.camera)], scale_px=1.0) is not None) is told


def test_both_sides_of_a_body_share_its_shape():
    """By hand: two edges off by as much to the outside are a wider waist; one out, one in, is an instrument that lies elsewhere."""
    outline = seen(drawn(VIEW))
    at = [k for k, (name, _) in enumerate(outline.stations) if name == "waist"]
    assert len(at) == 2
    pair = replace(
        outline, stations=tuple(outline.stations[k] for k in at), points=outline.points[at], normals=outline.normals[at],
        covariance=outline.covariance[np.ix_(at, at)],
    )  # fmt: skip
    wider, aside = (pair.weigh(outline.normals[at] * np.array([[a], [b]])) for a, b in ((1.0, 1.0), (1.0, -1.0)))
    assert np.linalg.norm(wider) < 0.5 * np.linalg.norm(aside)
    shared = np.linalg.inv(pair.covariance)
    assert wider @ wider == pytest.approx(shared.sum())


def test_the_size_of_the_body_is_told_by_its_outline():
    """A body 3 % larger than the table's, its strings as the table's."""
    large = InstrumentModel(replace(MODEL.spec, body_scale=1.03))
    points = {n: tuple(VIEW.project(MODEL.landmarks[n])) for n in (*REQUIRED_LANDMARKS, "nut_bass", "nut_treble")}
    fit = fit_landmarks(MODEL, points, size=SIZE)
    outline = see_outline(MODEL, fit, [Sample(drawn(VIEW, large), fit.camera)], scale_px=1.0)
    assert np.abs(off(outline, large)).max() < 1.0
    told = from_landmarks(MODEL, [CalibrationFrame(points, VIEW, [outline])], scale_px=1.0, lens=LensPrior(1250.0, 0.01))
    body = list(LENGTH_SD).index("body_scale")
    size, sd = told.values[LENGTHS][body], np.sqrt(np.diag(told.covariance))[LENGTHS][body]
    assert size > 0.012
    assert abs(size - 0.03) < 1.5 * sd < 1.2 * LENGTH_SD["body_scale"]


def test_an_edge_misses_along_its_normal_alone():
    outline = seen(drawn(VIEW))
    exact = replace(outline, points=VIEW.project(outline.places(MODEL)), covariance=np.eye(len(outline.stations)))
    along = exact.normals[:, ::-1] * [1.0, -1.0]
    points = {n: tuple(VIEW.project(MODEL.landmarks[n])) for n in REQUIRED_LANDMARKS}
    for moved, miss in ((along, 0.0), (exact.normals, -2.0)):
        moment = CalibrationFrame(points, VIEW, [replace(exact, points=exact.points + 2.0 * moved)])
        left = landmark_residuals(MODEL, [moment], np.zeros(COUNT), scale_px=1.0)[8:]
        assert left == pytest.approx(miss, abs=1e-6)


def rolled(deg: float) -> LandmarkFit:
    """A pose from strings alone, nearly: right but for the roll about them, which is as open as it is wrong."""
    turn = cv2.Rodrigues(np.radians([deg, 0.0, 0.0]))[0]
    camera = replace(VIEW, rvec=cv2.Rodrigues(VIEW.rotation @ turn)[0].ravel())
    axis = VIEW.rotation[:, 0] * np.radians(abs(deg))
    covariance = np.diag([0.005**2] * 3 + [1.0**2] * 3 + [0.02**2])
    covariance[:3, :3] += np.outer(axis, axis)
    return LandmarkFit(camera, covariance, {}, 1.0, 1.0)


@pytest.mark.parametrize("deg", [-4.0, 4.0])
@pytest.mark.parametrize("beside", [1, -1])
def test_an_instrument_that_is_rolled_is_found_by_all_its_flanks_together_or_not_at_all(deg, beside):
    """A bright line runs along one side where the wrong pose has that edge: alone it would be taken for it."""
    fit, wrong = rolled(deg), []
    for name in FLANKS:
        edge = MODEL.edge(name, beside, 40)
        shown = fit.camera.project(edge + np.array([0.0, 2.0 * beside, 0.0])), fit.camera.project(edge - np.array([0.0, 2.0 * beside, 0.0]))
        wrong.append(np.vstack([shown[0], shown[1][::-1]]))
    picture = drawn(VIEW)
    for line in wrong:
        cv2.fillPoly(picture, [np.round(line * 16 - 8).astype(np.int32)], 105, shift=4)
    outline = see_outline(MODEL, fit, [Sample(picture, fit.camera)], scale_px=1.0)
    if outline is not None:
        # from a pose that is off by so much the stations lie a little elsewhere along the edge
        assert len(outline.stations) >= 5 and np.median(np.abs(off(outline))) < 0.7
    plain = see_outline(MODEL, fit, [Sample(drawn(VIEW), fit.camera)], scale_px=1.0)
    assert len(plain.stations) >= 5 and np.median(np.abs(off(plain))) < 0.7


def test_a_step_inside_the_edge_all_around_turns_nothing():
    """At the purfling, 3.5 mm inside: what all edges share says nothing of how the instrument is turned."""
    edge = plate(MODEL)
    inwards = edge - np.array([15.0, 0.0, edge[0, 2]])
    inner = edge - 3.5 * inwards / np.linalg.norm(inwards, axis=1, keepdims=True)
    big = drawn(VIEW, inside=72, over=[(inner, 140)])
    before, shared, alone = [], [], []
    for seed in range(6):
        outline = seen(big, seed)
        assert np.median(off(outline)) < -1.0, "the step inside is what was found"
        before.append(turned(fitted(seed).camera))
        shared.append(turned(fitted(seed, [outline]).camera))
        alone.append(turned(fitted(seed, [replace(outline, covariance=np.diag(np.diag(outline.covariance)))]).camera))
    assert np.mean(shared) < 0.4 * np.mean(before)
    assert np.mean(shared) < 0.75 * np.mean(alone)


def test_what_all_flanks_say_together_is_chosen_before_what_one_after_the_other_says():
    """By hand: a roll moves one side out by what it moves the other in. Each flank on the right also shows a step near where the pose has
    it, those on the left do not: all four at 8 px are one roll, the two near ones leave the left unexplained."""
    gain = {side: np.zeros(17) for side in (1, -1)}
    gain[1][0], gain[-1][0] = 1.0, -1.0
    looks = [
        outline_seen._Look((name, side), np.zeros(2), np.ones(2), 0.7, np.array(offsets), np.full(len(offsets), 30.0), 25.0, gain[side])
        for name in FLANKS
        for side, offsets in ((1, [8.0, 22.0]), (-1, [0.4, -8.0]))
    ]
    open_, known = np.zeros((17, 17)), np.zeros((17, 17))
    open_[0, 0], known[0, 0] = 8.0**2, 0.5**2
    assert outline_seen._chosen(looks, open_, 1.0, 1.0) == {0: 0, 1: 1, 2: 0, 3: 1}
    assert outline_seen._chosen(looks, known, 1.0, 1.0) == {1: 0, 3: 0}, "where the roll is known they are other things' edges"


def test_strings_that_miss_make_strings_doubtful_and_not_the_outline():
    outline, normal = seen(drawn(VIEW)), np.array([0.0, 1.0])
    ends = [VIEW.project(MODEL.string_point(k, np.array([0.1, 0.9]) * MODEL.spec.string_length)) for k in range(4)]
    strings = [SeenString(k, (0.1, 0.9), xy + np.array([0.0, 3.0 * (-1) ** k]), normal, 0.3) for k, xy in enumerate(ends)]
    points = {n: tuple(VIEW.project(MODEL.landmarks[n])) for n in REQUIRED_LANDMARKS}
    [told] = as_doubtful_as_told(MODEL, [CalibrationFrame(points, VIEW, [*strings, outline])], scale_px=1.0, lens=LensPrior(1250.0))
    assert all(line.sd_px > 1.0 for line in told.lines[:4])
    assert np.array_equal(told.lines[4].covariance, outline.covariance)


def test_two_choices_that_are_about_as_likely_tell_only_what_they_have_alike():
    """By hand: as above, but the left, too, shows steps near where the pose has it: rolled by 8 px or not at all, nobody knows. The
    stations that no roll moves stay."""
    gain = {side: np.zeros(17) for side in (1, 0, -1)}
    gain[1][0], gain[-1][0] = 1.0, -1.0

    def look(name, side, offsets):
        normal, strengths = np.ones(2), np.full(len(offsets), 30.0)
        return outline_seen._Look((name, side), np.zeros(2), normal, 0.7, np.array(offsets), strengths, 25.0, gain[side])

    flanks = [look(name, side, [0.4 * side, 8.0 * side]) for name in FLANKS for side in (1, -1)]
    others = [look(name, 0, [0.3]) for name in ("waist", "waist", "upper shoulder", "upper shoulder", "lower shoulder")]
    known = np.zeros((17, 17))
    known[0, 0] = 8.0**2
    assert outline_seen._chosen(flanks, known, 1.0, 1.0) == {}
    assert outline_seen._chosen([*flanks, *others], known, 1.0, 1.0) == {4: 0, 5: 0, 6: 0, 7: 0, 8: 0}
    plain = [look(name, side, [0.4 * side]) for name in FLANKS for side in (1, -1)]
    assert outline_seen._chosen(plain, known, 1.0, 1.0) == {0: 0, 1: 0, 2: 0, 3: 0}, "without a rival all are told"


def test_who_sets_landmarks_of_the_body_by_hand_is_asked_no_more_of_its_outline():
    points = {n: (float(k), 0.0) for k, n in enumerate(LANDMARK_NAMES)}
    first = {n: points[n] for n in REQUIRED_LANDMARKS}
    two = {**first, "lower_bout_bass": (0.0, 0.0), "end_button": (9.0, 0.0)}
    assert alignment._body_told(MarkedFrame(0.0, points)) and alignment._body_told(MarkedFrame(0.0, two))
    assert not alignment._body_told(MarkedFrame(0.0, points, found=LANDMARK_NAMES)), "what the program has found is not the hand's"
    for few in (first, {**first, "scroll": (0.0, 0.0), "end_button": (9.0, 0.0)}):
        assert not alignment._body_told(MarkedFrame(0.0, few))


def test_a_station_behind_the_fingerboard_is_not_looked_for():
    """Seen from low on one side, the far shoulder lies behind the fingerboard: what runs there as it does is strings and fingers."""
    low = camera_at(MODEL, -90, 30, focal=1250.0)
    fit = LandmarkFit(low, np.diag([0.01**2] * 3 + [1.5**2] * 3 + [0.01**2]), {}, 1.0, 1.0)
    edge = MODEL.edge("upper shoulder", 1, 40)
    finger = np.vstack([edge, edge[::-1] - np.array([12.0, 12.0, 0.0])])
    picture = drawn(low, over=[(MODEL.board, 20), (finger, 200)])
    outline = see_outline(MODEL, fit, [Sample(picture, low)], scale_px=1.0)
    assert ("upper shoulder", -1) in outline.stations and ("upper shoulder", 1) not in outline.stations


def test_what_the_net_saw_of_the_edge_does_not_count_beside_the_edge_itself(monkeypatch):
    shown = alignment.Shown((), [SeenPoint(n, np.zeros(2), 3.0) for n in ("nut_bass", "end_button", "upper_bout_treble", "scroll")], 1.5)
    outline = seen(drawn(VIEW))
    few = replace(outline, stations=outline.stations[:3])
    string = SeenString(0, (0.1, 0.9), np.zeros((2, 2)), np.array([0.0, 1.0]), 0.3)
    monkeypatch.setattr(alignment, "_refitted", lambda _context, _shown, _near: ["finer"])
    for lines, left in (([outline], ["nut_bass", "scroll"]), ([few, string], [p.name for p in shown.points])):
        fits, [told] = alignment._with_lines(None, [shown], [fitted(0)], [lines])
        assert [p.name for p in told.points] == left and told.click_sd_px == 1.5
        assert fits == ["finer"] and len(told.lines) == len(lines)
    monkeypatch.setattr(alignment, "_refitted", lambda _context, _shown, _near: None)
    before = [fitted(0)]
    assert alignment._with_lines(None, [shown], before, [[outline]]) == (before, [shown]), "where no pose fits, all stays as it was"
