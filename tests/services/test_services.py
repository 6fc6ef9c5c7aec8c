"""What a user does, without a window."""

from __future__ import annotations

import json
import shutil
from types import SimpleNamespace

import numpy as np
import pytest

from dolcezza.core.base.errors import LandmarkError, MediaError, StudioError, TrackingError
from dolcezza.core.base.job import Stage, finish
from dolcezza.core.bowing.zero import Zero
from dolcezza.core.instrument.model import REQUIRED_LANDMARKS
from dolcezza.core.pipeline.fit_file import CalibrationFrame, Fit, fit_from_dict, fit_to_dict, flipped, read_fit
from dolcezza.core.pipeline.measure import zero_would_help
from dolcezza.reports.language import language
from dolcezza.services import demo
from dolcezza.services.analysis import analyse
from dolcezza.services.calibration import CalibrationSession
from dolcezza.services.results import write_analysis
from dolcezza.services.studio import SameVideo, Studio
from dolcezza.services.undo import Step, Together, UndoStack
from takes_support import take_video
from tests_support import cut_short, series_from


def test_a_fit_reads_back_and_keeps_what_the_teacher_measured(measured):
    fit = measured.fit("demo-a1")
    own = Fit(fit.instrument, fit.landmarks, "left", True, "x.mp4", {"hair_length": 525.0}, relaxed_s=0.4, tuning_cents=-80.0)
    assert fit_from_dict(json.loads(json.dumps(fit_to_dict(own)))) == own
    assert own.spec.hair_length == 525.0
    assert not own.flip
    assert Fit(fit.instrument, (), "left").flip


@pytest.mark.parametrize(
    ("data", "words"),
    [
        ([], "does not hold a fit"),
        ({"pins": []}, "does not name the instrument"),
        ({"instrument": "violin 4/4", "pins": []}, "has no landmarks"),
        (
            {"instrument": "violin 4/4", "pins": [{"t_s": 0, "points": {}}], "tuning_cents": "low"},
            "The tuning of the fit file cannot be read",
        ),
        ({"instrument": "violin 4/4", "pins": [{"t_s": 0.3}]}, "cannot be read"),
        ({"instrument": "violin 4/4", "pins": [{"t_s": 0, "points": {"knee": [1, 2]}}]}, "not a place on the instrument"),
        ({"instrument": "violin 4/4", "handed": "both", "pins": [{"t_s": 0, "points": {}}]}, "'handed'"),
    ],
)
def test_bad_fits_get_a_sentence(data, words):
    with pytest.raises(LandmarkError, match=words):
        fit_from_dict(data)


def test_missing_and_garbled_fit_files(tmp_path):
    with pytest.raises(LandmarkError, match="no fit file"):
        read_fit(tmp_path / "none.json")
    (tmp_path / "bad.json").write_text("{not json")
    with pytest.raises(LandmarkError, match="JSON text"):
        read_fit(tmp_path / "bad.json")


# calibrating


def session(measured, names=None) -> CalibrationSession:
    fit = measured.fit("dev-straight")
    points = fit.landmarks[0].points
    kept = {k: v for k, v in points.items() if names is None or k in names}
    return CalibrationSession(Fit(fit.instrument, (CalibrationFrame(0.3, kept),)), (1280, 720), 0.0)


def test_four_clicks_are_enough_and_the_rest_makes_it_better(measured):
    points = measured.fit("dev-straight").landmarks[0].points
    landmarks = CalibrationSession(Fit("violin 4/4", ()), (1280, 720), 0.3)
    told = []
    landmarks.changed = told.append
    for k, name in enumerate(REQUIRED_LANDMARKS):
        assert landmarks.next_landmark() == name
        assert not landmarks.state.ready
        assert f"{4 - k} of the first four" in landmarks.state.problem
        landmarks.set(name, *points[name])
    assert landmarks.state.ready
    assert len(told) == 4
    few = landmarks.state.precision.bow_angle_deg
    for name in ("lower_bout_treble", "upper_bout_bass", "upper_bout_treble", "end_button"):
        landmarks.set(name, *points[name])
    assert landmarks.state.precision.bow_angle_deg < few
    assert landmarks.result().landmarks[0].points.keys() == points.keys()
    assert landmarks.state.outline.shape[1] == 2
    assert landmarks.state.strings.shape == (4, 2, 2)


