"""The instrument found without a click: squares to look at, what agrees, which way round, and a take that is found as a whole."""

from __future__ import annotations

from concurrent.futures import Future
from dataclasses import replace

import cv2
import numpy as np
import pytest

from conftest import TRUTH
from dolcezza.core.base.errors import MediaError, ModelsMissing, TrackingError
from dolcezza.core.base.job import finish
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.pose import best_pose, swapped
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import LANDMARK_NAMES, InstrumentModel
from dolcezza.core.media.video import Frame
from dolcezza.core.models.crop import Square
from dolcezza.core.models.landmarks import Guess
from dolcezza.core.pipeline import find_instrument as finding
from dolcezza.core.pipeline.find_instrument import (
    CLEARLY,
    CLOSE_PX,
    FoundFrame,
    _as_before,
    _clearest,
    _hands_contradict,
    _told,
    _worth,
    agreed,
    bow_seen,
    close_square,
    closeup,
    detail_square,
    find_instrument,
    first_idea,
    found_fit,
    other_way_round,
    whole_square,
    with_detail,
)  # fmt: skip
from dolcezza.core.pipeline.fit_file import fit_from_dict, fit_to_dict
from dolcezza.core.pipeline.landmark_pass import LandmarkPass, seen_in_frame
from takes_support import take_video

SIZE = (1280, 720)
MODEL = InstrumentModel(instrument("violin 4/4"))
PLACES_MM = np.array([MODEL.landmarks[n] for n in LANDMARK_NAMES])
TRUE = Camera(np.array([2.2, 0.6, -0.5]), np.array([-60.0, 20, 1900]), 1300.0, (640.0, 360.0)).project(PLACES_MM)


def guess(xy=TRUE, share=1.0, sd=1.5) -> Guess:
    return Guess(np.vstack([xy, np.zeros((2, 2))]), np.broadcast_to(np.asarray(share, float), (14,)).copy(), np.full(14, sd))


def test_squares_hold_the_instrument_with_the_neck_to_the_right():
    square = close_square(TRUE)
    back = np.linalg.inv(np.vstack([square.to_picture(CLOSE_PX), [0, 0, 1]]))
    seen = TRUE @ back[:2, :2].T + back[:2, 2]
    assert (seen > 0).all()
    assert (seen < CLOSE_PX).all()
    assert seen[11, 0] > seen[10, 0] + 150  # scroll right of the end button
    assert seen[11, 1] == pytest.approx(seen[10, 1], abs=1.0)
    part = detail_square(TRUE)
    assert part.side == pytest.approx(0.43 * square.side / 1.22)
    assert part.middle == pytest.approx(TRUE[:4].mean(axis=0))


@pytest.mark.parametrize("side", [150.0, 700.0, 2500.0])
def test_a_closeup_shows_the_same_place_as_its_way_says(side):
    """A bright spot in the picture is where the way back says, also in a square that is turned or made much smaller."""
    from dolcezza.core.models.crop import Square

    picture = np.zeros((720, 1280, 3), np.uint8)
    radius = side / 20
    cv2.circle(picture, (16 * 600 - 8, 16 * 300 - 8), round(16 * radius), (255, 255, 255), -1, cv2.LINE_AA, 4)
    part, way = closeup(picture, Square(np.array([590.0, 310.0]), side, 0.9), 320)
    y, x = np.mgrid[0:320, 0:320] + 0.5
    weight = part[..., 0].astype(float)
    middle = np.array([(x * weight).sum(), (y * weight).sum()]) / weight.sum()
    assert way[:, :2] @ middle + way[:, 2] == pytest.approx([600.0, 300.0], abs=0.25 * max(1.0, side / 320))


def test_the_whole_picture_is_looked_at_in_steps_of_64():
    small, way = whole_square(np.zeros((1080, 1920, 3), np.uint8))
    assert small.shape == (256, 448, 3)
    assert way @ [448, 252, 1] == pytest.approx([1920, 1080])


