"""Findings in words: for the screen, for paper, and for those who read ``findings.json``."""

from __future__ import annotations

from typing import Any

from dolcezza.core.findings.finding import Finding
from dolcezza.reports.language import Language, language
from dolcezza.storage.records import JudgedFinding
from dolcezza.storage.tables import finding_to_dict


def sentence_of(judged: JudgedFinding, words: Language) -> str:
    """What the screen and the sheets say: the teacher's words before the program's."""
    return judged.wording or words.sentence(judged.finding.message)


def finding_row(finding: Finding, words: Language | None = None) -> dict[str, Any]:
    """A finding as ``findings.json`` has it: kind, strokes, figures, and its sentences in a language (None = English)."""
    words = words or language("en")
    row = finding_to_dict(finding)
    row |= {"sentence": words.sentence(finding.message), "cause_text": words.cause(finding.cause)}
    row |= {"against": words.sentence(finding.against), "film": words.sentence(finding.film)}
    return row
