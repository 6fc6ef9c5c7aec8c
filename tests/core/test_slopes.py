"""Derivatives that are written out, against central differences of what they are the derivative of."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest

from dolcezza.core.bowing.solve import BowProblem
from dolcezza.core.camera import pose
from dolcezza.core.camera.bow_view import hair_ends, hair_ends_slopes, see, see_slopes
from dolcezza.core.camera.poses import Poses
from dolcezza.core.camera.seen import SeenEdge, SeenString
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import InstrumentModel
from tests_support import camera_at, seen_lines

STEPS = np.array([0.05, 0.02, 0.02, 1e-4])
"""By parameter: mm, deg, deg, share."""


def differences(of: Callable[[np.ndarray], np.ndarray], at: np.ndarray, steps: np.ndarray) -> np.ndarray:
    return np.stack([(of(at + s) - of(at - s)) / (2 * s[k]) for k, s in enumerate(np.diag(steps))], axis=-1)


def bows(model: InstrumentModel, n: int = 12) -> tuple[np.ndarray, np.ndarray]:
    """Bows anywhere that bows are, on single strings and on pairs: parameters (n, 4) and strings (n,)."""
    rng = np.random.default_rng(3)
    string = rng.integers(0, len(model.stop_planes), n)
    places = rng.uniform([5, -25, -12, 0.05], [40, 25, 12, 0.95], (n, 4))
    return places + np.column_stack([np.zeros((n, 2)), model.stop_planes[string], np.zeros(n)]), string


@pytest.mark.parametrize("radial", [0.0, 0.05])
@pytest.mark.parametrize("name", ["violin 4/4", "cello 4/4"])
def test_the_hairs_ends_move_in_space_and_in_the_picture_as_differences_say(name, radial):
    model = InstrumentModel(instrument(name))
    params, string = bows(model)
    moved = hair_ends_slopes(model, params, string)
    np.testing.assert_allclose(moved, differences(lambda p: hair_ends(model, p, string), params, STEPS), rtol=1e-5, atol=1e-4)
    poses = replace(Poses.of([camera_at(model, -25, 35)] * len(params)), radial=radial)
    lens = (poses.rotation, poses.translation, poses.focal)
    slope = see_slopes(hair_ends(model, params, string), moved, *lens, radial)
    want = differences(lambda p: see(hair_ends(model, p, string), *lens, poses.center, radial), params, STEPS)
    np.testing.assert_allclose(slope, want, rtol=1e-4, atol=1e-3)


@pytest.mark.parametrize("beyond", [-60.0, 60.0], ids=["the end lies beyond the edge", "the end lies inside"])
def test_the_solvers_slopes_are_those_of_what_it_sees(beyond):
    """Hair seen up to the picture's edge pulls while its end would lie inside, and says nothing while it lies beyond."""
    model = InstrumentModel(instrument("violin 4/4"))
    params, string = bows(model)
    camera = camera_at(model, -25, 35)
    lines = seen_lines(model, camera, params, string)
    cut = np.arange(len(params)) % 2 == 0
    lines = replace(lines, beyond=np.where(cut, lines.head + beyond, np.nan), head=np.where(cut, np.nan, lines.head))
    problem = BowProblem(model, lines, Poses.of([camera] * len(params)), string, 1.0)
    got = problem.jacobian(params)
    np.testing.assert_allclose(got, differences(problem.see, params, STEPS), rtol=1e-4, atol=2e-3)
    assert (np.abs(got[cut, 3]).max() > 0) == (beyond > 0)


def test_the_landmarks_slopes_are_those_of_their_errors():
    model = InstrumentModel(instrument("viola 16"))
    camera = camera_at(model, -25, 35)
    names = list(pose.REQUIRED_LANDMARKS + pose.LANDMARK_NAMES[-1:])
    world = np.array([model.landmarks[n] for n in names])
    string = SeenString(1, (0.1, 0.6), np.zeros((2, 2)), np.array([0.6, 0.8]), 0.5)
    both = (("waist", 1), ("waist", -1))
    outline = SeenEdge(both, np.zeros((2, 2)), np.array([[0.0, 1.0], [0.6, 0.8]]), np.array([[2.0, 1.0], [1.0, 4.0]]))
    lines = [(line.places(model), replace(line, points=camera.project(line.places(model)) + 2.0)) for line in (string, outline)]
    q = np.concatenate([camera.rvec, camera.tvec, [np.log(camera.focal)]])
    args = (world, camera.project(world) + 1.5, np.linspace(0.5, 1.0, len(world)), np.array(camera.center), q[6] + 0.1, 0.2, lines)
    steps = np.array([1e-5] * 3 + [0.01] * 3 + [1e-5])
    want = differences(lambda at: pose._residuals(at, *args), q, steps)
    np.testing.assert_allclose(pose._slopes(q, *args), want, rtol=1e-5, atol=1e-4)
