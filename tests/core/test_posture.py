"""The posture: signs of head and nose, endpin and knees, and the lines that show each figure; hand-placed players."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from dolcezza.core.arm.chain import View
from dolcezza.core.arm.posture import HEAD_HALF_BREADTH, posture
from dolcezza.core.arm.posture_lines import CLOCK_HAND
from dolcezza.core.body.points import ARMS, EAR_LEFT, EAR_RIGHT, HIPS, KNEES, NOSE, BodySeen
from dolcezza.core.body.proportions import build
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import InstrumentModel
from tests_support import camera_at

MOMENTS = 5


class Player:
    """A player before the camera, every body point placed in camera space by hand."""

    def __init__(self, name: str = "violin 4/4", azimuth: float = -15.0) -> None:
        self.model = InstrumentModel(instrument(name))
        self.person = build(self.model)
        camera = camera_at(self.model, azimuth, 30)
        rotation = np.tile(camera.rotation, (MOMENTS, 1, 1))
        self.view = View(
            rotation, np.tile(camera.tvec, (MOMENTS, 1)), camera.focal, camera.center, rotation @ self.person.down
        )  # fmt: skip
        self.down, self.ahead = self.view.down[0], camera.rotation @ self.person.ahead
        self.right = np.cross(self.down, self.ahead)
        self.shoulder = self.view.place(self.person.shoulder)
        self.points = np.full((MOMENTS, 33, 2), 400.0)
        tall = self.person.stature
        other = self.shoulder[0] - 0.22 * tall * self.right
        for side, place in (("right", self.shoulder[0]), ("left", other)):
            way = self.right if side == "right" else -self.right
            self.put(ARMS[side][0], place)
            self.put(HIPS[side], place - 0.05 * tall * way + 0.29 * tall * self.down)
        self.head = 0.5 * (self.shoulder[0] + other) - 0.15 * tall * self.down
        self.look(0.0)

    def put(self, k: int, camera_mm: np.ndarray) -> None:
        self.points[:, k] = self.view.see(np.tile(camera_mm, (MOMENTS, 1)))

    def look(self, left_deg: float, *, tilt_deg: float = 0.0) -> None:
        """Turn the head to the player's left and tilt it to the left shoulder."""
        half, turn, tilt = HEAD_HALF_BREADTH * self.person.stature, np.radians(left_deg), np.radians(tilt_deg)
        ahead = np.cos(turn) * self.ahead - np.sin(turn) * self.right
        right = np.cos(turn) * self.right + np.sin(turn) * self.ahead
        ears = np.cos(tilt) * right - np.sin(tilt) * self.down
        self.put(EAR_RIGHT, self.head + half * ears)
        self.put(EAR_LEFT, self.head - half * ears)
        self.put(NOSE, self.head + 1.3 * half * ahead)

    def stands(self):
        seen = BodySeen(np.arange(MOMENTS) / 3.0, self.points, np.ones((MOMENTS, 33)))
        return posture(self.model, self.person, self.view, seen, "right", self.shoulder)


def test_a_head_tilted_to_the_instrument_counts_as_more():
    player = Player()
    player.look(0.0, tilt_deg=0.0)
    level = player.stands()["head_tilt_deg"].value
    player.look(0.0, tilt_deg=20.0)
    to_it = player.stands()["head_tilt_deg"].value
    player.look(0.0, tilt_deg=-20.0)
    away = player.stands()["head_tilt_deg"].value
    assert to_it - level == pytest.approx(20.0, abs=7.0), "the left ear, on the instrument's side, comes down"
    assert away - level == pytest.approx(-20.0, abs=7.0)


def test_a_nose_turned_to_the_scroll_is_nearer_to_it():
    player = Player()
    apart = {}
    for left in (-20.0, 0.0, 20.0, 40.0):
        player.look(left)
        apart[left] = player.stands()["nose_to_scroll_deg"].value
    assert apart[-20.0] > apart[0.0] > apart[20.0], "the instrument is on the player's left"
    stands = player.stands()
    left_of_ahead = 30.0 * (12.0 - stands["clock"].value)
    assert apart[20.0] == pytest.approx(abs(left_of_ahead - 20.0), abs=15.0)


def test_neck_and_clock_are_drawn_from_bridge_and_shoulders():
    player = Player()
    stands = player.stands()
    nut = player.view.see(player.view.place(np.array([player.model.spec.string_length, 0, 0])))[0]
    bridge = player.view.see(player.view.place(np.zeros(3)))[0]
    neck, floor = stands["neck_deg"].lines
    assert np.allclose(neck, [bridge, nut], atol=1e-6) and np.allclose(floor[0], bridge)
    if abs(stands["neck_deg"].value) < 1.0:
        assert np.linalg.norm(np.subtract(floor[1], nut)) < 10.0, "a level neck lies on the floor's direction"
    own, ahead = stands["clock"].lines
    assert np.allclose(own[0], bridge) and np.linalg.norm(np.subtract(own[1], bridge)) < np.linalg.norm(nut - bridge) / CLOCK_HAND
    assert not np.allclose(own[1], ahead[1], atol=5.0)
    assert 0.0 <= stands["clock"].t_s <= 4 / 3


def test_the_top_is_told_against_straight_up():
    """A top that faces the ceiling lies at 0 degrees; turned about its strings it faces outwards by as much."""
    player = Player()
    strings = player.view.rotation[0][:, 0]
    flat = -player.down - (-player.down @ strings) * strings
    flat /= np.linalg.norm(flat)
    lean = np.degrees(np.arccos(np.clip(-flat @ player.down, -1, 1)))
    for turn in (0.0, 30.0, 60.0):
        c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
        out = c * flat + s * np.cross(strings, flat)
        player.view = replace(player.view, rotation=np.tile(np.column_stack([strings, np.cross(out, strings), out]), (MOMENTS, 1, 1)))
        told = player.stands()["top_deg"]
        assert told.value == pytest.approx(np.degrees(np.arccos(np.cos(np.radians(turn)) * np.cos(np.radians(lean)))), abs=0.1)
    (bridge, top), (_, up) = told.lines
    assert np.dot(np.subtract(up, bridge), player.down[:2]) < 0 and not np.allclose(top, up, atol=5.0)
    assert "top_deg" not in Player("cello 4/4").stands()


def test_the_lines_turn_with_a_mirrored_picture():
    figure = Player().stands()["neck_deg"]
    turned = figure.as_filmed(1280, scale=2.0)
    (x, y), _ = figure.lines[0]
    assert turned.lines[0][0] == pytest.approx((1280 - 2 * x, 2 * y))
    assert figure.as_filmed(None).lines == figure.lines


def test_a_cello_beside_the_midline_is_drawn_beside_it():
    player = Player("cello 4/4", azimuth=10.0)
    tall = player.person.stature
    for k, side in zip(KNEES, ("left", "right"), strict=True):
        way = player.right if side == "right" else -player.right
        player.put(k, player.shoulder[0] - 0.11 * tall * player.right + 0.1 * tall * way + 0.31 * tall * player.down)
    stands = player.stands()
    button, foot = np.array(stands["endpin_offset"].lines[0])
    width = np.linalg.norm(player.points[0, 12] - player.points[0, 11])
    assert np.linalg.norm(button - foot) / width == pytest.approx(abs(stands["endpin_offset"].value), abs=0.12)
    assert len(stands["knee_over_hip"].lines) == 3 and stands["knee_over_hip"].value < 0.2
    assert "clock" not in stands