def test_one_drag_is_one_undo_step(measured):
    landmarks = session(measured)
    start = landmarks.state.points["bridge_bass"]
    before = dict(landmarks.state.points)
    for k in range(10):
        landmarks.move("bridge_bass", start[0] + k, start[1])
    landmarks.set("bridge_bass", start[0] + 9, start[1], before=before)
    assert landmarks.undo.undo_label == "landmark moved"
    assert landmarks.undo.undo()
    assert landmarks.state.points["bridge_bass"] == start
    assert landmarks.undo.redo()
    assert landmarks.state.points["bridge_bass"] == (start[0] + 9, start[1])
    landmarks.remove("end_button")
    landmarks.clear()
    assert not landmarks.state.ready
    landmarks.undo.undo()
    landmarks.undo.undo()
    assert "end_button" in landmarks.state.points


@pytest.mark.parametrize("size", [1, 40])
def test_while_it_is_dragged_the_fit_is_the_same_as_afterwards(measured, size):
    """Followed from where it was a moment ago, or searched for from everywhere: the same pose, also after a drag across the instrument."""
    landmarks = session(measured)
    for name, dx, dy in (("bridge_bass", size, 0.0), ("board_treble", 0.0, -size)):
        x, y = landmarks.state.points[name]
        for k in range(5):
            landmarks.move(name, x + dx * k / 4, y + dy * k / 4)
        live = landmarks.state
        landmarks.set(name, x + dx, y + dy)
        assert (live.fit is None) == (landmarks.state.fit is None)
        if live.fit is not None:
            assert np.allclose(live.fit.camera.tvec, landmarks.state.fit.camera.tvec, atol=0.5)
            assert np.allclose(live.outline, landmarks.state.outline, atol=0.1)


def test_swapped_sides_are_offered_and_mended(measured):
    landmarks = session(measured)
    landmarks.swap_sides()
    assert landmarks.state.swap
    assert "exchanged" in landmarks.state.problem
    with pytest.raises(LandmarkError):
        landmarks.result()
    landmarks.swap_sides()
    assert landmarks.state.ready


def test_a_mirrored_picture_is_marked_as_it_is_seen(measured):
    fit = measured.fit("dev-straight")
    points = flipped(fit.landmarks[0].points, 1280)
    landmarks = CalibrationSession(Fit("violin 4/4", (CalibrationFrame(0.3, points),)), (1280, 720), 0.3)
    assert landmarks.state.swap
    landmarks.settings(mirrored=True)
    assert landmarks.state.ready
    straight = session(measured)
    assert np.allclose(landmarks.state.bridge[:, 0], 1280 - straight.state.bridge[:, 0], atol=0.01)


def test_the_wrong_size_shows_in_the_worst_landmark(measured):
    landmarks = session(measured)
    good = landmarks.state.fit.rms_px
    landmarks.settings(instrument="cello 4/4")
    assert landmarks.state.fit is None or landmarks.state.fit.rms_px > 2 * good
    landmarks.settings(instrument="violin 4/4")
    x, y = landmarks.state.points["upper_bout_bass"]
    landmarks.set("upper_bout_bass", x + 12, y - 9)
    assert landmarks.state.worst_landmark[0] == "upper_bout_bass"


# measuring


def test_progress_comes_in_frames_and_the_job_can_be_stopped(measured):
    work = analyse(take_video("demo-a1"), measured.fit("demo-a1"))
    stages = []
    for progress in work:
        stages.append(progress)
        if progress.stage is Stage.FOLLOWING and progress.done > 30:
            work.close()
    assert stages[-1].total == pytest.approx(228, abs=3)
    assert [p.done for p in stages if p.stage is Stage.FOLLOWING][:3] == [1, 6, 11]


def test_a_left_handed_take_is_the_mirror_image_of_a_right_handed_one(measured, tmp_path):
    """Film, mirrored left for right, of a left-handed player: the same figures come out, the pixels mirrored."""
    import av

    source = take_video("demo-a1")
    mirrored = tmp_path / "left.mp4"
    with av.open(str(source)) as inside, av.open(str(mirrored), "w") as out:
        stream = out.add_stream("mpeg4", rate=30)
        stream.width, stream.height, stream.pix_fmt, stream.bit_rate = 1280, 720, "yuv420p", 8_000_000
        for k, frame in enumerate(inside.decode(video=0)):
            if k == 75:
                break
            image = np.ascontiguousarray(frame.to_ndarray(format="rgb24")[:, ::-1])
            out.mux(stream.encode(av.VideoFrame.from_ndarray(image, format="rgb24")))
        out.mux(stream.encode(None))
    fit = measured.fit("demo-a1")
    left = Fit(fit.instrument, tuple(CalibrationFrame(m.t_s, flipped(m.points, 1280)) for m in fit.landmarks), "left")
    got, usual = finish(analyse(mirrored, left)).series, measured("demo-a1").series
    window = slice(30, 70)
    assert np.nanmedian(np.abs(got["bow_angle_deg"][window] - usual["bow_angle_deg"][window])) < 0.8
    assert np.nanmedian(np.abs(got["bow_position"][window] - usual["bow_position"][window])) < 0.01
    assert np.nanmedian(np.abs((1280 - got["head_x_px"])[window] - usual["head_x_px"][window])) < 4


