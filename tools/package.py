"""Build the wheel and, from Debian's own tools, a .deb that needs no network to install:  python tools/package.py [--out DIR]

The package holds the program and what it needs as wheels, and the models for arm and hand. Installing it makes an environment in
/opt/dolcezza with the system's Python; removing it takes that away. A studio, which lies in its user's home, stays.
"""

from __future__ import annotations

import argparse
import shutil
import subprocess
import sys
import tomllib
from pathlib import Path

from desktop_files import PACKAGING, PLACES
from missing_libraries import ALWAYS, WITH_A_DISPLAY

ROOT = Path(__file__).parents[1]
PLACE = "/opt/dolcezza"
WHEELS, MODELS = "usr/share/dolcezza/wheels", "usr/share/dolcezza/models"
START = f'#!/bin/sh\nexec {PLACE}/bin/python -m dolcezza "$@"\n'
AFTER = f"""#!/bin/sh
set -e
if [ "$1" = configure ]; then
  rm -rf {PLACE}
  python3 -m venv {PLACE}
  {PLACE}/bin/python -m pip --isolated install --quiet --disable-pip-version-check --no-index --find-links=/{WHEELS} dolcezza
  command -v update-desktop-database >/dev/null && update-desktop-database -q /usr/share/applications || true
fi
"""
BEFORE_REMOVAL = f"""#!/bin/sh
set -e
if [ "$1" = remove ] || [ "$1" = deconfigure ]; then rm -rf {PLACE}; fi
"""


def version() -> str:
    """The program's version."""
    return str(tomllib.loads((ROOT / "pyproject.toml").read_text(encoding="utf-8"))["project"]["version"])


def control(architecture: str, python: tuple[int, int], size_kb: int) -> str:
    """The control file of the .deb; its wheels are for one ``python``."""
    needs = [f"python3 (>= {python[0]}.{python[1]})", f"python3 (<< {python[0]}.{python[1] + 1})", "python3-venv"]
    needs += [*ALWAYS.values(), *WITH_A_DISPLAY.values()]
    return (
        f"Package: dolcezza\nVersion: {version()}\nArchitecture: {architecture}\nMaintainer: The founding engineers of Dolcezza\n"
        f"Installed-Size: {size_kb}\nSection: education\nPriority: optional\nDepends: {', '.join(needs)}\n"
        "Description: measures a string player's bowing from a phone video\n"
        " Bow angle, contact point, elbow level and use of the bow, stroke by stroke, each with\n"
        " its uncertainty; corrections, drills, a practice plan and a record. Nothing leaves the\n"
        " machine.\n"
    )


def lay_out(tree: Path, wheels: list[Path], models: list[Path], *, architecture: str, python: tuple[int, int]) -> None:
    """Put everything where the package wants it below ``tree``."""

    def put(name: str, text: str, mode: int) -> None:
        (tree / name).parent.mkdir(parents=True, exist_ok=True)
        (tree / name).write_text(text, encoding="utf-8")
        (tree / name).chmod(mode)

    for place, files in ((WHEELS, wheels), (MODELS, models)):
        (tree / place).mkdir(parents=True, exist_ok=True)
        for file in files:
            shutil.copyfile(file, tree / place / file.name)
            (tree / place / file.name).chmod(0o644)
    for name, place in PLACES.items():
        put(f"usr/share/{place}/{name}", (PACKAGING / name).read_text(encoding="utf-8"), 0o644)
    put("usr/share/doc/dolcezza/copyright", (ROOT / "LICENSE").read_text(encoding="utf-8"), 0o644)
    put("usr/bin/dolcezza", START, 0o755)
    size = sum(f.stat().st_size for f in tree.rglob("*") if f.is_file()) // 1024
    put("DEBIAN/control", control(architecture, python, size), 0o644)
    put("DEBIAN/postinst", AFTER, 0o755)
    put("DEBIAN/prerm", BEFORE_REMOVAL, 0o755)


def run(*command: str | Path) -> str:
    """Run a command; what it says, or an end with it."""
    done = subprocess.run([str(c) for c in command], capture_output=True, text=True, check=False)
    if done.returncode:
        sys.exit(f"{command[0]} failed: {(done.stderr or done.stdout).strip()[-400:]}")
    return done.stdout.strip()


def main() -> None:
    """Build both and say where they are."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--out", type=Path, default=ROOT / "build" / "package")
    out: Path = options.parse_args().out
    if shutil.which("dpkg-deb") is None:
        sys.exit("dpkg-deb is missing: a .deb is built on Debian or one of its relatives.")
    from dolcezza.core.models.nets import FILES
    from dolcezza.services.model_files import model_folder

    shutil.rmtree(out, ignore_errors=True)
    wheels, tree = out / "wheels", out / "tree"
    wheels.mkdir(parents=True)
    pip = [sys.executable, "-m", "pip", "--quiet", "--disable-pip-version-check"]
    run(*pip, "wheel", "--no-deps", "--no-build-isolation", "--wheel-dir", out, ROOT)
    run(*pip, "download", "--only-binary=:all:", "--require-hashes", "-r", ROOT / "requirements" / "app.txt", "--dest", wheels)
    [own] = out.glob("dolcezza-*.whl")
    architecture = run("dpkg", "--print-architecture")
    models = [model_folder() / name for name in FILES.values()]
    lay_out(tree, [own, *wheels.glob("*.whl")], models, architecture=architecture, python=(sys.version_info[0], sys.version_info[1]))
    deb = out / f"dolcezza_{version()}_{architecture}.deb"
    run("dpkg-deb", "--build", "--root-owner-group", "-Znone", tree, deb)
    shutil.rmtree(tree)
    shutil.rmtree(wheels)
    print(own, deb, sep="\n")


if __name__ == "__main__":
    main()
