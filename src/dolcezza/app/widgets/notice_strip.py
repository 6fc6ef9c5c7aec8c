"""One plain sentence at the foot of the window, with what to do next; never a traceback."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QWidget

from dolcezza.app.theme.words import tr

CALM_MS = 9000


class NoticeStrip(QFrame):
    """Shows a sentence, with at most one action. Calm notices go away by themselves, faults stay until closed."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("notice")
        self.setAccessibleName(tr("Message"))
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 7, 12, 7)
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.action = QPushButton()
        self.action.setAccessibleName(tr("What to do about it"))
        self.close_button = QPushButton(tr("Close"))
        row.addWidget(self.words, 1)
        row.addWidget(self.action)
        row.addWidget(self.close_button)
        self._do: Callable[[], None] = lambda: None
        self.action.clicked.connect(self._act)
        self.close_button.clicked.connect(self.hide)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.hide)
        self.hide()

    def say(self, sentence: str, *, calm: bool = False, action: str = "", do: Callable[[], None] | None = None) -> None:
        """Show a sentence; ``action`` is the word on a button that calls ``do``."""
        self.words.setText(sentence)
        self.setAccessibleDescription(sentence)
        self.action.setVisible(bool(action))
        self.action.setText(action)
        self._do = do or (lambda: None)
        self.show()
        if calm:
            self._timer.start(CALM_MS)
        else:
            self._timer.stop()

    def _act(self) -> None:
        self.hide()
        self._do()
