"""What is kept as plain data reads back: what is not known, words of an enum, days, messages; what is damaged is not read as something."""

from __future__ import annotations

import json
import math
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

import pytest

from dolcezza.core.base.message import Message, said
from dolcezza.storage.plain import from_plain, to_plain


class Shade(StrEnum):
    LIGHT = "light"
    DARK = "dark"


@dataclass(frozen=True)
class Part:
    value: float
    place: tuple[float, float]


@dataclass(frozen=True)
class Whole:
    day: date
    shade: Shade
    known: float | None
    told: tuple[Message, ...]
    parts: dict[str, Part | None]
    by_number: dict[int, float]
    count: int = 0


THING = Whole(
    date(2026, 11, 3), Shade.DARK, None, (Message("on strokes", {"n": 2, "of": 4}),), {"a": Part(0.25, (1.0, 2.5)), "b": None},
    {3: 1.5}, 7,
)  # fmt: skip


def test_what_is_kept_reads_back_the_same():
    assert from_plain(Whole, json.loads(json.dumps(to_plain(THING), allow_nan=False))) == THING


def test_what_is_not_known_is_null_and_not_a_number_again():
    data = to_plain(Part(math.nan, (math.inf, 2.0)))
    assert data == {"value": None, "place": (None, 2.0)}
    again = from_plain(Part, data)
    assert math.isnan(again.value) and math.isnan(again.place[0]) and again.place[1] == 2.0


def test_numbers_are_rounded_where_it_is_asked_for():
    assert to_plain(Part(1.23456, (2.0, 3.00049)), 3) == {"value": 1.235, "place": (2.0, 3.0)}
    assert to_plain(Part(1.23456, (2.0, 3.00049)))["value"] == 1.23456


def test_sentences_of_earlier_versions_are_messages():
    data = to_plain(THING) | {"told": ["The tip wanders."]}
    assert from_plain(Whole, data).told == (said("The tip wanders."),)


def test_what_a_later_version_added_is_passed_over():
    assert from_plain(Whole, to_plain(THING) | {"new": [1, 2]}) == THING


@pytest.mark.parametrize(
    "damage",
    [{"shade": "purple"}, {"day": "yesterday"}, {"parts": {"a": {"value": "much"}}}, {"count": "many"}, {"told": [{"id": 1, "values": 5}]}],
)
def test_what_is_damaged_is_not_read(damage):
    with pytest.raises((KeyError, TypeError, ValueError, AttributeError)):
        from_plain(Whole, to_plain(THING) | damage)


def test_a_missing_value_is_damage():
    data = to_plain(THING)
    del data["shade"]
    with pytest.raises((KeyError, TypeError, ValueError)):
        from_plain(Whole, data)
