"""``dolcezza hold IMAGE [IMAGE ...] --out DIR``."""

from __future__ import annotations

import argparse

from dolcezza.core.base.job import finish
from dolcezza.services.hold import look_at_stills, write_holds
from dolcezza.storage.files import ready_folder


def run_hold(options: argparse.Namespace) -> int:
    """Look at stills of the bow hand and write hold.csv. Raises DolcezzaError for bad input."""
    ready_folder(options.out)
    stills = finish(look_at_stills(options.images, right=not options.left_handed))
    path = write_holds(stills, options.out)
    print(f"{sum(s.hold is not None for s in stills)} of {len(stills)} hands told: {path}")
    for still in stills:
        for note in still.notes:
            print(f"note: {still.image}: {note}")
    return 0
