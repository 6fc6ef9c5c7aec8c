"""Sentences of faults in another language. The code says them in English; ``words/faults_*.json`` has each with … for what is filled in,
and what it is in the other language with {1}, {2} in those places."""

from __future__ import annotations

import json
import re
from functools import cache
from importlib.resources import files

from dolcezza.core.base.errors import DolcezzaError

GAP = "…"


@cache
def _known(code: str) -> tuple[tuple[re.Pattern[str], str], ...]:
    """Every sentence as a pattern, those with the most words of their own first; none for English."""
    path = files("dolcezza.reports") / "words" / f"faults_{code}.json"
    if not path.is_file():
        return ()
    said: dict[str, str] = json.loads(path.read_text(encoding="utf-8"))
    rows = sorted(said.items(), key=lambda row: -len(row[0].replace(GAP, "")))
    return tuple((re.compile("(.+?)".join(re.escape(part) for part in plain.split(GAP)), re.DOTALL), words) for plain, words in rows)


def in_words(sentence: str, code: str) -> str:
    """One sentence in the language of this code; as it is where that language does not have it."""
    for pattern, words in _known(code):
        found = pattern.fullmatch(sentence)
        if found:
            said = words
            for n, part in enumerate(found.groups(), 1):
                said = said.replace(f"{{{n}}}", in_words(part, code))
            return said
    return sentence


def fault_in_words(error: BaseException, code: str) -> str:
    """What went wrong and what to do."""
    if not isinstance(error, DolcezzaError):
        return str(error)
    return f"{in_words(error.sentence, code)} {in_words(error.advice, code)}".strip()
