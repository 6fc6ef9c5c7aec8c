"""What the bow hand did over a video: a button that has it followed, and what that told, each to be kept as the teacher's answer."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from dolcezza.app.theme.words import day_words, mark, tr
from dolcezza.app.widgets.parts import empty, faint, label
from dolcezza.core.hold.followed import Followed, HandMove, answers_of

SHOWN = {
    HandMove.INDEX: mark("The index finger leaves the stick on the up-bow"),
    HandMove.LITTLE: mark("The little finger leaves the stick on the up-bow"),
    HandMove.SLIDES: mark("The hand slides along the stick"),
}
ABSENT = {
    HandMove.INDEX: mark("The index finger keeps the stick on the up-bow"),
    HandMove.LITTLE: mark("The little finger keeps the stick on the up-bow"),
    HandMove.SLIDES: mark("The hand keeps its place along the stick"),
}
UNTOLD = {
    HandMove.INDEX: mark("Whether the index finger leaves the stick cannot be told from this video"),
    HandMove.LITTLE: mark("Whether the little finger leaves the stick cannot be told from this video"),
    HandMove.SLIDES: mark("Whether the hand slides cannot be told from this video"),
}
WAITING = mark("With a video open, the hand is followed through every stroke: up-bows beside down-bows, the first strokes beside the last.")


class HandOverTake(QFrame):
    """Emits ``wanted()`` and ``kept(question, answer, day)``."""

    wanted = Signal()
    kept = Signal(str, str, object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("card")
        box = QVBoxLayout(self)
        box.setContentsMargins(14, 9, 14, 9)
        top = QHBoxLayout()
        top.addWidget(label(tr("The hand over the video"), "heading"), 1)
        self.button = QPushButton()
        self.button.clicked.connect(self.wanted)
        top.addWidget(self.button)
        box.addLayout(top)
        self._rows = QVBoxLayout()
        self._rows.setSpacing(4)
        box.addLayout(self._rows)
        self.keep_buttons: dict[tuple[str, str], QPushButton] = {}
        self.show_nothing()

    def show_nothing(self) -> None:
        """Nothing has been followed yet."""
        self._clear()
        self._rows.addWidget(faint(tr(WAITING)))

    def _clear(self) -> None:
        empty(self._rows)
        self.keep_buttons.clear()
        self.button.setEnabled(True)
        self.button.setText(tr("Follow the hand"))

    def show_busy(self) -> None:
        """It is being followed."""
        self.show_nothing()
        self.button.setEnabled(False)
        self.button.setText(tr("Following the hand…"))

    def show_followed(self, told: Sequence[Followed], day: date) -> None:
        """What was told of the video of a ``day``, with what may be kept of it."""
        self._clear()
        if not told:
            self._rows.addWidget(faint(tr("Too few strokes show the hand: play at least four down-bows and four up-bows on each string.")))
        proposed = answers_of(told)
        for one in told:
            words = SHOWN if one.shown else ABSENT if one.absent else UNTOLD
            row = QWidget()
            line = QHBoxLayout(row)
            line.setContentsMargins(0, 0, 0, 0)
            column = QVBoxLayout()
            column.setSpacing(0)
            column.addWidget(label(f"{'●' if one.shown else '○'} {tr(words[one.what])}"))
            column.addWidget(faint(_figure(one)))
            line.addLayout(column, 1)
            self._rows.addWidget(row)
            answers = proposed.get(one.what, [])
            if answers:
                button = QPushButton(tr("Keep as answer"))
                button.setToolTip(tr("Kept as what you see, of {0}; change it at any time").format(day_words(day, "%d %b %Y")))
                button.setAccessibleName(f"{button.text()}: {tr(words[one.what])}")
                button.clicked.connect(lambda _c=False, each=answers: self._keep(each, day))
                self.keep_buttons[answers[0]] = button
                line.addWidget(button)

    def _keep(self, answers: Sequence[tuple[str, str]], day: date) -> None:
        for question, answer in answers:
            self.kept.emit(question, answer, day)


def _figure(one: Followed) -> str:
    """The figure with its ± and what it is compared with."""
    if one.what is HandMove.SLIDES:
        way = tr("towards the head") if one.value > 0 else tr("towards the screw")
        return tr("{0} ± {1} mm {2} from the first stroke to the last of {3}").format(
            f"{abs(one.value):.0f}", f"{one.sd:.0f}", way, one.strokes
        )
    return tr("{0} ± {1} % of the hand farther off than on the down-bow, in {2} strokes; it counts from {3} % on").format(
        f"{100 * one.value:.0f}", f"{100 * one.sd:.0f}", one.strokes, f"{100 * one.limit:.0f}"
    )
