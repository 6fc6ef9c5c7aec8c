"""``dolcezza archive`` and ``dolcezza take-in``."""

from __future__ import annotations

from dolcezza.cli.main import parser, run
from dolcezza.services.studio import Studio


def test_out_and_in_by_the_command_line(studio, tmp_path, capsys):
    name, folder = studio.students()[0].name, studio.folder
    studio.close()
    file = tmp_path / "one.zip"
    assert run(parser().parse_args(["--studio", str(folder), "archive", str(file), "--student", name, "--quiet"])) == 0
    warned = f"keep this file with you: handing it on was not agreed for {name}"
    assert capsys.readouterr().out == f"{name}: {file}\n{warned}\n"
    new = tmp_path / "new"
    assert run(parser().parse_args(["--studio", str(new), "take-in", str(file), "--quiet"])) == 0
    assert capsys.readouterr().out == f"taken in: {name}\n"
    made = Studio(new)
    assert [s.name for s in made.students()] == [name]
    made.close()
    assert run(parser().parse_args(["--studio", str(new), "take-in", str(file), "--quiet"])) == 2
    assert "Nobody new is in this archive" in capsys.readouterr().err


def test_a_wrong_name_and_a_wrong_file_are_said(studio, tmp_path, capsys):
    for words in (["archive", "x.zip", "--student", "Nobody"], ["archive", str(tmp_path / "x.txt")], ["take-in", str(tmp_path / "no.zip")]):
        assert run(parser().parse_args(["--studio", str(studio.folder), *words])) == 2
        told = capsys.readouterr().err
        assert told.startswith("dolcezza: ") and told.count("\n") == 1
