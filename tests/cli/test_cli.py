"""The command line, run as a user runs it."""

from __future__ import annotations

import csv
import json
import os
import subprocess
import sys
from argparse import Namespace
from dataclasses import replace
from pathlib import Path

import pytest

import dolcezza
from dolcezza.cli import analyse as command
from dolcezza.cli.main import parser
from dolcezza.core.base.job import finish
from dolcezza.core.pipeline.fit_file import read_fit
from dolcezza.core.pipeline.which_hand import as_the_other_hand
from takes_support import take_video
from tests_support import cut_short

README = Path(__file__).parents[2] / "README.md"


def run(*arguments: object, **options) -> subprocess.CompletedProcess:
    return subprocess.run(
        [sys.executable, "-m", "dolcezza", *map(str, arguments)], capture_output=True, text=True, check=False, timeout=240, **options
    )


def test_version_and_help():
    assert run("--version").stdout.strip() == f"dolcezza {dolcezza.__version__}"
    done = run("--help")
    assert done.returncode == 0
    assert "analyse" in done.stdout


def test_a_fault_is_said_while_the_models_begin_in_silence(tmp_path):
    # the runtime's first words are kept from the error stream in a thread of their own; a fault said in that moment must not be lost
    program = (
        "import sys; from dolcezza.__main__ import main; from dolcezza.core.models.nets import error_stream_silenced\n"
        "silence = error_stream_silenced()\n"
        "import dolcezza.cli.main as cli; was = cli.run\n"
        "def run(options):\n    with silence:\n        return was(options)\n"
        "import dolcezza.__main__ as start; start.run = run\n"
        f"sys.argv = ['dolcezza', 'hold', {str(tmp_path / 'none.png')!r}, '--out', {str(tmp_path)!r}]\n"
        "sys.exit(main())"
    )
    done = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, check=False, timeout=120)
    assert done.returncode == 2 and "none.png" in done.stderr


@pytest.mark.skipif(not Path("/proc/self/task").exists(), reason="this system does not say how many threads a process has")
def test_small_matrices_are_worked_out_in_the_thread_that_asks():
    program = (
        "import os, sys; from dolcezza import __main__ as start\n"
        "start.run = lambda options: __import__('numpy').ones((600, 600)) @ __import__('numpy').ones((600, 600)) is None\n"
        "sys.argv = ['dolcezza', 'card', 'violin 4/4', '--out', 'card.svg']\n"
        "start.main(); print(len(os.listdir('/proc/self/task')))"
    )
    usual = {k: v for k, v in os.environ.items() if k != "OPENBLAS_NUM_THREADS"}
    done = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, check=False, timeout=120, env=usual)
    assert done.stdout == "1\n", done.stderr


def test_two_that_begin_in_silence_leave_the_error_stream_as_it_was():
    program = (
        "import sys, threading; from dolcezza.core.models.nets import error_stream_silenced\n"
        "def begin():\n    for _ in range(200):\n        with error_stream_silenced():\n            pass\n"
        "both = [threading.Thread(target=begin) for _ in range(2)]\n"
        "[t.start() for t in both]; [t.join() for t in both]\n"
        "print('heard', file=sys.stderr)"
    )
    done = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, check=False, timeout=120)
    assert done.stderr == "heard\n"


@pytest.fixture(scope="module")
def analysed(tmp_path_factory) -> Path:
    """The files of the demo take, written once."""
    out = tmp_path_factory.mktemp("analysed")
    video = take_video("demo-a3")
    done = run("analyse", video, "--fit", video.with_suffix(".fit.json"), "--out", out)
    assert done.returncode == 0, done.stderr
    assert done.stdout.startswith("6 strokes")
    return out


def test_analyse_writes_the_four_files(analysed):
    with (analysed / "frames.csv").open() as handle:
        rows = list(csv.DictReader(handle))
    assert len(rows) == 228
    wanted = "t_s bow_angle_deg bow_angle_sd_deg contact_point_mm contact_point_sd_mm bow_position string elbow_level_deg shoulder_x_px"
    assert list(rows[0])[:9] == wanted.split()
    with (analysed / "strokes.csv").open() as handle:
        strokes = list(csv.DictReader(handle))
    assert [s["direction"] for s in strokes] == ["down", "up"] * 3
    assert json.loads((analysed / "summary.json").read_text())["dolcezza"] == dolcezza.__version__


