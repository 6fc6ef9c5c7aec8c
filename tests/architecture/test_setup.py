"""What set-up tries before it begins, and what it says when that is not there."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[2]


def missing(*tried: tuple[str, str]) -> list[str]:
    code = f"import sys; sys.path.insert(0, 'tools'); import missing_libraries as m; print(*m.missing({dict(tried)!r}))"
    return subprocess.run([sys.executable, "-c", code], cwd=ROOT, capture_output=True, text=True, check=True).stdout.split()


def test_a_library_is_missing_where_it_cannot_be_loaded():
    assert missing(("libc.so.6", "libc6"), ("libnotthere.so.9", "notthere1")) == ["notthere1"]


def test_libraries_are_found_without_the_administrators_programs():
    """``ldconfig`` is not in an ordinary user's path: nothing may hang on it."""
    where = {**os.environ, "PATH": "/nowhere"}
    tried = subprocess.run([sys.executable, "tools/missing_libraries.py"], cwd=ROOT, env=where, capture_output=True, text=True, check=True)
    assert tried.stdout.split() == []


def test_without_a_python_one_sentence_says_what_to_do(tmp_path):
    where = {**os.environ, "PYTHON": "/bin/false", "VENV": str(tmp_path / "venv")}
    done = subprocess.run(["./run", "setup"], cwd=ROOT, env=where, capture_output=True, text=True, check=False)
    assert done.returncode == 1
    assert done.stderr.startswith("Python 3.11 or newer is needed") and done.stderr.count("\n") == 1
