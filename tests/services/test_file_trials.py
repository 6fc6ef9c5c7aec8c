"""The trials with damaged files (``./run trials``) themselves: a few of some kinds, each read or refused with a sentence."""

from __future__ import annotations

import random
import subprocess
import sys
from pathlib import Path

import pytest

TOOL = Path(__file__).parents[2] / "tools" / "file_trials.py"


@pytest.mark.parametrize("kind", ["fit", "exercise", "database"])
def test_damaged_files_are_read_or_refused(kind):
    done = subprocess.run([sys.executable, TOOL, "--one", kind, "0", "12", "5"], capture_output=True, text=True, check=False)
    ended = [line.split(" ", 2)[1] for line in done.stdout.splitlines()]
    assert done.returncode == 0 and len(ended) == 12 and set(ended) <= {"read", "said"}, done.stdout + done.stderr
    assert "said" in ended, "what nobody writes is refused"


def test_files_are_damaged_in_many_ways(monkeypatch):
    monkeypatch.syspath_prepend(str(TOOL.parent))
    import file_trials

    text = b'{"take": "a.mp4", "at": [1.5, 2.5]}'
    made = {file_trials.damaged(text, random.Random(k), text=True) for k in range(60)}
    assert len(made) > 40 and any(len(m) < len(text) for m in made) and any(b"NaN" in m or b"1e999" in m for m in made)
    assert all(file_trials.with_strange_values("", random.Random(1)) == "" for _ in range(2))
