"""Film the demo studio's own takes from their scripts:  python tools/demo_takes.py [NAME ...]

Every ``examples/scripts/demo/NAME.toml`` becomes ``src/dolcezza/demo_data/NAME.mp4`` with its fit file. Truth is left out: it is for tests,
which film for themselves.
"""

from __future__ import annotations

import shutil
import sys
import tempfile
from pathlib import Path

from dolcezza.core.base.job import finish
from dolcezza.simulator.film import film
from dolcezza.simulator.script import read_script

ROOT = Path(__file__).parents[1]
SCRIPTS = ROOT / "examples" / "scripts" / "demo"
OUT = ROOT / "src" / "dolcezza" / "demo_data"


def main(names: list[str]) -> None:
    """Film all, or those that are named."""
    for path in sorted(SCRIPTS.glob("*.toml")):
        if names and path.stem not in names:
            continue
        with tempfile.TemporaryDirectory() as place:
            made = finish(film(read_script(path), Path(place), path.stem))
            for file in (made, made.with_suffix(".fit.json")):
                shutil.copy(file, OUT / file.name)
        print(f"{path.stem}: {(OUT / made.name).stat().st_size / 1024:.0f} kB", flush=True)


if __name__ == "__main__":
    main(sys.argv[1:])
