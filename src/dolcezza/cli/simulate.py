"""``dolcezza simulate SCRIPT --out DIR``."""

from __future__ import annotations

import argparse
import sys

from dolcezza.simulator.film import film
from dolcezza.simulator.script import read_script
from dolcezza.storage.files import ready_folder


def run_simulate(options: argparse.Namespace) -> int:
    """Play a script and film it, with its truth. Raises DolcezzaError for bad input."""
    script = read_script(options.script)
    name = options.script.stem
    ready_folder(options.out)
    show = not options.quiet and sys.stderr.isatty()
    for progress in film(script, options.out, name):
        if show:
            print(f"\r{progress.done} of {progress.total} pictures   ", end="", file=sys.stderr, flush=True)
    if show:
        print("\r" + " " * 40 + "\r", end="", file=sys.stderr)
    bows = sum(not b.rest for b in script.bows)
    print(f"{bows} bows, {script.seconds:.1f} s: {options.out / name}.mp4, with .fit.json, .truth.npz and .truth.json beside it")
    return 0