def test_a_film_without_an_instrument_is_refused(film, measured):
    path = film(frames=30, size=(1280, 720))
    with pytest.raises(TrackingError, match="No bow|cannot be followed"):
        finish(analyse(path, measured.fit("dev-straight")))


def test_landmarks_beside_the_instrument_find_no_bow(measured, tmp_path):
    """The landmarks of another take, on a part of the picture without strings: what crosses there is longer than any bow."""
    fit = measured.fit("dev-straight")
    beside = {k: (x - 560, y + 290) for k, (x, y) in fit.landmarks[0].points.items()}
    with pytest.raises(TrackingError, match="No bow was found crossing the strings"):
        finish(analyse(cut_short("dev-straight", 4.0, tmp_path), Fit(fit.instrument, (CalibrationFrame(0.3, beside),))))


def test_two_marked_moments_follow_as_well_as_one(measured, tmp_path):
    fit = measured.fit("demo-a1")
    other = measured("demo-a1")
    later = CalibrationSession(fit, (1280, 720), 0.3).state.points
    twice = Fit(fit.instrument, (*fit.landmarks, CalibrationFrame(0.5, later)))
    got = finish(analyse(cut_short("demo-a1", 4.5, tmp_path), twice))
    whole = [s for s in got.strokes if s.end_s < 4.0]
    assert len(whole) >= 3
    for one, same in zip(whole, other.strokes, strict=False):
        assert (one.string, one.direction) == (same.string, same.direction)
        assert one.start_s == pytest.approx(same.start_s, abs=0.1)
        assert one.bow_angle_deg == pytest.approx(same.bow_angle_deg, abs=1.0)


def test_the_files_of_an_analysis_hold_together(measured, tmp_path):
    analysis = measured("demo-a1")
    paths = write_analysis(analysis, tmp_path / "out")
    assert [p.name for p in paths] == ["frames.csv", "strokes.csv", "findings.json", "summary.json", "arm.json", "sound.json"]
    summary = json.loads((tmp_path / "out" / "summary.json").read_text())
    assert summary["strokes"] == len(analysis.strokes) == 6
    assert summary["frames"] == 228
    assert set(summary["timings_s"]) >= {"fit", "decode", "follow", "find", "solve", "total"}
    findings = json.loads((tmp_path / "out" / "findings.json").read_text())
    assert {"kind", "strokes", "evidence_s", "value", "sd", "limit", "cause"} <= set(findings[0])


# the studio


def test_the_demo_studio_is_filled_once(tmp_path):
    studio = Studio(tmp_path / "s")
    ids = demo.fill(studio)
    assert demo.fill(studio) == ids
    assert len(ids) == 14
    assert len(studio.students()) == len(demo.STUDENTS)
    studio.close()


def test_the_same_video_twice_and_a_video_that_moved(studio, tmp_path):
    student = studio.students()[0]
    copy = tmp_path / "copy.mp4"
    shutil.copy(take_video("dev-cello"), copy)
    with pytest.raises(SameVideo, match="already in the studio") as caught:
        studio.add_take(student.id, copy)
    take = caught.value.take
    studio.store.move_take(take.id, tmp_path / "gone.mp4")
    found = studio.add_take(student.id, copy)
    assert (found.id, found.path) == (take.id, copy)
    with pytest.raises(StudioError, match="not the same video"):
        studio.find_video(found, take_video("demo-a1"))
    assert studio.find_video(found, take_video("dev-cello")).path == take_video("dev-cello")


def test_bad_students_and_bad_videos_change_nothing(studio, film):
    before = studio.students()
    with pytest.raises(StudioError, match="no name"):
        studio.add_student("  ", "violin 4/4")
    with pytest.raises(StudioError, match="already a student"):
        studio.add_student(before[0].name.upper(), "violin 4/4")
    with pytest.raises(MediaError, match="too short"):
        studio.add_take(before[0].id, film(frames=3))
    assert studio.students() == before


