"""A take that another program has saved again: said, and nothing made of what its pictures' times do."""

from __future__ import annotations

import av
import numpy as np
import pytest

from dolcezza.core.base.job import finish
from dolcezza.services.analysis import analyse
from takes_support import take_video


@pytest.fixture(scope="module")
def saved_again(tmp_path_factory, measured):
    """The first two bows of a straight player, every fifth frame the one before."""
    path = tmp_path_factory.mktemp("again") / "again.mp4"
    with av.open(str(take_video("dev-straight"))) as take, av.open(str(path), "w") as out:
        source = take.streams.video[0]
        stream = out.add_stream("libx264", rate=30, options={"crf": "16", "preset": "ultrafast"})
        stream.width, stream.height, stream.pix_fmt = source.width, source.height, "yuv420p"
        shown = None
        for k, frame in enumerate(take.decode(source)):
            if k == 95:
                break
            shown = frame.to_ndarray(format="rgb24") if shown is None or k % 5 else shown
            out.mux(stream.encode(av.VideoFrame.from_ndarray(shown, format="rgb24")))
        out.mux(stream.encode(None))
    return finish(analyse(path, measured.fit("dev-straight")))


def test_repeated_frames_are_said_and_widen_what_is_known_of_a_quick_bow(saved_again, measured):
    assert "note.repeated frames" in [n.id for n in saved_again.notes]
    assert "note.repeated frames" not in [n.id for n in measured("dev-straight").notes]
    assert saved_again.cache.moment_sd_s == pytest.approx(0.5 / 30, rel=0.01)
    assert saved_again.series["moment_sd_s"] == pytest.approx(np.full(len(saved_again.series), 0.5 / 30), rel=0.01)
    assert len(saved_again.strokes) == 2
    assert all(np.isnan([s.shake_mm, s.evenness, s.log_jerk]).all() for s in saved_again.strokes)
    assert all(np.isfinite([s.shake_mm, s.evenness, s.log_jerk]).all() for s in measured("dev-straight").strokes[:2])
