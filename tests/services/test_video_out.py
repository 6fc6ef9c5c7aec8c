"""A video that leaves the machine: decoded again, slowed with its sound, the bow drawn, faces hidden, the filmed one untouched."""

from __future__ import annotations

import av
import numpy as np
import pytest

from dolcezza.core.base.errors import MediaError, StudioError
from dolcezza.core.base.job import finish
from dolcezza.reports.language import language
from dolcezza.services.video_out import video_out

ENGLISH = language("en")


@pytest.fixture
def out(tmp_path):
    """A folder with nothing in it."""
    folder = tmp_path / "out"
    folder.mkdir()
    return folder


@pytest.fixture
def taken(studio):
    take = next(s.take for student in studio.students() for s in studio.takes(student.id) if s.analysed)
    return take, studio.analysis(take)


def decoded(path):
    """Frames, their rate, and the seconds of picture and of sound, by the decoder."""
    with av.open(str(path)) as container:
        video, sound = container.streams.video[0], container.streams.audio[0]
        frames = [f.to_ndarray(format="rgb24") for f in container.decode(video)]
        rate = float(video.average_rate)
    with av.open(str(path)) as container:
        samples = sum(f.samples for f in container.decode(container.streams.audio[0]))
        return frames, rate, len(frames) / rate, samples / sound.codec_context.sample_rate


@pytest.mark.parametrize("tempo", [1.0, 0.5])
def test_a_stroke_is_written_with_its_sound_as_fast_as_asked(taken, out, tempo):
    take, stored = taken
    stroke = stored.strokes[1]
    made = finish(video_out(take, stored, out / "stroke.mp4", ENGLISH, span=(stroke.start_s, stroke.end_s), tempo=tempo))
    frames, rate, seconds, heard = decoded(made)
    wanted = (stroke.end_s - stroke.start_s) / tempo
    assert rate == pytest.approx(stored.series.rate_hz * tempo, rel=0.01)
    assert seconds == pytest.approx(wanted, abs=0.15) and heard == pytest.approx(wanted, abs=0.25)
    assert frames[0].shape[1] <= 1280 and list(out.iterdir()) == [made]


def test_faces_are_hidden_unless_they_are_asked_for_and_the_bow_is_drawn(taken, out):
    take, stored = taken
    span = (stored.strokes[0].start_s, stored.strokes[0].start_s + 0.2)
    hidden, _, _, _ = decoded(finish(video_out(take, stored, out / "hidden.mp4", ENGLISH, span=span)))
    shown, _, _, _ = decoded(finish(video_out(take, stored, out / "shown.mp4", ENGLISH, span=span, faces=True)))
    k = int(np.searchsorted(stored.series.t, span[0]))
    apart = np.abs(hidden[0].astype(int) - shown[0].astype(int)).max(axis=2) > 40
    assert apart.sum() > 400, "a part of the picture is hidden"
    scale = hidden[0].shape[1] / take.width
    x, y = (scale * 0.5 * (stored.series[f"frog_{a}_px"][k] + stored.series[f"head_{a}_px"][k]) for a in "xy")
    assert hidden[0][round(y) - 6 : round(y) + 7, round(x)].min() < 70, "the drawn bow is dark in its middle"
    assert not apart[round(y) - 2 : round(y) + 3, round(x)].any(), "and is hidden nowhere"


def test_what_cannot_be_written_is_said_and_nothing_is_left(taken, out):
    take, stored = taken
    before = take.path.read_bytes()
    with pytest.raises(StudioError, match="the video itself"):
        finish(video_out(take, stored, take.path, ENGLISH))
    assert take.path.read_bytes() == before
    with pytest.raises(StudioError, match="no name for a video"):
        finish(video_out(take, stored, out / "film.txt", ENGLISH))
    with pytest.raises(StudioError, match="nothing to show"):
        finish(video_out(take, stored, out / "none.mp4", ENGLISH, span=(900.0, 901.0)))
    with pytest.raises(StudioError):
        finish(video_out(take, stored, out / "no" / "folder" / "x.mp4", ENGLISH, span=(1.0, 1.2)))
    from dataclasses import replace

    with pytest.raises(MediaError, match="no longer where it was"):
        finish(video_out(replace(take, path=out / "gone.mp4"), stored, out / "x.mp4", ENGLISH))
    assert list(out.iterdir()) == []
