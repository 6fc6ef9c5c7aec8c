"""The gap between hair and stick from a photo: drawn bows of known shape, dark and pale, on what they lie on, from any side."""

from __future__ import annotations

import numpy as np
import pytest

from bow_photo import BLACK, HAIR_MM, PALE, inwards, photo
from dolcezza.core.base.errors import MediaError
from dolcezza.core.hold.hair_gap import PENCIL_MM, Tension, hair_gap


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
