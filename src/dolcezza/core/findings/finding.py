"""What a finding is: something worth looking at, with its evidence."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Finding:
    """Something worth looking at. The teacher decides whether it matters.

    ``strokes``: numbers of those that show it, out of ``of``; ``evidence_s``: one moment each (s). ``value`` with its
    ``sd`` (one standard deviation) against ``limit`` in ``unit``. ``sure`` is false when the value is within its own ± of
    the limit. ``cause`` is a key, ``cause_text`` the sentence for it; ``against`` what speaks against it, ``film`` what to film to be
    sure (both may be "").
    """

    kind: str
    strokes: tuple[int, ...]
    of: int
    evidence_s: tuple[float, ...]
    value: float
    sd: float
    limit: float
    unit: str
    sure: bool
    cause: str
    sentence: str
    cause_text: str
    against: str = ""
    film: str = ""
