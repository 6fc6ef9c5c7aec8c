"""The lesson view: one thing, big enough to be read from two metres, with the picture before and after and the drill."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtGui import QImage, QKeyEvent
from PySide6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from dolcezza.app.theme.words import spoken, tr
from dolcezza.app.widgets.drill_picture import DrillPicture
from dolcezza.app.widgets.parts import label
from dolcezza.app.widgets.video_canvas import VideoCanvas
from dolcezza.core.practice.fitted import Person, fitted
from dolcezza.reports.practice import correction_in, dose, drill_in
from dolcezza.services.practice import Prescription

PICTURE_SCALE = 1.5
SAYS_PX, FEEL_PX, DRILL_PX, STOP_PX = 44, 28, 26, 22
"""Letters of 44 px are 11 mm high on a laptop: read from two metres, where 7 mm are enough (a fifth of a degree, from memory)."""


class LessonWindow(QDialog):
    """Full of one correction; Esc closes it. ``pictures``: JPEG bytes and words, one or two (before, after); ``person``: whose doses and
    words."""

    def __init__(
        self, student: str, chosen: Prescription, pictures: Sequence[tuple[bytes | None, str]], parent: QWidget | None = None,
        *, person: Person | None = None,
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self.setObjectName("page")
        self.setWindowTitle(tr("Lesson: {0}").format(student))
        self.resize(1280, 800)
        box = QVBoxLayout(self)
        box.setContentsMargins(36, 24, 36, 20)
        box.setSpacing(12)
        said = correction_in(chosen.correction, spoken())
        self.says = self._big(said.says, SAYS_PX, bold=True)
        self.feel = self._big(said.feel, FEEL_PX)
        box.addWidget(self.says)
        box.addWidget(self.feel)
        row = QHBoxLayout()
        row.setSpacing(18)
        self.canvases: list[VideoCanvas] = []
        for jpeg, words in pictures:
            column = QVBoxLayout()
            canvas = VideoCanvas()
            canvas.show_image(QImage.fromData(jpeg) if jpeg else None)
            canvas.whole()
            canvas.setAccessibleName(words)
            column.addWidget(canvas, 1)
            column.addWidget(self._big(words, 19))
            row.addLayout(column, 1)
            self.canvases.append(canvas)
        box.addLayout(row, 1)
        whose = person or Person()
        own = [d for d in (fitted(drill_in(d, spoken()), whose)[0] for d in chosen.drills) if d is not None]
        first = own[0] if own else drill_in(chosen.drills[0], spoken())
        self.drill = self._big(f"{first.name}: {dose(first, spoken())}", DRILL_PX, bold=True)
        self.how = self._big(first.how[whose.reader], DRILL_PX)
        self.stop = self._big(tr("Stop: {0} At any pain stop.").format(first.stop), STOP_PX)
        self.picture = DrillPicture(first.key, first.name, PICTURE_SCALE)
        said_of, beside = QVBoxLayout(), QHBoxLayout()
        for widget in (self.drill, self.how, self.stop):
            said_of.addWidget(widget)
        beside.addLayout(said_of, 1)
        beside.addWidget(self.picture)
        box.addLayout(beside)
        end = QHBoxLayout()
        end.addStretch(1)
        self.close_button = QPushButton(tr("Back to the desk (Esc)"))
        self.close_button.clicked.connect(self.accept)
        end.addWidget(self.close_button)
        box.addLayout(end)

    @staticmethod
    def _big(words: str, pixels: int, *, bold: bool = False) -> QWidget:
        made = label(words)
        made.setStyleSheet(f"font-size: {pixels}px; font-weight: {600 if bold else 400};")
        return made

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Escape, Qt.Key.Key_Space):
            self.accept()
        else:
            super().keyPressEvent(event)
