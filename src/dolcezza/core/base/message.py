"""What is to be said, without the words: an id and the numbers that belong into the sentence. ``reports`` has the words."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any


@dataclass(frozen=True)
class Message:
    """``id`` of the sentence with its ``values`` by name. ``n`` among them decides between singular and plural.

    Values are numbers, names (of a string, a profile), and other messages that are part of the sentence, one or a tuple.
    """

    id: str
    values: Mapping[str, Any] = field(default_factory=dict)

    def to_dict(self) -> dict[str, Any]:
        """Plain JSON data."""
        return {"id": self.id, **({"values": {k: _plain(v) for k, v in self.values.items()}} if self.values else {})}

    @classmethod
    def from_dict(cls, data: Mapping[str, Any]) -> Message:
        """Inverse of ``to_dict``. Raises KeyError."""
        return cls(str(data["id"]), {k: _message(v) for k, v in data.get("values", {}).items()})


def said(text: str) -> Message:
    """Words that somebody has said already: the teacher, a profile, an earlier version."""
    return Message("as said", {"text": text})


NOTHING = Message("")
"""Nothing is to be said."""


def _plain(value: Any) -> Any:
    if isinstance(value, Message):
        return value.to_dict()
    if isinstance(value, tuple):
        return [v.to_dict() for v in value]
    return value.item() if hasattr(value, "item") else value


def _message(value: Any) -> Any:
    if isinstance(value, dict):
        return Message.from_dict(value)
    return tuple(Message.from_dict(v) for v in value) if isinstance(value, list) else value
