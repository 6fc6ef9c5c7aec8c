"""What the Help menu asks for: the guide beside the desk, the sheet of keys, and training for the eye."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QWidget

from dolcezza.app.dialogs.eye_window import EyeWindow
from dolcezza.app.dialogs.guide_window import GuideWindow
from dolcezza.app.dialogs.place_window import PlaceWindow
from dolcezza.app.dialogs.shortcuts_sheet import ShortcutsSheet
from dolcezza.app.theme.palette import Palette
from dolcezza.app.widgets.parts import ask, let_go
from dolcezza.core.instrument.catalog import InstrumentSpec


class HelpPresenter:
    """Opens help over ``window``; the guide stays open while one works. ``folder``: the studio's, where the eye's record is kept;
    ``plays``: the instrument that is played; ``palette``: the theme that is set."""

    def __init__(self, window: QWidget, folder: Path, plays: Callable[[], InstrumentSpec], palette: Callable[[], Palette]) -> None:
        self._window, self._folder, self._plays, self._palette = window, folder, plays, palette
        self.guide_window: GuideWindow | None = None
        self.eye_window: EyeWindow | None = None
        self.place_window: PlaceWindow | None = None

    @property
    def does(self) -> dict[str, Callable[[], None]]:
        """What the menu's entries do, by name."""
        return {"keys": self.keys, "guide": self.guide, "place": self.place, "eye": self.eye}

    def keys(self) -> None:
        """All keys on one sheet."""
        ask(ShortcutsSheet(self._window))

    def guide(self) -> None:
        """The guide, brought to the front if it is open already."""
        if self.guide_window is None:
            self.guide_window = GuideWindow(self._window)
        self.guide_window.show()
        self.guide_window.raise_()
        self.guide_window.activateWindow()

    def place(self) -> None:
        """The room in which the phone is dragged."""
        let_go(self.place_window)
        self.place_window = PlaceWindow(self._plays(), self._window, palette=self._palette())
        self.place_window.open()

    def eye(self) -> None:
        """A made-up take to judge, and another."""
        let_go(self.eye_window)
        self.eye_window = EyeWindow(self._folder, self._window)
        self.eye_window.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.eye_window.open()
