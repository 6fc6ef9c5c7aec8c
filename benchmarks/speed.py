"""Speed of the measuring by stage, against decoding alone and against real time:  ./run bench [TAKE ...]

Writes ``benchmarks/last.json`` and compares with what the run before wrote there.
"""

from __future__ import annotations

import json
import sys
import time
from pathlib import Path

from dolcezza.core.base.job import finish
from dolcezza.core.media.video import read_frames
from dolcezza.services.analysis import analyse
from dolcezza.services.demo import demo_video
from dolcezza.services.fitfile import read_fit

LAST = Path(__file__).with_name("last.json")


def measure(stem: str) -> dict[str, float]:
    """Seconds by stage for one demo take, with decoding alone beside it."""
    video = demo_video(stem)
    begin = time.perf_counter()
    frames = sum(1 for _ in read_frames(video))
    decoding = time.perf_counter() - begin
    result = finish(analyse(video, read_fit(video.with_suffix(".fit.json"))))
    return {"frames": frames, "length_s": float(result.series.t[-1]), "decoding_alone": decoding, **result.timings}


def main() -> None:
    """Measure, print, compare, keep."""
    before = json.loads(LAST.read_text()) if LAST.exists() else {}
    now = {stem: measure(stem) for stem in (sys.argv[1:] or ["dev-straight"])}
    for stem, row in now.items():
        print(f"{stem}: {row['frames']:.0f} frames, {row['length_s']:.1f} s")
        for stage in ("decoding_alone", "fit", "decode", "follow", "find", "solve", "strokes", "total"):
            ratio = row[stage] / row["decoding_alone"]
            old = before.get(stem, {}).get(stage)
            change = f"   before {old:6.2f} s" if old else ""
            print(f"  {stage:15s}{row[stage]:7.2f} s  {ratio:6.2f} x decoding alone{change}")
        print(f"  {row['length_s'] / row['total']:.2f} x real time")
    LAST.write_text(json.dumps({**before, **now}, indent=1) + "\n")


main()
