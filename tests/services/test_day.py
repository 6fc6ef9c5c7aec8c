"""A day's videos: whose each is by name and time, doubles, what cannot be used, and in which order they are measured."""

from __future__ import annotations

import shutil
import time
from dataclasses import replace
from datetime import date, datetime, timedelta
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest

from dolcezza.core.base.job import finish
from dolcezza.core.media.probe import recorded_at
from dolcezza.core.pipeline.played_on import by_head
from dolcezza.services.agenda import lesson_of
from dolcezza.services.day import look_at_pictures, name_in, proposals, propose_again, results, take_in, videos_in, worth_looking
from dolcezza.services.studio import Studio
from takes_support import take_video


def filmed(path: Path, when: str | None, *, grey: int = 90) -> Path:
    """A second of a plain picture, with a phone's tag of when it was filmed."""
    with av.open(str(path), "w") as out:
        if when is not None:
            out.metadata["creation_time"] = when
        stream = out.add_stream("libx264", rate=Fraction(10))
        stream.width, stream.height, stream.pix_fmt = 160, 96, "yuv420p"
        for k in range(10):
            frame = av.VideoFrame.from_ndarray(np.full((96, 160, 3), grey + k, np.uint8), format="rgb24")
            frame.pts = k
            out.mux(stream.encode(frame))
        out.mux(stream.encode(None))
    return path


@pytest.fixture
def studio(tmp_path) -> Studio:
    made = Studio(tmp_path / "studio")
    # 2026-11-24 is a Tuesday
    lessons = (("Orla Vantongeren", "violin 4/4", 1, "16:30"), ("Bram Ilse", "violin 3/4", 1, "17:00"))
    for name, plays, day, at in (*lessons, ("Tove Marchetti", "cello 4/4", 3, "9:00")):
        made.store.change_student(replace(made.add_student(name, plays), lesson_day=day, lesson_time=at))
    return made


@pytest.fixture(autouse=True)
def utc(monkeypatch):
    monkeypatch.setenv("TZ", "UTC")
    time.tzset()
    yield
    monkeypatch.undo()
    time.tzset()


def whose(found) -> dict[str, str]:
    return {p.path.stem: p.student.name if p.student else "" for p in found}


def test_phones_write_when_a_video_was_filmed(tmp_path):
    assert recorded_at(filmed(tmp_path / "a.mp4", "2026-11-24T16:41:00Z")) == datetime(2026, 11, 24, 16, 41)
    assert recorded_at(filmed(tmp_path / "b.mp4", None)) is None
    assert recorded_at(filmed(tmp_path / "c.mp4", "1970-01-01T00:00:00Z")) is None, "a phone that does not know the day"


@pytest.mark.parametrize(("stem", "name", "part"), [
    ("2026-11-24 Orla scale", "Orla Vantongeren", "Orla"), ("VID_marchetti_2", "Tove Marchetti", "Marchetti"),
    ("BramScale", "Bram Ilse", "Bram"), ("orlando", "Orla Vantongeren", ""), ("IMG_0413", "Orla Vantongeren", ""), ("al fine", "Al Bo", ""),
])  # fmt: skip
def test_a_name_in_the_files_name(stem, name, part):
    assert name_in(stem, name) == part


def test_name_and_lesson_propose_and_say_why(studio, tmp_path):
    day = tmp_path / "day"
    day.mkdir()
    filmed(day / "IMG_1.mp4", "2026-11-24T16:35:00Z", grey=10)  # in Orla's lesson, before Bram's
    filmed(day / "IMG_2.mp4", "2026-11-24T17:40:00Z", grey=30)  # Bram's lesson is just over; Orla's long
    filmed(day / "Tove study.mp4", "2026-11-24T12:00:00Z", grey=50)  # by name, on another's day
    filmed(day / "IMG_3.mp4", "2026-11-25T12:00:00Z", grey=70)  # nobody's day
    found = proposals(studio, [day])
    assert whose(found) == {"IMG_1": "Orla Vantongeren", "IMG_2": "Bram Ilse", "Tove study": "Tove Marchetti", "IMG_3": ""}
    reasons = {p.path.stem: [m.id for m in p.why] for p in found}
    assert reasons["IMG_1"] == ["day.lesson"] and reasons["Tove study"] == ["day.name"]
    assert [p.path.stem for p in found] == ["Tove study", "IMG_1", "IMG_2", "IMG_3"], "the earliest first"


def test_what_is_played_settles_what_names_and_lessons_leave_open(studio, tmp_path):
    """Orla and Bram play under the chin, Tove alone between the knees."""
    between = filmed(tmp_path / "x.mp4", "2026-11-24T17:05:00Z", grey=10)  # Orla's lesson, or Bram's
    nobody = filmed(tmp_path / "y.mp4", "2026-11-25T12:00:00Z", grey=30)
    named = filmed(tmp_path / "Tove.mp4", "2026-11-24T16:35:00Z", grey=50)  # in Orla's lesson
    found = proposals(studio, [between, nobody, named])
    assert whose(found) == {"x": "", "y": "", "Tove": "Tove Marchetti"} and worth_looking(studio, found) == [p.path for p in found]
    told = propose_again(studio, found, {between: "violin", nobody: "cello", named: "cello"})
    assert whose(told) == {"x": "", "y": "Tove Marchetti", "Tove": "Tove Marchetti"}, "two play under the chin, one plays the cello"
    assert [m.id for m in told[[p.path.stem for p in told].index("y")].why] == ["day.plays.cello"]
    wrong = propose_again(studio, found, {named: "violin"})
    assert whose(wrong)["Tove"] == "Orla Vantongeren", "a violin in Orla's lesson is hers, whatever the file is called"
    assert whose(propose_again(studio, found, {})) == whose(found)


