"""The house: imports point down, Qt stays in the desk, documents name the rooms that exist."""

from __future__ import annotations

import re
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[2]
SOURCE = ROOT / "src" / "dolcezza"


def test_imports_point_down():
    start = "from importlinter.cli import lint_imports_command as c; c()"
    command = [sys.executable, "-c", start, "--config", str(ROOT / "pyproject.toml"), "--no-cache"]
    done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout


def test_everything_below_the_desk_imports_without_qt():
    modules = [
        ".".join(("dolcezza", *p.relative_to(SOURCE).with_suffix("").parts)).removesuffix(".__init__")
        for p in SOURCE.rglob("*.py")
        if "app" not in p.relative_to(SOURCE).parts and p.name != "__main__.py"
    ]
    assert len(modules) > 40
    code = (
        "import sys, importlib\n"
        "class Refuse:\n"
        "    def find_spec(self, name, path=None, target=None):\n"
        "        if name.split('.')[0] in ('PySide6', 'shiboken6', 'PyQt6'):\n"
        "            raise ImportError('Qt is refused here: ' + name)\n"
        "sys.meta_path.insert(0, Refuse())\n"
        f"[importlib.import_module(m) for m in {modules!r}]\n"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr


def test_architecture_page_names_every_room_and_no_other():
    page = (ROOT / "ARCHITECTURE.md").read_text(encoding="utf-8")
    named = set(re.findall(r"`((?:core|storage|simulator|reports|services|app|cli)(?:/\w+)?)/`", page))
    rooms = {
        str(p.relative_to(SOURCE))
        for p in SOURCE.rglob("*")
        if p.is_dir() and (p / "__init__.py").exists() and len(p.relative_to(SOURCE).parts) <= 2
    }
    assert named == rooms


def test_no_address_in_lock_or_setup():
    for name in ("requirements/lock.txt", "requirements/app.txt", "run", ".ci/run", "pyproject.toml"):
        text = (ROOT / name).read_text(encoding="utf-8")
        assert not re.search(r"https?://|index-url|find-links", text), name
    lock = (ROOT / "requirements/lock.txt").read_text(encoding="utf-8")
    for block in re.split(r"\n(?=[a-z])", lock.strip()):
        assert "--hash=sha256:" in block, block.splitlines()[0]


def test_readme_pictures_exist_and_all_are_linked():
    readme = (ROOT / "README.md").read_text(encoding="utf-8")
    linked = set(re.findall(r"docs/screenshots/([\w-]+\.png)", readme))
    assert linked == {p.name for p in (ROOT / "docs" / "screenshots").glob("*.png")}
    assert 0 < len(linked) < 20
