"""Undo and redo of whatever is on the screen: the landmarks' own stack while calibrating, the studio's everywhere else."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QAction

from dolcezza.app.theme.words import tr
from dolcezza.core.base.errors import DolcezzaError
from dolcezza.services.undo import Together, UndoStack


class UndoPresenter(QObject):
    """``stack`` gives the stack that counts now. Emits ``gone_back()`` when something was taken back or done again, ``failed(error)`` when
    that was not possible."""

    gone_back = Signal()
    failed = Signal(object)

    def __init__(self, stack: Callable[[], UndoStack | Together], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._stack = stack
        self._actions: tuple[QAction, QAction] | None = None

    def show_on(self, undo: QAction, redo: QAction) -> None:
        """The two actions that say what would be taken back."""
        self._actions = (undo, redo)
        self.refresh()

    def undo(self) -> None:
        """Take the last step back."""
        self._go(self._stack().undo)

    def redo(self) -> None:
        """Do it again."""
        self._go(self._stack().redo)

    def _go(self, step: Callable[[], bool]) -> None:
        try:
            gone = step()
        except DolcezzaError as error:
            self.failed.emit(error)
            return
        if gone:
            self.gone_back.emit()

    def refresh(self) -> None:
        """Say anew what can be taken back."""
        if self._actions is None:
            return
        stack = self._stack()
        for action, words, what in zip(self._actions, (tr("Undo"), tr("Redo")), (stack.undo_label, stack.redo_label), strict=True):
            action.setText(f"{words}: {tr(what)}" if what else words)
            action.setEnabled(bool(what))
