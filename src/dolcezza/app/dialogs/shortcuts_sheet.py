"""All keys on one sheet (F1)."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QDialogButtonBox, QGridLayout, QLabel, QVBoxLayout, QWidget

from dolcezza.app.theme.words import mark, tr

KEYS: tuple[tuple[str, str], ...] = (
    (mark("Space"), mark("play or pause")),
    (mark("Left, Right"), mark("one frame back, on")),
    (mark("P, N"), mark("previous, next stroke")),
    (mark("S"), mark("slower: full, half, quarter, eighth speed")),
    (mark("R, M"), mark("repeat the stroke; sound on or off")),
    (mark("Shift+N, Shift+P"), mark("next, previous finding")),
    (mark("A, D"), mark("accept, dismiss the chosen finding")),
    (mark("1, 2, 3"), mark("bow and bridge, angle, contact: show or hide")),
    (mark("Ctrl+1 … Ctrl+9"), mark("go to a step of the job")),
    (mark("Ctrl+0, Ctrl+Shift+0, Ctrl+Shift+8"), mark("go to practice, to progress, to the notes")),
    (mark("L"), mark("lesson view: one thing, big")),
    (mark("B, W"), mark("this stroke beside another, or as asked")),
    (mark("Ctrl+O, Ctrl+D, Ctrl+Shift+D, Ctrl+M, Ctrl+K"), mark("open a video, a day’s, their results, analyse, check phone")),
    (mark("Ctrl+P"), mark("profile of the student: what is asked of hold, arm and bow")),
    (mark("Ctrl+Z, Ctrl+Shift+Z"), mark("undo, redo")),
    (mark("C, J, Delete"), mark("split the stroke here, merge at the nearest turn, delete it")),
    (mark("[ and ] on the picture"), mark("choose the bow's frog or head: arrows move it, Enter sets it")),
    (mark("Backspace"), mark("leave the bow in this frame to the program again")),
    (
        mark("Enter on the landmarks' picture"),
        mark("a cross to aim with: arrows move it (Shift far, Ctrl finely), Enter sets the landmark"),
    ),
    (mark("[ and ] on the landmarks' picture"), mark("choose the landmark before, after")),
    (mark("Arrow keys on a landmark"), mark("move it half a pixel, with Shift four")),
    (mark("Delete"), mark("remove the chosen landmark")),
    (mark("Wheel"), mark("larger, smaller picture; drag with the right button to move it")),
    (mark("Ctrl+,"), mark("preferences")),
    (mark("Shift+F1"), mark("the guide")),
    (mark("Ctrl+E"), mark("train the eye")),
    (mark("F1"), mark("this sheet")),
)


class ShortcutsSheet(QDialog):
    """A table of keys and what they do."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Keys"))
        box = QVBoxLayout(self)
        box.setContentsMargins(22, 18, 22, 16)
        grid = QGridLayout()
        grid.setHorizontalSpacing(26)
        for k, (keys, words) in enumerate(KEYS):
            name = QLabel(tr(keys))
            name.setObjectName("heading")
            grid.addWidget(name, k, 0)
            grid.addWidget(QLabel(tr(words)), k, 1)
        box.addLayout(grid)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close, Qt.Orientation.Horizontal)
        buttons.rejected.connect(self.reject)
        box.addWidget(buttons)
