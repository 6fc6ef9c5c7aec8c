"""What came out of the day's videos, in one list that stays: whose, how many strokes, what stands first."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QDialog, QDialogButtonBox, QGridLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from dolcezza.app.theme.words import tr
from dolcezza.app.widgets.parts import faint, label
from dolcezza.core.base.message import Message
from dolcezza.services.day import Result


class ResultsDialog(QDialog):
    """Emits ``opened(take id)``. ``say`` puts a message into words."""

    opened = Signal(int)

    def __init__(self, found: Sequence[Result], say: Callable[[Message], str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self.setWindowTitle(tr("Results of the day"))
        self.setMinimumSize(860, 460)
        box = QVBoxLayout(self)
        box.addWidget(label(tr("Analysed today"), "title"))
        box.addWidget(faint(tr("The last one first. What you dismissed is left out; what is not sure is on its page.")))
        area = QScrollArea()
        area.setWidgetResizable(True)
        inner = QWidget()
        grid = QGridLayout(inner)
        grid.setHorizontalSpacing(16)
        grid.setColumnStretch(3, 1)
        for column, head in enumerate((tr("Student"), tr("Video"), tr("Strokes"), tr("First"))):
            grid.addWidget(label(head, "heading"), 0, column)
        self.rows: list[QPushButton] = []
        for row, one in enumerate(found, 1):
            first = one.first
            said = (first.wording or say(first.finding.message)) if first is not None else tr("no sure finding")
            for column, words in enumerate((one.student, one.take.title, str(one.strokes), said)):
                grid.addWidget(label(words), row, column, Qt.AlignmentFlag.AlignTop)
            button = QPushButton(tr("Open"))
            button.setAccessibleName(tr("Open “{0}” of {1}").format(one.take.title, one.student))
            button.clicked.connect(partial(self._open, one.take.id))
            grid.addWidget(button, row, 4, Qt.AlignmentFlag.AlignTop)
            self.rows.append(button)
        if not found:
            grid.addWidget(faint(tr("No video has been analysed today.")), 1, 0, 1, 5)
        grid.setRowStretch(len(found) + 1, 1)
        area.setWidget(inner)
        box.addWidget(area, 1)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        box.addWidget(buttons)

    def _open(self, take_id: int) -> None:
        self.accept()
        self.opened.emit(take_id)
