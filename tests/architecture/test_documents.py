"""The documents keep pace with the code: every fault, every command, every picture and link."""

from __future__ import annotations

import importlib.util
import re
from pathlib import Path

import pytest

from dolcezza.core.findings.catalogue import CATALOGUE
from dolcezza.core.practice.drills import corrections
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
