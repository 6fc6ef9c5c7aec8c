"""A student's own sheet: name, bow hand, profile, weekly lesson, note, and the instrument with what a ruler said of it."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

from PySide6.QtWidgets import (
    QCheckBox,
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from dolcezza.app.dialogs.kept_window import KeptWindow
from dolcezza.app.theme.words import fault_words, mark, tr
from dolcezza.app.widgets.parts import HANDS, ask, choice, faint, label
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.findings.profiles import default_profile
from dolcezza.core.instrument.catalog import CATALOG, instrument
from dolcezza.core.practice.lessons import WEEKDAYS
from dolcezza.services.studio import Studio
from dolcezza.storage.records import Student

RULED = (
    ("string_length", mark("String length, nut to bridge")),
    ("bridge_to_fingerboard", mark("Bridge to the end of the fingerboard")),
    ("hair_length", mark("Hair of the bow, ferrule to head")),
    ("spread_bridge", mark("Outer strings apart at the bridge")),
    ("spread_nut", mark("Outer strings apart at the nut")),
)
NO_LESSON = mark("no weekly lesson")
NOT_BORN = 1919
"""One before the earliest year that can be said."""


class StudentDialog(QDialog):
    """``kept`` is the student as it was stored when the sheet was closed with Keep; None while it is open or given up. ``removed``: the
    student is to be removed, ``with_videos`` with the video files."""

    def __init__(self, studio: Studio, student: Student, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self.setWindowTitle(student.name)
        self.setMinimumWidth(560)
        self._studio, self._student = studio, student
        self.kept: Student | None = None
        self.removed = self.with_videos = False
        box = QVBoxLayout(self)
        box.setContentsMargins(22, 18, 22, 16)
        box.setSizeConstraint(QVBoxLayout.SizeConstraint.SetMinimumSize)
        box.setSpacing(9)
        form = QFormLayout()
        form.setHorizontalSpacing(18)
        self.name = QLineEdit(student.name)
        self.handed = choice(tr("Bow hand"), [tr(h) for h in HANDS])
        self.handed.setCurrentIndex(1 if student.handed == "left" else 0)
        self.instrument = choice(tr("Instrument and size"), list(CATALOG))
        owned = studio.store.instruments(student.id)
        self._owned = owned[-1] if owned else None
        if self._owned is not None:
            self.instrument.setCurrentText(self._owned.name)
        self.profile = choice(tr("Profile"), [])
        self.day = choice(tr("Day of the weekly lesson"), [tr(NO_LESSON), *(tr(day) for day in WEEKDAYS)])
        self.day.setCurrentIndex(student.lesson_day + 1)
        self.time = QLineEdit(student.lesson_time)
        self.time.setPlaceholderText("16:30")
        self.time.setFixedWidth(90)
        lesson = QHBoxLayout()
        lesson.addWidget(self.day, 1)
        lesson.addWidget(self.time)
        self.born = QSpinBox()
        self.born.setRange(NOT_BORN, date.today().year)
        self.born.setValue(student.born or NOT_BORN)
        self.born.setSpecialValueText(tr("not said"))
        self.mobile = QCheckBox(tr("very mobile joints: half the dose for the thumb"))
        self.mobile.setChecked(student.mobile_joints)
        self.pain = QCheckBox(tr("was in pain: hard drills wait"))
        self.pain.setChecked(student.had_pain)
        self.note = QPlainTextEdit(student.note)
        self.note.setFixedHeight(78)
        for words, field in ((tr("Name"), self.name), (tr("Bow hand"), self.handed), (tr("Profile"), self.profile)):
            form.addRow(words, field)
            field.setAccessibleName(words)
        form.addRow(tr("Weekly lesson"), lesson)
        self.time.setAccessibleName(tr("Time of the weekly lesson"))
        self.note.setAccessibleName(tr("Note"))
        form.addRow(tr("Instrument"), self.instrument)
        form.addRow(tr("Born in"), self.born)
        self.born.setAccessibleName(tr("Year of birth"))
        form.addRow("", self.mobile)
        form.addRow("", self.pain)
        box.addLayout(form)
        box.addWidget(label(tr("Note")))
        box.addWidget(self.note)
        box.addWidget(label(tr("Measured with a ruler"), "heading"))
        box.addWidget(faint(tr("In millimetres; leave empty what the table of sizes is right about. It counts for new takes.")))
        self._rulers = QFormLayout()
        self._rulers.setHorizontalSpacing(18)
        self.ruled: dict[str, QLineEdit] = {}
        for key, said in RULED:
            words = tr(said)
            edit = QLineEdit()
            edit.setFixedWidth(110)
            edit.setAccessibleName(tr("{0}, mm").format(words))
            self.ruled[key] = edit
            self._rulers.addRow(words, edit)
        box.addLayout(self._rulers)
        self.problem = label("", "problem")
        box.addWidget(self.problem)
        row = QHBoxLayout()
        self.remove = QPushButton(tr("Remove this student…"))
        self.remove.clicked.connect(self._remove)
        self.kept_button = QPushButton(tr("What is kept…"))
        self.kept_button.setToolTip(tr("Everything that is kept of this student and where; what was agreed"))
        self.kept_button.clicked.connect(self._show_kept)
        row.addWidget(self.remove)
        row.addWidget(self.kept_button)
        self.buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        self.keep = self.buttons.addButton(tr("Keep"), QDialogButtonBox.ButtonRole.AcceptRole)
        self.buttons.accepted.connect(self._keep)
        self.buttons.rejected.connect(self.reject)
        row.addWidget(self.buttons)
        box.addLayout(row)
        self.instrument.currentTextChanged.connect(self._fill)
        self._fill(self.instrument.currentText())

    def _fill(self, name: str) -> None:
        spec = instrument(name)
        ruled = self._owned.measured if self._owned is not None and self._owned.name == name else {}
        for key, edit in self.ruled.items():
            edit.setPlaceholderText(f"{getattr(spec, key):g}")
            edit.setText(f"{ruled[key]:g}" if key in ruled else "")
        self.profile.clear()
        self.profile.addItems([p.name for p in self._studio.shelf.all().values() if spec.family in p.families])
        own = self._student.profile
        self.profile.setCurrentText(own if self.profile.findText(own) >= 0 else default_profile(spec).name)

    def _keep(self) -> None:
        changed = replace(
            self._student, name=self.name.text(), handed="left" if self.handed.currentIndex() else "right",
            profile=self.profile.currentText() or self._student.profile, note=self.note.toPlainText().strip(),
            lesson_day=self.day.currentIndex() - 1, lesson_time=self.time.text().strip() if self.day.currentIndex() else "",
            born=self.born.value() if self.born.value() > NOT_BORN else 0, mobile_joints=self.mobile.isChecked(),
            had_pain=self.pain.isChecked(),
        )  # fmt: skip
        try:
            measured = {key: _millimetres(edit.text()) for key, edit in self.ruled.items() if edit.text().strip()}
            self.kept = self._studio.change_student(changed, self.instrument.currentText(), measured)
        except DolcezzaError as error:
            self.problem.setText(fault_words(error))
            return
        self.accept()

    def _show_kept(self) -> None:
        window = KeptWindow(self._studio, self._student, self)
        ask(window)
        if window.removed:
            self.with_videos = window.with_videos
            self._remove()

    def _remove(self) -> None:
        self.removed = True
        self.accept()


def _millimetres(text: str) -> float:
    try:
        return float(text.strip().replace(",", "."))
    except ValueError:
        raise DolcezzaError(tr("'{0}' is not a number of millimetres.").format(text.strip()), tr("Write it like 328.5.")) from None
