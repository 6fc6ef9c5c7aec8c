"""``dolcezza plan FILE``."""

from __future__ import annotations

import argparse

from dolcezza.core.assignment.plan import to_exercise
from dolcezza.core.assignment.text import write_exercise
from dolcezza.core.instrument.catalog import instrument
from dolcezza.services.bow_plans import read_plan_file, table
from dolcezza.storage.files import write_whole


def run_plan(options: argparse.Namespace) -> int:
    """Divide the bow for a rhythm and print all ways. Raises DolcezzaError for bad input."""
    plans = read_plan_file(options.file, instrument(options.instrument))
    print("\n\n".join(table(p) for p in plans))
    if options.exercise is not None:
        write_whole(options.exercise, write_exercise(to_exercise(plans[0])))
        print(f"\nThe first way is now an exercise: {options.exercise}")
    return 0
