"""Dataclasses as plain JSON data and back, by the serialising library: what is not known (NaN) is null, an enum is its word.

What others read, and what earlier versions wrote, is kept: a file's own additions stand where the file is written.
"""

from __future__ import annotations

import math
from functools import cache
from typing import TYPE_CHECKING, Any, TypeVar

from dolcezza.core.base.message import Message, said

if TYPE_CHECKING:
    from cattrs.preconf.json import JsonConverter

T = TypeVar("T")


@cache
def _converter(decimals: int | None) -> JsonConverter:
    """``decimals``: to how many numbers are rounded, None = whole."""
    from cattrs.preconf.json import make_converter  # with the first thing that is kept, not when the desk opens

    made = make_converter(detailed_validation=False, prefer_attrib_converters=False)

    def known(value: float) -> float | None:
        if not math.isfinite(value):
            return None
        return value if decimals is None else round(value, decimals)

    made.register_unstructure_hook(float, known)
    made.register_structure_hook(float, lambda value, _kind: math.nan if value is None else float(value))
    made.register_structure_hook_func(lambda kind: kind is str, _text)  # an enum of words is one of its own
    made.register_unstructure_hook(Message, Message.to_dict)
    made.register_structure_hook(Message, lambda value, _kind: message_from_plain(value))
    return made


def _text(value: Any, _kind: Any) -> str:
    if not isinstance(value, str):
        raise TypeError(f"{value!r} is no text")
    return value


def message_from_plain(value: Any) -> Message:
    """A message; earlier versions kept sentences. Raises KeyError."""
    return Message.from_dict(value) if isinstance(value, dict) else said(str(value))


def to_plain(thing: Any, decimals: int | None = None) -> Any:
    """A dataclass of numbers, words, enums, dates, messages, tuples, dicts and further dataclasses as plain JSON data.

    ``decimals``: to how many numbers are rounded, None = not at all."""
    return _converter(decimals).unstructure(thing)


def from_plain(kind: type[T], data: Any) -> T:
    """Inverse of ``to_plain``; what a later version added is passed over. Raises KeyError, TypeError, ValueError where it is damaged."""
    return _converter(None).structure(data, kind)
