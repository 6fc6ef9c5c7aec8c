"""The bow hand out of a take: frames at the frog and at the head, sharp, named by an address and never copied."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from dolcezza.core.base.errors import MediaError
from dolcezza.core.base.job import finish
from dolcezza.services.hand_frames import AT_FROG, AT_HEAD, hand_frames, hands_of_take
from dolcezza.services.pictures import is_frame, read_picture
from takes_support import take_video


def test_the_sharpest_frames_at_both_ends_show_the_hand(measured):
    got = measured("demo-b2")
    video, size = take_video("demo-b2"), (got.file.width, got.file.height)
    frames = {f.role: f for f in finish(hand_frames(video, got.series, size))}
    assert set(frames) == {"frog", "tip"}
    for role, f in frames.items():
        k = int(np.abs(got.series.t - f.t_s).argmin())
        place = got.series["bow_position"][k]
        assert place < AT_FROG if role == "frog" else place > AT_HEAD
        x, y, w, h = f.part
        frog = got.series["frog_x_px"][k], got.series["frog_y_px"][k]
        assert x <= frog[0] <= x + w and y <= frog[1] <= y + h, "the frog, and the hand on it, is in the part that is cut out"
        assert is_frame(f.address) and f.sharp > 0
        picture = read_picture(f.address)
        assert max(picture.shape[:2]) >= 640 and picture.dtype == np.uint8


def test_a_bow_that_never_goes_there_and_a_hand_that_is_too_small_are_said(measured):
    got = measured("demo-b2")
    video, size = take_video("demo-b2"), (got.file.width, got.file.height)
    middle = replace(got.series, values={**got.series.values, "bow_position": np.clip(got.series["bow_position"], 0.3, 0.7)})
    with pytest.raises(MediaError, match="neither to the frog nor to the head"):
        finish(hands_of_take(video, middle, size, right=True))
    near = {**got.series.values}
    for axis in "xy":
        near[f"head_{axis}_px"] = got.series[f"frog_{axis}_px"] + 0.2 * (got.series[f"head_{axis}_px"] - got.series[f"frog_{axis}_px"])
    with pytest.raises(MediaError, match="too small in this video"):
        finish(hands_of_take(video, replace(got.series, values=near), size, right=True))


def test_a_frame_of_a_video_that_is_gone_says_so(tmp_path):
    from pathlib import Path

    address = Path(f"{tmp_path}/gone.mp4#t=1.000&xywh=10,10,50,50")
    with pytest.raises(MediaError, match="no longer where it was"):
        read_picture(address)
    assert not is_frame(tmp_path / "picture.jpg")