def test_the_arm_is_in_the_files_and_stills_are_told(analysed, tmp_path):
    body = json.loads((analysed / "arm.json").read_text())
    assert [s["string"] for s in body["stairs"]["stairs"]] == ["A", "D"]
    assert body["tension"]["amount"] == "few" and body["posture"]["clock"]["unit"] == "o'clock"
    hands = README.parent / "tests" / "takes" / "hands"
    done = run("hold", hands / "dev-hand-00.jpg", hands / "dev-hand-03.jpg", "--out", tmp_path / "hands")
    assert done.returncode == 0, done.stderr
    assert "2 of 2 hands told" in done.stdout
    with (tmp_path / "hands" / "hold.csv").open() as handle:
        assert [r["image"] for r in csv.DictReader(handle)] == ["dev-hand-00.jpg", "dev-hand-03.jpg"]
    (tmp_path / "note.png").write_text("no picture")
    wrong = run("hold", tmp_path / "note.png", "--out", tmp_path / "hands")
    assert wrong.returncode == 2 and "not a picture that can be read" in wrong.stderr
    assert "Traceback" not in wrong.stderr


def test_a_take_against_its_exercise(tmp_path):
    video = take_video("dev-straight")
    base = ("analyse", video, "--fit", video.with_suffix(".fit.json"), "--out", tmp_path / "out", "--exercise")
    done = run(*base, "recognise")
    assert "Recognised: Two long on each string. 8 of 8 strokes as asked." in done.stdout
    (tmp_path / "short.txt").write_text("exercise: Short\nG: 2 middle\n")
    start = cut_short("dev-straight", 3.0, tmp_path)
    done = run("analyse", start, "--fit", video.with_suffix(".fit.json"), "--out", tmp_path / "short", "--exercise", tmp_path / "short.txt")
    assert "0 of 2 strokes as asked; 2 too long." in done.stdout
    pairs = json.loads((tmp_path / "short" / "match.json").read_text())["pairs"]
    assert [p["strokes"] for p in pairs] == [[1], [2]]
    (tmp_path / "wrong.txt").write_text("G: many")
    wrong = run(*base, tmp_path / "wrong.txt")
    assert wrong.returncode == 2 and "Line 1 of the exercise" in wrong.stderr


@pytest.mark.parametrize(
    ("take", "fit", "words"),
    [
        ("missing.mp4", "good", "no longer where it was"),
        ("notes.txt", "good", "not a video"),
        ("good", "missing.json", "no fit file"),
        ("good", "bad.json", "JSON text"),
        ("good", "three.json", "1 of the first four"),
        ("good", "banjo.json", "not an instrument"),
    ],
)
def test_bad_input_gives_one_sentence_and_code_two(tmp_path, take, fit, words):
    video = take_video("demo-a3")
    good = json.loads(video.with_suffix(".fit.json").read_text())
    (tmp_path / "notes.txt").write_text("long bows")
    (tmp_path / "bad.json").write_text("{")
    three = {k: v for k, v in good["pins"][0]["points"].items() if k != "board_bass"}
    (tmp_path / "three.json").write_text(json.dumps({**good, "pins": [{"t_s": 0.3, "points": three}]}))
    (tmp_path / "banjo.json").write_text(json.dumps({**good, "instrument": "banjo"}))
    done = run(
        "analyse", video if take == "good" else tmp_path / take, "--out", tmp_path / "out",
        "--fit", video.with_suffix(".fit.json") if fit == "good" else tmp_path / fit,
    )  # fmt: skip
    assert done.returncode == 2
    assert words in done.stderr
    assert len(done.stderr.strip().splitlines()) == 1
    assert "Traceback" not in done.stderr
    assert not (tmp_path / "out").exists() or not list((tmp_path / "out").iterdir()), "nothing was written"


def test_every_command_and_option_is_in_the_readme():
    text = README.read_text(encoding="utf-8")
    for action in parser()._subparsers._group_actions[0].choices.items():
        name, command = action
        assert f"dolcezza {name}" in text
        for option in (o for a in command._actions for o in a.option_strings if o.startswith("--") and o != "--help"):
            assert option in text, option


def test_the_demonstration_without_a_display(tmp_path):
    import os

    env = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "XDG_DATA_HOME": str(tmp_path / "data")}
    env.pop("DISPLAY", None)
    done = run("demo", "--out", tmp_path / "demo-output", env=env)
    assert done.returncode == 0, done.stderr
    assert "no display" in done.stdout
    made = {p.name: p.stat().st_size for p in (tmp_path / "demo-output").iterdir()}
    files = ["frames.csv", "strokes.csv", "findings.json", "summary.json", "arm.json", "sound.json"]
    assert set(made) == {"screenshot.png", "report.pdf", "report.html", *files}
    assert made["screenshot.png"] > 40_000


