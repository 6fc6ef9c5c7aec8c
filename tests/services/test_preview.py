"""The first strokes of a longer take come while the rest is being watched; what waits is remembered."""

from __future__ import annotations

import pytest

from dolcezza.core.pipeline import preview
from dolcezza.core.pipeline.preview import FirstStrokes
from dolcezza.services.analysis import analyse
from dolcezza.services.queue import FILE, WaitingList
from takes_support import take_video
from tests_support import cut_short


def pieces(video, fit):
    """What was told early of a take and at which frame, and the whole analysis."""
    out, work = [], analyse(video, fit)
    while True:
        try:
            progress = next(work)
        except StopIteration as stop:
            return out, stop.value
        if progress.so_far is not None:
            out.append((progress.done, progress.so_far))


def test_the_first_strokes_are_told_early_and_agree_with_the_whole(measured, monkeypatch):
    monkeypatch.setattr(preview, "WORTH_S", 5.0)
    monkeypatch.setattr(preview, "PIECE_S", 3.5)
    told, whole = pieces(take_video("dev-straight"), measured.fit("dev-straight"))
    assert len(told) >= 2 and all(isinstance(e, FirstStrokes) for _, e in told)
    first_at, first = told[0]
    assert first_at < 0.5 * len(whole.series) and first.strokes
    last = told[-1][1]
    assert [s.number for s in last.strokes] == list(range(1, len(last.strokes) + 1))
    assert len(last.strokes) >= 5 and (last.series.t[1:] > last.series.t[:-1]).all()
    for one in last.strokes:
        same = next(s for s in whole.strokes if abs(s.start_s - one.start_s) < 0.15)
        assert (same.string, same.direction) == (one.string, one.direction)
        assert one.bow_angle_deg == pytest.approx(same.bow_angle_deg, abs=2.5)


def test_a_short_take_is_told_whole_at_once(measured, tmp_path):
    told, whole = pieces(cut_short("demo-a1", 5.0, tmp_path), measured.fit("demo-a1"))
    assert told == [] and whole.strokes


def test_what_waits_is_remembered_in_its_order(tmp_path):
    waiting = WaitingList(tmp_path)
    waiting.add([5, 3])
    waiting.add([3, 9])
    assert WaitingList(tmp_path).ids == [5, 3, 9]
    waiting.remove(3)
    assert WaitingList(tmp_path).ids == [5, 9]
    waiting.clear()
    assert WaitingList(tmp_path).ids == []


@pytest.mark.parametrize("text", ["", "{}", '{"takes": ["soon"]}', "[1]"])
def test_a_damaged_list_is_an_empty_one(tmp_path, text):
    (tmp_path / FILE).write_text(text)
    assert WaitingList(tmp_path).ids == []
