"""On which string a note is to be played, as parts say it: a Roman numeral (I = the highest) or a number at the note, "sul G" or "IV corda"
over notes until "loco" or another string.

The engraver drops MusicXML's own string numbers: they are read, and printed, as the Roman numerals that players know.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

NUMERALS = ("I", "II", "III", "IV")
"""Strings from the highest down."""
_NUMBER = re.compile(r"<string(?:\s[^>]*)?>\s*([1-4])\s*</string>")
_SUL = re.compile(r"\bsul(?:la)?\s+([GDAEC])\b", re.IGNORECASE)
_CORDA = re.compile(r"^(IV|III|II|I)\.?\s*(?:corda|c\.|string|saite)?$", re.IGNORECASE)
_ENDS = re.compile(r"^(loco|nat\.?|naturale|ord\.?|ordinario)$", re.IGNORECASE)


def with_numerals(musicxml: str) -> str:
    """MusicXML with its string numbers as Roman numerals among the fingerings; any other text as it is."""
    if "<string" not in musicxml or "<score-" not in musicxml:
        return musicxml
    return _NUMBER.sub(lambda found: f"<fingering>{NUMERALS[int(found[1]) - 1]}</fingering>", musicxml)


def string_said(words: str) -> str | None:
    """The string that words over a staff ask for: its letter or numeral, "" = whichever again; None where they say nothing of strings."""
    words = " ".join(words.split())
    if _ENDS.match(words):
        return ""
    if (named := _SUL.search(words)) is not None:
        return named[1].upper()
    numbered = _CORDA.match(words)
    return numbered[1].upper() if numbered is not None else None


def string_name(written: str, names: Sequence[str]) -> str:
    """One of an instrument's strings (``names``, bass side first) by letter or numeral; "" where it has no such string."""
    if written in NUMERALS[: len(names)]:
        return names[-1 - NUMERALS.index(written)]
    return written if written and written in names else ""


def string_number(written: str, names: Sequence[str]) -> int:
    """1 = the highest string; 0 where the instrument has no such string."""
    name = string_name(written, names)
    return len(names) - list(names).index(name) if name else 0