def test_what_one_instrument_explains_is_believed_and_the_rest_left_out():
    wrong = TRUE.copy()
    wrong[6] += [45.0, -20.0]
    fit, names = agreed(MODEL, guess(wrong), SIZE)
    assert "lower_bout_bass" not in names
    assert len(names) == 11
    assert fit.rms_px < 0.5
    hidden = np.ones(14)
    hidden[[4, 5, 9]] = 0.1
    _, names = agreed(MODEL, guess(share=hidden), SIZE)
    assert len(names) == 9
    assert agreed(MODEL, guess(share=np.where(np.arange(14) < 3, 0.1, 1.0)), SIZE) is None
    assert agreed(MODEL, guess(np.random.default_rng(0).uniform(0, 700, (12, 2))), SIZE) is None


def test_a_first_idea_needs_enough_of_the_instrument():
    assert first_idea(guess()) == pytest.approx(TRUE)
    assert first_idea(guess(share=0.05)) is None
    no_scroll = np.ones(14)
    no_scroll[11] = 0.0
    idea = first_idea(guess(share=no_scroll))
    assert np.linalg.norm(idea[11] - TRUE[11]) < 0.3 * np.linalg.norm(TRUE[11] - TRUE[10])
    assert first_idea(guess(share=np.where(np.isin(np.arange(14), [10, 11]), 0.0, 1.0))) is None


def test_the_detail_counts_where_it_sees_something():
    detail = guess(TRUE + 1.0, share=np.array([1, 0.1, 1, 1] + [1] * 10))
    both = with_detail(guess(), detail)
    assert both.xy[[0, 2, 3]] == pytest.approx(TRUE[[0, 2, 3]] + 1)
    assert both.xy[[1, 4, 11]] == pytest.approx(TRUE[[1, 4, 11]])


def frame(t_s: float, score: float) -> FoundFrame:
    return FoundFrame(t_s, {}, best_pose(MODEL, dict(zip(LANDMARK_NAMES, TRUE, strict=True)), size=SIZE, sd_px=1.5), score)


def test_which_way_round_is_told_by_the_hands_where_both_are_found():
    found = {False: [frame(0, 9.0)] * 4, True: [frame(0, 9.4)] * 4}

    def flip(found, votes):
        worth = _worth(found, votes)
        return worth[True] > worth[False]

    assert not flip(found, {False: [None] * 4, True: [None] * 4}), "most pictures are as they were filmed"
    assert not flip(found, {False: [True] * 4, True: [False] * 4})
    assert flip(found, {False: [False] * 4, True: [True] * 4})
    assert flip({False: [], True: [frame(0, 5.0)]}, {False: [], True: [None]})
    # hands that are seldom seen leave it open for some more looks; hands that are seen decide
    seldom, often = (
        _worth(found, v) for v in ({False: [None] * 4, True: [None, True, True, None]}, {False: [True] * 4, True: [False] * 4})
    )
    early, later = CLEARLY
    assert max(seldom.values()) < later * min(seldom.values()) and max(often.values()) > early * min(often.values())
    # a mirrored picture is the exception: after three looks it is not yet decided, however well the hands are seen
    worth = _worth({False: [frame(0, 9.0)] * 3, True: [frame(0, 9.0)] * 3}, {False: [False] * 3, True: [True] * 3})
    assert worth[False] < worth[True] < early * worth[False]


def test_a_bow_is_seen_in_the_right_hand_or_not_at_all():
    """From the frog on the treble side to the head beyond the bass side; the net's two last places are those of the bow's ends."""
    camera = frame(0, 9.0).fit.camera
    ends = camera.project(np.array([[30.0, -300.0, 25.0], [30.0, 300.0, 25.0]]))
    share = np.r_[np.ones(12), 0.8, 0.5]
    assert bow_seen(MODEL, replace(guess(share=share), xy=np.vstack([TRUE, ends])), camera) == pytest.approx(0.4)
    assert bow_seen(MODEL, replace(guess(share=share), xy=np.vstack([TRUE, ends[::-1]])), camera) == 0.0
    assert bow_seen(MODEL, replace(guess(share=share), xy=np.vstack([TRUE, ends[:1], ends[:1]])), camera) == 0.0


