"""The desktop's own files are judged by the desktop's own tools (freedesktop.org desktop entry and AppStream specifications)."""

from __future__ import annotations

import runpy
import shutil
import subprocess
import xml.etree.ElementTree as ElementTree
from configparser import ConfigParser
from pathlib import Path

import pytest

import dolcezza
from dolcezza.app.main import DESKTOP_ID

ROOT = Path(__file__).parent.parent.parent
PACKAGING = ROOT / "packaging"


def run(program: str, *arguments: str) -> str:
    if shutil.which(program) is None:
        pytest.skip(f"{program} is not installed; ./run test installs it")
    done = subprocess.run([program, *arguments], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout + done.stderr
    return done.stdout + done.stderr


def entry() -> ConfigParser:
    parser = ConfigParser(interpolation=None)
    parser.optionxform = str
    parser.read(PACKAGING / f"{DESKTOP_ID}.desktop", encoding="utf-8")
    return parser


def test_the_desktop_entry_is_valid():
    assert "error" not in run("desktop-file-validate", str(PACKAGING / f"{DESKTOP_ID}.desktop"))


def test_the_appstream_metadata_is_valid():
    assert "successful" in run("appstreamcli", "validate", "--no-net", str(PACKAGING / f"{DESKTOP_ID}.metainfo.xml"))


def test_the_two_say_the_same_of_videos_and_version():
    tree = ElementTree.parse(PACKAGING / f"{DESKTOP_ID}.metainfo.xml").getroot()
    types = {e.text for e in tree.findall("provides/mediatype")}
    assert types == set(entry()["Desktop Entry"]["MimeType"].rstrip(";").split(";"))
    assert tree.findtext("id") == DESKTOP_ID and tree.findtext("launchable") == f"{DESKTOP_ID}.desktop"
    assert tree.find("releases/release").get("version") == dolcezza.__version__
    assert entry()["Desktop Entry"]["Icon"] == DESKTOP_ID and (PACKAGING / f"{DESKTOP_ID}.svg").exists()


def test_installed_for_one_user_and_taken_out_again(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "my data"))
    tool = runpy.run_path(str(ROOT / "tools" / "desktop_files.py"))
    written = tool["install"]()
    assert len(written) == 3 and all(p.exists() for p in written)
    [desktop] = [p for p in written if p.suffix == ".desktop"]
    line = next(x for x in desktop.read_text().splitlines() if x.startswith("Exec="))
    assert line.endswith('dolcezza" %F') and Path(line.split('"')[1]).exists()
    run("desktop-file-validate", str(desktop))
    tool["remove"]()
    assert not any(p.exists() for p in written)
