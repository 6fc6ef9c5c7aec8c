"""Messages, figures and dates in words, in one language. All words are in ``words/*.json``, by the message's id."""

from __future__ import annotations

import json
import math
import string
from collections.abc import Sequence
from datetime import date
from functools import cache
from importlib.resources import files
from typing import Any

from dolcezza.core.base.message import Message
from dolcezza.core.base.units import QUANTITIES

LANGUAGES = ("en", "de")
DAYS = {
    "%d %B %Y": "days.long", "%d %b %Y": "days.short", "%d %B": "days.month", "%d %b": "days.chart", "%A %d %B": "days.weekday",
    "%a %d": "days.box", "%A": "days.name",
}  # fmt: skip
"""Forms of a date in a sentence to how a language writes them (patterns of Unicode's locale data)."""


class Language(string.Formatter):
    """One language. As a formatter it writes numbers and dates in their places the way the language does."""

    def __init__(self, code: str) -> None:
        self.code = code
        self._words: dict[str, Any] = json.loads((files("dolcezza.reports") / "words" / f"{code}.json").read_text(encoding="utf-8"))

    def sentence(self, message: Message) -> str:
        """What a message says; "" for nothing. Raises KeyError for a message that has no words."""
        if not message.id:
            return ""
        if message.id == "as said":
            return str(message.values["text"])
        if message.id in ("practice", "correction"):
            return self._of_practice(message)
        words = self._words[message.id]
        if isinstance(words, dict):
            words = words["one" if message.values["n"] == 1 else "other"]
        return self.vformat(words, (), message.values)

    def _of_practice(self, message: Message) -> str:
        """The name of a drill or of other work, and what a correction says."""
        from dolcezza.core.practice.drills import corrections
        from dolcezza.reports.practice import correction_in, practice_name

        if message.id == "practice":
            return practice_name(str(message.values["what"]), self)
        return correction_in(corrections()[str(message.values["key"])], self).says.rstrip(".")

    def sentences(self, messages: Sequence[Message]) -> str:
        """Several, one after the other."""
        return " ".join(self.sentence(m) for m in messages)

    def word(self, key: str) -> str:
        """Words that need no numbers. Raises KeyError."""
        return self.sentence(Message(key))

    def knows(self, key: str) -> bool:
        """Whether there are words for a message's id."""
        return key in self._words

    def cause(self, key: str) -> str:
        """The sentence for a cause; "" where it has none (a cause of an earlier version, the teacher's own)."""
        return self.word(f"cause.{key}") if self.knows(f"cause.{key}") else ""

    def format_field(self, value: Any, format_spec: str) -> str:
        """A value in its place: a message as its words, a number with the language's own decimal sign, a date as it is written here."""
        if isinstance(value, Message):
            said = self.sentence(value)
            return capital(said) if format_spec == "capital" else said
        if format_spec == "practice":
            return self.sentence(Message("practice", {"what": value}))
        if isinstance(value, tuple):
            return self._list([self.sentence(m) for m in value], format_spec)
        if isinstance(value, date) and "%" in format_spec:
            return self.day(value, format_spec)
        text = format(value, format_spec)
        return self._localised(text) if isinstance(value, float) else text

    def number(self, value: float | None, decimals: int = 0, *, signed: bool = False) -> str:
        """A number; what is not known is a dash."""
        if value is None or not math.isfinite(value):
            return "–"
        text = f"{value:{'+' if signed else ''}.{decimals}f}"
        return self._localised(text.lstrip("+-") if float(text) == 0 else text)

    def show(self, quantity: str, value: float | None, sd: float | None = None) -> str:
        """A measured figure with its unit and, where known, its ± (one standard deviation); missing values say so."""
        q = QUANTITIES[quantity]
        if value is None or not math.isfinite(value):
            return self.word("not measured")
        text = self.number(value * q.factor, q.decimals, signed=q.signed)
        if sd is not None and math.isfinite(sd):
            spread = sd * q.factor
            text += f" ± {self.number(spread, q.decimals if spread >= 0.5 * 10**-q.decimals else q.decimals + 1)}"
        return f"{text}{'' if q.unit == '°' else ' '}{q.unit}"

    def day(self, day: date, form: str = "%d %B %Y") -> str:
        """A date; ``form`` one of ``DAYS``. Raises KeyError."""
        from babel.dates import format_date  # takes longer to load than a language may, and not every screen has dates

        return format_date(day, self._words[DAYS[form]], locale=self.code)

    def _localised(self, text: str) -> str:
        return text.replace(".", self._words["decimal sign"]).replace("-", "−")

    def _list(self, said: Sequence[str], form: str) -> str:
        if form == "and" and len(said) > 1:
            return f"{', '.join(said[:-1])} {self.word('and')} {said[-1]}"
        joined = ("; " if form == "semicolon" else ", ").join(said)
        return capital(joined) if form == "capital" else joined


@cache
def language(code: str) -> Language:
    """A language by its code; English where there is none of that code."""
    return Language(code if code in LANGUAGES else "en")


def capital(text: str) -> str:
    """The text with a capital first letter; the others stay, as German nouns need it."""
    return text[:1].upper() + text[1:]
