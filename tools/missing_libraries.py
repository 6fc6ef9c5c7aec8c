"""Prints the Debian packages of system libraries that cannot be loaded here; needs nothing but Python itself.

    python tools/missing_libraries.py [--display]

Tried by loading, not by asking for a file's name: what loads is there. ``--display``: also those a window on a screen needs.
"""

from __future__ import annotations

import ctypes
import importlib
import sys

ALWAYS = {
    "libEGL.so.1": "libegl1",
    "libGL.so.1": "libgl1",
    "libxkbcommon.so.0": "libxkbcommon0",
    "libdbus-1.so.3": "libdbus-1-3",
    "libfontconfig.so.1": "libfontconfig1",
    "libglib-2.0.so.0": "libglib2.0-0",
}
WITH_A_DISPLAY = {
    "libxcb-cursor.so.0": "libxcb-cursor0",
    "libxkbcommon-x11.so.0": "libxkbcommon-x11-0",
    "libxcb-icccm.so.4": "libxcb-icccm4",
    "libxcb-keysyms.so.1": "libxcb-keysyms1",
    "libxcb-shape.so.0": "libxcb-shape0",
    "libxcb-image.so.0": "libxcb-image0",
    "libxcb-render-util.so.0": "libxcb-render-util0",
    "libxcb-xinerama.so.0": "libxcb-xinerama0",
}


def missing(libraries: dict[str, str]) -> list[str]:
    """Packages of those ``libraries`` (file name: package) that cannot be loaded."""
    out = []
    for name, package in libraries.items():
        try:
            ctypes.CDLL(name)
        except OSError:
            out.append(package)
    return out


def modules_missing(names: tuple[str, ...] = ("ensurepip", "venv")) -> list[str]:
    """Debian splits what makes environments off from Python: its package, where it is not there."""
    try:
        for name in names:
            importlib.import_module(name)
    except ImportError:
        return ["python3-venv"]
    return []


if __name__ == "__main__":
    print(*(missing(WITH_A_DISPLAY) if "--display" in sys.argv else modules_missing() + missing(ALWAYS)))
