"""Whose archive is to be written, and whether the videos go with it."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QCheckBox, QComboBox, QDialog, QDialogButtonBox, QFormLayout, QVBoxLayout, QWidget

from dolcezza.app.theme.words import tr
from dolcezza.app.widgets.parts import faint
from dolcezza.storage.records import Student


class ArchiveDialog(QDialog):
    """``student``: who was chosen, None = everybody. ``not_agreed``: students whose pictures may not be handed on; of a whole studio their
    videos stay out unless it is said that the file stays with the teacher."""

    def __init__(
        self, students: list[Student], shown: Student | None, parent: QWidget | None = None, *, not_agreed: Sequence[Student] = ()
    ) -> None:
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
        self._not_agreed = tuple(not_agreed)
        self.stays = QCheckBox(tr("also of those who have not agreed to pictures: this file stays with me"))
        names = ", ".join(s.name for s in self._not_agreed)
        self.left_out = faint(tr("Not agreed, so their videos stay out: {0}").format(names))
        box.addWidget(self.left_out)
        box.addWidget(self.stays)
        for changed in (self.who.currentIndexChanged, self.videos.toggled, self.stays.toggled):
            changed.connect(self._refresh)
        why = tr("One file with everything measured, said and planned. Taken in again here or on another machine, all of it is there.")
        box.addWidget(faint(why))
        self.buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        self.write_button = self.buttons.addButton(tr("Choose the file…"), QDialogButtonBox.ButtonRole.AcceptRole)
        self.buttons.accepted.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        box.addWidget(self.buttons)

        self._refresh()

    def _refresh(self, *_: object) -> None:
        asked = self.student is None and self.videos.isChecked() and bool(self._not_agreed)
        self.stays.setVisible(asked)
        self.left_out.setVisible(asked and not self.stays.isChecked())

    @property
    def without_videos(self) -> set[int]:
        """Students whose videos and pictures stay out."""
        return set() if self.student is not None or self.stays.isChecked() else {s.id for s in self._not_agreed}

    @property
    def student(self) -> Student | None:
        """Who was chosen; None = everybody."""
        chosen = self.who.currentData()
        return chosen if isinstance(chosen, Student) else None
