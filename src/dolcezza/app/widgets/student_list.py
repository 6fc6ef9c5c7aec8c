"""The students of a studio: a field to look for one, what is to be seen of them, and a row for each."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from datetime import date, datetime

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QToolButton, QVBoxLayout, QWidget

from dolcezza.app.theme.words import mark, spoken, tr
from dolcezza.app.widgets.parts import Row, choice, empty, faint, scroll_column
from dolcezza.services.agenda import Waiting, shown

FILTERS = (
    ("all", mark("Everybody")), ("soon", mark("Lesson today or tomorrow")), ("away", mark("Not filmed for a month")),
    ("year", mark("Not filmed for a year")), ("until", mark("Kept longer than agreed")),
)  # fmt: skip
FEW = 6
"""So few students need no search."""


class StudentList(QWidget):
    """Emits ``chosen(id)``. ``until`` gives the day until which things of a student may be kept, where one was agreed."""

    chosen = Signal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._all: Sequence[Waiting] = ()
        self._now = datetime.min
        self._marked = 0
        self.until: Callable[[], Mapping[int, date]] = dict
        self.rows: dict[int, Row] = {}
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        self.search = QLineEdit()
        self.search.setPlaceholderText(tr("Look for a name or an instrument"))
        self.search.setAccessibleName(tr("Look for a student"))
        self.search.setClearButtonEnabled(True)
        for button in self.search.findChildren(QToolButton):
            button.setAccessibleName(tr("Clear"))
        self.filter = choice(tr("Which students"), [tr(words) for _, words in FILTERS])
        self.search.textChanged.connect(self._show)
        self.filter.currentIndexChanged.connect(self._show)
        line = QHBoxLayout()
        line.addWidget(self.search, 3)
        line.addWidget(self.filter, 2)
        box.addLayout(line)
        self._column, self._rows = scroll_column()
        box.addWidget(self._column, 1)

    def show_students(self, students: Sequence[Waiting], now: datetime, marked: int) -> None:
        """Show these students; ``marked``: id of the one who is chosen, 0 = none."""
        self._all, self._now, self._marked = students, now, marked
        many = len(students) > FEW
        self.search.setVisible(many)
        self.filter.setVisible(many)
        self._show()

    def mark(self, student_id: int) -> None:
        """Frame the one who is chosen, the rows stay."""
        for key, row in self.rows.items():
            if key in (student_id, self._marked):
                row.show_chosen(key == student_id)
        self._marked = student_id

    def _show(self) -> None:
        few = self.search.isHidden()
        words, which = ("", "all") if few else (self.search.text(), FILTERS[self.filter.currentIndex()][0])
        seen = shown(self._all, words, which, self._now, self.until() if which == "until" else {})
        empty(self._rows)
        self.rows = {}
        first = self._all[0] if self._all and self._all[0].lesson is not None else None
        for one in seen:
            row = self._row(one, one is first)
            self.rows[one.student.id] = row
            self._rows.addWidget(row)
        if not self._all:
            self._rows.addWidget(faint(tr("Nobody here yet.")))
        elif not seen:
            self._rows.addWidget(faint(tr("Nobody like that.")))
        self._rows.addStretch(1)

    def _row(self, one: Waiting, first: bool) -> Row:
        count = tr("1 video") if len(one.takes) == 1 else tr("{0} videos").format(len(one.takes))
        next_one = tr("▸ next: ") if first else ""
        words = spoken()
        when = f"{next_one}{words.sentence(one.when)}  ·  " if one.when.id else ""
        to_do = words.sentence(one.to_do)
        row = Row(one.student.id, one.student.name, [f"{when}{one.instrument}", f"{count}, {to_do}" if one.takes else to_do])
        row.chosen.connect(self.chosen)
        if one.student.id == self._marked:
            row.show_chosen(True)
        return row
