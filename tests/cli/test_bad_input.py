"""What is wrong with the input is said in one sentence before any work is done, with code 2 and nothing written."""

from __future__ import annotations

import json

import pytest

from dolcezza.cli import analyse as analyse_command
from dolcezza.cli.main import parser, run
from dolcezza.services.settings import SettingsFile
from takes_support import take_video

VIDEO = take_video("demo-a3")
FIT = json.loads(VIDEO.with_suffix(".fit.json").read_text())


def said(capsys, *arguments) -> str:
    assert run(parser().parse_args([str(a) for a in arguments])) == 2
    out = capsys.readouterr().err
    assert out.startswith("dolcezza: ")
    assert "Traceback" not in out
    return out


@pytest.fixture(autouse=True)
def no_work(monkeypatch):
    """Nothing here gets as far as measuring."""

    def refuse(*_args, **_kwargs):
        raise AssertionError("the video was measured")

    monkeypatch.setattr(analyse_command, "analyse", refuse)


def with_fit(tmp_path, text: str):
    path = tmp_path / "x.fit.json"
    path.write_text(text)
    return "analyse", VIDEO, "--fit", path, "--out", tmp_path / "out"


def changed(**pin) -> str:
    return json.dumps({**FIT, "pins": [{**FIT["pins"][0], **pin}]})


@pytest.mark.parametrize(
    ("text", "word"),
    [
        (changed(points={**FIT["pins"][0]["points"], "bridge_bass": [float("nan"), 2]}), "cannot be read"),
        (changed(points={**FIT["pins"][0]["points"], "bridge_bass": [1e300, 2]}), "cannot be read"),
        (changed(t_s=float("inf")), "cannot be read"),
        (changed(t_s=10**400), "cannot be read"),
        (json.dumps({**FIT, "measured": {"hair_length": float("nan")}}), "dimensions"),
        (json.dumps({**FIT, "zero": [1e300]}), "zero"),
        (json.dumps({**FIT, "pins": FIT["pins"] * 300}), "300 calibration frames"),
        ("[" * 100_000, "cannot be read"),
        (" " * 6_000_000, "too long"),
    ],
)
def test_fit_files_that_cannot_be(tmp_path, capsys, text, word):
    assert word in said(capsys, *with_fit(tmp_path, text))


@pytest.mark.parametrize("command", ["analyse", "found", "hold", "simulate", "export"])
def test_a_place_that_cannot_be_written_is_said_before_the_work(tmp_path, capsys, command):
    taken = tmp_path / "taken"
    taken.write_text("a file")
    script = tmp_path / "s.toml"
    script.write_text('[[bow]]\nstring = "D"\n')
    arguments = {
        "analyse": ["analyse", VIDEO, "--fit", VIDEO.with_suffix(".fit.json")], "found": ["analyse", VIDEO, "--instrument", "violin 1/2"],
        "hold": ["hold", tmp_path / "none.jpg"], "simulate": ["simulate", script], "export": ["--studio", tmp_path / "studio", "export"],
    }[command]  # fmt: skip
    assert "is a file, not a folder" in said(capsys, *arguments, "--out", taken)
    assert taken.read_text() == "a file"


def test_an_instrument_that_is_not_known_is_said(tmp_path, capsys):
    assert "'kazoo' is not an instrument" in said(capsys, "analyse", VIDEO, "--instrument", "kazoo", "--out", tmp_path / "out")


def test_a_fit_or_an_instrument_not_both_and_not_neither(tmp_path, capsys):
    for more in ([], ["--fit", "x.json", "--instrument", "violin 4/4"]):
        with pytest.raises(SystemExit) as ended:
            parser().parse_args(["analyse", str(VIDEO), "--out", str(tmp_path), *more])
        assert ended.value.code == 2
        assert "--fit" in capsys.readouterr().err


def test_a_script_that_cannot_be_played_is_said(tmp_path, capsys):
    script = tmp_path / "s.toml"
    script.write_text('[[bow]]\nstring = "H"\n')
    assert "string 'H'" in said(capsys, "simulate", script, "--out", tmp_path / "out")


@pytest.mark.parametrize(
    "session",
    [{"step": 11}, {"step": -1}, {"moment_s": 1e999}, {"moment_s": "NaN"}, {"take": 1e999}, {"student": "nobody"}, {"moment_s": -4}],
)
def test_a_session_that_cannot_be_is_as_if_there_were_none(tmp_path, session):
    path = tmp_path / "settings.json"
    whole = {"student": 1, "take": 1, "step": 3, "moment_s": 2.0}
    path.write_text(json.dumps({"theme": "dark", "sessions": {"/a": whole, "/b": {**whole, **session}}}))
    now = SettingsFile(path).now
    assert now.theme == "dark"
    assert set(now.sessions) == {"/a"}


def test_settings_of_endless_depth_count_as_not_set(tmp_path):
    path = tmp_path / "settings.json"
    path.write_text("[" * 100_000)
    assert SettingsFile(path).now.theme == "light"
