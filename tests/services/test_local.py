"""What the teacher sets on a measured take: only the neighbourhood changes, what was set wins, and it comes back with undo."""

from __future__ import annotations

import dataclasses
import io
import json

import numpy as np
import pytest

from dolcezza.core.base.errors import LandmarkError, StudioError
from dolcezza.core.base.job import finish
from dolcezza.core.bowing.series import BOW_COLUMNS, as_filmed, as_measured
from dolcezza.core.pipeline.cache import MeasurementCache
from dolcezza.core.pipeline.fit_file import fit_from_dict, fit_to_dict
from dolcezza.core.strokes.edits import EditKind
from dolcezza.services import corrections
from dolcezza.services.corrections import CACHE_FILE
from dolcezza.storage.packed import pack, read_packed, unpack
from tests_support import changed_at, frame_at


def end_of(stored, k, end):
    return float(stored.series[f"{end}_x_px"][k]), float(stored.series[f"{end}_y_px"][k])


def same(a, b) -> bool:
    if isinstance(a, np.ndarray):
        return np.array_equal(a, b, equal_nan=a.dtype.kind == "f")
    if dataclasses.is_dataclass(a):
        return type(a) is type(b) and all(same(getattr(a, f.name), getattr(b, f.name)) for f in dataclasses.fields(a))
    if isinstance(a, dict):
        return a.keys() == b.keys() and all(same(a[k], b[k]) for k in a)
    if isinstance(a, tuple):
        return len(a) == len(b) and all(same(x, y) for x, y in zip(a, b, strict=True))
    return a == b or (a != a and b != b)


def test_a_head_set_by_hand_changes_its_neighbourhood_and_nothing_else(mend):
    before = mend.studio.analysis(mend.take)
    k = frame_at(before, 2.0)
    t, head, frog = float(before.series.t[k]), np.array(end_of(before, k, "head")), np.array(end_of(before, k, "frog"))
    shorter = head - 14.0 * (head - frog) / np.linalg.norm(head - frog)
    before, after = mend(lambda fit: corrections.bow_end(fit, t, "head", tuple(shorter)))
    for column in BOW_COLUMNS:
        moved = changed_at(before, after, column)
        assert not len(moved) or np.abs(moved - t).max() <= 1.0 + 1e-6, column
    assert len(changed_at(before, after, "bow_position"))
    # the head is drawn in by about what the hand said, measured along the bow
    new = np.linalg.norm(np.array(end_of(after, k, "head")) - shorter)
    assert new < np.linalg.norm(head - shorter)
    outside = [s for s in before.strokes if s.end_s < t - 1.05 or s.start_s > t + 1.05]
    assert outside and all(s in after.strokes for s in outside)
    # at the seam the new figures join on to the old ones
    seam = [frame_at(before, t + side * 1.0) for side in (-1, 1)]
    assert all(abs(after.series["bow_angle_deg"][j] - before.series["bow_angle_deg"][j]) < 0.3 for j in seam)


def test_the_bow_set_where_it_was_found_changes_next_to_nothing(mend):
    before = mend.studio.analysis(mend.take)
    k = frame_at(before, 3.0)
    before, after = mend(lambda fit: corrections.bow_end(fit, float(before.series.t[k]), "head", end_of(before, k, "head")))
    assert np.nanmax(np.abs(after.series["bow_angle_deg"] - before.series["bow_angle_deg"])) < 0.3
    assert np.nanmax(np.abs(after.series["bow_position"] - before.series["bow_position"])) < 0.01
    assert [s.number for s in after.strokes] == [s.number for s in before.strokes]


def test_the_whole_bow_set_elsewhere_wins_in_its_frame(mend):
    """Both ends set 25 px to one side: the bow lies there in that frame, whatever the picture shows."""
    before = mend.studio.analysis(mend.take)
    k = frame_at(before, 2.5)
    t = float(before.series.t[k])
    for end in ("frog", "head"):
        x, y = end_of(before, k, end)
        _, after = mend(lambda fit, e=end, at=(x, y + 25.0): corrections.bow_end(fit, t, e, at))
    moved = np.array(end_of(after, k, "head")) - np.array(end_of(before, k, "head"))
    assert moved[1] > 6.0
    assert not len(changed_at(before, after, "elbow_level_deg"))
    there = mend.studio.fit(mend.take).by_hand
    assert len(there) == 1 and there[0].frog is not None and there[0].head is not None
    assert corrections.let_bow_go(mend.studio.fit(mend.take), t).fit.by_hand == ()


