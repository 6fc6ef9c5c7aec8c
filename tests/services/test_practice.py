"""Plans, log, calendar, sheets, reports and annotations, each read back by another library."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import cv2
import numpy as np
import pytest
import vobject

from dolcezza.core.base.errors import PracticeError
from dolcezza.core.practice.plan import Task
from dolcezza.core.practice.progress import Change
from dolcezza.reports.language import language
from dolcezza.reports.pages import around_the_bow, common_place, moment_at, still_of, student_sheet, take_report, to_webvtt, worst_moment
from dolcezza.reports.practice import slot_words
from dolcezza.services.practice import followed, plan_from_dict, plan_to_calendar, plan_to_dict, prescriptions, tasks_for

TODAY = date(2026, 3, 2)


@pytest.fixture
def lesson(unpractised):
    studio = unpractised
    take = next(s.take for student in studio.students() for s in studio.takes(student.id) if s.analysed)
    return studio, take, studio.analysis(take)


def make(studio, student_id, tasks, **more):
    wanted = {"first_day": TODAY, "next_lesson": TODAY + timedelta(days=7), "minutes_a_day": 20.0, "today": TODAY} | more
    return studio.practice.make(student_id, tasks, **wanted)


def test_accepted_findings_come_first_and_dismissed_ones_not_at_all(lesson):
    studio, take, stored = lesson
    [first] = prescriptions(stored.findings)[:1]
    assert first.correction.key == "arm forward" and not first.accepted
    studio.review.judge(stored.findings[0], "accepted")
    assert prescriptions(studio.analysis(take).findings)[0].accepted
    studio.review.judge(studio.analysis(take).findings[0], "dismissed")
    left = {f.finding.cause for p in prescriptions(studio.analysis(take).findings) for f in p.findings}
    assert stored.findings[0].finding.cause not in left


def test_a_plan_is_made_kept_and_taken_back(lesson):
    studio, take, stored = lesson
    tasks = tasks_for(prescriptions(stored.findings), [("Scale in D", 4.0)], [("Little march", 6.0)])
    assert [t.drill for t in tasks[:2]] == ["D11", "D18"] and tasks[0].first and tasks[-1].words == "Little march"
    kept = make(studio, take.student_id, tasks)
    assert studio.practice.plans(take.student_id)[0].plan == kept.plan and len(kept.plan.days) == 7
    studio.undo.undo()
    assert studio.practice.plans(take.student_id) == []
    studio.undo.redo()
    assert len(studio.practice.plans(take.student_id)) == 1


def test_pain_in_the_log_pauses_the_drill_in_the_next_plan(lesson):
    studio, take, stored = lesson
    tasks = tasks_for(prescriptions(stored.findings))
    studio.practice.log(take.student_id, TODAY, "D11", minutes=2, pain=True, today=TODAY)
    made = make(studio, take.student_id, tasks, minutes_a_day=10.0)
    assert made.plan.paused == ("D11",) and made.plan.minutes_a_day <= 10
    assert all(s.drill != "D11" for d in made.plan.days for s in d.slots)
    with pytest.raises(PracticeError, match="paused for pain"):
        studio.practice.log(take.student_id, TODAY, "D11", minutes=1, count=8, today=TODAY)
    assert make(studio, take.student_id, tasks).plan.paused != (), "playing on does not lift the pause"
    studio.practice.allow_again(take.student_id, "D11", today=TODAY)
    assert make(studio, take.student_id, tasks).plan.paused == ()


def test_a_weeks_ticks_are_written_down_at_once_and_taken_back_at_once(lesson):
    studio, take, stored = lesson
    plan = make(studio, take.student_id, tasks_for(prescriptions(stored.findings))).plan
    later = TODAY + timedelta(days=6)
    ticks = [(day.day, slot) for day in plan.days[:5] for slot in day.slots]
    studio.practice.log(take.student_id, TODAY, ticks[0][1].drill, minutes=2, count=8, today=later)
    kept = studio.practice.log_week(take.student_id, ticks, today=later)
    assert len(kept) == len(ticks) - 1, "what was there already is not written twice"
    record = studio.practice.record(take.student_id, TODAY + timedelta(days=4))
    assert record.streak == 5 and record.minutes_a_day == pytest.approx(sum(s.minutes for s in plan.days[0].slots), abs=1.0)
    studio.undo.undo()
    assert len(studio.practice.entries(take.student_id)) == 1
    studio.undo.redo()
    assert len(studio.practice.entries(take.student_id)) == len(ticks)
    with pytest.raises(PracticeError, match="still to come"):
        studio.practice.log_week(take.student_id, [(plan.days[5].day, plan.days[5].slots[0])], today=TODAY)
    with pytest.raises(PracticeError, match="before this student began"):
        studio.practice.log(take.student_id, date(2020, 1, 1), "D4", today=later)


def test_mobile_joints_and_pain_as_marked_change_the_plan(lesson):
    studio, take, _ = lesson
    student = studio.store.student(take.student_id)
    studio.store.change_student(replace(student, mobile_joints=True, had_pain=True, born=2017))
    person = studio.practice.person(student.id, date(2026, 3, 2))
    assert (person.age, person.mobile_joints, person.had_pain) == (9, True, True)
    made = make(studio, student.id, [Task("Thumb bends", 1, "D1"), Task("Circles", 1, "D7")]).plan
    assert [s.drill for s in made.days[0].slots] == ["D1"] and {m.id for m in made.left_out} == {"plan.after pain"}


def test_a_sheet_needs_neither_a_video_nor_a_correction(unpractised):
    from dolcezza.core.practice.drills import drill

    beginner = next(s for s in unpractised.students() if s.name == "Runa Castellane")
    plan = make(unpractised, beginner.id, [Task("Set and keep", 3, "D4")], first_day=date(2026, 10, 5), next_lesson=date(2026, 10, 12),
                today=date(2026, 10, 5)).plan  # fmt: skip
    page = student_sheet(beginner, None, [drill("D4")], day=date(2026, 10, 5), plan=plan)
    assert "Set and keep" in page and page.count("☐") >= 7 and "Small doses" in page


def test_pain_in_a_piece_pauses_it_too(lesson):
    studio, take, _ = lesson
    studio.practice.log(take.student_id, TODAY, "Little march", minutes=5, pain=True, today=TODAY)
    made = make(studio, take.student_id, tasks_for([], [("Scale in D", 4.0)], [("Little march", 6.0)]))
    assert made.plan.paused == ("Little march",) and [s.words for s in made.plan.days[0].slots] == ["Scale in D"]


def test_the_log_counts_days_and_settings_and_refuses_what_cannot_be(lesson):
    studio, take, _ = lesson
    for k in range(3):
        studio.practice.log(take.student_id, TODAY - timedelta(days=k), "D4", minutes=4, count=10, today=TODAY)
    record = studio.practice.record(take.student_id, TODAY)
    assert (record.streak, record.settings, record.minutes_a_day) == (3, 30, pytest.approx(4.0))
    studio.practice.forget(studio.practice.entries(take.student_id)[0])
    assert studio.practice.record(take.student_id, TODAY).settings == 20
    studio.undo.undo()
    assert studio.practice.record(take.student_id, TODAY).settings == 30
    with pytest.raises(PracticeError, match="still to come"):
        studio.practice.log(take.student_id, TODAY + timedelta(days=1), "D4", today=TODAY)
    with pytest.raises(PracticeError, match="cannot be"):
        studio.practice.log(take.student_id, TODAY, "D4", minutes=-1, today=TODAY)


def test_plan_files_read_back_and_unknown_drills_are_named(lesson):
    studio, take, stored = lesson
    plan = make(studio, take.student_id, tasks_for(prescriptions(stored.findings))).plan
    data = plan_to_dict(plan)
    assert plan_from_dict(data) == plan
    data["days"][0]["slots"][0]["drill"] = "D99"
    with pytest.raises(PracticeError, match="unknown drill: D99"):
        plan_from_dict(data)
    with pytest.raises(PracticeError, match="damaged"):
        plan_from_dict({"days": []})


def test_the_calendar_is_read_by_another_library(lesson):
    """RFC 5545, read back by vobject."""
    studio, take, stored = lesson
    student = studio.store.student(take.student_id)
    plan = make(studio, take.student_id, tasks_for(prescriptions(stored.findings))).plan
    events = vobject.readOne(plan_to_calendar(plan, student).decode()).vevent_list
    assert len(events) == 7 and events[0].summary.value == f"Practice: {student.name}"
    assert events[0].dtstart.value.date() == TODAY
    assert (events[0].dtend.value - events[0].dtstart.value).total_seconds() / 60 == pytest.approx(plan.days[0].minutes, abs=0.6)
    assert events[0].description.value.splitlines() == [slot_words(s, language("en")) for s in plan.days[0].slots]
    assert len({e.uid.value for e in events}) == 7


def test_a_picture_to_be_set_beside_another_is_cut_around_the_whole_bow(lesson):
    _, take, stored = lesson
    whole, cut = (still_of(take, stored, 2.0, faces=True, shape=shape) for shape in (None, 1.15))
    sizes = [cv2.imdecode(np.frombuffer(s.jpeg, np.uint8), cv2.IMREAD_COLOR).shape[:2] for s in (whole, cut)]
    assert sizes[0][1] / sizes[0][0] == pytest.approx(16 / 9, abs=0.01) and sizes[1][1] / sizes[1][0] == pytest.approx(1.15, abs=0.01)
    assert around_the_bow((300.0, 500.0), 1280, 800.0) == (0, 800), "not beyond the picture"
    assert around_the_bow((600.0, 900.0), 1280, 800.0) == (350, 1150), "the bow in its middle"
    left, right = around_the_bow((1200.0, 150.0), 1280, 800.0)
    assert left < 150 and right > 1200, "wider where the bow needs it"
    assert around_the_bow((float("nan"), 500.0), 1280, 800.0) == (0, 1280)


def test_the_sheet_has_one_thing_its_picture_the_dose_and_boxes(lesson):
    studio, take, stored = lesson
    student, chosen = studio.store.student(take.student_id), prescriptions(stored.findings)[0]
    still = still_of(take, stored, worst_moment(stored.findings))
    kept = make(studio, take.student_id, tasks_for([chosen]))
    for reader in ("child", "adult", "parent"):
        page = student_sheet(student, chosen.correction, chosen.drills, day=TODAY, plan=kept.plan, still=still, reader=reader)
        assert chosen.correction.says in page and chosen.drills[0].how[reader] in page
        assert page.count("☐") == 7 * (len(kept.plan.days[0].slots) + 1) and "data:image/jpeg;base64," in page
        assert "doctor or physiotherapist" in page
    assert student_sheet(replace(student, name="<b>"), chosen.correction, chosen.drills, day=TODAY).count("&lt;b&gt;") == 2, (
        "a name is text"
    )


def test_the_report_has_every_stroke_and_finding(lesson):
    studio, take, stored = lesson
    studio.review.remark(take.id, 1.4, "Left shoulder")
    student, spec = studio.store.student(take.student_id), studio.fit(take).spec
    page = take_report(student, take, stored, spec, remarks=studio.store.words.remarks(take.id))
    for text in (
        *(language("en").sentence(f.finding.message) for f in stored.findings),
        "Left shoulder",
        "How it was measured",
        "Open strings",
    ):
        assert text in page
    assert page.count("<tr>") == 1 + len(stored.strokes) and "nan" not in page


def test_a_video_that_is_gone_leaves_the_page_without_picture(lesson):
    _, take, stored = lesson
    assert still_of(replace(take, path=take.path.with_name("gone.mp4")), stored, 1.0) is None


def test_annotations_are_webvtt(lesson):
    """WebVTT as the W3C describes it: header, blank line, cues with hours and milliseconds (from memory)."""
    studio, take, stored = lesson
    kept = studio.review.remark(take.id, 1.25, "look --> here")
    text = to_webvtt(stored, [kept])
    assert text.startswith("WEBVTT\n\n00:00:0")
    assert "00:00:01.250 --> 00:00:03.250\nlook -> here" in text
    cues = [line for line in text.splitlines() if "-->" in line]
    assert len(cues) == len(stored.strokes) + sum(len(f.finding.evidence_s) for f in stored.findings) + 1
    assert cues == sorted(cues)


def test_the_same_place_on_the_bow_is_found(lesson):
    _, _, stored = lesson
    moment = moment_at(stored, "A", 0.6)
    k = abs(stored.series.t - moment).argmin()
    assert stored.series["bow_position"][k] == pytest.approx(0.6, abs=0.05) and stored.series.strings[k] == "A"
    assert common_place([stored, stored], "A", 0.99) == pytest.approx(0.75, abs=0.02) and common_place([stored], "G", 0.5) is None
    assert moment_at(stored, "A", 0.99) is None and moment_at(stored, "G", 0.5) is None


@pytest.mark.accuracy
def test_six_weeks_of_a_child_got_better_where_it_did(studio, measured):
    """The truth: the bow's swing at the tip shrinks from take to take; the bow used stays the same."""
    student = next(s for s in studio.students() if len([t for t in studio.takes(s.id) if t.take.path.stem.startswith("demo-a")]) == 3)
    for status in studio.takes(student.id):
        if not status.analysed:
            studio.save_analysis(status.take, studio.store.latest_fit(status.take.id)[0], measured(status.take.path.stem))
    takes = [s.take for s in studio.takes(student.id)]
    profile = studio.profile_of(takes[0], studio.fit(takes[0]))
    found = {c.name: c for c in followed([(t, studio.analysis(t), studio.fit(t).spec) for t in takes], profile)}
    tip = found["Bow angle, tip"]
    assert [p.day for p in tip.points] == sorted(p.day for p in tip.points) and len(tip.points) == 3
    assert tip.change(tip.points[0], tip.points[-1]) is Change.BETTER
    assert found["Bow used in a stroke"].change(*found["Bow used in a stroke"].points[::2]) is Change.SAME
