"""Speed of the measuring by stage, against decoding alone and against real time:  ./run bench [TAKE ...] [--large]

Writes ``benchmarks/last.json`` and compares with what the run before wrote there. ``--large`` also measures the first take
enlarged to 1080p at 60 frames a second, and a five-minute 1080p take made of it, with the memory that took.
"""

from __future__ import annotations

import json
import resource
import sys
import tempfile
import time
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import av

from dolcezza.core.base.job import finish
from dolcezza.core.media.video import read_frames
from dolcezza.core.pipeline.fit_file import Fit, read_fit
from dolcezza.services.analysis import analyse

LAST = Path(__file__).with_name("last.json")
TAKES = Path(__file__).parents[1] / "tests" / "takes"


STAGES = ("decoding_alone", "fit", "decode", "follow", "find", "pose", "sound", "solve", "arm", "strokes", "total")


def measure(video: Path, fit: Fit) -> dict[str, float]:
    """Seconds by stage for one take, with decoding alone beside it."""
    begin = time.perf_counter()
    frames = sum(1 for _ in read_frames(video))
    decoding = time.perf_counter() - begin
    result = finish(analyse(video, fit))
    memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    return {"frames": frames, "length_s": float(result.series.t[-1]), "memory_mb": memory, "decoding_alone": decoding, **result.timings}


def enlarged(stem: str, folder: Path, *, rate: int, repeats: int) -> tuple[Path, Fit]:
    """A reference take at 1920 x 1080, its frames doubled for 60 a second, the whole repeated."""
    source, target = TAKES / f"{stem}.mp4", folder / f"{stem}-{rate}-{repeats}.mp4"
    count = 0
    with av.open(str(target), "w") as out:
        stream = out.add_stream("libx264", rate=rate, options={"preset": "ultrafast", "crf": "20"})
        stream.width, stream.height, stream.pix_fmt = 1920, 1080, "yuv420p"
        for _ in range(repeats):
            with av.open(str(source)) as take:
                for frame in take.decode(video=0):
                    large = frame.reformat(width=1920, height=1080)
                    for _ in range(rate // 30):
                        large.pts, large.time_base = count, Fraction(1, rate)
                        count += 1
                        out.mux(stream.encode(large))
        out.mux(stream.encode(None))
    fit = read_fit(source.with_suffix(".fit.json"))
    larger = [replace(m, points={n: (1.5 * x, 1.5 * y) for n, (x, y) in m.points.items()}) for m in fit.landmarks]
    return target, replace(fit, landmarks=tuple(larger))


def show(name: str, row: dict[str, float], old: dict[str, float]) -> None:
    """One take's figures as lines of text."""
    print(f"{name}: {row['frames']:.0f} frames, {row['length_s']:.1f} s, memory up to {row['memory_mb']:.0f} MB")
    for stage in STAGES:
        if stage in row:
            change = f"   before {old[stage]:6.2f} s" if stage in old else ""
            print(f"  {stage:15s}{row[stage]:7.2f} s  {row[stage] / row['decoding_alone']:6.2f} x decoding alone{change}")
    print(f"  {row['length_s'] / row['total']:.2f} x real time")


def main() -> None:
    """Measure, print, compare, keep."""
    stems = [a for a in sys.argv[1:] if not a.startswith("-")] or ["dev-straight"]
    before = json.loads(LAST.read_text()) if LAST.exists() else {}
    now = {}
    for stem in stems:
        now[stem] = measure(TAKES / f"{stem}.mp4", read_fit(TAKES / f"{stem}.fit.json"))
        show(stem, now[stem], before.get(stem, {}))
    if "--large" in sys.argv:
        with tempfile.TemporaryDirectory() as folder:
            for name, rate, repeats in (("1080p60", 60, 1), ("1080p30, five minutes", 30, 29)):
                now[name] = measure(*enlarged(stems[0], Path(folder), rate=rate, repeats=repeats))
                show(name, now[name], before.get(name, {}))
    LAST.write_text(json.dumps({**before, **now}, indent=1) + "\n")


if __name__ == "__main__":
    main()
