"""Every thread has a name before it starts (why: app/workers/__init__.py)."""

from __future__ import annotations

import ast
from pathlib import Path

import dolcezza

APP = Path(dolcezza.__file__).parent / "app"


def threads() -> list[tuple[str, ast.ClassDef]]:
    """All classes made from QThread."""
    found = []
    for path in sorted(APP.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.ClassDef) and any(getattr(base, "id", "") == "QThread" for base in node.bases):
                found.append((path.name, node))
    return found


def test_threads_have_names_and_live_in_one_room():
    found = threads()
    assert {name for name, _ in found} == {"frame_feeder.py", "job_runner.py", "sound_player.py"}
    for name, node in found:
        init = next(n for n in node.body if isinstance(n, ast.FunctionDef) and n.name == "__init__")
        calls = [n.func.attr for n in ast.walk(init) if isinstance(n, ast.Call) and isinstance(n.func, ast.Attribute)]
        assert "setObjectName" in calls, f"{node.name} in {name} has no name"
