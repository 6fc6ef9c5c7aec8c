"""What only the teacher sees of the hold: questions, answered with the day, and what the answers come to."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PySide6.QtCore import QDate, Signal
from PySide6.QtWidgets import QComboBox, QDateEdit, QFrame, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from dolcezza.app.theme.words import day_words, mark, spoken, tr
from dolcezza.app.widgets.hand_over_take import HandOverTake
from dolcezza.app.widgets.parts import Row, choice, empty, faint, label, scroll_column
from dolcezza.core.findings.finding import Finding
from dolcezza.core.hold.questions import UNCLEAR, Said, questions
from dolcezza.core.practice.drills import corrections_for
from dolcezza.reports.choices import question_in
from dolcezza.reports.practice import correction_in
from dolcezza.storage.records import HoldAnswer

NOT_SAID = "not said"
EXTRA = {NOT_SAID: mark("not said yet"), UNCLEAR: mark("cannot be told")}


class HoldAnswersView(QWidget):
    """Emits ``said(question, answer, day)``."""

    said = Signal(str, str, object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        across = QHBoxLayout(self)
        across.setContentsMargins(18, 4, 18, 10)
        across.setSpacing(16)
        left = QVBoxLayout()
        line = QHBoxLayout()
        line.addWidget(label(tr("What do you see?"), "title"), 1)
        line.addWidget(faint(tr("seen on")))
        self.day = QDateEdit(QDate.currentDate())
        self.day.setCalendarPopup(True)
        self.day.setDisplayFormat("d MMM yyyy")
        self.day.setAccessibleName(tr("Day of these answers"))
        line.addWidget(self.day)
        left.addLayout(line)
        left.addWidget(faint(tr("A picture from the back of the hand does not show these. Each answer is kept with its day.")))
        area, column = scroll_column()
        grid = QGridLayout()
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(6)
        self.boxes: dict[str, QComboBox] = {}
        self.dates = {}
        for k, question in enumerate(questions().values()):
            own = question_in(question, spoken())
            box = choice(own.asks, [])
            for key, words in (*own.answers.items(), *((key, tr(words)) for key, words in EXTRA.items())):
                box.addItem(words, key)
            box.activated.connect(lambda _k, which=question.key: self._answer(which))
            self.boxes[question.key] = box
            self.dates[question.key] = faint("")
            self.dates[question.key].setMinimumWidth(92)
            grid.addWidget(label(own.asks), k, 0)
            grid.addWidget(box, k, 1)
            grid.addWidget(self.dates[question.key], k, 2)
        grid.setColumnStretch(0, 3)
        grid.setColumnStretch(1, 3)
        column.addLayout(grid)
        column.addStretch(1)
        left.addWidget(area, 1)
        self.over_take = HandOverTake()
        self.over_take.kept.connect(self.said)
        left.addWidget(self.over_take)
        across.addLayout(left, 6)
        side = QFrame()
        side.setMinimumWidth(430)
        outer = QVBoxLayout(side)
        outer.setContentsMargins(0, 0, 0, 0)
        beside, self._column = scroll_column()
        outer.addWidget(beside)
        across.addWidget(side, 4)

    def show_answers(self, newest: Mapping[str, Said], all_answers: Sequence[HoldAnswer], found: Sequence[Finding], profile: str) -> None:
        """The newest answers with their days, earlier ones, and what pictures and answers come to under the profile."""
        for key, box in self.boxes.items():
            box.setCurrentIndex(box.findData(newest[key].answer if key in newest else NOT_SAID))
            self.dates[key].setText(day_words(newest[key].day, "%d %b %Y") if key in newest else "")
        words = spoken()
        empty(self._column)
        self._column.addWidget(label(tr("What this comes to: {0}").format(profile), "heading"))
        if not found:
            self._column.addWidget(faint(tr("Nothing in the pictures and answers is against what was chosen.")))
        for finding in found:
            answers = corrections_for([finding.cause])
            lines = [words.cause(finding.cause), *(correction_in(c, words).says for c, _ in answers), words.sentence(finding.against)]
            row = Row(0, f"{'●' if finding.sure else '○'} {words.sentence(finding.message)}", [x for x in lines if x])
            self._column.addWidget(row)
        earlier = [a for a in reversed(all_answers) if a.question in self.boxes]
        if earlier:
            self._column.addWidget(label(tr("Said so far"), "heading"))
        for a in earlier[:14]:
            question = question_in(questions()[a.question], words)
            answer = question.answers.get(a.answer, tr(EXTRA[UNCLEAR]))
            self._column.addWidget(faint(f"{day_words(a.said_on, '%d %b %Y')}: {question.asks} {answer}"))
        self._column.addStretch(1)

    def _answer(self, question: str) -> None:
        answer = str(self.boxes[question].currentData())
        if answer != NOT_SAID:
            self.said.emit(question, answer, self.day.date().toPython())
