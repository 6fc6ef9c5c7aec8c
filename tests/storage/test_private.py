"""Names on disk that never fall upon each other, folders and files for nobody else, videos that are files and nothing more."""

from __future__ import annotations

import os
import socket
import stat
import subprocess
import sys
from datetime import date
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dolcezza.core.assignment.text import read_exercise
from dolcezza.core.base.errors import MediaError
from dolcezza.core.media.probe import local, opened, probe
from dolcezza.services.exercises import ExerciseShelf
from dolcezza.services.export import export_folder, export_student
from dolcezza.services.profiles import ProfileShelf
from dolcezza.services.studio import Studio
from dolcezza.storage.file_names import LONGEST, file_stem, own_place
from dolcezza.storage.records import Student
from takes_support import take_video


@given(st.text(max_size=400))
def test_any_name_is_a_name_of_a_file(name):
    stem = file_stem(name)
    assert 0 < len(stem) <= LONGEST
    assert not set(stem) & set("/\\:\0\n.")


def test_two_names_that_differ_in_a_point_lie_beside_each_other(tmp_path):
    places = []
    for name in ("Ana B", "Ana.B", "ana b", "…"):
        path = own_place(tmp_path, name, ".txt", lambda p, name=name: p.read_text() == name)
        path.write_text(name)
        places.append(path.name)
    assert places == ["ana_b.txt", "ana_b-2.txt", "ana_b-3.txt", "unnamed.txt"]
    assert own_place(tmp_path, "Ana.B", ".txt", lambda p: p.read_text() == "Ana.B").name == "ana_b-2.txt"


def test_exercises_and_profiles_never_replace_one_of_another_name(tmp_path):
    shelf = ExerciseShelf(tmp_path / "exercises")
    text = "exercise: {}\nA D: 4 whole\n"
    one, two = (read_exercise(text.format(name)) for name in ("Long bows", "Long, bows"))
    assert shelf.save(one) != shelf.save(two)
    assert shelf.save(one) == shelf.save(one)
    assert set(shelf.own()) == {"Long bows", "Long, bows"}
    shelf.remove("Long, bows")
    assert set(shelf.own()) == {"Long bows"}
    profiles = ProfileShelf(tmp_path / "profiles")
    first = next(iter(profiles.all()))
    assert profiles.copy(first, "Mine 1") != profiles.copy(first, "Mine. 1")
    assert {"Mine 1", "Mine. 1"} <= set(profiles.all())


def test_exports_of_two_students_lie_apart_and_each_keeps_its_place(tmp_path):
    studio = Studio(tmp_path / "studio")
    try:
        ana, other = (studio.store.add_student(Student(n, since=date(2026, 1, 1))) for n in ("Ana B", "Ana.B"))
        for student in (ana, other):
            export_student(studio, student, export_folder(tmp_path / "out", student))
        assert sorted(p.name for p in (tmp_path / "out").iterdir()) == ["ana_b", "ana_b-2"]
        assert export_folder(tmp_path / "out", ana).name == "ana_b"
        assert export_folder(tmp_path / "out", other).name == "ana_b-2"
    finally:
        studio.close()


def test_a_studio_is_for_nobody_else(tmp_path):
    lent = tmp_path / "studio"
    lent.mkdir(mode=0o755)
    code = (
        "import sys\nfrom unittest.mock import patch\nfrom dolcezza.__main__ import main\n"
        f"sys.argv = ['dolcezza', '--studio', {str(lent)!r}, 'export', '--out', {str(tmp_path / 'out')!r}]\nmain()\n"
    )
    subprocess.run([sys.executable, "-c", code], check=False, capture_output=True, env={**os.environ})
    assert stat.S_IMODE(lent.stat().st_mode) == 0o700
    written = [p for p in lent.rglob("*") if p.is_file()]
    assert written
    assert {stat.S_IMODE(p.stat().st_mode) & 0o077 for p in written} == {0}


def test_a_name_like_an_address_is_a_file(tmp_path):
    for name in ("Mila: G major.mp4", "http:take.mp4", "concat:a|b.mp4"):
        path = tmp_path / name
        path.write_bytes(take_video("demo-a3").read_bytes())
        assert probe(path).width == 1280
    assert local(Path("x.mp4")).startswith("file:/")


def test_no_address_is_asked_and_no_list_is_followed(tmp_path, monkeypatch):
    asked = []
    server = socket.socket()
    server.bind(("127.0.0.1", 0))
    server.listen()
    server.settimeout(0.2)
    port = server.getsockname()[1]
    try:
        monkeypatch.chdir(tmp_path)
        folder = Path(f"http:/127.0.0.1:{port}")
        folder.mkdir(parents=True)
        (folder / "x.mp4").write_bytes(b"no video")
        with pytest.raises(MediaError), opened(folder / "x.mp4"):
            pass
        neighbour = tmp_path / "other.mp4"
        neighbour.write_bytes(take_video("demo-a3").read_bytes())
        for name, text in {
            "list.m3u8": f"#EXTM3U\n#EXTINF:1,\nhttp://127.0.0.1:{port}/a.ts\n", "near.m3u8": "#EXTM3U\n#EXTINF:1,\nother.mp4\n",
            "list.mp4": "ffconcat version 1.0\nfile other.mp4\n",
        }.items():  # fmt: skip
            (tmp_path / name).write_text(text)
            with pytest.raises(MediaError), opened(tmp_path / name):
                pass
        with pytest.raises(TimeoutError):
            asked.append(server.accept())
    finally:
        server.close()
    assert asked == []
