"""Preferences: theme, language, size, sound."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PySide6.QtWidgets import QCheckBox, QDialog, QDialogButtonBox, QFormLayout, QVBoxLayout, QWidget

from dolcezza.app.theme.words import mark, tr
from dolcezza.app.widgets.parts import choice, faint
from dolcezza.services.settings import LANGUAGES, SIZES, THEMES, Settings

NAMES = {"light": mark("light"), "dark": mark("dark"), "en": "English", "de": "Deutsch"}


class Preferences(QDialog):
    """``chosen`` are the settings as they stand in the dialog."""

    def __init__(self, settings: Settings, studio: Path, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self.setWindowTitle(tr("Preferences"))
        self.setMinimumWidth(480)
        self._settings = settings
        box = QVBoxLayout(self)
        box.setContentsMargins(22, 18, 22, 16)
        box.setSpacing(10)
        form = QFormLayout()
        form.setHorizontalSpacing(18)
        self.theme = choice(tr("Theme"), [tr(NAMES[t]) for t in THEMES])
        self.theme.setCurrentIndex(THEMES.index(settings.theme))
        self.language = choice(tr("Language"), [NAMES[t] for t in LANGUAGES])
        self.language.setCurrentIndex(LANGUAGES.index(settings.language))
        self.scale = choice(tr("Size of letters and controls"), [f"{s} %" for s in SIZES])
        self.scale.setCurrentIndex(SIZES.index(settings.size))
        self.quiet = QCheckBox(tr("Start with the sound off"))
        self.quiet.setChecked(settings.quiet)
        for words, field in ((tr("Theme"), self.theme), (tr("Language"), self.language), (tr("Size of letters and controls"), self.scale)):
            form.addRow(words, field)
        form.addRow("", self.quiet)
        box.addLayout(form)
        box.addWidget(faint(tr("Language and size count from the next start on.")))
        # a path may be broken after each of its parts
        place = str(studio).replace("/", "/\u200b")
        box.addWidget(faint(tr("The studio lies in {0}. Videos stay where they are; nothing leaves this machine.").format(place)))
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        self.keep = buttons.addButton(tr("Keep"), QDialogButtonBox.ButtonRole.AcceptRole)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        box.addWidget(buttons)

    @property
    def chosen(self) -> Settings:
        """What stands in the dialog."""
        return replace(
            self._settings, theme=THEMES[self.theme.currentIndex()], language=LANGUAGES[self.language.currentIndex()],
            size=SIZES[self.scale.currentIndex()], quiet=self.quiet.isChecked(),
        )  # fmt: skip
