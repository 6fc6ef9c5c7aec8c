"""Measure takes whose truth lies beside them, and hold them against it:  python tools/against_truth.py FOLDER [fit|rough|none] [NAME ...]

Every take of the folder (NAME.mp4, NAME.fit.json, NAME.truth.npz, NAME.truth.json), or those named. ``fit``: with the landmarks of the fit
file; ``rough``: with its first four alone, 3 px off as a hand sets them; ``none``: the instrument is found. One row a take with the median
errors, in brackets the shares within 2 sd, and the findings that are sure; then the means.
"""

from __future__ import annotations

import json
import os
import sys
import time
import warnings
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from pathlib import Path

import numpy as np

from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.base.job import finish
from dolcezza.core.pipeline.fit_file import Fit, read_fit
from dolcezza.core.pipeline.measure import TakeAnalysis
from dolcezza.services.analysis import analyse_found, find_landmarks
from dolcezza.services.results import write_analysis

WAYS = ("fit", "rough", "none")
ROUGH = ("bridge_bass", "bridge_treble", "board_bass", "board_treble")
NEAR_S = 0.08
"""Both ends of a stroke that was found are within this of the true ones."""


def compared(analysis: TakeAnalysis, stem: Path) -> dict[str, float]:
    """Median errors, shares within 2 sd, frames measured while bowing, strings, strokes, elbow: of one take."""
    truth = dict(np.load(stem.with_suffix(".truth.npz")))
    meta = json.loads(stem.with_suffix(".truth.json").read_text())
    series = analysis.series
    at = np.array([int(np.argmin(np.abs(series.t - t))) for t in truth["t"]])
    play = (truth["playing"] > 0) & (np.abs(series.t[at] - truth["t"]) < 0.02)
    out: dict[str, float] = {}
    for name, column, sd, true, unit in (
        ("angle", "bow_angle_deg", "bow_angle_sd_deg", "skew_deg", 1),
        ("contact", "contact_point_mm", "contact_point_sd_mm", "contact_mm", 1),
        ("place", "bow_position", "bow_position_sd", "bow_pos", 100),
        ("elbow", "elbow_level_deg", "elbow_level_sd_deg", "elbow_elev_deg", 1),
    ):
        off = np.abs(series[column][at] - truth[true])[play]
        out[name] = unit * float(np.nanmedian(off))
        out[f"{name}_in"] = float((off[np.isfinite(off)] <= 2 * series[sd][at][play][np.isfinite(off)]).mean())
        if name == "angle":
            out["seen"] = float(np.isfinite(off).mean())
    edges = np.min([abs(truth["t"] - s[k]) for s in meta["strokes"] for k in ("start_s", "end_s")], axis=0)
    inner = play & (edges > NEAR_S)
    names = np.array(list(meta["strings"]), object)[truth["string"].astype(int)]
    got = np.array(series.strings, object)[at]
    out["strings"] = float(np.mean([n in str(g) for n, g in zip(names[inner], got[inner], strict=True)]))
    left = list(analysis.strokes)
    for s in meta["strokes"]:
        for x in left:
            late = max(abs(x.start_s - s["start_s"]), abs(x.end_s - s["end_s"]))
            if x.direction == s["direction"] and late <= NEAR_S:
                left.remove(x)
                break
    out |= {"hit": len(analysis.strokes) - len(left), "true": len(meta["strokes"]), "told": len(analysis.strokes)}
    return out


def fit_of(stem: Path, how: str) -> Fit:
    """What a take is measured with: one of ``WAYS``. Raises a DolcezzaError where the instrument is not found."""
    hand = read_fit(stem.with_suffix(".fit.json"))
    if how == "none":
        return finish(find_landmarks(stem.with_suffix(".mp4"), hand.instrument))
    if how == "rough":
        rng, first = np.random.default_rng(len(stem.name)), hand.landmarks[0]
        points = {k: tuple(np.array(first.points[k]) + 3.0 * rng.normal(size=2)) for k in ROUGH}
        return replace(hand, landmarks=(replace(first, points=points),))
    return hand


def measured(stem: Path, how: str) -> tuple[str, dict[str, float] | None]:
    """One take's row, and its figures; None where it is refused."""
    warnings.simplefilter("ignore", RuntimeWarning)
    begun = time.monotonic()
    try:
        fit = fit_of(stem, how)
        fit, analysis = finish(analyse_found(stem.with_suffix(".mp4"), fit))
    except DolcezzaError as error:
        return f"{stem.name:16s} {how:5s} refused: {error}", None
    write_analysis(analysis, stem.parent / f"{stem.name}-{how}")
    r = compared(analysis, stem)
    sure = ", ".join(f"{f.kind} {f.value or 0:.1f}" for f in analysis.findings if f.sure)
    return (
        f"{stem.name:16s} {how:5s} angle {r['angle']:5.2f} ({r['angle_in']:.2f}) contact {r['contact']:5.2f} ({r['contact_in']:.2f}) "
        f"place {r['place']:5.2f} ({r['place_in']:.2f}) seen {r['seen']:.2f} strings {r['strings']:.2f} elbow {r['elbow']:4.1f} "
        f"({r['elbow_in']:.2f}) strokes {r['hit']:.0f}/{r['true']:.0f} ({r['told']:.0f}) | {time.monotonic() - begun:.0f} s, "
        f"{fit.instrument}, {fit.handed} | {sure}"
    ), r


def means(rows: list[dict[str, float]]) -> str:
    """The medians of the takes' medians with the worst, the mean shares with the lowest, and strokes."""
    words = []
    for name in ("angle", "contact", "place", "elbow"):
        each, inside = (np.array([r[key] for r in rows]) for key in (name, f"{name}_in"))
        words.append(f"{name} {np.median(each):.2f}, worst {each.max():.1f} (within {inside.mean():.3f}, lowest {inside.min():.2f})")
    hit, true, told = (sum(r[k] for r in rows) for k in ("hit", "true", "told"))
    return f"{len(rows)} takes: {'; '.join(words)}; strokes {hit:.0f}/{true:.0f} ({told:.0f})"


def main(folder: Path, words: list[str]) -> None:
    """One row a take and way."""
    names = [w for w in words if w not in WAYS]
    ways = [w for w in words if w in WAYS] or ["fit"]
    stems = [p.with_name(p.name.removesuffix(".truth.json")) for p in sorted(folder.glob("*.truth.json"))]
    stems = [s for s in stems if s.with_suffix(".mp4").exists() and (not names or any(s.name.startswith(n) for n in names))]
    jobs = [(s, how) for how in ways for s in stems]
    rows: dict[str, list[dict[str, float]]] = {how: [] for how in ways}
    with ProcessPoolExecutor(max_workers=os.cpu_count()) as pool:
        for (_, how), (line, found) in zip(jobs, pool.map(measured, *zip(*jobs, strict=True)), strict=True):
            print(line, flush=True)
            rows[how] += [found] if found else []
    for how in ways:
        if rows[how]:
            print(f"{how}: {means(rows[how])}")


if __name__ == "__main__":
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    main(Path(sys.argv[1]), sys.argv[2:])
