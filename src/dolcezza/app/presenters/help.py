"""What the Help menu asks for: the guide beside the desk, and the sheet of keys."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from dolcezza.app.dialogs.guide_window import GuideWindow
from dolcezza.app.dialogs.shortcuts_sheet import ShortcutsSheet


class HelpPresenter:
    """Opens help over ``window``; the guide stays open while one works."""

    def __init__(self, window: QWidget) -> None:
        self._window = window
        self.guide_window: GuideWindow | None = None

    def keys(self) -> None:
        """All keys on one sheet."""
        ShortcutsSheet(self._window).exec()

    def guide(self) -> None:
        """The guide, brought to the front if it is open already."""
        if self.guide_window is None:
            self.guide_window = GuideWindow(self._window)
        self.guide_window.show()
        self.guide_window.raise_()
        self.guide_window.activateWindow()
