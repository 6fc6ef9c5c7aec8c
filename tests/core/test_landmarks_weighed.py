"""What the hand set and what the pictures show, weighed against each other: who lies beside what all others say counts less."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from types import SimpleNamespace

import numpy as np
import pytest

from dolcezza.core.base.geometry import rotation_of, rotation_vector
from dolcezza.core.camera.lens import Camera
from dolcezza.core.camera.pose import fit_moments
from dolcezza.core.camera.seen import SeenPoint
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import LANDMARK_NAMES, REQUIRED_LANDMARKS, InstrumentModel
from dolcezza.core.media.probe import TakeFile
from dolcezza.core.models.landmarks import Guess
from dolcezza.core.pipeline import alignment, landmark_pass
from dolcezza.core.pipeline.alignment import LOOKED_AT, Shown, both_looks, left_beside, looked_at, reweighted
from dolcezza.core.pipeline.alignment import fitted as fitted_moments
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.fit_file import CalibrationFrame, Fit
from dolcezza.core.tracking.landmarks_seen import learnt_sd
from dolcezza.reports.language import language

MODEL = InstrumentModel(instrument("violin 4/4"))
PLACES_MM = np.array([MODEL.landmarks[n] for n in LANDMARK_NAMES])
TRUTH = Camera(
    rotation_vector(rotation_of(np.array([2.2, 0.6, -0.5]))), np.array([-60.0, 20.0, 1900.0]), 1300.0, (640.0, 360.0)
)  # fmt: skip
PLACES = dict(zip(LANDMARK_NAMES, TRUTH.project(PLACES_MM), strict=True))


def context(names=REQUIRED_LANDMARKS, *, found=(), **moved) -> Context:
    """Landmarks where they are but for those that are ``moved`` (px)."""
    points = {n: tuple(map(float, PLACES[n] + np.array(moved.get(n, (0.0, 0.0))))) for n in names}
    fit = Fit("violin 4/4", (CalibrationFrame(0.0, points, tuple(found)),))
    file = TakeFile(Path("take.mp4"), 1280, 720, 0, 30.0, 5.0, "h264", True)
    return Context.of(file.path, file, fit)


def seen(**moved) -> list[SeenPoint]:
    return [SeenPoint(n, xy + np.array(moved.get(n, (0.0, 0.0))), learnt_sd(MODEL, n)) for n, xy in PLACES.items()]


def fitted(told: Context, points: list[SeenPoint], hand_px: float):
    shown = [Shown((), points, dict.fromkeys(told.landmarks[0], hand_px))]
    start = fit_moments(MODEL, told.landmarks, size=told.size, seen=[points], click_sd_px=[shown[0].click_sd_px])
    return start, *reweighted(told, shown, start)


def off(fit) -> float:
    return float(np.linalg.norm(fit.camera.project(PLACES_MM) - np.array(list(PLACES.values())), axis=1).max())


def test_a_landmark_the_hand_set_far_beside_counts_less_and_nothing_seen_is_thrown_out():
    told = context(bridge_bass=(-2.0, 11.0))
    [start], [better], [shown] = fitted(told, seen(), 1.05)
    assert off(better) < 0.6 * off(start)
    assert len(shown.points) == len(LANDMARK_NAMES)
    assert shown.click_sd_px["bridge_bass"] > 2 * shown.click_sd_px["board_treble"]


def test_a_landmark_the_pictures_show_beside_counts_less_and_far_beside_not_at_all():
    beside = seen(bridge_treble=(0.0, 11.0))
    [start], [better], [shown] = fitted(context(LANDMARK_NAMES), beside, 1.05)
    doubt = {p.name: p.sd_px for p in shown.points}
    assert doubt["bridge_treble"] > 1.5 * doubt["bridge_bass"]
    assert off(better) < off(start)
    far = seen(bridge_treble=(0.0, 40.0))
    _, _, [without] = fitted(context(LANDMARK_NAMES), far, 1.05)
    assert "bridge_treble" not in {p.name for p in without.points}


def test_landmarks_in_their_places_are_weighed_as_they_are_known():
    [start], [better], [shown] = fitted(context(LANDMARK_NAMES), seen(), 1.05)
    assert off(better) == pytest.approx(off(start), abs=0.01)
    assert list(shown.click_sd_px.values()) == pytest.approx([1.05] * 12, rel=1e-3)


def test_two_looks_at_one_picture_are_one_the_middle_of_both():
    first, second = seen(nut_bass=(4.0, 0.0))[:6], seen(nut_bass=(0.0, 2.0))[4:]
    both = {p.name: p.place for p in both_looks(first, second)}
    assert set(both) == set(LANDMARK_NAMES)
    assert both["nut_bass"] == pytest.approx(PLACES["nut_bass"] + [2.0, 1.0])
    assert both["bridge_bass"] == pytest.approx(PLACES["bridge_bass"])


def test_a_landmark_that_is_followed_only_in_part_is_named():
    told = context(bridge_bass=(-2.0, 11.0))
    _, [better], _ = fitted(told, seen(), 2.5)
    [note] = left_beside(told, [(0.0, better)])
    assert len(note.values["landmarks"]) == 1 and 6.0 < note.values["px"] < 12.0
    assert "(bridge, low-string end)" in language("en").sentence(note) and "Steg" in language("de").sentence(note)
    assert left_beside(context(), [(0.0, fitted(context(), seen(), 2.5)[1][0])]) == []
    # what the program found itself is nobody's hand
    found = context(found=("bridge_bass",), bridge_bass=(-2.0, 11.0))
    assert left_beside(found, [(0.0, better)]) == []


def test_a_marked_picture_is_looked_at_again_from_where_the_first_look_has_put_it(monkeypatch):
    """What a look shows depends on where it is begun: from 15 px off half the way is seen, from there half of the rest."""
    told = context(**dict.fromkeys(REQUIRED_LANDMARKS, (15.0, -12.0)))
    begun = []

    def half_the_way(model, camera, _picture, _models, *, scale_px):
        begun.append(camera)
        there = camera.project(PLACES_MM)
        return [SeenPoint(n, 0.5 * (xy + PLACES[n]), 0.5) for n, xy in zip(LANDMARK_NAMES, there, strict=True)]

    class Frames:
        def __init__(self, *_a, **_k):
            pass

        def at(self, _t):
            return SimpleNamespace(image=None)

        def close(self):
            pass

    monkeypatch.setattr(alignment, "seen_in_frame", half_the_way)
    monkeypatch.setattr(alignment, "FrameStore", Frames)
    [(t_s, better)] = looked_at(told, fitted_moments(told), None)
    distance = [float(np.linalg.norm(c.project(PLACES_MM) - np.array(list(PLACES.values())), axis=1).mean()) for c in begun]
    assert t_s == 0.0 and len(begun) == LOOKED_AT == 2
    assert distance[0] > 15 and distance[1] < 0.75 * distance[0], "the second look begins nearer"
    assert off(better) < 0.7 * distance[0]


def test_where_a_pose_shows_no_instrument_it_is_looked_for_around(monkeypatch):
    """Four rough clicks on a small instrument can have the neck half as long and elsewhere: found in a square that is wide enough."""
    true = np.array(list(PLACES.values()))
    fit = fitted_moments(context())[0][1]
    guess = Guess(true, np.ones(12), np.ones(12))
    begun = []

    dim = Guess(true + 3.0, np.full(12, 0.5), np.ones(12))

    def only_where_it_is_large(_model, _picture, _look, start):
        begun.append(np.ptp(start, axis=0).max())
        seen = guess if len(begun) == 2 else dim
        return (seen, fit, list(LANDMARK_NAMES)) if begun[-1] > 1.3 * begun[0] else None

    monkeypatch.setattr(landmark_pass, "look_closely", only_where_it_is_large)
    picture = np.zeros((720, 1280, 3), np.uint8)
    seen_there = landmark_pass.seen_in_frame(context().model, fit.camera, picture, None, scale_px=1.0)
    assert all(p.place == pytest.approx(PLACES[p.name]) for p in seen_there), "the clearest of them"
    assert [p.name for p in seen_there] == list(LANDMARK_NAMES) and len(begun) == 1 + len(landmark_pass.AROUND)
    elsewhere = replace(fit.camera, tvec=fit.camera.tvec + np.array([400.0, 0.0, 0.0]))
    begun.clear()
    assert landmark_pass.seen_in_frame(context().model, elsewhere, picture, None, scale_px=1.0) == [], "another instrument"
