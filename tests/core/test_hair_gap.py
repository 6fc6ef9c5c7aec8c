"""The gap between hair and stick from a photo: drawn bows of known shape, dark and pale, on what they lie on, from any side."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from dolcezza.core.base.errors import MediaError
from dolcezza.core.hold.hair_gap import PENCIL_MM, Tension, hair_gap

HAIR_MM = 640.0
FINE = 3
DARK, PALE, BRIGHT, BLACK = (70, 40, 25), (205, 160, 105), (235, 232, 220), (22, 22, 24)


def photo(gap, *, stick=DARK, hair=BRIGHT, ground=(120, 125, 130), px_mm=2.0, turn=0.0, up=True, grain=0.0, light=0.0, seed=0):
    """A bow drawn fine and made small: ``gap`` (mm) by share of the hair. Returns the picture and the ends of the hair (px)."""
    w, h = 1600, 1000
    scale, rng = px_mm * FINE, np.random.default_rng(seed)
    image = np.empty((h * FINE, w * FINE, 3), np.float32)
    image[:] = ground
    way, side = np.array([np.cos(turn), np.sin(turn)]), np.array([-np.sin(turn), np.cos(turn)]) * (-1 if up else 1)
    start = np.array([w, h]) * FINE / 2 - 0.5 * HAIR_MM * scale * way

    def band(inner, outer, colour, a=0.0, b=1.0):
        s = np.linspace(a, b, 400)
        lines = [start + (HAIR_MM * scale * s)[:, None] * way + scale * np.array([f(v) for v in s])[:, None] * side for f in (inner, outer)]
        cv2.fillPoly(image, [np.vstack([lines[0], lines[1][::-1]]).round().astype(np.int32)], colour)

    thick = lambda s: 8.5 - 3.0 * s  # noqa: E731  # a stick is thinner at the head
    band(lambda s: -0.6, lambda s: 0.6, hair)
    band(lambda s: 0.6 + gap(s), lambda s: 0.6 + gap(s) + thick(s), stick, -0.12, 1.0)
    band(lambda s: -9.0, lambda s: 14.0, BLACK, -0.09, 0.0)
    band(lambda s: -1.0, lambda s: 0.6 + gap(1.0) + thick(1.0), stick, 1.0, 1.02)
    image = cv2.resize(image, (w, h), interpolation=cv2.INTER_AREA)
    if light:
        image *= 1.0 + light * np.linspace(-0.5, 0.5, w)[None, :, None]
    if grain:
        coarse = cv2.resize(rng.normal(size=(h // 6, w // 6, 1)).astype(np.float32), (w, h))
        image += grain * (coarse[..., None] + 0.5 * rng.normal(size=(h, w, 3)))
    ends = [tuple(map(float, (start + s * HAIR_MM * scale * way) / FINE - 0.33)) for s in (0.0, 1.0)]
    return np.clip(image, 0, 255).astype(np.uint8), ends[0], ends[1]


def inwards(middle: float, ends: float):
    """A stick that comes nearest at the middle: its gap by share of the hair (mm)."""
    return lambda s: middle + (ends - middle) * (2 * s - 1) ** 2


@pytest.mark.parametrize(
    "look",
    [
        {}, {"stick": PALE, "ground": (60, 70, 90)}, {"hair": BLACK, "ground": (170, 165, 160)}, {"stick": PALE, "ground": (240, 120, 60)},
        {"up": False}, {"turn": 0.3}, {"turn": -1.2, "px_mm": 1.2}, {"turn": np.pi}, {"px_mm": 1.0}, {"light": 0.35}, {"grain": 4.0},
    ],
    ids=["dark", "pale", "black hair", "cloth", "hair above", "slanting", "upright", "turned round", "small", "light", "grain"],
)  # fmt: skip
def test_the_gap_and_which_way_the_stick_bends(look):
    image, frog, head = photo(inwards(6.5, 13.0), **look)
    told = hair_gap(image, frog, head, HAIR_MM)
    assert told.middle_mm == pytest.approx(6.5, abs=max(0.4, 2 * told.sd_mm))
    assert told.sd_mm < 1.2
    # over the part that is read, from 10 to 90 % of the hair, it comes nearer by 0.64 of the whole
    assert told.bend_mm == pytest.approx(0.64 * 6.5, abs=0.7)
    assert told.least_share == pytest.approx(0.5, abs=0.08) and told.least_mm <= told.middle_mm + 0.01
    assert told.tension is Tension.RIGHT and told.pencils == pytest.approx(6.5 / PENCIL_MM, abs=0.12)


def test_marks_a_few_pixels_off_change_little():
    image, frog, head = photo(inwards(6.5, 13.0))
    told = hair_gap(image, (frog[0] + 4, frog[1] - 2), (head[0] - 3, head[1] + 2), HAIR_MM)
    assert told.middle_mm == pytest.approx(6.5, abs=0.5)


@pytest.mark.parametrize(
    ("middle", "ends", "tension"),
    [(2.5, 9.0, Tension.SLACK), (7.0, 12.0, Tension.RIGHT), (12.5, 14.5, Tension.TIGHT), (16.0, 12.0, Tension.OUTWARDS)],
)
def test_what_the_gap_says_of_how_far_the_bow_is_tightened(middle, ends, tension):
    image, frog, head = photo(inwards(middle, ends))
    told = hair_gap(image, frog, head, HAIR_MM)
    assert told.tension is tension
    assert told.middle_mm == pytest.approx(middle, abs=0.5)


def test_edges_lie_where_hair_and_stick_are():
    image, frog, head = photo(inwards(6.5, 13.0))
    told = hair_gap(image, frog, head, HAIR_MM)
    hair, stick = told.edges_px[:, 0], told.edges_px[:, 1]
    share = (hair[:, 0] - frog[0]) / (head[0] - frog[0])
    assert np.linalg.norm(stick - hair, axis=1) / 2.0 == pytest.approx([inwards(6.5, 13.0)(v) for v in share], abs=0.6)


def test_no_stick_no_contrast_and_too_small_a_bow_are_said():
    plain = np.full((1000, 1600, 3), 120, np.uint8)
    with pytest.raises(MediaError, match="cannot be told from what is behind"):
        hair_gap(plain, (200, 500), (1400, 500), HAIR_MM)
    image, frog, head = photo(inwards(6.5, 13.0), stick=(118, 124, 131))
    with pytest.raises(MediaError, match="cannot be told from what is behind"):
        hair_gap(image, frog, head, HAIR_MM)
    with pytest.raises(MediaError, match="too small"):
        hair_gap(image, (100, 100), (300, 100), HAIR_MM)
