"""How a take was filmed: framing, light, sharpness, frame rate, and what is said about them."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import cv2
import numpy as np
import pytest

from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.instrument.model import InstrumentModel
from dolcezza.core.media.probe import TakeFile
from dolcezza.core.pipeline.filming import BLURRED_PX, about_the_instrument, edge_width, said_of_filming
from dolcezza.core.strokes.figures import find_strokes
from dolcezza.core.tracking.strings_seen import Sample
from tests_support import camera_at, minimum_jerk, series_from

FILE = TakeFile(Path("take.mp4"), 1280, 720, 0, 30.0, 10.0, "h264", True)
STEPS = np.kron(np.random.default_rng(3).integers(60, 200, (12, 20)), np.ones((30, 30))).astype(np.uint8)
"""A picture of squares with hard edges."""


def played(head_x: float = 1200.0, frog_x: float = 500.0):
    """Six bows whose head comes to ``head_x`` at the frog and whose frog to ``frog_x`` at the tip."""
    place = np.concatenate([minimum_jerk(a, b, 1.2) for a, b in ((0.04, 0.96), (0.96, 0.04)) * 3])
    series = series_from(np.arange(len(place)) / 30.0, place)
    series.values["head_x_px"][:] = head_x - 400.0 * place
    series.values["frog_x_px"][:] = frog_x - 400.0 * place
    for end in ("head", "frog"):
        series.values[f"{end}_y_px"][:] = 300.0
    return series, find_strokes(series)


def told(series, strokes, file=FILE, pictures=(STEPS,)) -> list[str]:
    return [m.id for m in said_of_filming(file, series, strokes, pictures, 1.0)]


@pytest.mark.parametrize("sd", [1.0, 2.0, 3.0, 5.0])
def test_the_blur_of_a_picture_is_read_from_its_edges(sd):
    """A hard edge that was blurred by so much is so wide, whatever the contrast and the noise."""
    for contrast in (0.3, 1.0):
        picture = cv2.GaussianBlur(contrast * STEPS.astype(np.float32), (0, 0), sd)
        noisy = picture + np.random.default_rng(1).normal(0, 0.3, picture.shape)
        assert edge_width(noisy) == pytest.approx(sd, rel=0.15)


def test_nothing_is_said_of_a_good_take():
    assert told(*played()) == []
    assert edge_width(STEPS) < 1.0 and edge_width(np.full((100, 100), 90, np.uint8)) == 0.0


def test_a_bow_that_leaves_the_picture_is_said_by_its_end():
    series, strokes = played(head_x=1300.0)
    (note,) = said_of_filming(FILE, series, strokes, [STEPS], 1.0)
    assert note.id == "note.cropped" and note.values["end"].id == "end.head" and (note.values["n"], note.values["of"]) == (6, 6)
    assert [m.values["end"].id for m in said_of_filming(FILE, *played(frog_x=370.0), [STEPS], 1.0)] == ["end.frog"]
    series.values["head_x_px"][series.t > strokes[0].end_s] = 900.0
    assert told(series, strokes) == [], "once is no habit"


def test_a_bow_that_is_small_a_dark_a_blurred_picture_and_few_frames_are_said():
    assert told(*played(head_x=750.0)) == ["note.small"]
    series, strokes = played()
    assert told(series, strokes, pictures=[STEPS // 5]) == ["note.dark picture"]
    assert told(series, strokes, pictures=[cv2.GaussianBlur(STEPS, (0, 0), BLURRED_PX + 1)] * 2 + [STEPS]) == ["note.blurred"]
    assert told(series, strokes, replace(FILE, frame_rate=20.0)) == ["note.few frames"]
    assert told(series, strokes, pictures=[]) == []


def test_the_pictures_are_cut_out_around_the_instrument():
    model = InstrumentModel(instrument("violin 4/4"))
    camera = camera_at(model, -15.0, 30.0)
    x, y = camera.project(model.middle[None])[0]
    grey = np.zeros((720, 1280), np.uint8)
    grey[round(y), round(x)] = 255
    (cut,) = about_the_instrument(model, [Sample(grey, camera)], 1.0)
    assert max(cut.shape) <= 400 and cut.max() == 255
    behind = replace(camera, tvec=camera.tvec * [1, 1, -1])
    assert about_the_instrument(model, [], 1.0) == about_the_instrument(model, [Sample(grey, behind)], 1.0) == []
