"""A week's ticks from paper, written down at once: days across, the plan's items down."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox, QDialog, QDialogButtonBox, QGridLayout, QLabel, QVBoxLayout, QWidget

from dolcezza.app.theme.words import day_words, spoken, tr
from dolcezza.app.widgets.parts import faint, label
from dolcezza.core.practice.plan import Day, Slot
from dolcezza.reports.practice import slot_name

MOST_DAYS = 7


class WeekSheet(QDialog):
    """``ticks`` after it was closed with Keep: day and item of the plan. What is in the log already is ticked and stays."""

    def __init__(self, days: Sequence[Day], logged: set[tuple[date, str]], today: date, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self.setWindowTitle(tr("A week from paper"))
        self.boxes: dict[tuple[date, str], tuple[QCheckBox, Slot]] = {}
        box = QVBoxLayout(self)
        box.setContentsMargins(22, 18, 22, 16)
        box.addWidget(label(tr("What was ticked on the sheet?"), "heading"))
        grid = QGridLayout()
        grid.setHorizontalSpacing(14)
        shown = [d for d in days if d.day <= today][-MOST_DAYS:]
        rows = list(dict.fromkeys(s.drill or s.words for d in shown for s in d.slots))
        for column, day in enumerate(shown):
            head = QLabel(day_words(day.day, "%a %d"))
            grid.addWidget(head, 0, column + 1, Qt.AlignmentFlag.AlignHCenter)
            for slot in day.slots:
                what = slot.drill or slot.words
                check = QCheckBox()
                check.setAccessibleName(f"{slot_name(slot, spoken())}, {day_words(day.day)}")
                there = (day.day, what) in logged
                check.setChecked(there)
                check.setEnabled(not there)
                grid.addWidget(check, rows.index(what) + 1, column + 1, Qt.AlignmentFlag.AlignHCenter)
                self.boxes[(day.day, what)] = (check, slot)
        names = {s.drill or s.words: slot_name(s, spoken()) for d in shown for s in d.slots}
        for k, what in enumerate(rows):
            grid.addWidget(QLabel(names[what]), k + 1, 0)
        box.addLayout(grid)
        if not shown:
            box.addWidget(faint(tr("No day of the plan is over yet.")))
        box.addWidget(faint(tr("Each tick is written down with the minutes and the count of the plan.")))
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        self.keep = buttons.addButton(tr("Write down"), QDialogButtonBox.ButtonRole.AcceptRole)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        box.addWidget(buttons)

    @property
    def ticks(self) -> list[tuple[date, Slot]]:
        """Day and item of what is newly ticked."""
        return [(day, slot) for (day, _), (check, slot) in self.boxes.items() if check.isChecked() and check.isEnabled()]
