"""What goes wrong is said in the language that is set: every sentence of the code has its German one, with the same things filled in."""

from __future__ import annotations

import importlib.util
import json
import re
from importlib.resources import files
from pathlib import Path

import pytest

from dolcezza.core.base.errors import ExerciseError, LandmarkError, MediaError
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.pipeline.fit_file import fit_from_dict
from dolcezza.reports.faults import GAP, fault_in_words, in_words

TOOL = Path(__file__).parents[2] / "tools" / "troubleshooting.py"
GERMAN: dict[str, str] = json.loads((files("dolcezza.reports") / "words" / "faults_de.json").read_text(encoding="utf-8"))


def sentences() -> set[str]:
    """All that the code can say, as the page of troubles collects it."""
    spec = importlib.util.spec_from_file_location("troubleshooting", TOOL)
    assert spec is not None and spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    said = {s for rows in module.faults().values() for row in rows for s in row if s}
    return {re.sub(r"\{\d\}", GAP, s) for s in said}


def test_every_sentence_of_a_fault_has_a_german_one_and_none_is_left_over():
    said = sentences()
    assert said - set(GERMAN) == set(), "without German words"
    assert set(GERMAN) - said == set(), "no longer said"


@pytest.mark.parametrize("plain", sorted(GERMAN))
def test_the_same_things_are_filled_in(plain):
    gaps = plain.count(GAP)
    assert {int(n) for n in re.findall(r"\{(\d)\}", GERMAN[plain])} == set(range(1, gaps + 1))
    filled = plain
    for n in range(gaps):
        filled = filled.replace(GAP, f"w{n + 1}", 1)
    assert in_words(filled, "de") == re.sub(r"\{(\d)\}", r"w\1", GERMAN[plain])
    assert in_words(filled, "en") == filled


def test_a_real_fault_is_said_in_german_with_what_to_do():
    with pytest.raises(LandmarkError) as caught:
        fit_from_dict({"instrument": "violin 4/4", "pins": [{"t_s": 0, "points": {"chin": [1, 2]}}]})
    assert fault_in_words(caught.value, "de").startswith("'chin' ist keine Stelle am Instrument. Bekannt: ")
    assert fault_in_words(caught.value, "en") == str(caught.value)
    with pytest.raises(Exception) as unknown:  # whatever kind it is
        instrument("kazoo")
    assert "kein hier bekanntes Instrument" in fault_in_words(unknown.value, "de")


def test_the_longest_sentence_that_fits_is_meant():
    assert in_words("The profile mine.json cannot be read.", "de") == "Das Profil mine.json lässt sich nicht lesen."
    assert in_words("clip.mp4 cannot be read.", "de") == "clip.mp4 lässt sich nicht lesen."


def test_what_has_no_words_stays_as_it_is():
    assert fault_in_words(MediaError("Something else.", "Do this."), "de") == "Something else. Do this."
    assert fault_in_words(ExerciseError("Something else."), "de") == "Something else."
    assert fault_in_words(ValueError("not ours"), "de") == "not ours"
