"""Drills to choose from: searched by words, by what was found, by stage; what is chosen stays at the top."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from dolcezza.app.theme.words import mark, spoken, tr
from dolcezza.app.widgets.parts import choice, empty, faint, scroll_column
from dolcezza.core.practice.drills import drills
from dolcezza.core.practice.fitted import Person, fitted
from dolcezza.reports.practice import dose, drill_in

FOUND, STAGE, ALL = "found", "stage", "all"
WHICH = {FOUND: mark("for what was found"), STAGE: mark("open at this stage"), ALL: mark("all drills")}
HEIGHT_PX = 190


class DrillPicker(QWidget):
    """``chosen``: keys in the order of the drills. Emits ``changed()``."""

    changed = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._proposed: list[str] = []
        self._open: list[str] = []
        self._chosen: set[str] = set()
        self._person = Person()
        self.checks: dict[str, QCheckBox] = {}
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        line = QHBoxLayout()
        self.search = QLineEdit()
        self.search.setPlaceholderText(tr("search"))
        self.search.setAccessibleName(tr("Search the drills"))
        self.search.textChanged.connect(self._fill)
        self.which = choice(tr("Which drills"), WHICH)
        self.which.activated.connect(lambda _k: self._fill())
        line.addWidget(self.search, 1)
        line.addWidget(self.which, 1)
        box.addLayout(line)
        area, self._list = scroll_column()
        self._list.setSpacing(1)
        area.setFixedHeight(HEIGHT_PX)
        box.addWidget(area)

    def show_drills(self, proposed: Sequence[str], opened: Sequence[str], person: Person) -> None:
        """Drills for what was found, which are chosen at first; those that are open at the student's stage; and whose doses."""
        if list(proposed) != self._proposed or list(opened) != self._open:
            self._chosen = set(proposed)
        self._proposed, self._open, self._person = list(proposed), list(opened), person
        if not proposed and self.which.currentData() == FOUND:
            self.which.setCurrentIndex(self.which.findData(STAGE))
        self._fill()

    @property
    def chosen(self) -> list[str]:
        """What is ticked: what was found first, then the order of the drills."""
        order = [*self._proposed, *drills()]
        return [k for k in dict.fromkeys(order) if k in self._chosen]

    def _fill(self) -> None:
        words = self.search.text().casefold().split()
        which = self.which.currentData()
        keys = {FOUND: self._proposed, STAGE: [*self._proposed, *self._open], ALL: list(drills())}[which]
        keys = list(dict.fromkeys([*(k for k in self.chosen if k not in keys), *keys]))
        empty(self._list)
        self.checks = {}
        for key in keys:
            usual = drill_in(drills()[key], spoken())
            text = f"{usual.name} {usual.place} {usual.how['adult']}".casefold()
            if not all(w in text for w in words):
                continue
            own, said = fitted(usual, self._person)
            check = QCheckBox(tr("{0}, {1:g} min").format(usual.name, (own or usual).minutes))
            check.setChecked(key in self._chosen)
            check.setToolTip(f"{dose(own or usual, spoken())}. {usual.how['adult']}" + (f"\n{spoken().sentence(said)}" if said else ""))
            if own is None:
                check.setText(tr("{0} (not now)").format(check.text()))
            check.toggled.connect(lambda on, which=key: self._tick(which, on))
            self.checks[key] = check
            self._list.addWidget(check)
        if not self.checks:
            self._list.addWidget(faint(tr("No drill of these words; choose “all drills”.")))
        self._list.addStretch(1)

    def _tick(self, key: str, on: bool) -> None:
        (self._chosen.add if on else self._chosen.discard)(key)
        self.changed.emit()
