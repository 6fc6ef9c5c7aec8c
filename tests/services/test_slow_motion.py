"""Slow motion: what a phone filmed at many frames a second and saved slower is measured and shown at its true times."""

from __future__ import annotations

from fractions import Fraction

import av
import numpy as np
import pytest

from dolcezza.core.base.job import finish
from dolcezza.core.media.audio import read_sound
from dolcezza.core.media.probe import FILMED_RATE, probe
from dolcezza.core.media.video import FrameStore, read_frames
from dolcezza.core.pipeline.fit_file import read_fit
from dolcezza.core.pipeline.sound_pass import listen
from dolcezza.reports.language import language
from dolcezza.services.analysis import analyse
from takes_support import take_video
from tests_support import cut_short

HZ = 48_000


def slow_film(path, *, shown: int = 30, filmed: str | None = "240", frames: int = 60) -> None:
    """A square that moves 4 px a frame, and a tone of 55 Hz as the file sounds."""
    with av.open(str(path), "w", options={"movflags": "use_metadata_tags"}) as out:
        if filmed is not None:
            out.metadata[FILMED_RATE] = filmed
        stream = out.add_stream("libx264", rate=shown, options={"crf": "5"})
        stream.width, stream.height, stream.pix_fmt = 320, 64, "yuv420p"
        sound = out.add_stream("aac", rate=HZ, layout="mono")
        for k in range(frames):
            image = np.zeros((64, 320, 3), np.uint8)
            image[10:30, 4 * k : 4 * k + 20] = 255
            frame = av.VideoFrame.from_ndarray(image, format="rgb24")
            frame.pts, frame.time_base = k, Fraction(1, shown)
            out.mux(stream.encode(frame))
        out.mux(stream.encode(None))
        tone = (0.5 * np.sin(2 * np.pi * 55 * np.arange(HZ * frames // shown) / HZ)).astype(np.float32)
        for a in range(0, len(tone), 1024):
            part = av.AudioFrame.from_ndarray(tone[None, a : a + 1024], format="fltp", layout="mono")
            part.sample_rate, part.pts, part.time_base = HZ, a, Fraction(1, HZ)
            out.mux(sound.encode(part))
        out.mux(sound.encode(None))


def at_x(image: np.ndarray) -> int:
    """Which frame it is, by its square."""
    return round((float(np.nonzero(image[20] > 128)[0].mean()) - 9.5) / 4)


def test_its_true_rate_length_and_times_are_told(tmp_path):
    path = tmp_path / "slow.mp4"
    slow_film(path)
    file = probe(path)
    assert file.slow == pytest.approx(8.0) and file.frame_rate == pytest.approx(240.0) and file.duration_s == pytest.approx(0.25, abs=0.01)
    frames = list(read_frames(path))
    assert [round(240 * f.t_s) for f in frames] == list(range(60)) == [at_x(f.image) for f in frames]
    assert [at_x(f.image) for f in read_frames(path, start_s=40 / 240)][-1] == 59
    store = FrameStore(path, grey=True)
    assert [at_x(store.at(k / 240).image) for k in (50, 3, 4, 59, 0)] == [50, 3, 4, 59, 0]
    assert store.at(50 / 240).t_s == pytest.approx(50 / 240)
    store.close()


def test_it_sounds_as_it_was_played(tmp_path):
    """55 Hz in the file, eight times slower than it was: an A of 440 Hz."""
    path = tmp_path / "slow.mp4"
    slow_film(path)
    samples, start = read_sound(path, rate_hz=16_000)
    assert len(samples) / 16_000 == pytest.approx(0.25, abs=0.03) and abs(start) < 0.02
    spectrum = np.abs(np.fft.rfft(samples * np.hanning(len(samples)), 65_536))
    assert 16_000 * spectrum.argmax() / 65_536 == pytest.approx(440.0, abs=3.0)


@pytest.mark.parametrize(("shown", "filmed"), [(30, None), (30, "30"), (30, "29.97"), (30, "much"), (30, "100000"), (240, "240")])
def test_an_ordinary_video_is_as_it_was_filmed(tmp_path, shown, filmed):
    path = tmp_path / "usual.mp4"
    slow_film(path, shown=shown, filmed=filmed)
    file = probe(path)
    assert file.slow == 1.0 and file.frame_rate == pytest.approx(shown)


@pytest.mark.accuracy
def test_a_take_in_slow_motion_gives_the_same_figures(tmp_path):
    """The first seconds of a demo take with its pictures shown four times slower, as a phone saves them."""
    usual = cut_short("demo-a2", 4.0, tmp_path)
    path = tmp_path / "slow.mp4"
    with av.open(str(usual)) as source, av.open(str(path), "w", options={"movflags": "use_metadata_tags"}) as out:
        out.metadata[FILMED_RATE] = "30"
        stream = source.streams.video[0]
        copy = out.add_stream_from_template(stream)
        for packet in source.demux(stream):
            if packet.dts is not None:
                packet.stream, packet.pts, packet.dts, packet.duration = copy, 4 * packet.pts, 4 * packet.dts, 4 * packet.duration
                out.mux(packet)
    assert probe(path).slow == pytest.approx(4.0, rel=0.02)
    fit = read_fit(take_video("demo-a2").with_suffix(".fit.json"))
    true, slow = (finish(analyse(p, fit)) for p in (usual, path))
    assert slow.series.t == pytest.approx(true.series.t, abs=0.002)
    both = np.isfinite(true.series["bow_angle_deg"]) & np.isfinite(slow.series["bow_angle_deg"])
    assert both.mean() > 0.7
    assert np.median(np.abs(slow.series["bow_angle_deg"] - true.series["bow_angle_deg"])[both]) < 0.4
    assert [s.direction for s in slow.strokes] == [s.direction for s in true.strokes]
    assert [s.mean_speed_cm_s for s in slow.strokes] == pytest.approx([s.mean_speed_cm_s for s in true.strokes], rel=0.1)
    [note] = [n for n in slow.notes if n.id == "note.slow motion"]
    assert "30 frames a second" in language("en").sentence(note) and "4 times slower" in language("en").sentence(note)
    assert "note.slow motion" not in {n.id for n in true.notes}


def test_slow_motion_that_the_file_keeps_quiet_about_is_told_by_its_sound(tmp_path):
    """The sound of a demo take, four times slower and lower as a phone saves it, under any picture; and as it was."""
    samples, _ = read_sound(take_video("dev-straight"), rate_hz=12_000)
    said = {}
    for name, rate in (("slow.mkv", 3_000), ("plain.mkv", 12_000)):
        path = tmp_path / name
        with av.open(str(path), "w") as out:
            video, sound = out.add_stream("libx264", rate=10), out.add_stream("pcm_s16le", rate=rate, layout="mono")
            video.width, video.height, video.pix_fmt = 320, 240, "yuv420p"
            out.mux(video.encode(av.VideoFrame.from_ndarray(np.full((240, 320, 3), 90, np.uint8), format="rgb24")))
            out.mux(video.encode(None))
            part = av.AudioFrame.from_ndarray((30_000 * samples).astype(np.int16)[None], format="s16", layout="mono")
            part.sample_rate = rate
            out.mux(sound.encode(part))
            out.mux(sound.encode(None))
        said[name] = {m.id: m for m in listen(path, "violin")[1]}
    assert "note.seems slow" not in said["plain.mkv"]
    words = language("en").sentence(said["slow.mkv"]["note.seems slow"])
    assert "some 4 times slower" in words and "as the phone has kept it" in words
