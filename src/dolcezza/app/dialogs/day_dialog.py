"""A day's videos in one list: whose each is proposed to be, why, and the teacher's word on it."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtWidgets import QComboBox, QDialog, QDialogButtonBox, QGridLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from dolcezza.app.theme.words import tr
from dolcezza.app.widgets.parts import faint, label
from dolcezza.core.base.message import Message
from dolcezza.services.day import Proposal
from dolcezza.storage.records import Student


class DayDialog(QDialog):
    """One row a video; ``chosen`` says what is to be taken in for whom. ``say`` puts a message into words."""

    def __init__(
        self, found: Sequence[Proposal], students: Sequence[Student], say: Callable[[Message], str], parent: QWidget | None = None
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self.setObjectName("page")
        self.setWindowTitle(tr("The day's videos"))
        self.setMinimumSize(860, 460)
        self._found = list(found)
        self._students = list(students)
        self.whose: list[QComboBox] = []
        self._why: list[QLabel] = []
        self._changed: set[int] = set()
        self._say = say
        box = QVBoxLayout(self)
        box.addWidget(label(tr("Whose videos are these?"), "title"))
        how = tr("Proposed by the file's name, the time of filming and what is played. Change what is not right; no file is moved.")
        box.addWidget(faint(how))
        self.looking = faint("")
        self.looking.hide()
        box.addWidget(self.looking)
        area = QScrollArea()
        area.setWidgetResizable(True)
        inner = QWidget()
        self._grid = QGridLayout(inner)
        self._grid.setHorizontalSpacing(16)
        self._grid.setColumnStretch(3, 1)
        for column, words in enumerate((tr("Video"), tr("Filmed"), tr("Student"), tr("Why"))):
            self._grid.addWidget(label(words, "heading"), 0, column)
        for row, one in enumerate(self._found, 1):
            self._add_row(row, one)
        self._grid.setRowStretch(len(self._found) + 1, 1)
        area.setWidget(inner)
        box.addWidget(area, 1)
        self.buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        self.take_button = self.buttons.addButton(tr("Take in and analyse"), QDialogButtonBox.ButtonRole.AcceptRole)
        self.buttons.accepted.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        box.addWidget(self.buttons)
        self._count()

    def show_looking(self, share: float | None) -> None:
        """How far the looking at the pictures has got; None = it is over."""
        self.looking.setVisible(share is not None)
        if share is not None:
            self.looking.setText(tr("Looking at the pictures for what is played: {0} %").format(round(100 * share)))

    def show_again(self, found: Sequence[Proposal]) -> None:
        """The same videos proposed anew. What the teacher has chosen stays."""
        for row, (one, whose, words) in enumerate(zip(found, self.whose, self._why, strict=True)):
            words.setText(self._reason(one))
            if row not in self._changed and one.usable:
                whose.setCurrentIndex(whose.findData(one.student.id) if one.student is not None else 0)
        self._found = list(found)
        self._count()

    def _reason(self, one: Proposal) -> str:
        said = one.fault or (tr("in the studio already, or twice in this list") if one.double else "; ".join(self._say(m) for m in one.why))
        return said or tr("nothing tells: choose")

    def _add_row(self, row: int, one: Proposal) -> None:
        name = QLabel(one.path.name)
        name.setToolTip(str(one.path))
        self._grid.addWidget(name, row, 0)
        minutes, seconds = divmod(round(one.duration_s), 60)
        filmed = one.recorded.strftime("%d.%m. %H:%M") if one.recorded is not None else tr("not known")
        self._grid.addWidget(QLabel(f"{filmed}, {minutes}:{seconds:02d}" if one.duration_s else filmed), row, 1)
        whose = QComboBox()
        whose.setAccessibleName(tr("Whose video is {0}").format(one.path.name))
        whose.addItem(tr("leave it"), 0)
        for student in self._students:
            whose.addItem(student.name, student.id)
        if one.student is not None and one.usable:
            whose.setCurrentIndex(whose.findData(one.student.id))
        whose.setEnabled(one.usable)
        whose.currentIndexChanged.connect(self._count)
        whose.activated.connect(lambda _k, at=row - 1: self._changed.add(at))
        self.whose.append(whose)
        self._grid.addWidget(whose, row, 2)
        words = faint(self._reason(one))
        words.setWordWrap(True)
        self._why.append(words)
        self._grid.addWidget(words, row, 3)

    def _count(self) -> None:
        count = len(self.chosen)
        self.take_button.setEnabled(count > 0)
        self.take_button.setText(tr("Take in and analyse ({0})").format(count))

    @property
    def chosen(self) -> list[tuple[Proposal, int]]:
        """Videos with the students' ids."""
        told = [(one, int(box.currentData() or 0)) for one, box in zip(self._found, self.whose, strict=True)]
        return [(one, student) for one, student in told if student and one.usable]
