"""The desk's words in the language that is set. English is in the code; other languages are Qt's own translation files beside this one.

``tools/translate.py`` collects the words with Qt's ``lupdate`` and makes the files the program reads with ``lrelease``.
"""

from __future__ import annotations

from datetime import date
from importlib import resources

from PySide6.QtCore import QCoreApplication, QLibraryInfo, QLocale, QTranslator

from dolcezza.reports.faults import fault_in_words
from dolcezza.reports.language import Language, language

_set = ["en"]
LOCALES = {
    "en": QLocale(QLocale.Language.English, QLocale.Country.UnitedKingdom),
    "de": QLocale(QLocale.Language.German, QLocale.Country.Germany),
}
CONTEXT = ""
"""All words are in one context: the same English word has one translation."""


class Words(str):
    """Words whose ``format`` writes numbers and dates the way the language that is set does."""

    def format(self, *values: object, **named: object) -> str:
        return spoken().vformat(self, values, named)


def tr(text: str) -> Words:
    """Words of the desk in the language that is set, English where there is no translation. ``{0}`` and the like are filled in by the
    caller."""
    return Words(QCoreApplication.translate(CONTEXT, text) if text else text)


def spoken() -> Language:
    """The language that is set: sentences of findings, figures and dates in words."""
    return language(_set[0])


def fault_words(error: BaseException) -> str:
    """What went wrong and what to do, in the language that is set."""
    return fault_in_words(error, _set[0])


def show(quantity: str, value: float | None, sd: float | None = None) -> str:
    """A measured figure with its unit and ±, in the language that is set."""
    return spoken().show(quantity, value, sd)


def day_words(day: date, form: str = "%d %B %Y") -> str:
    """A date in the language that is set; ``form`` as in ``reports.language.DAYS``."""
    return spoken().day(day, form)


def mark(text: str) -> str:
    """Words in a table that are translated when they are shown: says only that they are to be collected."""
    return text


def speak(app: QCoreApplication, code: str) -> bool:
    """Load a language for the whole program; False where there is none (English needs none)."""
    for old in app.findChildren(QTranslator):
        app.removeTranslator(old)
        old.setParent(None)
    _set[0] = code
    # dates and numbers in fields are written like those in sentences
    QLocale.setDefault(LOCALES.get(code, LOCALES["en"]))
    if code == "en":
        return True
    own = QTranslator(app)
    if own.load(f"qtbase_{code}", QLibraryInfo.path(QLibraryInfo.LibraryPath.TranslationsPath)):
        app.installTranslator(own)  # Qt's own words: Cancel, file dialogs
    translator = QTranslator(app)
    data = resources.files("dolcezza.app.theme") / "words" / f"dolcezza_{code}.qm"
    if not data.is_file() or not translator.load(str(data)):
        return False
    return bool(app.installTranslator(translator))
