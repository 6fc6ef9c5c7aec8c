"""Small buttons for the moments of a take that matter to its landmarks: marked, zero, and where the instrument is lost."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Signal, SignalInstance
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from dolcezza.app.theme.words import tr
from dolcezza.core.base.units import clock

MOST_LOST = 2
"""So many lost stretches are shown, the longest; the rest are found from there."""


class MomentChips(QWidget):
    """Emits ``marked(t_s)`` for a marked moment, ``go_to(t_s)`` for any other."""

    marked = Signal(float)
    go_to = Signal(float)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(6)

    @property
    def chips(self) -> list[QPushButton]:
        """The buttons that are shown."""
        widgets = (item.widget() for k in range(self._row.count()) if (item := self._row.itemAt(k)) is not None)
        return [w for w in widgets if isinstance(w, QPushButton)]

    def show_moments(self, marked: list[float], at: int | None, zero: tuple[float, ...], lost: list[tuple[float, float]]) -> None:
        """One button for each moment; number ``at`` of the marked ones is checked. A single marked moment needs none."""
        while (item := self._row.takeAt(0)) is not None:
            if (old := item.widget()) is not None:
                old.deleteLater()
        for k, t_s in enumerate(marked if len(marked) > 1 else []):
            button = self._chip(clock(t_s), tr("Calibration frame {0}").format(clock(t_s)), self.marked, t_s)
            button.setCheckable(True)
            button.setChecked(k == at)
        for t_s in zero:
            self._chip(tr("zero {0}").format(clock(t_s)), tr("Zero at {0}").format(clock(t_s)), self.go_to, t_s)
        longest = sorted(lost, key=lambda s: s[0] - s[1])[:MOST_LOST]
        for start, end in sorted(longest):
            middle = 0.5 * (start + end)
            self._chip(tr("lost {0}").format(clock(middle)), tr("The instrument is lost at {0}").format(clock(middle)), self.go_to, middle)
        self._row.addStretch(1)
        self.setVisible(self._row.count() > 1)

    def _chip(self, words: str, name: str, signal: SignalInstance, t_s: float) -> QPushButton:
        button = QPushButton(words)
        button.setObjectName("chip")
        button.setAccessibleName(name)
        button.clicked.connect(partial(signal.emit, t_s))
        self._row.addWidget(button)
        return button
