"""Whose archive is to be written, and whether the videos go with it."""

from __future__ import annotations

from PySide6.QtWidgets import QCheckBox, QComboBox, QDialog, QDialogButtonBox, QFormLayout, QVBoxLayout, QWidget

from dolcezza.app.theme.words import tr
from dolcezza.app.widgets.parts import faint
from dolcezza.storage.records import Student


class ArchiveDialog(QDialog):
    """``student``: who was chosen, None = everybody."""

    def __init__(self, students: list[Student], shown: Student | None, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self.setWindowTitle(tr("Write an archive"))
        self.setMinimumWidth(460)
        box = QVBoxLayout(self)
        form = QFormLayout()
        self.who = QComboBox()
        self.who.addItem(tr("the whole studio"), None)
        for one in students:
            self.who.addItem(one.name, one)
        self.who.setAccessibleName(tr("Whose"))
        if shown is not None:
            self.who.setCurrentText(shown.name)
        form.addRow(tr("Whose"), self.who)
        box.addLayout(form)
        self.videos = QCheckBox(tr("the videos and pictures too (faces are to be seen)"))
        box.addWidget(self.videos)
        why = tr("One file with everything measured, said and planned. Taken in again here or on another machine, all of it is there.")
        box.addWidget(faint(why))
        self.buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        self.write_button = self.buttons.addButton(tr("Choose the file…"), QDialogButtonBox.ButtonRole.AcceptRole)
        self.buttons.accepted.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        box.addWidget(self.buttons)

    @property
    def student(self) -> Student | None:
        """Who was chosen; None = everybody."""
        chosen = self.who.currentData()
        return chosen if isinstance(chosen, Student) else None
