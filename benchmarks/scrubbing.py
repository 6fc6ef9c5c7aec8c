"""How soon a picture is there while the slider is dragged:  python benchmarks/scrubbing.py [VIDEO]; without one, a 1080p film is made.

Prints milliseconds from the wish to the first picture and to the exact one, and both as a ratio to decoding one frame.
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import av
import cv2
import numpy as np
from PySide6.QtCore import QCoreApplication, QEventLoop, QTimer

from dolcezza.app.workers.frame_feeder import Pictures
from dolcezza.core.media.probe import probe
from dolcezza.core.media.video import read_frames
from dolcezza.services.demo import demo_video


def make_film(path: Path, *, gop: int, seconds: int = 20) -> Path:
    """The demo take enlarged to 1080p, with a keyframe every ``gop`` frames."""
    frames = [f.image for f in read_frames(demo_video("demo-swing-1"), grey=False)]
    with av.open(str(path), "w") as out:
        stream = out.add_stream("libx264", rate=30)
        stream.width, stream.height, stream.pix_fmt, stream.gop_size = 1920, 1080, "yuv420p", gop
        stream.options = {"preset": "veryfast", "sc_threshold": "0", "keyint_min": str(gop)}
        for k in range(30 * seconds):
            image = cv2.resize(frames[k % len(frames)], (1920, 1080)).astype(np.uint8, copy=False)
            out.mux(stream.encode(av.VideoFrame.from_ndarray(image, format="rgb24")))
        out.mux(stream.encode(None))
    return path


def spin(ms: int) -> None:
    """Let the pictures come."""
    loop = QEventLoop()
    QTimer.singleShot(ms, loop.quit)
    loop.exec()


def latencies(video: Path, moments: np.ndarray, *, rest_ms: int) -> tuple[list[float], list[float]]:
    """Milliseconds to the first picture and to the last one (the exact one) of every wish."""
    pictures, came = Pictures(), []
    pictures.ready.connect(lambda _t, _image: came.append(time.perf_counter()))
    pictures.open(video)
    spin(12_000)
    first, exact = [], []
    for moment in moments:
        came.clear()
        asked = time.perf_counter()
        pictures.want(float(moment))
        while not came:
            QCoreApplication.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 5)
        spin(rest_ms)
        first.append(1000 * (came[0] - asked))
        exact.append(1000 * (came[-1] - asked))
    pictures.close()
    return first, exact


def main() -> None:
    """Print the table."""
    QCoreApplication(sys.argv[:1])
    with tempfile.TemporaryDirectory() as folder:
        films = [Path(sys.argv[1])] if len(sys.argv) > 1 else [make_film(Path(folder) / f"gop{g}.mp4", gop=g) for g in (30, 250)]
        for film in films:
            begin = time.perf_counter()
            frames = sum(1 for _ in read_frames(film, grey=False))
            frame_ms = 1000 * (time.perf_counter() - begin) / frames
            length = probe(film).duration_s
            for name, moments in (
                ("anywhere", np.random.default_rng(1).uniform(0, length - 0.5, 30)),
                ("dragged back", np.arange(length - 1, length / 3, -0.4)),
                ("back by frame", np.arange(8, 7, -1 / 30)),
            ):
                first, exact = latencies(film, moments, rest_ms=2500 if "anywhere" in name else 60)
                p = np.percentile(first, [50, 90, 100])
                print(
                    f"{film.name:12s} {name:14s} first picture {p[0]:4.0f} / {p[1]:4.0f} / {p[2]:4.0f} ms (median / 90 % / worst)"
                    f" = {p[0] / frame_ms:4.1f} x one frame; exact {np.median(exact):5.0f} ms"
                )


if __name__ == "__main__":
    main()
