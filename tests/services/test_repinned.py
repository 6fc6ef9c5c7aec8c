"""Pins set or moved on a measured take: measured again where the instrument hangs on them, and only there."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from dolcezza.core.base.errors import PinError
from dolcezza.core.base.job import finish
from dolcezza.core.bowing.series import BOW_COLUMNS
from dolcezza.core.instrument.model import REQUIRED_PINS, InstrumentModel
from dolcezza.core.media.probe import probe
from dolcezza.services import mending
from dolcezza.services.analysis import analyse
from dolcezza.services.bench import Bench
from dolcezza.services.fitfile import Fit, PinnedMoment
from dolcezza.services.followed import FollowedPins
from dolcezza.services.mending import BENCH_FILE
from dolcezza.services.pinning import PinSession
from dolcezza.services.repinned import PIN_BLEND_S, PIN_REACH_S, blended
from dolcezza.storage.packed import read_packed, write_packed
from tests_support import changed_at, frame_at


def followed(mend) -> FollowedPins:
    stored = mend.studio.analysis(mend.take)
    return FollowedPins(read_packed(Bench, stored.folder / BENCH_FILE), mend.studio.fit(mend.take), probe(mend.take.path))


def pinned_too(fit: Fit, t_s: float, points) -> Fit:
    return replace(fit, pins=tuple(sorted([*fit.pins, PinnedMoment(t_s, dict(points))], key=lambda m: m.t_s)))


def without(values, gone):
    out = values.copy()
    out[gone] = np.nan
    return out


def test_the_followed_instrument_lies_where_it_was_pinned(mend):
    fit = mend.studio.fit(mend.take)
    there = followed(mend).state(fit.pins[0].t_s)
    for name, xy in fit.pins[0].points.items():
        assert np.hypot(*(np.array(there.points[name]) - xy)) < 4.0
    assert there.outline.shape[1] == 2 and not there.ready
    assert followed(mend).lost == []


def test_a_pin_on_another_frame_changes_its_neighbourhood_and_nothing_else(mend):
    stored = mend.studio.analysis(mend.take)
    t = float(stored.series.t[frame_at(stored, 5.0)])
    points = dict(followed(mend).state(t).points)
    x, y = points["board_bass"]
    points["board_bass"] = (x + 5.0, y - 4.0)
    before, after = mend(lambda fit: mending.pins(pinned_too(fit, t, points), t, fit))
    for column in BOW_COLUMNS:
        moved = changed_at(before, after, column)
        assert not len(moved) or np.abs(moved - t).max() <= PIN_REACH_S + 0.04, column
    assert len(changed_at(before, after, "bow_angle_deg")) and len(changed_at(before, after, "contact_point_mm"))
    arm = changed_at(before, after, "elbow_level_deg")
    assert not len(arm) or np.abs(arm - t).max() <= PIN_REACH_S + PIN_BLEND_S + 0.04
    drawn = followed(mend).state(t).points["board_bass"]
    assert np.hypot(drawn[0] - x - 5.0, drawn[1] - y + 4.0) < np.hypot(5.0, 4.0), "the instrument has gone along with the pin"
    outside = [s for s in before.strokes if s.end_s < t - PIN_REACH_S - 0.6 or s.start_s > t + PIN_REACH_S + 0.6]
    assert outside and all(s in after.strokes for s in outside)
    assert len(mend.studio.fit(mend.take).pins) == 2
    mend.studio.undo.undo()
    back = mend.studio.analysis(mend.take)
    assert all(np.array_equal(back.series[c], before.series[c], equal_nan=True) for c in BOW_COLUMNS)
    assert back.strokes == before.strokes and len(mend.studio.fit(mend.take).pins) == 1


def test_a_frame_pinned_where_it_was_followed_to_changes_next_to_nothing(mend):
    stored = mend.studio.analysis(mend.take)
    t = float(stored.series.t[frame_at(stored, 4.0)])
    before, after = mend(lambda fit: mending.pins(pinned_too(fit, t, followed(mend).state(t).points), t, fit))
    assert np.nanmedian(np.abs(after.series["bow_angle_deg"] - before.series["bow_angle_deg"])) < 0.1
    assert np.nanmax(np.abs(after.series["bow_angle_deg"] - before.series["bow_angle_deg"])) < 1.0
    assert np.nanmax(np.abs(after.series["contact_point_mm"] - before.series["contact_point_mm"])) < 2.0


def test_a_stretch_in_which_the_instrument_was_lost_is_measured_from_its_own_pins(mend):
    """The record of a second taken away as if the instrument had been lost there: four pins bring it back as it was."""
    stored = mend.studio.analysis(mend.take)
    t = float(stored.series.t[frame_at(stored, 4.0)])
    points = {n: xy for n, xy in followed(mend).state(t).points.items() if n in REQUIRED_PINS}
    bench = read_packed(Bench, stored.folder / BENCH_FILE)
    gone = np.abs(bench.t_s - t) < 0.5
    lines = replace(bench.lines, **{n: without(getattr(bench.lines, n), gone) for n in ("point", "direction", "head", "frog")})
    translation = np.where(gone[:, None], bench.poses.translation + 40.0, bench.poses.translation)
    sure = np.where(gone, 0.0, bench.instrument_confidence)
    lost = replace(bench, lines=lines, poses=replace(bench.poses, translation=translation), instrument_confidence=sure)
    write_packed(stored.folder / BENCH_FILE, lost)
    assert followed(mend).state(t) is None
    assert followed(mend).lost[0] == pytest.approx((t - 0.5, t + 0.5), abs=0.05)
    _, after = mend(lambda fit: mending.pins(pinned_too(fit, t, points), t, fit))
    assert followed(mend).lost == []
    for column, limit in (("bow_angle_deg", 0.6), ("contact_point_mm", 1.5), ("bow_position", 0.01)):
        off = np.abs(after.series[column][gone] - stored.series[column][gone])
        assert np.isfinite(off).mean() > 0.95 and np.nanmedian(off) < limit, column


def test_a_moved_first_pin_gives_what_measuring_the_whole_take_gives(mend):
    fit = mend.studio.fit(mend.take)
    t, points = fit.pins[0].t_s, dict(fit.pins[0].points)
    points["bridge_bass"] = (points["bridge_bass"][0] + 3.0, points["bridge_bass"][1] + 3.0)
    moved = replace(fit, pins=(PinnedMoment(t, points),))
    before, after = mend(lambda fit: mending.pins(moved, t, fit))
    assert len(changed_at(before, after, "bow_angle_deg")) > 0.9 * np.isfinite(before.series["bow_angle_deg"]).sum()
    whole = finish(analyse(mend.take.path, moved)).series
    for column, limit in (("bow_angle_deg", 0.5), ("contact_point_mm", 1.0)):
        near, was = (np.nanmedian(np.abs(a.series[column] - whole[column])) for a in (after, before))
        assert near < max(limit, was), column


def test_pins_that_do_not_fit_are_refused_and_nothing_changes(mend):
    stored = mend.studio.analysis(mend.take)
    t = float(stored.series.t[frame_at(stored, 4.0)])
    points = dict(followed(mend).state(t).points)
    points["bridge_bass"] = points["board_treble"]
    with pytest.raises(PinError):
        mend(lambda fit: mending.pins(pinned_too(fit, t, points), t, fit))
    with pytest.raises(PinError, match="Nothing is pinned"):
        mend(lambda fit: mending.pins(fit, t, fit))
    assert mend.studio.analysis(mend.take).strokes == stored.strokes and len(mend.studio.fit(mend.take).pins) == 1


def test_poses_blended_by_halves_lie_between(measured):
    bench = measured("demo-a1").bench.part(slice(0, 4))
    middle = InstrumentModel(measured.fit("demo-a1").spec).middle
    other = replace(bench.poses, translation=bench.poses.translation + np.array([10.0, -6.0, 4.0]))
    mixed = blended(bench.poses, other, middle, np.array([0.0, 0.5, 1.0, 0.25]))
    moved = mixed.translation - bench.poses.translation
    assert np.allclose(moved, np.outer([0.0, 0.5, 1.0, 0.25], [10.0, -6.0, 4.0]), atol=1e-6)
    assert np.allclose(mixed.rotation, bench.poses.rotation)


def test_a_session_begins_where_the_instrument_was_followed_to_and_forgets_what_was_not_changed(mend):
    fit = mend.studio.fit(mend.take)
    pins, there = PinSession(fit, (1280, 720), 0.0), followed(mend).state(5.0)
    first = pins.t_s
    pins.go_to_followed(5.0, there.points)
    assert pins.state.ready and pins.moments == [first, 5.0]
    pins.leave_followed(5.0, first)
    assert pins.moments == [first] and pins.result().pins == fit.pins
    pins.go_to_followed(5.0, there.points)
    assert len(pins.result().pins) == 2
    two = pins.result()
    pins.adopt(two)
    pins.go_to(2.0)
    pins.set("bridge_bass", 600.0, 300.0)
    assert not pins.state.ready and pins.base_with_pins().pins == two.pins, "three pins are missing: what was pinned before counts"
    pins.go_to(5.0)
    pins.adopt(fit)
    assert pins.result().pins == fit.pins, "taken back"
    pins.held = True
    pins.move("bridge_bass", 1.0, 1.0)
    pins.adopt(two)
    assert pins.state.points["bridge_bass"] == (1.0, 1.0), "what the hand holds stays with it"
