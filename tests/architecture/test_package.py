"""What the .deb holds, laid out without its wheels, and that Debian's own tool takes it."""

from __future__ import annotations

import importlib.util
import shutil
import subprocess
import sys
import tomllib
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]


@pytest.fixture
def package(monkeypatch):
    monkeypatch.setattr(sys, "path", [str(ROOT / "tools"), *sys.path])
    spec = importlib.util.spec_from_file_location("package_tool", ROOT / "tools" / "package.py")
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


def test_the_package_is_laid_out_and_debian_takes_it(package, tmp_path):
    wheel, model = tmp_path / "dolcezza-1-py3-none-any.whl", tmp_path / "pose_detection.tflite"
    wheel.write_bytes(b"a wheel")
    model.write_bytes(b"a model")
    tree = tmp_path / "tree"
    package.lay_out(tree, [wheel], [model], architecture="amd64", python=(3, 11))
    assert (tree / "usr/share/dolcezza/models/pose_detection.tflite").read_bytes() == b"a model"
    assert (tree / "usr/share/applications/app.dolcezza.Dolcezza.desktop").exists()
    start = (tree / "usr/bin/dolcezza").read_text()
    assert 'exec /opt/dolcezza/bin/python -m dolcezza "$@"' in start
    for script in ("postinst", "prerm"):
        text = (tree / "DEBIAN" / script).read_text()
        subprocess.run(["sh", "-n"], input=text, text=True, check=True)
        assert (tree / "DEBIAN" / script).stat().st_mode & 0o111
    assert "--no-index" in (tree / "DEBIAN/postinst").read_text(), "installing asks no network"
    if shutil.which("dpkg-deb") is None:
        pytest.skip("dpkg-deb is not here")
    subprocess.run(["dpkg-deb", "--build", "--root-owner-group", tree, tmp_path / "it.deb"], check=True, capture_output=True)
    told = subprocess.run(["dpkg-deb", "--info", tmp_path / "it.deb"], check=True, capture_output=True, text=True).stdout
    assert "python3 (>= 3.11), python3 (<< 3.12), python3-venv" in told
    assert "libglib2.0-0" in told and "libxcb-cursor0" in told


def test_what_the_package_installs_is_locked_as_the_environment_is():
    def versions(name: str) -> dict[str, str]:
        lines = (ROOT / "requirements" / name).read_text(encoding="utf-8").splitlines()
        return dict(line.split(" ")[0].split("==") for line in lines if "==" in line and not line.startswith((" ", "#")))

    app, lock = versions("app.txt"), versions("lock.txt")
    assert app and app.items() <= lock.items()
    assert "pytest" not in app and "pyside6-essentials" in app


def test_every_file_of_the_program_is_in_the_wheel():
    """What is not Python goes into the wheel only if it is named: a font that is not there keeps the desk from opening."""
    source = ROOT / "src" / "dolcezza"
    globs = tomllib.loads((ROOT / "pyproject.toml").read_text(encoding="utf-8"))["tool"]["setuptools"]["package-data"]["dolcezza"]
    named = {f for g in globs for f in source.glob(g) if f.is_file()}
    there = {f for f in source.rglob("*") if f.is_file() and f.suffix not in (".py", ".pyc")}
    assert there and there <= named, sorted(str(f) for f in there - named)
