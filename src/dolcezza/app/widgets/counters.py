"""Running counters: set the hand and keep it for ten, the tally to a hundred, the ladder from the balance point to the frog."""

from __future__ import annotations

from datetime import date

from PySide6.QtCore import QTimer, Signal
from PySide6.QtWidgets import QHBoxLayout, QProgressBar, QPushButton, QVBoxLayout, QWidget

from dolcezza.app.theme.words import day_words, tr
from dolcezza.app.widgets.parts import faint, label
from dolcezza.core.practice.plan import SETTINGS_TO_UNLOCK, ladder, unlock_day

TEN = 10
SECOND_MS = 1000


class TenCount(QWidget):
    """Counts a set hand to ten; each ten is one setting. Emits ``kept()``."""

    kept = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.timer = QTimer(self)
        self.timer.setInterval(SECOND_MS)
        self.timer.timeout.connect(self._count)
        self._counted = self._sets = 0
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        line = QHBoxLayout()
        self.button = QPushButton(tr("Count to ten"))
        self.button.setToolTip(tr("Set the hand, keep it for ten; each ten is one setting. Press again to stop."))
        self.button.clicked.connect(self._toggle)
        self.words = label("0", "figure")
        line.addWidget(self.button)
        line.addWidget(self.words, 1)
        box.addLayout(line)
        self.tally = QProgressBar()
        self.tally.setRange(0, SETTINGS_TO_UNLOCK)
        self.tally.setTextVisible(False)
        self.tally.setFixedHeight(10)
        self.tally.setAccessibleName(tr("Settings so far"))
        box.addWidget(self.tally)
        self.tally_words = label("")
        box.addWidget(self.tally_words)

    def show_tally(self, settings: int, today: date, opens: str) -> None:
        """Settings so far, and what the hundredth opens."""
        self.tally.setValue(min(settings, SETTINGS_TO_UNLOCK))
        if settings >= SETTINGS_TO_UNLOCK:
            self.tally_words.setText(tr("{0} settings: {1} is open.").format(settings, opens))
        else:
            when = day_words(unlock_day(settings, today), "%d %B")
            left = tr("{0} of {1} settings").format(settings, SETTINGS_TO_UNLOCK)
            self.tally_words.setText(tr("{0}; at ten a day {1} opens on {2}.").format(left, opens, when))

    def _toggle(self) -> None:
        if self.timer.isActive():
            self.stop()
            return
        self._counted = 0
        self.words.setText("0")
        self.button.setText(tr("Stop"))
        self.timer.start()

    def _count(self) -> None:
        self._counted += 1
        self.words.setText(str(self._counted))
        if self._counted >= TEN:
            self.stop()
            self._sets += 1
            self.words.setText(tr("{0}: one setting, {1} just now").format(TEN, self._sets))
            self.kept.emit()

    def stop(self) -> None:
        """Leave off counting."""
        self.timer.stop()
        self.button.setText(tr("Count to ten"))


class LadderTimer(QWidget):
    """Climbs from the balance point to the frog, half a minute a place: where the hand is now, how long still, where it goes next. Emits
    ``climbed(places, minutes)`` at the frog, or when it is stopped after the first place."""

    climbed = Signal(int, float)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.timer = QTimer(self)
        self.timer.setInterval(SECOND_MS)
        self.timer.timeout.connect(self._tick)
        self._places: list[tuple[float, float]] = []
        self._at, self._left = 0, 0.0
        self.balance_cm = 19.0
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        line = QHBoxLayout()
        self.button = QPushButton(tr("Start the ladder"))
        self.button.clicked.connect(self._toggle)
        self.now = label("", "figure")
        line.addWidget(self.button)
        line.addWidget(self.now, 1)
        box.addLayout(line)
        self.words = faint("")
        box.addWidget(self.words)
        self.show_balance(self.balance_cm)

    def show_balance(self, balance_cm: float) -> None:
        """The balance point that the ladder begins at, cm from the frog."""
        self.balance_cm = balance_cm
        steps = ladder(balance_cm)
        places = " → ".join(f"{cm:g}" for cm, _ in steps[:5]) + (" → … → 0" if len(steps) > 5 else "")
        total = sum(s for _, s in steps) / 60
        words = tr("{0} places of half a minute, {1:.0f} minutes: {2} cm from the frog. Rest after it.")
        self.words.setText(words.format(len(steps), total, places))

    def _toggle(self) -> None:
        if self.timer.isActive():
            self._end()
            return
        self._places = ladder(self.balance_cm)
        self._at, self._left = 0, self._places[0][1]
        self.button.setText(tr("Stop"))
        self.timer.start()
        self._show()

    def _tick(self) -> None:
        self._left -= 1.0
        if self._left <= 0:
            self._at += 1
            if self._at >= len(self._places):
                self._end()
                return
            self._left = self._places[self._at][1]
        self._show()

    def _show(self) -> None:
        here = tr("{0:g} cm").format(self._places[self._at][0]) if self._places[self._at][0] else tr("at the frog")
        after = self._places[self._at + 1][0] if self._at + 1 < len(self._places) else None
        following = tr("then rest") if after is None else tr("then {0:g} cm").format(after) if after else tr("then the frog")
        self.now.setText(tr("{0}: {1:.0f} s, {2}").format(here, self._left, following))

    def _end(self) -> None:
        self.stop()
        if self._at > 0:
            seconds = sum(s for _, s in self._places[: self._at])
            self.climbed.emit(self._at, seconds / 60)

    def stop(self) -> None:
        """Leave off climbing."""
        self.timer.stop()
        self.button.setText(tr("Start the ladder"))
        self.now.setText("")