def test_pictures_are_not_looked_at_where_all_play_alike(studio, tmp_path):
    fiddlers = Studio(tmp_path / "fiddlers")
    for name, plays in (("Orla Vantongeren", "violin 4/4"), ("Ede Quill", "viola 15.5")):
        fiddlers.add_student(name, plays)
    found = proposals(fiddlers, [filmed(tmp_path / "y.mp4", "2026-11-25T12:00:00Z")])
    assert worth_looking(fiddlers, found) == [] and len(worth_looking(studio, found)) == 1
    assert whose(propose_again(fiddlers, found, {found[0].path: "violin"})) == {"y": ""}, "what all play says nothing"
    fiddlers.close()


def test_a_violin_and_a_cello_are_told_from_each_other_by_their_pictures(tmp_path):
    """Two demo takes and a picture of nothing. Under the chin or between the knees: common practice, no source."""
    nothing = filmed(tmp_path / "plain.mp4", None)
    torn = tmp_path / "torn.mp4"
    torn.write_bytes(b"no video")
    videos = [take_video("demo-a1"), take_video("dev-cello"), nothing, torn]
    assert finish(look_at_pictures(videos)) == {videos[0]: "violin", videos[1]: "cello"}


@pytest.mark.parametrize(("button", "scroll", "told"), [
    ((620, 330), (900, 320), "violin"), ((600, 700), (560, 240), "cello"), ((620, 480), (640, 470), ""),
])  # fmt: skip
def test_where_an_instrument_is_held_is_told_by_the_head(button, scroll, told):
    """Nose at (600, 250), shoulders 200 px apart at 350."""
    nose, shoulders = np.array([600.0, 250.0]), np.array([[500.0, 350.0], [700.0, 350.0]])
    assert by_head(nose, shoulders, np.array(button, float), np.array(scroll, float)) == told


def test_where_two_lessons_fit_nobody_is_proposed(studio, tmp_path):
    (one,) = proposals(studio, [filmed(tmp_path / "x.mp4", "2026-11-24T17:05:00Z")])
    assert one.student is None, "Orla's lesson may have run on, Bram's has begun"


def test_doubles_broken_files_and_other_things(studio, tmp_path):
    day = tmp_path / "day"
    (day / "deeper").mkdir(parents=True)
    first = filmed(day / "Orla.mp4", None)
    shutil.copy(first, day / "Orla copy.mp4")
    (day / "torn.mp4").write_bytes(b"no video")
    (day / "notes.txt").write_text("for Tuesday")
    filmed(day / "deeper" / "b.mp4", None)
    found = {p.path.name: p for p in proposals(studio, [day])}
    assert set(found) == {"Orla.mp4", "Orla copy.mp4", "torn.mp4"}
    assert sorted(p.double for p in found.values()) == [False, False, True]
    assert found["torn.mp4"].fault and not found["torn.mp4"].usable
    student = studio.students()[0]
    studio.add_take(student.id, first)
    assert all(p.double for p in proposals(studio, [first]))
    assert videos_in([day / "notes.txt", first, first]) == [first]


def test_the_most_urgent_lesson_comes_first_and_the_day_is_kept(studio, tmp_path):
    names = {s.name.split()[0]: s for s in studio.students()}
    days = (("a", 23), ("b", 24))
    videos = [filmed(tmp_path / f"{n}.mp4", f"2026-11-{k}T10:00:00Z", grey=k) for n, k in days]
    found = [proposals(studio, [v])[0] for v in videos]
    ids, faults = take_in(studio, [(found[0], names["Tove"].id), (found[1], names["Orla"].id)])
    assert not faults and len(ids) == 2
    takes = [studio.store.take(k) for k in ids]
    assert {t.played_on for t in takes} == {date(2026, 11, 23), date(2026, 11, 24)}
    nexts = [lesson_of(studio.store.student(t.student_id)).next(datetime.now()) for t in takes]
    assert nexts == sorted(nexts)
    found[0].path.unlink()
    again, faults = take_in(studio, [(found[0], names["Bram"].id)])
    assert not again and "a.mp4" in faults[0]


def test_what_came_out_of_a_day_is_listed_without_what_was_dismissed(measured_studio, tmp_path):
    shutil.copytree(measured_studio, tmp_path / "results")
    made = Studio(tmp_path / "results")
    today = date.fromisoformat(made.analysis(made.store.analysed_on(date.today())[0]).made_at[:10])
    (one,) = results(made, today)
    stored = made.analysis(one.take)
    assert (one.student, one.strokes) == (made.store.student(one.take.student_id).name, len(stored.strokes))
    first = next((j for j in stored.findings if j.finding.sure), None)
    assert (one.first.id if one.first else None) == (first.id if first else None)
    accepted = stored.findings[-1]
    made.review.judge(accepted, "accepted")
    assert results(made, today)[0].first is not None, "what the teacher has said counts"
    for judged in made.analysis(one.take).findings:
        made.review.judge(judged, "dismissed", "not today")
    assert results(made, today)[0].first is None
    assert results(made, today - timedelta(days=1)) == []
    made.close()