def test_the_bow_tells_the_hand_where_no_hands_are_seen():
    def seen(bow: float) -> list[FoundFrame]:
        return [replace(frame(t, 9.0), bow=bow) for t in (0.0, 1.0, 2.0)]

    nobody = {False: [None] * 3, True: [None] * 3}
    plain = {False: seen(0.1), True: seen(0.7)}
    worth = _worth(plain, nobody)
    assert worth[True] > worth[False] and _told(plain, nobody, True, 2.0)
    alike = {False: seen(0.5), True: seen(0.6)}
    assert not _told(alike, nobody, False, 2.0) and not _told(alike, nobody, True, 2.0)
    assert _told(alike, {False: [True] * 3, True: [False] * 3}, False, 2.0), "hands tell it whatever the bow shows"
    assert _told({False: seen(0.6), True: seen(0.6)[:1]}, nobody, False, 2.0), "found one way nearly alone"
    assert not _told({False: seen(0.6), True: seen(0.6)[:1]}, nobody, False, 0.0), "looked at one way alone from then on"


def test_hands_that_all_say_otherwise_turn_what_was_found():
    """The net saw nothing in the picture and everything in the mirror's; the hands in the mirror's are those of a left-handed player."""
    votes = {False: [], True: [None, False, None, False, False, False]}
    assert _hands_contradict(votes, True) and not _hands_contradict(votes, False)
    assert not _hands_contradict({False: [], True: [False, False]}, True), "two are too few"
    assert _hands_contradict({False: [], True: [False]}, True, fewest=1), "but enough to go on looking both ways"
    assert not _hands_contradict({False: [True, True], True: [True, True, False]}, True), "nor those that do not agree"
    assert _hands_contradict({False: [False] * 3, True: [True]}, False)
    seen = FoundFrame(1.0, {n: (SIZE[0] - x, y) for n, (x, y) in zip(LANDMARK_NAMES, TRUE, strict=True)}, frame(1.0, 9.0).fit, 9.0)
    seen = replace(seen, points=swapped(seen.points))
    back = other_way_round(MODEL, seen, SIZE)
    assert {n: back.points[n] for n in LANDMARK_NAMES} == {n: pytest.approx(tuple(xy)) for n, xy in zip(LANDMARK_NAMES, TRUE, strict=True)}
    assert back.fit.camera.project(MODEL.landmarks["scroll"]) == pytest.approx(TRUE[11], abs=1.0) and back.score == 9.0


def test_a_square_that_hardly_moves_is_not_looked_at_again():
    """The second close look is for what the first has moved: the same place in the same turn shows the same."""
    here = Square(np.array([300.0, 200.0]), 250.0, 3.1)
    assert _as_before(Square(np.array([305.0, 203.0]), 258.0, 3.1 - 2 * np.pi), here)
    assert not _as_before(replace(here, middle=np.array([312.0, 200.0])), here)
    assert not _as_before(replace(here, side=280.0), here) and not _as_before(replace(here, angle=3.0), here)


def test_of_the_frames_that_show_most_the_one_that_fits_best_is_kept():
    def seen(t_s, score, rms_px):
        return replace(frame(t_s, score), fit=replace(frame(t_s, score).fit, rms_px=rms_px))

    kept = _clearest([seen(1.0, 10.0, 3.0), seen(2.0, 9.5, 1.5), seen(3.0, 9.2, 2.0), seen(4.0, 6.0, 0.5)])
    assert kept.t_s == 2.0, "what shows little fits easily"