def test_a_studio_that_cannot_be_opened_is_said_in_one_sentence(tmp_path):
    import os

    (tmp_path / "studio").mkdir()
    (tmp_path / "studio" / "studio.sqlite").write_bytes(b"not a database" * 100)
    done = run("--studio", tmp_path / "studio", env={**os.environ, "QT_QPA_PLATFORM": "offscreen"})
    assert done.returncode == 2
    assert "damaged" in done.stderr
    assert "Traceback" not in done.stderr


def test_a_rhythm_is_divided_and_becomes_an_exercise(tmp_path):
    (tmp_path / "dotted.txt").write_text("plan: Dotted\nrepeat: 2\nbow: 0-1\nrhythm: 1.5 0.5\n")
    done = run("plan", tmp_path / "dotted.txt", "--instrument", "cello 4/4", "--exercise", tmp_path / "exercise.txt")
    assert done.returncode == 0, done.stderr
    assert "Bow 3 (2.0 s) wants 100 % of the bow and has 33 % left towards the head." in done.stdout
    assert "Faster return:" in done.stdout
    assert (tmp_path / "exercise.txt").read_text().startswith("exercise: Dotted: short note hooked on")
    (tmp_path / "wrong.txt").write_text("tempo: 60\nrhythm: 1@1.5\n")
    wrong = run("plan", tmp_path / "wrong.txt")
    assert wrong.returncode == 2 and "Line 2 of the plan asks for 1.5 bows in one" in wrong.stderr
    (tmp_path / "string.txt").write_text("string: E\nrhythm: 1\n")
    assert "'E' is not a string" in run("plan", tmp_path / "string.txt", "--instrument", "viola 16").stderr
    assert "cannot be read" in run("plan", tmp_path / "nowhere.txt").stderr


def test_what_was_heard_and_how_the_bow_was_used_are_in_the_files(tmp_path):
    video = take_video("demo-b1")
    done = run("analyse", video, "--fit", video.with_suffix(".fit.json"), "--out", tmp_path / "out")
    assert done.returncode == 0, done.stderr
    heard = json.loads((tmp_path / "out" / "sound.json").read_text())
    assert heard["counts"] == {"clean": 8} and abs(heard["tuning"]["offset_cents"]) < 5
    assert abs(heard["offset"]["late_s"]) < 0.03
    used = json.loads((tmp_path / "out" / "bow_use.json").read_text())
    assert set(used) == {"all", "C", "G", "D", "A"} and used["all"]["avoids_frog"] is True
    assert used["all"]["figures"]["reach_frog"]["value"] == pytest.approx(0.30, abs=0.02), "short bows, 30 to 75 % of the hair in the truth"


def test_without_models_everything_but_arm_and_hand_is_measured(tmp_path):
    video = take_video("demo-a3")
    where = {**os.environ, "DOLCEZZA_MODELS": str(tmp_path / "none")}
    start = cut_short("demo-a3", 3.2, tmp_path)
    done = run("analyse", start, "--fit", video.with_suffix(".fit.json"), "--out", tmp_path / "out", env=where)
    assert done.returncode == 0, done.stderr
    assert done.stdout.startswith("3 strokes")
    summary = json.loads((tmp_path / "out" / "summary.json").read_text())
    assert any("The arm was not measured" in note and "dolcezza setup" in note for note in summary["notes"])
    with (tmp_path / "out" / "frames.csv").open() as handle:
        assert all(row["elbow_level_deg"] == "" for row in csv.DictReader(handle))


def test_models_from_something_else_are_refused(tmp_path):
    (tmp_path / "wrong.whl").write_text("no archive")
    done = run("setup", "--archive", tmp_path / "wrong.whl")
    assert done.returncode == 2 and "cannot be read as a package" in done.stderr
    assert run("setup").stdout.startswith("Models for arm and hand are there already")


def test_the_models_do_not_talk(tmp_path):
    hands = README.parent / "tests" / "takes" / "hands"
    done = run("hold", hands / "dev-hand-00.jpg", "--out", tmp_path)
    assert done.returncode == 0 and "delegate" not in done.stderr


def test_of_a_take_that_was_found_the_fit_that_counts_is_written(monkeypatch, measured, tmp_path):
    """Which hand bows may be told by the measuring alone."""
    fit = replace(measured.fit("demo-a3"), handed_told=False)
    turned = replace(as_the_other_hand(fit), handed_told=True)
    for told, written in ((fit, False), (turned, True)):

        def found(video, own, told=told, **_):
            return told, "the record"
            yield

        monkeypatch.setattr(command, "analyse_found", found)
        options = Namespace(take=[take_video("demo-a3")], out=tmp_path)
        assert finish(command._of_found(options, fit, None, None)) == "the record"
        assert (tmp_path / "found.fit.json").exists() == written
    assert read_fit(tmp_path / "found.fit.json") == turned
