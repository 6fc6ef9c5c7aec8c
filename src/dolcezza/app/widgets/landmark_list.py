"""All landmarks of a moment: which are set, and by how much each misses the instrument."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QWidget

from dolcezza.app.theme.words import mark, show, tr
from dolcezza.core.instrument.model import LANDMARK_WORDS
from dolcezza.services.calibration import CalibrationState

FLAG_PX = 3.0
"""The worst landmark is flagged when it misses by more than this."""
ROWS: tuple[tuple[str, tuple[str, ...]], ...] = (
    (mark("bridge"), ("bridge_bass", "bridge_treble")),
    (mark("fingerboard"), ("board_bass", "board_treble")),
    (mark("nut"), ("nut_bass", "nut_treble")),
    (mark("lower bout"), ("lower_bout_bass", "lower_bout_treble")),
    (mark("upper bout"), ("upper_bout_bass", "upper_bout_treble")),
    (mark("end button"), ("end_button",)),
    (mark("scroll"), ("scroll",)),
)
PLACES = (
    mark("bridge, low-string end"), mark("bridge, high-string end"), mark("fingerboard corner, low-string side"),
    mark("fingerboard corner, high-string side"), mark("nut, low-string side"), mark("nut, high-string side"),
    mark("lower bout, low-string side"), mark("lower bout, high-string side"), mark("upper bout, low-string side"),
    mark("upper bout, high-string side"), mark("end button"), mark("middle of the scroll"),
)  # fmt: skip
"""The words of every landmark, to be collected for translation."""


def landmark_words(name: str) -> str:
    """Words for a landmark in the language that is set."""
    return tr(LANDMARK_WORDS[name])


class LandmarkList(QLabel):
    """A small table: a place a row, the low and the high strings' side beside each other."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.RichText)
        self.setAlignment(Qt.AlignmentFlag.AlignTop)

    def show_landmarks(self, state: CalibrationState, chosen: str | None) -> None:
        """Show the landmarks of ``state``; the ``chosen`` one is bold."""
        worst = state.worst_landmark[0] if state.worst_landmark and state.worst_landmark[1] > FLAG_PX else None
        low, high = tr("low side"), tr("high side")
        rows = [f"<tr><td></td><td>{low}</td><td>{high}</td></tr>"]
        for words, names in ROWS:
            cells = "".join(f"<td>{self._cell(state, name, chosen, worst)}</td>" for name in names)
            rows.append(f"<tr><td>{tr(words)}&nbsp;</td>{cells}</tr>")
        self.setText(f"<table width='100%' cellspacing='1'>{''.join(rows)}</table>")
        self.setAccessibleName(", ".join(landmark_words(n) for n in state.points) or tr("No landmark is set"))

    def _cell(self, state: CalibrationState, name: str, chosen: str | None, worst: str | None) -> str:
        if name not in state.points:
            return "○"
        error = show("pixels", state.fit.errors_px[name]).replace(" ", "&nbsp;") if state.fit else ""
        said = f"●&nbsp;{error}{'&nbsp;⚑' if name == worst else ''}"
        return f"<b>{said}</b>" if name == chosen else said
