"""Printed notes: a scale or a piece engraved, the bow planned under its notes, and how it was played on it."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import QMarginsF, Qt, QTimer, Signal
from PySide6.QtGui import QPageLayout, QPageSize, QPainter, QPdfWriter, QResizeEvent
from PySide6.QtWidgets import QCheckBox, QFrame, QHBoxLayout, QPushButton, QScrollArea, QSpinBox, QVBoxLayout, QWidget

from dolcezza.app.theme.palette import Palette
from dolcezza.app.theme.words import spoken, tr
from dolcezza.app.widgets.parts import Row, choice, empty, faint, label, scroll_column
from dolcezza.app.widgets.score_sheet import ScoreSheet, SheetBow
from dolcezza.core.assignment.plan import Plan
from dolcezza.core.score.engraving import Engraved
from dolcezza.core.score.scales import KEYS, PATTERNS

WAIT_MS = 200
PAPER_PX = 980


class NotationView(QWidget):
    """Emits ``file_wanted()``, ``scale_wanted(key, pattern, minor)``, ``piece_wanted(name)``, ``remove_wanted()``, ``changed()`` (tempo,
    bars, staff), ``way_chosen(k)``, ``share_wanted(bow, share)``, ``note_chosen(bow, note)``, ``save_wanted()``, ``print_wanted()``,
    ``assign_wanted()``, ``resized()``."""

    file_wanted = Signal()
    scale_wanted = Signal(str, str, bool)
    piece_wanted = Signal(str)
    remove_wanted = Signal()
    changed = Signal()
    way_chosen = Signal(int)
    share_wanted = Signal(int, float)
    note_chosen = Signal(int, int)
    save_wanted = Signal()
    print_wanted = Signal()
    assign_wanted = Signal()
    resized = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self._clock = QTimer(self)
        self._clock.setSingleShot(True)
        self._clock.setInterval(WAIT_MS)
        self._clock.timeout.connect(self.changed)
        self._sized = QTimer(self)
        self._sized.setSingleShot(True)
        self._sized.setInterval(WAIT_MS)
        self._sized.timeout.connect(self.resized)
        across = QHBoxLayout(self)
        across.setContentsMargins(18, 6, 18, 12)
        across.setSpacing(16)
        left = QVBoxLayout()
        left.setSpacing(5)
        self.head = label("", "title")
        self.advice = label("")
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setFrameShape(QFrame.Shape.NoFrame)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.sheet = ScoreSheet()
        self.sheet.note_chosen.connect(self.note_chosen)
        self.sheet.share_wanted.connect(self.share_wanted)
        self.area.setWidget(self.sheet)
        self.played = label("")
        self.note_words = faint(tr("Click a note: how it was played, and its frame. Drag the end of a bow to give it more or less."))
        for widget in (self.head, self.advice):
            left.addWidget(widget)
        left.addWidget(self.area, 1)
        left.addWidget(self.played)
        left.addWidget(self.note_words)
        across.addLayout(left, 1)
        across.addWidget(self._make_side())

    def _make_side(self) -> QFrame:
        side = QFrame()
        side.setObjectName("card")
        side.setFixedWidth(352)
        box = QVBoxLayout(side)
        box.setContentsMargins(14, 11, 14, 12)
        box.setSpacing(7)
        box.addWidget(label(tr("Scale in two octaves"), "heading"))
        row = QHBoxLayout()
        self.key = choice(tr("Key"), {name: name for name in KEYS})
        self.minor = QCheckBox(tr("minor"))
        row.addWidget(self.key, 1)
        row.addWidget(self.minor)
        box.addLayout(row)
        self.pattern = choice(tr("Bow pattern"), {p.name: p.name for p in PATTERNS})
        box.addWidget(self.pattern)
        for chooser in (self.key, self.pattern):
            chooser.activated.connect(self._ask_scale)
        self.minor.toggled.connect(self._ask_scale)
        box.addWidget(label(tr("Piece"), "heading"))
        row = QHBoxLayout()
        self.pieces = choice(tr("Kept pieces"), {})
        self.pieces.activated.connect(lambda _k: self.piece_wanted.emit(self.pieces.currentData()))
        self.open_button = QPushButton(tr("Open a file…"))
        self.open_button.clicked.connect(self.file_wanted)
        row.addWidget(self.pieces, 1)
        row.addWidget(self.open_button)
        box.addLayout(row)
        row = QHBoxLayout()
        self.staff = choice(tr("Staff"), {})
        self.staff.activated.connect(lambda _k: self.changed.emit())
        self.remove_button = QPushButton(tr("Remove"))
        self.remove_button.clicked.connect(self.remove_wanted)
        row.addWidget(self.staff, 1)
        row.addWidget(self.remove_button)
        box.addLayout(row)
        row = QHBoxLayout()
        self.tempo = self._number(tr("Quarter notes a minute"), 20, 240, 60)
        self.first, self.last = self._number(tr("From bar"), 1, 999, 1), self._number(tr("To bar"), 1, 999, 999)
        for words, spin in ((tr("Tempo"), self.tempo), (tr("bars"), self.first), (tr("to"), self.last)):
            row.addWidget(faint(words))
            row.addWidget(spin)
        box.addLayout(row)
        self.fault = label("", "problem")
        box.addWidget(self.fault)
        box.addWidget(label(tr("Ways to divide the bow"), "heading"))
        area, self._ways = scroll_column()
        box.addWidget(area, 1)
        self.summary = faint("")
        box.addWidget(self.summary)
        row = QHBoxLayout()
        self.save_button, self.print_button = QPushButton(tr("Save as MusicXML…")), QPushButton(tr("Print as PDF…"))
        self.save_button.clicked.connect(self.save_wanted)
        self.print_button.clicked.connect(self.print_wanted)
        row.addWidget(self.save_button)
        row.addWidget(self.print_button)
        box.addLayout(row)
        self.assign_button = QPushButton(tr("Assign to this video"))
        self.assign_button.setObjectName("main")
        self.assign_button.clicked.connect(self.assign_wanted)
        box.addWidget(self.assign_button)
        return side

    def _number(self, name: str, low: int, high: int, value: int) -> QSpinBox:
        spin = QSpinBox()
        spin.setAccessibleName(name)
        spin.setToolTip(name)
        spin.setRange(low, high)
        spin.setValue(value)
        spin.valueChanged.connect(self._clock.start)
        return spin

    def _ask_scale(self) -> None:
        self.scale_wanted.emit(self.key.currentData(), self.pattern.currentData(), self.minor.isChecked())

    def ask_now(self) -> None:
        """Show the scale that is chosen."""
        self._ask_scale()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._sized.start()

    # what is shown

    def set_pieces(self, names: Sequence[str], now: str) -> None:
        """Pieces that are kept, and which is shown ("" = a scale)."""
        self.pieces.blockSignals(True)
        self.pieces.clear()
        for name in names:
            self.pieces.addItem(name.replace("_", " "), name)
        self.pieces.setCurrentIndex(list(names).index(now) if now in names else -1)
        self.pieces.setEnabled(bool(names))
        self.pieces.blockSignals(False)
        self.remove_button.setEnabled(now in names)

    def set_staves(self, names: Sequence[str]) -> None:
        """The staves of the piece."""
        self.staff.clear()
        for k, name in enumerate(names, 1):
            self.staff.addItem(name, k)
        self.staff.setVisible(len(names) > 1)

    def set_numbers(self, tempo: float, bars: int) -> None:
        """Tempo and bars of what was opened, without telling of a change."""
        for spin, value in ((self.tempo, round(tempo)), (self.first, 1), (self.last, bars)):
            spin.blockSignals(True)
            if spin is not self.tempo:
                spin.setMaximum(max(1, bars))
            spin.setValue(value)
            spin.blockSignals(False)

    def show_notes(self, made: Engraved, dynamics: dict[str, str]) -> None:
        """The engraved part."""
        self.sheet.set_engraved(made, dynamics)

    def show_plans(self, title: str, plans: Sequence[Plan], chosen: int, bows: Sequence[SheetBow], drift: str) -> None:
        """The ways to divide the bow, the chosen one under the notes."""
        self.fault.setText("")
        plan = plans[chosen]
        self.head.setText(title)
        self.advice.setText(" ".join([spoken().sentence(plan.advice), drift]))
        self.summary.setText("\n".join(map(spoken().sentence, plan.warnings)))
        self.sheet.set_bows(bows)
        empty(self._ways)
        for k, way in enumerate(plans):
            fits = tr("stays in the bow") if way.fits else tr("leaves the bow")
            speeds = sorted(b.speed_cm_s for b in way.bows)
            row = Row(
                k, f"{'▸ ' if k == chosen else ''}{tr(way.way)}", [tr("{0}, {1:.0f} to {2:.0f} cm/s").format(fits, speeds[0], speeds[-1])]
            )
            row.across.setContentsMargins(10, 5, 10, 5)
            row.chosen.connect(self.way_chosen)
            self._ways.addWidget(row)
        self._ways.addStretch(1)

    def show_fault(self, sentence: str) -> None:
        """What is wrong; the notes stay as they were."""
        self.fault.setText(sentence)

    def show_played(self, words: str, may_assign: bool) -> None:
        """How the open video was played, in a sentence."""
        self.played.setText(words)
        self.played.setVisible(bool(words))
        self.assign_button.setEnabled(may_assign)
        self.assign_button.setToolTip("" if may_assign else tr("Open an analysed video first"))

    def show_note(self, words: str) -> None:
        """What is said of the note that was chosen."""
        self.note_words.setText(words)

    @property
    def paper_width(self) -> int:
        """How wide the notes may be, px."""
        return max(420, self.area.viewport().width() - 4)

    def print_to(self, path: Path) -> None:
        """The notes with the bow under them, on paper."""
        writer = QPdfWriter(str(path))
        writer.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
        writer.setPageMargins(QMarginsF(12, 14, 12, 14), QPageLayout.Unit.Millimeter)
        writer.setTitle(self.head.text())
        painter = QPainter(writer)
        scale = writer.width() / self.sheet.width()
        painter.scale(scale, scale)
        painter.drawText(2, 14, self.head.text())
        painter.translate(0, 26)
        self.sheet.paint(painter)
        painter.end()

    def recolour(self, palette: Palette) -> None:
        """Another theme."""
        self.sheet.palette_ = palette
        self.sheet.update()