def test_an_elbow_set_by_hand_moves_the_arm_there_only(mend):
    before = mend.studio.analysis(mend.take)
    k = frame_at(before, 2.0)
    t, x, y = float(before.series.t[k]), float(before.series["elbow_x_px"][k]), float(before.series["elbow_y_px"][k])
    before, after = mend(lambda fit: corrections.joint(fit, t, {"elbow": (x + 14.0, y + 8.0)}))
    moved = changed_at(before, after, "elbow_level_deg")
    assert len(moved) and np.abs(moved - t).max() <= 1.2 + 1e-6
    assert not len(changed_at(before, after, "bow_angle_deg"))
    drawn = np.hypot(after.series["elbow_x_px"][k] - x - 14.0, after.series["elbow_y_px"][k] - y - 8.0)
    assert drawn < 9.0
    here = next(s for s in after.strokes if s.start_s <= t < s.end_s)
    assert here != next(s for s in before.strokes if s.start_s <= t < s.end_s)


def test_strokes_cut_joined_struck_out_and_all_taken_back(mend):
    before = mend.studio.analysis(mend.take)
    middle = 0.5 * (before.strokes[1].start_s + before.strokes[1].end_s)
    words = [(j.finding.kind, j.verdict) for j in before.findings]
    mend.studio.review.judge(before.findings[0], "accepted", "seen")
    accepted = before.findings[0].finding.cause
    _, cut = mend(lambda fit: corrections.stroke(fit, middle, EditKind.SPLIT))
    assert [s.by_hand for s in cut.strokes[:4]] == ["", "cut", "cut", ""] and len(cut.strokes) == len(before.strokes) + 1
    assert any(j.verdict == "accepted" and j.finding.cause == accepted for j in cut.findings)
    _, joined = mend(lambda fit: corrections.stroke(fit, middle, EditKind.MERGE))
    assert len(joined.strokes) == len(before.strokes) and joined.strokes[1].by_hand == "joined"
    _, fewer = mend(lambda fit: corrections.stroke(fit, before.strokes[-1].start_s + 0.2, EditKind.DELETE))
    assert len(fewer.strokes) == len(before.strokes) - 1
    assert len(mend.studio.fit(mend.take).strokes) == 3
    for _ in range(4):
        mend.studio.undo.undo()
    back = mend.studio.analysis(mend.take)
    assert back.strokes == before.strokes and [(j.finding.kind, j.verdict) for j in back.findings] == words
    assert mend.studio.fit(mend.take).strokes == ()
    mend.studio.undo.redo()
    mend.studio.undo.redo()
    assert [s.by_hand for s in mend.studio.analysis(mend.take).strokes[1:3]] == ["cut", "cut"]


def test_a_string_said_by_hand_is_measured_on_that_string(mend):
    before = mend.studio.analysis(mend.take)
    stroke = before.strokes[2]
    other = "A" if stroke.string != "A" else "D"
    middle = 0.5 * (stroke.start_s + stroke.end_s)
    before, after = mend(lambda fit: corrections.stroke(fit, middle, EditKind.STRING, other))
    assert (after.strokes[2].string, after.strokes[2].by_hand) == (other, "string")
    assert after.series.strings[frame_at(after, middle)] == other
    # the string that was played fits better: the other one has to lean the bow
    assert abs(after.strokes[2].bow_angle_deg - stroke.bow_angle_deg) > 2.0
    moved = changed_at(before, after, "bow_angle_deg")
    assert moved.min() >= stroke.start_s - 0.1 and moved.max() <= stroke.end_s + 0.1


def test_what_was_set_counts_when_the_whole_take_is_measured_again(mend, measured):
    from dolcezza.services.analysis import analyse

    before = mend.studio.analysis(mend.take)
    cut_at = 0.5 * (before.strokes[0].start_s + before.strokes[0].end_s)
    mend(lambda fit: corrections.stroke(fit, cut_at, EditKind.SPLIT))
    again = finish(analyse(mend.take.path, mend.studio.fit(mend.take)))
    assert [s.by_hand for s in again.strokes[:3]] == ["cut", "cut", ""]
    assert again.strokes[0].end_s == pytest.approx(cut_at, abs=1e-3)


def test_a_measurement_of_which_too_little_was_kept_says_so(mend):
    stored = mend.studio.analysis(mend.take)
    (stored.folder / CACHE_FILE).unlink()
    with pytest.raises(StudioError, match="Analyse it again"):
        mend(lambda fit: corrections.bow_end(fit, 2.0, "head", (100.0, 100.0)))
    mend.studio.corrections.keep_fit(
        mend.take.id, mend.studio.fit(mend.take), corrections.at_ease(mend.studio.fit(mend.take), 0.5).fit, "ease"
    )
    assert mend.studio.fit(mend.take).relaxed_s == 0.5
    mend.studio.undo.undo()
    assert mend.studio.fit(mend.take).relaxed_s is None


