"""Training the eye: what is asked next, the smallest fault seen, takes that hold what they hide, a record that survives."""

from __future__ import annotations

import json
from datetime import date

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dolcezza.core.base.job import finish
from dolcezza.services.eye import BEGIN_AT, FILE_NAME, LADDER, EyeAnswer, EyeRecord, EyeTask, Fault, next_task, play, told
from dolcezza.simulator.film import Studio

DAY = date(2026, 11, 28)


def answer(fault=Fault.SWINGS, size=8.0, said=None) -> EyeAnswer:
    return EyeAnswer(DAY, fault, size, fault if said is None else said, 5.0)


def asked(answers, fault, tries=400):
    """Sizes at which a fault is asked next."""
    rng = np.random.default_rng(0)
    tasks = [next_task(answers, rng) for _ in range(tries)]
    return {t.size for t in tasks if t.fault == fault}, np.mean([t.fault is Fault.NONE for t in tasks])


def test_about_a_quarter_of_the_takes_hide_nothing():
    sizes, nothing = asked([], Fault.SWINGS)
    assert sizes == {LADDER["deg"][BEGIN_AT]}
    assert nothing == pytest.approx(0.25, abs=0.06)


def test_two_right_answers_make_it_smaller_and_a_wrong_one_larger():
    faults = [f for f in Fault if f is not Fault.NONE]
    evenly = [answer(f, 8.0) for f in faults for _ in range(2)]
    assert asked(evenly, Fault.SWINGS)[0] == {LADDER["deg"][BEGIN_AT - 1]}
    wrong = [answer(f, 8.0, Fault.NONE) for f in faults]
    assert asked(wrong, Fault.TO_BOARD)[0] == {LADDER["mm"][BEGIN_AT + 1]}
    one = [answer(f, 8.0) for f in faults]
    assert asked(one, Fault.SWINGS)[0] == {LADDER["deg"][BEGIN_AT]}


@given(st.lists(st.tuples(st.sampled_from([f for f in Fault if f is not Fault.NONE]), st.booleans()), max_size=60), st.integers(0, 9))
def test_the_ladder_is_never_left(said, seed):
    answers = [answer(f, 8.0, None if right else Fault.NONE) for f, right in said]
    task = next_task(answers, np.random.default_rng(seed))
    assert task.size in (*LADDER.get(task.fault.unit, ()), 0.0)
    assert task.string in "GDAE"


def test_the_smallest_fault_seen_needs_enough_answers_and_no_gap_above():
    seen = [answer(size=8.0)] * 3 + [answer(size=6.0)] * 3 + [answer(size=4.0)] * 2
    rows = {r.fault: r for r in told(seen)}
    assert rows[Fault.SWINGS].smallest == 6.0
    assert (rows[Fault.SWINGS].right, rows[Fault.SWINGS].answers) == (8, 8)
    assert rows[Fault.TO_BOARD].smallest is None
    missed = [*seen, *[answer(size=8.0, said=Fault.NONE)] * 4]
    assert {r.fault: r for r in told(missed)}[Fault.SWINGS].smallest is None
    nothing = [answer(Fault.NONE, 0.0), answer(Fault.NONE, 0.0, Fault.SWINGS)]
    last = told(nothing)[-1]
    assert (last.fault, last.right, last.answers, last.smallest) == (Fault.NONE, 1, 2, None)


@pytest.mark.parametrize("fault", list(Fault))
def test_a_take_holds_what_it_hides(fault):
    """By the truth that is filed with it, not by what made it."""
    size = 0.0 if fault is Fault.NONE else LADDER[fault.unit][3]
    truth, _ = Studio(EyeTask(fault, size, "A", 5).script()).truth()
    playing = truth["playing"] > 0
    ends = [
        np.median(truth[c][playing & low]) for c in ("skew_deg", "contact_mm") for low in (truth["bow_pos"] < 0.2, truth["bow_pos"] > 0.8)
    ]
    angle, contact = ends[:2], ends[3] - ends[2]
    assert angle == pytest.approx(
        {Fault.TO_SCROLL: [size, size], Fault.TO_PLAYER: [-size, -size], Fault.SWINGS: [size, -size]}.get(fault, [0, 0]),
        abs=0.35 * size + 0.01,
    )
    assert contact == pytest.approx({Fault.TO_BOARD: size, Fault.TO_BRIDGE: -size}.get(fault, 0.0), abs=0.3 * size + 0.01)


def test_the_record_is_kept_and_what_cannot_be_read_is_left_out(tmp_path):
    record = EyeRecord(tmp_path)
    assert record.answers == []
    record.add(answer())
    record.add(answer(Fault.NONE, 0.0))
    assert EyeRecord(tmp_path).answers == record.answers
    data = json.loads((tmp_path / FILE_NAME).read_text())
    data["answers"] += [{"day": "yesterday"}, 7, {**data["answers"][0], "fault": "nonsense"}]
    (tmp_path / FILE_NAME).write_text(json.dumps(data))
    assert EyeRecord(tmp_path).answers == record.answers
    (tmp_path / FILE_NAME).write_text("{")
    assert EyeRecord(tmp_path).answers == []
    record.forget()
    assert not (tmp_path / FILE_NAME).exists()


@pytest.mark.accuracy
def test_a_take_is_filmed_and_measured_as_any_video_is(tmp_path):
    """The measuring, which knows nothing of the script, finds what was hidden: twelve degrees to the player's side."""
    take = finish(play(EyeTask(Fault.TO_PLAYER, 12.0, "A", 21), tmp_path))
    seen = take.angle[np.isfinite(take.angle[:, 0])]
    assert len(seen) == 3
    assert (np.abs(seen[:, 0] + 12.0) < 2.5 * seen[:, 1] + 1.0).all()
    assert take.video.exists()