def test_found_landmarks_are_in_the_fit_file_with_their_names():
    points = {n: list(p) for n, p in zip(LANDMARK_NAMES, TRUE.tolist(), strict=True)}
    data = {"instrument": "violin 4/4", "pins": [{"t_s": 1.0, "points": points, "found": ["scroll", "nut_bass", "nonsense"]}]}
    fit = fit_from_dict(data)
    assert fit.landmarks[0].found == ("scroll", "nut_bass")
    assert fit_from_dict(fit_to_dict(fit)) == fit
    del data["pins"][0]["found"]
    assert fit_from_dict(data).landmarks[0].found == ()


class NothingSeen:
    """Models that see nothing at all."""

    def warm(self, *what):
        pass

    def body(self, image, *, anew=False):
        future = Future()
        future.set_exception(ModelsMissing("none"))
        return future

    def hands(self, image):
        raise AssertionError("nobody asks for hands here")

    def instrument(self, image):
        future = Future()
        future.set_result(guess(share=0.0))
        return future


def test_an_instrument_that_is_not_there_is_said(film):
    with pytest.raises(TrackingError, match="was not found"):
        finish(find_instrument(film(), instrument("violin 4/4"), NothingSeen()))


def test_what_is_found_in_the_mirrors_picture_alone_is_turned_where_the_hands_say_so(film, monkeypatch):
    """The white square is on the left as filmed; found is the instrument only where it is on the right."""
    places = {n: (x / 8, y / 8) for n, (x, y) in zip(LANDMARK_NAMES, TRUE, strict=True)}

    def in_frame(model, picture, look, t_s):
        mirrored = picture[:, 80:].mean() > picture[:, :80].mean()
        return replace(frame(t_s, 9.0), points=places) if mirrored else None

    monkeypatch.setattr(finding, "_in_frame", in_frame)
    monkeypatch.setattr(finding, "_bow_in_the_right_hand", lambda *_: False)
    found = finish(find_instrument(film(frames=10), instrument("violin 4/4"), NothingSeen()))
    assert not found.flip
    assert found.frame.points["bridge_bass"] == pytest.approx((160 - places["bridge_treble"][0], places["bridge_treble"][1]))
    monkeypatch.setattr(finding, "_bow_in_the_right_hand", lambda *_: True)
    assert finish(find_instrument(film(frames=10), instrument("violin 4/4"), NothingSeen())).flip, "a left-handed player's hands agree"


def test_hands_near_each_other_do_not_say_which_of_them_holds_the_bow(monkeypatch):
    """String of the violin about 300 px long; at the frog both hands are at the instrument."""
    fit = frame(0, 9.0).fit
    neck = fit.camera.project(0.5 * (MODEL.landmarks["nut_bass"] + MODEL.landmarks["board_bass"]))
    string = float(np.linalg.norm(fit.camera.project(MODEL.landmarks["bridge_bass"]) - fit.camera.project(MODEL.landmarks["nut_bass"])))

    def says(left: float, right: float) -> bool | None:
        body = np.zeros((33, 3))
        body[15], body[16] = (neck[0] + left * string, neck[1], 1.0), (neck[0], neck[1] + right * string, 1.0)
        monkeypatch.setattr(finding, "whole_body", lambda *_: body)
        return finding._bow_in_the_right_hand(np.zeros((*SIZE[::-1], 3)), fit, MODEL, NothingSeen())

    assert says(0.3, 1.2) is True and says(1.2, 0.3) is False
    assert says(0.3, 0.6) is None, "neither is away from the neck"
    assert says(0.9, 1.2) is None, "both are"


def test_a_picture_is_looked_at_both_ways_until_hands_or_landmarks_decide(film, monkeypatch):
    """A violin seen from the front is found in the mirror's picture, too: the last hand seen is a left-handed player's."""
    asked = []

    def hand(picture, *_):
        asked.append(picture[:, :80].mean() < picture[:, 80:].mean())
        return asked[-1] if len(asked) > 14 else None

    def in_frame(model, picture, look, t_s):
        return frame(t_s, 8.8 if picture[:, :80].mean() < picture[:, 80:].mean() else 9.0)

    monkeypatch.setattr(finding, "_in_frame", in_frame)
    monkeypatch.setattr(finding, "_bow_in_the_right_hand", hand)
    assert finish(find_instrument(film(frames=10), instrument("violin 4/4"), NothingSeen())).flip
    assert len(asked) == 20


