"""``dolcezza simulate SCRIPT --out DIR``."""

from __future__ import annotations

import argparse
import sys

from dolcezza.cli.progress import with_progress
from dolcezza.simulator.film import film_all
from dolcezza.simulator.script import read_script
from dolcezza.storage.files import ready_folder


def run_simulate(options: argparse.Namespace) -> int:
    """Play a script and film it, with its truth. Raises DolcezzaError for bad input."""
    script = read_script(options.script)
    name = options.script.stem
    ready_folder(options.out)
    paths = with_progress(film_all(script, options.out, name), not options.quiet and sys.stderr.isatty())
    bows = sum(not b.rest for b in script.bows)
    where = " and ".join(str(p) for p in paths)
    print(f"{bows} bows, {script.seconds:.1f} s: {where}, with .fit.json, .truth.npz and .truth.json beside it")
    return 0
