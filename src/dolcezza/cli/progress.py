"""The line that says how far a command has got."""

from __future__ import annotations

import sys
from typing import TypeVar

from dolcezza.core.base.job import Work

T = TypeVar("T")


def with_progress(work: Work[T], show: bool) -> T:
    """Do the work; where ``show``, with its progress on the error stream."""
    while True:
        try:
            progress = next(work)
        except StopIteration as stop:
            if show:
                print("\r" + " " * 40 + "\r", end="", file=sys.stderr)
            result: T = stop.value
            return result
        if show:
            print(f"\r{progress.stage}: {100 * progress.share:3.0f} %   ", end="", file=sys.stderr, flush=True)
