"""Print the tables of docs/measuring.md for the rendered takes that ship:  python tools/accuracy_table.py

With folders (NAME.mp4, NAME.fit.json, NAME.truth.npz, NAME.truth.json in each) for all takes in them:
python tools/accuracy_table.py FOLDER ...
"""

from __future__ import annotations

import json
import sys
import warnings
from pathlib import Path

import numpy as np

from dolcezza.core.base.job import finish
from dolcezza.core.pipeline.fit_file import read_fit
from dolcezza.core.pipeline.measure import TakeAnalysis
from dolcezza.services.analysis import analyse

TRUTH = Path(__file__).parents[1] / "tests" / "takes"
TAKES = (
    "dev-straight", "dev-crooked", "dev-tense", "dev-stickers", "dev-cello", "demo-a1", "demo-a2", "demo-a3", "demo-b1", "demo-b2",
)  # fmt: skip


def off(analysis: TakeAnalysis, truth: dict, column: str, true: str) -> tuple[np.ndarray, np.ndarray]:
    """Errors while the player is bowing, and which frames of the record they are."""
    t = analysis.series.t
    at = np.array([int(np.argmin(np.abs(t - s))) for s in truth["t"]])[truth["playing"] > 0]
    return analysis.series[column][at] - truth[true][truth["playing"] > 0], at


def bow_row(stem: str, analysis: TakeAnalysis, truth: dict, meta: dict) -> str:
    """Angle, contact, position, strings, strokes."""
    cells = [stem]
    for column, sd, true, unit in (
        ("bow_angle_deg", "bow_angle_sd_deg", "skew_deg", "°"), ("contact_point_mm", "contact_point_sd_mm", "contact_mm", " mm"),
    ):  # fmt: skip
        e, at = off(analysis, truth, column, true)
        spread = analysis.series[sd][at]
        cells.append(f"{np.nanmedian(np.abs(e)):.2f}{unit} ({np.nanpercentile(np.abs(e), 90):.1f})")
        cells.append(f"{np.nanmean(np.abs(e) <= 2 * spread):.2f}, ± {np.nanmedian(spread):.1f}{unit}")
    e, at = off(analysis, truth, "bow_position", "bow_pos")
    cells.append(f"{100 * np.nanmedian(np.abs(e)):.2f} % ({100 * np.nanpercentile(np.abs(e), 90):.1f})")
    got = np.array(analysis.series.strings, object)[at]
    names = np.array(list(meta["strings"]), object)[truth["string"].astype(int)][truth["playing"] > 0]
    cells.append(f"{100 * np.isfinite(e).mean():.1f} %")
    cells.append(f"{100 * (got == names).mean():.1f} %")
    cells.append(f"{len(analysis.strokes)}/{len(meta['strokes'])}")
    return "| " + " | ".join(cells) + " |"


def arm_row(stem: str, analysis: TakeAnalysis, truth: dict, meta: dict) -> str:
    """Elbow level, its steps, joints in the picture, staircase, signs."""
    e, at = off(analysis, truth, "elbow_level_deg", "elbow_elev_deg")
    play = truth["playing"] > 0
    string, names, joints = truth["string"][play], meta["joint_names"], truth["joints_px"][play]
    found, true = analysis.series["elbow_level_deg"][at], truth["elbow_elev_deg"][play]
    per = [(np.nanmedian(found[string == s]), np.median(true[string == s])) for s in np.unique(string)]
    step = np.mean(np.abs(np.diff([a for a, _ in per]) - np.diff([b for _, b in per])))
    shoulder, elbow, wrist = (joints[:, names.index(f"{j}_r")] for j in ("shoulder", "elbow", "wrist"))
    arm = np.percentile(np.linalg.norm(shoulder - elbow, axis=1) + np.linalg.norm(elbow - wrist, axis=1), 95)
    cells = [stem, f"{np.nanmedian(np.abs(e)):.1f}° ({np.nanpercentile(np.abs(e), 90):.0f})", f"{step:.1f}°"]
    for name, place in (("shoulder", shoulder), ("elbow", elbow), ("wrist", wrist)):
        seen = np.column_stack([analysis.series[f"{name}_{a}_px"][at] for a in "xy"])
        cells.append(f"{100 * np.nanmedian(np.linalg.norm(seen - place, axis=1)) / arm:.1f} %")
    cells.append(" ".join(f"{a:.0f}/{b:.0f}" for a, b in per))
    body = analysis.body
    if body is not None:
        cells.append(f"{body.stairs.shape}")
        cells.append(" ".join("–" if s is None else "/".join(f"{100 * v:.0f}" for v in s.shares) for s in body.by_third.values()))
        cells.append(f"{body.tension.amount}: {', '.join(body.tension.reasons) or 'none'}")
    return "| " + " | ".join(cells) + " |"


def takes(folders: list[Path]) -> list[tuple[Path, Path]]:
    """Video and the folder of its truth: those in ``folders``, else those that ship."""
    if not folders:
        return [(TRUTH / f"{stem}.mp4", TRUTH) for stem in TAKES]
    return [(video, folder) for folder in folders for video in sorted(folder.glob("*.mp4")) if video.with_suffix(".fit.json").exists()]


def main() -> None:
    """Both tables."""
    warnings.simplefilter("ignore", RuntimeWarning)  # a take of which something could not be told
    rows: list[tuple[str, str]] = []
    for video, folder in takes([Path(a) for a in sys.argv[1:]]):
        stem = video.stem
        analysis = finish(analyse(video, read_fit(video.with_suffix(".fit.json"))))
        truth = dict(np.load(folder / f"{stem}.truth.npz"))
        meta = json.loads((folder / f"{stem}.truth.json").read_text())
        rows.append((bow_row(stem, analysis, truth, meta), arm_row(stem, analysis, truth, meta)))
    for k in (0, 1):
        print("\n".join(row[k] for row in rows) + "\n")


if __name__ == "__main__":
    main()
