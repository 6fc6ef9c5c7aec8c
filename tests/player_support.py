"""A simulated player for the tests: an arm whose shoulder, elbow and wrist are known, and its body as a model would see it."""

from __future__ import annotations

import numpy as np

from dolcezza.core.arm.chain import Hand, View, joints
from dolcezza.core.body.points import ARMS
from dolcezza.core.body.proportions import build
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import InstrumentModel
from tests_support import camera_at

MODEL = InstrumentModel(instrument("violin 4/4"))
VIEW = camera_at(MODEL, -15, 30)
PERSON = build(MODEL)


def view_of(n: int) -> View:
    rotation = np.tile(VIEW.rotation, (n, 1, 1))
    return View(rotation, np.tile(VIEW.tvec, (n, 1)), VIEW.focal, VIEW.center, rotation @ PERSON.down)


def bowing(n: int = 60, string: int = 1):
    """Place on the bow and hand in camera space of straight whole bows."""
    place = 0.5 - 0.42 * np.cos(2 * np.pi * np.arange(n) / 30)
    view = view_of(n)
    lean = np.radians(MODEL.string_planes[string])
    along = np.tile(MODEL.bow_direction(np.zeros(1), MODEL.string_planes[string : string + 1]), (n, 1))
    up, nut = np.tile([0.0, -np.sin(lean), np.cos(lean)], (n, 1)), np.tile([1.0, 0, 0], (n, 1))
    frog = MODEL.string_point(string, np.full(n, 28.0)) - along * (place * MODEL.spec.hair_length)[:, None]
    axes = np.einsum("nij,nkj->nki", view.rotation, np.stack([along, nut, up], axis=1))
    return place, view, Hand(np.einsum("nij,nj->ni", view.rotation, frog) + view.translation, axes, place)


def true_arm(n: int = 60, *, shoulder=(15.0, -20.0, 10.0), turn=0.3):
    place, view, hand = bowing(n)
    numbers = np.concatenate(
        [PERSON.shoulder + shoulder, np.log([PERSON.upper_arm * 1.04, PERSON.forearm * 1.02]), PERSON.wrist + np.array([5, -4, 6])]
    )
    turns = turn + 0.25 * np.sin(2 * np.pi * np.arange(n) / 30)
    return place, view, hand, joints(view, hand, numbers, turns)


def body_at(view: View, arm, n: int) -> np.ndarray:
    """33 points (n, 33, 2) of a player: the bow arm, the other shoulder, hips, head."""
    points = np.full((n, 33, 2), 400.0)
    for k, joint in zip(ARMS["right"], arm[:3], strict=True):
        points[:, k] = view.see(joint)
    right = np.cross(view.down, view.rotation @ PERSON.ahead)
    other = arm[0] - 370.0 * right
    points[:, 11], points[:, 13], points[:, 15] = view.see(other), view.see(other + 200 * view.down), view.see(other + 350 * view.down)
    trunk = 0.29 * PERSON.stature * view.down
    points[:, 24], points[:, 23] = view.see(arm[0] - 60 * right + trunk), view.see(other + 60 * right + trunk)
    points[:, 8], points[:, 7] = view.see(arm[0] - 120 * right - 200 * view.down), view.see(other + 120 * right - 200 * view.down)
    points[:, 0] = 0.5 * (points[:, 7] + points[:, 8])
    return points
