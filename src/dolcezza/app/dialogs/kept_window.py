"""What is kept of a student and where, to be shown to a parent; what was agreed; and the way to remove all of it."""

from __future__ import annotations

from datetime import date

from PySide6.QtCore import QDate
from PySide6.QtWidgets import QCheckBox, QDateEdit, QDialog, QFormLayout, QFrame, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from dolcezza.app.theme.words import day_words, fault_words, mark, tr
from dolcezza.app.widgets.parts import empty, faint, label, scroll_column
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.services.studio import Studio
from dolcezza.storage.records import Consent, Student

WHAT = {
    "takes": mark("videos noted"), "plans": mark("practice plans"), "log": mark("entries of the log"), "answers": mark("answers"),
    "pictures of the hand": mark("pictures of the hand noted"), "consents": mark("agreements"), "measurements": mark("measurements"),
    "copies of the database": mark("copies of the database, a week of them"), "video": mark("video"), "sheet": mark("sheet"),
    "report": mark("report"), "annotations": mark("annotations"), "calendar": mark("calendar"),
    "archive": mark("archive"), "archive of the studio": mark("archive of the whole studio: it stays when this student is removed"),
    "video for the student": mark("video for the student"),
}  # fmt: skip
KIB = 1024


def size_words(size: int) -> str:
    """A file's size as one says it."""
    return tr("{0:.1f} MB").format(size / KIB**2) if size >= KIB**2 else tr("{0:.0f} kB").format(size / KIB)


class KeptWindow(QDialog):
    """``removed``: everything of the student is to be removed, with ``with_videos`` the videos too."""

    def __init__(self, studio: Studio, student: Student, parent: QWidget | None = None, *, why: str = "") -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self.setWindowTitle(tr("What is kept of {0}").format(student.name))
        self.resize(860, 640)
        self._studio, self._student = studio, student
        self.removed = self.with_videos = False
        box = QVBoxLayout(self)
        box.setContentsMargins(22, 16, 22, 14)
        if why:
            box.addWidget(label(why, "problem"))
        box.addWidget(label(tr("What was agreed"), "heading"))
        box.addWidget(self._make_consent())
        box.addWidget(label(tr("What is kept, and where"), "heading"))
        area, self._list = scroll_column()
        self._list.setSpacing(3)
        box.addWidget(area, 1)
        row = QHBoxLayout()
        self.videos = QCheckBox(tr("the video files too"))
        self.remove_button = QPushButton(tr("Remove everything…"))
        self.remove_button.clicked.connect(self._remove)
        self.close_button = QPushButton(tr("Close"))
        self.close_button.clicked.connect(self.accept)
        row.addWidget(self.remove_button)
        row.addWidget(self.videos)
        row.addStretch(1)
        row.addWidget(self.close_button)
        box.addLayout(row)
        self.reload()

    def _make_consent(self) -> QFrame:
        frame = QFrame()
        frame.setObjectName("card")
        outer = QVBoxLayout(frame)
        form = QFormLayout()
        self.guardian = QLineEdit()
        self.guardian.setPlaceholderText(tr("who agreed: a guardian, or the grown-up student"))
        self.on = QDateEdit(QDate.currentDate())
        self.until = QDateEdit(QDate.currentDate().addYears(1))
        for field, words in ((self.on, tr("Agreed on")), (self.until, tr("Kept until"))):
            field.setCalendarPopup(True)
            field.setDisplayFormat("d MMM yyyy")
            field.setAccessibleName(words)
        self.endless = QCheckBox(tr("no end agreed"))
        self.endless.toggled.connect(lambda on: self.until.setEnabled(not on))
        until = QHBoxLayout()
        until.addWidget(self.until)
        until.addWidget(self.endless)
        until.addStretch(1)
        self.measuring = QCheckBox(tr("videos are measured here"))
        self.pictures = QCheckBox(tr("pictures may be on paper and in videos (faces hidden)"))
        self.sharing = QCheckBox(tr("what is written may be handed on"))
        self.initials = QCheckBox(tr("what is written says the initials, not the name"))
        self.guardian.setAccessibleName(tr("Who agreed"))
        form.addRow(tr("Who agreed"), self.guardian)
        form.addRow(tr("Agreed on"), self.on)
        form.addRow(tr("Kept until"), until)
        outer.addLayout(form)
        for check in (self.measuring, self.pictures, self.sharing, self.initials):
            outer.addWidget(check)
        row = QHBoxLayout()
        self.keep_button = QPushButton(tr("Keep"))
        self.keep_button.clicked.connect(self._agree)
        self.problem = label("", "problem")
        row.addWidget(self.keep_button)
        row.addWidget(self.problem, 1)
        outer.addLayout(row)
        now = self._studio.keeping.agreed(self._student.id)
        if now is not None:
            self.guardian.setText(now.guardian)
            self.on.setDate(QDate(now.agreed_on.year, now.agreed_on.month, now.agreed_on.day))
            self.endless.setChecked(now.until is None)
            if now.until is not None:
                self.until.setDate(QDate(now.until.year, now.until.month, now.until.day))
        self.measuring.setChecked(now.measuring if now is not None else True)
        self.pictures.setChecked(now.pictures if now is not None else False)
        self.sharing.setChecked(now.sharing if now is not None else False)
        self.initials.setChecked(now.initials if now is not None else False)
        return frame

    def reload(self) -> None:
        """Read anew what is kept."""
        empty(self._list)
        for kept in self._studio.keeping.kept(self._student.id):
            size = f", {size_words(kept.size)}" if kept.size else ""
            self._list.addWidget(label(f"{kept.count} × {tr(WHAT.get(kept.what, kept.what))}{size}"))
            self._list.addWidget(faint(str(kept.where)))
        now = self._studio.keeping.agreed(self._student.id)
        if now is not None and now.until is not None and now.until < date.today():
            self._list.addWidget(label(tr("Kept longer than agreed: until {0}.").format(day_words(now.until)), "problem"))
        self._list.addWidget(faint(tr("The list of recent files and the places of file dialogs name files, never students.")))
        self._list.addStretch(1)

    def _agree(self) -> None:
        consent = Consent(
            self._student.id, self.guardian.text().strip(), _day(self.on), self.measuring.isChecked(), self.pictures.isChecked(),
            self.sharing.isChecked(), None if self.endless.isChecked() else _day(self.until), initials=self.initials.isChecked(),
        )  # fmt: skip
        try:
            self._studio.keeping.agree(consent)
        except DolcezzaError as error:
            self.problem.setText(fault_words(error))
            return
        self.problem.setText("")
        self.reload()
        self.accept()

    def _remove(self) -> None:
        self.removed, self.with_videos = True, self.videos.isChecked()
        self.accept()


def _day(field: QDateEdit) -> date:
    day = field.date()
    return date(day.year(), day.month(), day.day())
