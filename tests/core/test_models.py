"""Body and hand points: a detector's answer read, the turned crop, and the two finders with nets that are made up."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dolcezza.core.base.errors import ModelsMissing
from dolcezza.core.models import body, hands
from dolcezza.core.models.anchors import anchors, detections, overlap
from dolcezza.core.models.body import BodyFinder, refined
from dolcezza.core.models.crop import Square, upright, whole
from dolcezza.core.models.hands import HandFinder
from dolcezza.core.models.nets import LiteNet


def test_anchors_are_as_many_as_the_published_models_have():
    # 2254 and 2016 boxes: the shapes of the two detectors' outputs
    assert anchors(224, body.STRIDES).shape == (2254, 2)
    assert anchors(192, hands.STRIDES).shape == (2016, 2)


def test_layers_of_one_stride_lie_together_cell_by_cell():
    places = anchors(32, (16, 16))
    assert places[:4] == pytest.approx(np.tile([0.25, 0.25], (4, 1)))
    assert places[4:8] == pytest.approx(np.tile([0.75, 0.25], (4, 1)))


def test_overlap_is_the_shared_part_of_the_union():
    # two unit squares, half over each other: 0.5 of 1.5
    got = overlap(np.array([0, 0, 1, 1.0]), np.array([[0.5, 0, 1.5, 1], [2, 2, 3, 3], [0, 0, 1, 1]]))
    assert got == pytest.approx([1 / 3, 0, 1])


def test_what_overlaps_is_one_thing_at_the_mean_by_scores():
    places = np.array([[0.5, 0.5], [0.5, 0.5], [0.1, 0.1], [0.9, 0.9]])
    raw = np.zeros((4, 6))
    raw[:, 2:4] = 20.0
    raw[1, :2] = 5.0
    raw[:, 4:] = 10.0
    # scores 0.75, 0.5, 0.5 and one below what counts
    logits = np.array([[np.log(3.0)], [0.0], [0.0], [-5.0]])
    found = detections(raw, logits, places, 100, 0.4)
    assert len(found) == 2
    assert found[0].box == pytest.approx([0.42, 0.42, 0.62, 0.62]), "0.75 of the first, 0.5 of the one 0.05 beside it"
    assert found[0].points[0] == pytest.approx([0.6, 0.6])
    assert found[0].score == pytest.approx(0.75)
    assert found[1].box == pytest.approx([0.0, 0.0, 0.2, 0.2])


@given(st.floats(-500, 500), st.floats(-500, 500), st.floats(10, 900), st.floats(-3.1, 3.1), st.floats(0, 256), st.floats(0, 256))
def test_a_square_takes_its_own_corners_to_the_picture(x, y, side, angle, u, v):
    square = Square(np.array([x, y]), side, angle)
    got = square.back(np.array([[u, v], [128, 128]]), 256)
    # worked out by hand: turned clockwise on the screen, so that the crop's right points down for a quarter turn
    along, down = (u / 256 - 0.5) * side, (v / 256 - 0.5) * side
    want = [x + along * np.cos(angle) - down * np.sin(angle), y + along * np.sin(angle) + down * np.cos(angle)]
    assert got[0] == pytest.approx(want, abs=1e-6)
    assert got[1] == pytest.approx([x, y], abs=1e-6)


def test_the_crop_shows_what_lies_in_the_square():
    picture = np.zeros((100, 200, 3), np.uint8)
    picture[40:60, 100:160] = 255
    cut = Square(np.array([130.0, 50.0]), 20.0).cut(picture, 10, -1.0, 1.0, repeat_border=False)
    assert cut.dtype == np.float32 and cut == pytest.approx(np.ones((10, 10, 3)))
    assert Square(np.array([0.0, 50.0]), 20.0).cut(picture + 255, 10, 0.0, 1.0, repeat_border=False)[:, 0].max() == 0.0
    assert whole(picture).side == 200 and whole(picture).middle == pytest.approx([100, 50])


def test_upright_turns_the_way_to_point_up():
    assert upright(np.array([0, 0.0]), np.array([0, -5.0])) == pytest.approx(0.0)
    assert upright(np.array([0, 0.0]), np.array([5.0, 0])) == pytest.approx(np.pi / 2)
    assert abs(upright(np.array([0, 0.0]), np.array([0, 5.0]))) == pytest.approx(np.pi)


def test_a_point_goes_to_the_middle_of_its_heat_and_stays_without():
    heat = np.full((64, 64, 2), -20.0)
    heat[30, 21, 0] = heat[30, 23, 0] = 20.0
    got = refined(np.array([[20.5 / 64, 31.5 / 64], [0.5, 0.5]]), heat)
    assert got[0] == pytest.approx([22 / 64, 30 / 64], abs=1e-6)
    assert got[1] == pytest.approx([0.5, 0.5]), "no cell above a half: left alone"


class Detector:
    """Always one thing: a box about the middle with key points (px of its picture)."""

    def __init__(self, size, cells, points) -> None:
        self.size, self._cells, self._points, self.asked = size, cells, points, 0

    def __call__(self, picture):
        self.asked += 1
        places = anchors(self.size, self._cells) * self.size
        k = int(np.argmin(np.linalg.norm(places - self.size / 2, axis=1)))
        raw, logits = np.zeros((len(places), 4 + 2 * len(self._points))), np.full((len(places), 1), -9.0)
        raw[k, 2:4] = 30.0
        raw[k, :2] = self.size / 2 - places[k]
        raw[k, 4:] = (np.array(self._points) - places[k]).ravel()
        logits[k] = 3.0
        return [raw, logits]


class Landmarks:
    """Points at a fixed place of the crop, as sure as told."""

    def __init__(self, size, raw, sure=0.9) -> None:
        self.size, self._raw, self.sure = size, raw, sure

    def __call__(self, picture):
        return [self._raw.ravel(), np.array([self.sure]), np.full((64, 64, 39), -20.0)]


def body_net():
    raw = np.zeros((39, 5))
    raw[:, :2] = 128.0
    raw[33, :2], raw[34, :2] = (128, 160), (128, 20)
    raw[11, :2] = (0, 0)
    return Landmarks(256, raw)


def test_a_body_is_found_once_and_then_followed_by_its_own_points():
    detector, net = Detector(224, body.STRIDES, [(112, 112), (112, 62), (0, 0), (0, 0)]), body_net()
    finder = BodyFinder(detector, net)
    picture = np.zeros((448, 448, 3), np.uint8)
    points = finder.find(picture)
    # hips at 224, 224; rim 100 above: a square of 2 * 1.25 * 100 about the hips, its corner is point 11
    assert points.shape == (33, 3)
    assert points[11, :2] == pytest.approx([99, 99]) and points[0, :2] == pytest.approx([224, 224])
    finder.find(picture)
    assert detector.asked == 1
    net.sure = 0.2
    assert finder.find(picture) is None, "not sure enough: nobody"
    assert finder.find(picture) is None
    assert detector.asked == 2, "what was lost is looked for anew"
    net.sure = 0.9
    finder.find(picture)
    finder.forget()
    finder.find(picture)
    assert detector.asked == 4


def test_hands_lie_towards_the_fingers_of_their_palms():
    raw = np.zeros((21, 3))
    raw[:, :2] = 112.0
    finder = HandFinder(Detector(192, hands.STRIDES, [(96, 106), (0, 0), (96, 80), *[(0, 0)] * 4]), Landmarks(224, raw))
    [(points, sure)] = finder.find(np.zeros((192, 192, 3), np.uint8))
    assert points == pytest.approx(np.tile([96.0, 81.0], (21, 1))), "half a box of 30 above the middle"
    assert sure == pytest.approx(0.9)


def test_a_model_that_is_not_there_is_said(tmp_path):
    with pytest.raises(ModelsMissing, match=r"gone\.tflite"):
        LiteNet(tmp_path / "gone.tflite", (0,))
    (tmp_path / "bad.tflite").write_bytes(b"not a model")
    with pytest.raises(ModelsMissing, match="not a model"):
        LiteNet(tmp_path / "bad.tflite", (0,))


def test_a_body_that_lies_on_its_side_is_not_followed():
    """What was followed has turned into something else: it is looked for anew in the same picture, and not followed from there."""
    detector, net = Detector(224, body.STRIDES, [(112, 112), (112, 62), (112, 70), (0, 0)]), body_net()
    stands = net._raw.copy()
    stands[[11, 12], :2], stands[[23, 24], :2] = (128, 60), (128, 160)
    lies = stands.copy()
    lies[[11, 12], :2], lies[[23, 24], :2] = (60, 128), (160, 128)
    net._raw = stands
    finder, picture = BodyFinder(detector, net), np.zeros((448, 448, 3), np.uint8)
    assert body.leaning(finder.find(picture)) == pytest.approx(0.0)
    finder.find(picture)
    assert detector.asked == 1
    net._raw = lies
    assert body.leaning(finder.find(picture)) == pytest.approx(np.pi / 2)
    assert detector.asked == 2, "in the same picture"
    net._raw = stands
    assert body.leaning(finder.find(picture)) == pytest.approx(0.0)
    assert detector.asked == 3, "what lies was not followed"
    finder.find(picture)
    assert detector.asked == 3


def test_of_two_who_are_found_the_one_that_stands_is_followed():
    class Two(Detector):
        def __call__(self, picture):
            raw, logits = super().__call__(picture)
            places = anchors(self.size, self._cells) * self.size
            k = int(np.argmin(np.linalg.norm(places - 40, axis=1)))
            raw[k, 2:4], raw[k, :2] = 30.0, 40 - places[k]
            raw[k, 4:] = (np.array([(40, 40), (90, 40), (80, 40), (0, 0)]) - places[k]).ravel()
            logits[k] = 5.0
            return [raw, logits]

    found = BodyFinder(Two(224, body.STRIDES, [(112, 112), (112, 62), (112, 70), (0, 0)]), body_net()).find(
        np.zeros((448, 448, 3), np.uint8)
    )
    assert found[0, :2] == pytest.approx([224, 224]), "the surer one lies along the picture"
