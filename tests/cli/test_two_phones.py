"""Two phones' videos of one playing (``tests/takes/two``, made by ``dolcezza simulate pair.toml``), measured by the command line."""

from __future__ import annotations

import csv
import json
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest

PAIR = Path(__file__).parents[1] / "takes" / "two"
FIRST, SECOND = PAIR / "pair.mp4", PAIR / "pair-2.mp4"


def run(*arguments: object) -> subprocess.CompletedProcess:
    return subprocess.run(
        [sys.executable, "-m", "dolcezza", *map(str, arguments)], capture_output=True, text=True, check=False, timeout=240
    )


def errors(out: Path, truth: Path, column: str, name: str) -> tuple[np.ndarray, np.ndarray]:
    """How far the record is off while playing, and its ±."""
    with (out / "frames.csv").open() as handle:
        rows = list(csv.DictReader(handle))
    names = (column, column.replace("_deg", "_sd_deg").replace("_mm", "_sd_mm"), "t_s")
    told, sd, t = (np.array([float(r[c]) if r[c] else np.nan for r in rows]) for c in names)
    true = np.load(truth)
    off = told - np.interp(t, true["t"], true[name])
    playing = np.interp(t, true["t"], true["playing"]) > 0.5
    return off[playing], sd[playing]


@pytest.mark.accuracy
def test_two_phones_measure_better_than_either(tmp_path):
    fits = [v.with_suffix("").with_suffix(".fit.json") for v in (FIRST, SECOND)]
    alone = run("analyse", FIRST, "--fit", fits[0], "--out", tmp_path / "one", "--quiet")
    assert alone.returncode == 0, alone.stderr
    done = run("analyse", FIRST, SECOND, "--fit", *fits, "--out", tmp_path / "two", "--quiet")
    assert done.returncode == 0, done.stderr
    assert "Two phones, 43 degrees apart" in done.stdout
    used = json.loads((tmp_path / "two" / "summary.json").read_text())["second"]
    # the second phone began 0.36 s later; its sound is as late as the first one's
    assert used["take"] == "pair-2.mp4" and used["offset_s"] == pytest.approx(-0.36, abs=0.012)
    assert used["bow_angle_sd_deg"]["both"] < 0.7 * used["bow_angle_sd_deg"]["first"]
    truth = PAIR / "pair.truth.npz"
    for column, name, most in (("bow_angle_deg", "skew_deg", 0.8), ("contact_point_mm", "contact_mm", 2.8)):
        one, _ = errors(tmp_path / "one", truth, column, name)
        both, sd = errors(tmp_path / "two", truth, column, name)
        assert np.nanmedian(np.abs(both)) < min(most, 0.75 * np.nanmedian(np.abs(one)))
        assert (np.abs(both) < 2 * sd)[np.isfinite(both)].mean() > 0.85


@pytest.mark.parametrize(("arguments", "sentence"), [
    ([FIRST, SECOND, SECOND, "--instrument", "violin 4/4"], "3 videos are too many"),
    ([FIRST, SECOND, "--fit", FIRST.with_name("pair.fit.json")], "2 videos and 1 fit files"),
])  # fmt: skip
def test_what_does_not_belong_together_is_said(tmp_path, arguments, sentence):
    done = run("analyse", *arguments, "--out", tmp_path / "out")
    assert done.returncode == 2 and sentence in done.stderr
