"""The desk's words in the language that is set. English is in the code; other languages are Qt's own translation files beside this one.

``tools/translate.py`` collects the words with Qt's ``lupdate`` and makes the files the program reads with ``lrelease``.
"""

from __future__ import annotations

from importlib import resources

from PySide6.QtCore import QCoreApplication, QLibraryInfo, QTranslator

CONTEXT = ""
"""All words are in one context: the same English word has one translation."""


def tr(text: str) -> str:
    """Words of the desk in the language that is set, English where there is no translation. ``{0}`` and the like are filled in by the
    caller."""
    return QCoreApplication.translate(CONTEXT, text) if text else text


def mark(text: str) -> str:
    """Words in a table that are translated when they are shown: says only that they are to be collected."""
    return text


def speak(app: QCoreApplication, language: str) -> bool:
    """Load a language for the whole program; False where there is none (English needs none)."""
    for old in app.findChildren(QTranslator):
        app.removeTranslator(old)
        old.setParent(None)
    if language == "en":
        return True
    own = QTranslator(app)
    if own.load(f"qtbase_{language}", QLibraryInfo.path(QLibraryInfo.LibraryPath.TranslationsPath)):
        app.installTranslator(own)  # Qt's own words: Cancel, file dialogs
    translator = QTranslator(app)
    data = resources.files("dolcezza.app.theme") / "words" / f"dolcezza_{language}.qm"
    if not data.is_file() or not translator.load(str(data)):
        return False
    return bool(app.installTranslator(translator))
