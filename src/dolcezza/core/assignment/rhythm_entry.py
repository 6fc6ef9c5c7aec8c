"""A rhythm put together note by note: each gesture changes the text that stands for it, which can be typed as well."""

from __future__ import annotations

import re

VALUES: dict[str, float] = {"whole": 4.0, "half": 2.0, "quarter": 1.0, "eighth": 0.5, "sixteenth": 0.25}
"""Note values in beats of a quarter note."""
_TOKENS = re.compile(r"\^?\(|\)[pmf]*(?:@[\d.]+)?|\^?r?[\d.]+[pmf]*(?:@[\d.]+)?|\S+")
_LINE = re.compile(r"^(\s*rhythm\s*:)(.*)$", re.IGNORECASE)


def with_note(text: str, beats: float, *, rest: bool = False, retake: bool = False) -> str:
    """The text with one more note or rest at the end of its rhythm; ``retake``: the bow is lifted and set again before it. A rest ends a
    slur, and within one nothing is retaken."""
    if rest and is_open(text):
        text = with_slur(text)
    retake = retake and not is_open(text)
    return _changed(text, [f"{'^' if retake and not rest else ''}{'r' if rest else ''}{beats:g}"])


def with_slur(text: str) -> str:
    """A slur begun, or the one that is open closed; one that holds no note goes again."""
    tokens = tokens_of(text)
    if not is_open(text):
        return _changed(text, ["("])
    return _changed(text, [], drop=1) if tokens and tokens[-1].endswith("(") else _changed(text, [")"])


def dotted(text: str) -> str:
    """The last note half as long again; a dotted one without its dot."""
    tokens = tokens_of(text)
    found = re.fullmatch(r"(\^?r?)([\d.]+)(.*)", tokens[-1]) if tokens else None
    if found is None:
        return text
    beats = float(found[2])
    plain = any(abs(beats - v) < 1e-9 for v in VALUES.values())
    return _changed(text, [f"{found[1]}{beats * 1.5 if plain else beats / 1.5:g}{found[3]}"], drop=1)


def with_loudness(text: str, dynamic: str) -> str:
    """How loud the last note or bow is."""
    tokens = tokens_of(text)
    found = re.fullmatch(r"(\)|\^?[\d.]+)[pmf]*(.*)", tokens[-1]) if tokens else None
    if found is None:
        return text
    return _changed(text, [f"{found[1]}{'' if dynamic == 'mf' else dynamic}{found[2]}"], drop=1)


def without_last(text: str) -> str:
    """The last gesture taken back."""
    return _changed(text, [], drop=1)


def is_open(text: str) -> bool:
    """Whether a slur is begun and not closed."""
    tokens = tokens_of(text)
    return sum(t.endswith("(") for t in tokens) > sum(t.startswith(")") for t in tokens)


def tokens_of(text: str) -> list[str]:
    """What stands in the last line of rhythm."""
    found = next((m for m in (_LINE.match(line) for line in reversed(text.splitlines())) if m), None)
    return _TOKENS.findall(found[2].split("#", 1)[0]) if found else []


def _changed(text: str, more: list[str], *, drop: int = 0) -> str:
    tokens = tokens_of(text)
    tokens = [*(tokens[:-drop] if drop else tokens), *more]
    said = " ".join(tokens).replace("( ", "(").replace(" )", ")")
    lines = text.rstrip("\n").splitlines()
    for k in range(len(lines) - 1, -1, -1):
        if (found := _LINE.match(lines[k])) is not None:
            lines[k] = f"{found[1]} {said}".rstrip()
            return "\n".join(lines) + "\n"
    return "\n".join([*lines, f"rhythm: {said}".rstrip()]) + "\n"
