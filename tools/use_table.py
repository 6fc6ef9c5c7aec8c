"""Print the tables of bow use, matched exercises and strings of docs/measuring.md:  python tools/use_table.py"""

from __future__ import annotations

import json
from pathlib import Path
from unittest.mock import patch

import numpy as np

from dolcezza.core.assignment.use import bow_use
from dolcezza.core.base.job import finish
from dolcezza.core.pipeline.fit_file import read_fit
from dolcezza.core.pipeline.sound_pass import listen
from dolcezza.services.analysis import analyse
from dolcezza.services.assignment import against

TRUTH = Path(__file__).parents[1] / "tests" / "takes"
TAKES = (
    "dev-straight", "dev-crooked", "dev-tense", "dev-stickers", "dev-cello", "demo-a1", "demo-a2", "demo-a3", "demo-b1", "demo-b2",
)  # fmt: skip


def told(meta: dict) -> str:
    """What the player was told: strings with strokes and places."""
    groups: list[tuple[str, str, int]] = []
    for s in meta["strokes"]:
        ends = sorted((s["from_pos"], s["to_pos"]))
        way = f"{100 * ends[0]:.0f}-{100 * ends[1]:.0f} %"
        if groups and groups[-1][:2] == (s["string"], way):
            groups[-1] = (s["string"], way, groups[-1][2] + 1)
        else:
            groups.append((s["string"], way, 1))
    return ", ".join(f"{string} {count} x {way}" for string, way, count in groups)


def right(strings: list[str] | np.ndarray, t_s: np.ndarray, truth: dict, meta: dict) -> float:
    """Share of the frames away from the changes whose string is right."""
    edges = [abs(truth["t"] - s[k]) for s in meta["strokes"] for k in ("start_s", "end_s")]
    inner = (truth["playing"] > 0) & (np.min(edges, axis=0) > 0.08)
    at = np.array([int(np.argmin(np.abs(t_s - t))) for t in truth["t"]])
    names = np.array(list(meta["strings"]), object)[truth["string"].astype(int)]
    return float((np.array(strings, object)[at][inner] == names[inner]).mean())


def main() -> None:
    """One row a take."""
    heads = (
        "take", "told", "recognised", "reach found / true", "bow a stroke found / true", "time by tenth, worst",
        "strings: picture, sound, both",
    )  # fmt: skip
    print("| " + " | ".join(heads) + " |")
    print("|" + "---|" * len(heads))
    for stem in TAKES:
        video = TRUTH / f"{stem}.mp4"
        fit = read_fit(video.with_suffix(".fit.json"))
        truth, meta = dict(np.load(TRUTH / f"{stem}.truth.npz")), json.loads((TRUTH / f"{stem}.truth.json").read_text())
        both = finish(analyse(video, fit))
        with patch("dolcezza.core.pipeline.measure.listen", return_value=(None, [])):
            mute = finish(analyse(video, fit))
        heard, _ = listen(video, fit.spec.family)
        if heard is None:
            continue
        t = both.series.t
        by_sound = np.array(list(fit.spec.strings), object)[heard.string_costs(t, fit.spec.family).argmin(axis=1)]
        use = bow_use(both.series, both.strokes, hair_mm=fit.spec.hair_length)["all"]
        ends = np.sort([(s["from_pos"], s["to_pos"]) for s in meta["strokes"]], axis=1)
        place = truth["bow_pos"][truth["playing"] > 0]
        time = np.histogram(place, np.arange(11) / 10)[0] / len(place)
        how = against(both.strokes, fit.spec.strings, None)
        name = how.match.exercise.name if how.match is not None else "none"
        cells = [
            stem, told(meta), f"{name}{'' if how.sure else ' (not sure)'}",
            f"{100 * use.figures['reach_frog'].value:.0f}-{100 * use.figures['reach_tip'].value:.0f} / "
            f"{100 * ends[:, 0].min():.0f}-{100 * ends[:, 1].max():.0f} %",
            f"{100 * use.figures['share'].value:.1f} / {100 * np.ptp(ends, axis=1).mean():.1f} %",
            f"{100 * np.abs(np.array(use.time_share) - time).max():.1f} %",
            f"{100 * right(mute.series.strings, t, truth, meta):.1f}, {100 * right(by_sound, t, truth, meta):.1f}, "
            f"{100 * right(both.series.strings, t, truth, meta):.1f} %",
        ]  # fmt: skip
        print("| " + " | ".join(cells) + " |", flush=True)


if __name__ == "__main__":
    main()
