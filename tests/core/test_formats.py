"""Containers, codecs, frame rates and sizes that phones and computers write: true times, upright, readable."""

from __future__ import annotations

from fractions import Fraction

import av
import numpy as np
import pytest

from dolcezza.core.media.probe import probe
from dolcezza.core.media.video import FrameStore, read_frames


def write(path, codec: str, pixels: str, times_ms: list[int], size=(160, 120)):
    with av.open(str(path), "w") as out:
        stream = out.add_stream(codec, rate=30)
        stream.width, stream.height, stream.pix_fmt = *size, pixels
        stream.codec_context.time_base = Fraction(1, 1000)
        for k, ms in enumerate(times_ms):
            image = np.full((size[1], size[0], 3), 30, np.uint8)
            image[10:30, 4 * k : 4 * k + 20] = 230
            frame = av.VideoFrame.from_ndarray(image, format="rgb24").reformat(format=pixels)
            frame.pts, frame.time_base = ms, Fraction(1, 1000)
            out.mux(stream.encode(frame))
        out.mux(stream.encode(None))
    return path


def places(path) -> list[int]:
    return [round((np.nonzero(f.image[20] > 128)[0].mean() - 9.5) / 4) for f in read_frames(path)]


@pytest.mark.parametrize(
    ("name", "codec", "pixels"),
    [
        ("h264.mp4", "libx264", "yuv420p"), ("h264.mov", "libx264", "yuv420p"), ("h264.mkv", "libx264", "yuv422p"),
        ("h265.mp4", "libx265", "yuv420p"), ("ten-bit.mp4", "libx265", "yuv420p10le"), ("vp9.webm", "libvpx-vp9", "yuv420p"),
        ("motion-jpeg.avi", "mjpeg", "yuvj420p"), ("mpeg4.avi", "mpeg4", "yuv420p"),
    ],
)  # fmt: skip
def test_containers_and_codecs(tmp_path, name, codec, pixels):
    times = [round(1000 * k / 30) for k in range(12)]
    path = write(tmp_path / name, codec, pixels, times)
    assert probe(path).size == (160, 120)
    assert places(path) == list(range(12))
    got = [f.t_s for f in read_frames(path)]
    assert np.allclose(np.diff(got), 1 / 30, atol=0.004)


@pytest.mark.parametrize("rate", [24, 25, 30, 50, 60, 120, 240])
def test_frame_rates(tmp_path, rate):
    path = write(tmp_path / "rate.mkv", "libx264", "yuv420p", [round(1000 * k / rate) for k in range(20)])
    got = [f.t_s for f in read_frames(path)]
    assert np.allclose(got, np.round(1000 * np.arange(20) / rate) / 1000, atol=0.0015)


def test_a_variable_frame_rate_keeps_its_true_times(tmp_path):
    times = [0, 33, 66, 150, 180, 300, 333, 366, 500, 520]
    path = write(tmp_path / "phone.mkv", "libx264", "yuv420p", times)
    assert np.allclose([f.t_s for f in read_frames(path)], np.array(times) / 1000, atol=0.0015)
    store = FrameStore(path, grey=True)
    for moment, k in ((0.16, 3), (0.31, 5), (0.49, 7), (0.04, 1)):
        assert round((np.nonzero(store.at(moment).image[20] > 128)[0].mean() - 9.5) / 4) == k
    store.close()


def test_an_odd_size_and_a_very_large_picture(tmp_path):
    path = write(tmp_path / "large.mp4", "libx264", "yuv420p", [0, 33, 66], size=(3840, 2160))
    assert next(iter(read_frames(path))).image.shape == (2160, 3840)
    path = write(tmp_path / "narrow.mp4", "libx264", "yuv420p", [0, 33, 66], size=(178, 406))
    assert next(iter(read_frames(path))).image.shape == (406, 178)
