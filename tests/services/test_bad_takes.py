"""Takes that cannot be measured, or not all of them: each gets a plain sentence, and what can be read is read."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import av
import numpy as np
import pytest

from dolcezza.core.base.errors import LandmarkError, MediaError
from dolcezza.core.base.job import finish
from dolcezza.core.camera.pose import swapped
from dolcezza.core.instrument.model import REQUIRED_LANDMARKS, InstrumentModel
from dolcezza.core.media.probe import probe
from dolcezza.core.media.video import read_frames
from dolcezza.core.pipeline.alignment import doubtful_landmarks, fitted
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.fit_file import CalibrationFrame, Fit
from dolcezza.core.pipeline.frame_pass import check_measurable
from dolcezza.reports.language import language
from dolcezza.services.analysis import analyse
from takes_support import take_video
from tests_support import cut_short

LANDMARKS = {n: (10.0 * k, 20.0 + k * k) for k, n in enumerate(REQUIRED_LANDMARKS)}
FIT = Fit("violin 4/4", (CalibrationFrame(0.0, LANDMARKS),))


def test_a_picture_of_one_pixel_is_refused_with_its_size(tmp_path):
    path = tmp_path / "dot.avi"
    with av.open(str(path), "w") as out:
        stream = out.add_stream("rawvideo", rate=30)
        stream.width = stream.height = 1
        stream.pix_fmt = "rgb24"
        for _ in range(6):
            out.mux(stream.encode(av.VideoFrame.from_ndarray(np.zeros((1, 1, 3), np.uint8), format="rgb24")))
        out.mux(stream.encode(None))
    with pytest.raises(MediaError, match="1 x 1 px"):
        finish(analyse(path, FIT))


def test_ten_hours_are_refused_at_once_with_how_to_cut(film):
    path = film(frames=6)
    long = path.with_name("lesson.mkv")
    with av.open(str(path)) as take, av.open(str(long), "w") as out:
        stream = out.add_stream_from_template(take.streams.video[0])
        packets = [p for p in take.demux(video=0) if p.pts is not None]
        for k, packet in enumerate(packets):
            packet.stream = stream
            packet.pts = packet.dts = int(36_000 * k / (len(packets) - 1) / packet.time_base)
            out.mux(packet)
    assert probe(long).duration_s > 35_000
    with pytest.raises(MediaError, match=r"600 minutes long.*Cut out the part"):
        finish(analyse(long, FIT))


def test_a_frame_without_a_picture_in_the_middle_is_passed_over(film):
    path = film(frames=40)
    data = bytearray(path.read_bytes())
    with av.open(str(path)) as take:
        spots = [(p.pos, p.size) for p in take.demux(video=0) if p.pos is not None and p.size]
    at, size = spots[15]
    data[at : at + size] = bytes(size)
    path.write_bytes(bytes(data))
    frames = list(read_frames(path))
    assert 35 <= len(frames) <= 40
    assert frames[-1].t_s == pytest.approx(39 / 30, abs=0.001)


def test_times_that_go_back_are_left_out(monkeypatch, tmp_path):
    """Frames whose time does not rise are not measured twice: the record's times always rise."""

    from dolcezza.core.pipeline import context

    real = context.read_frames

    def jumpy(*args, **kwargs):
        for frame in real(*args, **kwargs):
            yield frame
            if frame.index == 100:
                yield replace(frame, t_s=frame.t_s - 0.5)

    monkeypatch.setattr(context, "read_frames", jumpy)
    video = cut_short("demo-a3", 4.5, tmp_path)
    from dolcezza.core.pipeline.fit_file import read_fit

    series = finish(analyse(video, read_fit(take_video("demo-a3").with_suffix(".fit.json")))).series
    assert (np.diff(series.t) > 0).all()
    assert len(series) == sum(1 for _ in real(video))


def test_another_instrument_in_mid_take_is_said_with_its_moment(measured):
    """Landmarks of the second moment that do not belong to the instrument of the first: a cello of half the size."""
    fit, file = measured.fit("dev-straight"), probe(take_video("dev-straight"))
    cello = InstrumentModel(replace(fit, instrument="cello 4/4").spec)
    camera = measured("dev-straight").landmark_fit.camera
    other = {n: tuple(camera.project(0.5 * p)) for n, p in cello.landmarks.items() if n not in ("end_button",)}
    moments = fitted(Context.of(file.path, file, replace(fit, landmarks=(*fit.landmarks, CalibrationFrame(6.0, other)))))
    notes = doubtful_landmarks(fit, moments)
    assert len(notes) == 1
    assert "At 6.0 s" in language("en").sentence(notes[0])
    assert "another instrument" in language("en").sentence(notes[0])


def test_exchanged_sides_in_one_of_several_moments_name_it(measured):
    fit, file = measured.fit("dev-straight"), probe(take_video("dev-straight"))
    wrong = CalibrationFrame(6.0, swapped(fit.landmarks[0].points))
    with pytest.raises(LandmarkError, match=r"At 6\.0 s: .*exchanged") as caught:
        fitted(Context.of(file.path, file, replace(fit, landmarks=(*fit.landmarks, wrong))))
    assert caught.value.swap


def test_a_usual_take_is_let_through(film):
    check_measurable(probe(film()))


def test_a_variable_frame_rate_keeps_its_own_times(tmp_path):
    path = tmp_path / "vfr.mp4"
    times = np.cumsum([0, 33, 33, 50, 20, 33, 66, 33, 33, 33]) / 1000
    with av.open(str(path), "w") as out:
        stream = out.add_stream("libx264", rate=30)
        stream.width, stream.height, stream.pix_fmt = 160, 120, "yuv420p"
        stream.time_base = stream.codec_context.time_base = Fraction(1, 1000)
        for t in times:
            frame = av.VideoFrame.from_ndarray(np.zeros((120, 160, 3), np.uint8), format="rgb24")
            frame.pts, frame.time_base = round(t * 1000), Fraction(1, 1000)
            out.mux(stream.encode(frame))
        out.mux(stream.encode(None))
    assert [f.t_s for f in read_frames(path)] == pytest.approx(times, abs=0.002)
