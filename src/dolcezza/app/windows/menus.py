"""Menus and keys of the main window, in one table; what each does is given by name."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMainWindow, QMenu

Entry = tuple[str, str, str]
"""Name, words, keys (several separated by ", ")."""

MENUS: tuple[tuple[str, tuple[Entry | None, ...]], ...] = (
    (
        "&Take",
        (
            ("open", "Open a video…", "Ctrl+O"),
            ("recent", "Opened lately", ""),
            ("measure", "Measure", "Ctrl+M"),
            ("copy_profile", "Copy the profile…", ""),
            None,
            ("quit", "Quit", "Ctrl+Q"),
        ),
    ),
    (
        "&Edit",
        (
            ("undo", "Undo", "Ctrl+Z"),
            ("redo", "Redo", "Ctrl+Shift+Z, Ctrl+Y"),
            None,
            ("stroke_cut", "Cut the stroke here", "C"),
            ("stroke_join", "Join at the nearest turn", "J"),
            ("stroke_drop", "Strike the stroke out", "Del"),
            ("ends_go", "Leave the bow here to the program", "Backspace"),
            None,
            ("preferences", "Preferences…", "Ctrl+,"),
        ),
    ),
    (
        "&View",
        (
            ("step0", "Who plays", "Ctrl+1"),
            ("step1", "The take", "Ctrl+2"),
            ("step2", "Pins", "Ctrl+3"),
            ("step3", "Strokes", "Ctrl+4"),
            ("step4", "Arm", "Ctrl+5"),
            ("step5", "Hand", "Ctrl+6"),
            ("step6", "Bow use", "Ctrl+7"),
            ("step7", "Bow plan", "Ctrl+8"),
            ("step8", "Correct", "Ctrl+9"),
            ("step9", "Practise", "Ctrl+0"),
            ("step10", "Progress", "Ctrl+Shift+0"),
            None,
            ("lesson", "Lesson view", "L"),
            ("beside", "Two strokes side by side", "B"),
            ("theme", "Light or dark", ""),
        ),
    ),
    ("&Help", (("keys", "Keys", "F1"),)),
)
REVIEW_KEYS: dict[str, str] = {
    "toggle_play": "Space", "frame_on": "Right", "frame_back": "Left", "next_stroke": "N", "previous_stroke": "P", "slower": "S",
    "repeat": "R", "mute": "M",
    "next_finding": "Shift+N", "previous_finding": "Shift+P", "accept": "A", "dismiss": "D", "layer_lines": "1",
    "layer_angle": "2", "layer_contact": "3",
}  # fmt: skip
"""Keys without a menu; the names are those of the methods of ``ReviewKeys``."""


class Menus:
    """Builds the menu bar. ``actions`` by name, so that the window can enable and rename them."""

    def __init__(self, window: QMainWindow, does: Mapping[str, Callable[[], None]]) -> None:
        self._window = window
        self.actions: dict[str, QAction] = {}
        self.recent = QMenu(window)
        for title, entries in MENUS:
            menu = window.menuBar().addMenu(title)
            for entry in entries:
                if entry is None:
                    menu.addSeparator()
                elif entry[0] == "recent":
                    self.recent = QMenu(entry[1], window)
                    menu.addMenu(self.recent)
                else:
                    self._add(menu, *entry, does[entry[0]])
        for name, keys in REVIEW_KEYS.items():
            self._add(None, name, name, keys, does[name])

    def _add(self, menu: QMenu | None, name: str, words: str, keys: str, do: Callable[[], None]) -> None:
        action = QAction(words, self._window)
        if keys:
            action.setShortcuts([QKeySequence(k) for k in keys.split(", ")])
        action.triggered.connect(do)
        if menu is not None:
            menu.addAction(action)
        else:
            self._window.addAction(action)
        self.actions[name] = action
