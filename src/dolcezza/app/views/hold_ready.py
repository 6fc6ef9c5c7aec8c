"""Before the first note: what is made ready, ticked for today, and the four open strings by a recording."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from dolcezza.app.theme.words import mark, spoken, tr
from dolcezza.app.widgets.parts import empty, faint, label, scroll_column
from dolcezza.core.sound.open_strings import OpenString, Turn

TURNS = {
    Turn.NOTHING: mark("in tune"),
    Turn.TIGHTEN: mark("a little low: fine tuner tighter"),
    Turn.LOOSEN: mark("a little high: fine tuner looser"),
    Turn.PEG_UP: mark("much too low: peg tighter, with small turns"),
    Turn.PEG_DOWN: mark("much too high: peg looser, with small turns"),
}
PARTS = {
    "materials": mark("To have at hand"), "bow": mark("Bow and strings"), "player": mark("Player and instrument"),
    "start": mark("Before the bow moves"), "after": mark("Afterwards"),
}  # fmt: skip
RECORD = mark("Record the four open strings one after the other, a second or two each, and open the file: sound or video.")


class HoldReadyView(QWidget):
    """Emits ``ticked(key, on)``, ``recording_wanted()``, ``listen_to_take()``, ``photo_wanted()`` and ``print_wanted()``."""

    ticked = Signal(str, bool)
    recording_wanted = Signal()
    listen_to_take = Signal()
    photo_wanted = Signal()
    print_wanted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self.checks: dict[str, QCheckBox] = {}
        across = QHBoxLayout(self)
        across.setContentsMargins(18, 4, 18, 10)
        across.setSpacing(16)
        left = QVBoxLayout()
        top = QHBoxLayout()
        self.head = label(tr("Before the first note"), "title")
        top.addWidget(self.head, 1)
        self.print_button = QPushButton(tr("Print…"))
        self.print_button.setToolTip(tr("This list and the steps of the hold, as a page to tick by hand"))
        self.print_button.clicked.connect(self.print_wanted)
        top.addWidget(self.print_button)
        left.addLayout(top)
        area, self._list = scroll_column()
        self._list.setSpacing(5)
        left.addWidget(area, 1)
        across.addLayout(left, 5)
        side = QVBoxLayout()
        frame = QFrame()
        frame.setObjectName("card")
        box = QVBoxLayout(frame)
        box.setContentsMargins(14, 10, 14, 12)
        box.addWidget(label(tr("Tuning"), "heading"))
        box.addWidget(faint(tr(RECORD)))
        line = QHBoxLayout()
        self.open_button = QPushButton(tr("Open a recording…"))
        self.open_button.clicked.connect(self.recording_wanted)
        self.take_button = QPushButton(tr("From this video"))
        self.take_button.clicked.connect(self.listen_to_take)
        line.addWidget(self.open_button)
        line.addWidget(self.take_button)
        line.addStretch(1)
        box.addLayout(line)
        self._strings = QVBoxLayout()
        box.addLayout(self._strings)
        box.addWidget(faint(tr("A string that is turned up pulls its neighbours down: listen again when all four are done.")))
        side.addWidget(frame)
        bow = QFrame()
        bow.setObjectName("card")
        inner = QVBoxLayout(bow)
        inner.setContentsMargins(14, 10, 14, 12)
        inner.addWidget(label(tr("Hair and stick"), "heading"))
        what = tr("A photo of the strung bow from the side says how far the two are apart, in pencils, and how the stick bends.")
        inner.addWidget(faint(what))
        self.photo_button = QPushButton(tr("Open a photo…"))
        self.photo_button.clicked.connect(self.photo_wanted)
        row = QHBoxLayout()
        row.addWidget(self.photo_button)
        row.addStretch(1)
        inner.addLayout(row)
        side.addWidget(bow)
        side.addStretch(1)
        across.addLayout(side, 4)

    def show_list(self, parts: Mapping[str, Mapping[str, str]], done: Sequence[str], *, take: bool) -> None:
        """What is to be ready by part, and what is ticked today; ``take``: whether a video is open."""
        empty(self._list)
        self.checks = {}
        for part, items in parts.items():
            self._list.addWidget(label(tr(PARTS[part]), "heading"))
            for key, words in items.items():
                check = QCheckBox()
                check.setAccessibleName(words)
                check.setChecked(key in done)
                check.toggled.connect(lambda on, which=key: self.ticked.emit(which, on))
                self._list.addWidget(self._line(check, words))
                self.checks[key] = check
        self._list.addStretch(1)
        ready = sum(key in done for key in self.checks)
        self.head.setText(tr("Before the first note: {0} of {1} ready").format(ready, len(self.checks)))
        self.take_button.setEnabled(take)

    @staticmethod
    def _line(check: QCheckBox, words: str) -> QFrame:
        frame = QFrame()
        frame.setObjectName("card")
        line = QHBoxLayout(frame)
        line.setContentsMargins(10, 6, 10, 6)
        line.addWidget(check)
        line.addWidget(label(words), 1)
        return frame

    def show_strings(self, heard: Sequence[OpenString], names: str) -> None:
        """Strings that were heard, bass first, by their ``names``."""
        empty(self._strings)
        number = spoken().number
        for s in heard:
            words = tr("{0}: {1} Hz, {2} cents ± {3}, {4}").format(
                names[s.place], number(s.hz, 1), number(s.cents, signed=True), number(s.sd), tr(TURNS[s.turn])
            )
            self._strings.addWidget(label(f"{'✓' if s.turn is Turn.NOTHING else '●'}  {words}", "heading"))
        missing = [n for k, n in enumerate(names) if k not in {s.place for s in heard}]
        if missing:
            self._strings.addWidget(faint(tr("Not heard: {0}.").format(", ".join(missing))))
