"""Write every sentence of a fault into docs/troubleshooting.md, from the code:  python tools/troubleshooting.py

What stands above the mark in that file is written by hand and stays. A test says when the file is out of date.
"""

from __future__ import annotations

import ast
from pathlib import Path

ROOT = Path(__file__).parent.parent
PAGE = ROOT / "docs" / "troubleshooting.md"
MARK = "<!-- from here on written by tools/troubleshooting.py -->"
ROOMS = {
    "MediaError": "Videos and pictures", "LandmarkError": "Landmarks and the fit file", "TrackingError": "Analysing",
    "InstrumentError": "Instruments and profiles", "ExerciseError": "Exercises and rhythms", "PracticeError": "Practice",
    "StudioError": "The studio and its disk", "StudioDamaged": "The studio's database",
    "ScriptError": "Scripts of the practice room", "ModelsMissing": "Models for arm and hand", "DolcezzaError": "The desk",
}  # fmt: skip


def _words(node: ast.expr) -> str | None:
    """A sentence with … for what is filled in; None where it is not written out."""
    if isinstance(node, ast.Constant):
        return str(node.value)
    if isinstance(node, ast.JoinedStr):
        return "".join(str(v.value) if isinstance(v, ast.Constant) else "…" for v in node.values)
    if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute) and node.func.attr == "format":
        return _words(node.func.value)
    if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "tr":
        return _words(node.args[0])
    return None


def faults() -> dict[str, list[tuple[str, str]]]:
    """Sentence and advice of every fault in the code, by kind."""
    found: dict[str, set[tuple[str, str]]] = {kind: set() for kind in ROOMS}
    for path in sorted((ROOT / "src" / "dolcezza").rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in ROOMS and node.args:
                said = _words(node.args[0])
                advice = _words(node.args[1]) if len(node.args) > 1 else ""
                if said and said != "…" and not said.startswith("At … s: "):
                    found[node.func.id].add((said, advice or ""))
    return {kind: sorted(rows) for kind, rows in found.items() if rows}


def page() -> str:
    """The whole page: what is written by hand, and the tables."""
    by_hand = PAGE.read_text(encoding="utf-8").split(MARK)[0]
    lines = [MARK, ""]
    for kind, rows in faults().items():
        lines += [f"## {ROOMS[kind]}", "", "| it says | what to do |", "|---|---|"]
        lines += [f"| {said} | {advice} |".replace("{0}", "…").replace("{1}", "…") for said, advice in rows]
        lines.append("")
    return by_hand + "\n".join(lines)


if __name__ == "__main__":
    PAGE.write_text(page(), encoding="utf-8")
    print(PAGE)
