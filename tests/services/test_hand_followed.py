"""The bow hand followed through a take: where it is looked for, which hand counts, and what is said where it cannot be followed."""

from __future__ import annotations

from concurrent.futures import Future
from dataclasses import replace

import numpy as np
import pytest

from dolcezza.core.base.errors import MediaError, ModelsMissing
from dolcezza.core.base.job import finish
from dolcezza.core.hold.fit import usual_hand
from dolcezza.services import hand_followed
from dolcezza.services.hand_followed import LOOKS_A_STROKE, NETS_PX, hand_over_take
from takes_support import take_video


class Hands:
    """Answers every picture alike: hands of a ``size`` (px) about places (shares of the picture)."""

    def __init__(self, places=((0.5, 0.5),), size=90.0, missing=False):
        self.places, self.size, self.missing, self.asked = places, size, missing, []

    def warm(self, *_what):
        pass

    def hands(self, image):
        self.asked.append(image.shape)
        answer: Future = Future()
        if self.missing:
            answer.set_exception(ModelsMissing("The models are missing."))
            return answer
        flat = usual_hand()[:, :2]
        flat = (flat - flat.mean(axis=0)) * self.size / np.ptp(flat)
        h, w = image.shape[:2]
        answer.set_result([(flat + np.array([x * w, y * h]), 0.9) for x, y in self.places])
        return answer


def follow(measured, models, seen=None):
    got = measured("demo-a1")
    size = (got.file.width, got.file.height)
    return finish(hand_over_take(take_video("demo-a1"), got.series, got.strokes, size, got.model.spec.hair_length, models=models))


def test_every_stroke_is_looked_at_and_the_hand_at_the_frog_counts(measured, monkeypatch):
    got = measured("demo-a1")
    told = {}
    monkeypatch.setattr(hand_followed, "follow_hand", lambda looks, hair_mm: told.update(looks=looks, hair=hair_mm) or [])
    models = Hands(places=((0.06, 0.95), (0.45, 0.5)))
    assert follow(measured, models) == []
    assert told["hair"] == got.model.spec.hair_length
    looks = told["looks"]
    assert [look.stroke for look in looks] == [s.number for s in got.strokes for _ in range(LOOKS_A_STROKE)]
    for look in looks:
        stroke = got.strokes[look.stroke - 1]
        assert stroke.start_s < look.t_s < stroke.end_s and look.down == (stroke.direction == "down") and look.string == stroke.string
        # the other hand, in the corner of what is looked at, is farther from the frog than this one is large
        assert np.linalg.norm(look.points.mean(axis=0) - look.frog) < 0.15 * np.linalg.norm(look.head - look.frog)
    assert all(max(shape[:2]) == NETS_PX for shape in models.asked), "a small hand is shown to the models as large as they want it"


@pytest.mark.parametrize(
    ("models", "says"),
    [
        (Hands(places=()), "seen in 0 of"),
        (Hands(places=((0.05, 0.05),)), "seen in 0 of"),
        (Hands(size=12.0), r"\(\d px across\)"),
        (Hands(missing=True), "models are missing"),
    ],
)
def test_a_hand_that_cannot_be_followed_is_to_be_filmed(measured, models, says):
    with pytest.raises(MediaError, match=says):
        follow(measured, models)


def test_a_take_without_strokes_says_so(measured):
    got = measured("demo-a1")
    with pytest.raises(MediaError, match="No stroke was measured"):
        finish(hand_over_take(take_video("demo-a1"), got.series, [], (got.file.width, got.file.height), 530.0, models=Hands()))


def test_of_a_long_take_both_ways_of_the_bow_are_looked_at(measured):
    """Two hundred strokes: some of them, two after each other, so that up-bows stand beside down-bows."""
    got = measured("demo-a1")
    strokes = [replace(got.strokes[k % 6], number=k + 1) for k in range(200)]
    chosen = hand_followed._chosen(got.series, strokes)
    down = [stroke.direction == "down" for _, stroke in chosen]
    assert 100 < len(chosen) <= hand_followed.MOST_LOOKS
    assert 0.4 < sum(down) / len(down) < 0.6
