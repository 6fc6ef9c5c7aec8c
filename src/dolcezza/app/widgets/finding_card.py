"""One finding: the sentence, its figure with ±, the probable cause, the teacher's word."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from dolcezza.app.theme.palette import THEMES
from dolcezza.app.theme.words import mark, show, spoken, tr
from dolcezza.app.widgets.parts import label
from dolcezza.reports.findings import sentence_of
from dolcezza.storage.records import JudgedFinding

FIGURES = {
    ("", "deg"): "bow_angle", ("", "mm"): "contact_point", ("elbow staircase", "deg"): "elbow_level",
    ("elbow behind the back", "deg"): "elbow_level", ("elbow level", "mm"): "elbow_to_bow_plane",
}  # fmt: skip
"""How the figure of a finding is written, by its kind and unit; what has no entry is said by its sentence alone."""
VERDICT_WORDS = {"open": "", "accepted": mark("✓ accepted"), "dismissed": mark("✕ dismissed")}


class FindingCard(QFrame):
    """Emits ``chosen(place)`` and ``judged(place, verdict)``. Enter chooses, A accepts, D dismisses."""

    chosen = Signal(int)
    judged = Signal(int, str)

    def __init__(self, place: int, judged: JudgedFinding, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.place = place
        self.setObjectName("card")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        finding, words = judged.finding, spoken()
        said = sentence_of(judged, words)
        self.setAccessibleName(tr("Finding {0}: {1}").format(place + 1, said))
        self.setToolTip(tr("Click: the picture goes to its worst moment; click again for the next"))
        box = QVBoxLayout(self)
        box.setContentsMargins(13, 10, 13, 9)
        box.setSpacing(5)
        self.sentence = label(said, "heading" if judged.verdict != "dismissed" else "faint")
        box.addWidget(self.sentence)
        quantity = FIGURES.get((finding.kind, finding.unit)) or FIGURES.get(("", finding.unit))
        if quantity is not None:
            limit = show(quantity, finding.limit).lstrip("+")
            figure = tr("{0}, limit {1}").format(show(quantity, finding.value, finding.sd), limit)
            box.addWidget(label(figure + ("" if finding.sure else f"  ·  {words.word('not sure')}"), "" if finding.sure else "problem"))
        box.addWidget(label(words.cause(finding.cause), "faint"))
        row = QHBoxLayout()
        row.setSpacing(6)
        self.verdict = QLabel(tr(VERDICT_WORDS[judged.verdict]))
        row.addWidget(self.verdict, 1)
        self.buttons: dict[str, QPushButton] = {}
        for verdict, label_words in (("accepted", tr("Accept")), ("dismissed", tr("Dismiss")), ("open", tr("Reopen"))):
            if (verdict == "open") == (judged.verdict == "open"):
                continue
            button = QPushButton(label_words)
            button.setToolTip({"accepted": "A", "dismissed": "D", "open": ""}[verdict])
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            button.clicked.connect(getattr(self, f"_say_{verdict}"))
            self.buttons[verdict] = button
            if judged.verdict == "open" or verdict == "open":
                row.addWidget(button)
            else:
                button.hide()
        box.addLayout(row)

    def _say_accepted(self) -> None:
        self.judged.emit(self.place, "accepted")

    def _say_dismissed(self) -> None:
        self.judged.emit(self.place, "dismissed")

    def _say_open(self) -> None:
        self.judged.emit(self.place, "open")

    def mousePressEvent(self, event: QMouseEvent) -> None:
        super().mousePressEvent(event)
        self.chosen.emit(self.place)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.chosen.emit(self.place)
        elif event.key() == Qt.Key.Key_A:
            self._say_accepted()
        elif event.key() == Qt.Key.Key_D:
            self._say_dismissed()
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.mark(True)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.mark(bool(self.property("chosen")))

    def mark(self, on: bool) -> None:
        """Show the card as the chosen one."""
        theme = THEMES.get(str(self.property("theme") or "light"), THEMES["light"])
        self.setStyleSheet(f"QFrame#card {{ border: 2px solid {theme.accent if on else theme.line}; }}")
