"""What all tests share: no network, throw-away places, costly takes measured once."""

from __future__ import annotations

import fcntl
import os
import pickle
import shutil
import socket
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import av
import numpy as np
import pytest
from hypothesis import settings
from sqlalchemy import Engine, event

from dolcezza.core.base.job import finish
from dolcezza.core.pipeline.fit_file import Fit, read_fit
from dolcezza.core.pipeline.measure import TakeAnalysis
from dolcezza.services.analysis import analyse
from dolcezza.services.studio import Studio
from takes_support import fill, take_video

TRUTH = Path(__file__).parent / "takes"

settings.register_profile("steady", derandomize=True, deadline=None, database=None)
settings.register_profile("trials", derandomize=False, deadline=None, database=None, print_blob=True)
# the same examples every time: a run fails for a cause, never by luck; fresh ones are drawn by "./run trials", and what they find is kept
# as an example of its test
settings.load_profile("trials" if os.environ.get("DOLCEZZA_TRIALS") else "steady")


@event.listens_for(Engine, "connect")
def _without_waiting_for_the_disk(connection, _record):
    """Test studios survive a killed process, not a power cut: nothing waits until the disk has what was written."""
    connection.execute("PRAGMA synchronous = OFF")


@pytest.fixture(autouse=True)
def no_network(monkeypatch):
    """Student video stays on this machine: a socket that leaves it is an error."""

    def refuse(self, address, *args):
        if self.family in (socket.AF_INET, socket.AF_INET6):
            raise AssertionError(f"network call to {address}")
        return real(self, address, *args)

    real = socket.socket.connect
    monkeypatch.setattr(socket.socket, "connect", refuse)


@pytest.fixture(autouse=True)
def own_places(monkeypatch, tmp_path):
    """Data and settings of a test go to its own folder."""
    for name in ("XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_CACHE_HOME", "XDG_STATE_HOME"):
        monkeypatch.setenv(name, str(tmp_path / name.lower()))


class MeasuredTakes:
    """Demo takes, each measured at most once in a test run; ``shared``: a folder through which the processes of one run share them."""

    def __init__(self, shared: Path) -> None:
        self._kept: dict[str, TakeAnalysis] = {}
        self._shared = shared

    def fit(self, stem: str) -> Fit:
        return read_fit(take_video(stem).with_suffix(".fit.json"))

    def __call__(self, stem: str) -> TakeAnalysis:
        if stem not in self._kept:
            with (self._shared / f"{stem}.lock").open("w") as lock:
                fcntl.flock(lock, fcntl.LOCK_EX)
                kept = self._shared / f"{stem}.pickle"
                if not kept.exists():
                    kept.write_bytes(pickle.dumps(finish(analyse(take_video(stem), self.fit(stem)))))
                self._kept[stem] = pickle.loads(kept.read_bytes())
        return self._kept[stem]


@pytest.fixture(scope="session")
def measured(tmp_path_factory, worker_id) -> MeasuredTakes:
    base = tmp_path_factory.getbasetemp()
    shared = (base if worker_id == "master" else base.parent) / "measured"
    shared.mkdir(exist_ok=True)
    return MeasuredTakes(shared)


@pytest.fixture(scope="session")
def measured_studio(tmp_path_factory, measured) -> Path:
    """A demo studio in which one take is measured; copy it, do not change it."""
    folder = tmp_path_factory.mktemp("studio")
    studio = Studio(folder)
    take = studio.store.take(fill(studio)["demo-a1"])
    fit_id = studio.store.latest_fit(take.id)[0]
    studio.save_analysis(take, fit_id, measured("demo-a1"))
    studio.close()
    return folder


@pytest.fixture
def studio(measured_studio, tmp_path):
    """A fresh copy of the demo studio with one measured take."""
    shutil.copytree(measured_studio, tmp_path / "studio")
    made = Studio(tmp_path / "studio")
    yield made
    made.close()


@pytest.fixture
def unpractised(studio):
    """The demo studio without its plans and logs: what a test writes down is all there is."""
    for student in studio.students():
        for entry in studio.practice.entries(student.id):
            studio.store.practice.unlog(entry.id)
        for kept in studio.practice.plans(student.id):
            studio.store.practice.delete_plan(kept.id)
    return studio


def write_video(path: Path, frames: int = 20, *, size: tuple[int, int] = (160, 120), rate: int = 30, sound: bool = False) -> Path:
    """A small film: a white square that moves to the right, 4 px a frame; a 440 Hz tone if asked."""
    with av.open(str(path), "w") as out:
        stream = out.add_stream("mpeg4", rate=rate)
        stream.width, stream.height, stream.pix_fmt = size[0], size[1], "yuv420p"
        tone = out.add_stream("aac", rate=44_100) if sound else None
        for k in range(frames):
            image = np.zeros((size[1], size[0], 3), np.uint8)
            image[10:30, 4 * k : 4 * k + 20] = 255
            out.mux(stream.encode(av.VideoFrame.from_ndarray(image, format="rgb24")))
        out.mux(stream.encode(None))
        if tone is not None:
            samples = 0.5 * np.sin(2 * np.pi * 440 * np.arange(44_100 * frames // rate) / 44_100)
            for a in range(0, len(samples) - 1024, 1024):
                chunk = av.AudioFrame.from_ndarray(samples[None, a : a + 1024].astype(np.float32), format="fltp", layout="mono")
                chunk.sample_rate, chunk.pts = 44_100, a
                out.mux(tone.encode(chunk))
            out.mux(tone.encode(None))
    return path


@pytest.fixture
def film(tmp_path):
    """Writes small films: ``film(name, frames=..., size=..., sound=...)``."""

    def make(name: str = "film.mp4", **options) -> Path:
        return write_video(tmp_path / name, **options)

    return make
