"""Menus and keys of the main window, in one table."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMainWindow, QMenu


class Menus:
    """Builds the menu bar. ``actions`` by name, so that the window can enable and rename them."""

    def __init__(self, window: QMainWindow) -> None:
        self._window = window
        self.actions: dict[str, QAction] = {}

    def menu(self, title: str) -> QMenu:
        """A new menu in the bar."""
        return self._window.menuBar().addMenu(title)

    def add(self, menu: QMenu | None, name: str, words: str, keys: str, do: Callable[[], None]) -> QAction:
        """One action; without a menu it is a key only."""
        action = QAction(words, self._window)
        if keys:
            action.setShortcuts([QKeySequence(k) for k in keys.split(", ")])
        action.triggered.connect(do)
        if menu is not None:
            menu.addAction(action)
        else:
            self._window.addAction(action)
        self.actions[name] = action
        return action