def test_the_teachers_word_is_kept_and_can_be_undone(studio):
    take = next(s.take for st in studio.students() for s in studio.takes(st.id) if s.analysed)
    first = studio.analysis(take).findings[0]
    studio.review.judge(first, "dismissed", "filmed from below")
    assert studio.analysis(take).findings[0].reason == "filmed from below"
    assert studio.undo.undo_label == "finding dismissed"
    studio.undo.undo()
    assert studio.analysis(take).findings[0].verdict == "open"
    studio.undo.redo()
    assert studio.analysis(take).findings[0].verdict == "dismissed"


def test_removing_a_take_leaves_the_video(studio):
    take = next(s.take for st in studio.students() for s in studio.takes(st.id) if s.analysed)
    folder = studio.analysis(take).folder
    studio.delete_take(take.id)
    assert take.path.exists()
    assert not folder.exists()


def test_a_step_that_fails_stays_on_the_stack():
    stack = UndoStack(limit=2)

    def broken() -> None:
        raise StudioError("The disk is full.")

    stack.push(Step("a", broken, broken))
    with pytest.raises(StudioError):
        stack.undo()
    assert stack.undo_label == "a"
    for k in range(3):
        stack.push(Step(str(k), lambda: None, lambda: None))
    assert [stack.undo(), stack.undo(), stack.undo()] == [True, True, False]


def test_of_several_stacks_what_was_done_last_is_taken_back_first():
    first, second, done = UndoStack(), UndoStack(), []
    for stack, name in ((first, "a"), (second, "b"), (first, "c")):
        done.append(name)
        stack.did(name, done.pop, lambda name=name: done.append(name))
    both = Together([first, second])
    assert both.undo_label == "c" and both.redo_label == ""
    assert [both.undo(), both.undo()] == [True, True] and done == ["a"]
    assert both.undo_label == "a" and both.redo_label == "b"
    assert both.redo() and done == ["a", "b"] and both.redo_label == "c"
    assert both.redo() and done == ["a", "b", "c"] and not both.redo()
    assert [both.undo() for _ in range(4)] == [True, True, True, False]


def shaken(source, path, frames: int = 60) -> None:
    """The first frames of a take as a hand-held, turning, approaching phone would film them."""
    import av
    import cv2

    with av.open(str(source)) as inside, av.open(str(path), "w") as out:
        stream = out.add_stream("mpeg4", rate=30)
        stream.width, stream.height, stream.pix_fmt, stream.bit_rate = 1280, 720, "yuv420p", 8_000_000
        for k, frame in enumerate(inside.decode(video=0)):
            if k == frames:
                break
            moved = np.sin(2 * np.pi * max(0, k - 9) / 60)
            turn = cv2.getRotationMatrix2D((640, 360), 7.0 * moved, 1 + 0.06 * moved)
            turn[:, 2] += [50 * moved, -30 * moved]
            image = cv2.warpAffine(frame.to_ndarray(format="rgb24"), turn, (1280, 720), borderMode=cv2.BORDER_REPLICATE)
            out.mux(stream.encode(av.VideoFrame.from_ndarray(image, format="rgb24")))
        out.mux(stream.encode(None))


def test_a_shaken_turning_phone_does_not_show_up_as_bow_angle(measured, tmp_path):
    shaken(take_video("demo-a3"), tmp_path / "shaken.mp4")
    got = finish(analyse(tmp_path / "shaken.mp4", measured.fit("demo-a3"))).series
    usual = measured("demo-a3").series
    assert np.isfinite(got["bow_angle_deg"]).mean() > 0.97
    for column, most in (("bow_angle_deg", 0.7), ("contact_point_mm", 1.0), ("bow_position", 0.01)):
        assert np.nanmedian(np.abs(got[column][5:55] - usual[column][5:55])) < most, column


def test_a_zero_is_offered_where_it_would_narrow_the_angle_and_says_by_how_much():
    series = series_from(np.arange(30) / 30, np.linspace(0.1, 0.9, 30))

    def said(whole, shared, zero=None):
        own = series.with_columns({"bow_angle_sd_deg": np.full(30, whole), "bow_angle_take_sd_deg": np.full(30, shared)})
        return language("en").sentence(zero_would_help(own, SimpleNamespace(zero=zero)))

    assert "± 2.6 degrees" in said(2.6, 2.4) and "± 1.2" in said(2.6, 2.4)  # sqrt(2.6^2 - 2.4^2 + 0.7^2)
    assert said(2.6, 1.0) == "", "what is each frame's own stays"
    assert said(1.5, 1.4) == "", "good enough as it is"
    assert said(2.6, 2.4, zero=Zero(0.0, 0.7, np.zeros(2))) == "", "there is a zero already"
