"""Bow use, exercises and sound of rendered takes against what their players were told to do."""

from __future__ import annotations

import json

import mir_eval
import numpy as np
import pytest

from conftest import TRUTH
from dolcezza.core.assignment.exercise import Exercise, Item, Line
from dolcezza.core.assignment.use import bow_use
from dolcezza.core.pipeline.sound_pass import listen
from dolcezza.services.assignment import against
from takes_support import take_video

pytestmark = pytest.mark.accuracy


def truth_of(stem: str) -> tuple[dict, dict]:
    return dict(np.load(TRUTH / f"{stem}.truth.npz")), json.loads((TRUTH / f"{stem}.truth.json").read_text())


@pytest.mark.parametrize("stem", ["dev-straight", "dev-stickers", "dev-cello", "demo-b1", "demo-b2"])
def test_bow_use_against_the_players_own_orders(measured, stem):
    analysis = measured(stem)
    truth, meta = truth_of(stem)
    use = bow_use(analysis.series, analysis.strokes, hair_mm=analysis.fit.spec.hair_length)["all"]
    ends = np.sort([(s["from_pos"], s["to_pos"]) for s in meta["strokes"]], axis=1)
    assert use.figures["share"].value == pytest.approx(np.ptp(ends, axis=1).mean(), abs=0.03)
    # where the string changes at the frog, the place is told up to 2 % too near to it
    assert use.figures["reach_frog"].value == pytest.approx(ends[:, 0].min(), abs=0.03)
    assert use.figures["reach_tip"].value == pytest.approx(ends[:, 1].max(), abs=0.03)
    place = truth["bow_pos"][truth["playing"] > 0]
    time = np.histogram(place, np.arange(11) / 10)[0] / len(place)
    wrong_side = np.abs(np.cumsum(use.time_share) - np.cumsum(time)).max()
    assert wrong_side < 0.065, "no tenth of the bow has more of the time on its wrong side (a turn at 30 % lies on an edge)"
    assert use.avoids_frog is bool(ends[:, 0].min() > 0.12)


@pytest.mark.parametrize("stem", ["dev-straight", "dev-stickers", "demo-b2", "dev-cello"])
def test_a_take_matches_what_its_player_was_told(measured, stem):
    """An exercise made of the player's orders: every stroke as asked."""
    _, meta = truth_of(stem)
    lines = tuple(
        Line((s["string"],), (Item(1, *sorted((s["from_pos"], s["to_pos"])), s["end_s"] - s["start_s"]),)) for s in meta["strokes"]
    )
    how = against(measured(stem).strokes, meta["strings"], Exercise("As told", lines, 60.0))
    assert how.match.as_asked == len(meta["strokes"]), how.how
    other = against(measured(stem).strokes, meta["strings"], Exercise("Other string", tuple(reversed(lines)), 60.0))
    assert other.match.as_asked < len(meta["strokes"])


def test_whole_bows_on_every_string_are_recognised(measured):
    for stem in ("dev-straight", "dev-cello", "demo-b2"):
        how = against(measured(stem).strokes, measured(stem).fit.spec.strings, None)
        assert how.match.exercise.name == "Two long on each string", stem
    short = against(measured("demo-b1").strokes, "CGDA", None)
    assert short.match.count("too short") == 8, "short bows where whole ones are usual"


@pytest.mark.parametrize("stem", ["dev-straight", "dev-cello", "demo-a1"])
def test_stroke_boundaries_by_the_score_of_segmentation(measured, stem):
    """mir_eval's boundary detection, 80 ms: hits of true boundaries by found ones."""
    _, meta = truth_of(stem)
    true = np.array([(s["start_s"], s["end_s"]) for s in meta["strokes"]])
    found = np.array([(s.start_s, s.end_s) for s in measured(stem).strokes])
    precision, recall, _ = mir_eval.segment.detection(joined(true), joined(found), window=0.08, trim=False)
    assert precision > 0.95 and recall > 0.95


def joined(spans: np.ndarray) -> np.ndarray:
    """Stretches one after the other, from all edges of the spans; the players rest 30 ms between strokes, which is one edge."""
    edges = np.unique(spans.round(3))
    edges = edges[np.concatenate([[True], np.diff(edges) > 0.05])]
    return np.column_stack([edges[:-1], edges[1:]])


def test_the_sound_of_a_take_by_itself(measured):
    heard, said = listen(take_video("dev-cello"), "cello")
    truth, meta = truth_of("dev-cello")
    assert said == [] and abs(heard.cents) < 1.0
    costs = heard.string_costs(truth["t"], "cello")
    inner = (truth["playing"] > 0) & (costs.max(axis=1) > 0)
    assert (costs.argmin(axis=1) == truth["string"])[inner].mean() > 0.95
    tone = measured("dev-cello").tone
    assert tone.counts == {"clean": len(meta["strokes"])} and tone.between == () and tone.notes == ()
    assert abs(tone.offset.late_s) < 0.03
