"""A scale in notation, and its playing (``tests/takes/scale``, made by ``dolcezza simulate scale.toml``), laid against each other."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest

SCALE = Path(__file__).parents[1] / "takes" / "scale"


def run(*arguments: object) -> subprocess.CompletedProcess:
    return subprocess.run(
        [sys.executable, "-m", "dolcezza", *map(str, arguments)], capture_output=True, text=True, check=False, timeout=240
    )


@pytest.mark.accuracy
def test_every_printed_note_is_found_in_the_video(tmp_path):
    """The player breaks the sixth slur (so that the bows after it go the other way) and plays c sharp for c there."""
    files = [SCALE / "scale.mp4", "--fit", SCALE / "scale.fit.json", "--printed", SCALE / "scale.musicxml"]
    done = run("analyse", *files, "--out", tmp_path, "--quiet")
    assert done.returncode == 0, done.stderr
    assert "15 of 15 notes of 'scale' played" in done.stdout
    told = json.loads((tmp_path / "played.json").read_text())
    assert told["sure"] and not told["left_out"] and not told["extra"]
    assert [n["note"] for n in told["notes"] if n["other_pitch"]] == [11]
    assert [b["faults"] for b in told["bows"]] == [[], [], [], [], [], ["broken slur"], ["other way"], []]
    found = {f["kind"]: f for f in json.loads((tmp_path / "findings.json").read_text())}
    assert not found["slur broken"]["sure"] and not found["bow the other way"]["sure"], "once may be a slip"
    # against the truth: when each note begins, and where on the bow
    truth = np.load(SCALE / "scale.truth.npz")
    playing, t = truth["playing"] > 0.5, truth["t"]
    sounding = np.round(truth["stop_semitones"]) + 10 * truth["string"] + 100 * truth["stroke"]
    begins = [k for k in range(1, len(t)) if playing[k] and (not playing[k - 1] or sounding[k] != sounding[k - 1])]
    assert len(begins) == 15
    # a note begins between the frame before and the first that has it
    off = np.array([n["start_s"] - 0.5 * (t[k - 1] + t[k]) for n, k in zip(told["notes"], begins, strict=True)])
    place = np.array([n["from_position"] - truth["bow_pos"][k] for n, k in zip(told["notes"], begins, strict=True)])
    assert np.median(np.abs(off)) < 0.04 and np.abs(off).max() < 0.1
    assert np.median(np.abs(place)) < 0.03


@pytest.mark.parametrize(("name", "data", "says"), [
    ("notes.txt", b"c d e", "not a notation file"), ("notes.mei", b"<mei>", "breaks off"), ("notes.musicxml", None, "cannot be read"),
])  # fmt: skip
def test_notation_that_cannot_be_read_is_said_before_anything_is_measured(tmp_path, name, data, says):
    path = tmp_path / name
    if data is not None:
        path.write_bytes(data)
    done = run("analyse", SCALE / "scale.mp4", "--fit", SCALE / "scale.fit.json", "--printed", path, "--out", tmp_path / "out")
    assert done.returncode == 2 and says in done.stderr
    assert not (tmp_path / "out" / "frames.csv").exists()
