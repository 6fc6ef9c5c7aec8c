"""Memory that nobody uses any more goes back to the system: the C library keeps what a measurement has freed, piece by piece."""

from __future__ import annotations

import ctypes
from functools import cache


@cache
def _trim() -> ctypes._NamedFuncPointer | None:
    """glibc's ``malloc_trim``; None where there is another C library."""
    try:
        return ctypes.CDLL(None).malloc_trim
    except (OSError, AttributeError):
        return None


def give_back() -> None:
    """Give back what the C library holds and nobody uses."""
    trim = _trim()
    if trim is not None:
        trim(0)
