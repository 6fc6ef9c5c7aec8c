"""Put Dolcezza into the desktop's menus for this user, or take it out:  python tools/desktop_files.py [--remove]

Writes the desktop entry, the icon and the AppStream metadata into the XDG data place; nothing needs root.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

ID = "app.dolcezza.Dolcezza"
PACKAGING = Path(__file__).parent.parent / "packaging"
PLACES = {
    f"{ID}.desktop": "applications", f"{ID}.metainfo.xml": "metainfo", f"{ID}.svg": "icons/hicolor/scalable/apps",
}  # fmt: skip


def data_home() -> Path:
    """The XDG data place of this user."""
    return Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share")


def command() -> str:
    """What starts this installation, quoted as the desktop entry specification asks."""
    program = Path(sys.executable).parent / "dolcezza"
    quoted = str(program).replace("\\", "\\\\").replace('"', '\\"').replace("`", "\\`").replace("$", "\\$")
    return f'"{quoted}"'


def install() -> list[Path]:
    """Write the three files and return where they are."""
    written = []
    for name, place in PLACES.items():
        target = data_home() / place / name
        target.parent.mkdir(parents=True, exist_ok=True)
        text = (PACKAGING / name).read_text(encoding="utf-8")
        target.write_text(text.replace("Exec=dolcezza ", f"Exec={command()} "), encoding="utf-8")
        written.append(target)
    refresh()
    return written


def remove() -> None:
    """Take the three files away."""
    for name, place in PLACES.items():
        (data_home() / place / name).unlink(missing_ok=True)
    refresh()


def refresh() -> None:
    """Let the desktop know, where it has a program for that."""
    program = shutil.which("update-desktop-database")
    if program is not None:
        subprocess.run([program, str(data_home() / "applications")], check=False, capture_output=True)


def main() -> None:
    """Install or remove, and say so."""
    if "--remove" in sys.argv[1:]:
        remove()
        print("Dolcezza is no longer in the desktop's menus.")
        return
    for path in install():
        print(path)
    print('Dolcezza is in the desktop\'s menus, and among the programs that open videos. "./run install --remove" takes it out.')


if __name__ == "__main__":
    main()
