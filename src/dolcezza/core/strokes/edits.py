"""Strokes as the teacher wants them: split in two, merged, deleted, put on another string. What was set by hand wins."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import pairwise

from dolcezza.core.strokes.segment import Span

LEAST_PIECE_S = 0.06
"""A cut nearer than this to a stroke's end cuts nothing."""


class EditKind(StrEnum):
    """What can be done to strokes; the values stand in the fit file."""

    SPLIT = "cut"
    MERGE = "join"
    DELETE = "drop"
    STRING = "string"


@dataclass(frozen=True)
class StrokeEdit:
    """One change at the moment ``t_s`` (s): split the stroke there in two, merge the two strokes whose turn is nearest,
    delete the stroke there, or say its ``string``."""

    t_s: float
    what: EditKind
    string: str = ""


@dataclass(frozen=True)
class EditedSpan:
    """A span with what the teacher did to it in words, "" = as it was found; ``string`` "" = as it was measured."""

    span: Span
    by_hand: str = ""
    string: str = ""


def edited(spans: Sequence[Span], edits: Sequence[StrokeEdit]) -> list[EditedSpan]:
    """The spans with the edits applied in their order. An edit that meets no stroke (the take was measured otherwise) does nothing."""
    out = [EditedSpan(s) for s in spans]
    for edit in edits:
        if edit.what is EditKind.MERGE:
            out = _joined(out, edit.t_s)
            continue
        at = next((k for k, e in enumerate(out) if e.span.start_s <= edit.t_s < e.span.end_s), None)
        if at is None:
            continue
        here = out[at]
        if edit.what is EditKind.SPLIT:
            if min(edit.t_s - here.span.start_s, here.span.end_s - edit.t_s) >= LEAST_PIECE_S:
                first, second = replace(here.span, end_s=edit.t_s), replace(here.span, start_s=edit.t_s)
                out[at : at + 1] = [replace(here, span=first, by_hand="cut"), replace(here, span=second, by_hand="cut")]
        elif edit.what is EditKind.DELETE:
            del out[at]
        elif edit.what is EditKind.STRING:
            out[at] = replace(here, by_hand="string", string=edit.string)
    return out


def _joined(spans: list[EditedSpan], t_s: float) -> list[EditedSpan]:
    if len(spans) < 2:
        return spans
    turns = [0.5 * (a.span.end_s + b.span.start_s) for a, b in pairwise(spans)]
    k = min(range(len(turns)), key=lambda i: abs(turns[i] - t_s))
    first, second = spans[k], spans[k + 1]
    if not first.span.start_s <= t_s <= second.span.end_s:
        return spans
    one = replace(first, span=replace(first.span, end_s=second.span.end_s), by_hand="joined")
    return [*spans[:k], one, *spans[k + 2 :]]