def test_a_take_measured_by_its_whole_bow_is_measured_again_whole(mend):
    """Looking again around a moment looks for bright hair, which such a take has not."""
    stored = mend.studio.analysis(mend.take)
    cache = read_packed(MeasurementCache, stored.folder / CACHE_FILE)
    (stored.folder / CACHE_FILE).write_bytes(pack(dataclasses.replace(cache, whole_bow=True)))
    with pytest.raises(StudioError, match="Analyse it again"):
        mend(lambda fit: corrections.bow_end(fit, 2.0, "head", (100.0, 100.0)))
    before, after = mend(lambda fit: corrections.stroke(fit, 2.0, EditKind.SPLIT))
    assert len(after.strokes) == len(before.strokes) + 1, "what needs no picture goes on"


def test_the_cache_packs_to_a_file_and_reads_back_the_same(measured, tmp_path):
    cache = measured("demo-a1").cache
    assert same(unpack(MeasurementCache, pack(cache)), cache)
    assert read_packed(MeasurementCache, tmp_path / "none.npz") is None
    (tmp_path / "bad.npz").write_bytes(b"not a cache")
    with pytest.raises(StudioError, match="Analyse the video again"):
        read_packed(MeasurementCache, tmp_path / "bad.npz")


def test_a_cache_of_an_earlier_version_is_read_with_what_it_has(measured):
    """Fields that came later have their defaults."""
    cache = measured("demo-a1").cache
    text = pack(dataclasses.replace(cache, keys_s=()))
    tree, arrays = _taken_apart(text)
    del tree["keys_s"], tree["arm"]["chain"]["slope"]
    old = unpack(MeasurementCache, _put_together(tree, arrays))
    assert old.keys_s == () and old.arm.chain.slope == 0.0
    assert same(dataclasses.replace(old, arm=None), dataclasses.replace(cache, arm=None, keys_s=()))


def _taken_apart(data: bytes):
    with np.load(io.BytesIO(data)) as held:
        return json.loads(str(held["tree"])), {k: held[k] for k in held.files if k != "tree"}


def _put_together(tree, arrays) -> bytes:
    out = io.BytesIO()
    np.savez_compressed(out, tree=np.array(json.dumps(tree)), **arrays)
    return out.getvalue()


def test_open_files_that_are_copied_hold_no_cache(mend, tmp_path):
    stored = mend.studio.analysis(mend.take)
    assert (stored.folder / CACHE_FILE).exists()
    mend.studio.copy_files(stored, tmp_path / "out")
    assert sorted(p.suffix for p in (tmp_path / "out").iterdir()) == [".csv", ".csv", ".json", ".json", ".json", ".json"]


def test_a_record_turned_back_and_forth_is_the_same(measured):
    series = measured("demo-a1").series
    for width, scale in ((None, 1.0), (1280, 1.0), (3840, 2.0)):
        again = as_measured(as_filmed(series, width, scale=scale), width, scale=scale)
        assert all(np.allclose(again[c], series[c], atol=1e-9, equal_nan=True) for c in series.values)


def test_stroke_edits_live_in_the_fit_file(measured):
    fit = corrections.stroke(corrections.stroke(measured.fit("demo-a1"), 1.0, EditKind.SPLIT).fit, 2.0, EditKind.STRING, "D").fit
    assert fit_from_dict(json.loads(json.dumps(fit_to_dict(fit)))) == fit
    for wrong, said in (([{"t_s": 1.0, "do": "bend"}], "cannot be done"), ([{"do": "cut"}], "cannot be read"), ("cut", "cannot be read")):
        with pytest.raises(LandmarkError, match=said):
            fit_from_dict(fit_to_dict(fit) | {"strokes": wrong})


def test_nothing_of_a_deleted_take_comes_back(mend):
    before, _ = mend(lambda fit: corrections.stroke(fit, 1.5, EditKind.SPLIT))
    studio = mend.studio
    step = studio.undo._done[-1]
    studio.delete_take(mend.take.id)
    assert studio.undo.undo_label == "" and not before.folder.exists()
    with pytest.raises(StudioError, match="no longer in the studio"):
        step.undo()
    assert not before.folder.exists(), "not written again either"


def test_a_measurement_that_ends_after_its_take_was_deleted_leaves_nothing(mend, measured):
    fit_id = mend.studio.store.latest_fit(mend.take.id)[0]
    mend.studio.delete_take(mend.take.id)
    with pytest.raises(StudioError, match="no longer in the studio"):
        mend.studio.save_analysis(mend.take, fit_id, measured("demo-a1"))
    assert not list((mend.studio.folder / "takes" / str(mend.take.id)).glob("*"))
