"""Menus and keys of the main window, in one table; what each does is given by name."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMainWindow, QMenu

from dolcezza.app.theme.words import mark, tr

Entry = tuple[str, str, str]
"""Name, words, keys (several separated by ", ")."""

MENUS: tuple[tuple[str, tuple[Entry | None, ...]], ...] = (
    (
        mark("&Video"),
        (
            ("open", mark("Open a video…"), "Ctrl+O"),
            ("day", mark("Take in the day’s videos…"), "Ctrl+D"),
            ("results", mark("Results of the day…"), "Ctrl+Shift+D"),
            ("recent", mark("Recent"), ""),
            ("measure", mark("Analyse"), "Ctrl+M"),
            ("profile", mark("Profile of the student"), "Ctrl+P"),
            ("phone_check", mark("Check the phone…"), "Ctrl+K"),
            None,
            ("archive", mark("Write an archive…"), ""),
            ("take_in", mark("Take in an archive…"), ""),
            None,
            ("quit", mark("Quit"), "Ctrl+Q"),
        ),
    ),
    (
        mark("&Edit"),
        (
            ("undo", mark("Undo"), "Ctrl+Z"),
            ("redo", mark("Redo"), "Ctrl+Shift+Z, Ctrl+Y"),
            None,
            ("stroke_cut", mark("Split the stroke here"), "C"),
            ("stroke_join", mark("Merge at the nearest turn"), "J"),
            ("stroke_drop", mark("Delete the stroke"), "Del"),
            ("ends_go", mark("Leave the bow here to the program"), "Backspace"),
            None,
            ("preferences", mark("Preferences…"), "Ctrl+,"),
        ),
    ),
    (
        mark("&View"),
        (
            ("step0", mark("Students"), "Ctrl+1"),
            ("step1", mark("Video"), "Ctrl+2"),
            ("step2", mark("Landmarks"), "Ctrl+3"),
            ("step3", mark("Strokes"), "Ctrl+4"),
            ("step4", mark("Arm"), "Ctrl+5"),
            ("step5", mark("Hold"), "Ctrl+6"),
            ("step6", mark("Distribution"), "Ctrl+7"),
            ("step7", mark("Bow plan"), "Ctrl+8"),
            ("step8", mark("Notes"), "Ctrl+Shift+8"),
            ("step9", mark("Correct"), "Ctrl+9"),
            ("step10", mark("Practise"), "Ctrl+0"),
            ("step11", mark("Progress"), "Ctrl+Shift+0"),
            None,
            ("lesson", mark("Lesson view"), "L"),
            ("beside", mark("Two strokes side by side"), "B"),
            ("what_if", mark("The stroke as asked"), "W"),
            ("theme", mark("Light or dark"), ""),
        ),
    ),
    (
        mark("&Help"),
        (
            ("guide", mark("Guide"), "Shift+F1"),
            ("keys", mark("Keys"), "F1"),
            ("place", mark("Where to put the phone"), ""),
            ("eye", mark("Train the eye"), "Ctrl+E"),
        ),
    ),
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
            menu = window.menuBar().addMenu(tr(title))
            for entry in entries:
                if entry is None:
                    menu.addSeparator()
                elif entry[0] == "recent":
                    self.recent = QMenu(tr(entry[1]), window)
                    menu.addMenu(self.recent)
                else:
                    self._add(menu, *entry, does[entry[0]])
        for name, keys in REVIEW_KEYS.items():
            self._add(None, name, name, keys, does[name])

    def _add(self, menu: QMenu | None, name: str, words: str, keys: str, do: Callable[[], None]) -> None:
        action = QAction(tr(words) if menu is not None else words, self._window)
        if keys:
            action.setShortcuts([QKeySequence(k) for k in keys.split(", ")])
        action.triggered.connect(do)
        if menu is not None:
            menu.addAction(action)
        else:
            self._window.addAction(action)
        self.actions[name] = action
