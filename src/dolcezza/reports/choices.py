"""Choices, questions and methods of the hold in words, in one language."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import replace
from functools import cache
from importlib.resources import files
from typing import Any

from dolcezza.core.findings.choices import Choice
from dolcezza.core.hold.felt import FeltTest
from dolcezza.core.hold.methods import Method, Step
from dolcezza.core.hold.questions import Question
from dolcezza.reports.language import Language


@cache
def _texts(code: str) -> dict[str, Any]:
    path = files("dolcezza.reports") / "words" / f"hold_{code}.json"
    return json.loads(path.read_text(encoding="utf-8")) if path.is_file() else {"choices": {}, "questions": {}, "methods": {}}


def choice_in(choice: Choice, words: Language) -> Choice:
    """A choice with its texts in a language; as it is where there are none."""
    own = _texts(words.code)["choices"].get(choice.key)
    if own is None:
        return choice
    return replace(choice, name=own["name"], options=tuple(replace(o, **own["options"][o.key]) for o in choice.options))


def question_in(question: Question, words: Language) -> Question:
    """A question with its answers in a language; as it is where there are none."""
    return replace(question, **_texts(words.code)["questions"].get(question.key, {}))


def method_in(method: Method, words: Language) -> Method:
    """A method with its steps in a language; as it is where there are none."""
    own = _texts(words.code)["methods"].get(method.key)
    if own is None:
        return method
    return replace(method, name=own["name"], steps=tuple(Step(s.key, own["steps"][s.key]) for s in method.steps))


def ready_in(items: Mapping[str, str], words: Language) -> dict[str, str]:
    """The list before the first note in a language; as it is where there is none."""
    own = _texts(words.code).get("ready", {})
    return {key: own.get(key, said) for key, said in items.items()}


def felt_in(test: FeltTest, words: Language) -> FeltTest:
    """A small test by feel in a language; as it is where there is none."""
    return replace(test, **_texts(words.code).get("felt", {}).get(test.key, {}))
