"""Practice: the plan from this lesson to the next, and the log."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta

from PySide6.QtCore import QDate, Qt, Signal
from PySide6.QtWidgets import (
    QAbstractSpinBox,
    QCheckBox,
    QComboBox,
    QDateEdit,
    QDoubleSpinBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from dolcezza.app.theme.words import day_words, mark, spoken, tr
from dolcezza.app.widgets.drill_picker import DrillPicker
from dolcezza.app.widgets.parts import Row, choice, empty, faint, label, scroll_column
from dolcezza.core.base.message import Message
from dolcezza.core.practice.drills import drills
from dolcezza.core.practice.fitted import Person
from dolcezza.core.practice.plan import PracticePlan
from dolcezza.reports.practice import cautions, practice_name, slot_words
from dolcezza.services.practice import Record
from dolcezza.storage.records import Practised

READER_WORDS = {"adult": mark("for an adult"), "child": mark("for a child"), "parent": mark("for a parent")}


class PractiseView(QWidget):
    """Emits ``make(drill keys, pieces text, minutes, first day, next lesson)``, ``log(what, minutes, count, pain, note, day)``,
    ``calendar()``, ``sheet(reader)``, ``week()``, ``unlog(k)`` and ``allow(what)`` when a drill that was paused for pain may be practised
    again."""

    make = Signal(list, str, float, object, object)
    log = Signal(str, float, int, bool, str, object)
    calendar = Signal()
    sheet = Signal(str)
    week = Signal()
    unlog = Signal(int)
    allow = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        across = QHBoxLayout(self)
        across.setContentsMargins(18, 6, 18, 10)
        across.setSpacing(16)
        left = QVBoxLayout()
        self.head = label(tr("Practice"), "title")
        self.plan_words = label("")
        left.addWidget(self.head)
        left.addWidget(self.plan_words)
        area, self._days = scroll_column()
        left.addWidget(area, 1)
        across.addLayout(left, 1)
        side = QFrame()
        side.setFixedWidth(452)
        box = QVBoxLayout(side)
        box.setContentsMargins(0, 0, 0, 0)
        area, self._column = scroll_column()
        box.addWidget(area)
        across.addWidget(side)
        self._make_plan_card()
        self._make_log_card()
        for words in cautions(spoken()):
            self._column.addWidget(faint(words))
        self._column.addStretch(1)
        for number in self.findChildren(QAbstractSpinBox):
            if not isinstance(number, QDateEdit):
                number.setAlignment(Qt.AlignmentFlag.AlignCenter)

    def _card(self, title: str) -> QVBoxLayout:
        card = QFrame()
        card.setObjectName("card")
        box = QVBoxLayout(card)
        box.setContentsMargins(13, 8, 13, 10)
        box.setSpacing(5)
        box.addWidget(label(title, "heading"))
        self._column.addWidget(card)
        return box

    def _make_plan_card(self) -> None:
        box = self._card(tr("A plan until the next lesson"))
        self.drills = DrillPicker()
        box.addWidget(self.drills)
        self.pieces = QLineEdit()
        self.pieces.setPlaceholderText(tr("also: Scale in D 5, Study 8  (words, then minutes)"))
        self.pieces.setAccessibleName(tr("Exercises and pieces, each with its minutes, separated by commas"))
        box.addWidget(self.pieces)
        grid = QGridLayout()
        self.minutes = QSpinBox()
        self.minutes.setRange(0, 240)
        self.minutes.setValue(20)
        self.minutes.setSuffix(" min")
        self.minutes.setAccessibleName(tr("Minutes a day"))
        self.first, self.lesson = QDateEdit(), QDateEdit()
        for field, words, days in ((self.first, tr("First day"), 0), (self.lesson, tr("Next lesson"), 7)):
            field.setCalendarPopup(True)
            field.setDisplayFormat("d MMM yy")
            field.setAccessibleName(words)
            field.setDate(QDate.currentDate().addDays(days))
        for k, (words, widget) in enumerate(((tr("each day"), self.minutes), (tr("from"), self.first), (tr("next lesson"), self.lesson))):
            widget.setMinimumWidth(96)
            grid.addWidget(faint(words), 0, k)
            grid.addWidget(widget, 1, k)
        box.addLayout(grid)
        row = QHBoxLayout()
        self.make_button = QPushButton(tr("Make the plan"))
        self.make_button.setObjectName("main")
        self.make_button.clicked.connect(self._make)
        self.calendar_button = QPushButton(tr("Calendar…"))
        self.calendar_button.setToolTip(tr("The plan as iCalendar, for any calendar"))
        self.calendar_button.clicked.connect(self.calendar)
        self.reader = choice(tr("Sheet for"), READER_WORDS)
        self.sheet_button = QPushButton(tr("Sheet…"))
        self.sheet_button.setToolTip(tr("The plan on paper with boxes to tick; no video is needed"))
        self.sheet_button.clicked.connect(lambda: self.sheet.emit(str(self.reader.currentData())))
        row.addWidget(self.make_button)
        row.addStretch(1)
        box.addLayout(row)
        row = QHBoxLayout()
        row.addWidget(self.reader)
        for button in (self.sheet_button, self.calendar_button):
            row.addWidget(button)
        box.addLayout(row)

    def _make_log_card(self) -> None:
        box = self._card(tr("Write down what was practised"))
        self.streak_words = label("")
        box.addWidget(self.streak_words)
        self.what = choice(tr("What was practised"), [])
        self.what.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.what.setMinimumContentsLength(14)
        self.done_minutes = QDoubleSpinBox()
        self.done_minutes.setRange(0, 600)
        self.done_minutes.setDecimals(0)
        self.done_minutes.setSuffix(" min")
        self.done_minutes.setAccessibleName(tr("Minutes practised"))
        self.done_count = QSpinBox()
        self.done_count.setRange(0, 1000)
        self.done_count.setAccessibleName(tr("Count of settings, bows or starts"))
        line = QHBoxLayout()
        for widget in (self.what, self.done_minutes, self.done_count):
            line.addWidget(widget, 2 if widget is self.what else 1)
        box.addLayout(line)
        self.pain = QCheckBox(tr("It hurt (this drill pauses; show the teacher)"))
        self.note = QLineEdit()
        self.note.setPlaceholderText(tr("how it went"))
        self.note.setAccessibleName(tr("Note"))
        self.log_button = QPushButton(tr("Write down"))
        self.log_button.clicked.connect(self._log)
        box.addWidget(self.pain)
        self.day = QDateEdit(QDate.currentDate())
        self.day.setCalendarPopup(True)
        self.day.setDisplayFormat("d MMM yy")
        self.day.setAccessibleName(tr("Day on which it was practised"))
        self.week_button = QPushButton(tr("A week…"))
        self.week_button.setToolTip(tr("The ticks of a whole week from paper, at once"))
        self.week_button.clicked.connect(self.week)
        line = QHBoxLayout()
        line.addWidget(self.note, 1)
        line.addWidget(self.day)
        box.addLayout(line)
        line = QHBoxLayout()
        line.addWidget(self.log_button)
        line.addStretch(1)
        line.addWidget(self.week_button)
        box.addLayout(line)
        self._paused = QVBoxLayout()
        box.addLayout(self._paused)
        self._entries = QVBoxLayout()
        self._entries.setSpacing(4)
        box.addLayout(self._entries)

    # what is shown

    def show_student(
        self, name: str, proposed: Sequence[str], plan: PracticePlan | None, record: Record | None, entries: Sequence[Practised],
        today: date, opened: Sequence[str] = (), person: Person | None = None,
    ) -> None:  # fmt: skip
        """The newest plan of a student, the log, the drills that are proposed, and those that are ``opened`` at the student's stage."""
        self.head.setText(tr("Practice: {0}").format(name) if name else tr("Choose a student first"))
        for widget in (self.make_button, self.log_button, self.sheet_button):
            widget.setEnabled(bool(name))
        for widget in (self.calendar_button, self.week_button):
            widget.setEnabled(plan is not None)
        whose = person or Person()
        self.reader.setCurrentIndex(self.reader.findData(whose.reader))
        self._show_plan(plan, today)
        self.drills.show_drills(proposed, opened, whose)
        now = self.what.currentText()
        self.what.clear()
        for key in drills():
            self.what.addItem(practice_name(key, spoken()), key)
        for slot in dict.fromkeys(s.words for day in (plan.days if plan is not None else ()) for s in day.slots if not s.drill):
            self.what.addItem(slot, slot)
        if self.what.findText(now) >= 0:
            self.what.setCurrentText(now)
        self._show_record(record, today)
        self._show_entries(entries)

    def _show_plan(self, plan: PracticePlan | None, today: date) -> None:
        empty(self._days)
        if plan is None:
            self.plan_words.setText(tr("No plan yet. Choose drills on the right, say how many minutes a day, and make one."))
            self._days.addStretch(1)
            return
        said = [tr("{0} days, up to {1:.0f} minutes a day.").format(len(plan.days), plan.minutes_a_day)]
        words = spoken()
        if plan.left_out:
            said.append(tr("Left out: {0}.").format("; ".join(words.sentence(m) for m in plan.left_out)))
        if plan.paused:
            said.append(tr("Paused: {0}.").format(", ".join(practice_name(p, words) for p in plan.paused)))
        self.plan_words.setText(" ".join([*said, words.sentences(plan.notes)]))
        for day in plan.days:
            card = QFrame()
            card.setObjectName("card")
            box = QVBoxLayout(card)
            box.setContentsMargins(12, 6, 12, 7)
            box.setSpacing(1)
            now = tr("▸ today: ") if day.day == today else ""
            box.addWidget(label(tr("{0}{1:%A %d %B}, {2:.0f} minutes").format(now, day.day, day.minutes), "heading"))
            portions = day.portions
            for k, portion in enumerate(portions):
                if len(portions) > 1:
                    minutes = sum(s.minutes + s.rest for s in portion)
                    box.addWidget(faint(words.sentence(Message("plan.portion", {"n": k + 1, "minutes": minutes}))))
                for slot in portion:
                    box.addWidget(label(slot_words(slot, words)))
            self._days.addWidget(card)
        self._days.addStretch(1)

    def _show_record(self, record: Record | None, today: date) -> None:
        empty(self._paused)
        for key in record.paused if record is not None else ():
            button = QPushButton(tr("Allow again: {0}").format(practice_name(key, spoken())))
            button.setToolTip(tr("Your word lifts the pause; nothing else does"))
            button.clicked.connect(lambda _c=False, what=key: self.allow.emit(what))
            self._paused.addWidget(button)
        if record is None:
            self.streak_words.setText("")
            return
        said = [tr("{0} days in a row.").format(record.streak)] if record.streak > 1 else []
        if record.minutes_a_day is not None:
            said.append(tr("{0:.0f} minutes on practice days lately.").format(record.minutes_a_day))
        if record.paused:
            names = ", ".join(practice_name(k, spoken()) for k in record.paused)
            said.append(tr("Paused for pain: {0}.").format(names))
        self.streak_words.setText(" ".join(said) or tr("Nothing written down yet."))

    def _show_entries(self, entries: Sequence[Practised]) -> None:
        empty(self._entries)
        for k, e in enumerate(entries[:8]):
            name = practice_name(e.what, spoken())
            parts = [
                f"{e.minutes:g} min" if e.minutes else "",
                f"{e.count}" if e.count else "",
                tr("it hurt") if e.pain else "",
                tr("allowed again") if e.allowed else "",
                e.note,
            ]
            row = Row(k, f"{day_words(e.day, '%d %b')}: {name}", [", ".join(p for p in parts if p)] if any(parts) else [])
            row.across.setContentsMargins(10, 3, 6, 3)
            button = QPushButton(tr("Remove"))
            button.setObjectName("chip")
            button.clicked.connect(lambda _c=False, which=k: self.unlog.emit(which))
            row.across.addWidget(button)
            self._entries.addWidget(row)

    # what is done

    def _make(self) -> None:
        def day(field: QDateEdit) -> date:
            d = field.date()
            return date(d.year(), d.month(), d.day())

        self.make.emit(self.drills.chosen, self.pieces.text(), float(self.minutes.value()), day(self.first), day(self.lesson))

    def set_dates(self, first: date, lesson: date | None = None) -> None:
        """Dates of the next plan."""
        end = lesson or first + timedelta(days=7)
        self.first.setDate(QDate(first.year, first.month, first.day))
        self.lesson.setDate(QDate(end.year, end.month, end.day))

    def _log(self) -> None:
        self.log.emit(
            str(self.what.currentData()), self.done_minutes.value(), self.done_count.value(), self.pain.isChecked(), self.note.text(),
            self.day.date().toPython(),
        )  # fmt: skip
        self.pain.setChecked(False)
        self.note.clear()
