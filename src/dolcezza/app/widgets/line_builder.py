"""A line of an exercise put together by choosing: on which strings, how many, which part, how long, how many notes, how."""

from __future__ import annotations

from itertools import pairwise

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QDoubleSpinBox, QGridLayout, QPushButton, QSpinBox, QWidget

from dolcezza.app.theme.words import mark, tr
from dolcezza.app.widgets.parts import choice, faint
from dolcezza.core.assignment.exercise import PARTS, TYPES

HOW = {"": mark("on the string"), "lifted": mark("lifted after"), "landing": mark("landing from the air")}

PART_WORDS = {
    "whole": mark("whole"), "lower": mark("lower half"), "upper": mark("upper half"), "middle": mark("middle"), "frog": mark("frog"),
    "tip": mark("tip"),
}  # fmt: skip


class LineBuilder(QWidget):
    """Emits ``added(line)`` with the text of a line such as ``G D: 8 whole x4``."""

    added = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(2)
        self.strings = choice(tr("Strings in order"), [])
        self.count = self._whole(tr("Strokes on each string"), 8, 1, 64)
        self.part = choice(tr("Part of the bow"), PART_WORDS)
        self.beats = QDoubleSpinBox()
        self.beats.setRange(0.25, 16.0)
        self.beats.setSingleStep(0.25)
        self.beats.setDecimals(2)
        self.beats.setValue(4.0)
        self.beats.setAccessibleName(tr("Beats of a stroke"))
        self.notes = self._whole(tr("Notes in a bow"), 1, 1, 16)
        self.how = choice(tr("How"), HOW)
        self.add = QPushButton(tr("Add line"))
        self.add.clicked.connect(self._add)
        cells = (
            (tr("strings"), self.strings), (tr("how many"), self.count), (tr("part"), self.part), (tr("beats"), self.beats),
            (tr("notes"), self.notes),
        )  # fmt: skip
        for k, (words, widget) in enumerate(cells):
            grid.addWidget(faint(words), 0, k)
            grid.addWidget(widget, 1, k)
        grid.addWidget(self.how, 2, 0, 1, 3)
        grid.addWidget(self.add, 2, 3, 1, 2)
        for number in (self.count, self.beats, self.notes):
            number.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.set_strings("GDAE")
        assert set(HOW) <= {"", *TYPES} and list(PART_WORDS) == list(PARTS)

    @staticmethod
    def _whole(name: str, value: int, low: int, high: int) -> QSpinBox:
        made = QSpinBox()
        made.setRange(low, high)
        made.setValue(value)
        made.setAccessibleName(name)
        return made

    def set_strings(self, strings: str) -> None:
        """Strings of the instrument, bass side first: all up, all down, each alone, neighbours."""
        now = self.strings.currentText()
        pairs = [f"{a} {b}" for a, b in pairwise(strings)]
        ways = [" ".join(strings), " ".join(reversed(strings)), *strings, *pairs]
        self.strings.clear()
        self.strings.addItems(ways)
        self.strings.setCurrentText(now)

    @property
    def line(self) -> str:
        """The line as it would be added."""
        words = [str(self.count.value()), self.part.currentData(), f"x{self.beats.value():g}"]
        words += [f"slur {self.notes.value()}"] if self.notes.value() > 1 else []
        words += [self.how.currentData()] if self.how.currentData() else []
        return f"{self.strings.currentText()}: {' '.join(words)}"

    def _add(self) -> None:
        self.added.emit(self.line)
