"""The frame that is offered for setting landmarks: sharp, and the bow hand away from the instrument."""

from __future__ import annotations

from concurrent.futures import Future

import numpy as np
import pytest

from conftest import TRUTH
from dolcezza.core.base.errors import MediaError, ModelsMissing
from dolcezza.core.base.job import finish
from dolcezza.core.media.probe import probe
from dolcezza.core.media.video import read_frames
from dolcezza.core.pipeline.offered_frame import LOOKS, _best, offered_frame
from dolcezza.services.analysis import frame_to_mark
from takes_support import take_video


class Answers:
    """Models that say what ``tell`` makes of the number of the look."""

    def __init__(self, tell):
        self.tell, self.count = tell, 0

    def warm(self, *what):
        pass

    def body(self, image, *, anew=False):
        future = Future()
        made = self.tell(self.count)
        self.count += 1
        future.set_exception(made) if isinstance(made, Exception) else future.set_result(made)
        return future

    def hands(self, image):
        raise AssertionError("nobody asks for hands here")


def player(apart: float):
    points = np.zeros((33, 3))
    points[:, 2] = 1.0
    points[11, :2], points[12, :2] = (100, 100), (200, 100)
    points[15, :2], points[16, :2] = (150, 200), (150 + 100 * apart, 200)
    return points


@pytest.mark.accuracy
@pytest.mark.parametrize("stem", ["demo-a1", "demo-b2", "dev-straight", "dev-cello"])
def test_the_bow_hand_is_away_from_the_instrument(stem):
    """On the rendered takes the offered frame has the bow well towards the tip, where the hand covers nothing."""
    t = finish(frame_to_mark(take_video(stem)))
    truth = np.load(TRUTH / f"{stem}.truth.npz")
    assert truth["bow_pos"][int(np.abs(truth["t"] - t).argmin())] > 0.6


def test_the_widest_reach_is_offered(film):
    video = film()
    looked_at = [f.t_s for f in read_frames(video, every_s=probe(video).duration_s / LOOKS)]
    assert finish(offered_frame(video, Answers(lambda k: player(3.0 if k == 5 else 1.0)))) == looked_at[5]


def test_without_models_or_player_the_sharpest_frame_is_offered(film):
    lost, nobody = ModelsMissing("gone"), None
    assert finish(offered_frame(film(), Answers(lambda _k: lost))) == finish(offered_frame(film(), Answers(lambda _k: nobody)))


def test_a_blurred_frame_is_not_offered_however_far_the_hand():
    sharp, apart = np.array([100.0, 20.0, 90.0, 95.0]), np.array([1.0, 3.0, 2.0, np.nan])
    assert _best(sharp, apart) == 2
    assert _best(sharp, np.full(4, np.nan)) == 0


def test_a_file_that_is_no_video_gets_a_sentence(tmp_path):
    (tmp_path / "x.mp4").write_bytes(b"nothing")
    with pytest.raises(MediaError):
        finish(frame_to_mark(tmp_path / "x.mp4"))
