"""The documents keep pace with the code: every fault, every command, every picture and link."""

from __future__ import annotations

import importlib.util
import re
from pathlib import Path

import pytest

from dolcezza.core.arm.posture import MEANINGS
from dolcezza.core.findings.catalogue import CATALOGUE
from dolcezza.core.findings.choices import choices
from dolcezza.core.hold.felt import FELT_TESTS
from dolcezza.core.hold.methods import methods
from dolcezza.core.hold.questions import questions
from dolcezza.core.practice.drills import corrections, drills
from dolcezza.core.practice.ready import ready_list
from dolcezza.core.tension.signs import REFERENCES
from dolcezza.reports.language import language

ROOT = Path(__file__).parent.parent.parent
DOCS = ROOT / "docs"
PAGES = sorted(p for p in [*DOCS.glob("*.md"), *ROOT.glob("*.md")])


def tool(name: str):
    spec = importlib.util.spec_from_file_location(name, ROOT / "tools" / f"{name}.py")
    made = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(made)
    return made


def test_every_fault_stands_in_the_page_for_trouble():
    """If this fails: python tools/troubleshooting.py"""
    made = tool("troubleshooting")
    assert made.PAGE.read_text(encoding="utf-8") == made.page()
    assert sum(len(rows) for rows in made.faults().values()) > 90


@pytest.mark.parametrize("page", PAGES, ids=lambda p: p.name)
def test_links_and_pictures_of_a_page_are_there(page):
    for target in re.findall(r"\]\(([^)#]+)\)", page.read_text(encoding="utf-8")):
        assert "://" not in target, f"{page.name} leads out of the house: {target}"
        assert (page.parent / target).exists(), f"{page.name}: {target} is not there"


def test_the_commands_page_has_every_command_and_option():
    page = (DOCS / "cli.md").read_text(encoding="utf-8")
    source = (ROOT / "src" / "dolcezza" / "cli" / "main.py").read_text(encoding="utf-8")
    for word in (*re.findall(r'add_parser\("(\w+)"', source), *re.findall(r'add_argument\("(--[\w-]+)"', source)):
        assert word in page, word


def test_the_glossary_is_what_the_languages_say():
    """Words of the glossary that are names of figures are those on paper and screen."""
    rows = [r.split("|")[1:4] for r in (DOCS / "glossary.md").read_text(encoding="utf-8").splitlines() if r.startswith("| ")]
    german = {en.strip(): de.strip() for en, de, _ in rows}
    for key in ("bow_angle", "contact_point", "bow_position"):
        en, de = (language(c).word(f"figure.{key}") for c in ("en", "de"))
        assert german[en] == de


def test_the_guide_has_something_for_every_group_of_findings():
    guide = (DOCS / "guide.md").read_text(encoding="utf-8")
    assert len({e.group for e in CATALOGUE.values()}) == 7 and "Signs of tension" in guide
    assert "No real video has been validated yet" in guide
    assert len(corrections()) > 20


def test_the_guide_ships_with_the_program_and_opens(qtbot):
    from dolcezza.app.dialogs.guide_window import FIRST, GuideWindow, help_folder

    assert (help_folder() / FIRST).is_file() and (help_folder() / "screenshots" / "strokes.png").is_file()
    window = GuideWindow()
    qtbot.addWidget(window)
    assert "Ten steps" in window.pages.toPlainText()
    assert window.pages.document().idealWidth() < 900, "pictures are no wider than the column"
    from PySide6.QtCore import QUrl

    window.pages.setSource(QUrl("troubleshooting.md"))
    assert "The disk is full" in window.pages.toPlainText() and window.back.isEnabled()
    window.pages.setSource(QUrl("unknown.md"))
    assert "The disk is full" in window.pages.toPlainText(), "a link that leads nowhere changes nothing"
    window.back.click()
    assert "Ten steps" in window.pages.toPlainText()


def _named_in_teaching() -> dict[str, set[str]]:
    out: dict[str, set[str]] = {}
    for kind, name in re.findall(r"`([a-z]+):([^`]+)`", (DOCS / "teaching.md").read_text(encoding="utf-8")):
        out.setdefault(kind, set()).add(name)
    return out


def test_what_teachers_do_names_what_is_there():
    """Every name in the page is one of the program's, and every choice, question, test, method, drill and kind of finding is in it."""
    ready = set(ready_list("violin")) | set(ready_list("cello"))
    whole = {
        "choice": set(choices()), "question": set(questions()), "test": {t.key for t in FELT_TESTS}, "method": set(methods()),
        "drill": set(drills()), "ready": ready, "posture": set(MEANINGS),
    }  # fmt: skip
    named = _named_in_teaching()
    for kind, keys in whole.items():
        assert named.pop(kind) == keys, kind
    words = language("en")
    assert named.pop("finding") <= set(CATALOGUE) and named.pop("sign") <= set(REFERENCES)
    assert all(words.knows(n) for n in named.pop("note")) and named.pop("cause") <= {c for e in CATALOGUE.values() for c in e.causes}
    assert not named


def test_what_teachers_do_counts_itself():
    page = (DOCS / "teaching.md").read_text(encoding="utf-8")
    states = re.findall(r"\| (whole|shallow|missing)[^|]*\|$", page, re.MULTILINE)
    rows = len(re.findall(r"^\| (?!what teachers)[^|-]", page, re.MULTILINE))
    said = [int(n) for n in re.search(r"(\d+) whole, (\d+) shallow, (\d+) missing", page).groups()]
    assert said == [states.count(s) for s in ("whole", "shallow", "missing")] and sum(said) == rows
