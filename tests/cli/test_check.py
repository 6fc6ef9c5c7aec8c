"""The check card on the command line, with simulated holds (``tests/takes/check``, made by ``dolcezza simulate check.toml``)."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path
from xml.etree import ElementTree

import pytest

HOLDS = Path(__file__).parents[1] / "takes" / "check" / "check.mp4"
FIT = HOLDS.with_name("check.fit.json")


def run(*arguments: object) -> subprocess.CompletedProcess:
    return subprocess.run(
        [sys.executable, "-m", "dolcezza", *map(str, arguments)], capture_output=True, text=True, check=False, timeout=240
    )


def test_the_card_is_written_at_true_size(tmp_path):
    """A4 (ISO 216: 210 x 297 mm), one unit a millimetre, a ruler of 100."""
    done = run("card", "cello 4/4", "--out", tmp_path / "card.svg")
    assert done.returncode == 0, done.stderr
    root = ElementTree.parse(tmp_path / "card.svg").getroot()
    assert (root.get("width"), root.get("height"), root.get("viewBox")) == ("210mm", "297mm", "0 0 210 297")
    ruler = next(e for e in root.iter() if e.get("id") == "ruler")
    assert float(ruler.get("x2")) - float(ruler.get("x1")) == 100.0
    assert run("card", "trumpet", "--out", tmp_path / "x.svg").returncode == 2


@pytest.mark.accuracy
def test_simulated_holds_make_a_check(tmp_path):
    """The bow was laid on the six lines with the hand's errors of the script; the table's gap differs from the true one by 3 %."""
    done = run("check", HOLDS, "--fit", FIT, "--out", tmp_path, "--name", "simulated", "--quiet")
    assert done.returncode == 0, done.stderr
    assert "With this phone from here: angle within" in done.stdout
    data = json.loads((tmp_path / "check.json").read_text())
    assert data["name"] == "simulated" and data["holds"] == 6
    assert data["within_deg"] <= 2.0 and data["within_mm"] <= 2.5
    assert min(data["held"]) >= 5
    asked = [(h["asked_deg"], h["asked_mm"]) for h in data["holds_found"]]
    assert asked == [(0, 15), (10, 15), (-10, 15), (0, 40), (10, 40), (-10, 40)]
    # what the script says of the hand: the true differences from the lines
    for hold, (deg, mm) in zip(
        data["holds_found"], [(0.3, 0.6), (0.2, -0.5), (0.5, 0.3), (-0.4, 0.4), (-0.3, -0.7), (-0.3, 0.2)], strict=True
    ):
        assert hold["angle_deg"] == pytest.approx(hold["asked_deg"] + deg, abs=2.0)
        assert hold["contact_mm"] == pytest.approx(hold["asked_mm"] + mm, abs=4.0)
