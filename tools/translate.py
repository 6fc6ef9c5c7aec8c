"""Collect the desk's words and make the files the program reads:  python tools/translate.py

Qt's ``lupdate`` writes new words into src/dolcezza/app/theme/words/*.ts, where they are translated (by hand, or with Qt's own program
for it); Qt's ``lrelease`` makes the .qm files beside them. What is not translated is shown in English.
"""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parent.parent
APP = ROOT / "src" / "dolcezza" / "app"
WORDS = APP / "theme" / "words"


def tool(name: str) -> str:
    """Path of one of Qt's tools as the PySide6 package ships them."""
    return str(Path(sys.executable).parent / f"pyside6-{name}")


def collect(language: str) -> None:
    """Write the words of the code into a language's .ts file; translations that are there stay."""
    sources = [str(p.relative_to(ROOT)) for p in sorted(APP.rglob("*.py"))]
    target = WORDS / f"dolcezza_{language}.ts"
    arguments = ["-tr-function-alias", "QT_TR_NOOP+=mark", "-locations", "none", "-no-obsolete", "-source-language", "en"]
    subprocess.run(
        [tool("lupdate"), *arguments, "-target-language", language, *sources, "-ts", str(target)], check=True, cwd=ROOT, capture_output=True
    )


def release(language: str) -> Path:
    """Make the file that the program reads."""
    target = WORDS / f"dolcezza_{language}.qm"
    subprocess.run(
        [tool("lrelease"), str(WORDS / f"dolcezza_{language}.ts"), "-qm", str(target)], check=True, cwd=ROOT, capture_output=True
    )
    return target


def main() -> None:
    """All languages there are."""
    WORDS.mkdir(exist_ok=True)
    for language in ("de",):
        collect(language)
        print(release(language))


if __name__ == "__main__":
    main()
