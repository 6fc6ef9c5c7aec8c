"""How long the desk and the command take to begin, as a ratio to importing Qt's widgets alone:  python benchmarks/startup.py

Times of single runs are noisy; each is the best of several. The desk is opened on an empty studio
without a display, and timed until it is there.
"""

from __future__ import annotations

import os
import subprocess
import sys
import time

RUNS = 5
DESK = """
import pathlib, tempfile
from dolcezza.app.main import MainWindow, SettingsFile, Studio, make_app
folder = pathlib.Path(tempfile.mkdtemp())
app = make_app(["dolcezza"])
window = MainWindow(Studio(folder / "studio"), SettingsFile(folder / "settings.json"))
window.show()
app.processEvents()
import os
os._exit(0)
"""
WHAT = {
    "Qt's widgets alone": "import PySide6.QtWidgets",
    "window of the desk": DESK,
    "command, before it begins": "import dolcezza.cli.main, dolcezza.cli.analyse",
    "the measuring's own modules": "import dolcezza.core.pipeline.measure",
}


def best(code: str) -> float:
    """Seconds of the quickest of several runs in a fresh process."""
    times = []
    for _ in range(RUNS):
        begin = time.perf_counter()
        subprocess.run([sys.executable, "-c", code], check=True, env={**os.environ, "QT_QPA_PLATFORM": "offscreen"})
        times.append(time.perf_counter() - begin)
    return min(times)


def main() -> None:
    """Print seconds and ratios."""
    bare = best("pass")
    taken = {name: best(code) - bare for name, code in WHAT.items()}
    qt = taken["Qt's widgets alone"]
    for name, seconds in taken.items():
        print(f"{name:28} {seconds:5.2f} s  {seconds / qt:5.1f} x")


if __name__ == "__main__":
    main()
