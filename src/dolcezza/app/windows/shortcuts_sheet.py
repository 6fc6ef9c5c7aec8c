"""All keys on one sheet (F1)."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QDialogButtonBox, QGridLayout, QLabel, QVBoxLayout, QWidget

KEYS: tuple[tuple[str, str], ...] = (
    ("Space", "play or pause"),
    ("Left, Right", "one frame back, on"),
    ("P, N", "previous, next stroke"),
    ("S", "slower: full, half, quarter, eighth speed"),
    ("R, M", "repeat the stroke; sound on or off"),
    ("Shift+N, Shift+P", "next, previous finding"),
    ("A, D", "accept, dismiss the chosen finding"),
    ("1, 2, 3", "bow and bridge, angle, contact: show or hide"),
    ("Ctrl+1 … Ctrl+9", "go to a step of the job"),
    ("Ctrl+0, Ctrl+Shift+0", "go to practice, to progress"),
    ("L", "lesson view: one thing, big"),
    ("B", "this stroke beside another, at the same place on the bow"),
    ("Ctrl+O", "open a video"),
    ("Ctrl+M", "measure the take"),
    ("Ctrl+Z, Ctrl+Shift+Z", "undo, redo"),
    ("C, J, Delete", "cut the stroke here, join at the nearest turn, strike it out"),
    ("[ and ] on the picture", "take hold of the bow's frog or head: arrows move it, Enter sets it"),
    ("Backspace", "leave the bow in this frame to the program again"),
    ("Arrow keys on a pin", "move it half a pixel, with Shift four"),
    ("Delete", "remove the chosen pin"),
    ("Wheel", "larger, smaller picture; drag with the right button to move it"),
    ("F1", "this sheet"),
)


class ShortcutsSheet(QDialog):
    """A table of keys and what they do."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Keys")
        box = QVBoxLayout(self)
        box.setContentsMargins(22, 18, 22, 16)
        grid = QGridLayout()
        grid.setHorizontalSpacing(26)
        for k, (keys, words) in enumerate(KEYS):
            name = QLabel(keys)
            name.setObjectName("heading")
            grid.addWidget(name, k, 0)
            grid.addWidget(QLabel(words), k, 1)
        box.addLayout(grid)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close, Qt.Orientation.Horizontal)
        buttons.rejected.connect(self.reject)
        box.addWidget(buttons)
