"""Who plays: students on the left, the chosen one's takes on the right, and the way to a new take."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QDragEnterEvent, QDropEvent
from PySide6.QtWidgets import (
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from dolcezza.app.models.selection import Selection
from dolcezza.app.theme.words import day_words, mark, spoken, tr
from dolcezza.app.widgets.parts import HANDS, Row, choice, dragged_files, empty, faint, label, scroll_column
from dolcezza.app.widgets.student_list import StudentList
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.findings.profiles import default_profile
from dolcezza.core.instrument.catalog import CATALOG, instrument
from dolcezza.services.agenda import Brief, brief, waiting
from dolcezza.services.studio import Studio
from dolcezza.storage.records import Student, TakeStatus

FIRST_STEPS = (
    (mark("Add a student"), mark("On the left, below: a name, the instrument with its size, the bow hand, and whose limits are to count.")),
    (
        mark("Open a video"),
        mark("From the front, a little above, on the scroll side; the whole bow in the picture. It stays where it is, on this machine."),
    ),
    (
        mark("Mark the instrument"),
        mark("Four clicks: the ends of the bridge and the corners of the fingerboard. Then analyse; the first finding comes by itself."),
    ),
)


class StudentsView(QWidget):
    """Emits ``open_take(id)``, ``video_offered(path or "")`` for a new take, ``videos_offered(paths)`` for many, ``fault_words(error)``,
    ``delete_take(id)``, ``edit(id)``."""

    edit = Signal(int)
    profile_wanted = Signal()
    open_take = Signal(int)
    video_offered = Signal(str)
    videos_offered = Signal(list)
    delete_take = Signal(int)
    fault = Signal(object)

    def __init__(self, studio: Studio, selection: Selection, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self.setAcceptDrops(True)
        self._studio, self._selection = studio, selection
        self.clock: Callable[[], datetime] = datetime.now
        across = QHBoxLayout(self)
        across.setContentsMargins(26, 14, 26, 16)
        across.setSpacing(26)
        left = QVBoxLayout()
        self.next = label(tr("Students"), "title")
        left.addWidget(self.next)
        self.students = StudentList()
        self.students.chosen.connect(self._choose)
        self.students.until = studio.store.keeping.all_until
        left.addWidget(self.students, 1)
        left.addWidget(self._make_form())
        across.addLayout(left, 4)
        right = QVBoxLayout()
        self.heading = label("", "title")
        self.edit_button = QPushButton(tr("Edit…"))
        self.edit_button.setToolTip(tr("Name, lesson, profile, instrument, measurements; or remove the student"))
        self.edit_button.clicked.connect(self._edit)
        head = QHBoxLayout()
        head.addWidget(self.heading, 1)
        self.profile_button = QPushButton(tr("Profile…"))
        self.profile_button.setToolTip(tr("What is asked of hold, arm and bow, one choice at a time (Ctrl+P)"))
        self.profile_button.clicked.connect(self.profile_wanted)
        head.addWidget(self.profile_button)
        head.addWidget(self.edit_button)
        right.addLayout(head)
        self.note = faint("")
        right.addWidget(self.note)
        self.brief = QFrame()
        self.brief.setObjectName("card")
        grid = QGridLayout(self.brief)
        grid.setContentsMargins(14, 10, 14, 11)
        grid.setHorizontalSpacing(14)
        grid.setVerticalSpacing(6)
        grid.setColumnStretch(1, 1)
        self.answers: dict[str, QLabel] = {}
        for k, (name, words) in enumerate((("agreed", tr("Agreed")), ("practised", tr("Practised")), ("changed", tr("Changed")))):
            said = label("")
            said.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
            title = QLabel(words)
            title.setObjectName("heading")
            grid.addWidget(title, k, 0, Qt.AlignmentFlag.AlignTop)
            grid.addWidget(said, k, 1)
            self.answers[name] = said
        right.addWidget(self.brief)
        self._takes, self._take_list = scroll_column()
        right.addWidget(self._takes, 1)
        row = QHBoxLayout()
        self.open_button = QPushButton(tr("Open a video…"))
        self.open_button.setObjectName("main")
        self.open_button.setToolTip(tr("Ctrl+O, or drop a video anywhere on this window"))
        self.open_button.clicked.connect(self._ask_video)
        row.addWidget(self.open_button)
        hint = QLabel(tr("or drop it on this window. It stays where it is, on this machine."))
        hint.setObjectName("faint")
        row.addWidget(hint, 1)
        right.addLayout(row)
        across.addLayout(right, 6)
        self.reload()

    def _make_form(self) -> QFrame:
        frame = QFrame()
        frame.setObjectName("card")
        box = QVBoxLayout(frame)
        box.setContentsMargins(14, 10, 14, 12)
        heading = QLabel(tr("A new student"))
        heading.setObjectName("heading")
        box.addWidget(heading)
        self.name = QLineEdit()
        self.name.setPlaceholderText(tr("Name"))
        self.name.setAccessibleName(tr("Name of the new student"))
        self.instrument = choice(tr("Instrument and size"), list(CATALOG))
        self.handed = choice(tr("Bow hand"), [tr(h) for h in HANDS])
        self.profile = choice(tr("Profile"), [])
        self.profile.setToolTip(tr("Which school's limits count. A starting point, not the truth; it can be changed."))
        self.instrument.currentTextChanged.connect(self._fill_profiles)
        self._fill_profiles(self.instrument.currentText())
        self.add_button = QPushButton(tr("Add"))
        self.add_button.clicked.connect(self._add)
        self.name.returnPressed.connect(self._add)
        box.addWidget(self.name)
        row = QHBoxLayout()
        row.addWidget(self.instrument, 1)
        row.addWidget(self.handed, 1)
        box.addLayout(row)
        row = QHBoxLayout()
        row.addWidget(self.profile, 1)
        row.addWidget(self.add_button)
        box.addLayout(row)
        return frame

    def _fill_profiles(self, name: str) -> None:
        spec = instrument(name)
        self.profile.clear()
        self.profile.addItems([p.name for p in self._studio.shelf.all().values() if spec.family in p.families])
        self.profile.setCurrentText(default_profile(spec).name)

    def _add(self) -> None:
        try:
            student = self._studio.add_student(
                self.name.text(), self.instrument.currentText(), handed="left" if self.handed.currentIndex() else "right",
                profile_name=self.profile.currentText(),
            )  # fmt: skip
        except DolcezzaError as error:
            self.fault.emit(error)
            return
        self.name.clear()
        self._selection.set_student(student)
        self.reload()

    def reload(self) -> None:
        """Read students and takes again."""
        now = self.clock()
        students = waiting(self._studio, now)
        chosen = self._selection.student
        own = next((w.student for w in students if chosen is not None and w.student.id == chosen.id), None)
        if students and own != chosen:
            self._selection.set_student(own or students[0].student)
        elif students and chosen is None:
            self._selection.set_student(students[0].student)
        elif not students and chosen is not None:
            self._selection.set_student(None)
        first = students[0] if students and students[0].lesson is not None else None
        self.next.setText(
            tr("Students") if first is None else tr("Next: {0}, {1}").format(first.student.name, spoken().sentence(first.when))
        )
        marked = self._selection.student
        self.students.show_students(students, now, marked.id if marked is not None else 0)
        self._show_takes()

    def _edit(self) -> None:
        if self._selection.student is not None:
            self.edit.emit(self._selection.student.id)

    def _choose(self, student_id: int) -> None:
        try:
            student = self._studio.store.student(student_id)
        except DolcezzaError as error:
            self.fault.emit(error)
            self.reload()
            return
        self._selection.set_student(student)
        self.students.mark(student_id)
        self._show_takes()

    def _show_takes(self) -> None:
        student = self._selection.student
        empty(self._take_list)
        self.open_button.setEnabled(student is not None)
        for button in (self.edit_button, self.profile_button):
            button.setVisible(student is not None)
        self._show_brief(student)
        if student is None:
            self.heading.setText(tr("Three steps to the first finding"))
            self.note.setText("")
            for k, (title, words) in enumerate(FIRST_STEPS):
                self._take_list.addWidget(self._first_step(k + 1, tr(title), tr(words)))
            self._take_list.addStretch(1)
            return
        self.heading.setText(student.name)
        self.note.setText(tr("{0}  Profile: {1}.").format(student.note, student.profile).strip())
        takes = self._studio.takes(student.id)
        for status in takes:
            self._take_list.addWidget(self._take_row(status))
        if not takes:
            self._take_list.addWidget(
                faint(
                    tr(
                        "No video yet. Open one of the bowing: from the front, a little above the scroll side, the "
                        "whole bow in the picture."
                    )
                )
            )
        self._take_list.addStretch(1)

    @staticmethod
    def _first_step(number: int, title: str, words: str) -> QFrame:
        card = QFrame()
        card.setObjectName("card")
        row = QHBoxLayout(card)
        row.setContentsMargins(18, 14, 18, 14)
        row.setSpacing(18)
        big = QLabel(str(number))
        big.setObjectName("title")
        text = QVBoxLayout()
        text.addWidget(label(title, "heading"))
        text.addWidget(label(words))
        row.addWidget(big)
        row.addLayout(text, 1)
        return card

    def _show_brief(self, student: Student | None) -> None:
        told = brief(self._studio, student, self.clock().date()) if student is not None else Brief()
        nothing = {
            "agreed": tr("Nothing yet: accept a finding, or make a plan."), "practised": tr("No plan yet."),
            "changed": tr("Two analysed videos of the same task will show it."),
        }  # fmt: skip
        for name, said in self.answers.items():
            words = spoken().sentences(getattr(told, name))
            said.setText(words or nothing[name])
            said.setObjectName("" if words else "faint")
            said.style().polish(said)
        self.brief.setVisible(student is not None)

    def _take_row(self, status: TakeStatus) -> Row:
        take = status.take
        if not take.path.exists():
            state: str = tr("The video is not where it was: open it to find it again.")
        elif status.analysed:
            findings = (
                tr("no finding")
                if not status.findings
                else tr("1 finding")
                if status.findings == 1
                else tr("{0} findings").format(status.findings)
            )
            state = tr("● analysed: {0} strokes, {1}").format(status.strokes, findings)
        elif status.marked:
            state = tr("◐ calibrated, ready to analyse")
        else:
            state = tr("○ not calibrated yet")
        row = Row(
            take.id,
            take.title,
            [f"{day_words(take.played_on)}  ·  {status.instrument}  ·  {take.duration_s:.0f} s", state],
        )
        row.chosen.connect(self.open_take)
        remove = QPushButton(tr("Remove…"))
        remove.setToolTip(tr("Remove it and everything measured from it; the video file itself stays"))
        remove.setProperty("take", take.id)
        remove.clicked.connect(self._remove)
        row.across.addWidget(remove)
        return row

    def _remove(self) -> None:
        self.delete_take.emit(int(self.sender().property("take")))

    def _ask_video(self) -> None:
        self.video_offered.emit("")

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        dragged_files(event)

    def dropEvent(self, event: QDropEvent) -> None:
        if files := dragged_files(event):
            if len(files) > 1 or files[0].is_dir():
                self.videos_offered.emit(files)
            else:
                self.video_offered.emit(str(files[0]))
