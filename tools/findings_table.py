"""Print the table of findings against what the players were told:  python tools/findings_table.py"""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np

from dolcezza.core.base.job import finish
from dolcezza.core.pipeline.fit_file import read_fit
from dolcezza.services.analysis import analyse

TRUTH = Path(__file__).parents[1] / "tests" / "takes"
TAKES = (
    "dev-straight", "dev-crooked", "dev-tense", "dev-stickers", "dev-cello", "demo-a1", "demo-a2", "demo-a3", "demo-b1", "demo-b2",
)  # fmt: skip
SHORT = 0.6
"""A stroke told to use less of the bow than this, where whole bows are usual, is short; upper and lower halves were the task."""


def told(stroke: dict, truth: dict, limit: float, lane: tuple[float, float]) -> set[str]:
    """Faults that a player was told to make in a stroke, as kinds of findings."""
    inside = (truth["t"] >= stroke["start_s"]) & (truth["t"] <= stroke["end_s"])
    place, angle, contact = (truth[k][inside] for k in ("bow_pos", "skew_deg", "contact_mm"))
    out = set()
    thirds = [angle[(place >= k / 3) & (place <= (k + 1) / 3)] for k in range(3)]
    if any(len(a) and abs(a.mean()) > limit for a in thirds):
        out.add("crooked")
    tenth = max(1, len(contact) // 10)
    middle = contact[tenth:-tenth]
    if middle.max() > lane[1] or middle.min() < lane[0]:
        out.add("out of the lane")
    if stroke["shake_bow_share"] > 0 or stroke["bounce_deg"] > 0:
        out.add("signs of tension")
    low, high = sorted((stroke["from_pos"], stroke["to_pos"]))
    halves = 0.5 in (round(low, 2), round(high, 2))
    if low > 0.12 and high - low < SHORT and not halves:
        out |= {"avoids the frog", "short bows"}
    return out


def main() -> None:
    """One row a take, then precision and recall over all strokes and kinds."""
    hits = found_all = told_all = 0
    print("| take | told | found, sure | not sure |")
    print("|---|---|---|---|")
    for stem in TAKES:
        video = TRUTH / f"{stem}.mp4"
        a = finish(analyse(video, read_fit(video.with_suffix(".fit.json"))))
        truth, meta = dict(np.load(TRUTH / f"{stem}.truth.npz")), json.loads((TRUTH / f"{stem}.truth.json").read_text())
        lane = a.profile.lane.band_mm(a.fit.spec)
        truths = {(k + 1, kind) for k, s in enumerate(meta["strokes"]) for kind in told(s, truth, a.profile.angle_limit_deg, lane)}
        sure = {(n, f.kind) for f in a.findings if f.sure for n in f.strokes}
        hits, found_all, told_all = hits + len(sure & truths), found_all + len(sure), told_all + len(truths)

        def words(pairs: set[tuple[int, str]]) -> str:
            kinds = sorted({kind for _, kind in pairs})
            return ", ".join(f"{kind} {sum(k == kind for _, k in pairs)}" for kind in kinds) or "–"

        doubtful = ", ".join(sorted({f.kind for f in a.findings if not f.sure})) or "–"
        print(f"| {stem} | {words(truths)} | {words(sure)} | {doubtful} |", flush=True)
    print(
        f"\nPrecision {hits / max(1, found_all):.2f} ({hits} of {found_all}), recall {hits / max(1, told_all):.2f} ({hits} of {told_all})."
    )


if __name__ == "__main__":
    main()
