"""The hold: building it, what the teacher sees of it, its pictures, and what is ready before; four pages under one step."""

from __future__ import annotations

from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from dolcezza.app.theme.palette import Palette
from dolcezza.app.theme.words import mark, tr
from dolcezza.app.views.hand import HandView
from dolcezza.app.views.hold_answers import HoldAnswersView
from dolcezza.app.views.hold_build import HoldBuildView
from dolcezza.app.views.hold_ready import HoldReadyView

BUILD, ANSWERS, PICTURES, READY = range(4)
NAMES = (mark("Build it"), mark("What you see"), mark("Pictures"), mark("Before playing"))


class HoldView(QWidget):
    """Four pages, chosen by the buttons above them."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        down = QVBoxLayout(self)
        down.setContentsMargins(0, 0, 0, 0)
        down.setSpacing(2)
        row = QHBoxLayout()
        row.setContentsMargins(18, 4, 18, 0)
        self.buttons: list[QPushButton] = []
        group = QButtonGroup(self)
        for k, words in enumerate(NAMES):
            button = QPushButton(tr(words))
            button.setObjectName("chip")
            button.setCheckable(True)
            button.clicked.connect(lambda _c=False, which=k: self.show_page(which))
            group.addButton(button)
            row.addWidget(button)
            self.buttons.append(button)
        row.addStretch(1)
        down.addLayout(row)
        self.stack = QStackedWidget()
        self.build, self.answers, self.pictures, self.ready = HoldBuildView(), HoldAnswersView(), HandView(), HoldReadyView()
        for page in (self.build, self.answers, self.pictures, self.ready):
            self.stack.addWidget(page)
        down.addWidget(self.stack, 1)
        self.show_page(BUILD)

    def show_page(self, which: int) -> None:
        """One of the four pages."""
        self.stack.setCurrentIndex(which)
        self.buttons[which].setChecked(True)

    def recolour(self, palette: Palette) -> None:
        """Another theme."""
        self.build.recolour(palette)
        self.pictures.sketch.palette_ = palette
        self.pictures.sketch.update()
