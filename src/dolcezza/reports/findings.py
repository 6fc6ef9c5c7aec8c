"""Findings in words: for the screen, for paper, and for those who read ``findings.json``."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from dolcezza.core.base.message import Message, said
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


def messages_of(summary: Mapping[str, Any]) -> list[Message]:
    """What was to be said of an analysis; earlier versions kept the sentences alone."""
    if "messages" in summary:
        return [Message.from_dict(m) for m in summary["messages"]]
    return [said(str(n)) for n in summary.get("notes", [])]


def notes_of(summary: Mapping[str, Any], words: Language) -> list[str]:
    """The same in words."""
    return [words.sentence(m) for m in messages_of(summary)]
