"""How true does this phone measure from here? A card to print, a bow laid on its lines, and what came out of it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date
from functools import partial
from pathlib import Path

from PySide6.QtCore import QByteArray
from PySide6.QtSvgWidgets import QSvgWidget
from PySide6.QtWidgets import (
    QDialog,
    QDoubleSpinBox,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from dolcezza.app.printing import write_page
from dolcezza.app.theme.words import day_words, fault_words, spoken, tr
from dolcezza.app.widgets.parts import empty, faint, label, scroll_column, side_card
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.core.check.card import RULER_MM
from dolcezza.core.check.compare import CheckResult
from dolcezza.core.check.kept import PhoneCheck
from dolcezza.core.instrument.catalog import InstrumentSpec
from dolcezza.reports.check_card import PAGE_MM, card_svg
from dolcezza.services.phone_checks import RULER_BETWEEN, CheckBook, write_check

PREVIEW_WIDTH, PREVIEW_MM = 300, (8.0, 8.0, 194.0, 150.0)
"""The part of the page that is shown (x, y, width, height), and how wide, px."""
ROW_PX, ROWS, TALLEST = 30, 7, 740


@dataclass(frozen=True)
class CheckSource:
    """What the window works on: the instrument, whether the open video can be checked (``title``, "" = none open), how to make a check of
    it (name and printed ruler in), which check counts for it, and how to say another."""

    spec: InstrumentSpec
    handed: str
    title: str
    check: Callable[[str, float], tuple[CheckResult, PhoneCheck]]
    counts: Callable[[], PhoneCheck | None]
    use: Callable[[PhoneCheck | None], None]


class PhoneCheckWindow(QDialog):
    """Works on the checks of ``book``. ``result`` and ``found``: what came out of the open video, None before it was asked."""

    def __init__(self, source: CheckSource, book: CheckBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self.setWindowTitle(tr("Check the phone"))
        self._source, self._book = source, book
        self.result_: CheckResult | None = None
        self.found: PhoneCheck | None = None
        across = QHBoxLayout(self)
        across.setContentsMargins(20, 16, 20, 14)
        across.setSpacing(18)
        card, left = side_card(PREVIEW_WIDTH + 40)
        self._fill_card(left)
        across.addWidget(card)
        right = QVBoxLayout()
        right.setSpacing(7)
        across.addLayout(right, 1)
        self._fill_result(right)
        self.setMaximumHeight(TALLEST)
        self.resize(1200, TALLEST)
        self._reload()

    def _fill_card(self, box: QVBoxLayout) -> None:
        box.addWidget(label(tr("1  The card"), "heading"))
        self._svg = card_svg(self._source.spec, spoken(), handed=self._source.handed)
        picture = QSvgWidget()
        whole = f'viewBox="0 0 {PAGE_MM[0]:g} {PAGE_MM[1]:g}"'
        part = f'viewBox="{" ".join(f"{v:g}" for v in PREVIEW_MM)}"'
        picture.load(QByteArray(self._svg.replace(whole, part).encode()))
        picture.setFixedSize(PREVIEW_WIDTH, round(PREVIEW_WIDTH * PREVIEW_MM[3] / PREVIEW_MM[2]))
        picture.setAccessibleName(tr("The card: lines at three angles, near the bridge and far from it"))
        box.addWidget(picture)
        self.print_button = QPushButton(tr("The card as PDF…"))
        self.print_button.clicked.connect(self._ask_print)
        box.addWidget(self.print_button)
        line = QHBoxLayout()
        line.addWidget(faint(tr("Its printed ruler measures")), 1)
        self.ruler = QDoubleSpinBox()
        self.ruler.setRange(*RULER_BETWEEN)
        self.ruler.setDecimals(1)
        self.ruler.setSuffix(tr(" mm"))
        self.ruler.setValue(RULER_MM)
        self.ruler.setAccessibleName(tr("Length of the printed ruler"))
        line.addWidget(self.ruler)
        box.addLayout(line)
        box.addStretch(1)

    def _fill_result(self, box: QVBoxLayout) -> None:
        box.addWidget(label(tr("2  Lay the bow on the lines, and film it"), "heading"))
        how = tr(
            "Slide the card under the strings, its edge against the bridge. On a middle string lay the bow along 0°, +10° and −10° near the"
            " bridge, then along the same three far from it: a full second each, lifted between them. Film it from where the phone always"
            " stands, open the video here and analyse it like any lesson."
        )
        box.addWidget(label(how))
        box.addWidget(label(tr("3  What came out"), "heading"))
        line = QHBoxLayout()
        self.name = QLineEdit()
        self.name.setPlaceholderText(tr("which phone, and where it stands: “my phone, music stand by the window”"))
        self.name.setAccessibleName(tr("The phone and its place"))
        self.go = QPushButton(tr("Check it with the open video"))
        self.go.setObjectName("main")
        self.go.clicked.connect(self.check)
        line.addWidget(self.name, 1)
        line.addWidget(self.go)
        box.addLayout(line)
        self.said = label("")
        box.addWidget(self.said)
        self.table = QTableWidget(0, 4)
        self.table.setHorizontalHeaderLabels([tr("Line"), tr("Measured"), tr("Angle off"), tr("Contact point off")])
        self.table.verticalHeader().hide()
        self.table.horizontalHeader().setStretchLastSection(True)
        self.table.setFixedHeight(ROW_PX * ROWS)
        self.table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.table.setAccessibleName(tr("The holds"))
        box.addWidget(self.table)
        line = QHBoxLayout()
        self.keep_button = QPushButton(tr("Keep this check"))
        self.keep_button.clicked.connect(self.keep)
        self.write_button = QPushButton(tr("The figures as a file…"))
        self.write_button.clicked.connect(self._ask_write)
        line.addWidget(self.keep_button)
        line.addWidget(self.write_button)
        line.addStretch(1)
        box.addLayout(line)
        box.addWidget(label(tr("Checks that are kept"), "heading"))
        area, self.kept = scroll_column()
        box.addWidget(area, 1)
        self.close_button = QPushButton(tr("Back to the desk (Esc)"))
        self.close_button.clicked.connect(self.close)
        line = QHBoxLayout()
        line.addStretch(1)
        line.addWidget(self.close_button)
        box.addLayout(line)

    def check(self) -> None:
        """Make the check of the open video."""
        try:
            self.result_, self.found = self._source.check(self.name.text().strip(), self.ruler.value())
        except DolcezzaError as error:
            self.result_ = self.found = None
            self.said.setText(fault_words(error))
        else:
            self.said.setText(spoken().sentences(self.result_.messages))
        self._reload()

    def keep(self) -> None:
        """Keep what came out, under the name of phone and place."""
        if self.found is None:
            return
        try:
            self._book.keep(replace(self.found, name=self.name.text().strip()))
        except DolcezzaError as error:
            self.said.setText(fault_words(error))
            self.name.setFocus()
            return
        self._reload()

    def write(self, path: Path) -> None:
        """Write the figures alone."""
        if self.found is not None and self.result_ is not None:
            self._say_if_not(partial(write_check, replace(self.found, name=self.name.text().strip()), self.result_, path))

    def print_card(self, path: Path) -> None:
        """Write the card as PDF."""
        self._say_if_not(partial(write_page, self._svg, path, title=tr("Check card")))

    def _say_if_not(self, do: Callable[[], object]) -> None:
        try:
            do()
        except DolcezzaError as error:
            self.said.setText(fault_words(error))

    def _ask_print(self) -> None:
        chosen, _ = QFileDialog.getSaveFileName(self, tr("The card as PDF"), "check-card.pdf", "PDF (*.pdf)")
        if chosen:
            self.print_card(Path(chosen))

    def _ask_write(self) -> None:
        chosen, _ = QFileDialog.getSaveFileName(self, tr("The figures as a file"), "check.json", "JSON (*.json)")
        if chosen:
            self.write(Path(chosen))

    def _reload(self) -> None:
        self.go.setEnabled(bool(self._source.title))
        if not self._source.title and not self.said.text():
            self.said.setText(tr("No analysed video is open. Open the video of the bow on the card, analyse it, and come back."))
        self.keep_button.setEnabled(self.found is not None)
        self.write_button.setEnabled(self.found is not None)
        self._fill_table()
        empty(self.kept)
        for check in self._book.checks:
            self.kept.addWidget(self._row(check))
        if not self._book.checks:
            self.kept.addWidget(faint(tr("None yet.")))
        self.kept.addStretch(1)

    def _fill_table(self) -> None:
        rows = self.result_.rows if self.result_ is not None else ()
        self.table.setRowCount(len(rows))
        words = spoken()
        for k, row in enumerate(rows):
            hold = row.hold
            cells = [
                f"{words.number(row.asked.angle_deg, signed=True)}°, {words.number(row.asked.contact_mm)} mm",
                f"{words.show('bow_angle', hold.angle_deg, hold.angle_sd_deg)}, "
                f"{words.show('contact_point', hold.contact_mm, hold.contact_sd_mm)}",
                f"{words.number(row.off_deg, 1, signed=True)}°" + (tr(" (not along the line)") if row.left_out else ""),
                f"{words.number(row.off_mm, 1, signed=True)} mm",
            ]
            for column, text in enumerate(cells):
                self.table.setItem(k, column, QTableWidgetItem(text))
        self.table.resizeColumnsToContents()
        self.table.horizontalHeader().setStretchLastSection(True)

    def _row(self, check: PhoneCheck) -> QWidget:
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        counts = self._source.counts() == check
        told = tr("{0}, {1}, {2}: within {3}° and {4} mm").format(
            check.name, check.instrument, day_words(date.fromisoformat(check.day)), spoken().number(check.within_deg, 1),
            spoken().number(check.within_mm, 1),
        )  # fmt: skip
        line.addWidget(label(told), 1)
        use = QPushButton(tr("No longer use it here") if counts else tr("Use it for this video"))
        use.setEnabled(bool(self._source.title))
        use.clicked.connect(partial(self.use, None if counts else check))
        remove = QPushButton(tr("Remove"))
        remove.setAccessibleName(tr("Remove the check {0}").format(check.name))
        remove.clicked.connect(partial(self.forget, check))
        line.addWidget(use)
        line.addWidget(remove)
        return row

    def use(self, check: PhoneCheck | None) -> None:
        """Say that a check counts for the open video, or none."""
        self._source.use(check)
        self.said.setText(tr("It counts when the video is analysed again.") if check is not None else tr("It no longer counts here."))
        self._reload()

    def forget(self, check: PhoneCheck) -> None:
        """Remove a check that was kept."""
        self._say_if_not(partial(self._book.forget, check))
        self._reload()
