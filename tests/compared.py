"""A measured take beside its truth. Each row of ``LIMITS`` is what a rendered take must reach."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np

from conftest import TRUTH

LIMITS = {
    "dev-straight": (1.0, 1.5, 0.01, 0.99),
    "dev-crooked": (1.0, 2.0, 0.01, 0.99),  # the camera looks along the strings
    "dev-tense": (1.0, 2.5, 0.01, 0.99),  # its landmarks lie 1.3 px high all together
    "dev-stickers": (1.0, 1.5, 0.01, 0.99),
    "dev-cello": (1.0, 1.5, 0.01, 0.99),
    "demo-a1": (1.0, 1.5, 0.01, 0.99),
    "demo-a2": (1.0, 1.5, 0.01, 0.99),
    "demo-a3": (1.0, 1.5, 0.01, 0.99),
    "demo-b1": (1.0, 1.5, 0.01, 0.99),
    "demo-b2": (1.0, 1.5, 0.01, 0.99),
}


class Compared:
    """A measured take beside its truth, frame by frame, while the player is bowing."""

    def __init__(self, analysis, stem: str, folder: Path = TRUTH) -> None:
        truth = np.load(folder / f"{stem}.truth.npz")
        self.meta = json.loads((folder / f"{stem}.truth.json").read_text())
        series = analysis.series
        at = np.array([int(np.argmin(np.abs(series.t - t))) for t in truth["t"]])
        near = np.abs(series.t[at] - truth["t"]) < 0.02
        self.play = (truth["playing"] > 0) & near
        self.truth, self.at, self.series, self.analysis = truth, at, series, analysis
        edges = [abs(truth["t"] - s[k]) for s in self.meta["strokes"] for k in ("start_s", "end_s")]
        self.inner = self.play & (np.min(edges, axis=0) > 0.08)

    def error(self, column: str, true: str) -> np.ndarray:
        return (self.series[column][self.at] - self.truth[true])[self.play]

    def strings_right(self) -> float:
        got = np.array(self.series.strings, object)[self.at][self.inner]
        names = np.array(list(self.meta["strings"]), object)[self.truth["string"].astype(int)][self.inner]
        return float((got == names).mean())