def test_a_file_that_is_no_video_is_said(tmp_path):
    (tmp_path / "x.mp4").write_bytes(b"nothing")
    with pytest.raises(MediaError):
        finish(found_fit(tmp_path / "x.mp4", "violin 4/4", NothingSeen()))


@pytest.mark.accuracy
@pytest.mark.parametrize(("stem", "name"), [("dev-straight", "violin 4/4"), ("demo-b1", "viola 16"), ("dev-cello", "cello 4/4")])
def test_rendered_takes_are_found_by_themselves(stem, name):
    """Takes rendered by another program than the one the net learnt from: bridge and fingerboard within some pixels."""
    from dolcezza.services.analysis import find_landmarks

    fit = finish(find_landmarks(take_video(stem), name))
    assert fit.handed == "right"
    truth = np.load(TRUTH / f"{stem}.truth.npz")
    model = InstrumentModel(instrument(name))
    for marked in fit.landmarks:
        assert set(marked.found) == set(marked.points)
        true = truth["landmarks_px"][int(np.abs(truth["t"] - marked.t_s).argmin())]
        told = best_pose(model, marked.points, size=SIZE, sd_px=1.5).camera.project(PLACES_MM if name == "violin 4/4" else np.array(
            [model.landmarks[n] for n in LANDMARK_NAMES]))  # fmt: skip
        assert np.median(np.linalg.norm(told - true, axis=1)) < 6.0


def test_without_the_net_a_take_is_measured_from_its_own_landmarks(film):
    """Nothing is seen, nothing is lost; only finding by itself is not possible then."""

    class NoNet(NothingSeen):
        def instrument(self, image):
            future = Future()
            future.set_exception(ModelsMissing("landmarks.onnx is not there, or cannot be read"))
            return future

    camera_ = Camera(np.array([2.2, 0.6, -0.5]), np.array([-60.0, 20, 1900]), 1300.0, (640.0, 360.0))
    picture = np.full((720, 1280, 3), 90, np.uint8)
    assert seen_in_frame(MODEL, camera_, picture, NoNet(), scale_px=1.0) == []
    passing = LandmarkPass(MODEL, 2.0, NoNet())
    passing.look(Frame(0, 0.0, picture[..., 0]), camera_, 0)
    assert passing.seen([camera_]) == []
    with pytest.raises(ModelsMissing):
        finish(find_instrument(film(), instrument("violin 4/4"), NoNet()))


def test_a_look_counts_where_one_instrument_explains_it():
    class Sees(NothingSeen):
        def __init__(self, places):
            self.places = places

        def instrument(self, image):
            future = Future()
            square = close_square(TRUE) if image.shape[0] == CLOSE_PX else detail_square(TRUE)
            back = np.linalg.inv(np.vstack([square.to_picture(image.shape[0]), [0, 0, 1]]))[:2]
            future.set_result(guess(self.places).moved(back))
            return future

    camera_ = Camera(np.array([2.2, 0.6, -0.5]), np.array([-60.0, 20, 1900]), 1300.0, (640.0, 360.0))
    wrong = TRUE.copy()
    wrong[9] += [50.0, 30.0]
    picture = np.full((720, 1280), 90, np.uint8)
    for places, least in ((TRUE, 12), (wrong, 11)):
        passing = LandmarkPass(MODEL, 2.0, Sees(places))
        passing.look(Frame(0, 0.0, picture), camera_, 0)
        [look] = passing.seen([camera_])
        assert (look.share > 0).sum() == least
        good = look.share > 0
        assert look.xy[good] == pytest.approx(TRUE[good], abs=1.0)
    scattered = LandmarkPass(MODEL, 2.0, Sees(np.random.default_rng(3).uniform(100, 600, (12, 2))))
    scattered.look(Frame(0, 0.0, picture), camera_, 0)
    assert scattered.seen([camera_]) == []
