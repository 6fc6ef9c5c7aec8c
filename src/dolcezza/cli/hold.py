"""``dolcezza hold IMAGE [IMAGE ...] --out DIR``."""

from __future__ import annotations

import argparse

from dolcezza.core.base.job import finish
from dolcezza.services.hold import look_at_stills, write_holds


def run_hold(options: argparse.Namespace) -> int:
    """Look at stills of the bow hand and write hold.csv. Raises DolcezzaError for bad input."""
    stills = finish(look_at_stills(options.images, right=not options.left_handed))
    path = write_holds(stills, options.out)
    print(f"{sum(s.hold is not None for s in stills)} of {len(stills)} hands told: {path}")
    for still in stills:
        for note in still.notes:
            print(f"note: {still.image}: {note}")
    return 0
